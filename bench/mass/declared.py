"""The mass bench, declared."""

from __future__ import annotations

from bench.frame.declared import Face
from bench.mass import facts
from rimcore.benches import BENCHES

FACE = Face(bench=BENCHES["mass"], address="mass", begun=facts.begun, judge=facts.judgements)
