"""Hub and wheel: bolt circle, centring, seat, thread engagement."""

from __future__ import annotations

import math
import re
from dataclasses import dataclass

from rimcore.fastening.threads import Thread
from rimcore.quantities.errors import BadInput, DoesNotFit
from rimcore.quantities.judgement import COMMON_PRACTICE, InputUsed, Judgement, State, unmeasured
from rimcore.quantities.limits import LONGEST_TEXT

#: bores within this of each other centre the wheel [mm]
BORE_MATCH_MM = 0.1
#: thread engagement wanted, times the nominal diameter, steel in steel (common practice: 8 turns of M12x1.5)
ENGAGEMENT_DIAMETERS = 1.0
#: share above the wanted engagement that is still called tight
ENGAGEMENT_TIGHT_SHARE = 0.10

#: source of what was typed with the wheel that stands on the hub
OFF_WHEEL = "read off the wheel that stands there"


@dataclass(frozen=True)
class Seat:
    """A lug seat: ``cone`` with its included angle [deg], ``ball`` with its radius [mm], or ``flat``."""

    shape: str
    size: float | None = None

    def __str__(self) -> str:
        if self.size is None:
            return self.shape
        return f"ball R{self.size:g}" if self.shape == "ball" else f"{self.shape} {self.size:g}°"


@dataclass(frozen=True)
class CentringRing:
    """The ring that fills the space between hub and bore [mm]."""

    inner_mm: float
    outer_mm: float

    @property
    def wall_mm(self) -> float:
        return round((self.outer_mm - self.inner_mm) / 2, 9)


@dataclass(frozen=True)
class Hub:
    """What is on the car; None is unmeasured. Lengths in mm.

    ``stud_length_mm`` stands beyond the hub's mounting face, ``collar_mm`` is its collar's height beyond
    the same face; ``bolt_length_mm`` is under the bolt's seat.
    """

    bolts: int | None = None
    pcd_mm: float | None = None
    bore_mm: float | None = None
    thread: Thread | None = None
    stud_length_mm: float | None = None
    bolt_length_mm: float | None = None
    seat: Seat | None = None
    collar_mm: float | None = None
    #: who said so, and when
    source: str = ""
    date: str = ""
    #: fields that nobody read at the hub itself: they are those of the wheel that stands on it
    off_wheel: frozenset[str] = frozenset()

    def used(self, name: str, value: str, *fields: str) -> InputUsed:
        """A figure of the hub, with where it comes from.

        >>> Hub(bore_mm=63.4, source="hub data", off_wheel=frozenset({"bore_mm"})).used("hub bore", "63.4 mm", "bore_mm").source
        'read off the wheel that stands there'
        """
        return InputUsed(name, value, OFF_WHEEL if self.off_wheel.intersection(fields) else self.source, self.date)


@dataclass(frozen=True)
class WheelMount:
    """How a wheel meets the hub; None is unknown. Lengths in mm."""

    bolts: int | None = None
    pcd_mm: float | None = None
    bore_mm: float | None = None
    seat: Seat | None = None
    pad_thickness_mm: float | None = None
    #: who said so, and when
    source: str = ""
    date: str = ""

    def used(self, name: str, value: str) -> InputUsed:
        """A figure of the wheel, with where it comes from."""
        return InputUsed(name, value, self.source, self.date)


@dataclass(frozen=True)
class Engagement:
    """Thread in the nut: length and what is wanted [mm], turns."""

    length_mm: float | None
    turns: float | None
    required_mm: float | None
    judgement: Judgement


@dataclass(frozen=True)
class HubFit:
    """The four questions between hub and wheel, answered."""

    pattern: Judgement
    bore: Judgement
    seat: Judgement
    engagement: Engagement
    ring: CentringRing | None
    radial_play_mm: float | None

    @property
    def findings(self) -> tuple[Judgement, ...]:
        return (self.pattern, self.bore, self.seat, self.engagement.judgement)


