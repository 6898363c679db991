"""The list of benches. A new bench is a folder of its own and a line here."""

from __future__ import annotations

from rimcore.aero.bench import AIR_BENCH
from rimcore.braking.bench import BRAKES_BENCH
from rimcore.breathing.bench import BREATHING_BENCH, SOUND_BENCH
from rimcore.cooling.bench import COOLING_BENCH
from rimcore.driveline.bench import GEARING
from rimcore.mass.ledger import MASS_BENCH
from rimcore.quantities.declared import Bench, Lever
from rimcore.ride.bench import GEOMETRY, WEIGHTS
from rimcore.ride.standing import RIDE_BENCH
from rimcore.steering.bench import STEERING_BENCH
from rimcore.steering.schools import ALIGNMENT_BENCH, SQUARE_BENCH
from rimcore.well.bench import WELL

BENCHES: dict[str, Bench] = {
    bench.key: bench
    for bench in (
        WELL,
        RIDE_BENCH,
        STEERING_BENCH,
        GEOMETRY,
        ALIGNMENT_BENCH,
        WEIGHTS,
        SQUARE_BENCH,
        GEARING,
        BREATHING_BENCH,
        SOUND_BENCH,
        COOLING_BENCH,
        BRAKES_BENCH,
        AIR_BENCH,
        MASS_BENCH,
    )
}
#: every lever of every bench, by code
LEVERS: dict[str, Lever] = {lever.code: lever for bench in BENCHES.values() for lever in bench.levers}
