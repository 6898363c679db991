"""Guided first times: the most usual jobs as a row of pages, each with what to do there."""

from __future__ import annotations

from dataclasses import dataclass

from rimcore.quantities.errors import BadInput


@dataclass(frozen=True)
class Leg:
    """One page of a guide: its address, what goes into it beside the car, and what to do there."""

    page: str
    what: str
    into: tuple[str, ...] = ()


@dataclass(frozen=True, kw_only=True)
class Guide:
    """A guided first time."""

    key: str
    name: str
    about: str
    legs: tuple[Leg, ...]


_ALL = (
    Guide(
        key="lower",
        name="Lower it",
        about="Springs or coilovers: how low it can go before the stop, the arch and the lip.",
        legs=(
            Leg("car", "Enter the wheels on the car and its hubs; what is not known stays blank."),
            Leg("station", "Wheel centre to arch lip at each corner, car on its wheels.", ("FL", "ride_height")),
            Leg("station", "How far the wheel can still go up to the bump stop.", ("FL", "bump")),
            Leg("choose-parts", "Paste the springs as the shop writes them; add them to a build.", ("spring",)),
            Leg("ride", "Bump travel left at the height you want. Below zero it sits on the stop."),
            Leg("plan", "What else it needs: alignment, one-use nuts. Add everything needed, with prices."),
            Leg("fit", "Make the job sheet and work through it; heights are read at its steps."),
            Leg("prove", "Predicted against measured."),
        ),
    ),
    Guide(
        key="wider",
        name="Wider wheels",
        about="From the wheel you want to the gap at the strut, the arch and at full lock.",
        legs=(
            Leg("car", "Enter the wheels on the car and its hubs."),
            Leg(
                "station",
                "Rule from the inner sidewall to the damper, at the height of its nearest point.",
                ("FL", "damper"),
            ),
            Leg("station", "Up and sideways to the arch at twelve o'clock.", ("FL", "arch_12")),
            Leg("station", "The liner at full lock, front edge of the tyre.", ("FL", "liner_front_lock")),
            Leg("choose", "Paste a wheel and a tyre; every pair is checked at once."),
            Leg("check", "Look at the tightest gap; steer and raise the wheel on the drawing.", ("FL",)),
            Leg("plan", "Rings, nuts, valves: add everything needed, with prices."),
            Leg("fit", "Work through the job sheet; nuts on the ground, again after the first drives."),
            Leg("prove", "Read the gaps again: predicted against measured."),
        ),
    ),
    Guide(
        key="louder",
        name="Louder, not too loud",
        about="An exhaust with the sound you want, inside the law and without drone.",
        legs=(
            Leg("sound", "Record idle, cruise and wide open before anything is changed; note the meter's reading."),
            Leg(
                "breathing",
                "Draw the exhaust piece by piece in flow order; look at loss and gaps. Add it to the build.",
            ),
            Leg("plan", "What else it needs: gaskets, clamps, hangers, with prices."),
            Leg("fit", "Job sheet: cold car, on stands, tried loose before anything is tight."),
            Leg("sound", "The same recorder, the same place: after against before."),
            Leg("prove", "Predicted against measured."),
        ),
    ),
)
GUIDES: dict[str, Guide] = {guide.key: guide for guide in _ALL}


def guide_of(key: str) -> Guide:
    """A guide by its key.

    Raises
    ------
    BadInput : there is none

    >>> guide_of("lower").legs[0].page
    'car'
    """
    if key not in GUIDES:
        raise BadInput(f"no such guide; accepted: {', '.join(GUIDES)}", "key")
    return GUIDES[key]
