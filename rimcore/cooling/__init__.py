"""Boiling, radiators and the bleeding of a cooling system."""
