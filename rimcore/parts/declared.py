"""What a family of parts declares; a family is a frozen value and plain functions."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any, cast

from rimcore.limits import LIMITS
from rimcore.parts.stood import Stood
from rimcore.quantities.errors import BadInput, CoreError
from rimcore.quantities.judgement import Judgement, unmeasured
from rimcore.well.read.measured import Axle, Candidate

Given = Mapping[str, Any]

#: a figure as people write it, and a length with its unit, for the patterns of a line
FIGURE = r"[-−+]?\d+(?:[.,]\d+)?(?:\s+\d+/\d+|/\d+)?"
LENGTH_UNIT = r"(?:mm|cm|inches|inch|in|\")"


def length(code: str, unit: str = "") -> str:
    """Pattern of a length in a line; without ``unit`` a bare figure is taken too.

    >>> import re
    >>> re.search(length("long_mm", "needed"), "studs 45 mm long")["long_mm"]
    '45 mm'
    """
    return rf"(?P<{code}>{FIGURE}\s*{LENGTH_UNIT})" if unit else rf"(?P<{code}>{FIGURE}(?:\s*{LENGTH_UNIT})?)"


def two_lengths(first: str, second: str) -> str:
    """Pattern of two lengths that belong together, ``63.4 → 72.6`` and the like."""
    figure, unit = r"\d+(?:[.,]\d+)?", rf"(?:\s*{LENGTH_UNIT})?"
    return rf"(?P<{first}>{figure}{unit})\s*(?:→|->|–|-|/|to|on|x|×)\s*(?P<{second}>{figure}{unit})"


#: a figure without a sign
NUMBER = r"\d+(?:[.,]\d+)?"


def core_size() -> str:
    """Pattern of a core's width, height and depth.

    >>> import re
    >>> re.search(core_size(), "660 x 325 x 36 mm")["height_mm"]
    '325'
    """
    each = rf"\s*[x×]\s*(?P<{{}}_mm>{NUMBER})"
    return rf"(?P<width_mm>{NUMBER})" + each.format("height") + each.format("depth") + r"(?:\s*mm)?"


#: how many pieces are in a set
SET = r"(?:set\s+of\s+|qty\.?\s*|x)(?P<pieces>\d{1,3})(?![.,]\d)|(?P<pieces_>\d{1,3})\s*(?:pcs|pieces|piece|off)\b"


@dataclass(frozen=True)
class Spec:
    """One thing that a part's specification says.

    ``limit`` names one of the set of limits, ``read`` a parser of text, ``choices`` what it may be. ``kind`` and
    ``unit`` say what a bare number is; ``words`` are the names by which a pasted line or a column calls it.
    """

    code: str
    name: str
    limit: str = ""
    read: Callable[[str], Any] | None = None
    #: a part is not named without it
    required: bool = False
    #: nothing is judged without it; a shop may not say it
    decides: bool = False
    #: kept in a column of its own, because lists are sorted and filtered by it
    column: bool = False
    kind: str = ""
    unit: str = ""
    choices: Mapping[str, str] = field(default_factory=dict)
    words: tuple[str, ...] = ()
    help: str = ""
    #: a whole number
    counted: bool = False
    #: said elsewhere than in the form of the part
    aside: bool = False
    #: only said of what stands on the car, and never of a part that is for sale
    stands: bool = False
    #: a bare figure is in ``unit`` for everybody: all the trade writes it so
    trade: bool = False

    def check(self, value: Any) -> None:
        """Raise where the value can't be of a part; None passes unless it is required."""
        if value is None or value == "":
            if self.required:
                raise BadInput("is missing", self.code)
            return
        if self.choices:
            if not isinstance(value, str) or value not in self.choices:
                raise BadInput(f"{self.name}: no such choice; accepted: {', '.join(self.choices.values())}", self.code)
        elif self.read is not None:
            self.read(str(value))
        elif self.limit:
            good = isinstance(value, (int, float)) and not isinstance(value, bool) and LIMITS[self.limit].holds(value)
            if not good:
                raise BadInput(f"{self.name} is out of range; accepted: {LIMITS[self.limit].accepted}", self.code)

    def said(self, value: Any) -> str:
        """A value in words.

        >>> Spec("inner_mm", "inner diameter", "ring_mm", kind="length", unit="mm").said(63.4)
        '63.4 mm'
        """
        if value is None or value == "":
            return ""
        if self.choices:
            return self.choices.get(str(value), str(value))
        if isinstance(value, (int, float)):
            return f"{value:g} {self.unit}".strip().replace("-", "−")
        return str(value)


