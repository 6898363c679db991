"""The mass bench: the ledger, the car from above with its kilograms, the best set with its frontier, the scale on the phone, and labels."""

from __future__ import annotations

from typing import Any

from django import forms
from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils import timezone

from bench.frame import switch
from bench.gauged import Taken, simulated
from bench.massed import balanced, ballast_of, car_now, judgements
from garage import mass_services as services
from garage.file import CarFile, open_file
from garage.forms import PastDayField
from garage.inhand import in_hand
from garage.massed import MassItem
from garage.masses import goal_of, items_of, scales, weighed_of
from planner import services as planning
from planner.chosen import build_in_hand
from planner.lighter import address_of, lighter_of, take
from rimcore.mass.drawing import frontier_of, mass_line, plan
from rimcore.mass.ledger import AGAINST, GUARDED, ORDERS, STATES, STRIP_OUT, Best, Wanted, best_set, ordered, totals
from rimcore.quantities.errors import CoreError
from rimcore.quantities.limits import LIMITS
from rimcore.well.stations import CORNER_NAMES, CORNERS
from rimcore.work.removed import FATES
from shell.codes import code_of
from shell.forms import MoneyField, QuantityField
from shell.merge import Merged
from shell.pages import page, status_of
from shell.undo import remember

#: rows of the ledger that a page shows unasked, the newest
SHOWN = 60
#: what a best set may be asked for
ASKED = {"kg": "the most kilograms", "money": "the least money for the goal", "hours": "the least hours for the goal", "items": "the fewest items for the goal"}  # fmt: skip


