"""What a change of wheels drags along."""

from __future__ import annotations

import math
from dataclasses import dataclass

from rimcore.quantities.judgement import (
    COMMON_PRACTICE,
)
from rimcore.well.judge.ranges import lock_text
from rimcore.well.judge.ratings import loads, speed
from rimcore.well.read.measured import Axle, Candidate
from rimcore.wheels import hub as hubs
from rimcore.wheels.spacers import spacer_cautions


@dataclass(frozen=True)
class Drag:
    """Something a choice drags along with it."""

    what: str
    detail: str
    basis: str
    needed: bool = True


def drags_along(axle: Axle, candidate: Candidate) -> tuple[Drag, ...]:
    """What else has to be bought, done or accepted with this wheel and tyre."""
    fit = hubs.hub_fit(axle.hub, candidate.mount, candidate.fitted.spacer_mm, candidate.levers.ring)
    found: list[Drag] = []
    if fit.ring is not None and fit.bore.state != "clear":
        found.append(
            Drag(
                "Centring ring",
                f"{fit.ring.inner_mm:g} → {fit.ring.outer_mm:g} mm, solid, not hollow plastic",
                COMMON_PRACTICE,
            )
        )
    if fit.seat.state == "hit":
        found.append(Drag("Nuts or bolts", fit.seat.remedies[0], COMMON_PRACTICE))
    found += _thread_drags(fit.engagement, candidate)
    for text in spacer_cautions(candidate.fitted.spacer_mm, candidate.levers.spacer_kind):
        found.append(Drag("Spacers", text, COMMON_PRACTICE))
    if candidate.levers.lock_limit_deg > 0:
        found.append(
            Drag("Lock limiters", lock_text(axle.stop_motion, candidate.levers.lock_limit_deg), COMMON_PRACTICE)
        )
    if (
        candidate.fitted.wheel.diameter_in != axle.present.wheel.diameter_in
        or candidate.fitted.tyre.diameter_mm != axle.present.tyre.diameter_mm
    ):
        found.append(Drag("Speedometer", speed(axle, candidate).reason, "UN R39", needed=False))
    for load in loads(axle, candidate):
        if load.state != "clear":
            found.append(Drag(f"{load.name} rating", load.reason, load.basis, needed=load.state == "hit"))
    found.append(
        Drag(
            "Valves and pressure sensors",
            "move the sensors over, or accept the warning light; valve holes and sensor angles differ",
            COMMON_PRACTICE,
            needed=False,
        )
    )
    found += _cap(axle, candidate)
    if candidate.levers.ride_drop_mm or candidate.fitted.camber_deg != axle.present.camber_deg:
        found.append(
            Drag("Alignment", "height and camber change toe: set it after the car has settled", COMMON_PRACTICE)
        )
    return tuple(found)


def _cap(axle: Axle, candidate: Candidate) -> list[Drag]:
    """The cap sits in the wheel's bore: another bore takes another cap, and a tall collar may push it out."""
    bore, hub = candidate.mount.bore_mm, axle.hub.bore_mm
    if bore is None or hub is None or abs(bore - hub) <= hubs.BORE_MATCH_MM:
        return []
    return [
        Drag(
            "Centre cap",
            f"the bore is {bore:g} mm, the hub {hub:g}: the old cap will not fit",
            COMMON_PRACTICE,
            needed=False,
        )
    ]


def _thread_drags(engagement: hubs.Engagement, candidate: Candidate) -> list[Drag]:
    if engagement.length_mm is None or engagement.required_mm is None:
        return []
    spare = engagement.length_mm - engagement.required_mm
    if spare < 0:
        return [Drag("Longer studs or bolts", f"{math.ceil(-spare)} mm more thread", COMMON_PRACTICE)]
    most = candidate.fitted.spacer_mm + spare
    return [Drag("Spacer limit", f"{most:.0f} mm with the present studs or bolts", COMMON_PRACTICE, needed=False)]
