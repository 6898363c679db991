"""Figures as a person's own predictions taught them."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from garage.file import CarFile
from garage.kept import once
from rimcore.proof.learnt import Own, honestly, owns_with
from rimcore.proof.pooled import pooled
from rimcore.quantities.judgement import Judgement
from rimcore.well.judge.posegaps import PoseGap

#: kept instead of kinds: figures stay as they are worked out
PLAIN = "plain"


@once
def owns_of(file: CarFile) -> Mapping[str, Own]:
    """What counts now, by the code of the kind; once a page. Nothing where a person goes by what is worked out."""
    said = file.preferences.own_honesty if file.preferences is not None else {}
    if PLAIN in said:
        return {}
    return owns_with({code: Own(**one) for code, one in said.items()}, pooled())


def taught(file: CarFile, judged: Iterable[Judgement]) -> list[Judgement]:
    """Judgements with what one's own predictions taught."""
    owns = owns_of(file)
    return [honestly(one, owns) for one in judged] if owns else list(judged)


def taught_at(file: CarFile, gaps: Iterable[PoseGap]) -> list[PoseGap]:
    """Gaps at one pose with what predictions of gaps taught, the tightest by margin first."""
    own = owns_of(file).get("gap.")
    found = list(gaps) if own is None else [one.as_taught(own.widen, own.add) for one in gaps]
    return sorted(found, key=lambda one: one.gap_mm - one.wanted_mm)
