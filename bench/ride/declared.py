"""The ride bench, declared: four corners at their height, and a leaf-sprung end lifted."""

from __future__ import annotations

from bench.frame.declared import Face
from bench.ride import facts, lift
from garage.file import CarFile
from rimcore.benches import BENCHES
from rimcore.quantities.judgement import Judgement


def _begun(file: CarFile) -> bool:
    return facts.begun(file) or lift.lifted(file) is not None


def _judged(file: CarFile) -> tuple[Judgement, ...]:
    return (*facts.judgements(file), *lift.judgements(file))


FACE = Face(bench=BENCHES["ride"], address="ride", begun=_begun, judge=_judged)
