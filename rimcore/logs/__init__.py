"""What loggers write: tables, positions, traces; read for every topic alike."""
