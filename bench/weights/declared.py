"""The corner weights, declared."""

from __future__ import annotations

from bench.frame.declared import Face
from bench.weights import facts
from rimcore.benches import BENCHES

FACE = Face(bench=BENCHES["weights"], address="weights", begun=facts.begun, judge=facts.judgements)
