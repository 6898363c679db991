"""Forms of the workshop."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from django import forms
from django.utils import timezone

from garage.car.models import Axle
from garage.fields import DATE
from garage.file import CarFile
from garage.readings.forms import SheetRow
from garage.readings.queries import reading_text
from rimcore.fastening.bolts import CLASSES, read_thread
from rimcore.fastening.torques import plausible
from rimcore.limits import LIMITS
from rimcore.planning.cures import KINDS as CURES
from rimcore.quantities.errors import CoreError
from rimcore.tables.facts import CORNER_NAMES
from rimcore.well.read.stations import STATIONS
from rimcore.work.removed import net_kg
from rimcore.work.steps import gate_text
from shell.forms import CoreTextField, MoneyField, OdometerField, QuantityField
from shell.merge import Merged
from workshop.models import Removed, Snag, Step


class SkipForm(forms.Form):
    why = forms.CharField(max_length=200, label="Why it is skipped")


class DoneForm(forms.Form):
    """A step is done; one that waits for something says why it is done all the same."""

    note = forms.CharField(max_length=300, required=False, label="Note")

    def __init__(self, shut: Sequence[str], *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.shut = shut
        if shut:
            self.fields["anyway"] = forms.BooleanField(
                required=False, label="Do it all the same, and say why in the note"
            )

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        if self.shut and not (cleaned.get("anyway") and cleaned.get("note", "").strip()):
            self.add_error(
                "note",
                f"Wait until {'; '.join(gate_text(gate) for gate in self.shut)}. Do that first, or tick and say why.",
            )
        return cleaned


#: phases in which a car is not yet what the sheet makes of it
BEFORE = ("Before", "Remove")


class ReadRow(SheetRow):
    """A station that is read at a step; after the work it differs from the last reading because it was meant to."""

    def __init__(self, corner: str, code: str, file: CarFile, meant: bool, *args: Any, **options: Any) -> None:
        super().__init__(STATIONS[code], corner, file, *args, prefix=f"{corner}-{code}", **options)
        self.code, self.meant = code, meant
        self.last = next((one for one in file.latest if (one.corner, one.code) == (corner, code)), None)

    @property
    def name(self) -> str:
        """The station, with its corner."""
        where = f", {CORNER_NAMES[self.corner]}" if self.corner else ""
        return f"{self.kind.name}{where}"

    @property
    def before(self) -> str:
        """What was read there last, in the person's unit."""
        return reading_text(self.last, self.file.preferences) if self.last is not None else ""

    def _ask_twice(self, cleaned: dict[str, Any]) -> None:
        if not self.meant:
            super()._ask_twice(cleaned)


class ReadsForm:
    """What is read at a step, one row a station; a row may stay open, not all of them."""

    def __init__(self, file: CarFile, step: Step, data: Any = None) -> None:
        self.rows = [
            ReadRow(corner, code, file, step.phase not in BEFORE, data)
            for code, _, corner in (one.partition(" ") for one in step.reads)
            if code in STATIONS and (not corner or corner[0] in file.axles)
        ]
        self.is_bound = data is not None

    @property
    def filled(self) -> list[ReadRow]:
        return [row for row in self.rows if row.filled]

    @property
    def empty(self) -> bool:
        """Was it sent with nothing in it?"""
        return self.is_bound and not self.filled

    @property
    def errors(self) -> dict[str, Any]:
        """What was refused, by row."""
        if not self.is_bound:
            return {}
        refused = {row.prefix or "": row.errors for row in self.filled if not row.is_valid()}
        return refused or ({"": "nothing was read"} if self.empty else {})

    def is_valid(self) -> bool:
        return self.is_bound and not self.errors

    @property
    def cleaned_data(self) -> dict[str, Any]:
        return {"rows": [(row.corner, row.code, row.values()) for row in self.filled]}


