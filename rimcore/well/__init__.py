"""The wheel in its well: readings, poses, gaps, map, windows, remedies, ranking, trial fits and drawings."""
