"""A steering axis or a camber gain that nobody measured: what a gap may be over all that is usual."""

from __future__ import annotations

import itertools
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import ndimage

from rimcore.quantities.judgement import State
from rimcore.well.read.stations import STATIONS
from rimcore.well.solid.carry import Stand, Triple
from rimcore.well.solid.polygon import signed_distance
from rimcore.well.solid.table import TABLE_REACH_MM, shape_of
from rimcore.well.solid.wheel_plane import Thing, Well, hinges_of

Array = NDArray[np.float64]


Places = NDArray[np.intp]


#: what is usual on cars (common practice): field of the well -> (lowest, highest)
USUAL: dict[str, tuple[float, float]] = {
    "kingpin_inboard_mm": (60.0, 180.0),
    "kpi_deg": (4.0, 16.0),
    "caster_deg": (0.0, 10.0),
    "camber_gain_deg_per_mm": (-0.04, 0.01),
}


#: the same in words, with the station that measures it
AXIS_NAMES = {
    "kingpin_inboard_mm": "kingpin distance",
    "kpi_deg": "kingpin inclination",
    "caster_deg": "caster",
    "camber_gain_deg_per_mm": "camber gain",
}


#: what a judgement over unknown axes rests on
FOR_EVERY_AXIS = "across the usual range of axes and camber gain (common practice)"


#: poses on which the search for the smallest gap starts, for every axis that is tried
STEER_COUNT, TRAVEL_COUNT = 19, 11


#: rounds of the search, and how many starts of each obstacle it follows
ROUNDS, STARTS, NARROWER, LAST = 26, 20, 0.45, 3e-3


#: most that a start may gain while its steps are as wide as the grid's [mm]
PER_STEP_MM = 60.0


#: directions across all dimensions, others in every round: along a crease no single dimension leads down
_ASKEW = np.random.default_rng(20).normal(0.0, 0.5, (ROUNDS, 6, 6))


def unknown_of(given: Mapping[str, float | None], steers: bool, travels: bool) -> tuple[str, ...]:
    """What is not measured and matters: the axis where the wheel steers, the camber gain where it travels.

    Source: none; what a pose needs.

    Parameters
    ----------
    given : values by name, None where not read
    steers : whether the wheel steers
    travels : whether it travels

    >>> unknown_of({"kpi_deg": 12.0, "kingpin_inboard_mm": None}, True, False)
    ('kingpin_inboard_mm', 'caster_deg')
    """
    matters = {name: travels if name == "camber_gain_deg_per_mm" else steers for name in USUAL}
    return tuple(name for name in USUAL if matters[name] and given.get(name) is None)


def usual_values(names: Sequence[str]) -> list[dict[str, float]]:
    """Corners and middle of what is usual of some unknowns.

    >>> usual_values(("kpi_deg",))
    [{'kpi_deg': 4.0}, {'kpi_deg': 16.0}, {'kpi_deg': 10.0}]
    """
    return [
        {
            name: USUAL[name][0] + float(share) * (USUAL[name][1] - USUAL[name][0])
            for name, share in zip(names, unit, strict=True)
        }
        for unit in _samples(len(names))
    ]


@dataclass(frozen=True)
class Usual:
    """Smallest gap over all poses, of the worst and of the best usual axis [mm], and what narrows it.

    ``lo_mm`` is never told beyond the reach of the table of distances (150 mm): so much there is at least. ``narrows``
    names what is unknown with how much narrower the range becomes once it is measured [mm], most first.
    """

    lo_mm: float
    hi_mm: float
    narrows: tuple[tuple[str, float], ...]


#: a range nearer than this to the gap reckoned without an axis doesn't depend on it [mm]
SAME_MM = 0.05


def depends(usual: Usual, gap_mm: float) -> Usual | None:
    """The range of a gap, where it depends on what is unknown at all.

    Source: none; a comparison.

    Parameters
    ----------
    usual : range of the gap over usual axes
    gap_mm : with the axis that is taken; None where none is [mm]

    >>> depends(Usual(4.0, 4.0, ()), 4.01) is None
    True
    """
    return None if max(abs(usual.lo_mm - gap_mm), abs(usual.hi_mm - gap_mm)) <= SAME_MM else usual


