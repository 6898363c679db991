"""Where a wheel stands and how it rolls: scrub radius, trail, track, lever arm, circumference, revolutions."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Protocol

from rimcore.quantities.judgement import COMMON_PRACTICE, InputUsed, Judgement, State, unmeasured
from rimcore.wheels.fitted import Fitted

#: rolling circumference over diameter (ETRTO, as the tyre calculation)
ROLLING = 3.05
#: a front to rear ratio within this of the original is taken by most stability electronics, beyond the second it is not
#: (common practice)
RATIO_CLEAR_PCT, RATIO_TIGHT_PCT = 1.0, 3.0


class Axis(Protocol):
    """A steering axis as far as it is measured.

    Top inboard, top rearward [deg], and inboard of the mounting face [mm].
    """

    @property
    def kpi_deg(self) -> float | None: ...
    @property
    def caster_deg(self) -> float | None: ...
    @property
    def kingpin_inboard_mm(self) -> float | None: ...


@dataclass(frozen=True)
class Unmeasured:
    """A steering axis that nobody measured."""

    kpi_deg: float | None = None
    caster_deg: float | None = None
    kingpin_inboard_mm: float | None = None


@dataclass(frozen=True)
class Stance:
    """Before and after at one corner; None is not measured. Lengths in mm."""

    scrub_before_mm: float | None
    scrub_after_mm: float | None
    trail_before_mm: float | None
    trail_after_mm: float | None
    track_change_mm: float
    lever_change_mm: float
    revs_before_per_km: float
    revs_after_per_km: float
    odometer_pct: float
    ratio: Judgement

    @property
    def rows(self) -> list[tuple[str, str, str]]:
        """For a list: name, change, how.

        >>> from rimcore.wheels.tyre import parse_tyre
        >>> from rimcore.wheels.wheel import parse_wheel
        >>> old = Fitted(parse_wheel("16x6.5 +50"), parse_tyre("205/55R16"))
        >>> stance(old, Fitted(parse_wheel("17x8 +40"), parse_tyre("225/45R17")), Unmeasured(), old, old).rows[1][1]
        '+20.0 mm'
        """
        scrub = (
            "–"
            if self.scrub_after_mm is None or self.scrub_before_mm is None
            else f"{self.scrub_before_mm:+.1f} → {self.scrub_after_mm:+.1f} mm"
        )
        trail = (
            "–"
            if self.trail_after_mm is None or self.trail_before_mm is None
            else f"{self.trail_before_mm:.1f} → {self.trail_after_mm:.1f} mm"
        )
        rows = [
            (
                "Scrub radius",
                scrub,
                "where the leaning centre plane meets the ground − (kingpin distance − height × tan KPI)",
            ),
            ("Track", f"{self.track_change_mm:+.1f} mm", "2 × (spacer − offset), then − before"),
            (
                "Lever on the wheel bearing",
                f"{self.lever_change_mm:+.1f} mm",
                "how far the load's line moves from the bearing",
            ),
            ("Caster trail", trail, "height of the hub over the ground × tan caster"),
            (
                "Revolutions",
                f"{self.revs_before_per_km:.0f} → {self.revs_after_per_km:.0f} a km",
                "1,000,000 ÷ (3.05 × diameter)",
            ),
            (
                "Odometer",
                f"{self.odometer_pct:+.1f} %",
                "distance shown against distance driven, if it was exact before",
            ),
        ]
        return [(name, change.replace("-", "−"), how) for name, change, how in rows]


def ground_mm(fitted: Fitted) -> tuple[float, float]:
    """Where a leaning wheel's centre plane meets the ground: outboard of the mounting face, and below the hub [mm].

    The radius is half of the nominal diameter: a loaded tyre stands about 3 % lower (common practice).

    >>> from rimcore.wheels.tyre import parse_tyre
    >>> from rimcore.wheels.wheel import parse_wheel
    >>> [round(value, 1) for value in ground_mm(Fitted(parse_wheel("17x8 +40"), parse_tyre("225/45R17"), camber_deg=-3.0))]
    [-23.3, 318.8]
    """
    radius, lean = fitted.tyre.diameter_mm / 2, math.radians(fitted.camber_deg)
    cos, sin = math.cos(lean), math.sin(lean)
    return fitted.centre_mm * cos - radius * sin, radius * cos + fitted.centre_mm * sin


def scrub_radius_mm(fitted: Fitted, kpi_deg: float, kingpin_inboard_mm: float) -> float:
    """Distance at the ground from the steering axis to the tyre's centre plane, outboard positive [mm].

    Parameters
    ----------
    fitted : its camber counts: a top that leans in carries the contact outboard
    kpi_deg : top inboard positive [deg]
    kingpin_inboard_mm : from the mounting face to the axis at hub height [mm]

    Source: plane geometry, as in Gillespie, Fundamentals of Vehicle Dynamics, chapter 8 (definition).

    Examples
    --------
    >>> from rimcore.wheels.tyre import parse_tyre
    >>> from rimcore.wheels.wheel import parse_wheel
    >>> round(scrub_radius_mm(Fitted(parse_wheel("17x8 +40"), parse_tyre("225/45R17")), 12.0, 100.0), 1)
    -7.4
    >>> round(scrub_radius_mm(Fitted(parse_wheel("17x8 +40"), parse_tyre("225/45R17"), camber_deg=-3.0), 12.0, 100.0), 1)
    8.9
    """
    across, below = ground_mm(fitted)
    return across + kingpin_inboard_mm - below * math.tan(math.radians(kpi_deg))


def ratio_change_pct(front_before: Fitted, rear_before: Fitted, front_after: Fitted, rear_after: Fitted) -> float:
    """Change of the front to rear ratio of rolling circumferences [%].

    >>> from rimcore.wheels.tyre import parse_tyre
    >>> from rimcore.wheels.wheel import parse_wheel
    >>> wheel = parse_wheel("18x9 +30")
    >>> front, rear = Fitted(wheel, parse_tyre("265/35R18")), Fitted(wheel, parse_tyre("265/30R18"))
    >>> round(ratio_change_pct(front, front, front, rear), 2)
    4.3
    """
    before = front_before.tyre.diameter_mm / rear_before.tyre.diameter_mm
    after = front_after.tyre.diameter_mm / rear_after.tyre.diameter_mm
    return (after / before - 1) * 100


def stance(
    before: Fitted, after: Fitted, axis: Axis, other_before: Fitted | None, other_after: Fitted | None
) -> Stance:
    """Everything that hangs on where one corner's wheel stands, against the baseline.

    Parameters
    ----------
    other_before, other_after : what stands on the other axle, for the ratio of circumferences
    """
    known = axis.kpi_deg is not None and axis.kingpin_inboard_mm is not None
    kpi, kingpin = axis.kpi_deg or 0.0, axis.kingpin_inboard_mm or 0.0
    shift = after.centre_mm - before.centre_mm
    old, new = before.tyre.diameter_mm, after.tyre.diameter_mm
    tan = None if axis.caster_deg is None else math.tan(math.radians(axis.caster_deg))
    return Stance(
        scrub_before_mm=scrub_radius_mm(before, kpi, kingpin) if known else None,
        scrub_after_mm=scrub_radius_mm(after, kpi, kingpin) if known else None,
        trail_before_mm=None if tan is None else ground_mm(before)[1] * tan,
        trail_after_mm=None if tan is None else ground_mm(after)[1] * tan,
        track_change_mm=2 * shift,
        lever_change_mm=shift,
        revs_before_per_km=1e6 / (ROLLING * old),
        revs_after_per_km=1e6 / (ROLLING * new),
        odometer_pct=(old / new - 1) * 100,
        ratio=ratio_judgement(before, other_before, after, other_after),
    )


def ratio_judgement(
    before: Fitted, other_before: Fitted | None, after: Fitted, other_after: Fitted | None
) -> Judgement:
    """Front to rear ratio of rolling circumferences against the original, for cars whose electronics compare the axles."""
    name = "Circumference, this axle to the other"
    if other_before is None or other_after is None:
        return unmeasured(
            "tyre.ratio",
            name,
            "the other axle's tyres are not written",
            ["car.tyres"],
            ["write the tyres of both axles"],
        )
    change = ratio_change_pct(before, other_before, after, other_after)
    state: State = "clear" if abs(change) <= RATIO_CLEAR_PCT else "tight"
    reason = f"{change:+.1f} % against the original ratio"
    if abs(change) > RATIO_TIGHT_PCT:
        reason += "; stability or four-wheel-drive electronics are likely to object"
    return Judgement(
        "tyre.ratio",
        name,
        state,
        reason,
        COMMON_PRACTICE,
        value=change,
        unit="%",
        held_against=RATIO_CLEAR_PCT,
        margin=RATIO_CLEAR_PCT - abs(change),
        formula="(this ÷ other, now) ÷ (this ÷ other, before) − 1",
        inputs=(
            InputUsed("this axle", f"{before.tyre.size} → {after.tyre.size}"),
            InputUsed("other axle", f"{other_before.tyre.size} → {other_after.tyre.size}"),
        ),
        remedies=() if state == "clear" else ("tyres of the same change on both axles",),
    )