def parse_seat(text: str) -> Seat:
    """Read a lug seat: ``cone 60``, ``60° taper``, ``ball R13``, ``flat``.

    >>> str(parse_seat("60 degree cone")), str(parse_seat("R13 ball"))
    ('cone 60°', 'ball R13')
    """
    if len(str(text)) > LONGEST_TEXT:
        raise BadInput("too long for a nut seat; accepted: cone 60, ball R13 or flat", "seat")
    folded = " ".join(str(text).split()).lower()
    shapes = {
        "cone": r"con(?:e|ical)|taper(?:ed)?|acorn",
        "ball": r"ball|spherical|radius|round",
        "flat": r"flat|mag|shank",
    }
    shape = next((name for name, words in shapes.items() if re.search(rf"\b(?:{words})\b", folded)), None)
    number = re.search(r"r?\s*(\d+(?:[.,]\d+)?)", folded)
    if shape is None and number and re.match(r"^r\s*\d", folded):
        shape = "ball"
    if shape is None:
        raise BadInput(f"“{text}” is not a nut seat; accepted: cone 60, ball R13 or flat", "seat")
    size = float(number[1].replace(",", ".")) if number and shape != "flat" else None
    low, high = (20.0, 120.0) if shape == "cone" else (5.0, 30.0)
    if size is not None and not low <= size <= high:
        raise BadInput(f"{size:g} is out of range for a {shape} seat; accepted: {low:g} to {high:g}", "seat")
    return Seat(shape, size)


def centring_ring(hub_bore_mm: float, wheel_bore_mm: float) -> CentringRing:
    """Ring that centres a wheel on a smaller hub.

    Parameters
    ----------
    hub_bore_mm : diameter of the hub's centring collar [mm]
    wheel_bore_mm : diameter of the wheel's centre bore [mm]

    Raises
    ------
    DoesNotFit : the wheel's bore is smaller than the hub

    Examples
    --------
    >>> centring_ring(57.1, 72.6).wall_mm
    7.75
    """
    if wheel_bore_mm < hub_bore_mm - BORE_MATCH_MM:
        raise DoesNotFit(
            f"a bore of {wheel_bore_mm:g} mm does not go over a hub of {hub_bore_mm:g} mm", "wheel.bore_mm"
        )
    return CentringRing(hub_bore_mm, wheel_bore_mm)


def judge_pattern(hub: Hub, wheel: WheelMount) -> Judgement:
    """Do the bolt circles agree?

    >>> judge_pattern(Hub(5, 112.0), WheelMount(5, 114.3)).state
    'hit'
    """
    code, name = "hub.pattern", "Bolt circle"
    if hub.bolts is None or hub.pcd_mm is None or wheel.bolts is None or wheel.pcd_mm is None:
        side = "hub" if hub.bolts is None or hub.pcd_mm is None else "wheel"
        return unmeasured(
            code, name, f"the {side}'s bolt circle is not known", [f"{side}.pattern"], ["measure the bolt circle"]
        )
    inputs = (
        hub.used("hub", f"{hub.bolts}×{hub.pcd_mm:g}", "bolts", "pcd_mm"),
        wheel.used("wheel", f"{wheel.bolts}×{wheel.pcd_mm:g}"),
    )
    apart = abs(hub.pcd_mm - wheel.pcd_mm)
    state: State = "clear"
    reason = f"both {hub.bolts}×{hub.pcd_mm:g}"
    remedies: tuple[str, ...] = ()
    if hub.bolts != wheel.bolts:
        state, reason = "hit", f"{wheel.bolts} lugs on a hub of {hub.bolts}"
        remedies = ("another wheel",)
    elif apart > 0.5:
        state, reason = "hit", f"bolt circles are {apart:.1f} mm apart"
        remedies = (f"a wheel drilled {hub.bolts}×{hub.pcd_mm:g}",)
    elif apart > 0.1:
        state, reason = "tight", f"bolt circles are {apart:.1f} mm apart: rounding, or another pattern"
        remedies = ("measure the bolt circle of the wheel",)
    return Judgement(
        code,
        name,
        state,
        reason,
        "geometry",
        value=apart,
        unit="mm",
        held_against=0.1,
        margin=0.1 - apart,
        formula=f"|PCD wheel − PCD hub| = |{wheel.pcd_mm:g} − {hub.pcd_mm:g}| = {apart:.1f} mm; lugs {wheel.bolts} and {hub.bolts}",
        inputs=inputs,
        remedies=remedies,
    )


