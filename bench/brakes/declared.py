"""The brakes sheet, declared."""

from __future__ import annotations

from bench.brakes import facts
from bench.frame.declared import Face
from rimcore.benches import BENCHES

FACE = Face(bench=BENCHES["brakes"], address="brakes", begun=facts.begun, judge=facts.judgements)
