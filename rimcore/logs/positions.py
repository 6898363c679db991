"""Positions over time: a track, with its speed and heading worked out where it does not say them."""

from __future__ import annotations

import io
import re
from dataclasses import dataclass
from datetime import datetime

import numpy as np
from numpy.typing import NDArray

from rimcore.quantities.errors import BadInput

Array = NDArray[np.float64]
#: fewer points than this are no track
LEAST_SAMPLES = 5
#: most characters of a tag, depth and number of elements of a track; from this depth on an element is let go when it ends
MOST_TAG, DEEPEST, MOST_ELEMENTS, POINT_DEPTH = 4000, 20, 3_000_000, 3

#: mean radius of the earth [m] (IUGG)
EARTH_M = 6_371_008.8


MOST_POINTS = 150_000


def read_gpx(text: str) -> tuple[Array, Array, Array]:
    """Time [s], speed [km/h] and heading [deg] of a GPX track; speed from positions where it is not written.

    Parsed by a reader that takes no entities, so that a file can't grow in memory.

    Raises
    ------
    BadInput : no GPX, entities in it, or points without time

    Examples
    --------
    >>> head = '<gpx xmlns="http://www.topografix.com/GPX/1/1"><trk><trkseg>'
    >>> body = "".join(f'<trkpt lat="{50 + k / 111195:.7f}" lon="8.0"><time>2026-05-01T10:00:{k // 10:02d}Z</time></trkpt>' for k in range(0, 50, 10))
    >>> t, v, h = read_gpx(head + body + "</trkseg></trk></gpx>")
    >>> t.tolist(), v.round(1).tolist(), h.round(1).tolist()
    ([0.0, 1.0, 2.0, 3.0, 4.0], [36.0, 36.0, 36.0, 36.0, 36.0], [0.0, 0.0, 0.0, 0.0, 0.0])
    """
    points = _points(text)
    if len(points) < LEAST_SAMPLES:
        raise BadInput("holds no track; accepted: a track of 5 points or more", "file")
    zones = {one.at.tzinfo is not None for one in points}
    if len(zones) > 1:
        raise BadInput("has times with and without a time zone; accepted: one way of writing them", "file")
    place = np.radians(np.array([[one.lat, one.lon] for one in points]))
    time = np.array([(one.at - points[0].at).total_seconds() for one in points])
    segment = np.array([one.segment for one in points])
    speed, heading = np.full(len(time), np.nan), np.full(len(time), np.nan)
    for one in np.unique(segment):
        # nothing is known of the way between two segments
        rows = segment == one
        if rows.sum() > 1:
            speed[rows], heading[rows] = _moved(time[rows], place[rows])
    written = np.array([np.nan if one.speed is None else one.speed * 3.6 for one in points])
    return time, np.where(np.isfinite(written), written, speed), heading


@dataclass(frozen=True)
class _Point:
    """A point of a track: degrees, when, speed as written [m/s], and which segment it is of."""

    lat: float
    lon: float
    at: datetime
    speed: float | None
    segment: int


def _points(text: str) -> list[_Point]:
    """Points of a track, read one after the other: nothing of the file is held but them.

    Raises
    ------
    BadInput : no GPX, entities, a tag that is too long, too deep, too many elements, a point without place or time
    """
    from defusedxml import DefusedXmlException
    from defusedxml.ElementTree import ParseError, iterparse

    if re.search(rf"<[^<>]{{{MOST_TAG}}}", text):
        raise BadInput(f"has a tag of over {MOST_TAG} characters; accepted: a plain GPX track", "file")
    found: list[_Point] = []
    depth = elements = segment = 0
    try:
        for event, one in iterparse(io.BytesIO(text.encode("utf-8", "replace")), events=("start", "end")):
            if event == "start":
                depth, elements = depth + 1, elements + 1
                if elements == 1 and not one.tag.endswith("gpx"):
                    raise BadInput("is no GPX; accepted: a track as GPX 1.0 or 1.1", "file")
                if depth > DEEPEST or elements > MOST_ELEMENTS:
                    raise BadInput("is too deep or holds too many elements; accepted: a plain GPX track", "file")
                segment += one.tag.endswith("trkseg")
                continue
            depth -= 1
            if one.tag.endswith("trkpt"):
                found.append(_Point(float(one.attrib["lat"]), float(one.attrib["lon"]), _clock(one), _speed(one), segment))
                if len(found) > MOST_POINTS:
                    raise BadInput(f"has more than {MOST_POINTS} points; accepted: {MOST_POINTS} at most", "file")
            if depth <= POINT_DEPTH:
                one.clear()
    except DefusedXmlException as error:
        raise BadInput("declares entities; accepted: a plain GPX track", "file") from error
    except BadInput:
        raise
    except (KeyError, ValueError, OverflowError) as error:
        raise BadInput("has points without place or time; accepted: a track with times", "file") from error
    except ParseError as error:
        raise BadInput("is no GPX; accepted: a track as GPX 1.0 or 1.1", "file") from error
    return found


def _clock(point: object) -> datetime:
    text = next((one.text for one in point if one.tag.endswith("}time") or one.tag == "time"), None)  # type: ignore[attr-defined]
    if not text:
        raise ValueError("no time")
    return datetime.fromisoformat(text.strip().replace("Z", "+00:00"))


def _speed(point: object) -> float | None:
    text = next((one.text for one in point.iter() if one.tag.rpartition("}")[2] == "speed"), None)  # type: ignore[attr-defined]
    return float(text) if text else None


def _moved(time: Array, place: Array) -> tuple[Array, Array]:
    """Speed [km/h] and heading [deg] between neighbours, at each point from the one before to the one after."""
    lat, lon = place[:, 0], place[:, 1]
    north = EARTH_M * np.gradient(lat)
    east = EARTH_M * np.cos(lat) * np.gradient(lon)
    step = np.gradient(time)
    with np.errstate(divide="ignore", invalid="ignore"):
        speed = np.where(step > 0, np.hypot(north, east) / step * 3.6, np.nan)
    return speed, np.degrees(np.arctan2(east, north)) % 360.0
