"""Drawings as plain numbers."""
