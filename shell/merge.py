"""Two windows that change the same thing.

What each changed is kept, and where both changed one field the person decides.
"""

from __future__ import annotations

import json
from typing import Any

from django import forms

SEEN = "seen"
#: most characters of what a form says that it showed
MOST_SEEN = 20_000


class Merged(forms.BaseForm):
    """A form that knows what it showed when it was opened.

    What the person did not touch keeps what another window made of it meanwhile. A field that both changed
    differently is refused once, with both values; sent again, what is typed stands.

    Mix in before ``forms.Form`` or ``forms.ModelForm``.
    """

    def __init__(self, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        shown = {name: self._shown(name) for name in self.fields}
        self.fields[SEEN] = forms.CharField(
            required=False, max_length=MOST_SEEN, widget=forms.HiddenInput, initial=json.dumps(shown)
        )
        self.clashes: dict[str, str] = {}
        if self.is_bound:
            self._merge(shown)

    def _shown(self, name: str) -> str:
        """What the field shows of what is kept now."""
        field = self.fields[name]
        value = field.prepare_value(self.get_initial_for_field(field, name))
        if isinstance(field, forms.BooleanField):
            return "on" if value else ""
        value = field.widget.format_value(value)
        if isinstance(value, (list, tuple)):
            value = value[0] if value else ""
        return "" if value is None else str(value).strip().replace("\r\n", "\n")

    def _typed(self, name: str) -> str:
        field = self.fields[name]
        value = field.widget.value_from_datadict(self.data, self.files, self.add_prefix(name))
        if isinstance(field, forms.BooleanField):
            return "on" if value else ""
        return "" if value is None else str(value).strip().replace("\r\n", "\n")

    def _merge(self, shown: dict[str, str]) -> None:
        sent = self.data.get(self.add_prefix(SEEN)) or "{}"
        try:
            opened = json.loads(sent) if len(sent) <= MOST_SEEN else {}
        except (ValueError, RecursionError):
            opened = {}
        if not isinstance(opened, dict):
            opened = {}
        data: Any = self.data.copy()  # type: ignore[attr-defined]
        self.data = data
        data[self.add_prefix(SEEN)] = json.dumps(shown)
        for name, now in shown.items():
            before, typed = opened.get(name), self._typed(name)
            if not isinstance(before, str) or before == now or typed == now:
                continue
            if typed == before:
                data[self.add_prefix(name)] = now
            else:
                self.clashes[name] = (
                    f"Meanwhile changed to “{self._said(name, now)}” in another window; you typed “{self._said(name, typed)}”. Send it again to keep yours."
                )

    def _said(self, name: str, value: str) -> str:
        choices = dict(getattr(self.fields[name], "choices", []) or [])
        if isinstance(self.fields[name], forms.BooleanField):
            return "yes" if value else "no"
        return str(choices.get(value, value)) or "blank"

    def _clean_form(self) -> None:
        super()._clean_form()  # type: ignore[misc]
        for name, said in self.clashes.items():
            if name not in self.errors:
                self.add_error(name, said)
        if hasattr(self, "cleaned_data"):
            self.cleaned_data.pop(SEEN, None)
