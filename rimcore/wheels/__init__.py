"""Wheel, tyre, hub, spacer, swap, outline, stance and shake."""
