"""What is not exactly known, carried into the ± of a gap: rule, tyres, camber, camber gain, steering axis."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from rimcore.well.read.measured import Candidate, Reading, placed, side_uncertainty_mm, tyre_key
from rimcore.well.read.travel import Doubt, Motion
from rimcore.well.solid.carry import Stand
from rimcore.well.solid.gap import hub_axes
from rimcore.well.solid.wheel_plane import Hinge
from rimcore.wheels.fitted import Fitted
from rimcore.wheels.outline import Outline

Array = NDArray[np.float64]


#: sources of doubt, in the order in which their shares come back
SOURCES = (
    "rule",
    "rule, upward",
    "tyre read against",
    "camber",
    "camber of the build",
    "camber gain",
    "kpi",
    "caster",
    "kingpin distance",
    "toe over travel",
    "track over travel",
)


@dataclass(frozen=True)
class Facing:
    """How an obstacle's point and the candidate's outline face each other where the gap is smallest.

    ``steer_deg`` and ``travel_mm`` are the pose; ``across`` and ``radial`` the change of the gap per mm by
    which the point moves outboard and away from the axle; ``foot_mm`` where on the outline (across, radius).
    """

    reading: Reading
    steer_deg: float
    travel_mm: float
    across: float
    radial: float
    foot_mm: tuple[float, float]
    between: float = 0.0
    bow_mm: tuple[float, float] = (0.0, 0.0)
    hinge: Hinge | None = None
    #: held against the greatest width, which may be the tyre's or the rim's
    widest: bool = False


@dataclass(frozen=True)
class Share:
    """What one source adds to the ± of a gap [mm]."""

    source: str
    mm: float


@dataclass(frozen=True)
class Known:
    """± of a gap [mm] with the shares that make it up, largest first."""

    mm: float
    shares: tuple[Share, ...]

    @property
    def text(self) -> str:
        """The shares as a sum of squares.

        >>> Known(5.0, (Share("rule", 4.0), Share("tyre", 3.0))).text
        'rule 4.0 mm, tyre 3.0 mm; ± is the root of their squares'
        """
        named = ", ".join(f"{share.source} {share.mm:.1f} mm" for share in self.shares if share.mm >= 0.05)
        return f"{named}; ± is the root of their squares" if named else ""


def same_carcass(one: Fitted, other: Fitted) -> bool:
    """Would both tyres be off by the same amount: the same size, known in the same way?

    Common practice: what is not known of a size is how large its carcass is made, and that is the same for
    the next tyre of the size and on the next rim.

    >>> from rimcore.wheels.tyre import parse_tyre
    >>> from rimcore.wheels.wheel import parse_wheel
    >>> on_car = Fitted(parse_wheel("16x7 +42"), parse_tyre("205/55R16"))
    >>> same_carcass(on_car, replace(on_car, wheel=parse_wheel("16x6.5 +50")))
    True
    """
    if (one.tyre.section_width_mm, one.tyre.aspect_pct, one.tyre.rim_diameter_in) != (
        other.tyre.section_width_mm,
        other.tyre.aspect_pct,
        other.tyre.rim_diameter_in,
    ):
        return False
    if one.profile_mm is not None or other.profile_mm is not None:
        return one.profile_mm == other.profile_mm
    if (one.grown_doubt_mm is None) != (other.grown_doubt_mm is None):
        return False
    return (one.measured_section_mm is None) == (other.measured_section_mm is None)


def grows(shape: Outline, foot_mm: tuple[float, float]) -> float:
    """How much nearer the outline comes at a place when its tyre is 1 mm larger all round; 0 on the rim.

    Source: plane geometry.

    Parameters
    ----------
    shape : half section of tyre and rim
    foot_mm : point of it that is nearest (across, radius) [mm]

    >>> plain = Outline(225, 317.15, 191, 190.5, 107.95, 215.9)
    >>> grows(plain, (0.0, 317.0)), grows(plain, (107.95, 220.0)), grows(plain, (-112.5, 270.0))
    (1.0, 0.0, 1.0)
    """
    across, radius = abs(foot_mm[0]), foot_mm[1]
    flange, widest = shape.flange_radius_mm, shape.widest_radius_mm
    if radius <= flange + 0.05:
        return 0.0
    if radius >= widest:
        return 1.0
    foot, half = shape.rim_width_mm / 2, shape.section_mm / 2
    return (
        float(np.clip((across - foot) / (half - foot), 0.0, 1.0))
        if abs(half - foot) > 1.0
        else (radius - flange) / (widest - flange)
    )


def _axes_with(reading: Reading, grown_mm: float, rule_mm: float, up_mm: float) -> tuple[float, float]:
    """(u, ρ) of a reading's point [mm] if the tyre were larger, and the rule had read more."""
    station, gap, present = reading.station, reading.gap_mm, reading.present
    if rule_mm or up_mm:
        if station.place == "arch":
            station = replace(
                station,
                side_gap_mm=(station.side_gap_mm or 0.0) + rule_mm,
                up_gap_mm=(station.up_gap_mm or 0.0) + up_mm,
            )
        else:
            gap = None if gap is None else gap + rule_mm
    if grown_mm:
        present = larger(present, grown_mm)
    u, rho, _ = hub_axes(present, station, gap)
    return u, rho


