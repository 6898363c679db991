"""The switch between benches: where each opens, and its state with the build in hand."""

from __future__ import annotations

from dataclasses import dataclass

from django.urls import reverse

from bench.faces import FACES
from garage.file import CarFile
from rimcore.quantities.judgement import ORDER, State, worst


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
        found.append(
            Tab(face.bench.key, face.bench.name, face.bench.about, url, state, states.count(state), len(states))
        )
    return sorted(found, key=lambda tab: ORDER.index(tab.state))
