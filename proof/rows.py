"""A row of what was promised and what was found."""

from __future__ import annotations

from dataclasses import dataclass

from rimcore.quantities.judgement import Judgement


@dataclass(frozen=True)
class Row:
    """What was promised and what the rule said; with what was said then, where it was kept."""

    name: str
    promised: str
    measured: str
    error: str
    state: str
    said: Judgement | None = None
