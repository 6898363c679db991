"""One set of limits: what a stored figure may be. Forms, imports and the database hold to these, and so does the command line."""

from __future__ import annotations

from dataclasses import dataclass

from rimcore.quantities.errors import BadInput


@dataclass(frozen=True)
class Limit:
    """Smallest and largest value accepted, in a unit."""

    low: float
    high: float
    unit: str = ""

    def holds(self, value: float) -> bool:
        """Is a value within, and a number at all?

        >>> Limit(3, 10).holds(5), Limit(3, 10).holds(float("nan"))
        (True, False)
        """
        return self.low <= value <= self.high

    @property
    def span(self) -> tuple[float, float]:
        """Both ends."""
        return self.low, self.high

    @property
    def accepted(self) -> str:
        """In words.

        >>> Limit(80, 300, "mm").accepted
        '80 to 300 mm'
        """
        return f"{_plain(self.low)} to {_plain(self.high)} {self.unit}".rstrip()


def _plain(value: float) -> str:
    return f"{value:.0f}" if value == int(value) else f"{value:g}"


#: longest thread or seat that is read, in characters
LONGEST_TEXT = 60

LIMITS: dict[str, Limit] = {
    # a wheel
    "diameter_in": Limit(8, 30, "in"),
    "width_in": Limit(3, 18, "in"),
    "offset_mm": Limit(-200, 200, "mm"),
    "bolts": Limit(3, 10),
    "pcd_mm": Limit(80, 300, "mm"),
    "bore_mm": Limit(30, 250, "mm"),
    # parts
    "mass_kg": Limit(0.001, 200, "kg"),
    "boxed_kg": Limit(0, 500, "kg"),
    "load_kg": Limit(50, 5000, "kg"),
    "pad_thickness_mm": Limit(0, 100, "mm"),
    "barrel_radius_mm": Limit(50, 400, "mm"),
    "spoke_back_mm": Limit(-50, 200, "mm"),
    "section_mm": Limit(80, 600, "mm"),
    "lead_days": Limit(0, 1000, "days"),
    "price_minor": Limit(0, 10_000_000_00, "hundredths"),
    "quantity": Limit(1, 200),
    "mass_change_kg": Limit(-500, 500, "kg"),
    "ring_mm": Limit(20, 300, "mm"),
    "bolt_mm": Limit(5, 200, "mm"),
    "knurl_mm": Limit(5, 40, "mm"),
    "key_mm": Limit(8, 40, "mm"),
    "brake_mm": Limit(60, 300, "mm"),
    "rotor_mm": Limit(120, 500, "mm"),
    "rotor_thick_mm": Limit(4, 60, "mm"),
    "hat_mm": Limit(0, 120, "mm"),
    # what stands on the car
    "spacer_mm": Limit(0, 200, "mm"),
    "camber_deg": Limit(-20, 20, "°"),
    "ride_drop_mm": Limit(-300, 300, "mm"),
    "corner_drop_mm": Limit(-60, 60, "mm"),
    "mount_mm": Limit(-120, 120, "mm"),
    "lip_rolled_mm": Limit(0, 30, "mm"),
    "lock_limit_deg": Limit(0, 30, "°"),
    "ratio": Limit(0.01, 100),
    # a lever of any kind, as it is kept
    "lever": Limit(-1e6, 1e6),
    # the car
    "wheelbase_mm": Limit(1000, 6000, "mm"),
    "track_mm": Limit(800, 2500, "mm"),
    "axle_kg": Limit(50, 5000, "kg"),
    "cg_height_mm": Limit(100, 2000, "mm"),
    "axle_raised_mm": Limit(20, 2000, "mm"),
    "odometer_km": Limit(0, 5_000_000, "km"),
    "due_km": Limit(0, 5_010_000, "km"),
    "stud_mm": Limit(0, 200, "mm"),
    "collar_mm": Limit(0, 60, "mm"),
    "torque_nm": Limit(20, 500, "N·m"),
    # readings, whatever the station
    "reading": Limit(-8000, 8000),
    "uncertainty": Limit(0, 200),
    "height_mm": Limit(-400, 500, "mm"),
    "across_mm": Limit(-250, 250, "mm"),
    "steer_deg": Limit(-70, 70, "°"),
    "travel_mm": Limit(-300, 300, "mm"),
    "rub_travel_mm": Limit(-600, 600, "mm"),
    "value": Limit(-1e9, 1e9),
    "crown_mm": Limit(100, 800, "mm"),
    "sighting_mm": Limit(-50, 500, "mm"),
    "sighting_uncertainty_mm": Limit(0.01, 50, "mm"),
    # hard points and the rack
    "point_mm": Limit(-2500, 2500, "mm"),
    "point_up_mm": Limit(0, 2500, "mm"),
    "rack_move_mm": Limit(-100, 100, "mm"),
    "rod_longer_mm": Limit(-20, 20, "mm"),
    "rack_limit_mm": Limit(0, 60, "mm"),
    "rack_travel_mm": Limit(1, 150, "mm"),
    "stick_out_mm": Limit(0, 1000, "mm"),
    "turns": Limit(0.1, 20),
    "dip_mm": Limit(1, 300, "mm"),
    "frame_mm": Limit(50, 6000, "mm"),
    "frame_gap_mm": Limit(-100, 300, "mm"),
    "plate_mm": Limit(0, 20, "mm"),
    # engine, cooling and brakes
    "displacement_l": Limit(0.05, 20, "L"),
    "ve_pct": Limit(20, 200, "%"),
    "manifold_ratio": Limit(0.2, 5),
    "bore_of_pipe_mm": Limit(10, 400, "mm"),
    "rpm": Limit(200, 20_000, "rpm"),
    "gas_c": Limit(-40, 1200, "°C"),
    "sound_db": Limit(40, 140, "dB"),
    "cap_kpa": Limit(0, 300, "kPa"),
    "glycol_pct": Limit(0, 70, "%"),
    "coolant_c": Limit(20, 160, "°C"),
    "core_mm": Limit(50, 1500, "mm"),
    "core_depth_mm": Limit(5, 300, "mm"),
    "coldest_c": Limit(-70, 30, "°C"),
    "pipe_mm": Limit(1, 10_000, "mm"),
    "drop_kpa": Limit(0, 100, "kPa"),
    "flow_kg_per_s": Limit(0.001, 5, "kg/s"),
    "cells": Limit(10, 1200),
    "overlap_mm": Limit(0, 300, "mm"),
    "core_rows": Limit(1, 8),
    "hole_mm": Limit(3, 60, "mm"),
    "amps": Limit(0.1, 100, "A"),
    "opens_c": Limit(40, 120, "°C"),
    "hose_inner_mm": Limit(3, 100, "mm"),
    "litres": Limit(0.1, 100, "L"),
    "throw_pct": Limit(20, 200, "%"),
    "cable_mm": Limit(50, 5000, "mm"),
    "boil_c": Limit(100, 400, "°C"),
    "stop_kmh": Limit(20, 350, "km/h"),
    "stop_g": Limit(0.1, 2.0, "g"),
    "rotor_kg": Limit(0.3, 60, "kg"),
    "towed_kg": Limit(0, 5000, "kg"),
    # air
    "area_m2": Limit(0.001, 20, "m²"),
    "sheet_mm": Limit(0.3, 60, "mm"),
    "sheet_kg_per_m2": Limit(0.05, 60, "kg/m²"),
    "pitch_mm": Limit(20, 1000, "mm"),
    "panel_edge_mm": Limit(3, 100, "mm"),
    "reach_mm": Limit(1, 6000, "mm"),
    "under_up_mm": Limit(0, 1500, "mm"),
    "cp": Limit(-3, 3),
    "air_kmh": Limit(10, 400, "km/h"),
    "air_count": Limit(1, 200),
    "air_none": Limit(0, 20),
    "cold_a": Limit(20, 2000, "A"),
    # the mass ledger
    "item_kg": Limit(0, 1000, "kg"),
    "item_doubt_kg": Limit(0, 50, "kg"),
    "minutes": Limit(0, 100_000, "min"),
    "item_along_mm": Limit(-2000, 8000, "mm"),
    "item_across_mm": Limit(-1500, 1500, "mm"),
    "item_up_mm": Limit(0, 3000, "mm"),
    "phase_kg": Limit(0.1, 2000, "kg"),
    "minimum_kg": Limit(100, 10_000, "kg"),
    # springs
    "rate": Limit(0.5, 2000, "N/mm"),
    "coil_mm": Limit(1, 1500, "mm"),
    "preload_mm": Limit(0, 300, "mm"),
    "motion_ratio": Limit(0.05, 5),
    "unsprung_kg": Limit(0, 300, "kg"),
    "turn_mm": Limit(0.1, 20, "mm"),
    "bar": Limit(0, 2000, "N/mm"),
    "pad_kg": Limit(20, 3000, "kg"),
    # parts of the chassis
    "damper_mm": Limit(100, 1500, "mm"),
    "stop_mm": Limit(2, 200, "mm"),
    "stack_mm": Limit(0, 200, "mm"),
    "seat_mm": Limit(20, 300, "mm"),
    "chassis_bolt_mm": Limit(4, 40, "mm"),
    "arm_mm": Limit(50, 1500, "mm"),
    "arm_back_mm": Limit(0, 150, "mm"),
    "link_mm": Limit(30, 800, "mm"),
    "bush_mm": Limit(5, 200, "mm"),
    "roll_bar_mm": Limit(8, 60, "mm"),
    "roll_bar_wall_mm": Limit(1, 20, "mm"),
    "taper_mm": Limit(5, 40, "mm"),
    "spline_mm": Limit(8, 50, "mm"),
    "teeth": Limit(8, 80),
    "engaged_mm": Limit(0, 200, "mm"),
    "joint_deg": Limit(0, 60, "°"),
    "arch_mm": Limit(-200, 500, "mm"),
    "leaf_mm": Limit(300, 2500, "mm"),
    "leaf_width_mm": Limit(20, 150, "mm"),
    "leaves": Limit(1, 20),
    "block_mm": Limit(5, 200, "mm"),
    "taper_deg": Limit(-10, 10, "°"),
    "u_bolt_mm": Limit(50, 600, "mm"),
    "holes": Limit(1, 12),
    "camber_range_deg": Limit(0, 6, "°"),
    "propshaft_mm": Limit(200, 3000, "mm"),
    "slack_mm": Limit(-50, 300, "mm"),
    "hose_mm": Limit(50, 2000, "mm"),
    "perch_mm": Limit(-120, 120, "mm"),
    "raised_mm": Limit(-60, 60, "mm"),
    # work
    "hours": Limit(0, 2000, "h"),
    "cost_minor": Limit(0, 10_000_000_00, "hundredths"),
    "kpa": Limit(50, 600, "kPa"),
    "air_c": Limit(-40, 60, "°C"),
    "margin_mm": Limit(0, 200, "mm"),
    "bar_mm": Limit(10, 2000, "mm"),
}


def within(name: str, value: float | None, field: str | None = None) -> float | None:
    """A value that holds to its limit; None passes.

    Raises
    ------
    BadInput : with the field and what is accepted

    >>> within("bolts", 5)
    5
    """
    if value is not None and not LIMITS[name].holds(value):
        raise BadInput(f"is out of range; accepted: {LIMITS[name].accepted}", field or name)
    return value
