"""What changes readings; one transaction each, each can be undone."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from garage.car.models import Car
from garage.car.services import outfit_now
from garage.file import CarFile
from garage.readings.corrections import placing, trial_standing
from garage.readings.models import Condition, Reading, Rub, Sighting, Skip, Trial
from rimcore.limits import LIMITS
from rimcore.quantities.errors import CoreError
from rimcore.steering.axis import Found
from rimcore.tables.facts import CORNER_NAMES
from rimcore.well.judge.sightings import predict_mm, prediction_uncertainty_mm
from rimcore.well.read.declared import check_values, check_where
from rimcore.well.read.stations import METHOD_UNCERTAINTY_MM, STATIONS
from shell.undo import remember

#: uncertainty of readings that are no lengths, by kind of quantity (common practice; volts and mixture from memory)
OTHER_UNCERTAINTY = {"angle": 0.1, "mass": 0.5, "speed": 1.0, "voltage": 0.05, "mixture": 0.02}


#: an angle of a wheel as it was read: corner, station, value [deg], as typed, ± [deg], where the gauge went
Angle = tuple[str, str, float, str, float, Mapping[str, Any]]


def take_angles(file: CarFile, angles: Sequence[Angle], how: Mapping[str, Any]) -> list[Reading]:
    """Angles of wheels read together, all or none."""
    with remember(file.user, "alignment, saved"):
        return [
            take_reading(
                file,
                corner,
                code,
                {"where": dict(where), "values": [value], "repeats": [], "typed": typed, "uncertainty": doubt, **how},
            )
            for corner, code, value, typed, doubt, where in angles
        ]


def take_pads(
    file: CarFile, loads_kg: Mapping[str, tuple[float, str]], condition: Mapping[str, Any], how: Mapping[str, Any]
) -> list[Reading]:
    """Four pads read together, with how the car stood; all or none."""
    with remember(file.user, "four pads, saved"):
        stood = Condition.objects.create(car=file.car, noted_on=how["taken_on"], **condition)
        return [
            take_reading(
                file,
                corner,
                "corner_mass",
                {"where": {}, "values": [load], "repeats": [], "typed": typed, "condition": stood, **how},
            )
            for corner, (load, typed) in loads_kg.items()
        ]


def default_uncertainty(code: str, method: str, own_mm: Mapping[str, float] | None = None) -> float:
    """± that a method is good for, in the unit of the station's quantity.

    A person's own ± stands before the stated one.
    """
    kind = STATIONS[code].kind
    if kind != "length":
        return OTHER_UNCERTAINTY[kind]
    own = (own_mm or {}).get(method)
    return (
        float(own)
        if isinstance(own, (int, float)) and LIMITS["uncertainty"].holds(own)
        else METHOD_UNCERTAINTY_MM.get(method, 1.0)
    )


def take_reading(file: CarFile, corner: str, code: str, values: dict[str, Any]) -> Reading:
    """Keep a reading against what stands on the car now."""
    values = {"method": STATIONS[code].method} | values
    if values.get("uncertainty") is None:
        values = values | {"uncertainty": default_uncertainty(code, values["method"], file.preferences.own_doubts)}
    kind = STATIONS[code]
    values = values | {
        "where": check_where(kind, values["where"]),
        "values": list(check_values(kind, values["values"])),
    }
    with remember(file.user, f"{kind.name.lower()}, {CORNER_NAMES[corner]}, saved"):
        Skip.objects.filter(car=file.car, corner=corner, code=code).delete()
        return Reading.objects.create(car=file.car, outfit=outfit_now(file), corner=corner, code=code, **values)


def take_sheet(file: CarFile, rows: Sequence[tuple[str, str, dict[str, Any]]], how: dict[str, Any]) -> list[Reading]:
    """Keep the readings of a floor sheet together, or none of them.

    Parameters
    ----------
    rows : corner, code, and the reading's values
    how : who took them, when, and how the car stood
    """
    with remember(file.user, f"{len(rows)} reading{'' if len(rows) == 1 else 's'} of the floor sheet, saved"):
        return [take_reading(file, corner, code, values | how) for corner, code, values in rows]


def skip_station(file: CarFile, corner: str, code: str, values: dict[str, Any]) -> Skip:
    """Pass a station over; what is not measured stays unmeasured."""
    with remember(file.user, f"{STATIONS[code].name.lower()}, {CORNER_NAMES[corner]}, passed over"):
        Skip.objects.filter(car=file.car, corner=corner, code=code).delete()
        return Skip.objects.create(car=file.car, corner=corner, code=code, **values)


def take_up_again(skip: Skip, user: Any) -> None:
    """A station that was passed over is on the walk again."""
    with remember(user, f"{STATIONS[skip.code].name.lower()}, {CORNER_NAMES[skip.corner]}, on the walk again"):
        skip.delete()


def keep_axis(file: CarFile, corner: str, found: list[Found], typed: str, who: str, taken_on: Any) -> list[Reading]:
    """Keep what was worked out of a steering axis as readings, together."""
    with remember(file.user, f"steering axis, {CORNER_NAMES[corner]}, saved"):
        return [
            Reading.objects.create(
                car=file.car,
                outfit=outfit_now(file),
                corner=corner,
                code=one.station,
                values=[round(one.value, 2)],
                typed=typed,
                method="worked",
                uncertainty=round(one.uncertainty, 2),
                who=who,
                taken_on=taken_on,
            )
            for one in found
        ]


def mirror_reading(reading: Reading, user: Any) -> Reading:
    """Copy a reading to the other side because the person asked; it stays marked as assumed."""
    other = reading.corner[0] + ("R" if reading.corner[1] == "L" else "L")
    with remember(user, f"{STATIONS[reading.code].name.lower()} assumed at the {CORNER_NAMES[other]}"):
        copied = Reading.objects.get(pk=reading.pk)
        copied.pk, copied._state.adding = None, True
        copied.corner, copied.mirrored_from = other, reading
        copied.save()
    return copied


def strike_reading(reading: Reading, why: str, user: Any) -> None:
    """Strike out a wrong reading; it stays in the history."""
    with remember(user, f"{STATIONS[reading.code].name.lower()} struck out"):
        reading.struck_why = why
        reading.save(update_fields=["struck_why"])


def note_condition(car: Car, values: dict[str, Any]) -> Condition:
    """How the car stands for the readings that follow."""
    with remember(car.owner, "condition noted"):
        return Condition.objects.create(car=car, **values)


def keep_trial(file: CarFile, trial: Trial, sightings: list[Sighting]) -> Trial:
    """A trial fit with everything that was seen; what the model expected is worked out first and kept beside it."""
    known = dict(zip((reading.pk for reading in placing(file)), file.core_readings(), strict=True))
    for sighting in sightings:
        sighting.predicted_mm, sighting.predicted_uncertainty_mm = _predicted(file, trial, sighting, known)
    with remember(trial.car.owner, f"trial fit at the {CORNER_NAMES[trial.corner]} saved"):
        trial.save()
        for sighting in sightings:
            sighting.trial = trial
            sighting.save()
    return trial


def _predicted(
    file: CarFile, trial: Trial, sighting: Sighting, known: dict[int, Any]
) -> tuple[float | None, float | None]:
    core = known.get(sighting.reading_id)
    if core is None:
        return None, None
    fitted, pose = trial_standing(file, trial, sighting.steer_deg, sighting.travel_mm)
    standing, bare = (file.tried(fitted), False) if trial.tyre else (fitted, True)
    try:
        gap = predict_mm(core, standing, bare, pose)
    except CoreError:
        return None, None
    return round(gap, 2), round(prediction_uncertainty_mm(core, standing, bare), 2)


def remove_trial(trial: Trial) -> None:
    """Take a trial fit away; what it corrected goes back to the readings."""
    with remember(trial.car.owner, f"trial fit at the {CORNER_NAMES[trial.corner]} removed"):
        for sighting in trial.sightings.all():
            sighting.delete()
        trial.delete()


def note_rub(file: CarFile, corner: str, values: dict[str, Any]) -> Rub:
    """A trace of a rub, with what stood on the car; its travel is counted from the baseline's height."""
    if file.current is None:
        raise ValueError("a rub needs an outfit")
    standing = file.on(file.current, corner[0])
    drop = standing.drop_at(corner) if standing else 0.0
    with remember(file.user, f"rub at the {CORNER_NAMES[corner]} saved"):
        return Rub.objects.create(
            car=file.car,
            outfit=file.current,
            corner=corner,
            code=values["code"],
            when=values["when"],
            steer_deg=values.get("steer_deg") or 0.0,
            travel_mm=drop + (values.get("travel_mm") or 0.0),
            note=values["note"],
            seen_on=values["seen_on"],
        )


def remove_rub(rub: Rub) -> None:
    """Take a trace away."""
    with remember(rub.car.owner, f"rub at the {CORNER_NAMES[rub.corner]} removed"):
        rub.delete()
