"""What turns: gear ratios, axle ratio, tyre, and the revolutions they come to."""
