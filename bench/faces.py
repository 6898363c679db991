"""All benches, in the order of the switch."""

from __future__ import annotations

from bench.air.declared import FACE as AIR
from bench.alignment.declared import FACE as ALIGNMENT
from bench.brakes.declared import FACE as BRAKES
from bench.breathing.declared import FACE as BREATHING
from bench.cooling.declared import FACE as COOLING
from bench.gearing.declared import FACE as GEARING
from bench.geometry.declared import FACE as GEOMETRY
from bench.mass.declared import FACE as MASS
from bench.ride.declared import FACE as RIDE
from bench.sound.declared import FACE as SOUND
from bench.square.declared import FACE as SQUARE
from bench.steering.declared import FACE as STEERING
from bench.weights.declared import FACE as WEIGHTS
from bench.well.declared import FACE as WELL
from garage.file import CarFile
from rimcore.quantities.judgement import Judgement

FACES = (
    WELL,
    RIDE,
    STEERING,
    GEOMETRY,
    ALIGNMENT,
    WEIGHTS,
    SQUARE,
    GEARING,
    BREATHING,
    SOUND,
    COOLING,
    BRAKES,
    AIR,
    MASS,
)


def beside(file: CarFile) -> list[Judgement]:
    """What benches judge of the build in hand beside its gaps and parts; one that nobody has begun says nothing."""
    return [judgement for face in FACES if not face.of_build and face.begun(file) for judgement in face.judge(file)]
