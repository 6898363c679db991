"""Mass: where it was, what it does to the corners, and which of it comes out."""