@dataclass(frozen=True)
class Question:
    """Variants of a part that are confused at the counter: asked when it goes into a build."""

    code: str
    ask: str
    choices: tuple[str, ...]
    #: what goes wrong where nobody asked
    why: str
    #: the owner knows it, not the seller
    at_the_car: bool = False


@dataclass(frozen=True)
class Need:
    """Something a part drags along: a part of a family with its specification, or a piece of work."""

    family: str
    name: str
    quantity: int
    why: str
    basis: str
    spec: Mapping[str, Any] = field(default_factory=dict)
    #: what it can't be done without; else it is only to be thought of
    needed: bool = True

    @property
    def key(self) -> tuple[Any, ...]:
        """What makes two needs the same thing."""
        return self.family, self.name, tuple(sorted((code, str(value)) for code, value in self.spec.items()))


@dataclass(frozen=True)
class Place:
    """Where a part goes: an end of the car as measured, and what the build puts on it."""

    axle: Axle
    candidate: Candidate
    #: lugs of one hub; None where nobody counted them
    lugs: int | None = None
    #: the other parts of the build at this end: (family, specification)
    beside: tuple[tuple[str, Mapping[str, Any]], ...] = ()
    #: the part is in the build already, so that levers speak of it
    chosen: bool = False
    #: what was answered at the counter for the part that is judged, by the code of its question
    answers: Given = field(default_factory=dict)
    #: springs, dampers, links and steering of this end
    stood: Stood = field(default_factory=Stood)
    #: are the wheels that stand there recorded? Without them there is neither axle nor candidate
    wheels: bool = True

    @classmethod
    def without_wheels(cls, stood: Stood, beside: tuple[tuple[str, Mapping[str, Any]], ...] = ()) -> Place:
        """An end of a car whose wheels are not recorded: everything but wheels, hubs and brakes can be checked there.

        >>> Place.without_wheels(Stood()).wheels
        False
        """
        return cls(cast(Axle, None), cast(Candidate, None), None, beside, stood=stood, wheels=False)

    def other(self, family: str) -> Mapping[str, Any] | None:
        """Specification of another part of the build at this end."""
        return next((spec for key, spec in self.beside if key == family), None)

    def there(self, family: str) -> Given:
        """What stands at this end with the build: its own part, else what stands there now; empty where nobody said."""
        return self.other(family) or self.stood.old.get(family, {})


@dataclass(frozen=True)
class Due:
    """What has to be looked at again after a part was fitted: by distance [km], by days, by track days.

    ``only`` names what the part's specification has to say for it, as ``{"kind": "bolted"}``.
    """

    what: str
    after_km: int | None = None
    after_days: int | None = None
    after_track_days: int | None = None
    only: Given = field(default_factory=dict)
    basis: str = "common practice"

    def holds(self, given: Given) -> bool:
        """Does a part of this specification want it?

        >>> Due("nuts", 80, only={"kind": "bolted"}).holds({"kind": "slip"})
        False
        """
        return all(given.get(code) == value for code, value in self.only.items())


def _nothing(given: Given) -> None:
    return None


def _unjudged(given: Given, place: Place) -> tuple[Judgement, ...]:
    return ()


def _alone(given: Given, place: Place) -> tuple[Need, ...]:
    return ()


def _no_pieces(lugs: int | None) -> int | None:
    return None


#: hours are weighed against kilograms: said of every family whose parts weigh more or less than what they replace
FIT_MIN = Spec("fit_min", "time to fit one, or a set", "minutes", unit="min")
#: which axle it was sold for, where the shop says so
SOLD_FOR = Spec("end", "sold for", choices={"F": "front", "R": "rear"})


