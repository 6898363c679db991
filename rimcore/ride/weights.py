"""Four pads: shares, cross weight, turns of the perches that even it, and where the centre of gravity lies."""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray
from scipy import optimize

from rimcore.quantities.errors import BadInput
from rimcore.tables.facts import G_M_PER_S2

Array = NDArray[np.float64]

#: what a perch reads as reached [%]
REACHED_PCT = 1e-6


@dataclass(frozen=True)
class Pads:
    """Loads of the four pads [kg], front left, front right, rear left, rear right.

    Raises
    ------
    BadInput : nothing stands on them

    Examples
    --------
    >>> pads = Pads(350, 330, 250, 270)
    >>> pads.total_kg, round(pads.front_pct, 2), round(pads.cross_pct, 2)
    (1200, 56.67, 48.33)
    """

    fl: float
    fr: float
    rl: float
    rr: float

    def __post_init__(self) -> None:
        if self.total_kg <= 0:
            raise BadInput("nothing stands on the pads; accepted: loads that add up to more than 0 kg", "pads_kg")

    @property
    def loads(self) -> Array:
        """(4,) in the order of CORNERS."""
        return np.array([self.fl, self.fr, self.rl, self.rr])

    @property
    def total_kg(self) -> float:
        """All of it."""
        return self.fl + self.fr + self.rl + self.rr

    @property
    def front_pct(self) -> float:
        """Share of the front axle [%]."""
        return 100 * (self.fl + self.fr) / self.total_kg

    @property
    def left_pct(self) -> float:
        """Share of the left wheels [%]."""
        return 100 * (self.fl + self.rl) / self.total_kg

    @property
    def cross_pct(self) -> float:
        """Share of front right and rear left [%]."""
        return 100 * (self.fr + self.rl) / self.total_kg


@dataclass(frozen=True)
class Stance:
    """What carries a rigid body at four wheels, tyres rigid.

    Attributes
    ----------
    wheel_rate_n_per_mm, mm_per_turn, motion_ratio : (4,) by corner; a turn moves the wheel's free position by pitch
        ÷ ratio
    track_mm, bar_n_per_mm : front and rear; a bar's force at each wheel per millimetre between left and right
    """

    wheel_rate_n_per_mm: Array
    track_mm: tuple[float, float]
    wheelbase_mm: float
    mm_per_turn: Array
    motion_ratio: Array = field(default_factory=lambda: np.ones(4))
    bar_n_per_mm: tuple[float, float] = (0.0, 0.0)

    @property
    def plane(self) -> Array:
        """(4, 3): what heave, pitch and roll do to the body's height over each wheel; lengths scaled to about one."""
        front, rear = self.track_mm[0] / 2000.0, self.track_mm[1] / 2000.0
        base = self.wheelbase_mm / 1000.0
        return np.array([[1, 0, -front], [1, 0, front], [1, -base, -rear], [1, -base, rear]], dtype=float)

    @property
    def warp(self) -> Array:
        """(4,): loads that leave heave, pitch and roll in balance, front right one."""
        front, rear = self.track_mm
        return np.array([-1.0, 1.0, front / rear, -front / rear])

    @property
    def bars(self) -> Array:
        """(4, 4): the bars' forces on the body over each wheel per millimetre of body height [N/mm]."""
        found = np.zeros((4, 4))
        for place, rate in ((0, self.bar_n_per_mm[0]), (2, self.bar_n_per_mm[1])):
            found[place : place + 2, place : place + 2] = rate * np.array([[-1.0, 1.0], [1.0, -1.0]])
        return found

    def response(self) -> tuple[Array, Array]:
        """Turns (4, 3) that a movement of the body takes, and turns (4,) per newton of warp with the body held."""
        stiff = self.wheel_rate_n_per_mm
        per_turn = self.mm_per_turn / self.motion_ratio
        of_plane = (np.diag(1.0 / stiff) @ (np.diag(stiff) - self.bars) @ self.plane) / per_turn[:, None]
        return of_plane, self.warp / stiff / per_turn


