"""The list of part families. A new family is an entry here, declared in ``rimcore/parts``."""

from __future__ import annotations

from rimcore.parts.brakes import CALIPER, ROTOR
from rimcore.parts.declared import Family, Spec
from rimcore.parts.hubware import BOLT, NUT, RING, SPACER, STUD
from rimcore.parts.rolling import TYRE, WHEEL
from rimcore.parts.small import CAP, OTHER, SENSOR, VALVE

__all__ = ["FAMILIES", "Family", "Spec"]

#: families that have a list of pairs; the others stand one by one
PAIRED = ("wheel", "tyre")

FAMILIES: dict[str, Family] = {
    family.key: family for family in (WHEEL, TYRE, RING, SPACER, STUD, NUT, BOLT, VALVE, SENSOR, CAP, CALIPER, ROTOR, OTHER)
}
