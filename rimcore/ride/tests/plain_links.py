"""The plain twin of ``rimcore.ride.compiled``: many poses abreast in NumPy. The tests hold one to the other."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from rimcore.ride.links import Array, Corner, Poses, _solved, driven, equations, moved
from rimcore.ride.stepping import JUMP_MM, LARGEST_MM, LEAST_MM, NEAR_MM, NEWTONS, STEP_MM, TOWARDS


@dataclass
class _Chain:
    """Where each of n poses stands on its way: the pose, its equations, how it moves and how that bends."""

    turn: Array
    at: Array
    jacobian: Array
    #: determinant of the equations; its square falls in a straight line towards a singular pose
    weight: Array
    rate: Array
    bend: Array
    #: distance to a singular pose as it is foreseen; infinite where none is [mm]
    left: Array

    def take(self, which: NDArray[np.int_] | NDArray[np.bool_]) -> _Chain:
        return _Chain(*(getattr(self, name)[which] for name in self.__dataclass_fields__))

    def put(self, which: NDArray[np.int_], other: _Chain) -> None:
        for name in self.__dataclass_fields__:
            getattr(self, name)[which] = getattr(other, name)


def _begin(corner: Corner, begun: Poses, travel: Array, rack: Array, of_rack: bool) -> _Chain:
    _, jacobian = equations(corner, begun.turn, begun.at, travel, rack)
    rate = driven(corner, (begun.turn, begun.at, jacobian), rack, of_rack)
    return _Chain(
        begun.turn.copy(),
        begun.at.copy(),
        jacobian,
        np.linalg.det(jacobian),
        rate,
        np.zeros_like(rate),
        np.full(len(rate), np.inf),
    )


def follow(corner: Corner, begun: Poses, travel: Array, rack: Array, to: Array, of_rack: bool) -> tuple[Poses, Array]:
    """As ``rimcore.ride.links.follow``."""
    count, stops = to.shape
    chain = _begin(corner, begun, travel, rack, of_rack)
    came, held = (rack if of_rack else travel).astype(float), travel if of_rack else rack
    alive, step, done = begun.reached & (chain.weight != 0), np.full(count, STEP_MM), np.zeros(count, dtype=int)
    turn, at, reached = (
        np.zeros((count, stops, 3, 3)),
        np.zeros((count, stops, 3)),
        np.zeros((count, stops), dtype=bool),
    )
    turn[:], at[:] = begun.turn[:, None], begun.at[:, None]
    while True:
        some = np.flatnonzero(alive & (done < stops))
        if not len(some):
            return Poses(turn.reshape(-1, 3, 3), at.reshape(-1, 3), reached.reshape(-1)), came
        goal = to[some, done[some]]
        gap = goal - came[some]
        ahead = np.where(np.abs(gap) <= step[some], goal, came[some] + np.sign(gap) * step[some])
        good, after = _stepped(corner.take(some), chain.take(some), held[some], came[some], ahead, of_rack)
        went, failed = some[good], some[~good]
        chain.put(went, after.take(good))
        came[went] = ahead[good]
        step[went] = np.minimum(np.minimum(2 * step[went], STEP_MM), TOWARDS * chain.left[went])
        step[failed] = np.minimum(np.abs(ahead - came[some])[~good] / 2, TOWARDS * chain.left[failed])
        alive[some[(step[some] < LEAST_MM)]] = False
        there = went[came[went] == goal[good]]
        turn[there, done[there]], at[there, done[there]], reached[there, done[there]] = (
            chain.turn[there],
            chain.at[there],
            True,
        )
        done[there] += 1


def _stepped(
    corner: Corner, chain: _Chain, held: Array, came: Array, ahead: Array, of_rack: bool
) -> tuple[NDArray[np.bool_], _Chain]:
    """One step of each pose, along its bend and then by Newton; good where it stays on its branch."""
    far = (ahead - came)[:, None]
    by = chain.rate * far + chain.bend * far**2 / 2
    good = np.abs(by).max(axis=1) < LARGEST_MM
    by[~good] = 0.0
    turn, at = moved(chain.turn, chain.at, by)
    travel, rack = (held, ahead) if of_rack else (ahead, held)
    wandered = np.zeros(len(at))
    for _ in range(NEWTONS):
        left, jacobian = equations(corner, turn, at, travel, rack)
        off = np.abs(left).max(axis=1)
        good &= wandered < JUMP_MM
        if not (good & (off >= NEAR_MM)).any():
            break
        by = -_solved(jacobian, left)
        by[~good] = 0.0
        wandered += np.abs(by).max(axis=1)
        turn, at = moved(turn, at, by)
    weight = np.linalg.det(jacobian)
    good &= (off < NEAR_MM) & (weight * chain.weight > 0)
    return good, _after(corner, chain, (turn, at, jacobian, weight), rack, far, of_rack)


def _after(
    corner: Corner, chain: _Chain, now: tuple[Array, Array, Array, Array], rack: Array, far: Array, of_rack: bool
) -> _Chain:
    """How the poses move on from here, and how far off a singular one is."""
    turn, at, jacobian, weight = now
    rate = driven(corner, (turn, at, jacobian), rack, of_rack)
    size = np.where(far == 0, 1.0, far)
    falls = (chain.weight**2 - weight**2) / np.abs(size[:, 0])
    left = np.full(len(falls), np.inf)
    np.divide(weight**2, falls, out=left, where=falls > 0)
    return _Chain(turn, at, jacobian, weight, rate, (rate - chain.rate) / size, left)
