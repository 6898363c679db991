"""The mass ledger: what was weighed, what came out and what went back, what it cost, and whether it explains the scale."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from rimcore.mass.balance import Item as Moved
from rimcore.mass.lighten import Item as Out
from rimcore.mass.lighten import Lightened, Limits, lighten
from rimcore.quantities.declared import Bench, Lever
from rimcore.quantities.errors import BadInput
from rimcore.quantities.judgement import COMMON_PRACTICE, OWN_MEASUREMENT, InputUsed, Judgement, State, unmeasured

STRIP_OUT = Lever(
    "strip_out",
    "Planned items come out",
    default=False,
    places=("",),
    help="a strip session of what the weight bench plans",
)
MASS_BENCH = Bench(
    "mass",
    "Weight",
    "what was weighed and came out, what could still come out, and what it does to the four corners",
    (STRIP_OUT,),
    ("car_mass", "corner_mass"),
    ("lighten", "balance"),
)

#: what is never taken out casually, and why
GUARDED = {
    "airbag": "an airbag can fire, and the law may want it for every seat that remains",
    "belt": "a belt with its pretensioner can fire, and the law may want it for every seat that remains",
    "occupancy": "a seat-occupancy circuit belongs to the airbags: cut, they may fire or stay shut",
    "law": "the law wants it for every seat that remains",
}
STATES = {"in": "in the car", "planned": "planned", "out": "out"}


@dataclass(frozen=True)
class Weighed:
    """An item: what lies on the scale without its box [kg], what goes back in its place, and what it takes.

    Money in minor units.

    ``kg`` is None until it is weighed; ``guarded`` names one of GUARDED; places behind the front axle, right of the
    centre line, above the ground.
    """

    label: str
    name: str
    kg: float | None
    state: str = "in"
    back_kg: float = 0.0
    back_name: str = ""
    doubt_kg: float = 0.0
    minutes: float = 0.0
    money_minor: int = 0
    reversible: bool = True
    comfort: bool = False
    guarded: str = ""
    place_mm: tuple[float, float] | None = None
    height_mm: float | None = None
    needs: tuple[str, ...] = ()
    not_with: tuple[str, ...] = ()
    #: a part of the shortlist that would go in, not an item that was weighed
    listed: bool = False
    #: why it can't be proposed, in words
    shut: str = ""
    #: is it known how long it takes
    timed: bool = True
    #: what has to be said beside it
    note: str = ""

    @property
    def net_kg(self) -> float | None:
        """What the car loses; None until it is weighed.

        >>> Weighed("A1", "rear bench", 25.0, back_kg=5.5).net_kg
        19.5
        """
        return None if self.kg is None else self.kg - self.back_kg

    @property
    def kg_per_hour(self) -> float | None:
        """Net kilograms for an hour's work; None where it is not weighed or no time was noted."""
        return None if self.net_kg is None or self.minutes <= 0 else self.net_kg / (self.minutes / 60.0)

    @property
    def kg_per_unit(self) -> float | None:
        """Net kilograms for one unit of money; None where it is not weighed, cost nothing or brought some in."""
        return None if self.net_kg is None or self.money_minor <= 0 else self.net_kg / (self.money_minor / 100.0)


#: orders of the ledger, the most first; what is free comes before what costs, what is not weighed last
ORDERS = {"label": "as labelled", "net": "net weight", "hour": "weight an hour", "money": "weight for money"}


def ordered(items: Sequence[Weighed], by: str = "label") -> list[Weighed]:
    """Items in one of ORDERS; an unknown one is refused, equals stay as they stood.

    >>> rows = [Weighed("A1", "pads", 1.0, minutes=60.0), Weighed("A2", "bench", 25.0, minutes=40.0), Weighed("A3", "carpet", None)]
    >>> [[one.label for one in ordered(rows, by)] for by in ("label", "net")]
    [['A1', 'A2', 'A3'], ['A2', 'A1', 'A3']]
    """
    if by not in ORDERS:
        raise BadInput(f"no order {by!r}; accepted: {', '.join(ORDERS)}", "by")
    if by == "label":
        return list(items)
    return sorted(items, key=lambda one: _rank(one, by))


def _rank(one: Weighed, by: str) -> tuple[int, float]:
    """What needs neither time nor money heads its order: its mass alone ranks it."""
    if one.net_kg is None:
        return (2, 0.0)
    rate = {"net": one.net_kg, "hour": one.kg_per_hour, "money": one.kg_per_unit}[by]
    return (0, -one.net_kg) if rate is None else (1, -rate)


