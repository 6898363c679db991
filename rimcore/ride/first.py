"""A first corner, followed so that what is compiled is there before anybody waits for it."""

from __future__ import annotations

import numpy as np

from rimcore.ride.links import corner_of, follow, start


def first_way() -> int:
    """Follow five links and a strut in every way that there is; gives how many poses were reached.

    Compiles the way where it is not compiled yet, else takes what was kept.

    Source: none; the corners are made up.

    >>> first_way()
    4
    """
    inner = np.array(
        [
            [180.0, -400.0, 150.0],
            [-150.0, -380.0, 160.0],
            [200.0, -420.0, -120.0],
            [-220.0, -430.0, -110.0],
            [-120.0, -410.0, -20.0],
        ]
    )
    outer = np.array(
        [
            [40.0, -100.0, 170.0],
            [-50.0, -105.0, 180.0],
            [50.0, -90.0, -130.0],
            [-60.0, -95.0, -125.0],
            [-140.0, -100.0, -15.0],
        ]
    )
    strut = corner_of(outer[2:], inner[2:], np.array([-20.0, -170.0, 480.0]), np.array([-2.0, -110.0, 60.0]))
    reached = 0
    for corner in (corner_of(outer, inner), strut):
        for of_rack in (False, True):
            poses, _ = follow(corner, start(1), np.zeros(1), np.zeros(1), np.array([[2.0]]), of_rack)
            reached += int(poses.reached.sum())
    return reached
