"""Forms of a plan: a week, work, parts' orders, what happened, claims."""

from __future__ import annotations

import re
from datetime import date
from typing import Any

from django import forms
from django.utils import timezone

from garage.fields import DATE, PastDayField
from garage.file import CarFile
from planner.chosen import choices_of
from planner.dates.models import KINDS, Claim, PlanTask
from planner.models import Build, Choice
from rimcore.limits import LIMITS
from rimcore.planning.trials import WEEKDAYS
from rimcore.quantities.errors import BadInput
from rimcore.work.ledger import OUT_STATES
from shell.forms import MoneyField, QuantityField
from shell.pictures import MOST_BYTES, clean_picture

#: dates in one field, and how far from today they may lie [days]
MOST_DATES, FAR_DAYS = 200, 3660
_HOURS = LIMITS["day_hours"]


class DatesField(forms.CharField):
    """Days, each as a date or from–to, with a blank or a comma between; cleans to ISO texts."""

    def __init__(self, **options: Any) -> None:
        super().__init__(max_length=2000, required=False, **options)

    def clean(self, value: Any) -> Any:
        text = super().clean(value)
        found: list[str] = []
        for word in re.split(r"[\s,;]+", re.sub(r"\s*(?:\.\.|–|to)\s*", "..", text.strip())):
            if word:
                found += _days(word)
        if len(found) > MOST_DATES:
            raise forms.ValidationError(f"{len(found)} days; accepted: {MOST_DATES} at most.")
        return sorted(set(found))

    def prepare_value(self, value: Any) -> Any:
        return " ".join(value) if isinstance(value, list) else value


def read_day(text: str) -> date:
    """A day near today."""
    try:
        found = date.fromisoformat(text)
    except ValueError as error:
        raise forms.ValidationError(
            f"“{text}” is no day; accepted: 2027-05-14, or 2027-05-14 to 2027-05-20."
        ) from error
    if abs((found - timezone.localdate()).days) > FAR_DAYS:
        raise forms.ValidationError(f"{text} is too far away; accepted: ten years to either side of today.")
    return found


def _days(word: str) -> list[str]:
    first, _, last = word.partition("..")
    low = read_day(first)
    high = read_day(last) if last else low
    if not 0 <= (high - low).days < MOST_DATES:
        raise forms.ValidationError(f"“{word}” runs backwards or is too long; accepted: {MOST_DATES} days at most.")
    return [date.fromordinal(low.toordinal() + k).isoformat() for k in range((high - low).days + 1)]


class ExtraField(forms.CharField):
    """Single days with hours of their own, ``2027-05-14: 5``, with a blank or a line between."""

    def __init__(self, **options: Any) -> None:
        super().__init__(max_length=2000, required=False, **options)

    def clean(self, value: Any) -> Any:
        text = super().clean(value)
        found: dict[str, float] = {}
        for day, hours in re.findall(r"([^\s:=,;]+)\s*[:=]\s*([^\s,;]+)", text):
            found[read_day(day).isoformat()] = _hours(hours)
        left = re.sub(r"([^\s:=,;]+)\s*[:=]\s*([^\s,;]+)", "", text).strip(" ,;\n\r\t")
        if left:
            raise forms.ValidationError(f"“{left[:40]}” is no day with hours; accepted: 2027-05-14: 5.")
        return found

    def prepare_value(self, value: Any) -> Any:
        return " ".join(f"{day}:{hours:g}" for day, hours in value.items()) if isinstance(value, dict) else value


def _hours(text: str) -> float:
    try:
        found = float(text.replace(",", "."))
    except ValueError as error:
        raise forms.ValidationError(f"“{text[:20]}” is no number of hours; accepted: {_HOURS.accepted}.") from error
    if not _HOURS.low <= found <= _HOURS.high:
        raise forms.ValidationError(f"{text[:20]} hours are out of range; accepted: {_HOURS.accepted}.")
    return found


def _weekdays(label: str) -> forms.TypedMultipleChoiceField:
    return forms.TypedMultipleChoiceField(
        choices=list(enumerate(WEEKDAYS)),
        coerce=int,
        required=False,
        label=label,
        widget=forms.CheckboxSelectMultiple,
    )


class ClosedField(forms.CharField):
    """Suppliers' holidays, a supplier a line: ``Nook Lane Wheels: 2027-08-01 to 2027-08-14``."""

    def __init__(self, **options: Any) -> None:
        super().__init__(max_length=4000, required=False, widget=forms.Textarea(attrs={"rows": 2}), **options)
        self.dates = DatesField()

    def clean(self, value: Any) -> Any:
        found: dict[str, list[str]] = {}
        for line in super().clean(value).splitlines():
            name, colon, days = line.partition(":")
            if not line.strip():
                continue
            if not colon or not name.strip() or not days.strip():
                raise forms.ValidationError(
                    f"“{line[:40]}” names no days; accepted: Nook Lane Wheels: 2027-08-01 to 2027-08-14."
                )
            found[name.strip()[:80]] = self.dates.clean(days)
        if len(found) > 50:
            raise forms.ValidationError(f"{len(found)} suppliers; accepted: 50 at most.")
        return found

    def prepare_value(self, value: Any) -> Any:
        return (
            "\n".join(f"{name}: {' '.join(days)}" for name, days in value.items()) if isinstance(value, dict) else value
        )