@dataclass(frozen=True)
class Totals:
    """Sums of some items; what nobody weighed is counted, never taken as nothing."""

    count: int
    out_kg: float
    back_kg: float
    minutes: float
    money_minor: int
    unweighed: int
    doubt_kg: float

    @property
    def net_kg(self) -> float:
        """What the car has lost."""
        return self.out_kg - self.back_kg

    @property
    def kg_per_hour(self) -> float | None:
        """Net kilograms for an hour's work; None where no time was noted.

        >>> totals([Weighed("A1", "damping pads", 0.9, "out", minutes=60.0)]).kg_per_hour
        0.9
        """
        return None if not self.minutes else self.net_kg / (self.minutes / 60.0)

    @property
    def kg_per_unit(self) -> float | None:
        """Net kilograms for one unit of money; None where it cost nothing or brought some in."""
        return None if self.money_minor <= 0 else self.net_kg / (self.money_minor / 100.0)


def totals(items: Sequence[Weighed], states: Sequence[str] = ("out",)) -> Totals:
    """Sums over the items in some states; ± of the scales add as squares."""
    here = [one for one in items if one.state in states]
    known = [one for one in here if one.kg is not None]
    return Totals(
        len(here),
        sum(one.kg or 0.0 for one in known),
        sum(one.back_kg for one in here),
        sum(one.minutes for one in here),
        sum(one.money_minor for one in here),
        len(here) - len(known),
        math.sqrt(sum(one.doubt_kg**2 for one in known)),
    )


@dataclass(frozen=True)
class Goal:
    """Net kilograms wanted in this phase, and the least that the class lets the car weigh; None is not said."""

    phase_kg: float | None = None
    minimum_kg: float | None = None


@dataclass(frozen=True)
class Scaled:
    """The whole car on a scale [kg ±]; ``said`` tells when and by whom; fuel in words, blank where nobody said."""

    kg: float
    doubt_kg: float
    said: InputUsed
    fuel: str = ""


def other_fuel(before: str, after: str) -> bool:
    """Was other fuel aboard, as far as it was said?

    >>> other_fuel("Half a tank", "full"), other_fuel("Half a tank", ""), other_fuel("Half a tank", "half a  tank")
    (True, False, False)
    """
    was, now = (one.casefold().split() for one in (before, after))
    return bool(was and now) and was != now


def told_state(rest_kg: float, doubt_kg: float) -> State:
    """What a scale says beyond what the ledger tells, against the ± of both.

    Within it, within three of it (from memory), beyond.

    Source: three times the ± is from memory.

    Parameters
    ----------
    rest_kg : what the scale says beyond the ledger [kg]
    doubt_kg : ± of both, 0 or more [kg]

    >>> told_state(0.5, 0.5), told_state(-1.5, 0.5), told_state(1.6, 0.5)
    ('clear', 'tight', 'hit')
    """
    return "clear" if abs(rest_kg) <= doubt_kg else "tight" if abs(rest_kg) <= 3 * doubt_kg else "hit"


def judge_phase(goal: Goal, done: Totals) -> Judgement | None:
    """How far the phase is; None without a goal."""
    if goal.phase_kg is None:
        return None
    code, name = "mass.phase", "Goal of this phase"
    if done.unweighed:
        return unmeasured(
            code, name, f"{done.unweighed} of what came out was never weighed", ["mass"], ["weigh it with its box"]
        )
    left = goal.phase_kg - done.net_kg
    state: State = "clear" if left <= 0 else "tight"
    reason = f"{done.net_kg:.1f} of {goal.phase_kg:g} kg out" + ("" if left <= 0 else f", {left:.1f} kg to go")
    return Judgement(
        code,
        name,
        state,
        reason,
        "your own goal",
        value=done.net_kg,
        unit="kg",
        held_against=goal.phase_kg,
        margin=-left,
        uncertainty=done.doubt_kg,
        formula=f"out {done.out_kg:.1f} − back in {done.back_kg:.1f} = {done.net_kg:.1f} kg",
        remedies=() if left <= 0 else ("the best set below",),
    )


def judge_minimum(goal: Goal, car: Scaled | None, planned: Totals) -> Judgement | None:
    """The class minimum against the car with what is planned; None without a minimum. Ballast makes up what is missing.

    >>> read = Scaled(900.0, 1.0, InputUsed("scale", "900 kg"))
    >>> [judge_minimum(Goal(None, least), read, totals([])).state for least in (880.0, 899.5, 910.0)]
    ['clear', 'tight', 'hit']
    """
    if goal.minimum_kg is None:
        return None
    code, name = "mass.minimum", "Class minimum"
    if car is None:
        return unmeasured(
            code, name, "the car was never on a scale with nobody aboard", ["car_mass"], ["weigh the whole car"]
        )
    if planned.unweighed:
        return unmeasured(code, name, f"{planned.unweighed} planned items are not weighed", ["mass"], ["weigh them"])
    kg, doubt = car.kg - planned.net_kg, math.hypot(car.doubt_kg, planned.doubt_kg)
    left = kg - goal.minimum_kg
    state: State = "hit" if left + doubt < 0 else "tight" if left - doubt < 0 else "clear"
    words = f"{left:.1f} kg may still come out" if left >= 0 else f"{-left:.1f} kg of ballast are missing"
    return Judgement(
        code,
        name,
        state,
        f"{kg:.1f} ± {doubt:.1f} kg against {goal.minimum_kg:g}: {words}",
        "the rules of your class",
        value=kg,
        unit="kg",
        held_against=goal.minimum_kg,
        margin=left,
        uncertainty=doubt,
        formula=f"{car.kg:.1f} − planned {planned.net_kg:.1f} = {kg:.1f} kg",
        inputs=(car.said,),
        remedies=() if state == "clear" else ("ballast, bolted where the balance wants it", "leave something in"),
    )


