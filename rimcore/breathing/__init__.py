"""What an engine breathes: air, meters, runs of pipe, sound and pulls."""
