"""The computation of Rim Tally: pure functions, no interface, no files but its own tables."""
