"""Hard points of a corner: which a layout has, and the corner made of them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from rimcore.quantities.errors import BadInput
from rimcore.ride.links import Array, Corner, corner_of, corners_of, equations, repeated, start

Point = tuple[float, float, float]

#: a pose whose equations are closer than this to depending on each other is singular (of scaled equations)
SINGULAR = 1e-7
#: below this two points are one, or three lie in line [mm]
SAME_MM = 1e-6


@dataclass(frozen=True)
class Layout:
    """A kind of suspension: its points by name, in words, and the links that they make."""

    code: str
    name: str
    points: Mapping[str, str]
    #: (outer, inner) by name; the last is steered
    links: tuple[tuple[str, str], ...]
    #: lower and upper point of the steering axis; None where there is none
    axis: tuple[str, str] | None
    #: arms that a spring may stand on: the two points it turns about, and its joint
    arms: Mapping[str, tuple[str, str, str]] = field(default_factory=dict)

    @property
    def rod(self) -> tuple[str, str]:
        """Outer and inner end of the link on the rack.

        >>> LAYOUTS["five_link"].rod
        ('link_5_outer', 'link_5_inner')
        """
        return self.links[-1]


_LOWER = {
    "lower_front": "lower arm, front inner point",
    "lower_rear": "lower arm, rear inner point",
    "lower_joint": "lower ball joint",
}
_ROD = {"rod_inner": "tie rod, inner joint", "rod_outer": "tie rod, outer joint"}
_ARM = (("lower_joint", "lower_front"), ("lower_joint", "lower_rear"))
_STEERED = (("rod_outer", "rod_inner"),)
FIVE = tuple(f"link_{number}_{end}" for number in range(1, 6) for end in ("inner", "outer"))

LAYOUTS: dict[str, Layout] = {
    layout.code: layout
    for layout in (
        Layout(
            "wishbone",
            "Double wishbone",
            {
                "upper_front": "upper arm, front inner point",
                "upper_rear": "upper arm, rear inner point",
                "upper_joint": "upper ball joint",
                **_LOWER,
                **_ROD,
            },
            (("upper_joint", "upper_front"), ("upper_joint", "upper_rear"), *_ARM, *_STEERED),
            ("lower_joint", "upper_joint"),
            {
                "lower": ("lower_front", "lower_rear", "lower_joint"),
                "upper": ("upper_front", "upper_rear", "upper_joint"),
            },
        ),
        Layout(
            "strut",
            "Strut",
            {
                "strut_top": "strut, top mount",
                "strut_knuckle": "strut, a point of its axis at the upright",
                **_LOWER,
                **_ROD,
            },
            (*_ARM, *_STEERED),
            ("lower_joint", "strut_top"),
            {"lower": ("lower_front", "lower_rear", "lower_joint")},
        ),
        Layout(
            "five_link",
            "Five links",
            {name: f"link {name[5]}, {name[7:]} end" for name in FIVE},
            tuple((f"link_{number}_outer", f"link_{number}_inner") for number in range(1, 6)),
            None,
        ),
    )
}


@dataclass(frozen=True)
class Wheel:
    """What the links carry: where the wheel's middle stands, how it stands, how large it is."""

    centre_y_mm: float
    radius_mm: float
    camber_deg: float = 0.0
    toe_deg: float = 0.0

    @property
    def axis(self) -> Array:
        """Wheel axis outboard (3,), toe in and top outboard positive.

        >>> Wheel(0, 300, camber_deg=-90).axis.round(6).tolist()
        [0.0, 0.0, 1.0]
        """
        toe, camber = np.radians(self.toe_deg), np.radians(self.camber_deg)
        return np.array([np.sin(toe) * np.cos(camber), np.cos(toe) * np.cos(camber), -np.sin(camber)])


@dataclass(frozen=True)
class SpringAt:
    """Where a spring stands: its end at the body, its moving end, and what that end is fixed to."""

    body: Point
    moving: Point
    on: str


