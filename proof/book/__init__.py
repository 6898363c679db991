"""The build book: one document of a car, to print and as a folder of open files."""