def state_of_usual(lo_mm: float, hi_mm: float, margin_mm: float, uncertainty_mm: float = 0.0) -> State:
    """``hit`` where every usual axis overlaps, ``clear`` where every one keeps the margin, else ``unmeasured``.

    Source: the judgement's own rule, as ``state_of_gap``.

    Parameters
    ----------
    lo_mm : least gap over the usual axes [mm]
    hi_mm : most [mm]
    margin_mm : wanted, 0 or more [mm]
    uncertainty_mm : ± of the gap, 0 or more [mm]

    >>> state_of_usual(-4.0, -1.0, 5.0), state_of_usual(6.0, 30.0, 5.0), state_of_usual(2.0, 30.0, 5.0)
    ('hit', 'clear', 'unmeasured')
    """
    if hi_mm < 0:
        return "hit"
    return "clear" if lo_mm - uncertainty_mm >= margin_mm - 1e-9 else "unmeasured"


class Usuals:
    """Obstacles over the poses for a set of usual axes; serves every wheel and tyre at one camber, height and range."""

    def __init__(self, well: Well, things: Sequence[Thing], names: Sequence[str], rest_mm: float = 0.0) -> None:
        """``names`` are unknown; ``rest_mm`` is the travel at which the well's camber is known whatever the gain."""
        self.well, self.names, self.rest = well, tuple(names), rest_mm
        self.low = np.array([USUAL[name][0] for name in names])
        self.wide = np.array([USUAL[name][1] - USUAL[name][0] for name in names])
        self.units = _samples(len(names))
        counts = [len(thing.points_mm) for thing in things]
        self.starts = np.cumsum([0, *counts[:-1]])
        self.owner = np.repeat(np.arange(len(things)), counts)
        self.radii = np.repeat([thing.radius_mm for thing in things], counts)
        self.read = _Readings(things)
        self.hinges = hinges_of(things)
        self.steer = _values(-well.steer_in_deg, well.steer_out_deg, STEER_COUNT)
        self.travel = _values(-well.droop_mm, well.bump_mm, TRAVEL_COUNT)
        steer, travel = (values.ravel() for values in np.meshgrid(self.steer, self.travel))
        self.pose_steer, self.pose_travel = steer, travel
        rows = np.arange(len(self.owner))[None, :, None]
        #: shape (axes, points, poses)
        self.across, self.radius = self._plane(
            rows, steer[None, None, :], travel[None, None, :], self.units[:, None, None, :]
        )

    def ranges(self, outline_mm: Array, centre_mm: float) -> list[Usual]:
        """The range of every obstacle's smallest gap, for one outline at one place.

        Examples
        --------
        >>> disc = np.array([[-100.0, 100.0], [-100.0, 300.0], [100.0, 300.0], [100.0, 100.0]])
        >>> post = Thing("post", "body", np.array([[0.0, -180.0, 0.0]]))
        >>> found = Usuals(Well(0.0, steer_in_deg=10.0), [post], ("kingpin_inboard_mm",)).ranges(disc, 0.0)[0]
        >>> found.lo_mm < found.hi_mm, found.narrows[0][0]
        (True, 'kingpin_inboard_mm')
        """
        about = self._about(outline_mm, self.across - centre_mm, self.radius)
        least, row, pose = self._least(about)
        lows = self._lows(outline_mm, centre_mm, about)
        highs = self._highs(outline_mm, centre_mm, least, row, pose)
        # Beyond the table nothing leads the search down: its end is told, which the least gap is never under.
        ends = TABLE_REACH_MM - self.radii[self.starts]
        return [
            Usual(min(lo, hi, float(ends[k])), hi, self._narrows(least[:, k]))
            for k, (lo, hi) in enumerate(zip(lows, highs, strict=True))
        ]

    def rough(self, outline_mm: Array, centre_mm: float) -> list[Usual]:
        """The same over a grid of poses and the corners of the box only.

        A few millimetres too narrow, ten times as fast.
        """
        least, _, _ = self._least(self._about(outline_mm, self.across - centre_mm, self.radius))
        return [Usual(float(each.min()), float(each.max()), ()) for each in least.T]

    def _about(self, outline_mm: Array, across: Array, radius: Array) -> Array:
        """Gaps from the table of distances, shape (axes, points, poses)."""
        return np.asarray(shape_of(outline_mm).roughly(across, radius) - self.radii[None, :, None])

    def _least(self, about: Array) -> tuple[Array, Places, Places]:
        """Smallest gap of every obstacle on the grid of poses, its point and its pose; all shape (axes, obstacles)."""
        poses = about.argmin(axis=2)
        each = np.take_along_axis(about, poses[:, :, None], axis=2)[:, :, 0]
        rows = np.empty((len(about), len(self.starts)), dtype=np.intp)
        for k, (first, last) in enumerate(zip(self.starts, [*self.starts[1:], each.shape[1]], strict=True)):
            rows[:, k] = first + each[:, first:last].argmin(axis=1)
        return np.take_along_axis(each, rows, axis=1), rows, np.take_along_axis(poses, rows, axis=1)

    def _values(self, unit: Array) -> dict[str, Array]:
        """The axis and the gain at places of the box, shape as ``unit`` without its last axis."""
        fixed = {name: np.asarray(getattr(self.well, name)) for name in USUAL}
        return fixed | {name: self.low[k] + self.wide[k] * unit[..., k] for k, name in enumerate(self.names)}

    def _plane(self, rows: Places, steer: Array, travel: Array, unit: Array) -> tuple[Array, Array]:
        """(u, ρ) of points in the wheel's plane; all broadcast, ``unit`` with the unknown on its last axis."""
        value = self._values(unit)
        axis = value["kpi_deg"], value["caster_deg"], value["kingpin_inboard_mm"]
        gain = value["camber_gain_deg_per_mm"]
        body = self.read.body(rows, axis, gain if "camber_gain_deg_per_mm" in self.names else np.zeros(1))
        if self.hinges is not None:
            body = self.hinges.carried(body, travel, rows, self.read.travel[rows])
        camber = self.well.camber_deg + gain * (travel - self.rest)
        if "camber_gain_deg_per_mm" not in self.names:
            camber = self.well.camber_deg + gain * travel
        x, across, z = Stand(camber, steer, travel, *axis).to_hub(body)
        return np.asarray(across), np.asarray(np.hypot(x, z))

    def _gaps(
        self, outline_mm: Array, centre_mm: float, rows: Places, steer: Array, travel: Array, unit: Array
    ) -> Array:
        across, radius = self._plane(rows[:, None], steer, travel, unit)
        flat = np.column_stack([(across - centre_mm).ravel(), radius.ravel()])
        return np.asarray(signed_distance(outline_mm, flat).reshape(across.shape) - self.radii[rows][:, None])

    def _lows(self, outline_mm: Array, centre_mm: float, about: Array) -> list[float]:
        """Least gap over poses and axes together.

        A walk in all of them from the low places of every point's own map.
        """
        maps = about.reshape(*about.shape[:2], len(self.travel), len(self.steer))
        low = (maps <= ndimage.minimum_filter(maps, size=(1, 1, 3, 3), mode="nearest")).reshape(about.shape)
        axes, rows, poses = np.nonzero(low)
        value = about[axes, rows, poses]
        chosen = []
        for k in range(len(self.starts)):
            mine = np.nonzero(self.owner[rows] == k)[0]
            chosen.append(mine[np.argsort(value[mine], kind="stable")[:STARTS]])
        at = np.concatenate(chosen)
        found = np.full(len(self.starts), np.inf)
        start = self.pose_steer[poses[at]], self.pose_travel[poses[at]], self.units[axes[at]]
        np.minimum.at(found, self.owner[rows[at]], self._walk(outline_mm, centre_mm, rows[at], *start, True))
        return [float(one) for one in found]

    def _highs(self, outline_mm: Array, centre_mm: float, least: Array, row: Places, pose: Places) -> list[float]:
        """The best usual axis: the largest of the axes' smallest gaps, each walked down in its poses."""
        found, axis = np.full(least.shape[1], -np.inf), np.zeros((least.shape[1], len(self.names)))
        order = np.argsort(-least, axis=0, kind="stable")
        for place in range(len(self.units)):
            # What an axis has on the grid is never less than what it has between; the rest can't be better.
            open_ = np.nonzero(least[order[place], np.arange(len(found))] > found)[0]
            if not len(open_):
                break
            axes = order[place][open_]
            rows, poses = row[axes, open_], pose[axes, open_]
            value = self._walk(
                outline_mm, centre_mm, rows, self.pose_steer[poses], self.pose_travel[poses], self.units[axes], False
            )
            better = value > found[open_]
            found[open_[better]], axis[open_[better]] = value[better], self.units[axes[better]]
        if (found < 0).any():
            found = self._climb(outline_mm, centre_mm, found, axis)
        return [float(one) for one in found]

    def _climb(self, outline_mm: Array, centre_mm: float, found: Array, axis: Array) -> Array:
        """What overlaps for every axis tried is tried once more for axes beside the best one."""
        count, everything = axis.shape[1], np.arange(len(found))
        rows = np.arange(len(self.owner))[None, :, None]
        for step in (0.3, 0.15):
            ways = np.vstack([np.eye(count), -np.eye(count)]) * step
            units = np.clip(axis[None] + ways[:, None, :], 0.0, 1.0)
            across, radius = self._plane(
                rows,
                self.pose_steer[None, None, :],
                self.pose_travel[None, None, :],
                units[:, self.owner][:, :, None, :],
            )
            least, row, pose = self._least(self._about(outline_mm, across - centre_mm, radius))
            best = least.argmax(axis=0)
            at = best, everything
            value = self._walk(
                outline_mm, centre_mm, row[at], self.pose_steer[pose[at]], self.pose_travel[pose[at]], units[at], False
            )
            better = value > found
            found, axis = np.where(better, value, found), np.where(better[:, None], units[at], axis)
        return found

    def _walk(
        self, outline_mm: Array, centre_mm: float, rows: Places, steer: Array, travel: Array, unit: Array, turn: bool
    ) -> Array:
        """Smallest gap near each start [mm]; ``turn`` lets the axis change too.

        Steps shrink where nothing is gained.
        """
        step_s, step_t = (float(np.diff(values).max(initial=0.0)) for values in (self.steer, self.travel))
        poses = list(itertools.product(*((0.0, -1.0, 1.0) if step else (0.0,) for step in (step_s, step_t))))
        plain = np.zeros((len(poses), 2 + unit.shape[1]))
        plain[:, :2] = poses
        if turn:
            each = np.eye(2 + unit.shape[1])[2:] * 0.5
            plain = np.vstack([plain, each, -each])
        wide, value = np.ones(len(rows)), np.full(len(rows), np.inf)
        start, found = np.arange(len(rows)), np.full(len(rows), np.inf)
        for turns in range(ROUNDS):
            ways = np.vstack([plain, _ASKEW[turns][:, : plain.shape[1]]]) if turn else plain
            s = np.clip(steer[:, None] + wide[:, None] * step_s * ways[:, 0], self.steer[0], self.steer[-1])
            t = np.clip(travel[:, None] + wide[:, None] * step_t * ways[:, 1], self.travel[0], self.travel[-1])
            u = np.clip(unit[:, None, :] + wide[:, None, None] * ways[:, 2:], 0.0, 1.0)
            gaps = self._gaps(outline_mm, centre_mm, rows, s, t, u)
            best, places = gaps.argmin(axis=1), np.arange(len(rows))
            gained = value - gaps[places, best]
            value, steer, travel, unit = gaps[places, best], s[places, best], t[places, best], u[places, best]
            wide = np.where(gained > 0.02, wide, wide * NARROWER)
            np.minimum.at(found, start, value)
            keep = wide >= LAST
            if turn:
                # A start is given up when its remaining steps can't bring it under the best of its obstacle.
                least = np.full(len(self.starts), np.inf)
                np.minimum.at(least, self.owner[rows], value)
                keep &= value - PER_STEP_MM * wide <= least[self.owner[rows]]
            rows, start, value, wide = rows[keep], start[keep], value[keep], wide[keep]
            steer, travel, unit = steer[keep], travel[keep], unit[keep]
            if not len(rows):
                break
        return found

    def _narrows(self, least: Array) -> tuple[tuple[str, float], ...]:
        """How much narrower the range becomes with each unknown measured, from the corners of the box."""
        whole = float(np.ptp(least))
        found = []
        for k, name in enumerate(self.names):
            left = [float(np.ptp(least[self.units[:, k] == end])) for end in (0.0, 1.0)]
            found.append((name, max(0.0, whole - sum(left) / 2)))
        return tuple(sorted(found, key=lambda one: -one[1]))


