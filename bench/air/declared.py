"""The air bench, declared."""

from __future__ import annotations

from bench.air import facts
from bench.frame.declared import Face
from rimcore.benches import BENCHES

FACE = Face(bench=BENCHES["air"], address="air", begun=facts.begun, judge=facts.judgements)
