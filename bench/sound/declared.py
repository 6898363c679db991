"""The sound sheet, declared."""

from __future__ import annotations

from bench.frame.declared import Face
from bench.sound import facts
from rimcore.benches import BENCHES

FACE = Face(bench=BENCHES["sound"], address="sound", begun=facts.begun, judge=facts.judgements)