class ItemForm(Merged, forms.Form):
    """An item of the ledger, whole."""

    name = forms.CharField(max_length=80, label="What it is")
    state = forms.ChoiceField(choices=list(STATES.items()), label="Where it is")
    scale = forms.CharField(max_length=60, required=False, label="Which scale")
    weighed_on = PastDayField(label="Weighed")
    who = forms.CharField(max_length=60, required=False, label="Who")
    minutes = forms.FloatField(
        min_value=0, max_value=LIMITS["minutes"].high, required=False, label="Minutes it takes", help_text="blank: not timed"
    )
    cost_minor = MoneyField(required=False, label="Money it costs")
    back_name = forms.CharField(max_length=80, required=False, label="Goes back in its place")
    reversible = forms.BooleanField(required=False, initial=True, label="It can go back in")
    comfort = forms.BooleanField(required=False, label="It costs comfort or noise")
    guarded = forms.ChoiceField(
        choices=[("", "no"), *((kind, words) for kind, words in GUARDED.items())],
        required=False,
        label="Airbag, belt, occupancy circuit, law",
    )
    reason = forms.CharField(
        max_length=200,
        required=False,
        label="Why it comes out all the same, and who does it",
        help_text="asked of what is never casual work",
    )
    needs = forms.MultipleChoiceField(required=False, label="Comes out only with")
    not_with = forms.MultipleChoiceField(required=False, label="Does not go with")
    fate = forms.ChoiceField(choices=list(FATES.items()), label="What became of it")
    sold_minor = MoneyField(required=False, label="It brought")
    kept_where = forms.CharField(max_length=60, required=False, label="Shelf and box")

    def __init__(self, file: CarFile, item: MassItem | None, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        for name, label, limit, words in (
            ("gross_kg", "With its box", "item_kg", "blank: not weighed yet"), ("tare_kg", "The empty box", "item_kg", "0 where it lay bare on the scale"),
            ("doubt_kg", "± of the scale", "item_doubt_kg", ""), ("back_kg", "Mass of what goes back", "item_kg", ""),
        ):  # fmt: skip
            self.fields[name] = QuantityField("mass", *LIMITS[limit].span, required=False, label=label, help_text=words)
        for name, label, limit in (
            ("behind_mm", "Behind the front axle", "item_along_mm"), ("right_mm", "Right of the centre line", "item_across_mm"), ("up_mm", "Above the ground", "item_up_mm"),
        ):  # fmt: skip
            self.fields[name] = QuantityField("length", *LIMITS[limit].span, required=False, label=label)
        others = [(one.label, f"{one.label} {one.name}") for one in items_of(file) if item is None or one.pk != item.pk]
        for name in ("needs", "not_with"):
            self.fields[name].choices = others  # type: ignore[attr-defined]
        self.order_fields(ORDER)

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        if cleaned.get("back_name") and cleaned.get("back_kg") is None and "back_kg" not in self.errors:
            self.add_error("back_kg", "Say what it weighs: what goes back counts against what came out; accepted: 0 to 1000 kg.")
        for name, empty in (("cost_minor", 0), ("sold_minor", 0), ("back_kg", 0.0), ("doubt_kg", 0.05)):
            if name in cleaned and cleaned[name] is None:
                cleaned[name] = empty
        if cleaned.get("gross_kg") is not None and cleaned.get("tare_kg") is None and "tare_kg" not in self.errors:
            cleaned["tare_kg"] = 0.0
        return cleaned


ORDER = (
    "name", "state", "gross_kg", "tare_kg", "doubt_kg", "scale", "weighed_on", "who", "minutes", "cost_minor", "back_name", "back_kg", "behind_mm", "right_mm", "up_mm", "reversible", "comfort",
    "guarded", "reason", "needs", "not_with", "fate", "sold_minor", "kept_where",
)  # fmt: skip


class GoalForm(Merged, forms.Form):
    """What the car is to weigh."""

    def __init__(self, file: CarFile, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.fields["phase_kg"] = QuantityField("mass", *LIMITS["phase_kg"].span, required=False, label="Out in this phase, net")
        self.fields["minimum_kg"] = QuantityField("mass", *LIMITS["minimum_kg"].span, required=False, label="Class minimum")


class WeighForm(forms.Form):
    """The whole car on a scale; held against the ledger afterwards."""

    who = forms.CharField(max_length=60, required=False, label="Who")
    taken_on = PastDayField(label="Weighed")
    fuel = forms.CharField(max_length=40, required=False, label="Fuel", help_text="the same each time")
    driver_aboard = forms.BooleanField(required=False, label="Driver aboard", help_text="then it is kept, and not held against the ledger")

    def __init__(self, file: CarFile, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.fields["car_kg"] = QuantityField("mass", *LIMITS["minimum_kg"].span, label="The scale says")
        self.fields["doubt_kg"] = QuantityField(
            "mass", *LIMITS["item_doubt_kg"].span, required=False, label="± of the scale", help_text="blank: as usual"
        )
        self.order_fields(("car_kg", "doubt_kg", "taken_on", "who", "fuel", "driver_aboard"))


class AskForm(forms.Form):
    """What the best set is asked for; kept in the address."""

    ask = forms.ChoiceField(choices=list(ASKED.items()), required=False, initial="kg", label="Wanted")
    money = MoneyField(required=False, label="Money at most", help_text="blank: as much as it takes")
    hours = forms.FloatField(min_value=0, max_value=10_000, required=False, label="Hours at most")
    against = forms.ChoiceField(choices=list(AGAINST.items()), required=False, initial="money", label="Curve")
    reversible = forms.BooleanField(required=False, label="Only what can go back in")
    comfort = forms.BooleanField(required=False, label="Nothing that costs comfort or noise")

    def __init__(self, file: CarFile, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.fields["goal"] = QuantityField("mass", 0.1, 2000, required=False, label="Goal, net")
        self.order_fields(("ask", "goal", "money", "hours", "against", "reversible", "comfort"))

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        if cleaned.get("ask") in ("money", "hours", "items") and cleaned.get("goal") is None and "goal" not in self.errors:
            self.add_error("goal", "Say the kilograms that are wanted; accepted: 0.1 to 2000 kg.")
        return cleaned

    @property
    def wanted(self) -> Wanted:
        """What is asked, for the core."""
        said = self.cleaned_data
        ask = said.get("ask") or "kg"
        return Wanted(
            None if ask == "kg" else ask, said.get("goal"), said.get("money"), said.get("hours"), said["reversible"], said["comfort"]
        )


def mass(request: HttpRequest, car_id: int) -> HttpResponse:
    """Ledger, plan view, the line with goal and minimum, corners before and after, the best set."""
    file = open_file(request.user, car_id)
    what = request.POST.get("form", "") if request.method == "POST" else ""
    goal = GoalForm(file, request.POST if what == "goal" else None, initial=_goal(file))
    if what == "goal" and goal.is_valid():
        services.set_goal(file.car, goal.cleaned_data)
        messages.success(request, "Goal kept.")
        return redirect("mass", car_id)
    if what == "plan":
        return _planned(request, file)
    weigh, shown = _weighing(request, file, what)
    if what == "weigh" and weigh.is_valid():
        services.weigh_car(file, weigh.cleaned_data, str(weigh["car_kg"].value()))
        crewed = weigh.cleaned_data["driver_aboard"]
        messages.success(
            request, "Kept. With somebody aboard the ledger is not held against it." if crewed else "Kept; the ledger is held against it."
        )
        return redirect("mass", car_id)
    asked = {name: value for name, value in request.GET.items() if name in AskForm.base_fields or name == "goal"}
    ask = AskForm(file, asked) if asked else AskForm(file)
    best = _best(file, ask, bool(asked))
    if request.headers.get("HX-Request"):
        context = {"file": file, "ask": ask, **_found(request, file, best)} if asked else {"file": file, **_ledger(request, file)}
        return render(request, "bench/mass_best.html" if asked else "bench/mass_sheet.html", context)
    context = {
        "goal_form": goal,
        "weigh": weigh,
        "taken": shown,
        "ask": ask,
        "benches": switch(file),
        "here": "mass",
        **_ledger(request, file),
        **_found(request, file, best),
    }
    return page(request, file, "check", "bench/mass.html", context, status_of(goal, weigh, *([ask] if asked else [])))


def _weighing(request: HttpRequest, file: CarFile, what: str) -> tuple[WeighForm, Taken | None]:
    """The form for the whole car, filled by the weighbridge where it was asked for; it shows the car as the ledger has it."""
    user: Any = request.user
    first: dict[str, Any] = {"who": user.get_short_name() or user.username, "taken_on": timezone.localdate()}
    now = car_now(file)
    shown = simulated(request.GET.get("gauge", ""), {"car": now.kg}, file.car.pk) if now is not None else None
    if shown is not None:
        first |= {"car_kg": shown.initial().get("car"), "doubt_kg": shown.doubt, "who": shown.source}
    return WeighForm(file, request.POST if what == "weigh" else None, initial=first), shown


def _goal(file: CarFile) -> dict[str, Any]:
    kept = file.extra["mass_goal"]
    return {} if kept is None else {"phase_kg": kept.phase_kg, "minimum_kg": kept.minimum_kg}


def _best(file: CarFile, ask: AskForm, asked: bool) -> Best | None:
    if not asked or not ask.is_valid():
        return None
    return best_set((*weighed_of(file), *lighter_of(file)), ask.wanted, ask.cleaned_data["against"] or "money")


def _ledger(request: HttpRequest, file: CarFile) -> dict[str, Any]:
    """Rows, sums, the drawing and the corners."""
    items, car = weighed_of(file), file.car
    out, planned = totals(items), totals(items, ("planned",))
    corners = balanced(file)
    rows = items_of(file)
    by = request.GET.get("by", "label")
    by = by if by in ORDERS else "label"
    if by != "label":
        places = {one.label: place for place, one in enumerate(ordered(items, by))}
        rows = sorted(rows, key=lambda row: places[row.label])
    shown = rows if request.GET.get("all") else rows[:SHOWN] if by != "label" else rows[-SHOWN:]
    context: dict[str, Any] = {
        "items": shown, "hidden": len(rows) - len(shown), "here_url": reverse("mass", args=[file.car.pk]), "judged": judgements(file), "in_hand": in_hand(file), "out": out, "planned": planned, "corners": None, "missing": "",
        "by": by, "orders": ORDERS,
    }  # fmt: skip
    if car.wheelbase_mm and car.track_front_mm:
        context["squares"] = plan(items, car.wheelbase_mm, car.track_front_mm)
    now = car_now(file)
    if now is not None:
        context["line"] = mass_line(scales(file)[-1][1].kg, now.kg, planned, goal_of(file))
    if isinstance(corners, str):
        return context | {"missing": corners}
    before, then = corners.pads
    each = [
        {"corner": CORNER_NAMES[corner], "before": corners.before.pads_kg[k], "after": corners.after.pads_kg[k]} for k, corner in enumerate(CORNERS)
    ]  # fmt: skip
    return context | {
        "corners": each,
        "before": before,
        "then": then,
        "places": corners.places,
        "unplaced": corners.unplaced,
        "balance": corners,
        "ballast": ballast_of(file),
    }


def _found(request: HttpRequest, file: CarFile, best: Best | None) -> dict[str, Any]:
    if best is None:
        return {"best": None}
    car_id = file.car.pk
    chosen = [(one, address_of(car_id, one.label) if one.listed else reverse("mass-item", args=[car_id, one.label])) for one in best.chosen]
    drawn = frontier_of(best.found.frontier or ())
    rest = request.GET.copy()
    rest.pop(best.against, None)
    rest["ask"] = "kg"
    dots = (
        [(x, y, kg, cost, f"?{rest.urlencode()}&{best.against}={max(cost, 0):.{PLACES[best.against]}f}") for x, y, kg, cost in drawn.dots]
        if drawn
        else []
    )
    return {"best": best, "chosen": chosen, "frontier": drawn, "dots": dots}


#: decimals of a limit that a step of the curve becomes
PLACES = {"money": 2, "hours": 6}


def _planned(request: HttpRequest, file: CarFile) -> HttpResponse:
    """The set that was shown is planned: items for the strip session of the build in hand, parts of the shortlist into it."""
    labels = request.POST.getlist("label")
    build = build_in_hand(file)
    if build is None:
        messages.error(request, "First take a build in hand: the strip session goes onto its sheet.")
        return redirect("mass", file.car.pk)
    with remember(request.user, "a best set is planned"):
        count = services.plan_items(file.car, request.user, labels)
        planning.change_build(build, request.user, {}, {(STRIP_OUT.code, ""): bool(count)})
        parts = take(file, build, request.user, labels)
    words = [f"{count} item{'s' if count != 1 else ''} planned; {build.name} has a strip session."] if count or not parts else []
    words += [f"{parts} part{'s' if parts != 1 else ''} of the shortlist put into {build.name}."] if parts else []
    messages.success(request, " ".join(words))
    return redirect("mass", file.car.pk)


def item(request: HttpRequest, car_id: int, label: str) -> HttpResponse:
    """One item: all of its figures, and the code of its label; ``new`` is one that is not in the ledger yet."""
    file = open_file(request.user, car_id)
    one = None if label == "new" else get_object_or_404(MassItem, car=file.car, label=label)
    if request.method == "POST" and request.POST.get("what") == "drop" and one is not None:
        services.drop_item(one, request.user)
        messages.success(request, f"{one.name} is off the ledger.")
        return redirect("mass", car_id)
    form = ItemForm(file, one, request.POST if request.method == "POST" else None, initial=_initial(request, one))
    if request.method == "POST" and form.is_valid():
        try:
            kept = services.keep_item(file.car, request.user, form.cleaned_data, one)
        except CoreError as error:
            form.add_error(error.field if error.field in form.fields else None, error.message[:1].upper() + error.message[1:] + ".")
        else:
            messages.success(request, f"{kept.name} kept, label {kept.label}.")
            return redirect("mass", car_id)
    code = code_of(request.build_absolute_uri(reverse("mass-item", args=[car_id, one.label]))) if one is not None else ""
    return page(request, file, "check", "bench/mass_item.html", {"form": form, "item": one, "code": code}, status_of(form))


def _initial(request: HttpRequest, one: MassItem | None) -> dict[str, Any]:
    user: Any = request.user
    if one is None:
        return {"who": user.get_short_name() or user.username, "state": "in", "fate": "keep", "weighed_on": timezone.localdate(), "tare_kg": 0.0, "doubt_kg": 0.05, "reversible": True}  # fmt: skip
    return {name: getattr(one, name) for name in ORDER}


class ScaleForm(forms.Form):
    """What the scale shows, for a thumb: name, full, empty."""

    name = forms.CharField(max_length=80, label="What lies on it", widget=forms.TextInput(attrs={"autofocus": True}))
    out = forms.BooleanField(required=False, initial=True, label="It is out of the car")

    def __init__(self, file: CarFile, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        self.fields["gross_kg"] = QuantityField("mass", *LIMITS["item_kg"].span, label="With its box")
        self.fields["tare_kg"] = QuantityField(
            "mass", *LIMITS["item_kg"].span, required=False, label="The empty box", help_text="blank: the same as before"
        )
        self.fields["minutes"] = forms.FloatField(min_value=0, max_value=LIMITS["minutes"].high, required=False, label="Minutes")
        self.order_fields(("name", "gross_kg", "tare_kg", "minutes", "out"))
        for field in (self.fields[name] for name in ("name", "gross_kg", "tare_kg", "minutes")):
            field.widget.attrs["class"] = field.widget.attrs.get("class", "") + " big"


#: what the simulated kitchen scale has on it: a box of half a kilogram and something in it
ON_THE_SCALE_KG = (0.5, 6.4)


def scale(request: HttpRequest, car_id: int) -> HttpResponse:
    """Weigh one thing after another on the phone; the tare of the box stays for the next."""
    file = open_file(request.user, car_id)
    user: Any = request.user
    last = request.session.get("tare_kg", 0.0)
    first: dict[str, Any] = {"tare_kg": last, "out": True}
    shown = None
    if request.GET.get("gauge"):
        shown = simulated("scale", {"scale": sum(ON_THE_SCALE_KG)}, len(items_of(file)) + file.car.pk)
        if shown is not None:
            first["gross_kg"] = next(iter(shown.initial().values()), None)
    form = ScaleForm(file, request.POST if request.method == "POST" else None, initial=first)
    if request.method == "POST" and form.is_valid():
        said = form.cleaned_data
        tare = last if said["tare_kg"] is None else said["tare_kg"]
        values = {
            "name": said["name"], "gross_kg": said["gross_kg"], "tare_kg": tare, "minutes": said["minutes"], "state": "out" if said["out"] else "in",
            "who": user.get_short_name() or user.username, "doubt_kg": 0.05,
        }  # fmt: skip
        try:
            kept = services.keep_item(file.car, request.user, values)
        except CoreError as error:
            form.add_error(error.field if error.field in form.fields else None, error.message[:1].upper() + error.message[1:] + ".")
        else:
            request.session["tare_kg"] = tare
            messages.success(request, f"{kept.label}: {kept.name}, {kept.net_kg:.2f} kg.")
            return redirect("mass-scale", car_id)
    context = {"form": form, "recent": list(reversed(items_of(file)))[:6], "out": totals(weighed_of(file)), "taken": shown}
    return page(request, file, "check", "bench/mass_scale.html", context, status_of(form))


def labels(request: HttpRequest, car_id: int) -> HttpResponse:
    """Labels of what is out, to print and cut."""
    file = open_file(request.user, car_id)
    rows = [
        (one, code_of(request.build_absolute_uri(reverse("mass-item", args=[car_id, one.label])))) for one in items_of(file) if one.state == "out" and one.fate in ("keep", "sell")
    ]  # fmt: skip
    return page(request, file, "check", "bench/mass_labels.html", {"rows": rows})
