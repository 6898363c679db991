"""Stated ± of gaps against draws: every reading, tyre, camber, gain and axis moved at once by its own ±.

python -m proofs.doubt [CORNERS] [DRAWS]
"""

from __future__ import annotations

import sys
from dataclasses import dataclass, replace

import numpy as np

from rimcore.well.judge.doubt import known_mm, larger, same_carcass
from rimcore.well.judge.in_motion import swept
from rimcore.well.judge.ranges import bare
from rimcore.well.judge.rest_gaps import at_rest
from rimcore.well.levers import Levers
from rimcore.well.read.measured import Candidate, Reading, side_uncertainty_mm
from rimcore.well.read.travel import Doubt, Motion
from rimcore.well.solid.gap import Station
from rimcore.well.solid.pose import Pose
from rimcore.wheels.fitted import Fitted
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import parse_wheel


@dataclass(frozen=True)
class Case:
    """A measured corner and what would stand on it."""

    readings: tuple[Reading, ...]
    motion: Motion
    candidate: Candidate


def random_case(rng: np.random.Generator) -> Case:
    """A corner with six to eight readings, known with usual errors, and a candidate.

    Some keep their tyre or its carcass.
    """
    present = Fitted(
        parse_wheel(f"17x{rng.choice([7, 7.5, 8])} {rng.integers(38, 52):+d}"),
        parse_tyre("225/45R17"),
        0.0,
        rng.uniform(-2, 0),
    )
    if rng.random() < 0.3:
        present = replace(present, measured_section_mm=float(present.outline.section_mm + rng.uniform(-4, 4)))
    gain = rng.uniform(-0.03, 0.0)
    doubt = Doubt(0.1, 0.003, 0.3, 0.3, 2.0)
    motion = Motion(
        bump_mm=rng.uniform(40, 70),
        droop_mm=rng.uniform(40, 70),
        steer_out_deg=36.0,
        steer_in_deg=33.0,
        camber_gain_deg_per_mm=gain,
        kpi_deg=rng.uniform(8, 14),
        caster_deg=rng.uniform(2, 7),
        kingpin_inboard_mm=rng.uniform(80, 120),
        doubt=doubt,
    )

    def read(
        code: str, station: Station, gap: float | None, steer: float = 0.0, raised: float = 0.0, sigma: float = 1.0
    ) -> Reading:
        camber = present.camber_deg + gain * raised
        pose = Pose(camber, steer, raised, motion.kpi_deg or 0, motion.caster_deg or 0, motion.kingpin_inboard_mm or 0)
        return Reading("FL", code, station, gap, replace(present, camber_deg=camber), pose, sigma, raised_mm=raised)

    low, wide = float(rng.uniform(120, 210)), float(rng.uniform(240, 290))
    arch = [
        Station("arch", clock=c, side_gap_mm=rng.uniform(15, 40), up_gap_mm=rng.uniform(50, 100)) for c in (10, 12, 2)
    ]
    readings = (
        read("damper", Station("damper", height_mm=low if rng.random() < 0.5 else wide), rng.uniform(5, 25)),
        *(read(f"arch_{one.clock:g}", one, None) for one in arch),
        read("liner_front", Station("liner", edge="front", u="centre"), rng.uniform(25, 70)),
        read("liner_rear_lock", Station("liner", edge="rear", u="inner"), rng.uniform(10, 50), 34.0),
        read(
            "rail_rear_lock", Station("rail", edge="rear", height_mm=rng.uniform(-40, 100)), rng.uniform(10, 60), 34.0
        ),
        read("damper_bump", Station("damper", height_mm=wide, strut=False), rng.uniform(10, 40), 0.0, 30.0),
    )
    tyre = str(rng.choice(["225/45R17", "225/45R17", "235/45R17", "215/45R17"]))
    width = rng.choice([7, 7.5, 8, 8.5])
    fitted = Fitted(parse_wheel(f"17x{width} {rng.integers(25, 50):+d}"), parse_tyre(tyre), 0.0, present.camber_deg)
    if rng.random() < 0.3:
        fitted = replace(fitted, camber_deg=present.camber_deg - 0.5)
    if rng.random() < 0.3:
        fitted = replace(fitted, measured_section_mm=float(fitted.outline.section_mm + rng.uniform(-4, 4)))
    return Case(readings, motion, Candidate(fitted, levers=Levers(ride_drop_mm=float(rng.choice([0, 15])))))