class PullForm(forms.Form):
    """What the wrench showed."""

    lug = forms.IntegerField(min_value=1, max_value=10, widget=forms.HiddenInput)

    def __init__(self, unit: str, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.fields["read"] = QuantityField("torque", 1, 1000, label="read")


class AskHubForm(forms.Form):
    """What is not known of a hub that is to be tightened."""

    bolts = forms.IntegerField(min_value=3, max_value=10, label="Nuts or bolts of the wheel, counted")

    def __init__(self, axle: Axle, unit: str, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.fields["nut_torque_nm"] = QuantityField(
            "torque",
            *LIMITS["torque_nm"].span,
            label="Torque, from the car's handbook",
            help_text="the figure of the car, not of the wheel: 110, 81 lbf·ft",
        )
        for name in ("bolts", "nut_torque_nm"):
            if getattr(axle, name) is not None:
                del self.fields[name]


class SnagForm(Merged, forms.ModelForm):
    """A snag: what, kind, money and time lost, cure."""

    cost_minor = MoneyField(required=False, label="Money lost")
    hours = forms.FloatField(required=False, min_value=0, max_value=1000, label="Hours lost")

    class Meta:
        model = Snag
        fields = ("kind", "what", "cost_minor", "hours", "cure", "closed_on")
        widgets = {"closed_on": DATE}
        labels = {"what": "What happened", "closed_on": "Cured on"}

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        cleaned["cost_minor"] = cleaned.get("cost_minor") or 0
        cleaned["hours"] = cleaned.get("hours") or 0.0
        if cleaned.get("closed_on") and not cleaned.get("cure"):
            self.add_error("cure", "Say how it was cured, or leave the date open.")
        return cleaned


class PhotoForm(forms.Form):
    """One picture; checked and cleaned by the service."""

    image = forms.FileField(
        label="Photo", widget=forms.ClearableFileInput(attrs={"accept": "image/jpeg,image/png,image/webp"})
    )
    caption = forms.CharField(max_length=120, required=False)


class SpellForm(forms.Form):
    """Clocked hours, corrected."""

    began = forms.DateTimeField(widget=forms.DateTimeInput(attrs={"type": "datetime-local"}, format="%Y-%m-%dT%H:%M"))
    ended = forms.DateTimeField(widget=forms.DateTimeInput(attrs={"type": "datetime-local"}, format="%Y-%m-%dT%H:%M"))
    note = forms.CharField(max_length=120, required=False)

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        began, ended = cleaned.get("began"), cleaned.get("ended")
        if began and ended and ended < began:
            self.add_error("ended", "The end lies before the start.")
        if ended and ended > timezone.now():
            self.add_error("ended", "That time has not come yet.")
        return cleaned


class FinishForm(forms.Form):
    """The odometer when the job is done."""

    odometer_km = OdometerField(label="Odometer now")

    def __init__(self, least_km: int, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.least_km = least_km

    def clean_odometer_km(self) -> int:
        km: int = self.cleaned_data["odometer_km"]
        if km < self.least_km:
            raise forms.ValidationError(f"Less than the last reading, {self.least_km} km.")
        return km


class AskJointForm(forms.Form):
    """What is not known of a joint that is no hub's.

    Count, torque, angle, thread and class, the wrench it is read on.
    """

    count = forms.IntegerField(min_value=1, max_value=100, label="How many there are")
    torque_nm = forms.CharField()
    angle_deg = forms.FloatField(
        min_value=0, max_value=1080, required=False, label="Then turned by, °", help_text="stretch bolts: 80 N·m + 90°"
    )
    thread = CoreTextField(read_thread, required=False, max_length=20, help_text="M12x1.5, M10, 1/2-20")
    grade = forms.ChoiceField(
        choices=[("", "not known"), *((one, one) for one in CLASSES)], required=False, label="Property class"
    )
    one_use = forms.BooleanField(required=False, label="One use: new ones go in")
    wrench_mm = QuantityField("length", 50, 3000, required=False, label="Wrench, hand to square")
    adapter_mm = QuantityField("length", 0, 2000, required=False, label="Adapter in line with it")
    source = forms.CharField(
        max_length=80, required=False, label="Source", help_text="the maker's sheet, the car's handbook"
    )
    sure = forms.BooleanField(required=False, label="It is correct: save it")

    def __init__(self, step: Step, unit: str, *args: Any, **options: Any) -> None:
        told = step.joint
        start = {
            name: told.get(name)
            for name in ("angle_deg", "thread", "grade", "one_use", "wrench_mm", "adapter_mm", "source")
        }
        super().__init__(*args, initial={"count": step.lugs, "torque_nm": step.torque_nm, **start}, **options)
        self.fields["torque_nm"] = QuantityField("torque", 0.5, 2000, label=f"Torque, {unit}")

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        if (cleaned.get("wrench_mm") is None) != (cleaned.get("adapter_mm") is None):
            self.add_error("adapter_mm", "Wrench and adapter go together: give both lengths, or neither.")
        torque = cleaned.get("torque_nm")
        if torque is not None and not self.errors:
            held = plausible(torque, cleaned.get("thread", ""), cleaned.get("grade", ""), cleaned.get("angle_deg"))
            if held.state in ("hit", "tight") and not cleaned.get("sure"):
                self.add_error(
                    "torque_nm", f"{held.reason[:1].upper()}{held.reason[1:]}. Read it again, or tick that it is so."
                )
        return cleaned


class WaysForm(forms.Form):
    """Ways out of a snag with money, hours and days each; and what was decided."""

    decision = forms.ChoiceField(choices=[("", "not decided"), *CURES.items()], required=False, label="Decided")
    part = forms.CharField(max_length=80, required=False, label="Part that replaces it")

    def __init__(self, snag: Snag, *args: Any, **options: Any) -> None:
        start: dict[str, Any] = {"decision": snag.decision, "part": str(snag.choice.part) if snag.choice else ""}
        for kind, way in snag.options.items():
            start |= {f"{kind}_{name}": value for name, value in way.items()}
        super().__init__(*args, initial=start, **options)
        for kind in CURES:
            self.fields[f"{kind}_money_minor"] = MoneyField(required=False, label="Money")
            self.fields[f"{kind}_hours"] = forms.FloatField(required=False, min_value=0, max_value=1000, label="Hours")
            self.fields[f"{kind}_days"] = forms.IntegerField(
                required=False, min_value=0, max_value=1000, label="Days to wait"
            )
            self.fields[f"{kind}_note"] = forms.CharField(required=False, max_length=120, label="How")

    @property
    def rows(self) -> list[tuple[str, list[Any]]]:
        """Each way with its fields."""
        return [
            (words, [self[f"{kind}_{name}"] for name in ("note", "money_minor", "hours", "days")])
            for kind, words in CURES.items()
        ]

    @property
    def ways(self) -> dict[str, dict[str, Any]]:
        """What was thought of; a way without a word or a figure is none."""
        found = {}
        for kind in CURES:
            way = {name: self.cleaned_data.get(f"{kind}_{name}") for name in ("money_minor", "hours", "days", "note")}
            if any(value not in (None, "") for value in way.values()):
                found[kind] = {name: value for name, value in way.items() if value not in (None, "")}
        return found

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        decided = cleaned.get("decision")
        if decided and not self.errors and decided not in self.ways:
            self.add_error("decision", "Say first what it takes: money, hours, days, or how.")
        return cleaned


class RemovedForm(Merged, forms.ModelForm):
    """Something that came off."""

    gross_kg = QuantityField("mass", 0, 500, required=False, label="Weight with its box")
    tare_kg = QuantityField("mass", 0, 500, required=False, label="Weight of the empty box")
    sold_minor = MoneyField(required=False, label="Sold for")
    fees_minor = MoneyField(required=False, label="Fees of selling")

    class Meta:
        model = Removed
        fields = (
            "what",
            "where",
            "gross_kg",
            "tare_kg",
            "pieces_off",
            "pieces_back",
            "kept_where",
            "fate",
            "sold_minor",
            "fees_minor",
        )
        labels = {"kept_where": "Lies where", "fate": "What became of it"}

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        for name in ("sold_minor", "fees_minor"):
            if name not in self.errors:
                cleaned[name] = cleaned.get(name) or 0
        try:
            net_kg(cleaned.get("gross_kg"), cleaned.get("tare_kg"))
        except CoreError as error:
            self.add_error("tare_kg", f"{error.message[:1].upper()}{error.message[1:]}.")
        return cleaned


class StepForm(forms.Form):
    """A step of one's own."""

    title = forms.CharField(max_length=160)
    detail = forms.CharField(max_length=2000, required=False, widget=forms.Textarea(attrs={"rows": 2}))
    caution = forms.CharField(max_length=2000, required=False)
    tools = forms.CharField(max_length=400, required=False, help_text="parted by commas")
    consumables = forms.CharField(max_length=400, required=False, help_text="parted by commas")

    def clean_tools(self) -> list[str]:
        return self._parted("tools")

    def clean_consumables(self) -> list[str]:
        return self._parted("consumables")

    def _parted(self, name: str) -> list[str]:
        return [one.strip()[:120] for one in str(self.cleaned_data[name]).split(",") if one.strip()]


class TemplateNameForm(forms.Form):
    name = forms.CharField(max_length=80, label="Keep the sheet as a template named")


class TemplateFileForm(forms.Form):
    """A template as a JSON file."""

    file = forms.FileField(
        label="Template, a JSON file", widget=forms.ClearableFileInput(attrs={"accept": ".json,application/json"})
    )

    text: str

    def clean_file(self) -> Any:
        upload = self.cleaned_data["file"]
        if upload.size > 1024 * 1024:
            raise forms.ValidationError("The file is over 1 MB; a template is smaller.")
        try:
            self.text = upload.read().decode("utf-8-sig")
        except UnicodeDecodeError as error:
            raise forms.ValidationError(
                "The file is not UTF-8 text; accepted: a template that was saved here."
            ) from error
        return upload
