"""A stop of the car with the build in hand, for the core."""

from __future__ import annotations

from dataclasses import replace

from bench.weights.facts import pads_of
from garage.engine.load import running_of
from garage.engine.models import Brakes
from garage.file import CarFile
from garage.inhand import in_hand, place_in_hand
from garage.kept import once
from garage.mass.ledger import ledger_mass, net_since_kg
from planner.chosen import build_in_hand, choices_of
from planner.queries import sums
from rimcore.braking.bench import Braking, judge_brakes
from rimcore.braking.stops import HARD_G, HARD_KMH, Braked, Stop
from rimcore.quantities.judgement import InputUsed, Judgement


def kept_of(file: CarFile) -> Brakes | None:
    """The brakes as they are kept."""
    found: Brakes | None = running_of(file).brakes
    return found


def braking_of(file: CarFile) -> Braking:
    """Before and with the build: mass, share, radii, rotors, and what of it is not known."""
    kept, car = kept_of(file), file.car
    mass, front, used = _weight(file)
    radii = [_radius_mm(file, end, False) for end in ("F", "R")], [_radius_mm(file, end, True) for end in ("F", "R")]
    missing = [
        name
        for name, value in (
            ("the car's weight", mass),
            ("the wheelbase", car.wheelbase_mm),
            ("the height of the centre of gravity", car.cg_height_mm),
            ("the wheels that stand on it", radii[0][0]),
        )
        if value is None
    ]
    stop = Stop(kept.from_kmh if kept else HARD_KMH, deceleration_g=kept.deceleration_g if kept else HARD_G)
    rotors = (kept.front_rotor_kg if kept else None, kept.rear_rotor_kg if kept else None)
    now_rotors = tuple(_rotor_kg(file, end) for end in ("F", "R"))
    if mass is None or None in (*radii[0], *radii[1]):
        return Braking(
            None, None, stop, rotors, (now_rotors[0], now_rotors[1]), tuple(missing or ["the wheels that stand on it"])
        )
    build = build_in_hand(file)
    mass_sum = sums(file, build).mass if build is not None else None
    added = (mass_sum.total_kg or 0.0) + _already_weighed_kg(file) if mass_sum is not None else 0.0
    unknown = mass_sum.unknown if mass_sum is not None else 0
    # what is towed is towed before and after; with brakes of its own it is no load of the car's
    load = kept.load_kg if kept and not kept.load_braked else 0.0
    masses = (mass + load, mass + load + added)
    inputs = (
        *used,
        InputUsed(
            "weight of the build",
            f"{added:+.1f} kg" + (f", {unknown} not known" if unknown else ""),
            build.name if build else "no build",
            "",
        ),
        InputUsed(
            "stop",
            f"{stop.from_kmh:g} km/h to rest at {stop.deceleration_g:g} g",
            "the car's data" if kept else "a usual one",
            "",
        ),
    )
    if load:
        inputs = (*inputs, InputUsed("trailer and load", f"{load:g} kg", "the car's data", ""))
    whole = Braking(
        before=None,
        now=None,
        stop=stop,
        rotors_kg=rotors,
        rotors_now_kg=(now_rotors[0], now_rotors[1]),
        missing=tuple(missing),
        inputs=inputs,
        masses_kg=masses,
        front_radius_mm=(float(radii[0][0] or 0), float(radii[1][0] or 0)),
    )
    if missing or front is None or car.wheelbase_mm is None or car.cg_height_mm is None:
        return whole
    before, now = (
        Braked(kg, front, car.cg_height_mm, car.wheelbase_mm, (float(pair[0] or 0), float(pair[1] or 0)))
        for kg, pair in zip(masses, radii, strict=True)
    )
    return replace(whole, before=before, now=now)


def _weight(file: CarFile) -> tuple[float | None, float | None, tuple[InputUsed, ...]]:
    """Mass and front share: as it was weighed, else the axle loads of the car's data."""
    found = pads_of(file)
    if found is not None:
        said = InputUsed(
            "four pads",
            f"{found.pads.total_kg:.0f} kg, front {found.pads.front_pct:.1f} %",
            found.newest.who,
            f"{found.newest.taken_on:%-d %b %Y}",
        )
        return found.pads.total_kg, found.pads.front_pct, (said,)
    front, rear = file.car.front_axle_kg, file.car.rear_axle_kg
    if front is None or rear is None:
        return None, None, ()
    return (
        front + rear,
        100.0 * front / (front + rear),
        (InputUsed("axle loads", f"{front:g} and {rear:g} kg", "the car's data", ""),),
    )


def _already_weighed_kg(file: CarFile) -> float:
    """Of what the ledger has off the car against its baseline, what the pads were read without [kg]."""
    found, strips = pads_of(file), in_hand(file).strips
    if found is None:
        return 0.0
    off, _, _ = ledger_mass(file, strips)
    return off.net_kg - net_since_kg(file, found.newest, strips)


def _radius_mm(file: CarFile, end: str, chosen: bool) -> float | None:
    if chosen:
        place = place_in_hand(file, end)
        return place.candidate.fitted.tyre.diameter_mm / 2 if place is not None and place.wheels else None
    standing = file.standing(end)
    return standing.fitted.tyre.diameter_mm / 2 if standing is not None else None


def _rotor_kg(file: CarFile, end: str) -> float | None:
    """Mass of one rotor that the build puts on an end."""
    build = build_in_hand(file)
    if build is None:
        return None
    return next(
        (
            one.part.mass_kg
            for one in choices_of(build)
            if one.kind == "rotor" and one.stands_at(end) and one.part.fault is None
        ),
        None,
    )


def begun(file: CarFile) -> bool:
    """Has anybody said something of the brakes?"""
    return kept_of(file) is not None


@once
def judgements(file: CarFile) -> tuple[Judgement, ...]:
    """What the brakes bench judges of the build in hand, once a page."""
    return judge_brakes(braking_of(file))