def _under_the_standing(code: str, name: str, standing_mm: float, bore_mm: float) -> Judgement:
    """A bore smaller than the one of the wheel that stands there.

    That one may sit on a ring, so the hub itself decides.
    """
    reason = f"{bore_mm:g} mm is less than the {standing_mm:g} mm of the wheel that stands there; whether it goes over the hub is not known"
    return unmeasured(code, name, reason, ["hub.bore"], ["measure the hub spigot with a caliper to 0.1 mm"])


def judge_bore(hub: Hub, wheel: WheelMount, ring: CentringRing | None = None) -> Judgement:
    """Is the wheel centred on the hub?

    >>> judge_bore(Hub(bore_mm=57.1), WheelMount(bore_mm=72.6)).state
    'tight'
    >>> judge_bore(Hub(bore_mm=72.6, off_wheel=frozenset({"bore_mm"})), WheelMount(bore_mm=57.1)).state
    'unmeasured'
    """
    code, name = "hub.bore", "Centre bore"
    if hub.bore_mm is None or wheel.bore_mm is None:
        side = "hub" if hub.bore_mm is None else "wheel"
        return unmeasured(
            code,
            name,
            f"the {side}'s centre bore is not known",
            [f"{side}.bore"],
            ["measure it with a caliper to 0.1 mm"],
        )
    if "bore_mm" in hub.off_wheel and wheel.bore_mm < hub.bore_mm - BORE_MATCH_MM - 1e-9:
        return _under_the_standing(code, name, hub.bore_mm, wheel.bore_mm)
    inputs = (hub.used("hub bore", f"{hub.bore_mm:g} mm", "bore_mm"), wheel.used("wheel bore", f"{wheel.bore_mm:g} mm"))
    play = (wheel.bore_mm - hub.bore_mm) / 2
    state: State = "clear"
    reason, remedies = "bore and hub agree within 0.1 mm", ()  # type: tuple[str, tuple[str, ...]]
    if play * 2 < -BORE_MATCH_MM - 1e-9:
        state, reason = "hit", f"the bore is {-2 * play:.1f} mm smaller than the hub"
        remedies = ("another wheel, or have the bore turned out by a machine shop that does wheels",)
    elif play * 2 > BORE_MATCH_MM + 1e-9:
        state, reason, remedies = _with_ring(hub.bore_mm, wheel.bore_mm, ring)
    formula = f"play = (wheel bore − hub bore) ÷ 2 = ({wheel.bore_mm:g} − {hub.bore_mm:g}) ÷ 2 = {play:.2f} mm"
    most, left = BORE_MATCH_MM / 2, BORE_MATCH_MM / 2 - abs(play)
    more = {"value": play, "unit": "mm", "held_against": most, "margin": left, "formula": formula}
    return Judgement(code, name, state, reason, COMMON_PRACTICE, inputs=inputs, remedies=remedies, **more)  # type: ignore[arg-type]


