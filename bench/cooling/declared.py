"""The cooling sheet, declared."""

from __future__ import annotations

from bench.cooling import facts
from bench.frame.declared import Face
from rimcore.benches import BENCHES

FACE = Face(bench=BENCHES["cooling"], address="cooling", begun=facts.begun, judge=facts.judgements)
