"""The steering bench, declared."""

from __future__ import annotations

from bench.frame.declared import Face
from bench.steering import facts
from rimcore.benches import BENCHES

FACE = Face(bench=BENCHES["steering"], address="steering", begun=facts.begun, judge=facts.judgements)