def _with_ring(hub_mm: float, wheel_mm: float, ring: CentringRing | None) -> tuple[State, str, tuple[str, ...]]:
    wanted = f"a solid ring {hub_mm:g} → {wheel_mm:g} mm, not a hollow plastic one"
    if ring is None:
        return "tight", f"the nut seat alone centre it: {(wheel_mm - hub_mm) / 2:.2f} mm of play", (wanted,)
    if abs(ring.inner_mm - hub_mm) <= BORE_MATCH_MM + 1e-9 and abs(ring.outer_mm - wheel_mm) <= BORE_MATCH_MM + 1e-9:
        return "clear", f"centred by a ring {ring.inner_mm:g} → {ring.outer_mm:g} mm", ()
    return "tight", f"the ring {ring.inner_mm:g} → {ring.outer_mm:g} mm does not fill the gap", (wanted,)


def judge_seat(hub: Hub, wheel: WheelMount) -> Judgement:
    """Do nut and wheel share shape and angle or radius?

    >>> judge_seat(Hub(seat=parse_seat("ball R13")), WheelMount(seat=parse_seat("cone 60"))).state
    'hit'
    """
    code, name = "hub.seat", "Nut seat"
    if hub.seat is None or wheel.seat is None:
        side = "nuts'" if hub.seat is None else "wheel's"
        return unmeasured(
            code,
            name,
            f"the {side} seat is not known",
            ["hub.seat" if hub.seat is None else "wheel.seat"],
            ["look at the seat: cone, ball or flat"],
        )
    inputs = (hub.used("nuts or bolts", str(hub.seat)), wheel.used("wheel", str(wheel.seat)))
    remedies: tuple[str, ...] = (f"nuts or bolts with a {wheel.seat} seat",)
    if hub.seat.shape != wheel.seat.shape:
        return Judgement(
            code,
            name,
            "hit",
            f"{hub.seat} in a {wheel.seat} seat: it holds on a line and works loose",
            COMMON_PRACTICE,
            formula=f"same shape, same angle or radius: {hub.seat} in {wheel.seat}",
            inputs=inputs,
            remedies=remedies,
        )
    if hub.seat.shape == "flat":
        return Judgement(
            code,
            name,
            "clear",
            "both flat; check that the shank fits the hole",
            COMMON_PRACTICE,
            formula="same shape",
            inputs=inputs,
        )
    if hub.seat.size is None or wheel.seat.size is None:
        return unmeasured(
            code,
            name,
            f"both {hub.seat.shape}, but the {'angle' if hub.seat.shape == 'cone' else 'radius'} of one is not known",
            ["wheel.seat"],
            ["measure it"],
        )
    apart = abs(hub.seat.size - wheel.seat.size)
    if apart > 0.5:
        return Judgement(
            code,
            name,
            "hit",
            f"{hub.seat} in a {wheel.seat} seat",
            COMMON_PRACTICE,
            formula=f"same shape, same angle or radius: {hub.seat} in {wheel.seat}",
            inputs=inputs,
            remedies=remedies,
        )
    return Judgement(
        code,
        name,
        "clear",
        f"both {wheel.seat}",
        COMMON_PRACTICE,
        formula=f"same shape, same angle or radius: {hub.seat} in {wheel.seat}",
        inputs=inputs,
    )


def judge_engagement(hub: Hub, wheel: WheelMount, spacer_mm: float = 0.0) -> Engagement:
    """How much thread holds the nut.

    Length = stud beyond the hub's face (or bolt under its seat) − pad − spacer, not below 0;
    wanted = 1.0 × nominal diameter (common practice for steel).

    Parameters
    ----------
    hub : its studs, bolts and face
    wheel : its pad and seat
    spacer_mm : under it, 0 or more [mm]

    >>> from rimcore.fastening.threads import parse_thread
    >>> judge_engagement(Hub(thread=parse_thread("M14x1.5"), stud_length_mm=28), WheelMount(pad_thickness_mm=12)).length_mm
    16.0
    """
    code, name = "hub.engagement", "Thread in the nut"
    required = hub.thread.diameter_mm * ENGAGEMENT_DIAMETERS if hub.thread else None
    length_of_thread = hub.stud_length_mm if hub.stud_length_mm is not None else hub.bolt_length_mm
    if length_of_thread is None or wheel.pad_thickness_mm is None:
        missing = "hub.stud" if length_of_thread is None else "wheel.pad"
        what = "the stud or bolt length" if length_of_thread is None else "the wheel's pad thickness at the lugs"
        judged = unmeasured(code, name, f"{what} is not known", [missing], [f"measure {what}"])
        return Engagement(None, None, required, judged)
    length = max(0.0, length_of_thread - wheel.pad_thickness_mm - spacer_mm)
    if hub.thread is None or required is None:
        return Engagement(
            length,
            None,
            None,
            unmeasured(code, name, "the thread is not known", ["hub.thread"], ["read it with a thread gauge"]),
        )
    turns = length / hub.thread.pitch_mm
    return Engagement(length, turns, required, _engaged(length, turns, required, hub, wheel, spacer_mm))


