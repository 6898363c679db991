"""How a corner stands: bump left to the stop, droop, coil bind, frequency, and the known dip that every height is held
against.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from rimcore.quantities.declared import Bench, Lever
from rimcore.quantities.judgement import COMMON_PRACTICE, InputUsed, Judgement, State, unmeasured
from rimcore.ride.springs import Sprung, frequency_hz
from rimcore.tables.facts import CORNERS as AT_CORNERS

RIDE_BENCH = Bench(
    "ride",
    "Ride",
    "four heights: bump travel left, droop, coil bind, frequency, and the test dip",
    (
        Lever("perch_up_mm", "Collars wound up", "length", "mm", "perch_mm", help="minus is wound down"),
        Lever(
            "lower_mount_mm",
            "Lower mounts screwed in",
            "length",
            "mm",
            "mount_mm",
            help="lowers it and keeps the stroke; minus is out",
        ),
        Lever("collar_mm", "Collar wound up more", "length", "mm", "perch_mm", places=AT_CORNERS, help="than its end"),
        Lever(
            "corner_drop_mm", "Lowered more", "length", "mm", "corner_drop_mm", places=AT_CORNERS, help="than its end"
        ),
    ),
    ("bump", "droop", "corner_mass"),
    ("spring",),
)

#: bump that should be left to the stop by use [mm] (common practice, from memory)
LEAST_BUMP_MM: Mapping[str, float] = {
    "street": 45.0,
    "tow": 60.0,
    "track": 35.0,
    "climb": 40.0,
    "drift": 35.0,
    "show": 25.0,
}
#: what the known dip should leave [mm] (common practice, from memory)
DIP_ROOM_MM = 8.0


@dataclass(frozen=True)
class Dip:
    """A place that is known: how far the wheel went up there at a corner, by the cable tie on the damper's shaft [mm].

    ``travel_mm`` is None where the motion ratio is not known. Where it ``touched`` it would have gone further.
    """

    name: str
    travel_mm: float | None
    source: InputUsed
    touched: bool = False


@dataclass(frozen=True)
class Stands:
    """A corner: travel both ways from the height in hand [mm], its springs, and the dips that were driven.

    ``bump_mm`` and ``droop_mm`` are counted from the height that the build gives; None is not measured.
    """

    where: str
    bump_mm: float | None
    droop_mm: float | None
    drop_mm: float = 0.0
    sprung: Sprung | None = None
    dips: tuple[Dip, ...] = ()
    inputs: tuple[InputUsed, ...] = ()
    #: ± of bump and droop [mm]
    uncertainty_mm: float = 0.0
    #: what of the springs is not known, in words
    unknown: tuple[str, ...] = ()
    #: of what it is lowered, what eats stroke: nothing where a shorter damper body goes along
    eats_mm: float | None = None
    #: rate of a leaf pack that carries it [N/mm], and what is carried [kg]
    leaf_n_per_mm: float | None = None
    carried_kg: float | None = None
    #: code of the corner, for what is missing there
    corner: str = ""
    #: what the build's parts do to its height: part, lowered [mm]
    parts: tuple[tuple[str, float | None], ...] = ()

    def lacks(self, code: str) -> str:
        """Name of a reading that is missing here."""
        return f"{self.corner}.{code}" if self.corner else code

    @property
    def taken_mm(self) -> float:
        """Stroke that the height takes [mm]."""
        return self.drop_mm if self.eats_mm is None else self.eats_mm

    @property
    def wheel_rate_n_per_mm(self) -> float | None:
        """At the wheel, by coil or by leaf [N/mm]."""
        return self.leaf_n_per_mm if self.sprung is None else self.sprung.wheel_rate_n_per_mm

    @property
    def natural_frequency_hz(self) -> float | None:
        """Of the body on this corner [Hz]."""
        if self.sprung is not None:
            return self.sprung.natural_frequency_hz
        if self.leaf_n_per_mm is None or self.carried_kg is None:
            return None
        return frequency_hz(self.leaf_n_per_mm, self.carried_kg)


def travel_at(droop_mm: float | None, bump_mm: float | None, drop_mm: float) -> tuple[float | None, float | None]:
    """Droop and bump from where the car stands lowered by so much [mm]; None is not measured.

    Source: plane geometry.

    Parameters
    ----------
    droop_mm : from where it was read, 0 or below; None is not measured [mm]
    bump_mm : 0 or more; None is not measured [mm]
    drop_mm : how much lower it stands; minus is higher [mm]

    >>> travel_at(70.0, 60.0, 25.0)
    (95.0, 35.0)
    """
    droop = None if droop_mm is None else droop_mm + drop_mm
    return droop, None if bump_mm is None else bump_mm - drop_mm


def wheel_travel_mm(shaft_mm: float, motion_ratio: float) -> float:
    """Travel of the wheel from what a cable tie on the damper's shaft shows [mm].

    Source: definition of the motion ratio.

    Parameters
    ----------
    shaft_mm : 0 or more [mm]
    motion_ratio : damper travel over wheel travel, over 0

    >>> wheel_travel_mm(28.0, 0.7)
    40.0
    """
    return round(shaft_mm / motion_ratio, 9)


def judge_bump(one: Stands, use: str) -> Judgement:
    """Is enough bump left to the stop for the use?

    >>> judge_bump(Stands("front left", 30.0, 50.0), "track").state
    'tight'
    """
    code, name = "ride.bump", f"Bump travel, {one.where}"
    least = LEAST_BUMP_MM.get(use, LEAST_BUMP_MM["street"])
    if one.bump_mm is None:
        return unmeasured(
            code,
            name,
            "the travel to the stop is not measured",
            [one.lacks("bump")],
            ["cable tie on the damper's shaft, or jack it to the stop"],
        )
    left = one.bump_mm
    state: State = "hit" if left <= 0 else "tight" if left - one.uncertainty_mm < least else "clear"
    return Judgement(
        code,
        name,
        state,
        f"{left:.0f} mm ± {one.uncertainty_mm:g} to the stop; {least:g} mm wanted",
        f"{COMMON_PRACTICE}, from memory: {least:g} mm",
        value=left,
        unit="mm",
        held_against=least,
        margin=left - least,
        uncertainty=one.uncertainty_mm,
        formula=f"bump as measured − stroke taken by the height = {left + one.taken_mm:g} − ({one.taken_mm:g}) = {left:g} mm".replace(
            "-", "−"
        ),
        inputs=one.inputs,
        where=one.where,
        remedies=() if state == "clear" else (f"{least - left:.0f} mm higher", "a shorter stop", "stiffer springs"),
    )


def judge_bind(one: Stands) -> Judgement:
    """Do the coils touch before the stop does?"""
    if one.sprung is None:
        what = ", ".join(one.unknown) or "springs"
        return unmeasured(
            "ride.bind",
            f"Coil bind, {one.where}",
            f"not known: {what}",
            one.unknown or ("springs",),
            ["record the springs, weigh the corner"],
        )
    found = one.sprung.coil_bind(one.bump_mm)
    return Judgement(
        code="ride.bind",
        name=f"Coil bind, {one.where}",
        state=found.state,
        reason=found.reason,
        basis=found.basis,
        value=found.value,
        unit=found.unit,
        held_against=found.held_against,
        margin=found.margin,
        formula=found.formula,
        inputs=(*one.inputs, *found.inputs),
        remedies=found.remedies,
        missing=found.missing,
        where=one.where,
    )


def judge_dip(one: Stands, dip: Dip) -> Judgement:
    """The same dip at another height: what it would leave before the stop.

    A car that stands lower by so much has so much less bump; the dip takes the same travel (common practice: same dip,
    same speed, springs alike).

    A drive that touched was stopped there, so that it says too little to be clear by.

    >>> dip = Dip("farm lane", 52.0, InputUsed("dip", "52 mm"))
    >>> judge_dip(Stands("front left", 50.0, 60.0, 25.0), dip).state
    'hit'
    """
    code, name = "ride.dip", f"{dip.name}, {one.where}"
    if one.bump_mm is None:
        return unmeasured(
            code, name, "the travel to the stop is not measured", [one.lacks("bump")], ["measure the bump travel left"]
        )
    if dip.travel_mm is None:
        return unmeasured(code, name, "motion ratio is not known", ["motion ratio"], ["record the springs"])
    left = one.bump_mm - dip.travel_mm
    state: State = "hit" if left < 0 else "tight" if left - one.uncertainty_mm < DIP_ROOM_MM else "clear"
    if dip.touched and state != "hit":
        reason = "it touched when it was driven, so the wheel would have gone further than was read"
        return unmeasured(code, name, reason, ["the same dip"], ["drive the same dip again at this height"])
    said = f"{left:.0f} mm left before the stop" if left >= 0 else f"the stop is met {-left:.0f} mm early"
    return Judgement(
        code,
        name,
        state,
        f"{said}; the dip took {dip.travel_mm:.0f} mm",
        f"{COMMON_PRACTICE}: the same dip; {DIP_ROOM_MM:g} mm to spare, from memory",
        value=left,
        unit="mm",
        held_against=DIP_ROOM_MM,
        margin=left - DIP_ROOM_MM,
        formula=f"{one.bump_mm:g} − {dip.travel_mm:g} = {left:g} mm",
        inputs=(dip.source, *one.inputs),
        where=one.where,
        remedies=() if state == "clear" else (f"{DIP_ROOM_MM - left:.0f} mm higher", "drive the same dip again"),
    )


def judge_ride(corners: Sequence[Stands], use: str) -> tuple[Judgement, ...]:
    """Everything that is judged of four corners."""
    found: list[Judgement] = []
    for one in corners:
        coils = () if one.sprung is None and one.leaf_n_per_mm is not None else (judge_bind(one),)
        found += [judge_bump(one, use), *coils, *(judge_dip(one, dip) for dip in one.dips)]
    return tuple(found)


@dataclass(frozen=True)
class Bar:
    """A corner's stroke as a bar in drawing units, bump up: its ends, the height in hand, coil bind and dips."""

    where: str
    x: float
    top: float | None
    bottom: float | None
    rest: float
    bind: float | None
    dips: tuple[tuple[str, float, State], ...]


