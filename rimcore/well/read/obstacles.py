"""Readings of one corner as obstacles that the moving wheel may meet: lip, damper, liner, rail, arms."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from rimcore.well.read.measured import Reading, placeable, placed
from rimcore.well.read.travel import Motion
from rimcore.well.solid.gap import hub_points
from rimcore.well.solid.wheel_plane import Hinge, ReadAt, Thing

Array = NDArray[np.float64]


#: places whose obstacles the wheel moves against; a strut's damper and the perch ride along
MOVED_AGAINST = frozenset({"damper", "arch", "liner", "rail", "arm"})


#: readings of the lip further apart than this say nothing of what lies between [hours of the clock] (common practice)
JOINED_HOURS = 2.01


#: way along the lip from one of its points to the next [mm]
LIP_STEP_MM = 5.0


#: how far a lip read at two places only may bow between them, as a share of the way (common practice)
BOW_SHARE = 0.01


@dataclass(frozen=True)
class Lip:
    """The lip at one reading and half way to its neighbours.

    ``points_mm`` (n, 3) in body axes, in order along the lip; ``between`` (n,) is the share of the way to the
    neighbour; ``bow_mm`` (n, 2) how far the lip may lie off there, sideways and radially.
    """

    points_mm: Array
    between: Array
    bow_mm: Array


def things_of(readings: Sequence[Reading], motion: Motion, lip_rolled_mm: float = 0.0) -> list[tuple[Reading, Thing]]:
    """Obstacles on body and arms of one corner, with the reading behind each.

    The arch lip is drawn through neighbouring readings, each taking it half way to the next; a damper on
    the body goes on upward from where it was read to the height of the tyre's widest point. An arm whose
    pivot and joint are not measured, or can't follow the wheel's travel, stands still.

    Source: straight lines between what was read.

    Parameters
    ----------
    readings : of the corner
    motion : how it moves
    lip_rolled_mm : how far the arch lip is rolled, 0 or more [mm]
    """
    found = []
    lip = sorted((r for r in readings if r.station.place == "arch" and placeable(r)), key=_hours)
    for reading in readings:
        if reading.station.place not in MOVED_AGAINST or not placeable(reading) or placed(reading).frame == "knuckle":
            continue
        if reading.station.place == "arch":
            run = lip_of(reading, lip)
            points = run.points_mm + np.array([0.0, lip_rolled_mm, 0.0])
            found.append((reading, Thing(reading.code, "body", points, between=run.between, loose_mm=run.bow_mm)))
            continue
        found.append((reading, _one(reading, motion)))
    return found


def hinge_of(reading: Reading, motion: Motion) -> Hinge | None:
    """The hinge with which a reading's obstacle turns.

    None for what stands still, and where the arm can't follow the travel.
    """
    if reading.station.place != "arm" or motion.hinge is None:
        return None
    return motion.hinge if all(motion.hinge.reaches(motion.droop_mm or 0.0, motion.bump_mm or 0.0)) else None


def _one(reading: Reading, motion: Motion) -> Thing:
    points = placed(reading).points_mm
    lifted = np.zeros((1, 3))
    if reading.station.place == "damper":
        lifted = _lifted(reading)
        points = points + lifted
    hinge, travel = hinge_of(reading, motion), reading.pose.travel_mm
    read = _read_at(reading, lifted)
    if hinge is not None and travel:
        points = hinge.turned(points, 0.0, travel)
    return Thing(reading.code, "arm" if hinge else "body", points, hinge=hinge, read=read)


def _read_at(reading: Reading, shift_mm: Array) -> ReadAt | None:
    """With the wheel straight and as it stands no steering axis matters to where the point lies."""
    if not reading.pose.steer_deg and not reading.raised_mm:
        return None
    hub = hub_points(reading.present, reading.station, reading.gap_mm)
    pose = reading.pose
    return ReadAt(
        hub,
        reading.present.camber_deg,
        pose.steer_deg,
        pose.travel_mm,
        reading.raised_mm,
        shift_mm + np.array(reading.moved_mm),
    )


def _hours(reading: Reading) -> float:
    clock = reading.station.clock or 12.0
    return clock if clock <= 3 else clock - 12


def lip_of(reading: Reading, lip: Sequence[Reading]) -> Lip:
    """The lip at a reading and half way to its neighbours, along the arc about the hub.

    Parameters
    ----------
    lip : all readings of the lip of this corner, in order along it
    """
    place = next(k for k, other in enumerate(lip) if other is reading)
    sides = [
        other
        for other in (place - 1, place + 1)
        if 0 <= other < len(lip) and abs(_hours(lip[other]) - _hours(reading)) <= JOINED_HOURS
    ]
    own = placed(reading).points_mm
    parts = [(own, np.zeros(1), np.zeros((1, 2)))]
    for other in sides:
        arc = _half_way(own[0], placed(lip[other]).points_mm[0])
        bow = _bow_mm(lip, place, other)
        along = 4 * arc[1] * (1 - arc[1])
        part = arc[0], arc[1], along[:, None] * bow
        parts = [tuple(one[::-1] for one in part), *parts] if other < place else [*parts, part]  # type: ignore[list-item]
    points, between, bows = (np.concatenate([part[k] for part in parts]) for k in range(3))
    return Lip(points, between, bows)


def _half_way(start: Array, end: Array) -> tuple[Array, Array]:
    """Points from a reading half way to the next, without the reading itself, and their shares of the way."""
    a, b = _polar(start), _polar(end)
    way = abs(b[0] - a[0]) * (a[1] + b[1]) / 2
    count = max(1, math.ceil(max(way, abs(float(end[1] - start[1]))) / 2 / LIP_STEP_MM))
    share = np.linspace(0.0, 0.5, count + 1)[1:]
    angle, radius = (low + share * (high - low) for low, high in zip(a, b, strict=True))
    return np.column_stack(
        [radius * np.sin(angle), start[1] + share * (end[1] - start[1]), radius * np.cos(angle)]
    ), share


def _polar(point: Array) -> tuple[float, float]:
    return math.atan2(point[0], point[2]), math.hypot(point[0], point[2])


def _bow_mm(lip: Sequence[Reading], place: int, other: int) -> Array:
    """How far the lip may bow half way between two readings, sideways and radially [mm].

    From how much the lip bends at a reading that has neighbours on both sides (an eighth of the second
    difference, the sagitta of a parabola); with two readings only, a share of the way between them.
    """
    points = [placed(reading).points_mm[0] for reading in lip]
    plain = np.array([[point[1], _polar(point)[1]] for point in points])
    bends = []
    for middle in (place, other):
        near = [
            k
            for k in (middle - 1, middle + 1)
            if 0 <= k < len(lip) and abs(_hours(lip[k]) - _hours(lip[middle])) <= JOINED_HOURS
        ]
        if len(near) == 2:
            bends.append(np.abs(plain[near[0]] - 2 * plain[middle] + plain[near[1]]) / 8)
    if bends:
        return np.asarray(np.max(bends, axis=0))
    way = float(np.linalg.norm(points[place] - points[other]))
    return np.full(2, BOW_SHARE * way)


def _lifted(reading: Reading) -> Array:
    """A damper goes on upward from where it was read: past the rim's flange to the tyre's widest point.

    Shape (n, 3) [mm].
    """
    shape, height = reading.present.outline, reading.station.height_mm or 0.0
    heights = [height, *(h for h in (shape.flange_radius_mm, shape.widest_radius_mm) if h > height)]
    return np.array([[0.0, 0.0, h - height] for h in heights])
