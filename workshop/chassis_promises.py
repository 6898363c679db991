"""What a build promises of height, camber, dip, turning circle and cross weight."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bench.geometry.facts import linked
from bench.ride.facts import collars
from bench.ride.facts import judgements as of_ride
from bench.steering.facts import end_of, pair
from bench.weights.facts import pads_of
from garage.car.assemble import CORNERS_OF
from garage.chassis.load import chassis_of
from garage.file import CarFile
from garage.readings.models import Reading
from planner.chosen import build_in_hand, end_setting
from planner.models import Build
from rimcore.quantities.judgement import COMMON_PRACTICE, InputUsed, Judgement
from rimcore.ride.bench import EVEN_WEIGHTS, promised_over_bump
from rimcore.steering.bench import MOVES
from rimcore.steering.rack import steered, turning_circle_m
from rimcore.tables.facts import CORNER_NAMES, CORNERS

#: what a height or an angle is promised to [mm, °]
HEIGHT_MM, CAMBER_DEG, CROSS_PCT, CIRCLE_M = 5.0, 0.2, 0.5, 0.5
#: rack places over which the turning circle is looked for
PLACES = 21


def of_chassis(file: CarFile, build: Build) -> Iterator[tuple[Judgement, Reading | None]]:
    """Figures of the chassis with the reading behind each, where it is one that is read again afterwards."""
    for end in ("F", "R"):
        yield from _heights(file, build, end)
        yield from _cambers(file, build, end)
    held = build_in_hand(file)
    if held is None or held.pk != build.pk:
        return
    yield from ((judged, None) for judged in of_ride(file) if judged.code == "ride.dip" and judged.value is not None)
    for corner in CORNERS:
        found = linked(file, corner)
        if found is not None:
            yield from ((one, None) for one in promised_over_bump(found.curves(), found.at_mm, CORNER_NAMES[corner], found.inputs))
    yield from ((judged, None) for judged in (_circle(file, build), _cross(file, build)) if judged is not None)


def _heights(file: CarFile, build: Build, end: str) -> Iterator[tuple[Judgement, Reading | None]]:
    """Wheel centre to lip: as it was read, less what the end goes down from there."""
    setting = end_setting(file, build, end)
    for reading in file.latest:
        if reading.code != "ride_height" or reading.corner not in CORNERS_OF[end]:
            continue
        stood = file.outfit_axles.get((reading.outfit_id, end))
        wanted = setting.ride_drop_mm + setting.corner_mm[reading.corner[1] == "R"]
        drop = wanted - (stood.drop_at(reading.corner) if stood is not None else 0.0)
        value = reading.value - drop
        yield Judgement(
            "ride.height", "Ride height", "clear", "as it was read, less what it is lowered", "geometry", value=value, unit="mm", uncertainty=HEIGHT_MM, where=CORNER_NAMES[reading.corner],
            formula=f"{reading.value:g} − ({drop:g}) = {value:g} mm".replace("-", "−"), inputs=(_used(reading),),
        ), reading  # fmt: skip


def _cambers(file: CarFile, build: Build, end: str) -> Iterator[tuple[Judgement, Reading | None]]:
    """The build's camber, where it sets one and the old one was read."""
    wanted = end_setting(file, build, end).camber_deg
    if wanted is None:
        return
    for reading in file.latest:
        if reading.code == "camber" and reading.corner in CORNERS_OF[end]:
            yield Judgement(
                "align.camber", "Camber", "clear", "the build's", "the build's lever", value=wanted, unit="°", uncertainty=CAMBER_DEG, where=CORNER_NAMES[reading.corner], before=reading.value,
                formula="as the build sets it", inputs=(_used(reading),),
            ), reading  # fmt: skip


def _circle(file: CarFile, build: Build) -> Judgement | None:
    """The turning circle with the build's rack; None until links and rack are read."""
    *moves, limit = (float(build.lever(code) or 0.0) for code in (*MOVES, "rack_limit_mm"))
    both, kept = pair(file, *moves), chassis_of(file).rack
    if both is None or kept is None or kept.travel_mm is None:
        return None
    end = end_of(kept, limit)
    value = turning_circle_m(steered(both.axle, np.linspace(-end, end, PLACES).tolist()), both.axle.wheelbase_mm)
    if value is None:
        return None
    return Judgement(
        "steer.circle", "Turning circle", "clear", "the outside wheel's lock, slip left out", "plane geometry", value=round(value, 3), unit="m", uncertainty=CIRCLE_M,
        formula="2 L ÷ sin of the outside wheel's lock", inputs=both.inputs,
    )  # fmt: skip


def _cross(file: CarFile, build: Build) -> Judgement | None:
    """The cross weight that the build's collars give, or an even one where it is evened on pads; weighed before, else nothing."""
    found, turned = pads_of(file), collars(file)
    if found is None:
        return None
    if build.lever(EVEN_WEIGHTS.code):
        value, reason, basis = 50.0, "evened by the collars", f"{COMMON_PRACTICE}: 50 %"
    elif turned.any and turned.found is not None:
        value, reason, basis = turned.found.pads(found.pads).cross_pct, "as the collars of the build are wound", "statics of four springs"
    else:
        return None
    return Judgement(
        "weights.cross", "Cross weight", "clear", reason, basis, value=value, unit="%", uncertainty=CROSS_PCT, before=found.pads.cross_pct,
        formula=f"from {found.pads.cross_pct:.1f} % to {value:.1f} %", inputs=tuple(_used(one) for one in found.read.values()),
    )  # fmt: skip


def _used(reading: Reading) -> InputUsed:
    return InputUsed(
        CORNER_NAMES[reading.corner], f"{reading.typed} ± {reading.uncertainty:g}", reading.who, f"{reading.taken_on:%-d %b %Y}"
    )