@dataclass(frozen=True)
class Evened:
    """Turns of each perch (+ up), what the body does over each wheel [mm], the pads after, and whether the target is
    reached.
    """

    turns: Array
    height_change_mm: Array
    pads: Pads
    reached: bool


def evened(pads: Pads, stance: Stance, target_pct: float = 50.0, limit_turns: float | None = None) -> Evened:
    """Turns that bring the cross weight to a target with the least sum of squared height changes, then the least turns.

    Within ``limit_turns`` the nearest cross weight that can be had.

    Model: a rigid body on linear springs, its centre of gravity kept; loads in the static balance of heave, pitch and
    roll (Milliken & Milliken, Race Car Vehicle Dynamics, ch. 18). Four loads that keep the balance differ by one
    pattern, the warp; without a limit the body need not move at all, and the turns are the warp's.

    Parameters
    ----------
    pads : loads of the four pads
    stance : rates and places of the four corners
    target_pct : cross weight that is wanted, 0 to 100 [%]
    limit_turns : most of one collar, over 0; None without

    Examples
    --------
    Equal springs and tracks, closed form: a quarter of the change at each corner.

    >>> even = Stance(np.full(4, 30.0), (1500, 1500), 2600, np.full(4, 2.0))
    >>> done = evened(Pads(310, 290, 290, 310), even)
    >>> done.turns.round(4).tolist(), round(done.pads.cross_pct, 6), done.reached
    ([-1.6344, 1.6344, 1.6344, -1.6344], 50.0, True)
    """
    of_plane, of_warp = stance.response()
    share = (stance.warp[1] + stance.warp[2]) / G_M_PER_S2
    wanted_n = (target_pct - pads.cross_pct) / 100 * pads.total_kg / share
    warp_n, body = (
        (wanted_n, np.zeros(3))
        if limit_turns is None
        else _within(of_plane, of_warp, stance.plane, wanted_n, limit_turns)
    )
    turns = of_plane @ body + of_warp * warp_n
    after = pads.loads + stance.warp * warp_n / G_M_PER_S2
    done = Pads(*(float(one) for one in after))
    return Evened(turns, stance.plane @ body, done, abs(done.cross_pct - target_pct) < REACHED_PCT)


def _within(of_plane: Array, of_warp: Array, plane: Array, wanted_n: float, limit: float) -> tuple[float, Array]:
    """Warp as near to the wanted one as the limit lets, and the movement of the body that is least there."""
    sign = 1.0 if wanted_n >= 0 else -1.0
    columns = np.column_stack([of_plane, sign * of_warp])
    found = optimize.linprog(
        [0.0, 0.0, 0.0, -1.0],
        A_ub=np.vstack([columns, -columns]),
        b_ub=np.full(8, limit),
        bounds=[(None, None)] * 3 + [(0.0, abs(wanted_n))],
        method="highs",
    )
    warp_n = sign * float(found.x[3])
    return warp_n, _least_movement(of_plane, of_warp * warp_n, plane, limit)


def _least_movement(of_plane: Array, fixed: Array, plane: Array, limit: float) -> Array:
    """The body's movement (3,) of the least sum of squared heights whose turns keep a limit.

    Every set of turns that may stand at the limit is tried: at most 81 small systems, so that the answer is exact.
    """
    best: tuple[float, Array] | None = None
    curved = plane.T @ plane
    for ends in itertools.product((0, 1, -1), repeat=4):
        held = [k for k in range(4) if ends[k]]
        if len(held) > 3:
            continue
        rows = of_plane[held]
        wants = np.array([ends[k] * limit - fixed[k] for k in held])
        system = np.block([[curved, rows.T], [rows, np.zeros((len(held), len(held)))]])
        body = np.linalg.lstsq(system, np.concatenate([np.zeros(3), wants]), rcond=None)[0][:3]
        turns = of_plane @ body + fixed
        if np.abs(turns).max() > limit * (1 + 1e-7) + 1e-9:
            continue
        cost = float(body @ curved @ body)
        if best is None or cost < best[0] - 1e-12:
            best = (cost, body)
    if best is None:
        return np.asarray(np.linalg.lstsq(of_plane, np.clip(fixed, -limit, limit) - fixed, rcond=None)[0])
    return best[1]


