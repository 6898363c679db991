"""The best sets of choices out of a list."""
