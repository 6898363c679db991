"""The breathing bench, declared."""

from __future__ import annotations

from bench.breathing import facts
from bench.frame.declared import Face
from rimcore.benches import BENCHES

FACE = Face(bench=BENCHES["breathing"], address="breathing", begun=facts.begun, judge=facts.judgements)
