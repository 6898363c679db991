"""Runs planned before they are driven."""