def judge_scale(before: Scaled | None, after: Scaled | None, since: Totals, others_kg: float = 0.0) -> Judgement | None:
    """Does the ledger explain what the scale says? None until the car was weighed twice.

    Parameters
    ----------
    before : on a scale, with its date and ±; None where not
    after : the same later
    since : what came out between both weighings
    others_kg : what else changed between them, as wheels; minus is lighter [kg]

    Examples
    --------
    >>> was, now = (Scaled(kg, 0.5, InputUsed("scale", f"{kg} kg")) for kg in (900.0, 868.0))
    >>> judge_scale(was, now, totals([Weighed("A1", "bench", 30.0, "out")])).value
    2.0
    """
    if before is None or after is None:
        return None
    lost, told = before.kg - after.kg, since.net_kg - others_kg
    rest, doubt = lost - told, math.sqrt(before.doubt_kg**2 + after.doubt_kg**2 + since.doubt_kg**2)
    code, name = "mass.residual", "Ledger against the scale"
    if since.unweighed:
        return unmeasured(
            code, name, f"{since.unweighed} of what came out was never weighed", ["mass"], ["weigh it with its box"]
        )
    if other_fuel(before.fuel, after.fuel):
        what = f"fuel was “{before.fuel}”, then “{after.fuel}”: what that weighs lies in the difference"
        return unmeasured(code, name, what, ["car_mass"], ["weigh it again with the same fuel"])
    state = told_state(rest, doubt)
    words = (
        "the ledger explains it"
        if state == "clear"
        else f"{abs(rest):.1f} kg {'more' if rest > 0 else 'less'} than the ledger tells"
    )
    return Judgement(
        code,
        name,
        state,
        f"the scale lost {lost:.1f} kg, the ledger tells {told:.1f}: {words}",
        OWN_MEASUREMENT,
        value=rest,
        unit="kg",
        held_against=doubt,
        margin=doubt - abs(rest),
        uncertainty=doubt,
        formula=f"({before.kg:.1f} − {after.kg:.1f}) − {told:.1f} = {rest:.1f} kg".replace("= -", "= −"),
        inputs=(before.said, after.said),
        remedies=()
        if state == "clear"
        else ("the same fuel, nobody aboard, the same scale", "look for what was not weighed"),
    )


def judge_guarded(items: Sequence[Weighed]) -> list[Judgement]:
    """What came out, or is to, and is never casual work: a caution with its own line each."""
    return [
        Judgement(
            "mass.guarded",
            one.name,
            "tight",
            GUARDED[one.guarded],
            f"{COMMON_PRACTICE}; local law decides",
            where=f"label {one.label}",
            remedies=("a qualified person takes it out", "leave it in"),
        )
        for one in items
        if one.guarded and one.state != "in"
    ]


@dataclass(frozen=True)
class Wanted:
    """What a best set is asked for: the cheapest that reaches a goal (``least``), or the most kilograms.

    Money in minor units, hours.
    """

    least: str | None = None
    goal_kg: float | None = None
    money_minor: int | None = None
    hours: float | None = None
    reversible_only: bool = False
    keep_comfort: bool = False


#: what the frontier's kilograms stand against
AGAINST = {"money": "kilograms for money", "hours": "kilograms for hours"}


@dataclass(frozen=True)
class Best:
    """The best set, and why each other item is not in it; its frontier stands against money or hours."""

    found: Lightened
    chosen: tuple[Weighed, ...]
    why_not: tuple[tuple[Weighed, str], ...]
    against: str = "money"

    @property
    def untimed(self) -> int:
        """How many of the set nobody has timed: their hours are not in its sum."""
        return sum(not one.timed for one in self.chosen)


