"""Units as people write them, declarations of keys, errors, limits and judgements."""
