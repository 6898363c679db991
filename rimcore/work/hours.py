"""How long a sheet takes one person: usual minutes of each module, and what its parts say themselves.

Source: common practice, from memory: a first job at home, with the tools at hand; what goes wrong comes on top.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from rimcore.work.modules import OF_LEVER
from rimcore.work.modules_base import JobPlan, PartOn

#: module -> usual minutes for the car, and for each end that is worked on (common practice); None: nobody can say
MINUTES: Mapping[str, tuple[float, float] | None] = {
    "nuts": (0, 10),
    "valves": (0, 30),
    "axle gears": (480, 0),
    "height": (20, 60),
    "springs": (20, 130),
    "leaves": (0, 240),
    "driveshafts": (0, 120),
    "propshaft": (120, 0),
    "arms": (0, 120),
    "joints": (0, 90),
    "bearings": (0, 150),
    "mounts": (180, 0),
    "steering lines": (120, 0),
    "subframe": (420, 0),
    "fluids": (30, 0),
    "bar": (0, 45),
    "brakes": (0, 90),
    "hoses": (30, 45),
    "studs": (0, 60),
    "lip": (0, 60),
    "limiters": (0, 30),
    "rods": (0, 45),
    "rack": (300, 0),
    "crossmember": (150, 0),
    "wheels": (20, 20),
    "spacers": (0, 20),
    "rings": (0, 5),
    "other": None,
    "alignment": (90, 0),
    "weights": (90, 0),
    "panel": (180, 0),
    "splitter": (180, 0),
    "outside": (90, 0),
    "strip": (30, 0),
    "seats": (45, 0),
    "battery": (20, 0),
    "ballast": (30, 0),
    "intake": (90, 0),
    "tuning": (120, 0),
    "exhaust": (150, 0),
    "radiator": (150, 0),
    "shifter": (60, 0),
}
#: getting the car up, wheels off and on again, once a sheet [min]
UP_AND_DOWN_MIN = 40.0
#: of the usual hours: the least, the most, and the most where joints rust (common practice, from memory)
LEAST, USUAL_MOST, RUSTY_MOST = 0.75, 2.0, 2.5
RUSTY = frozenset({"exhaust", "subframe", "arms", "springs", "leaves", "rods", "joints", "bar", "crossmember"})
#: modules that need neither
ON_THE_GROUND = frozenset(
    {
        "tuning",
        "strip",
        "seats",
        "battery",
        "ballast",
        "shifter",
        "intake",
        "alignment",
        "weights",
        "other",
        "valves",
        "outside",
    }
)


@dataclass(frozen=True)
class Estimate:
    """Hours of a sheet; None where nothing of it is known. ``unknown`` is what nobody could say, in words."""

    hours: float | None
    unknown: tuple[str, ...] = ()
    #: the person's own figure
    own: bool = False

    @property
    def said(self) -> str:
        """In words.

        >>> Estimate(5.5).said, Estimate(None).said, Estimate(2.0, ("other parts",)).said
        ('5.5 h', 'not estimated', '2.0 h and other parts, which nobody has timed')
        """
        if self.hours is None:
            return "not estimated"
        more = f" and {', '.join(self.unknown)}, which nobody has timed" if self.unknown else ""
        return f"{self.hours:.1f} h{more}"


@dataclass(frozen=True)
class ModuleHours:
    """Hours of one module for one person: low, likely, high; None where nobody can say. ``up`` is car up and down."""

    module: str
    hours: tuple[float, float, float] | None

    @property
    def likely(self) -> float:
        """The usual figure, 0 where there is none [h]."""
        return 0.0 if self.hours is None else self.hours[1]


def spread(likely_h: float, module: str = "") -> tuple[float, float, float]:
    """Low, likely, high of usual hours: a quarter less, or twice as long; rusty joints take longer still.

    Parameters
    ----------
    likely_h : the usual figure [h]
    module : of work

    Source: common practice, from memory.

    >>> spread(2.0), spread(2.0, "exhaust")
    ((1.5, 2.0, 4.0), (1.5, 2.0, 5.0))
    """
    most = RUSTY_MOST if module in RUSTY else USUAL_MOST
    return LEAST * likely_h, likely_h, most * likely_h


def hours_by_module(
    plan: JobPlan,
    modules: Sequence[str],
    of_family: Mapping[str, Sequence[str]],
    item_minutes: Sequence[float | None] = (),
    said: Mapping[str, tuple[float, float, float]] | None = None,
) -> tuple[ModuleHours, ...]:
    """Hours of each module of a job, with the car up and down once for all: the one rule for every page.

    What a person said of a module stands before what is usual.

    Parameters
    ----------
    plan : what the job does
    modules : of work, in their order
    of_family : family -> its modules, the first is the one that fits it
    item_minutes : of what the ledger takes out; None is untimed [min]
    said : module -> a person's own low, likely and high [h]

    Source: common practice, from memory.

    >>> from rimcore.work.modules_base import CornerHub, PartOn
    >>> hubs = tuple(CornerHub(corner, 5, 110.0) for corner in ("FL", "FR", "RL", "RR"))
    >>> rows = hours_by_module(JobPlan(hubs, (PartOn("wheel", "Eight"),)), ("wheels",), {"wheel": ("wheels",)})
    >>> [(one.module, round(one.likely, 2)) for one in rows]
    [('up', 0.67), ('wheels', 1.0)]
    """
    rows, own = [], said or {}
    if set(modules) - ON_THE_GROUND:
        rows.append(ModuleHours("up", own.get("up", spread(UP_AND_DOWN_MIN / 60.0))))
    for name in modules:
        if name in own:
            rows.append(ModuleHours(name, own[name]))
            continue
        minutes = _minutes(plan, name, of_family)
        if name == "strip":
            timed = sum(one for one in item_minutes if one is not None)
            minutes = timed if minutes is None and timed else None if minutes is None else minutes + timed
        rows.append(ModuleHours(name, None if minutes is None else spread(minutes / 60.0, name)))
    return tuple(rows)


def _minutes(plan: JobPlan, module: str, of_family: Mapping[str, Sequence[str]]) -> float | None:
    """Minutes of a module: as its parts say themselves, else the usual ones; None where nobody can say."""
    mine = [part for part in plan.parts if of_family.get(part.family, ("",))[:1] == (module,)]
    said, usual = _said_by_parts(mine), MINUTES.get(module)
    if said is not None:
        return said
    return None if usual is None else usual[0] + usual[1] * _ends(plan, module, of_family)


def estimate(
    plan: JobPlan,
    modules: Sequence[str],
    of_family: Mapping[str, Sequence[str]],
    item_minutes: Sequence[float | None] = (),
    said: Mapping[str, tuple[float, float, float]] | None = None,
) -> Estimate:
    """Hours of some modules of a job.

    Parameters
    ----------
    of_family : family -> its modules, the first is the one that fits it
    item_minutes : of what the ledger takes out; None is untimed
    said : module -> a person's own low, likely and high [h]

    Examples
    --------
    >>> from rimcore.work.modules_base import CornerHub, PartOn
    >>> hubs = tuple(CornerHub(corner, 5, 110.0) for corner in ("FL", "FR", "RL", "RR"))
    >>> wheels = JobPlan(hubs, (PartOn("wheel", "Eight"),))
    >>> estimate(wheels, ("wheels",), {"wheel": ("wheels",)}).hours, estimate(JobPlan(()), (), {}).hours
    (1.7, 0.0)
    >>> estimate(JobPlan((), (PartOn("other", "Box"),)), ("other",), {"other": ("other",)}).said
    'not estimated'
    """
    rows = hours_by_module(plan, modules, of_family, item_minutes, said)
    unknown = ["other parts" if one.module == "other" else one.module for one in rows if one.hours is None]
    untimed = sum(one is None for one in item_minutes) if "strip" in modules and "strip" not in (said or {}) else 0
    if untimed:
        unknown.append(f"{untimed} items to take out")
    if modules and all(one.hours is None for one in rows if one.module != "up"):
        return Estimate(None, tuple(unknown))
    return Estimate(round(sum((one.likely for one in rows), 0.0), 1), tuple(unknown))


def _ends(plan: JobPlan, module: str, of_family: Mapping[str, Sequence[str]]) -> int:
    """Ends that a module is done at, one at the least."""
    ends = {end for part in plan.parts if module in of_family.get(part.family, ()) for end in part.ends}
    ends |= {end for lever, moved in plan.levers.items() if module in OF_LEVER.get(lever, ()) for end in moved}
    return max(1, len(ends))


def _said_by_parts(parts: Sequence[PartOn]) -> float | None:
    """Minutes that the parts of a module say themselves; None unless every one of them does."""
    said = [part.spec.get("fit_min") for part in parts]
    return sum(float(one) for one in said if one is not None) if said and all(one is not None for one in said) else None


#: modules that two builds of one car do once where they are done together (common practice)
ONCE_FOR_BOTH = ("up", "alignment", "weights")


def saved_together(first: Sequence[ModuleHours], second: Sequence[ModuleHours]) -> tuple[float, tuple[str, ...]]:
    """Hours that two builds save done together, and which modules are done once [h].

    Parameters
    ----------
    first, second : hours of both by module

    Source: common practice.

    >>> up, both = ModuleHours("up", (0.5, 0.7, 1.4)), ModuleHours("alignment", (1, 1.5, 3))
    >>> saved_together([up, both], [up, both, ModuleHours("springs", (2, 3, 5))])
    (2.2, ('up', 'alignment'))
    """
    others = {one.module: one.likely for one in second}
    shared = [(one.module, min(one.likely, others[one.module])) for one in first if one.module in others]
    once = [(name, hours) for name, hours in shared if name in ONCE_FOR_BOTH and hours > 0]
    return round(sum(hours for _, hours in once), 1), tuple(name for name, _ in once)
