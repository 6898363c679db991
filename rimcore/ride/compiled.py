"""The way of a knuckle from pose to pose, one pose after the other; compiled by Numba.

The rules, the steps and their limits stand with ``links``, whose plain twin the tests hold this to.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from rimcore.compiling import compiled
from rimcore.ride.stepping import (
    JUMP_MM,
    LARGEST_MM,
    LEAST_MM,
    NEAR_MM,
    NEWTONS,
    SCALE_MM,
    STEP_MM,
    TOWARDS,
)

Array = NDArray[np.float64]
Flags = NDArray[np.bool_]


@compiled
def _equations(
    held: Array, strut: Array, turn: Array, at: Array, travel: float, rack: float, left: Array, jacobian: Array
) -> None:
    """Residuals and their Jacobian, as ``links.equations`` for one pose.

    ``held``: (m, 7) outer end, inner end, length; ``strut``: (3, 3) top and two directions across, or empty.
    """
    links = held.shape[0]
    jacobian[:, :] = 0.0
    for k in range(links):
        x, y, z = held[k, 0], held[k, 1], held[k, 2]
        rx = turn[0, 0] * x + turn[0, 1] * y + turn[0, 2] * z
        ry = turn[1, 0] * x + turn[1, 1] * y + turn[1, 2] * z
        rz = turn[2, 0] * x + turn[2, 1] * y + turn[2, 2] * z
        gx, gy, gz = rx + at[0] - held[k, 3], ry + at[1] - held[k, 4], rz + at[2] - held[k, 5]
        if k == links - 1:
            gy -= rack
        length = held[k, 6]
        left[k] = (gx * gx + gy * gy + gz * gz - length * length) / (2.0 * length)
        tx, ty, tz = gx / length, gy / length, gz / length
        jacobian[k, 0], jacobian[k, 1], jacobian[k, 2] = tx, ty, tz
        jacobian[k, 3] = (ry * tz - rz * ty) / SCALE_MM
        jacobian[k, 4] = (rz * tx - rx * tz) / SCALE_MM
        jacobian[k, 5] = (rx * ty - ry * tx) / SCALE_MM
    if strut.shape[0] == 3:
        ux, uy, uz = strut[0, 0] - at[0], strut[0, 1] - at[1], strut[0, 2] - at[2]
        for k in range(2):
            x, y, z = strut[1 + k, 0], strut[1 + k, 1], strut[1 + k, 2]
            sx = turn[0, 0] * x + turn[0, 1] * y + turn[0, 2] * z
            sy = turn[1, 0] * x + turn[1, 1] * y + turn[1, 2] * z
            sz = turn[2, 0] * x + turn[2, 1] * y + turn[2, 2] * z
            left[3 + k] = sx * ux + sy * uy + sz * uz - (x * strut[0, 0] + y * strut[0, 1] + z * strut[0, 2])
            jacobian[3 + k, 0], jacobian[3 + k, 1], jacobian[3 + k, 2] = -sx, -sy, -sz
            jacobian[3 + k, 3] = (sy * uz - sz * uy) / SCALE_MM
            jacobian[3 + k, 4] = (sz * ux - sx * uz) / SCALE_MM
            jacobian[3 + k, 5] = (sx * uy - sy * ux) / SCALE_MM
    left[5] = at[2] - travel
    jacobian[5, 2] = 1.0


@compiled
def _solve(jacobian: Array, right: Array, found: Array, work: Array) -> float:
    """Solution of six equations by elimination with the largest pivot, into ``found``; gives the determinant.

    Where they are singular the solution is 0, and so is the determinant.
    """
    work[:, :] = jacobian
    found[:] = right
    whole = 1.0
    for k in range(6):
        best = k
        for i in range(k + 1, 6):
            if abs(work[i, k]) > abs(work[best, k]):
                best = i
        if work[best, k] == 0.0:
            found[:] = 0.0
            return 0.0
        if best != k:
            whole = -whole
            for j in range(6):
                work[k, j], work[best, j] = work[best, j], work[k, j]
            found[k], found[best] = found[best], found[k]
        whole *= work[k, k]
        for i in range(k + 1, 6):
            share = work[i, k] / work[k, k]
            if share != 0.0:
                for j in range(k, 6):
                    work[i, j] -= share * work[k, j]
                found[i] -= share * found[k]
    for k in range(5, -1, -1):
        for j in range(k + 1, 6):
            found[k] -= work[k, j] * found[j]
        found[k] /= work[k, k]
    return whole


@compiled
def _moved(turn: Array, at: Array, by: Array) -> None:
    """A pose after a movement, in place, as ``links.moved`` for one pose."""
    x, y, z = by[3] / SCALE_MM, by[4] / SCALE_MM, by[5] / SCALE_MM
    share = 1.0 / (1.0 + (x * x + y * y + z * z) / 4.0)
    for j in range(3):
        a, b, c = turn[0, j], turn[1, j], turn[2, j]
        p, q, r = y * c - z * b, z * a - x * c, x * b - y * a
        turn[0, j] = a + share * (p + 0.5 * (y * r - z * q))
        turn[1, j] = b + share * (q + 0.5 * (z * p - x * r))
        turn[2, j] = c + share * (r + 0.5 * (x * q - y * p))
    for k in range(3):
        at[k] += by[k]


@compiled
def _driven(
    held: Array,
    turn: Array,
    at: Array,
    jacobian: Array,
    rack: float,
    of_rack: bool,
    rate: Array,
    right: Array,
    work: Array,
) -> float:
    """What one millimetre of travel or of rack moves, as ``links.driven`` for one pose; gives the determinant."""
    right[:] = 0.0
    if of_rack:
        k = held.shape[0] - 1
        reach = turn[1, 0] * held[k, 0] + turn[1, 1] * held[k, 1] + turn[1, 2] * held[k, 2]
        right[k] = (reach + at[1] - held[k, 4] - rack) / held[k, 6]
    else:
        right[5] = 1.0
    whole: float = _solve(jacobian, right, rate, work)
    return whole


@compiled
def _largest(values: Array) -> float:
    most = 0.0
    for one in values:
        most = max(most, abs(one))
    return most


@compiled
def follow_each(
    held: Array,
    strut: Array,
    begun_turn: Array,
    begun_at: Array,
    begun: Flags,
    travel: Array,
    rack: Array,
    to: Array,
    of_rack: bool,
) -> tuple[Array, Array, Flags, Array]:
    """Every pose along its own way, as ``links.follow``.

    Parameters
    ----------
    held : (1 or n, m, 7) links of each corner: outer end, inner end [mm], length [mm]
    strut : (1 or n, 3 or 0, 3) a strut's top and the two directions across it
    begun_turn, begun_at, begun : (n, 3, 3), (n, 3) [mm], (n,) where each stands, and whether it is a pose at all
    travel, rack : (n,) [mm]
    to : (n, k) wanted, one after the other [mm]
    of_rack : whether the rack moves, else the wheel

    Returns
    -------
    Rotations (n, k, 3, 3), hub centres (n, k, 3) [mm], reached (n, k), and how far each came (n,) [mm].
    """
    count, stops = to.shape
    turns, ats = np.zeros((count, stops, 3, 3)), np.zeros((count, stops, 3))
    reached, came_to = np.zeros((count, stops), dtype=np.bool_), np.zeros(count)
    left, jacobian, work = np.zeros(6), np.zeros((6, 6)), np.zeros((6, 6))
    by, right, rate, bend, newer = np.zeros(6), np.zeros(6), np.zeros(6), np.zeros(6), np.zeros(6)
    turn, at, old_turn, old_at = np.zeros((3, 3)), np.zeros(3), np.zeros((3, 3)), np.zeros(3)
    for n in range(count):
        links, leg = held[min(n, len(held) - 1)], strut[min(n, len(strut) - 1)]
        for k in range(stops):
            turns[n, k], ats[n, k] = begun_turn[n], begun_at[n]
        turn[:, :], at[:] = begun_turn[n], begun_at[n]
        came, other = (rack[n], travel[n]) if of_rack else (travel[n], rack[n])
        came_to[n] = came
        _equations(links, leg, turn, at, travel[n], rack[n], left=left, jacobian=jacobian)
        weight = _driven(links, turn, at, jacobian, rack[n], of_rack, rate=rate, right=right, work=work)
        bend[:] = 0.0
        ahead_of = np.inf
        step, done, alive = STEP_MM, 0, begun[n] and weight != 0.0
        while alive and done < stops:
            goal = to[n, done]
            gap = goal - came
            ahead = goal if abs(gap) <= step else came + np.sign(gap) * step
            far = ahead - came
            old_turn[:, :], old_at[:] = turn, at
            for k in range(6):
                by[k] = rate[k] * far + bend[k] * far * far / 2.0
            good = _largest(by) < LARGEST_MM
            off, now = np.inf, 0.0
            if good:
                _moved(turn, at, by)
                here, there = (other, ahead) if of_rack else (ahead, other)
                wandered = 0.0
                for _ in range(NEWTONS):
                    _equations(links, leg, turn, at, here, there, left=left, jacobian=jacobian)
                    off = _largest(left)
                    good = good and wandered < JUMP_MM
                    if not good or off < NEAR_MM:
                        break
                    _solve(jacobian, left, by, work)
                    for k in range(6):
                        by[k] = -by[k]
                    wandered += _largest(by)
                    _moved(turn, at, by)
                now = _driven(links, turn, at, jacobian, there, of_rack, rate=newer, right=right, work=work)
                good = good and off < NEAR_MM and now * weight > 0.0
            if good:
                size = far if far != 0.0 else 1.0
                falls = (weight * weight - now * now) / abs(size)
                ahead_of = now * now / falls if falls > 0.0 else np.inf
                for k in range(6):
                    bend[k] = (newer[k] - rate[k]) / size
                    rate[k] = newer[k]
                weight, came = now, ahead
                came_to[n] = came
                step = min(min(2.0 * step, STEP_MM), TOWARDS * ahead_of)
                if came == goal:
                    turns[n, done], ats[n, done], reached[n, done] = turn, at, True
                    done += 1
            else:
                turn[:, :], at[:] = old_turn, old_at
                step = min(abs(far) / 2.0, TOWARDS * ahead_of)
            alive = step >= LEAST_MM
    return turns, ats, reached, came_to
