"""Positions over time: a track, with its speed and heading worked out where it does not say them."""

from __future__ import annotations

import math
import re
from datetime import datetime
from xml.parsers import expat

import numpy as np
from numpy.typing import NDArray

from rimcore.quantities.errors import BadInput

Array = NDArray[np.float64]
#: fewer points than this are no track
LEAST_SAMPLES = 5
#: most characters of a tag, depth and number of elements of a track
MOST_TAG, DEEPEST, MOST_ELEMENTS = 4000, 20, 3_000_000

#: mean radius of the earth [m] (IUGG)
EARTH_M = 6_371_008.8


#: most points: three hours at ten a second
MOST_POINTS = 108_000


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
    time, _, _, speed, heading = read_track(text)
    return time, speed, heading


def read_track(text: str) -> tuple[Array, Array, Array, Array, Array]:
    """Time [s], latitude, longitude [deg], speed [km/h] and heading [deg] of a GPX track.

    Parameters
    ----------
    text : of the file

    Source: GPX 1.1 schema.

    Raises
    ------
    BadInput : no GPX, entities in it, or points without time

    >>> head = '<gpx xmlns="http://www.topografix.com/GPX/1/1"><trk><trkseg>'
    >>> body = "".join(f'<trkpt lat="{50 + k}" lon="8"><time>2026-05-01T10:00:0{k}Z</time></trkpt>' for k in range(5))
    >>> read_track(head + body + "</trkseg></trk></gpx>")[1].tolist()
    [50.0, 51.0, 52.0, 53.0, 54.0]
    """
    track = _points(text)
    if len(track.at) < LEAST_SAMPLES:
        raise BadInput("holds no track; accepted: a track of 5 points or more", "file")
    if len({one.tzinfo is not None for one in track.at}) > 1:
        raise BadInput("has times with and without a time zone; accepted: one way of writing them", "file")
    place = np.radians(np.column_stack([track.lat, track.lon]))
    first = track.at[0]
    time, segment = np.array([(one - first).total_seconds() for one in track.at]), np.array(track.segment)
    speed, heading = np.full(len(time), np.nan), np.full(len(time), np.nan)
    for one in np.unique(segment):
        # nothing is known of the way between two segments
        rows = segment == one
        if rows.sum() > 1:
            speed[rows], heading[rows] = _moved(time[rows], place[rows])
    written = np.array(track.speed) * 3.6
    said = np.where(np.isfinite(written), written, speed)
    return time, np.array(track.lat), np.array(track.lon), said, heading


class _Track:
    """Points of a track, taken as the reader comes past them: nothing of the file is held but them."""

    def __init__(self) -> None:
        self.lat: list[float] = []
        self.lon: list[float] = []
        self.at: list[datetime] = []
        self.speed: list[float] = []
        self.segment: list[int] = []
        self.depth = self.elements = self.segments = 0
        self.point: int | None = None
        self.text: list[str] = []
        self.said: dict[str, str] = {}

    def start(self, tag: str, given: dict[str, str]) -> None:
        name = tag.rpartition(":")[2]
        self.depth, self.elements = self.depth + 1, self.elements + 1
        if self.elements == 1 and name != "gpx":
            raise BadInput("is no GPX; accepted: a track as GPX 1.0 or 1.1", "file")
        if self.depth > DEEPEST or self.elements > MOST_ELEMENTS:
            raise BadInput("is too deep or holds too many elements; accepted: a plain GPX track", "file")
        if name == "trkpt":
            if len(self.lat) == MOST_POINTS:
                raise BadInput(f"has more than {MOST_POINTS} points; accepted: {MOST_POINTS} at most", "file")
            self.point, self.said = self.depth, {}
            self.lat.append(float(given["lat"]))
            self.lon.append(float(given["lon"]))
        elif name == "trkseg":
            self.segments += 1
        self.text.clear()

    def end(self, tag: str) -> None:
        self.depth -= 1
        if self.point is None:
            return
        name = tag.rpartition(":")[2]
        if name == "trkpt":
            self._keep()
        elif name == "speed" or (name == "time" and self.depth == self.point):
            self.said.setdefault(name, "".join(self.text))

    def _keep(self) -> None:
        time, speed = self.said.get("time", "").strip(), self.said.get("speed")
        if not time:
            raise ValueError("no time")
        self.at.append(datetime.fromisoformat(time.replace("Z", "+00:00")))
        self.speed.append(float(speed) if speed else math.nan)
        self.segment.append(self.segments)
        self.point = None


def _refuse(*_: object) -> int:
    raise BadInput("declares entities; accepted: a plain GPX track", "file")


def _points(text: str) -> _Track:
    """Points of a track, read one after the other.

    Raises
    ------
    BadInput : no GPX, a document type or entities, a tag that is too long, too deep, too many elements, a point
        without place or time
    """
    if re.search(rf"<[^<>]{{{MOST_TAG}}}", text):
        raise BadInput(f"has a tag of over {MOST_TAG} characters; accepted: a plain GPX track", "file")
    track, reader = _Track(), expat.ParserCreate()
    reader.buffer_text = True
    reader.StartElementHandler, reader.EndElementHandler, reader.CharacterDataHandler = (
        track.start,
        track.end,
        track.text.append,
    )
    # Nothing that a document declares is ever expanded.
    reader.StartDoctypeDeclHandler = reader.EntityDeclHandler = reader.ExternalEntityRefHandler = _refuse
    try:
        reader.Parse(text.encode("utf-8", "replace"), True)
    except BadInput:
        raise
    except (KeyError, ValueError, OverflowError) as error:
        raise BadInput("has points without place or time; accepted: a track with times", "file") from error
    except expat.ExpatError as error:
        raise BadInput("is no GPX; accepted: a track as GPX 1.0 or 1.1", "file") from error
    return track


def _moved(time: Array, place: Array) -> tuple[Array, Array]:
    """Speed [km/h] and heading [deg] between neighbours, at each point from the one before to the one after."""
    lat, lon = place[:, 0], place[:, 1]
    north = EARTH_M * np.gradient(lat)
    east = EARTH_M * np.cos(lat) * np.gradient(lon)
    step = np.gradient(time)
    with np.errstate(divide="ignore", invalid="ignore"):
        speed = np.where(step > 0, np.hypot(north, east) / step * 3.6, np.nan)
    return speed, np.degrees(np.arctan2(east, north)) % 360.0
