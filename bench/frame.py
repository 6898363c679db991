"""One frame for all benches: which there are, where each opens, and the state of each with the build in hand."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass

from django.urls import reverse

from bench.airing import judgements as of_air
from bench.aligned import judgements as of_alignment
from bench.braked import judgements as of_brakes
from bench.breathed import judgements as of_breathing
from bench.cooled import judgements as of_cooling
from bench.gears import judgements as of_gearing
from bench.links import judgements as of_geometry
from bench.massed import judgements as of_mass
from bench.sounded import judgements as of_sound
from bench.squared import judgements as of_square
from bench.steered import judgements as of_steering
from bench.stood import judgements as of_ride
from bench.weighed import judgements as of_weights
from garage.file import CarFile
from garage.inhand import judgements_in_hand
from rimcore.benches import BENCHES
from rimcore.quantities.declared import Bench
from rimcore.quantities.judgement import ORDER, Judgement, State, worst


@dataclass(frozen=True)
class Face:
    """A bench on the pages: the address at which it opens, and what it judges of the build in hand."""

    bench: Bench
    address: str
    judge: Callable[[CarFile], Iterable[Judgement]]


FACES = (
    Face(BENCHES["well"], "check-start", judgements_in_hand),
    Face(BENCHES["ride"], "ride", of_ride),
    Face(BENCHES["steering"], "steering", of_steering),
    Face(BENCHES["geometry"], "geometry", of_geometry),
    Face(BENCHES["alignment"], "alignment", of_alignment),
    Face(BENCHES["weights"], "weights", of_weights),
    Face(BENCHES["square"], "square", of_square),
    Face(BENCHES["gearing"], "gearing", of_gearing),
    Face(BENCHES["breathing"], "breathing", of_breathing),
    Face(BENCHES["sound"], "sound", of_sound),
    Face(BENCHES["cooling"], "cooling", of_cooling),
    Face(BENCHES["brakes"], "brakes", of_brakes),
    Face(BENCHES["air"], "air", of_air),
    Face(BENCHES["mass"], "mass", of_mass),
)


@dataclass(frozen=True)
class Tab:
    """A bench in the switch."""

    key: str
    name: str
    about: str
    url: str
    state: State
    #: judgements in that state, and all
    count: int
    total: int


def switch(file: CarFile) -> list[Tab]:
    """All benches, the worst first; equal ones as they are declared."""
    found = []
    for face in FACES:
        states = [judgement.state for judgement in face.judge(file)]
        state = worst(states)
        url = reverse(face.address, args=[file.car.pk])
        found.append(Tab(face.bench.key, face.bench.name, face.bench.about, url, state, states.count(state), len(states)))
    return sorted(found, key=lambda tab: ORDER.index(tab.state))