def larger(fitted: Fitted, by_mm: float) -> Fitted:
    """What stands on a corner with its tyre larger by an amount all round.

    Source: plane geometry.

    Parameters
    ----------
    fitted : tyre on rim, at a corner
    by_mm : all round; minus is smaller [mm]

    >>> from rimcore.wheels.tyre import parse_tyre
    >>> from rimcore.wheels.wheel import parse_wheel
    >>> on_car = Fitted(parse_wheel("16x7 +42"), parse_tyre("205/55R16"), measured_section_mm=206.0)
    >>> round(larger(on_car, 1.0).outline.crown_mm - on_car.outline.crown_mm, 6), larger(on_car, 1.0).outline.section_mm
    (1.0, 208.0)
    """
    if fitted.profile_mm is not None:
        middle = fitted.outline.seat_radius_mm
        grown = tuple(
            (
                across + math.copysign(by_mm, across) if abs(across) > 1.0 else across,
                radius + by_mm if radius > middle + 20 else radius,
            )
            for across, radius in fitted.profile_mm
        )
        return replace(fitted, profile_mm=grown)
    return replace(fitted, grown_mm=fitted.grown_mm + by_mm)


def known_mm(facings: Sequence[Facing], candidate: Candidate, motion: Motion) -> list[Known]:
    """± of gaps at one corner: every source moved by its own ±, one after the other.

    Where the rule was held against the tyre and the same carcass stays, its error counts once, with both
    of its effects: beside the same sidewall they cancel, at the tread or the rim they don't. A lip between
    two readings rests on both, and may bow.

    Returns
    -------
    list of Known, in the order of ``facings``; common practice: shares that don't depend on each other add as squares
    """
    if not facings:
        return []
    moved = _moved(facings, candidate, motion)
    count = len(SOURCES)
    found = []
    for facing, shifts in zip(facings, moved, strict=True):
        changes = facing.across * shifts[:, 0] + facing.radial * shifts[:, 1]
        own = dict(zip(SOURCES, changes[:count].tolist(), strict=True))
        found.append(_summed(facing, own, changes[count:], candidate, motion))
    return found


