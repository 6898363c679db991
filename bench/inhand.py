"""The build in hand as all rooms see it.

The planner's build, what the shelf waits for, what the benches judge of it.
"""

from __future__ import annotations

from collections.abc import Iterable

from bench import faces
from bench.steering import facts as steering
from garage.file import CarFile
from garage.inhand import Named
from garage.setting import InHand, Racked
from planner import board, parts, queries
from planner.chosen import builds_of
from rimcore.parts.declared import Place
from rimcore.quantities.judgement import Judgement
from shelf.queries import waiting


class Builds:
    """What is planned, judged and waited for; see ``garage.inhand.BuildInHand``."""

    def setting(self, file: CarFile) -> InHand | None:
        return queries.provide_in_hand(file)

    def judgements(self, file: CarFile) -> Iterable[Judgement] | None:
        return queries.provide_judged(file)

    def place(self, file: CarFile, end: str) -> Place | None:
        return parts.provide_place(file, end)

    def racked(self, file: CarFile) -> Racked | None:
        return steering.racked(file)

    def beside(self, file: CarFile) -> Iterable[Judgement]:
        return faces.beside(file)

    def chooses(self, file: CarFile) -> bool:
        return board.chooses(file)

    def builds(self, file: CarFile) -> Iterable[Named]:
        return builds_of(file)

    def waiting(self, file: CarFile) -> Iterable[Iterable[Judgement]]:
        return waiting(file)
