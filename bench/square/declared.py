"""The four marks of a frame, declared."""

from __future__ import annotations

from bench.frame.declared import Face
from bench.square import facts
from rimcore.benches import BENCHES

FACE = Face(bench=BENCHES["square"], address="square", begun=facts.begun, judge=facts.judgements)