#: size of the sheet of bars, and what a millimetre is on it
BARS_W, BARS_H, PER_MM = 560.0, 330.0, 1.35


def bars(corners: Sequence[Stands]) -> tuple[Bar, ...]:
    """Four bars side by side, the height in hand of all on one line.

    >>> [bar.rest for bar in bars([Stands("front left", 50.0, 60.0)])]
    [180.0]
    """
    rest = 180.0

    def at(travel_mm: float | None) -> float | None:
        return None if travel_mm is None else round(min(BARS_H - 30, max(14.0, rest - travel_mm * PER_MM)), 1)

    found = []
    for place, one in enumerate(corners):
        bind = one.sprung.bump_to_block_mm if one.sprung is not None else None
        dips = tuple(
            (dip.name, at(dip.travel_mm) or rest, judge_dip(one, dip).state)
            for dip in one.dips
            if dip.travel_mm is not None
        )
        down = None if one.droop_mm is None else -one.droop_mm
        found.append(Bar(one.where, 70.0 + 140.0 * place, at(one.bump_mm), at(down), rest, at(bind), dips))
    return tuple(found)


def frequency_ratio(front: Stands | None, rear: Stands | None) -> float | None:
    """Rear frequency over front; None where one is not known or tops out.

    >>> frequency_ratio(None, None) is None
    True
    """
    found = [one.natural_frequency_hz if one is not None else None for one in (front, rear)]
    return None if found[0] is None or found[1] is None else found[1] / found[0]
