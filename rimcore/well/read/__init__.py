"""What was read of a corner: stations, readings, sightings, how it moves, the walk."""
