"""What a figure of the engine, its intake and its exhaust may be."""

from __future__ import annotations

from rimcore.quantities.limits import Limit

LIMITS: dict[str, Limit] = {
    "displacement_l": Limit(0.05, 20, "L"),
    "ve_pct": Limit(20, 200, "%"),
    "manifold_ratio": Limit(0.2, 5),
    "bore_of_pipe_mm": Limit(10, 400, "mm"),
    "rpm": Limit(200, 20_000, "rpm"),
    "gas_c": Limit(-40, 1200, "°C"),
    "sound_db": Limit(40, 140, "dB"),
    "pipe_mm": Limit(1, 10_000, "mm"),
    "drop_kpa": Limit(0, 100, "kPa"),
    "flow_kg_per_s": Limit(0.001, 5, "kg/s"),
    "cells": Limit(10, 1200),
    "overlap_mm": Limit(0, 300, "mm"),
}
