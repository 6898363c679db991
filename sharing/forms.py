"""What is asked when a car is shared."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from django import forms
from django.utils import timezone

from garage.file import CarFile
from planner.chosen import builds_of
from proof.book.chapters import CHAPTERS
from sharing.models import HandOver, Helper
from workshop.queries import jobs_of

#: a link holds so long at the most, and so long where nobody says otherwise
LONGEST, USUAL = timedelta(days=366), timedelta(days=30)
#: chapters that are ticked at first: none shows a face, a receipt or a promise
TICKED = ("car", "readings", "drawings", "torque", "parts", "cautions", "open")


class LinkForm(forms.Form):
    """What an address shows, and until when."""

    what = forms.ChoiceField(label="What it shows")
    until = forms.DateField(label="Until", widget=forms.DateInput({"type": "date"}, format="%Y-%m-%d"))
    chapters = forms.MultipleChoiceField(
        choices=list(CHAPTERS.items()),
        widget=forms.CheckboxSelectMultiple,
        required=False,
        label="Chapters, where it is the book",
    )
    money = forms.BooleanField(required=False, label="With prices")
    notes = forms.BooleanField(required=False, label="With what is written about the car, and notes")
    names = forms.BooleanField(required=False, label="With the names of who read and worked")

    def __init__(self, file: CarFile, *args: Any, **options: Any) -> None:
        options.setdefault("initial", {"until": timezone.localdate() + USUAL, "chapters": TICKED})
        super().__init__(*args, **options)
        builds = [(f"build-{one.pk}", f"The build {one.name}") for one in builds_of(file)]
        jobs = [(f"job-{one.pk}", f"The job sheet {one.title}") for one in jobs_of(file)]
        what: Any = self.fields["what"]
        what.choices = [("book", "The build book"), *builds, *jobs]

    def clean_until(self) -> Any:
        until, today = self.cleaned_data["until"], timezone.localdate()
        if not today <= until <= today + LONGEST:
            raise forms.ValidationError(f"Accepted: {today:%-d %b %Y} to {today + LONGEST:%-d %b %Y}.")
        return until

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        if cleaned.get("what") == "book" and not cleaned.get("chapters"):
            self.add_error("chapters", "Tick at least one chapter.")
        return cleaned

    def values(self) -> dict[str, Any]:
        """As a link keeps them."""
        told = dict(self.cleaned_data)
        told["what"], _, number = told["what"].partition("-")
        return told | {
            "number": int(number) if number else None,
            "chapters": told["chapters"] if told["what"] == "book" else [],
        }


class HelperForm(forms.Form):
    """Who may help, and how far."""

    name = forms.CharField(max_length=150, label="Sign-in name")
    role = forms.ChoiceField(choices=list(Helper.ROLES.items()), label="May")


class HandOverForm(forms.Form):
    """Whose car it becomes, what goes with it, what stays."""

    name = forms.CharField(max_length=150, label="Sign-in name of the next owner")
    money = forms.BooleanField(required=False, label="Prices and receipts go with it")
    notes = forms.BooleanField(required=False, initial=True, label="Notes go with it")
    keep = forms.ChoiceField(choices=list(HandOver.KEEPS.items()), label="You keep")

    def values(self) -> dict[str, Any]:
        return {name: value for name, value in self.cleaned_data.items() if name != "name"}