@dataclass(frozen=True)
class HardPoints:
    """The points of a corner [mm], its wheel and its spring, in the corner frame.

    Raises
    ------
    BadInput : under ``points_mm``: a pose of these points can't be held, whatever the reason
    """

    layout: Layout
    points: Mapping[str, Point]
    wheel: Wheel
    spring: SpringAt | None = None
    half_track_mm: float | None = None

    def __post_init__(self) -> None:
        if self.spring is not None and self.spring.on not in (*self.layout.arms, "knuckle"):
            accepted = ", ".join((*self.layout.arms, "knuckle"))
            raise BadInput(
                f"a {self.layout.name.lower()} has no such member for a spring; accepted: {accepted}", "spring.on"
            )
        for outer, inner in self.layout.links:
            if np.linalg.norm(self.at(outer) - self.at(inner)) < SAME_MM:
                raise BadInput(
                    f"{self.said(outer)} and {self.said(inner)} are one point; accepted: points apart", "points_mm"
                )
        for front, rear, joint in self.layout.arms.values():
            self._in_line(
                front, rear, joint, "the joint lies in line with the arm's inner points, so that the arm holds nothing"
            )
        if self.layout.axis is not None:
            lower, upper = self.layout.axis
            self._in_line(
                lower,
                upper,
                "rod_outer",
                "the rod's outer joint lies on the steering axis, so that the rod steers nothing",
            )
        if self.layout.code == "strut" and np.linalg.norm(self.at("strut_top") - self.at("strut_knuckle")) < SAME_MM:
            raise BadInput("the strut's two points are one; accepted: points apart", "points_mm")
        if self._weakest() < SINGULAR:
            raise BadInput(
                "these points leave the upright loose: two links do the same work; accepted: points whose links hold it",
                "points_mm",
            )

    @classmethod
    def unasked(
        cls, layout: Layout, points: Mapping[str, Point], wheel: Wheel, half_track_mm: float | None
    ) -> HardPoints:
        """A corner without a spring, not asked whether a pose of it can be held: ``held`` asks that of many at once."""
        one = object.__new__(cls)
        one.__dict__.update(layout=layout, points=points, wheel=wheel, spring=None, half_track_mm=half_track_mm)
        return one

    @property
    def face_mm(self) -> float | None:
        """From the car's centre to the mounting face [mm]; None where the half track is not known."""
        return None if self.half_track_mm is None else self.half_track_mm - self.wheel.centre_y_mm

    @property
    def joints_apart_mm(self) -> float | None:
        """From the lower to the upper joint of the steering axis, upward [mm]; None where the layout has no axis."""
        if self.layout.axis is None:
            return None
        low, high = (self.at(name) for name in self.layout.axis)
        return float(high[2] - low[2])

    def racked(
        self, forward_mm: float, up_mm: float, spacer_mm: float = 0.0, arm_mm: float = 0.0, down_mm: float = 0.0
    ) -> HardPoints:
        """The same corner with rack, rod and arm changed; the link has the length that keeps toe as it stands.

        Parameters
        ----------
        forward_mm, up_mm : of the rack, and so of the link's inner end
        spacer_mm : between rack and rod: the inner end goes outboard
        arm_mm : the steering arm longer: its end goes away from the steering axis, level
        down_mm : the link's outer end lower at the arm

        Raises
        ------
        BadInput : the points can't be assembled there
        """
        return replace(self, points=self._racked(forward_mm, up_mm, spacer_mm, arm_mm, down_mm))

    def racked_unasked(self, *moves_mm: float) -> HardPoints:
        """As ``racked``, without a spring, not asked whether a pose of it can be held: ``held`` asks that of many."""
        return HardPoints.unasked(self.layout, self._racked(*moves_mm), self.wheel, self.half_track_mm)

    def _racked(
        self, forward_mm: float, up_mm: float, spacer_mm: float = 0.0, arm_mm: float = 0.0, down_mm: float = 0.0
    ) -> dict[str, Point]:
        outer, inner = self.layout.rod
        x, y, z = self.points[inner]
        moved = {inner: (x + forward_mm, y + spacer_mm, z + up_mm)}
        if arm_mm or down_mm:
            out = self._away_from_axis(outer) * arm_mm
            u, v, w = self.points[outer]
            moved[outer] = (u + float(out[0]), v + float(out[1]), w - down_mm)
        return {**self.points, **moved}

    def _away_from_axis(self, name: str) -> Array:
        """Level direction from the steering axis to a point, at the point's height (2,).

        Straight back where the layout has no axis.
        """
        if self.layout.axis is None:
            return np.array([-1.0, 0.0])
        low, high = (self.at(one) for one in self.layout.axis)
        point = self.at(name)
        foot = low + (high - low) * (point[2] - low[2]) / (high[2] - low[2])
        way = (point - foot)[:2]
        return np.asarray(way / (np.linalg.norm(way) or 1.0))

    def at(self, name: str) -> Array:
        """A point as an array (3,)."""
        return np.array(self.points[name], dtype=float)

    def said(self, name: str) -> str:
        """A point in words."""
        return self.layout.points[name]

    def _in_line(self, one: str, two: str, third: str, what: str) -> None:
        along = self.at(two) - self.at(one)
        long = float(np.linalg.norm(along))
        if long < SAME_MM:
            raise BadInput(f"{self.said(one)} and {self.said(two)} are one point; accepted: points apart", "points_mm")
        if np.linalg.norm(np.cross(along, self.at(third) - self.at(one))) / long < SAME_MM:
            raise BadInput(f"{what}; accepted: points that are not in line", "points_mm")

    def _weakest(self) -> float:
        """Smallest singular value of the scaled equations at the measured pose."""
        begun = start(1)
        _, jacobian = equations(self.corner, begun.turn, begun.at, np.zeros(1), np.zeros(1))
        return float(np.linalg.svd(jacobian[0], compute_uv=False)[-1])

    @cached_property
    def corner(self) -> Corner:
        """The links, for the solver."""
        outer = np.array([self.points[one] for one, _ in self.layout.links], dtype=float)
        inner = np.array([self.points[other] for _, other in self.layout.links], dtype=float)
        strut = self.layout.code == "strut"
        return corner_of(
            outer, inner, self.at("strut_top") if strut else None, self.at("strut_knuckle") if strut else None
        )