def _summed(facing: Facing, own: dict[str, float], per_mm: Array, candidate: Candidate, motion: Motion) -> Known:
    """``per_mm`` is the change of the gap as the obstacle is shifted by 1 mm along x, y, z."""
    reading, fitted = facing.reading, candidate.fitted
    side = side_uncertainty_mm(fitted)
    effect = -grows(fitted.outline, facing.foot_mm) * side
    if facing.widest:
        effect = -(larger(fitted, side).outline.outermost_mm - larger(fitted, -side).outline.outermost_mm) / 2
    read = own.pop("tyre read against")
    if reading.spread_mm2 is not None:
        return _weighed(facing, own, per_mm, effect, candidate)
    if same_carcass(reading.present, fitted):
        own["tyre"] = read * side / max(side_uncertainty_mm(reading.present), 1e-9) + effect
    else:
        own |= {"tyre read against": read, "tyre of the part": effect}
    stood = reading.present.camber_deg - (motion.camber_gain_deg_per_mm or 0.0) * reading.raised_mm
    if abs(fitted.camber_deg - stood) < 1e-6:
        # The gauge that read the camber then is off by the same now.
        own["camber"] += own.pop("camber of the build")
    shared = math.hypot(1 - facing.between, facing.between)
    own["rule"] *= shared
    own["rule, upward"] *= shared
    own["lip between readings"] = math.hypot(facing.across * facing.bow_mm[0], facing.radial * facing.bow_mm[1])
    shares = sorted((Share(name, abs(mm)) for name, mm in own.items() if abs(mm) > 1e-9), key=lambda share: -share.mm)
    return Known(math.sqrt(sum(share.mm**2 for share in shares)), tuple(shares))


def _weighed(facing: Facing, own: dict[str, float], per_mm: Array, effect_mm: float, candidate: Candidate) -> Known:
    """± of a gap whose obstacle trial fits have placed: what they know of obstacle and tyre hangs together."""
    reading, fitted = facing.reading, candidate.fitted
    variance = float(per_mm @ np.array(reading.spread_mm2).reshape(3, 3) @ per_mm) + effect_mm**2
    tie = dict(reading.tied_mm2).get(tyre_key(fitted) or ("", 0.0)) if fitted.grown_doubt_mm is not None else None
    if tie is not None:
        variance += 2 * effect_mm / max(side_uncertainty_mm(fitted), 1e-9) * float(per_mm @ np.array(tie))
    others = [Share(name, abs(mm)) for name, mm in own.items() if not name.startswith("rule") and abs(mm) > 1e-9]
    shares = sorted(
        (Share("trial fits, with the tyre", math.sqrt(max(variance, 0.0))), *others), key=lambda share: -share.mm
    )
    return Known(math.sqrt(sum(share.mm**2 for share in shares)), tuple(shares))


def _moved(facings: Sequence[Facing], candidate: Candidate, motion: Motion) -> Array:
    """How far each source moves each point in the candidate's plane, half of plus less minus.

    Shape (n, sources, 2) [mm].
    """
    # The last three shift the obstacle itself by 1 mm along each axis.
    doubt, count = motion.doubt, len(SOURCES) + 3
    u, rho = np.empty((2, len(facings), 2 * count))
    for row, facing in enumerate(facings):
        u[row], rho[row] = _placed_with(facing.reading, count)
    shift = np.zeros((3, 2 * count))
    for axis in range(3):
        shift[axis, count - 3 + axis], shift[axis, 2 * count - 3 + axis] = 1.0, -1.0
    across, radius = _carried(facings, candidate, motion, (u, rho), _steps(doubt, count), shift)
    return np.stack([(across[:, :count] - across[:, count:]) / 2, (radius[:, :count] - radius[:, count:]) / 2], axis=2)


@lru_cache(maxsize=1024)
def _placed_with(reading: Reading, count: int) -> tuple[Array, Array]:
    """(u, ρ) of a reading for every source up, then every source down; shape (2 × sources,)."""
    u0, rho0 = _axes_with(reading, 0.0, 0.0, 0.0)
    u, rho = np.full(2 * count, u0), np.full(2 * count, rho0)
    if reading.station.place in ("caliper", "joint"):
        return u, rho
    rule, side = reading.uncertainty_mm, 0.0 if reading.corrected else side_uncertainty_mm(reading.present)
    up = rule if reading.station.place == "arch" else 0.0
    for k, way in ((0, 1.0), (count, -1.0)):
        u[k], rho[k] = _axes_with(reading, 0.0, way * rule, 0.0)
        u[k + 1], rho[k + 1] = _axes_with(reading, 0.0, 0.0, way * up)
        if side:
            u[k + 2], rho[k + 2] = _axes_with(reading, way * side, 0.0, 0.0)
    return u, rho


