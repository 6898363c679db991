"""Django's PostgreSQL, with JSON kept as it was written."""
