"""Judgements: gaps at rest and in motion, windows, remedies, what is not known."""
