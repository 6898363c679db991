"""Questions of a long form by what they decide: a fold says how many are answered, and opens where one is wrong."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from django import forms


@dataclass(frozen=True)
class Fold:
    """Questions that stand together; without a name they are never folded."""

    name: str
    fields: tuple[Any, ...]
    open: bool
    #: how many of them are answered otherwise than they begin
    said: int = 0


def folds_of(form: forms.Form, groups: Mapping[str, Sequence[str]]) -> tuple[Fold, ...]:
    """The form's fields in groups, in their order; what no group names comes first and stays open."""
    named = {name for group in groups.values() for name in group}
    first = [name for name in form.fields if name not in named]
    rest = [(title, [name for name in names if name in form.fields]) for title, names in groups.items()]
    return tuple(
        Fold(
            title,
            tuple(form[name] for name in names),
            not title or any(name in form.errors for name in names),
            sum(_said(form, name) for name in names),
        )
        for title, names in [("", first), *rest]
        if names
    )


def _said(form: forms.Form, name: str) -> bool:
    """Is something typed in it that differs from what it begins with?"""
    kept, begins = form[name].value(), form.fields[name].initial
    return kept not in (None, "", [], False) and str(kept) != str(begins)
