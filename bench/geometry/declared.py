"""The geometry bench, declared."""

from __future__ import annotations

from bench.frame.declared import Face
from bench.geometry import facts
from rimcore.benches import BENCHES

FACE = Face(bench=BENCHES["geometry"], address="geometry", begun=facts.begun, judge=facts.judgements)
