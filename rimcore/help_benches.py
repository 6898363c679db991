"""What the help says of each bench beside its declaration: what it leaves out, cautions, an example that is reckoned.

What it measures, what it sets, what it is worked out with and from which source comes from the bench's own declaration
and from the command line's, so that both say the same.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from rimcore.benches import BENCHES
from rimcore.quantities.contract import Calculation
from rimcore.quantities.declared import Bench
from rimcore.registry import CALCULATIONS


@dataclass(frozen=True, kw_only=True)
class Example:
    """A calculation of the bench with figures of a garage: what is asked, put in, and which of the answers is shown."""

    asks: str
    calculation: str
    given: Mapping[str, Any]
    shows: tuple[str, ...]

    @property
    def rows(self) -> tuple[tuple[str, str, Any, str], ...]:
        """The answers in words: (name, what it is, value, unit), reckoned by the core."""
        answer = CALCULATIONS[self.calculation].answer(dict(self.given))
        outputs = {key.name: key for key in CALCULATIONS[self.calculation].outputs}
        return tuple((spoken(name), outputs[name].meaning, answer[name], outputs[name].unit) for name in self.shows)


#: units at the end of a key's name, that stand behind its figure
_UNITS = re.compile(r"_(?:mm|kg|deg|pct|hz|kJ|kW|kPa|Nm|N|C|m2|N_per_mm)$")


def spoken(name: str) -> str:
    """A key's name as it is said.

    >>> spoken("outer_lip_shift_mm"), spoken("natural_frequency_hz")
    ('outer lip shift', 'natural frequency')
    """
    return _UNITS.sub("", name).replace("_", " ")


@dataclass(frozen=True, kw_only=True)
class Help:
    """A bench for the help."""

    key: str
    leaves_out: tuple[str, ...]
    cautions: str
    examples: tuple[Example, ...] = field(default_factory=tuple)

    @property
    def bench(self) -> Bench:
        return BENCHES[self.key]

    @property
    def calculations(self) -> tuple[Calculation, ...]:
        return tuple(CALCULATIONS[name] for name in self.bench.calculations)


_SAFETY = "Local codes decide; licensed people do and inspect what is safety work."
_ALL = (
    Help(
        key="well",
        leaves_out=(
            "bush and tyre flex beyond the margin of the set that is used",
            "tyres of one size differ by maker: a measured section replaces the nominal one",
            "mud, chains and stones",
        ),
        cautions=f"A wheel that is clear here is tried on the car before it is driven. {_SAFETY}",
        examples=(
            Example(
                asks="From 16x7 +45 with 205/55R16 to 17x8 +35 with 215/45R17: what moves?",
                calculation="swap",
                given={
                    "from": {"wheel": "16x7 +45", "tyre": "205/55R16"},
                    "to": {"wheel": "17x8 +35", "tyre": "215/45R17"},
                },
                shows=("outer_lip_shift_mm", "inner_lip_shift_mm", "track_change_mm", "diameter_change_mm"),
            ),
        ),
    ),
    Help(
        key="ride",
        leaves_out=(
            "friction in bushes and dampers",
            "how the tyre's own spring gives",
            "gas force that changes with heat",
        ),
        cautions="A compressed spring stores lethal energy: the right compressor, or a workshop.",
        examples=(
            Example(
                asks="A spring of 45 N/mm, 250 mm free and 110 mm bound, on a corner of 320 kg",
                calculation="spring",
                given={
                    "rate_N_per_mm": 45,
                    "free_length_mm": 250,
                    "block_length_mm": 110,
                    "corner_kg": 320,
                    "unsprung_kg": 38,
                },
                shows=("static_force_N", "deflection_mm", "natural_frequency_hz", "bump_to_block_mm"),
            ),
        ),
    ),
    Help(
        key="steering",
        leaves_out=(
            "slip of the tyres",
            "play in joints and rack",
            "from above: the lean of the axis and the height of the rod",
        ),
        cautions=f"Steering is safety work: nothing touches at both locks, through the whole travel. {_SAFETY}",
        examples=(
            Example(
                asks="The left rod sticks out 24 mm, the right one 18 mm: where is the middle?",
                calculation="rack-centre",
                given={"left_stick_out_mm": 24, "right_stick_out_mm": 18},
                shows=("move_mm", "towards", "state"),
            ),
        ),
    ),
    Help(
        key="geometry",
        leaves_out=("bushes that give under load", "a body that twists"),
        cautions="Points are read with the car on stands that were shaken, never on a jack.",
    ),
    Help(
        key="alignment",
        leaves_out=("how a loaded driver's side changes it", "tyres that pull"),
        cautions=f"Wheels straight, car rolled and settled before every reading. {_SAFETY}",
        examples=(
            Example(
                asks="Camber with the wheel steered 20° out +0.4°, 20° in −3.1°: which caster?",
                calculation="caster-sweep",
                given={"camber_out_deg": 0.4, "camber_in_deg": -3.1, "steer_deg": 20, "resolution_deg": 0.1},
                shows=("caster_deg", "uncertainty_deg"),
            ),
        ),
    ),
    Help(
        key="weights",
        leaves_out=("bars that are still joined", "pads that are not level", "a tank that empties on one side"),
        cautions="Chocks, level pads, nobody underneath.",
        examples=(
            Example(
                asks="Pads of 310, 296, 262 and 270 kg",
                calculation="corner-weights",
                given={"pads_kg": {"FL": 310, "FR": 296, "RL": 262, "RR": 270}},
                shows=("total_kg", "front_pct", "left_pct", "cross_pct"),
            ),
        ),
    ),
    Help(
        key="square",
        leaves_out=("a subframe that is bent in height: that takes a jig",),
        cautions="The engine hangs on something else before a crossmember is loosened.",
        examples=(
            Example(
                asks="Sides 1000.5 and 1000.0 mm, front 760, rear 760.5, diagonals 1256.5 and 1255.5 mm",
                calculation="square",
                given={
                    "left_mm": 1000.5,
                    "right_mm": 1000.0,
                    "front_mm": 760.0,
                    "rear_mm": 760.5,
                    "front_left_to_rear_right_mm": 1256.5,
                    "front_right_to_rear_left_mm": 1255.5,
                },
                shows=("rear_stands_left_mm", "off_plane_mm"),
            ),
        ),
    ),
    Help(
        key="gearing",
        leaves_out=("tyre growth at speed", "slip of a torque converter"),
        cautions="Another axle ratio changes the speedometer: check what the law allows.",
        examples=(
            Example(
                asks="225/45R17 with an axle of 4.10, fifth gear 0.82, at 110 km/h",
                calculation="gearing",
                given={"tyre": "225/45R17", "gears": [3.4, 2.0, 1.36, 1.0, 0.82], "axle_ratio": 4.1, "speed_kmh": 110},
                shows=("circumference_mm",),
            ),
        ),
    ),
    Help(
        key="breathing",
        leaves_out=(
            "tuned lengths and reflected waves",
            "what a head flows",
            "fuel and spark: tuning is somebody's trade",
        ),
        cautions="Emissions and noise law. Never run an engine in a closed garage.",
        examples=(
            Example(
                asks="An airflow meter housing of 76 mm instead of 70 mm, without calibration",
                calculation="meter",
                given={"from_mm": 70, "to_mm": 76},
                shows=("area_ratio", "area_change_pct", "under_read_pct"),
            ),
        ),
    ),
    Help(
        key="sound",
        leaves_out=("the microphone's own curve where nobody calibrated it", "wind and walls"),
        cautions="Hearing: plugs near an open exhaust. Sound law decides, not this page.",
        examples=(
            Example(
                asks="A four-cylinder at 2,600 1/min that drones at 87 Hz, gas at 400 °C",
                calculation="sound",
                given={"rpm": 2600, "cylinders": 4, "strokes": 4, "drone_hz": 87, "gas_C": 400},
                shows=("firing_hz", "quarter_wave_mm"),
            ),
        ),
    ),
    Help(
        key="cooling",
        leaves_out=("how the air finds its way round the core", "a pump that is worn"),
        cautions="Hot coolant scalds and is poison; a fan starts by itself.",
        examples=(
            Example(
                asks="A cap of 90 kPa, half glycol, 104 °C at its hottest",
                calculation="cooling",
                given={"cap_kPa": 90, "glycol_pct": 50, "coolant_C": 104},
                shows=("boiling_C",),
            ),
        ),
    ),
    Help(
        key="brakes",
        leaves_out=("heat that leaves within the stop", "pads that fade, fluid that boils", "what a servo gives"),
        cautions=f"Brakes are safety work: bled, bedded and tried slowly. {_SAFETY}",
        examples=(
            Example(
                asks="1310 kg from 120 km/h at 0.8 g, two front discs of 7 kg, two rear ones of 4 kg",
                calculation="brakes",
                given={
                    "mass_kg": 1310,
                    "from_kmh": 120,
                    "deceleration_g": 0.8,
                    "wheelbase_mm": 2570,
                    "cg_height_mm": 520,
                    "front_pct": 54,
                    "loaded_radius_mm": {"front": 302, "rear": 302},
                    "rotors_kg": {"front": 14, "rear": 8},
                },
                shows=("energy_kJ", "front_load_pct"),
            ),
        ),
    ),
    Help(
        key="air",
        leaves_out=("the air itself: what a panel saves is measured by the tank and by coasting",),
        cautions="Nothing near the exhaust that melts or burns; tethers on what can come off.",
        examples=(
            Example(
                asks="A sheet of 900 by 600 mm of 0.9 kg/m², fasteners 150 mm apart",
                calculation="panel",
                given={
                    "outline_mm": [[0, 0], [900, 0], [900, 600], [0, 600]],
                    "kg_per_m2": 0.9,
                    "pitch_mm": 150,
                },
                shows=("area_m2", "mass_kg", "perimeter_mm"),
            ),
        ),
    ),
    Help(
        key="mass",
        leaves_out=("what insurance and inspection say of a car without it",),
        cautions="Airbags and belts are for qualified people; battery off and waited for.",
        examples=(
            Example(
                asks="A seat of 16 kg for 0.5 h, glass of 9 kg for 3 h and 140: at least 14 kg for least money",
                calculation="lighten",
                given={
                    "items": [
                        {"name": "seat", "kg": 16, "hours": 0.5, "money": 0},
                        {"name": "glass", "kg": 9, "hours": 3, "money": 140},
                    ],
                    "goal_kg": 14,
                    "minimise": "money",
                },
                shows=("kg", "hours"),
            ),
        ),
    ),
)
HELPS: dict[str, Help] = {one.key: one for one in _ALL}
