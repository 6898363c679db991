"""The gearing bench, declared."""

from __future__ import annotations

from bench.frame.declared import Face
from bench.gearing import facts
from rimcore.benches import BENCHES

FACE = Face(bench=BENCHES["gearing"], address="gearing", begun=facts.begun, judge=facts.judgements)