@dataclass(frozen=True)
class Raised:
    """A second weighing with one end raised: by how much at the axle [mm], load of the axle left on the pads [kg]."""

    end: str
    by_mm: float
    left_on_pads_kg: float
    radius_mm: float


@dataclass(frozen=True)
class Gravity:
    """Where the centre of gravity lies [mm]; the height only from a weighing with one end raised."""

    behind_front_axle_mm: float
    right_of_centre_mm: float
    height_mm: float | None
    static_stability_factor: float | None


def gravity(pads: Pads, wheelbase_mm: float, track_mm: tuple[float, float], raised: Raised | None = None) -> Gravity:
    """Centre of gravity from pads, and its height by tilting.

    h = r + L ΔW ÷ (W tan θ), sin θ = by ÷ L (ISO 10392); static stability factor = mean track ÷ 2 h (NHTSA).

    Parameters
    ----------
    pads : loads of the four pads
    wheelbase_mm : over 0 [mm]
    track_mm : front and rear, over 0 [mm]
    raised : one end raised, with what the pads then read; None where it was not done

    Raises
    ------
    BadInput : the end is raised by the wheelbase or more, or the height comes out at or below the ground

    Examples
    --------
    >>> found = gravity(Pads(350, 330, 250, 270), 2600, (1500, 1480), Raised("front", 500, 540, 300))
    >>> round(found.behind_front_axle_mm), round(found.height_mm), round(found.static_stability_factor, 3)
    (1127, 521, 1.43)
    """
    total = pads.total_kg
    behind = wheelbase_mm * (pads.rl + pads.rr) / total
    right = ((pads.fr - pads.fl) * track_mm[0] + (pads.rr - pads.rl) * track_mm[1]) / (2 * total)
    if raised is None:
        return Gravity(behind, right, None, None)
    if raised.by_mm >= wheelbase_mm:
        raise BadInput(f"is the wheelbase or more; accepted: less than {wheelbase_mm:g} mm", "raised.by_mm")
    level = pads.rl + pads.rr if raised.end == "front" else pads.fl + pads.fr
    angle = math.asin(raised.by_mm / wheelbase_mm)
    height = raised.radius_mm + wheelbase_mm * (raised.left_on_pads_kg - level) / (total * math.tan(angle))
    if height <= 0:
        field_name = "raised.rear_kg" if raised.end == "front" else "raised.front_kg"
        raise BadInput(
            "puts the centre of gravity at or below the ground; accepted: the load of the axle left on the pads",
            field_name,
        )
    return Gravity(behind, right, height, sum(track_mm) / 2 / (2 * height))


def supposed_loads_kg(front_kg: float | None, rear_kg: float | None) -> dict[str, float]:
    """Four corners for a simulation where only the axles are known: two kilograms in a hundred heavier on the left.

    Empty where they are not.

    Source: none; two in a hundred is an assumption for drawing only.

    Parameters
    ----------
    front_kg : of the axle, over 0; None where not known [kg]
    rear_kg : the same [kg]

    >>> supposed_loads_kg(600.0, 400.0)["FL"], supposed_loads_kg(None, 400.0)
    (306.0, {})
    """
    if front_kg is None or rear_kg is None:
        return {}
    shares = {"FL": 0.51 * front_kg, "FR": 0.49 * front_kg, "RL": 0.51 * rear_kg, "RR": 0.49 * rear_kg}
    return {corner: round(load, 3) for corner, load in shares.items()}