class _Readings:
    """Points of obstacles in body axes; those read at lock or raised stand elsewhere with another axis."""

    def __init__(self, things: Sequence[Thing]) -> None:
        parts = [thing.read for thing in things]
        self.moves = any(part is not None for part in parts)
        body = np.vstack([thing.points_mm for thing in things])
        self.fixed: Triple = (body[:, 0], body[:, 1], body[:, 2])
        self.travel = np.zeros(len(body))
        if not self.moves:
            return
        hub, self.camber, self.steer, self.travel, self.raised, shift = (
            np.concatenate(columns) for columns in zip(*(_columns(thing) for thing in things), strict=True)
        )
        self.hub, self.shift = (hub[:, 0], hub[:, 1], hub[:, 2]), (shift[:, 0], shift[:, 1], shift[:, 2])

    def body(self, rows: Places, axis: tuple[Array, Array, Array], gain: Array) -> Triple:
        """Where points stand in the body, for axes."""
        if not self.moves:
            return self.fixed[0][rows], self.fixed[1][rows], self.fixed[2][rows]
        stood = Stand(self.camber[rows] + gain * self.raised[rows], self.steer[rows], self.travel[rows], *axis)
        x, y, z = stood.to_body((self.hub[0][rows], self.hub[1][rows], self.hub[2][rows]))
        return x + self.shift[0][rows], y + self.shift[1][rows], z + self.shift[2][rows]


