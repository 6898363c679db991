"""Trial fits against a known truth: intervals, false alarms, gross misreadings.

python -m proofs.trials [TRIALS]
"""

from __future__ import annotations

import sys
from collections import Counter
from dataclasses import dataclass, replace

import numpy as np

from rimcore.quantities.judgement import ORDER, Judgement
from rimcore.well.judge.doubt import larger
from rimcore.well.judge.fitment import judge
from rimcore.well.judge.sightings import Seen, Where
from rimcore.well.judge.tolerance import SCHOOLS
from rimcore.well.judge.trialfit import correct
from rimcore.well.read.measured import Axle, Candidate, Held, Reading
from rimcore.well.read.travel import Motion
from rimcore.well.solid.gap import Station, place_obstacle
from rimcore.well.solid.pose import Pose
from rimcore.wheels.fitted import Fitted
from rimcore.wheels.hub import Hub
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import parse_wheel

SIZES = ("225/45R17", "235/45R17")
STATIONS = {
    "damper": Station("damper", height_mm=262.0),
    "liner_front": Station("liner", edge="front", u="centre"),
    "liner_rear": Station("liner", edge="rear", u="centre"),
}


@dataclass(frozen=True)
class Scenario:
    """What is looked at (obstacle, bare rim or mounted), whether the tyres were measured, and where a gross error
    falls.
    """

    name: str
    looks: tuple[tuple[str, bool], ...]
    measured: bool = False
    error_mm: float = 0.0


SCENARIOS = (
    Scenario("two places, mounted wheel", (("damper", False), ("liner_front", False))),
    Scenario("bare rim, then the same place mounted", (("damper", True), ("damper", False))),
    Scenario("three places, mounted", (("damper", False), ("liner_front", False), ("liner_rear", False))),
    Scenario("one place, tyres measured", (("damper", False),), True),
    Scenario("one place, tyres not measured", (("damper", False),)),
    Scenario("one of two wrong by 10 mm", (("damper", False), ("liner_front", False)), False, 10.0),
    Scenario("one of two wrong by 10 mm, tyres measured", (("damper", False), ("liner_front", False)), True, 10.0),
    Scenario("the only one wrong by 10 mm", (("damper", False),), False, 10.0),
    Scenario("the only one wrong by 10 mm, bare rim", (("damper", True),), False, 10.0),
    Scenario("the only one wrong by 10 mm, tyres measured", (("damper", False),), True, 10.0),
)


@dataclass(frozen=True)
class World:
    """What is true, what was read, and what was seen."""

    truth: dict[str, np.ndarray]
    readings: tuple[Reading, ...]
    seen: tuple[Seen, ...]
    present: Fitted
    tried: Fitted
    real: Fitted


def drawn(scenario: Scenario, rng: np.random.Generator) -> World:
    """A corner with real tyres a little larger or smaller than their sizes, read and looked at with a rule."""
    present = Fitted(parse_wheel("17x7.5 +45"), parse_tyre(SIZES[0]), 0.0, -1.0)
    tried = Fitted(parse_wheel(f"17x8 {rng.integers(36, 46):+d}"), parse_tyre(SIZES[1]), 0.0, -1.0)
    real_present, real = larger(present, 2.5 * rng.normal()), larger(tried, 2.5 * rng.normal())
    if scenario.measured:
        present = replace(present, measured_section_mm=real_present.outline.section_mm + rng.normal())
        real_present = larger(present, 0.5 * rng.normal())
        tried = replace(tried, measured_section_mm=real.outline.section_mm + rng.normal())
        real = larger(tried, 0.5 * rng.normal())
    truth, readings = {}, []
    for code, station in STATIONS.items():
        gap = float(rng.uniform(12, 40))
        truth[code] = place_obstacle(real_present, station, gap, Pose(-1.0)).points_mm
        readings.append(Reading("FL", code, station, gap + rng.normal(), present, Pose(-1.0), 1.0))
    seen = []
    for n, (code, bare) in enumerate(scenario.looks):
        place = list(STATIONS).index(code)
        gap = Where.of(readings[place], real, bare, Pose(-1.0)).gap(truth[code][0], real.grown_mm)[0]
        wrong = scenario.error_mm * rng.choice([-1, 1]) if n == 0 else 0.0
        seen.append(Seen(place, tried, bare, Pose(-1.0), float(gap + rng.normal() + wrong), 1.0))
    return World(truth, tuple(readings), tuple(seen), present, tried, real)


def judged(world: World) -> tuple[Counter[str], list[tuple[float, float]]]:
    """What the fit says of itself, and of every gap of the tried wheel how far off it is, in its own ±."""
    found = correct(world.readings, world.seen)
    tally: Counter[str] = Counter()
    tally["conflict"] = any(group.conflict for group in found.groups)
    tally["settled"] = all(group.settled for group in found.groups)
    grown = found.grown_mm.get((world.tried.tyre.size, world.tried.wheel.width_in))
    fitted = world.tried if grown is None else replace(world.tried, grown_mm=grown[0], grown_doubt_mm=grown[1])
    held = None if tally["settled"] else Held(world.readings, frozenset(found.grown_mm))
    after = gaps_of(world, found.readings, fitted, held)
    before = gaps_of(world, world.readings, world.tried, None)
    tally["improved"] = any(after[code].state == "clear" and before[code].state != "clear" for code in after)
    tally["moved up"] = any(ORDER.index(after[code].state) > ORDER.index(before[code].state) for code in after)
    plain = gaps_of(world, found.readings, fitted, None)
    off = []
    for code in {code for code, _ in [(list(STATIONS)[one.reading], 0) for one in world.seen]}:
        one = plain[code]
        true = Where.of(world.readings[list(STATIONS).index(code)], world.real, False, Pose(-1.0)).gap(
            world.truth[code][0], world.real.grown_mm
        )[0]
        off.append(((one.value or 0.0) - true, one.uncertainty or 0.0))
    return tally, off


def gaps_of(world: World, readings: tuple[Reading, ...], fitted: Fitted, held: Held | None) -> dict[str, Judgement]:
    """Every gap of the tried wheel as a page judges it."""
    axle = Axle(("FL", "FR"), world.present, Hub(), readings, None, (("FL", Motion(steers=False)),), held)
    found = judge(axle, Candidate(fitted), SCHOOLS["daily"]).judgements
    return {j.code.removeprefix("gap."): j for j in found if j.where == "front left" and j.value is not None}


def run(scenario: Scenario, trials: int, seed: int = 7) -> dict[str, float]:
    """Shares over many trials."""
    rng, tally, inside, widths = np.random.default_rng(seed), Counter[str](), [], []
    for _ in range(trials):
        found, off = judged(drawn(scenario, rng))
        tally += found
        tally["held or flagged"] += int(found["conflict"] or not found["improved"])
        inside += [abs(error) <= 1.96 * sigma for error, sigma in off]
        widths += [sigma for _, sigma in off]
    shares = {name: tally[name] / trials for name in ("conflict", "settled", "improved", "held or flagged")}
    return shares | {"holds the truth": float(np.mean(inside)), "±": float(np.mean(widths))}


def main(trials: int = 500) -> None:
    for scenario in SCENARIOS:
        found = run(scenario, trials)
        print(f"{scenario.name:<46}" + "  ".join(f"{name} {value:.3f}" for name, value in found.items()))


if __name__ == "__main__":
    main(*(int(word) for word in sys.argv[1:]))