def open_to(items: Sequence[Weighed], wanted: Wanted) -> tuple[list[Weighed], dict[str, str]]:
    """Items that may be proposed, and in words why each other may not: airbags, belts and what the law wants never are.

    >>> bag, bench = Weighed("A1", "airbag", 4.0, guarded="airbag"), Weighed("A2", "bench", 25.0)
    >>> [one.name for one in open_to([bag, bench], Wanted())[0]], open_to([bag, bench], Wanted())[1]["A1"][:14]
    (['bench'], 'never proposed')
    """
    shut: dict[str, str] = {}
    for one in items:
        if one.state == "out":
            shut[one.label] = "out already"
        elif one.guarded:
            shut[one.label] = f"never proposed: {GUARDED[one.guarded]}"
        elif one.shut:
            shut[one.label] = one.shut
        elif one.kg is None:
            shut[one.label] = "not weighed yet"
        elif not one.timed and (wanted.hours is not None or wanted.least == "hours"):
            shut[one.label] = "how long it takes is not known"
        elif wanted.keep_comfort and one.comfort:
            shut[one.label] = "costs comfort or noise"
        elif wanted.reversible_only and not one.reversible:
            shut[one.label] = "can't go back in"
    known = {one.label for one in items}
    while True:
        late = [
            one
            for one in items
            if one.label not in shut
            and any(other in shut and shut[other] != "out already" for other in one.needs if other in known)
        ]
        if not late:
            break
        shut |= {one.label: "needs something that stays in" for one in late}
    return [one for one in items if one.label not in shut], shut


def best_set(items: Sequence[Weighed], wanted: Wanted, against: str = "money", frontier: bool = True) -> Best | None:
    """The best set of what is still in the car and of what is on the shortlist; None where nothing may be proposed.

    Exact, by integer programming (``lighten``); money counts in whole units, minutes in hours. ``against``: one of
    AGAINST, for the frontier; against hours
    it leaves out what nobody has timed.
    """
    able, shut = open_to(items, wanted)
    if not able:
        return None
    labels = {one.label for one in able}
    rows = [
        Out(
            name=one.label,
            kg=one.kg or 0.0,
            put_back_kg=one.back_kg,
            money=one.money_minor / 100.0,
            hours=one.minutes / 60.0,
            reversible=one.reversible,
            allowed=True,
            needs=tuple(other for other in one.needs if other in labels and other != one.label),
            not_with=tuple(other for other in one.not_with if other in labels and other != one.label),
        )
        for one in able
    ]
    limits = Limits(
        None if wanted.money_minor is None else wanted.money_minor / 100.0, wanted.hours, wanted.reversible_only
    )
    found = lighten(rows, limits, wanted.goal_kg, wanted.least, frontier and against == "money", 5.0)
    if frontier and against == "hours":
        untimed = {one.label for one in able if not one.timed}
        found = replace(found, frontier=_by_hours([row for row in rows if row.name not in untimed], limits))
    chosen = tuple(one for one in able if one.label in found.chosen)
    named = {one.label for one in chosen}
    left = tuple(
        (one, shut.get(one.label) or _passed_over(one, chosen, found, wanted))
        for one in items
        if one.label not in named
    )
    return Best(found, chosen, tuple(row for row in left if row[1] != "out already"), against)


def _by_hours(rows: Sequence[Out], limits: Limits) -> tuple[tuple[float, float], ...] | None:
    """The frontier of kilograms against hours.

    The same program, with hours in the place of money and money in that of hours.
    """
    turned = [replace(one, money=one.hours, hours=one.money) for one in rows]
    return lighten(turned, Limits(limits.hours, limits.money, limits.reversible_only), None, None, True, 5.0).frontier


def _passed_over(one: Weighed, chosen: Sequence[Weighed], found: Lightened, wanted: Wanted) -> str:
    """Why an item that may come out is not in the best set."""
    clash = next((other.name for other in chosen if other.label in one.not_with or one.label in other.not_with), None)
    if clash is not None:
        return f"does not go with {clash}"
    if (one.net_kg or 0.0) <= 0:
        return "what goes back weighs as much"
    if wanted.money_minor is not None and found.money + one.money_minor / 100.0 > wanted.money_minor / 100.0:
        return "the money does not reach for it too"
    if wanted.hours is not None and found.hours + one.minutes / 60.0 > wanted.hours:
        return "the hours do not reach for it too"
    return "the goal is reached without it" if wanted.least is not None else "nothing is gained with it"


def moved(items: Sequence[Weighed], states: Sequence[str]) -> tuple[list[Moved], list[str]]:
    """What items in some states do to the car, for ``balance``.

    And the names of those whose place or mass is not known.
    """
    here = [one for one in items if one.state in states]
    unplaced = [one.name for one in here if one.place_mm is None or one.kg is None]
    known = [one for one in here if one.place_mm is not None and one.net_kg is not None]
    return [
        Moved(one.name, -(one.net_kg or 0.0), *(one.place_mm or (0.0, 0.0)), one.height_mm) for one in known
    ], unplaced
