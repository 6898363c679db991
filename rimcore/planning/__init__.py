"""When a build is ready and how likely, day by day, and what one's own estimates are worth."""