@dataclass(frozen=True)
class Family:
    """A kind of part.

    What it is made of (``specs``, ``whole``), how a line names it (``words``, ``shapes``, ``example``), what it needs
    known of this car (``knows``), how it is judged there (``judge``), what it drags along (``drags``), which levers it
    sets (``sets``: lever -> specification), what must be the same left and right (``same_sides``), which variants are
    confused at the counter (``asks``), what is done to fit it (``modules``) and again later (``dues``), and what share
    of its price it brings used (``used_share``, common practice).
    """

    key: str
    name: str
    plural: str
    specs: tuple[Spec, ...]
    whole: Callable[[Given], None] = _nothing
    words: tuple[str, ...] = ()
    #: names that say more than the family: what of each stays in the line
    heads: Mapping[str, str] = field(default_factory=dict)
    #: patterns whose named groups are codes of the specification
    shapes: tuple[str, ...] = ()
    example: str = ""
    knows: tuple[str, ...] = ()
    judge: Callable[[Given, Place], tuple[Judgement, ...]] = _unjudged
    drags: Callable[[Given, Place], tuple[Need, ...]] = _alone
    sets: Mapping[str, str] = field(default_factory=dict)
    same_sides: tuple[str, ...] = ()
    asks: tuple[Question, ...] = ()
    modules: tuple[str, ...] = ()
    dues: tuple[Due, ...] = ()
    used_share: float | None = None
    #: it replaces nothing: its mass is added
    adds: bool = False
    #: ends of the car it can go on
    ends: tuple[str, ...] = ("F", "R")
    #: how many go on one end of the car, by the lugs of its hub; None where it is not told
    per_end: Callable[[int | None], int | None] = _no_pieces
    #: one for the whole car, at whichever end it is
    once: bool = False
    #: its lengths are millimetres to all the trade, whatever a person measures in
    trade: bool = False
    #: it goes on a hub or has to clear a wheel: nothing is told of it where no wheels are recorded
    on_wheels: bool = False
    #: ``judge`` as declared, for a part of which is known what decides
    knowing: Callable[[Given, Place], tuple[Judgement, ...]] = field(init=False, repr=False, compare=False)

    def __post_init__(self) -> None:
        codes = {spec.code for spec in self.specs}
        if "mass_change_kg" in codes and FIT_MIN.code not in codes:
            object.__setattr__(self, "specs", (*self.specs, FIT_MIN))
        if len(self.ends) > 1 and not any(spec.column for spec in self.specs) and SOLD_FOR.code not in codes:
            object.__setattr__(self, "specs", (*self.specs, SOLD_FOR))
        object.__setattr__(self, "knowing", self.judge)
        if self.on_wheels or any(spec.decides for spec in self.specs):
            object.__setattr__(self, "judge", self._judged)

    @property
    def grams(self) -> bool:
        """Is nothing of it weighed: it comes to grams, or as much comes out as goes in? Wheels and tyres have a column.

        >>> Family("x", "x", "x", ()).grams, Family("x", "x", "x", (Spec("mass_change_kg", "mass"),)).grams
        (True, False)
        """
        return not any(spec.code == "mass_change_kg" or spec.column for spec in self.specs)

    def check(self, given: Given) -> None:
        """Does a specification make a part of this family?

        Raises
        ------
        BadInput : with the field and what is accepted
        """
        for spec in self.specs:
            spec.check(given.get(spec.code))
        if not self.lacking(given):
            self.whole(given)

    def lacking(self, given: Given) -> tuple[Spec, ...]:
        """What a specification leaves out that decides how the part is judged.

        >>> Family("x", "x", "xs", (Spec("long_mm", "length", decides=True),)).lacking({})[0].name
        'length'
        """
        return tuple(spec for spec in self.specs if spec.decides and given.get(spec.code) in (None, ""))

    def _judged(self, given: Given, place: Place) -> tuple[Judgement, ...]:
        """As the family judges, where what decides is known; else what is missing."""
        if self.on_wheels and not place.wheels:
            return (
                unmeasured(
                    f"part.{self.key}.wheels",
                    f"{self.name[:1].upper()}{self.name[1:]} on this car",
                    "the wheels on the car are not recorded",
                    ["wheels"],
                    ["enter the wheels on the car and its hubs"],
                ),
            )
        lacks = self.lacking(given)
        if not lacks:
            return self.knowing(given, place)
        names = " and ".join(spec.name for spec in lacks)
        return (
            unmeasured(
                f"part.{self.key}.known",
                f"{self.name[:1].upper()}{self.name[1:]} as sold",
                f"{names}: the line does not give {'it' if len(lacks) == 1 else 'them'}",
                [f"part.{self.key}"],
                ["ask the shop, or measure the part"],
            ),
        )

    @property
    def positions(self) -> tuple[str, ...]:
        """Where one can be put: an end, or both ("A"); one for the whole car is never at both.

        >>> Family("x", "x", "x", (), ends=("F",)).positions, Family("x", "x", "x", (), once=True).positions
        (('F',), ('F', 'R'))
        """
        return self.ends if len(self.ends) == 1 or self.once else ("A", *self.ends)

    @property
    def usual_position(self) -> str:
        """Where it goes if nothing is said; empty where that has to be said, as of what is one to an end.

        >>> Family("bar", "bar", "bars", (), per_end=lambda lugs: 1).usual_position, Family("x", "x", "x", ()).usual_position
        ('', 'A')
        """
        if len(self.ends) == 1:
            return self.ends[0]
        return "" if self.once or self.per_end(5) == 1 else "A"

    def pieces_at(self, lugs: Mapping[str, int | None]) -> int | None:
        """How many pieces go on these ends, by the lugs of their hubs.

        None where it is not told, or nobody counted the lugs.

        >>> nut = Family("nut", "nut", "nuts", (), per_end=lambda lugs: lugs and 2 * lugs)
        >>> nut.pieces_at({"F": 5, "R": 5}), nut.pieces_at({"F": 5, "R": None})
        (20, None)
        """
        each = [self.per_end(lugs[end]) for end in self.ends if end in lugs]
        each = each[:1] if self.once else each
        known = [one for one in each if one is not None]
        return sum(known) if known and len(known) == len(each) else None

    def check_old(self, given: Given) -> None:
        """Can this be of one that stands on a car? As ``check``, but nothing has to be known.

        Raises
        ------
        BadInput : with the field and what is accepted
        """
        for spec in self.specs:
            if given.get(spec.code) not in (None, ""):
                spec.check(given[spec.code])
        known = all(given.get(spec.code) not in (None, "") for spec in self.specs if spec.required)
        if known and not self.lacking(given):
            self.whole(given)

    def fault(self, given: Given) -> str | None:
        """Why a specification makes no part of this family; None where it does."""
        try:
            self.check(given)
        except CoreError as error:
            return error.message
        except (TypeError, ValueError):
            return "its specification can't be read"
        return None

    def said(self, given: Given) -> list[tuple[str, str]]:
        """Its specification in words: (name, value), what is not known left out."""
        return [
            (spec.name, spec.said(given.get(spec.code)))
            for spec in self.specs
            if spec.said(given.get(spec.code)) and not spec.aside
        ]

    def unlike(self, one: Given, other: Given) -> tuple[list[str], list[str]]:
        """Names of what must be the same left and right: what is not, and what is not said of one of both."""
        names = {spec.code: spec.name for spec in self.specs}
        unsaid = [code for code in self.same_sides if None in (one.get(code), other.get(code))]
        differing = [code for code in self.same_sides if code not in unsaid and one[code] != other[code]]
        return [names[code] for code in differing], [names[code] for code in unsaid]

    def open_questions(self, answers: Given, spec: Given) -> tuple[Question, ...]:
        """Questions that nobody has answered.

        What the part says of itself under the same name answers what the owner knows; what shops confuse is asked all
        the same.
        """
        return tuple(
            ask
            for ask in self.asks
            if answers.get(ask.code) not in ask.choices and not (ask.at_the_car and spec.get(ask.code))
        )