def _columns(thing: Thing) -> tuple[Array, Array, Array, Array, Array, Array]:
    """Of each point: in hub axes, camber, steer, travel and raised when read, and what is added afterwards."""
    count = len(thing.points_mm)
    if thing.read is None:
        zero = np.zeros(count)
        return thing.points_mm, zero, zero, zero, zero, np.zeros((count, 3))
    one = thing.read
    each = (np.full(count, value) for value in (one.camber_deg, one.steer_deg, one.travel_mm, one.raised_mm))
    return (np.broadcast_to(one.hub_mm, (count, 3)), *each, np.broadcast_to(one.shift_mm, (count, 3)))  # type: ignore[return-value]


def _samples(count: int) -> Array:
    """Corners of the unit box, its middle, and from three unknown on the middles of its faces; shape (n, count)."""
    corners = list(itertools.product((0.0, 1.0), repeat=count))
    rest = [(0.5,) * count]
    if count > 2:
        rest += [tuple(end if k == axis else 0.5 for k in range(count)) for axis in range(count) for end in (0.0, 1.0)]
    return np.array(corners + rest, dtype=float)


def _values(low: float, high: float, count: int) -> Array:
    values = np.linspace(low, high, count) if high > low else np.array([low])
    return np.unique(np.append(values, 0.0)) if low < 0 < high else values


