"""What the parts of a build do to the height of an end, together, against what stands there now."""

from __future__ import annotations

from dataclasses import dataclass

from rimcore.parts.declared import Place
from rimcore.parts.leafed import leaf_lowers_mm
from rimcore.parts.sprung import HEIGHT_ROOM_MM, spring_lowers_mm, spring_of
from rimcore.parts.stopped import mount_lowers_mm
from rimcore.quantities.judgement import COMMON_PRACTICE, InputUsed, Judgement, unmeasured
from rimcore.ride.heights import screwed_in_lowers_mm, unloaded_rises_mm
from rimcore.ride.springs import wheel_rate_n_per_mm

#: less than this out of a corner moves no height that a rule reads [kg]
OUT_LEAST_KG = 2.0


@dataclass(frozen=True)
class Gives:
    """Each part with what it lowers the end by [mm], minus raising it; what is not known of one is None."""

    rows: tuple[tuple[str, float | None], ...]
    #: lowered already, against the baseline [mm]
    stands_mm: float = 0.0

    @property
    def total_mm(self) -> float | None:
        """Lowered against the baseline [mm]; None where a part of it is not known.

        >>> Gives((("springs", 30.0), ("collars", -5.0)), 10.0).total_mm, Gives((("springs", None),)).total_mm
        (35.0, None)
        """
        known = [value for _, value in self.rows if value is not None]
        return self.stands_mm + sum(known) if len(known) == len(self.rows) else None

    @property
    def unknown(self) -> tuple[str, ...]:
        """What can't be told, in words."""
        return tuple(name for name, value in self.rows if value is None)


def gives(place: Place) -> Gives:
    """What a build's springs, collars, top mounts, leaves, blocks and what it strips do to the height of an end."""
    rows: list[tuple[str, float | None]] = []
    stood, damper = place.stood, place.other("damper") or {}
    if place.other("spring") is not None or damper.get("rate_n_per_mm") is not None:
        rows.append(("springs", spring_lowers_mm(place, spring_of(place))))
    if stood.levers.perch_up_mm:
        rows.append(("collars", None if stood.motion_ratio is None else -stood.levers.perch_up_mm / stood.motion_ratio))
    if stood.levers.lower_mount_mm:
        rows.append(("lower mounts", screwed_in_lowers_mm(stood.levers.lower_mount_mm, stood.motion_ratio)))
    mount = place.other("top_mount")
    if mount is not None:
        rows.append(("top mounts", mount_lowers_mm(place, mount)))
    leaf = place.other("leaf_pack")
    if leaf is not None:
        rows.append(("leaf packs", leaf_lowers_mm(place, leaf)))
    block = place.other("lift_block")
    if block is not None:
        rows.append(("blocks", (stood.was("lift_block", "height_mm") or 0.0) - block["height_mm"]))
    if stood.out_kg is None or abs(stood.out_kg) >= OUT_LEAST_KG:
        rises = None if stood.out_kg is None else unloaded_rises_mm(stood.out_kg, _wheel_rate_n_per_mm(place))
        rows.append(("weight out", None if rises is None else -rises))
    return Gives(tuple(rows), stood.stands_mm)


def _wheel_rate_n_per_mm(place: Place) -> float | None:
    """Rate of the end at the wheel, on the build's springs or its leaves; None where it is not known."""
    rate, ratio = spring_of(place).get("rate_n_per_mm"), place.stood.motion_ratio
    if rate is not None and ratio is not None:
        return wheel_rate_n_per_mm(rate, ratio)
    leaf: float | None = place.there("leaf_pack").get("rate_n_per_mm")
    return leaf


def judge_gives(place: Place) -> Judgement | None:
    """Do the parts give the height that the build reckons with? None where no part changes it."""
    found, stood = gives(place), place.stood
    if not found.rows:
        return None
    code, name = "part.height", "Height that the parts give"
    if found.total_mm is None:
        return unmeasured(
            code,
            name,
            f"not known: {', '.join(found.unknown)}",
            ["springs"],
            ["record what stands there, weigh the corner"],
        )
    apart = found.total_mm - stood.levers.ride_drop_mm
    same = abs(apart) <= HEIGHT_ROOM_MM
    said = " + ".join(f"{what} {value:.0f}" for what, value in found.rows if value is not None).replace("-", "−")
    reason = f"{found.total_mm:.0f} mm lowered" + (
        "" if same else f"; the build reckons with {stood.levers.ride_drop_mm:.0f}"
    )
    return Judgement(
        code,
        name,
        "clear" if same else "tight",
        reason.replace("-", "−"),
        f"Hooke's law and geometry; {HEIGHT_ROOM_MM:g} mm is {COMMON_PRACTICE}, from memory",
        formula=f"stands {stood.stands_mm:.0f} + {said} = {found.total_mm:.1f} mm".replace("-", "−"),
        value=found.total_mm,
        unit="mm",
        held_against=stood.levers.ride_drop_mm,
        margin=HEIGHT_ROOM_MM - abs(apart),
        inputs=(*stood.inputs, InputUsed("lowered in the build", f"{stood.levers.ride_drop_mm:g} mm", "the build")),
        remedies=() if same else ("take the height that they give into the build", "turn the collars"),
    )
