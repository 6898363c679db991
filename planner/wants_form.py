"""What a bench, or the sheets, need in a build: listed with what is not known, wanted with one press."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any
from zlib import crc32

from django import forms
from django.contrib import messages
from django.http import HttpRequest

from garage.file import CarFile
from planner.chosen import build_in_hand
from planner.models import Build
from planner.wants import Row, Wants, keep_wants, said_of, set_prices, wants_of
from rimcore.wanted import Wanted
from shell.forms import MoneyField
from shell.undo import remember


def price_name(key: str) -> str:
    """The field of a price goes by what it is of: where the list changed meanwhile it finds no other part.

    >>> price_name("clamps") == price_name("clamps"), price_name("clamps") == price_name("hangers")
    (True, False)
    """
    return f"price_{crc32(key.encode()):08x}"


class WantsForm(forms.Form):
    """Prices of what nobody knows a price of; each may stay open."""

    def __init__(self, wants: Wants, *args: Any, **options: Any) -> None:
        super().__init__(*args, auto_id=f"id_{wants.source.replace(' ', '_')}_%s", **options)
        self.wants = wants
        self.keys: dict[str, str] = {}
        for row in wants.rows:
            if row.price_minor is None:
                name = price_name(row.wanted.key)
                self.fields[name] = MoneyField(required=False, label=f"Price of one, {row.wanted.name}")
                self.keys[name] = f"{wants.source}/{row.wanted.key}"[:120]

    @property
    def rows(self) -> list[tuple[Row, forms.BoundField | None]]:
        """What is wanted, each with the field of its price where it is asked."""
        return [
            (row, self[name] if (name := price_name(row.wanted.key)) in self.fields else None)
            for row in self.wants.rows
        ]

    @property
    def prices(self) -> dict[str, int]:
        """Prices that were typed [minor units], by the key of their choice."""
        return {key: said for name, key in self.keys.items() if (said := self.cleaned_data.get(name)) is not None}


def asked_of(
    request: HttpRequest, file: CarFile, source: str, wanted_of: Callable[[Build], Sequence[Wanted]]
) -> WantsForm | None:
    """The form of what a source wants in the build in hand, with what was sent of it; None where nothing is wanted."""
    build = build_in_hand(file)
    wanted = wanted_of(build) if build is not None else ()
    if build is None or not wanted:
        return None
    sent = request.POST.get("form") == "wants" and request.POST.get("source") == source
    return WantsForm(wants_of(build, source, wanted), request.POST if sent else None)


def want_it(request: HttpRequest, file: CarFile, form: WantsForm) -> None:
    """All of it into the build as wanted, with the prices that were typed, and said what is still open."""
    wants = form.wants
    with remember(request.user, f"{said_of(wants.source)}, in {wants.build.name}"):
        keep_wants(file, wants.build, request.user, wants.source, [row.wanted for row in wants.rows])
        fresh = type(wants.build).objects.get(pk=wants.build.pk)
        set_prices(Wants(wants.source, fresh, wants.rows), request.user, form.prices)
    open_prices = len(form.keys) - len(form.prices)
    said = f"; {open_prices} without a price" if open_prices else ""
    messages.success(
        request, f"{len(wants.rows)} part{'s' if len(wants.rows) != 1 else ''} in {wants.build.name}{said}."
    )
