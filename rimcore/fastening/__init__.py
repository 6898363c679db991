"""Threads, torque and the order of tightening."""