class WeekForm(forms.Form):
    """Hours by weekday, days away, helper, lift, rain."""

    def __init__(self, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        for day, name in enumerate(WEEKDAYS):
            self.fields[f"day_{day}"] = forms.FloatField(
                min_value=_HOURS.low, max_value=_HOURS.high, label=f"{name}, hours"
            )
        self.fields["away"] = DatesField(label="Days away", help_text="2027-05-14, or 2027-05-14 to 2027-05-20")
        self.fields["extra"] = ExtraField(label="Single days with other hours", help_text="2027-05-14: 5")
        self.fields["helper_weekdays"] = _weekdays("A helper on")
        self.fields["helper_dates"] = DatesField(label="and on these days")
        self.fields["lift_weekdays"] = _weekdays("A lift or a rented place on")
        self.fields["lift_dates"] = DatesField(label="and on these days")
        self.fields["drive_weekdays"] = _weekdays("The car is wanted to drive on")
        self.fields["drive_weekdays"].help_text = "no work on it on these days but single days above"
        self.fields["wet_pct"] = forms.FloatField(
            min_value=0, max_value=100, label="Wet days, %", help_text="of the days, for work that wants dry weather"
        )
        self.fields["closed"] = ClosedField(label="Suppliers closed", help_text="a supplier a line, with its days")
        self.fields["own_factor"] = forms.BooleanField(required=False, label="Count with what my own jobs took")

    @property
    def hours(self) -> list[Any]:
        """The fields of the seven days."""
        return [self[f"day_{day}"] for day in range(7)]

    @property
    def rest(self) -> list[Any]:
        return [self[name] for name in self.fields if not name.startswith("day_")]

    @property
    def week(self) -> dict[str, Any]:
        """As the rows keep it."""
        found = {name: value for name, value in self.cleaned_data.items() if not name.startswith("day_")}
        return found | {"week_hours": [self.cleaned_data[f"day_{day}"] for day in range(7)]}

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        hours = [cleaned.get(f"day_{day}") for day in range(7)]
        driven = cleaned.get("drive_weekdays") or []
        left = [one for day, one in enumerate(hours) if day not in driven]
        if not self.errors and not any(left) and not cleaned.get("extra"):
            field = "drive_weekdays" if any(hours) else "day_5"
            self.add_error(
                field,
                "A week without hours is never ready; accepted: hours on a day at least on which the car may stand.",
            )
        return cleaned


class TaskForm(forms.ModelForm):
    """What is known of one piece of work; blank hours are the usual ones."""

    price_minor = MoneyField(required=False, label="Price")
    after = forms.MultipleChoiceField(required=False, label="Comes after", widget=forms.CheckboxSelectMultiple)

    class Meta:
        model = PlanTask
        fields = (
            "name",
            "low_h",
            "likely_h",
            "high_h",
            "by_whom",
            "away_low",
            "away_likely",
            "away_high",
            "price_minor",
            "after",
            "not_before",
            "helper",
            "lift",
            "dry",
            "wait_days",
            "done_on",
            "dropped",
        )
        widgets = {"not_before": DATE, "done_on": DATE}

    def __init__(self, others: list[tuple[str, str]], own: bool, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        chosen: Any = self.fields["after"]
        chosen.choices = others
        self.fields["name"].required = own
        self.own = own
        hours, days = LIMITS["task_hours"], LIMITS["plan_days"]
        for name, span in (*((one, hours) for one in ("low_h", "likely_h", "high_h")), *((one, days) for one in AWAY)):
            field: Any = forms.FloatField(
                min_value=span.low, max_value=span.high, required=False, label=str(self.fields[name].label)
            )
            self.fields[name] = field

    def clean_done_on(self) -> date | None:
        done: date | None = self.cleaned_data["done_on"]
        if done is not None and done > timezone.localdate():
            raise forms.ValidationError("That day has not come yet.")
        return done

    def clean_not_before(self) -> date | None:
        found: date | None = self.cleaned_data["not_before"]
        if found is not None and abs((found - timezone.localdate()).days) > FAR_DAYS:
            raise forms.ValidationError("Too far away; accepted: ten years to either side of today.")
        return found

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        for names, what in ((("low_h", "likely_h", "high_h"), "hours"), (AWAY, "days")):
            self._in_order(cleaned, names, what)
        if self.own and not self.errors and cleaned.get("likely_h") is None and cleaned.get("away_likely") is None:
            self.add_error("likely_h", "Missing: hours of it, or the days it is with others.")
        return cleaned

    def _in_order(self, cleaned: dict[str, Any], names: tuple[str, ...], what: str) -> None:
        low, likely, high = (cleaned.get(name) for name in names)
        if likely is None:
            if low is not None or high is not None:
                self.add_error(names[1], f"Missing: the likely {what}, where the least or the most is said.")
            return
        cleaned[names[0]], cleaned[names[2]] = likely if low is None else low, likely if high is None else high
        if not cleaned[names[0]] <= likely <= cleaned[names[2]]:
            self.add_error(names[1], f"Out of order; accepted: the least {what}, then the likely, then the most.")


AWAY = ("away_low", "away_likely", "away_high")


class OrderForm(forms.ModelForm):
    """When a part is ordered, and how long it takes."""

    class Meta:
        model = Choice
        fields = (
            "supply",
            "lead_low_days",
            "lead_days",
            "lead_high_days",
            "order_on",
            "order_after",
            "comes_with",
            "arrived_count",
        )
        widgets = {"order_on": DATE}
        labels = {"lead_days": "Lead, likely, days"}

    def __init__(self, works: list[tuple[str, str]], *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.fields["order_after"] = forms.ChoiceField(
            choices=[("", "nothing"), *works],
            required=False,
            label="Ordered only after",
            help_text="such as a reading that decides its size",
        )
        others: Any = self.fields["comes_with"]
        others.queryset = (
            Choice.objects.filter(build=self.instance.build, comes_with=None)
            .exclude(pk=self.instance.pk)
            .exclude(state__in=OUT_STATES)
            .select_related("part")
        )
        others.empty_label, others.label = "nothing", "Comes in one parcel, or as a set, with"

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        other = cleaned.get("comes_with")
        if other is not None and self.instance.parcel.exists():
            self.add_error("comes_with", "Other parts come with this one; say it at them.")
        likely = cleaned.get("lead_days") if cleaned.get("lead_days") is not None else self.instance.lead
        low, high = cleaned.get("lead_low_days"), cleaned.get("lead_high_days")
        if likely is None and (low is not None or high is not None):
            self.add_error("lead_days", "Missing: the likely lead.")
        elif likely is not None and ((low or 0) > likely or (high is not None and high < likely)):
            self.add_error("lead_days", "Out of order; accepted: the least, then the likely, then the most.")
        return cleaned


class HappenedForm(forms.Form):
    """Something happened: what, to which part, for how long, and what it costs."""

    kind = forms.ChoiceField(choices=list(KINDS.items()), label="What happened")
    what = forms.CharField(max_length=200, label="In words")
    happened_on = PastDayField()
    days = forms.IntegerField(
        min_value=0, max_value=730, required=False, label="Days lost", help_text="later, ill, wet: from today on"
    )
    hours = forms.FloatField(min_value=0, max_value=1000, required=False, label="Hours more")
    money_minor = MoneyField(required=False, label="Money more")

    def __init__(self, build: Build, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.choices = {str(one.pk): one for one in choices_of(build)}
        self.fields["choice"] = forms.ChoiceField(
            choices=[("", "no part"), *((key, one.label) for key, one in self.choices.items())],
            required=False,
            label="Which part",
        )
        self.order_fields(["kind", "choice", "what", "happened_on", "days", "hours", "money_minor"])

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        kind = cleaned.get("kind")
        if kind in ("late", "wrong") and not cleaned.get("choice"):
            self.add_error("choice", "Missing: which part.")
        if kind in ("late", "wrong", "ill", "rain") and not cleaned.get("days"):
            self.add_error("days", "Missing: how many days.")
        return cleaned


def _own_picture(found: Any) -> bytes | None:
    """A picture of our own making out of what was sent; None without one."""
    if not found:
        return None
    try:
        return clean_picture(found.read(MOST_BYTES + 1))[0]
    except BadInput as error:
        raise forms.ValidationError(f"Not kept: {error.message}.") from error


class ReceiptForm(forms.Form):
    """A picture of a receipt."""

    image = forms.FileField(label="Picture of the receipt", help_text="JPEG, PNG or WebP")

    def clean_image(self) -> bytes | None:
        return _own_picture(self.cleaned_data["image"])


class ClaimForm(forms.ModelForm):
    """A part that failed or came wrong."""

    money_back_minor = MoneyField(required=False, label="Money returned")
    image = forms.FileField(required=False, label="Picture", help_text="JPEG, PNG or WebP")

    class Meta:
        model = Claim
        fields = (
            "what",
            "seen_on",
            "after_km",
            "said",
            "due_on",
            "due_what",
            "sent_on",
            "label",
            "money_back_minor",
            "closed_on",
        )
        widgets = {"seen_on": DATE, "due_on": DATE, "sent_on": DATE, "closed_on": DATE}

    def __init__(self, file: CarFile, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.fields["after_km"] = QuantityField(
            "distance", 0, 1_000_000, required=False, label="Distance since it went on"
        )
        self.fields["said"].widget = forms.Textarea(attrs={"rows": 3})

    def clean_image(self) -> bytes | None:
        return _own_picture(self.cleaned_data["image"])

    def clean_money_back_minor(self) -> int:
        return self.cleaned_data["money_back_minor"] or 0
