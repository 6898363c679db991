"""What changes what is known of the chassis; one transaction each, each can be undone."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date
from typing import Any

from django.utils import timezone

from garage.car.models import Car
from garage.chassis.models import Adjuster, FrameMarks, FrameTrial, HardPoint, KnownDip, OldPart, Rack, Springs
from garage.file import CarFile
from garage.readings.services import Angle, take_angles
from rimcore.families import FAMILIES
from rimcore.tables.facts import CORNER_NAMES
from shell.undo import remember


def keep_points(
    car: Car, corner: str, layout: str, rows: Mapping[str, Mapping[str, Any]], how: Mapping[str, Any]
) -> list[HardPoint]:
    """Points of a corner as they were read, all or none; older ones are kept under them."""
    with remember(car.owner, f"points of the {CORNER_NAMES[corner]} saved"):
        return [
            HardPoint.objects.create(car=car, corner=corner, layout=layout, name=name, **row, **how)
            for name, row in rows.items()
        ]


def mirror_points(car: Car, corner: str, points: Sequence[HardPoint]) -> list[HardPoint]:
    """The other side as this one, marked as taken over and not read."""
    other = corner[0] + ("R" if corner[1] == "L" else "L")
    names = (
        "layout",
        "name",
        "across_mm",
        "ahead_mm",
        "up_mm",
        "from_face",
        "uncertainty_mm",
        "ride_drop_mm",
        "who",
        "taken_on",
    )
    with remember(car.owner, f"points taken over to the {CORNER_NAMES[other]}"):
        return [
            HardPoint.objects.create(
                car=car, corner=other, mirrored=True, **{name: getattr(one, name) for name in names}
            )
            for one in points
        ]


#: what the sheet of corner weights keeps of a spring
SPRING_FIELDS = ("rate_n_per_mm", "free_length_mm", "block_length_mm")


def set_springs(car: Car, end: str, values: Mapping[str, Any]) -> Springs:
    """Springs of an end as they stand."""
    with remember(car.owner, f"{'front' if end == 'F' else 'rear'} springs saved"):
        found = Springs.objects.filter(car=car, end=end).first() or Springs(car=car, end=end)
        for name, value in values.items():
            setattr(found, name, value)
        found.noted_on = timezone.localdate()
        found.save()
    return found


def write_down(car: Car, end: str, family: str, spec: Mapping[str, Any], who: str, noted_on: date) -> OldPart:
    """A part of the chassis as it stands; springs are told to the sheet of corner weights too.

    Older notes stay under it.
    """
    with remember(car.owner, f"{FAMILIES[family].name}, {'front' if end == 'F' else 'rear'}: recorded"):
        found: OldPart = OldPart.objects.create(
            car=car, end=end, family=family, spec=dict(spec), who=who, noted_on=noted_on
        )
        kept = Springs.objects.filter(car=car, end=end).first()
        told: dict[str, Any] = {name: spec[name] for name in SPRING_FIELDS if spec.get(name) is not None}
        if kept is not None and told.get("free_length_mm", kept.free_length_mm) != kept.free_length_mm:
            told["preload_mm"] = (
                None  # of the spring before: another length is wound up otherwise, and nobody has read it
            )
        if family == "spring" and (kept is not None or "rate_n_per_mm" in told):
            set_springs(car, end, told)
    return found


def drop_old(kept: OldPart, user: Any) -> None:
    """What was written down of a part that does not count."""
    with remember(user, f"{kept}: removed"):
        kept.delete()


def learn_adjuster(
    file: CarFile,
    corner: str,
    name: str,
    turns: float,
    effects: Mapping[str, float],
    angles: Sequence[Angle],
    how: Mapping[str, Any],
    more: Mapping[str, Any],
) -> Adjuster:
    """What turning something changed: the new angles as readings, and the effect of a turn.

    Parameters
    ----------
    more : ``doubts``, the ± of each effect, and turns left: ``turns_back``, ``turns_on``; what is not named stays
    """
    with remember(file.user, f"{name} learnt"):
        take_angles(file, angles, how)
        found = Adjuster.objects.filter(car=file.car, corner=corner, name=name).first() or Adjuster(
            car=file.car, corner=corner, name=name
        )
        found.effects, found.turns, found.noted_on = dict(effects), turns, how["taken_on"]
        for field, value in more.items():
            setattr(found, field, value)
        found.save()
    return found


def set_alignment(car: Car, user: Any, school: str, targets: Mapping[str, float]) -> None:
    """The school that a car is aligned by, and targets of one's own by end and angle [deg]."""
    with remember(user, "alignment targets saved"):
        car.alignment_school, car.alignment_targets = school, dict(targets)
        car.save()


def drop_adjuster(adjuster: Adjuster, user: Any) -> None:
    """An adjuster off the sheet."""
    with remember(user, f"{adjuster.name} off the sheet"):
        adjuster.delete()


def keep_dip(car: Car, values: Mapping[str, Any]) -> KnownDip:
    """A known dip as it was driven; older drives stay under it."""
    with remember(car.owner, f"{values['name']} saved"):
        return KnownDip.objects.create(car=car, **values)


def drop_dip(dip: KnownDip, user: Any) -> None:
    """A drive through a dip that does not count."""
    with remember(user, f"{dip.name} removed"):
        dip.delete()


def keep_frame_trial(car: Car, values: Mapping[str, Any]) -> FrameTrial:
    """A trial beside the frame; older ones stay under it."""
    with remember(car.owner, f"{values['what']}, {values['corner']}: tried"):
        return FrameTrial.objects.create(car=car, **values)


def keep_marks(car: Car, values: Mapping[str, Any]) -> FrameMarks:
    """Four marks as they were read; older ones stay under them."""
    with remember(car.owner, f"marks of {values['what']} saved"):
        return FrameMarks.objects.create(car=car, **values)


def set_rack(car: Car, values: Mapping[str, Any]) -> Rack:
    """What was read of the rack."""
    with remember(car.owner, "rack saved"):
        found = Rack.objects.filter(car=car).first() or Rack(car=car)
        for name, value in values.items():
            setattr(found, name, value)
        found.noted_on = timezone.localdate()
        found.save()
    return found
