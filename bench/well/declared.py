"""The wheel well, declared."""

from __future__ import annotations

from bench.frame.declared import Face
from garage.file import CarFile
from garage.inhand import judgements_in_hand
from rimcore.benches import BENCHES


def _begun(file: CarFile) -> bool:
    return file.current is not None


FACE = Face(bench=BENCHES["well"], address="check-start", begun=_begun, judge=judgements_in_hand, of_build=True)
