"""The steering axis and what is read of it."""