def drawn(case: Case, rng: np.random.Generator) -> Case:
    """The same corner with everything that is not exactly known moved by its ±."""
    doubt, motion, fitted = case.motion.doubt, case.motion, case.candidate.fitted
    gain = doubt.gain_deg_per_mm * rng.normal()
    camber = doubt.camber_deg * rng.normal()
    first = case.readings[0].present
    carcass = side_uncertainty_mm(first) * rng.normal()
    other = carcass if same_carcass(first, fitted) else side_uncertainty_mm(fitted) * rng.normal()
    if same_carcass(first, fitted):
        other *= side_uncertainty_mm(fitted) / side_uncertainty_mm(first)
    moved = replace(
        motion,
        camber_gain_deg_per_mm=(motion.camber_gain_deg_per_mm or 0) + gain,
        kpi_deg=(motion.kpi_deg or 0) + doubt.kpi_deg * rng.normal(),
        caster_deg=(motion.caster_deg or 0) + doubt.caster_deg * rng.normal(),
        kingpin_inboard_mm=(motion.kingpin_inboard_mm or 0) + doubt.kingpin_mm * rng.normal(),
    )
    readings = tuple(_moved(reading, moved, carcass, camber, gain, rng) for reading in case.readings)
    built = camber if fitted.camber_deg == first.camber_deg else doubt.camber_deg * rng.normal()
    larger_now = larger(fitted, other)
    return Case(
        readings, moved, replace(case.candidate, fitted=replace(larger_now, camber_deg=fitted.camber_deg + built))
    )


def _moved(
    reading: Reading, motion: Motion, carcass: float, camber: float, gain: float, rng: np.random.Generator
) -> Reading:
    station, gap = reading.station, reading.gap_mm
    if station.place == "arch":
        side, up = rng.normal(size=2) * reading.uncertainty_mm
        station = replace(
            station, side_gap_mm=(station.side_gap_mm or 0) + side, up_gap_mm=(station.up_gap_mm or 0) + up
        )
    elif gap is not None:
        gap += rng.normal() * reading.uncertainty_mm
    lean = reading.present.camber_deg + camber + gain * reading.raised_mm
    pose = replace(
        reading.pose,
        camber_deg=lean,
        kpi_deg=motion.kpi_deg or 0,
        caster_deg=motion.caster_deg or 0,
        kingpin_inboard_mm=motion.kingpin_inboard_mm or 0,
    )
    return replace(
        reading,
        station=station,
        gap_mm=gap,
        pose=pose,
        present=replace(larger(reading.present, carcass), camber_deg=lean),
    )


def gaps_of(case: Case) -> dict[str, float]:
    """All gaps of a corner, moving and at rest, without any ±."""
    found = {
        f"{one.reading.code} moving": one.low.gap_mm for one in swept(case.readings, case.motion, bare(case.candidate))
    }
    for reading in case.readings:
        rest = at_rest(reading, case.candidate, case.motion)
        for way in ("sideways", "upward") if reading.station.place == "arch" else ("",):
            found[f"{reading.code} {way or 'at rest'}"] = rest.gap_mm(way)
    return found


def stated(case: Case) -> dict[str, float]:
    """± of the same gaps as they are stated, without the ends of the range and the bow of a lip that draws don't move."""
    found = {}
    for one in swept(case.readings, case.motion, bare(case.candidate)):
        bow = next((share.mm for share in one.known.shares if share.source == "lip between readings"), 0.0)
        found[f"{one.reading.code} moving"] = float(np.sqrt(one.known.mm**2 - bow**2))
    for reading in case.readings:
        rest = at_rest(reading, case.candidate, case.motion)
        for way in ("sideways", "upward") if reading.station.place == "arch" else ("",):
            known = known_mm([rest.facing(way, case.candidate.fitted)], case.candidate, case.motion)[0]
            found[f"{reading.code} {way or 'at rest'}"] = known.mm
    return found


def ratios(corners: int, draws: int, seed: int = 1) -> list[tuple[str, float, float, float]]:
    """Of every gap: name, gap, stated ±, standard deviation of the draws [mm]."""
    rng, rows = np.random.default_rng(seed), []
    for _ in range(corners):
        case = random_case(rng)
        said, first = stated(case), gaps_of(case)
        each: dict[str, list[float]] = {name: [] for name in said}
        for _ in range(draws):
            for name, gap in gaps_of(drawn(case, rng)).items():
                each[name].append(gap)
        rows += [(name, first[name], said[name], float(np.std(each[name]))) for name in said]
    return rows


def main(corners: int = 14, draws: int = 400) -> None:
    rows = ratios(corners, draws)
    share = np.array([said / true for _, _, said, true in rows])
    within = np.mean((share >= 0.8) & (share <= 1.2))
    print(
        f"{len(rows)} gaps, {draws} draws: stated within 20 % of the draws in {100 * within:.1f} %; least {share.min():.2f}, most {share.max():.2f}"
    )
    for (name, gap, said, true), one in sorted(zip(rows, share, strict=True), key=lambda row: row[1]):
        if not 0.8 <= one <= 1.2:
            print(f"  {name:<26} gap {gap:7.1f}  stated {said:5.2f}  draws {true:5.2f}  ratio {one:.2f}")


if __name__ == "__main__":
    main(*(int(word) for word in sys.argv[1:]))
