"""The alignment sheet, declared."""

from __future__ import annotations

from bench.alignment import facts
from bench.frame.declared import Face
from rimcore.benches import BENCHES

FACE = Face(bench=BENCHES["alignment"], address="alignment", begun=facts.begun, judge=facts.judgements)