def _steps(doubt: Doubt, count: int) -> dict[str, Array]:
    """Of each source up, then down, how far it moves camber, gain and axis; shape (2 × sources,)."""
    found = {
        name: np.zeros(2 * count) for name in ("camber", "built", "gain", "kpi", "caster", "kingpin", "toe", "track")
    }
    amounts = (
        doubt.camber_deg,
        doubt.camber_deg,
        doubt.gain_deg_per_mm,
        doubt.kpi_deg,
        doubt.caster_deg,
        doubt.kingpin_mm,
        doubt.toe_deg_per_mm,
        doubt.track_mm_per_mm,
    )
    for place, (name, amount) in enumerate(zip(found, amounts, strict=True), start=3):
        found[name][place], found[name][count + place] = amount, -amount
    return found


def _carried(
    facings: Sequence[Facing],
    candidate: Candidate,
    motion: Motion,
    axes: tuple[Array, Array],
    steps: dict[str, Array],
    by: Array,
) -> tuple[Array, Array]:
    """(across, radius) of points [mm] in the candidate's plane, for changed readings, cambers, gains, axes and shifts."""
    u, rho = axes
    readings = [facing.reading for facing in facings]
    phi = np.array(
        [
            [hub_axes(r.present, r.station, r.gap_mm)[2]] if r.station.place not in ("caliper", "joint") else [0.0]
            for r in readings
        ]
    )
    frames = [placed(reading).frame for reading in readings]
    hub = rho * np.sin(phi), u + _column(r.present.centre_mm for r in readings), rho * np.cos(phi)
    gain = motion.camber_gain_deg_per_mm or 0.0
    axis = (
        (motion.kpi_deg or 0.0) + steps["kpi"],
        (motion.caster_deg or 0.0) + steps["caster"],
        (motion.kingpin_inboard_mm or 0.0) + steps["kingpin"],
    )
    raised = _column(r.raised_mm for r in readings)
    read = Stand(
        _column(r.present.camber_deg for r in readings) + steps["camber"] + steps["gain"] * raised,
        _column(r.pose.steer_deg for r in readings) + steps["toe"] * raised,
        _column(r.pose.travel_mm for r in readings),
        *axis,
    )
    x, y, z = read.to_body(hub)
    y = y + steps["track"] * raised
    shift = np.array([r.moved_mm for r in readings])
    x, y, z = x + shift[:, :1] + by[0], y + shift[:, 1:2] + by[1], z + shift[:, 2:] + by[2]
    for row, facing in enumerate(facings):
        if facing.hinge is not None:
            turned = facing.hinge.turned(
                np.column_stack([x[row], y[row], z[row]]), facing.travel_mm, facing.reading.pose.travel_mm
            )
            x[row], y[row], z[row] = turned.T
    travel = _column(facing.travel_mm for facing in facings)
    rest = candidate.levers.ride_drop_mm
    camber = candidate.fitted.camber_deg + steps["built"] + (gain + steps["gain"]) * (travel - rest)
    steer = _column(facing.steer_deg for facing in facings) + steps["toe"] * (travel - rest)
    x, y, z = Stand(camber, steer, travel, *axis).to_hub((x, y - steps["track"] * (travel - rest), z))
    rides = np.array([[frame == "knuckle"] for frame in frames])
    # What rides along is shifted in the hub's own axes.
    hx, hy, hz = (np.asarray(hub[k] + shift[:, k : k + 1] + by[k]) for k in range(3))
    across = np.where(rides, hy, y) - candidate.fitted.centre_mm
    radius = np.where(rides, np.hypot(hx, hz), np.hypot(x, z))
    return np.asarray(across), np.asarray(radius)


def _column(values: Iterable[float]) -> Array:
    return np.fromiter(values, dtype=np.float64)[:, None]
