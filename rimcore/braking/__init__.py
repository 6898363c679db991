"""Stops: energy, load, torque and what the rotors take."""
