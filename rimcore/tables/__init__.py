"""Published tables, each with its source."""
