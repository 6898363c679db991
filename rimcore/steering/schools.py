"""Schools of alignment: what each wants of camber, caster and toe, what it costs, and how near the wheels stand.

The figures are common practice, from memory; the car's own sheet stands before them where it is known.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

from rimcore.quantities.declared import Bench, Lever
from rimcore.quantities.judgement import COMMON_PRACTICE, InputUsed, Judgement, State, unmeasured
from rimcore.steering.setting import thrust_deg
from rimcore.tables.facts import ENDS as END_NAMES

ALIGNMENT_BENCH = Bench(
    "alignment",
    "Alignment",
    "camber, caster and toe of four wheels against targets, and which adjuster by how much",
    (),
    ("camber", "caster", "toe"),
    ("alignment", "caster-sweep"),
)

#: camber that a simulation supposes where nobody has read one [deg]
SUPPOSED_CAMBER_DEG = -0.8

CROSSMEMBER = Lever(
    "crossmember",
    "Front crossmember loosened and squared",
    default=False,
    places=("",),
    help="it comes down once, with whatever else needs it down",
)
SQUARE_BENCH = Bench(
    "square",
    "Subframe",
    "four marks of a subframe or crossmember: is it square, and which way to nudge it",
    (CROSSMEMBER,),
    (),
    ("square",),
)


@dataclass(frozen=True)
class School:
    """Targets by end and angle [deg], toe of one wheel; what it buys and what it costs."""

    key: str
    name: str
    targets: Mapping[tuple[str, str], float]
    buys: str
    costs: str
    #: targets that are not the school's: (end, angle) -> whose they are, in words
    whose: Mapping[tuple[str, str], str] = field(default_factory=dict)

    def with_own(self, wanted: Mapping[tuple[str, str], float], whose: str) -> School:
        """The school with some targets of one's own, of the build's, or of the car's sheet.

        >>> own = ALIGNMENT_SCHOOLS["grip"].with_own({("F", "camber_deg"): -1.8}, "by the build")
        >>> own.targets["F", "camber_deg"], own.why("F", "camber_deg"), own.why("F", "toe_deg")
        (-1.8, 'by the build', 'for grip')
        """
        return replace(self, targets={**self.targets, **wanted}, whose={**self.whose, **dict.fromkeys(wanted, whose)})

    def why(self, end: str, angle: str) -> str:
        """Whose a target is, in words."""
        return self.whose.get((end, angle), f"for {self.name.lower()}")


def _school(
    key: str, name: str, front: tuple[float, float, float], rear: tuple[float, float], buys: str, costs: str
) -> School:
    targets = {
        ("F", "camber_deg"): front[0],
        ("F", "caster_deg"): front[1],
        ("F", "toe_deg"): front[2],
        ("R", "camber_deg"): rear[0],
        ("R", "toe_deg"): rear[1],
    }
    return School(key, name, targets, buys, costs)


ALIGNMENT_SCHOOLS: dict[str, School] = {
    one.key: one
    for one in (
        _school(
            "street", "Street", (-0.8, 5.0, 0.05), (-1.2, 0.10), "straight running, even wear", "less bite on turn-in"
        ),
        _school("life", "Tyre life", (-0.3, 4.0, 0.03), (-0.8, 0.08), "the tyre wears flat", "washes wide early"),
        _school(
            "grip",
            "Grip",
            (-2.5, 6.5, -0.05),
            (-1.8, 0.10),
            "the loaded shoulder carries",
            "inner shoulders wear; wanders on ruts",
        ),
        _school(
            "drift",
            "Drift",
            (-4.0, 7.5, -0.15),
            (-0.8, 0.10),
            "front grip at full lock, a rear that slides evenly",
            "front tyres wear inside; heavy and nervous in a straight line",
        ),
        _school(
            "look",
            "Look",
            (-3.0, 5.0, 0.0),
            (-3.0, 0.05),
            "sits under the lip",
            "tyres wear in a season; brakes worse in a straight line",
        ),
    )
}

#: what an angle may be off its target [deg]: within the first it is set, within the second nearly (common practice,
#: from memory)
CLOSE_DEG = {"camber_deg": (0.25, 0.5), "caster_deg": (0.5, 1.0), "toe_deg": (0.1, 0.2)}
#: rear wheels' mean heading off the centre line, and camber left against right [deg]
THRUST_DEG, UNEVEN_DEG = (0.1, 0.2), (0.3, 0.6)
ANGLE_NAMES = {"camber_deg": "camber", "caster_deg": "caster", "toe_deg": "toe"}
PRACTICE = f"{COMMON_PRACTICE}, from memory"

Angles = Mapping[tuple[str, str], float | None]


def judge_off(
    code: str,
    name: str,
    off_deg: float | None,
    doubt_deg: float,
    close: tuple[float, float],
    said: str,
    missing: Sequence[str],
    inputs: Sequence[InputUsed] = (),
) -> Judgement:
    """How far an angle is off what is wanted; the ± counts.

    Source: limits are the school's own, common practice.

    Parameters
    ----------
    code : of the judgement
    name : in words
    off_deg : from what is wanted; None where not known [deg]
    doubt_deg : ± of it, 0 or more [deg]
    close : up to which it is ``clear``, and up to which ``tight`` [deg]
    said : the figure in words
    missing : what was not read
    inputs : what was read, for the figure's formula

    >>> judge_off("x", "X", 0.04, 0.02, (0.05, 0.1), "", ()).state
    'tight'
    """
    if off_deg is None:
        return unmeasured(
            code, name, f"not read: {', '.join(missing)}", missing, ["read it with a gauge, strings or plates"]
        )
    off = abs(off_deg)
    state: State = (
        "clear" if off + doubt_deg <= close[0] + 1e-9 else "hit" if off - doubt_deg > close[1] + 1e-9 else "tight"
    )
    return Judgement(
        code,
        name,
        state,
        said,
        PRACTICE,
        value=off_deg,
        unit="°",
        held_against=close[0],
        margin=close[0] - off,
        uncertainty=doubt_deg,
        formula=said,
        inputs=tuple(inputs),
        remedies=() if state == "clear" else ("turn what the sheet says, and read again",),
    )


def judge_alignment(
    angles: Angles, school: School, doubts: Angles, inputs: Sequence[InputUsed] = ()
) -> tuple[Judgement, ...]:
    """Four wheels against a school, the thrust of the rear axle, and camber left against right.

    Parameters
    ----------
    angles, doubts : (corner, angle) -> degrees, and its ±; None or absent is not read

    Examples
    --------
    >>> read = {("RL", "toe_deg"): 0.1, ("RR", "toe_deg"): 0.1}
    >>> found = judge_alignment(read, ALIGNMENT_SCHOOLS["street"], dict.fromkeys(read, 0.05))
    >>> [one.state for one in found if one.code == "align.thrust"]
    ['clear']
    """
    found = []
    for (end, angle), wanted in school.targets.items():
        for corner in (f"{end}L", f"{end}R"):
            value = angles.get((corner, angle))
            where = f"{END_NAMES[end]} {'left' if corner[1] == 'L' else 'right'}"
            name = f"{ANGLE_NAMES[angle].capitalize()}, {where}"
            said = "" if value is None else f"{_deg(value)}; {_deg(wanted)} wanted {school.why(end, angle)}"
            off = None if value is None else value - wanted
            doubt = doubts.get((corner, angle)) or 0.0
            found.append(
                judge_off(
                    code=f"align.{angle[:-4]}.{corner}",
                    name=name,
                    off_deg=off,
                    doubt_deg=doubt,
                    close=CLOSE_DEG[angle],
                    said=said,
                    missing=[name.lower()],
                    inputs=inputs,
                )
            )
    left, right = angles.get(("RL", "toe_deg")), angles.get(("RR", "toe_deg"))
    thrust = None if left is None or right is None else thrust_deg(left, right)
    way = "" if thrust is None else "left" if thrust > 0 else "right"
    words = "" if thrust is None else f"the rear wheels point {abs(thrust):.2f}° to the {way} of the centre line"
    doubt = _both(doubts, "R", "toe_deg") / 2
    found.append(
        judge_off(
            code="align.thrust",
            name="Thrust of the rear axle",
            off_deg=thrust,
            doubt_deg=doubt,
            close=THRUST_DEG,
            said=words,
            missing=["toe of both rear wheels"],
            inputs=inputs,
        )
    )
    for end in ("F", "R"):
        one, other = angles.get((f"{end}L", "camber_deg")), angles.get((f"{end}R", "camber_deg"))
        apart = None if one is None or other is None else one - other
        words = "" if apart is None else f"{abs(apart):.2f}° apart"
        name, doubt = f"Camber left against right, {END_NAMES[end]}", _both(doubts, end, "camber_deg")
        found.append(
            judge_off(
                code=f"align.even.{end}",
                name=name,
                off_deg=apart,
                doubt_deg=doubt,
                close=UNEVEN_DEG,
                said=words,
                missing=[f"camber of both {END_NAMES[end]} wheels"],
                inputs=inputs,
            )
        )
    return tuple(found)


def _both(doubts: Angles, end: str, angle: str) -> float:
    """± of a difference or a sum of both sides, added as squares [deg]."""
    return math.hypot(doubts.get((f"{end}L", angle)) or 0.0, doubts.get((f"{end}R", angle)) or 0.0)


def _deg(value: float) -> str:
    return f"{value:+.2f}°".replace("-", "−")