def five_points(links: Sequence[Sequence[Sequence[float]]]) -> dict[str, Point]:
    """Points by name of five links [[inner], [outer]].

    Source: none; names of this program.

    Parameters
    ----------
    links : (5, 2, 3): inner, then outer joint of each [mm]

    >>> five_points([[[0, 0, 0], [1, 1, 1]]] * 5)["link_5_outer"]
    (1, 1, 1)
    """
    return {
        f"link_{number}_{end}": (point[0], point[1], point[2])
        for number, link in enumerate(links, 1)
        for end, point in zip(("inner", "outer"), link, strict=True)
    }


def _at(corners: Sequence[HardPoints], name: str) -> Array:
    """A point of many corners (k, 3)."""
    return np.array([one.points[name] for one in corners], dtype=float)


def abreast(corners: Sequence[HardPoints]) -> Corner:
    """The links of many corners of one layout, for the solver, one pose each.

    Source: none; a container.

    Parameters
    ----------
    corners : of one layout
    """
    layout = corners[0].layout
    outer, inner = (np.stack([_at(corners, pair[end]) for pair in layout.links], axis=1) for end in (0, 1))
    strut = layout.code == "strut"
    return corners_of(
        outer, inner, _at(corners, "strut_top") if strut else None, _at(corners, "strut_knuckle") if strut else None
    )


def held(corners: Sequence[HardPoints]) -> NDArray[np.bool_]:
    """Which of many corners of one layout hold a pose (k,): what ``HardPoints`` refuses one by one, without its words.

    Source: as ``HardPoints``.

    Parameters
    ----------
    corners : of one layout
    """
    layout, links = corners[0].layout, abreast(corners)
    good = np.asarray((links.lengths >= SAME_MM).all(axis=1))
    lines = [(*arm,) for arm in layout.arms.values()]
    lines += [(*layout.axis, "rod_outer")] if layout.axis is not None else []
    for one, two, third in lines:
        along = _at(corners, two) - _at(corners, one)
        long = np.linalg.norm(along, axis=1)
        aside = np.linalg.norm(np.cross(along, _at(corners, third) - _at(corners, one)), axis=1)
        good &= (long >= SAME_MM) & (aside >= SAME_MM * long)
    if layout.code == "strut":
        good &= np.linalg.norm(_at(corners, "strut_top") - _at(corners, "strut_knuckle"), axis=1) >= SAME_MM
    which = np.flatnonzero(good)
    if which.size:
        begun, none = start(which.size), np.zeros(which.size)
        _, jacobian = equations(links.take(which), begun.turn, begun.at, none, none)
        good[which] = np.linalg.svd(jacobian, compute_uv=False)[:, -1] >= SINGULAR
    return good


class Abreast:
    """Corners of one layout side by side, each as many times as it has poses: what ``measured`` asks of hard points."""

    spring = None

    def __init__(self, corners: Sequence[HardPoints], each: int) -> None:
        self.layout, self.wheel, self.half_track_mm = corners[0].layout, corners[0].wheel, corners[0].half_track_mm
        self._corners, self._each = corners, each
        self.corner = repeated(abreast(corners), each)

    def at(self, name: str) -> Array:
        """A point of each pose's corner (n, 3)."""
        return np.repeat(_at(self._corners, name), self._each, 0)
