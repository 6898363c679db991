"""Facts that several topics rest on, said once."""

from __future__ import annotations

#: standard acceleration of free fall [m/s²] (3rd CGPM, 1901)
G_M_PER_S2 = 9.80665
#: the corners of a car in the order in which everything lists them, and their names
CORNERS = ("FL", "FR", "RL", "RR")
CORNER_NAMES = {"FL": "front left", "FR": "front right", "RL": "rear left", "RR": "rear right", "": "whole car"}
#: the ends of a car, and their names
ENDS = {"F": "front", "R": "rear"}