def _engaged(length: float, turns: float, required: float, hub: Hub, wheel: WheelMount, spacer_mm: float) -> Judgement:
    state: State = "clear"
    remedies: tuple[str, ...] = ()
    if length < required - 1e-9:
        state = "hit"
    elif length <= required * (1 + ENGAGEMENT_TIGHT_SHARE) + 1e-9:
        state = "tight"
    if state != "clear":
        short = required * (1 + ENGAGEMENT_TIGHT_SHARE) - length
        remedies = (f"studs or bolts {math.ceil(short)} mm longer",) + (("a thinner spacer",) if spacer_mm > 0 else ())
    named = "stud beyond the hub's face" if hub.stud_length_mm is not None else "bolt under its seat"
    whole = hub.stud_length_mm if hub.stud_length_mm is not None else hub.bolt_length_mm
    inputs = (
        hub.used(named, f"{whole:g} mm"),
        wheel.used("pad thickness", f"{wheel.pad_thickness_mm:g} mm"),
        InputUsed("spacer", f"{spacer_mm:g} mm", "the build"),
        hub.used("thread", str(hub.thread)),
    )
    return Judgement(
        "hub.engagement",
        "Thread in the nut",
        state,
        f"{length:g} mm, {turns:.1f} turns; {required:g} mm wanted",
        COMMON_PRACTICE + ": 1.0 × nominal diameter for steel",
        value=length,
        unit="mm",
        held_against=required,
        margin=length - required,
        formula=f"stud or bolt − pad − spacer = {whole:g} − {wheel.pad_thickness_mm:g} − {spacer_mm:g} = {length:g} mm; wanted {ENGAGEMENT_DIAMETERS:g} × diameter = {required:g} mm",
        inputs=inputs,
        remedies=remedies,
    )


def hub_fit(hub: Hub, wheel: WheelMount, spacer_mm: float = 0.0, ring: CentringRing | None = None) -> HubFit:
    """All four questions at once, with the ring the wheel would need.

    Source: the four checks' own sources.

    Parameters
    ----------
    hub : its pattern, bore and studs
    wheel : its pattern, bore, pad and seat
    spacer_mm : under it, 0 or more [mm]
    ring : between wheel and hub; None without

    >>> fit = hub_fit(Hub(bore_mm=57.1), WheelMount(bore_mm=72.6))
    >>> fit.ring.outer_mm, round(fit.radial_play_mm, 2)
    (72.6, 7.75)
    """
    needed, play = None, None
    if hub.bore_mm is not None and wheel.bore_mm is not None and wheel.bore_mm >= hub.bore_mm - BORE_MATCH_MM - 1e-9:
        play = (wheel.bore_mm - hub.bore_mm) / 2
        if play * 2 > BORE_MATCH_MM + 1e-9:
            needed = centring_ring(hub.bore_mm, wheel.bore_mm)
    return HubFit(
        judge_pattern(hub, wheel),
        judge_bore(hub, wheel, ring),
        judge_seat(hub, wheel),
        judge_engagement(hub, wheel, spacer_mm),
        needed,
        play,
    )
