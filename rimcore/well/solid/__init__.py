"""Solid geometry: poses, obstacles carried into the wheel's plane, distances."""
