"""Other sets of a car: kept, checked on it, put on; what comes off is a set from then on."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Any

from django.utils import timezone

from garage.car.parts import Part, Tyre, Wheel
from garage.car.services import change_wheels, known_of, wheel_values
from garage.file import CarFile
from garage.inhand import in_hand
from garage.told import wheels_put_on
from rimcore.quantities.judgement import Judgement, State, severity, worst
from rimcore.tables.facts import ENDS
from rimcore.wheels.tyrestate import judge_age, judge_tread
from shelf.judging import judge_pair
from shelf.models import WheelSet, WheelSetAxle
from shelf.sets.forms import SetForm
from shell.undo import remember

#: sets of one car at most
MOST_SETS = 12


@dataclass(frozen=True)
class SetShown:
    """A set with what is checked of it, worst first."""

    row: WheelSet
    axles: tuple[WheelSetAxle, ...]
    judgements: tuple[Judgement, ...]

    @property
    def state(self) -> State:
        return worst(one.state for one in self.judgements)

    @property
    def waiting(self) -> int:
        return sum(one.state == "unmeasured" for one in self.judgements)


def shown(file: CarFile, row: WheelSet) -> SetShown:
    """A set on this car: gaps, bolts and bores of each end as of any pair, then tread and age."""
    axles, today = tuple(row.axles.all()), timezone.localdate()
    found: list[Judgement] = []
    for axle in axles:
        if file.core_axle(axle.end) is not None:
            pair = judge_pair(
                file, as_kind(Wheel, axle.wheel_part), as_kind(Tyre, axle.tyre_part), in_hand(file), axle.end
            )
            found += pair.judgements
        where = ENDS[axle.end]
        found += [judge_age(axle.date_code, today, where), judge_tread(axle.tread_mm, row.purpose, where)]
    return SetShown(row, axles, tuple(sorted(found, key=severity)))


def as_kind(kind: type[Part], part: Part) -> Any:
    """A part as the wheel or the tyre that it is."""
    part.__class__ = kind
    return part


def add_set(file: CarFile, said: dict[str, Any]) -> WheelSet:
    with remember(file.car.owner, f"set {said['name']} added"):
        row = WheelSet.objects.create(
            car=file.car, name=said["name"], purpose=said["purpose"], stored=said.get("stored", "")
        )
        for end in ENDS:
            wheel, tyre = SetForm.said(said, "wheel", end), SetForm.said(said, "tyre", end)
            _axle(row, end, {"wheel": wheel, "tyre": tyre}, said.get(f"tread_{end}"), said.get(f"code_{end}") or "")
        return row


def _axle(row: WheelSet, end: str, values: dict[str, Any], tread_mm: float | None, code: str) -> None:
    parts = wheel_values(row.car, values)
    WheelSetAxle.objects.create(
        wheel_set=row, end=end, wheel_part=parts[0], tyre_part=parts[1], tread_mm=tread_mm, date_code=code
    )


def put_on(file: CarFile, row: WheelSet, user: Any, since: date) -> None:
    """Put a set on from a day on; what came off is a set, and whoever keeps a record hears that wheels were put on."""
    with remember(user, f"{row.name} put on"):
        _keep_what_comes_off(file)
        change_wheels(file.car, row.name, since, _values(row))
        wheels_put_on.send(sender=WheelSet, car=file.car, name=row.name)
        row.delete()


def _values(row: WheelSet) -> dict[str, dict[str, Any]]:
    """All that is known of a set's wheels and tyres, by end."""
    return {
        axle.end: {
            **known_of(axle.wheel_part, axle.tyre_part),
            "tread_mm": axle.tread_mm,
            "date_code": axle.date_code,
        }
        for axle in row.axles.select_related("wheel_part", "tyre_part")
    }


def _keep_what_comes_off(file: CarFile) -> None:
    """The wheels that stand on the car now, as a set of their own, with all that is known of them."""
    current = file.current
    if current is None:
        return
    taken = set(WheelSet.objects.filter(car=file.car).values_list("name", flat=True))
    names = (current.name[:36], *(f"{current.name[:34]} {k}" for k in range(2, 99)))
    row = WheelSet.objects.create(car=file.car, name=next(name for name in names if name not in taken), purpose="other")
    for axle in current.axles.select_related("wheel_part", "tyre_part"):
        values = known_of(axle.wheel_part, axle.tyre_part) | {"with_spacer_mm": axle.spacer_mm or None}
        _axle(row, axle.end, values, values.get("tread_mm"), values.get("date_code", ""))


def remove_set(row: WheelSet, user: Any) -> None:
    """A set that is there no more; undo brings it back."""
    with remember(user, f"set {row.name} removed"):
        row.delete()