#: station that measures what is unknown
AXIS_STATIONS = {
    "kingpin_inboard_mm": "kingpin",
    "kpi_deg": "kpi",
    "caster_deg": "caster",
    "camber_gain_deg_per_mm": "camber_bump",
}


def usual_text(usual: Usual, wanted_mm: float) -> str:
    """A gap over all usual axes, in words.

    Source: none; words.

    Parameters
    ----------
    usual : range of the gap
    wanted_mm : gap that is wanted, 0 or more [mm]

    >>> usual_text(Usual(2.0, 31.0, (("kingpin_inboard_mm", 22.0), ("kpi_deg", 3.0))), 10.0)
    '2 to 31 mm over every usual steering axis, wants 10.0 mm; measure the kingpin distance first, it narrows this by 22 mm'
    """
    lo, hi = (f"{round(value) + 0:d}".replace("-", "−") for value in (usual.lo_mm, usual.hi_mm))
    every = f"every usual {'camber gain' if [name for name, _ in usual.narrows] == ['camber_gain_deg_per_mm'] else 'steering axis'}"
    said = f"{lo} to {hi} mm over {every}, wants {wanted_mm:.1f} mm"
    if usual.hi_mm < 0:
        return f"overlaps for {every}, by {-usual.hi_mm:.1f} mm at least"
    if usual.lo_mm >= wanted_mm or not usual.narrows:
        return said
    name, by = usual.narrows[0]
    return f"{said}; measure the {AXIS_NAMES[name]} first, it narrows this by {by:.0f} mm"


#: a direction that takes less of the gap than this share is no way out of it
LEAST_SHARE = 0.3


def measure_first(usual: Usual) -> tuple[str, ...]:
    """What to measure, most useful first, and how."""
    return tuple(f"measure the {AXIS_NAMES[name]}: {STATIONS[AXIS_STATIONS[name]].how}" for name, _ in usual.narrows)
