"""The air bench: a panel drawn from its card, heat ring and fasteners; slopes against the car; the splitter's load; templates at 1:1."""

from __future__ import annotations

import io
from copy import copy
from dataclasses import replace
from typing import Any

from django import forms
from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST
from ezdxf.filemanagement import new as new_drawing

from bench.airing import Panel, dragged_of, judgements, panel_as_typed, panels, pressed, slopes_judged, slopes_of, under_kept, under_of
from bench.frame import switch
from garage import air_services as services
from garage.aired import AirPanel
from garage.file import CarFile, open_file
from garage.inhand import in_hand
from rimcore.aero.bench import angles_of, side_view, slopes
from rimcore.aero.card import SCHOOLS, hot_lines, keep_outs, points, sheets, stations
from rimcore.aero.drawing import path_of, tile_path, underside
from rimcore.aero.paper import BAR_MM, EDGE_MM, PAPER_MM, tiles
from rimcore.parts.aired import KG_PER_M2, SHEETS
from rimcore.quantities.errors import CoreError
from rimcore.quantities.judgement import Judgement
from rimcore.quantities.limits import LIMITS
from shell.forms import LengthLinesField, QuantityField, rounded
from shell.merge import Merged
from shell.pages import page, status_of
from shell.plain import for_xml, one_line

#: texts of a panel: what reads each
READERS: dict[str, Any] = {
    "stations": lambda text: stations(text) if text.strip() else (), "outline": points, "holes": keep_outs, "existing": lambda text: points(text, "existing"), "heat": hot_lines, "sheets": sheets,
}  # fmt: skip
HINTS = {
    "stations": "along, half-width, height: 400 520 145; from the front edge back", "outline": "instead of the card: along from the front edge and across, a point a line", "holes": "drain plug: 620 -80 r 45",
    "existing": "holes that are there: along and across, one a line", "heat": "silencer: 900 -200, 1500 -200 r 80 keep 60 above 50; or up 260 from the ground", "sheets": "1000 x 2000, 14.50",
}  # fmt: skip
LABELS = {"stations": "Card, a station a line", "outline": "Outline, point by point", "holes": "Keep-outs", "existing": "Existing holes", "heat": "What is hot", "sheets": "Sheets on sale"}  # fmt: skip
FIELDS = ("name", "stations", "front_mm", "outline", "holes", "existing", "heat", "sheet", "kg_per_m2", "sheets", "pitch_mm", "edge_mm")


class PanelForm(Merged, forms.Form):
    """A panel as it is typed."""

    name = forms.CharField(max_length=60, label="Which panel", initial="Belly panel")
    sheet = forms.ChoiceField(choices=list(SHEETS.items()), label="Sheet")
    kg_per_m2 = forms.FloatField(
        min_value=LIMITS["sheet_kg_per_m2"].low,
        max_value=LIMITS["sheet_kg_per_m2"].high,
        required=False,
        label="Its mass, kg/m²",
        help_text="blank: as it is usually sold",
    )

    def __init__(self, file: CarFile, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        for name in ("stations", "outline", "holes", "existing", "heat", "sheets"):
            rows = 6 if name == "stations" else 2
            self.fields[name] = LengthLinesField(
                required=False, max_length=4000, widget=forms.Textarea(attrs={"rows": rows, "spellcheck": "false"}), help_text=HINTS[name], label=LABELS[name],
            )  # fmt: skip
        for name, label, initial in (("pitch_mm", "From fastener to fastener", 150.0), ("edge_mm", "From the edge to them", 15.0)):
            limit = {"edge_mm": "panel_edge_mm"}.get(name, name)
            self.fields[name] = QuantityField("length", *LIMITS[limit].span, required=False, label=label, initial=initial)
        self.fields["front_mm"] = QuantityField("length", *LIMITS["item_along_mm"].span, required=False, label="Its front edge behind the front axle", help_text="minus: ahead of it; with heights it counts for the slopes"
        )  # fmt: skip
        self.order_fields(FIELDS)

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        for name, read in READERS.items():
            try:
                read(cleaned.get(name) or "")
            except CoreError as error:
                self.add_error(name, error.message[:1].upper() + error.message[1:] + ".")
        cleaned["kg_per_m2"] = cleaned.get("kg_per_m2") or KG_PER_M2.get(cleaned.get("sheet", ""), 1.0)
        cleaned["pitch_mm"], cleaned["edge_mm"] = cleaned.get("pitch_mm") or 150.0, cleaned.get("edge_mm") or 15.0
        self.panel: Panel | None = None
        if not self.errors:
            try:
                self.panel = panel_as_typed(AirPanel(**{name: cleaned[name] for name in FIELDS}))
            except CoreError as error:
                raise forms.ValidationError(f"The panel {error.message}.") from error
        return cleaned


UNDER = (
    ("lip_ahead_mm", "Lip ahead of the front axle", "reach_mm"), ("lip_up_mm", "Lip above the ground", "under_up_mm"), ("tail_behind_mm", "Tail behind the rear axle", "reach_mm"),
    ("tail_up_mm", "Tail above the ground", "under_up_mm"), ("belly_behind_mm", "Lowest of the belly behind the front axle", "reach_mm"), ("belly_up_mm", "Belly above the ground", "under_up_mm"),
    ("load_lever_mm", "Splitter: rear fixing line to its middle", "reach_mm"), ("adjuster_lever_mm", "Rear fixing line to the adjusters", "reach_mm"), ("opening_mm", "Cooler's opening, height", "reach_mm"),
    ("covered_mm", "Of it covered", "under_up_mm"),
)  # fmt: skip


class UnderForm(Merged, forms.Form):
    """What lies under the car, the slopes, and the splitter."""

    slopes = forms.CharField(
        required=False,
        max_length=1000,
        widget=forms.Textarea(attrs={"rows": 3}),
        label="Slopes it has to get over",
        help_text="drive 12, trailer 14.5, kerb 20 %: one a line",
    )
    area_m2 = forms.FloatField(
        min_value=LIMITS["area_m2"].low, max_value=LIMITS["area_m2"].high, required=False, label="Splitter, area, m²"
    )
    cp = forms.FloatField(
        min_value=-3,
        max_value=3,
        required=False,
        initial=0.6,
        label="Pressure coefficient",
        help_text="0.6 is common practice; plus presses down",
    )
    fasteners = forms.IntegerField(min_value=1, max_value=200, required=False, initial=6, label="Its fasteners")
    adjusters = forms.IntegerField(min_value=0, max_value=20, required=False, initial=0, label="Adjusters")

    def __init__(self, file: CarFile, *args: Any, **options: Any) -> None:
        super().__init__(*args, **options)
        for name, label, limit in UNDER:
            self.fields[name] = QuantityField("length", *LIMITS[limit].span, required=False, label=label)
        self.fields["speed_kmh"] = QuantityField(
            "speed", *LIMITS["air_kmh"].span, required=False, label="At a speed of", initial=rounded("speed", 160)
        )
        first = [name for name, _, _ in UNDER[:6]]
        self.order_fields(
            [
                *first,
                "slopes",
                "area_m2",
                "cp",
                "speed_kmh",
                "fasteners",
                "load_lever_mm",
                "adjusters",
                "adjuster_lever_mm",
                "opening_mm",
                "covered_mm",
            ]
        )

    def clean_slopes(self) -> str:
        text: str = self.cleaned_data["slopes"]
        try:
            slopes(text)
        except CoreError as error:
            raise forms.ValidationError(error.message[:1].upper() + error.message[1:] + ".") from error
        return text

    def clean(self) -> dict[str, Any]:
        cleaned: dict[str, Any] = super().clean() or {}
        for name, usual in (("cp", 0.6), ("speed_kmh", 160.0), ("fasteners", 6), ("adjusters", 0)):
            if cleaned.get(name) is None:
                cleaned[name] = usual
        return cleaned


def air(request: HttpRequest, car_id: int) -> HttpResponse:
    """Panel and slopes; what is typed in the panel's form is drawn at once."""
    file = open_file(request.user, car_id)
    what = request.POST.get("form", "") if request.method == "POST" else ""
    row = _row(file, request)
    live = request.method == "GET" and "stations" in request.GET
    form = PanelForm(file, request.GET if live else request.POST if what == "panel" else None, initial=_initial(row))
    under = UnderForm(file, request.POST if what == "under" else None, initial=_under(file))
    if what == "panel" and form.is_valid():
        try:
            kept = services.keep_panel(file.car, request.user, {name: form.cleaned_data[name] for name in FIELDS} | _heights(file), row)
        except CoreError as error:
            form.add_error("name", error.message[:1].upper() + error.message[1:] + ".")
        else:
            messages.success(request, f"{kept.name} kept.")
            return redirect(f"{request.path}?panel={kept.pk}")
    if what == "under" and under.is_valid():
        services.set_under(file.car, under.cleaned_data | _heights(file))
        messages.success(request, "Kept.")
        return redirect("air", car_id)
    shown = _shown(file, form, row)
    context: dict[str, Any] = {
        "form": form,
        "under": under,
        "row": row,
        "panels": panels(file),
        "live": live,
        "file": file,
        **_sheet(shown),
        "fault": _fault(form) if live else "",
    }
    typed = shown.row if shown is not None else row
    context |= _side(file, typed) | {"in_hand": in_hand(file)}
    if live:
        return render(request, "bench/air_live.html", context | {"judged": _rest(file, slopes_judged(file, typed))})
    context |= {
        "judged": _rest(file), "schools": SCHOOLS, "pressed": pressed(under_kept(file)), "kept": under_kept(file), "benches": switch(file), "here": "air"
    }  # fmt: skip
    return page(request, file, "check", "bench/air.html", context, status_of(form, under))


def _row(file: CarFile, request: HttpRequest) -> AirPanel | None:
    asked = request.GET.get("panel") or request.POST.get("panel") or ""
    if asked == "new":
        return None
    if asked:
        found = next((one for one in panels(file) if str(one.pk) == asked), None)
        if found is None:
            raise Http404
        return found
    return panels(file)[0] if panels(file) else None


def _initial(row: AirPanel | None) -> dict[str, Any]:
    return {} if row is None else {name: getattr(row, name) for name in FIELDS}


def _under(file: CarFile) -> dict[str, Any]:
    kept = under_kept(file)
    names = ("slopes", "area_m2", "cp", "fasteners", "adjusters", "speed_kmh", *(name for name, _, _ in UNDER))
    return {} if kept is None else {name: getattr(kept, name) for name in names}


def _heights(file: CarFile) -> dict[str, float]:
    """How low the car stands while this is read."""
    axles = {end: file.on(file.current, end) for end in ("F", "R")}
    front, rear = (axle.ride_drop_mm if (axle := axles[end]) is not None else 0.0 for end in ("F", "R"))
    return {"front_drop_mm": front, "rear_drop_mm": rear}


def _shown(file: CarFile, form: PanelForm, row: AirPanel | None) -> Panel | None:
    """The panel of the form where it was sent and can be read, else the one that is kept."""
    if form.is_bound:
        return _stand(file, form.panel, row) if form.is_valid() and form.panel is not None else None
    if row is None:
        return None
    try:
        return panel_as_typed(row)
    except CoreError:
        return None


def _stand(file: CarFile, panel: Panel, kept: AirPanel | None) -> Panel:
    """A typed panel in the place of its own, with the height at which its card was read."""
    row = copy(kept) if kept is not None else AirPanel()
    services.put(row, {name: getattr(panel.row, name) for name in FIELDS} | _heights(file))
    return replace(panel, row=row)


def _rest(file: CarFile, of_slopes: list[Judgement] | None = None) -> list[Judgement]:
    """What is judged beside heat; slopes as they are given, where one panel is typed."""
    kept = [one for one in judgements(file) if not one.code.startswith("air.heat")]
    if of_slopes is None:
        return kept
    return [*of_slopes, *(one for one in kept if not one.code.startswith("air.ramp"))]


def _fault(form: PanelForm) -> str:
    return " ".join(str(error) for errors in form.errors.values() for error in errors)


def _sheet(shown: Panel | None) -> dict[str, Any]:
    if shown is None:
        return {"panel": None}
    card = stations(shown.row.stations) if shown.row.stations.strip() and not shown.row.outline.strip() else ()
    return {
        "panel": shown,
        "scene": underside(shown.shape, shown.hot, shown.fixed, card, [one.state for one in shown.heat]),
        "heat": shown.heat,
    }


def _side(file: CarFile, shown: AirPanel | None) -> dict[str, Any]:
    under, named = under_of(file, shown), slopes_of(file)
    try:
        drawn = side_view(under, named, dragged_of(file, shown) if shown is not None else ())
        return {"side": drawn, "angles": angles_of(under), "side_fault": ""}
    except CoreError as error:
        return {"side": None, "angles": None, "side_fault": error.message}


@require_POST
def panel_remove(request: HttpRequest, car_id: int, panel_id: int) -> HttpResponse:
    """A panel taken away; undo brings it back."""
    file = open_file(request.user, car_id)
    services.drop_panel(get_object_or_404(AirPanel, pk=panel_id, car=file.car), request.user)
    return redirect("air", car_id)


def _panel_or_404(request: HttpRequest, car_id: int, panel_id: int) -> tuple[CarFile, Panel]:
    file = open_file(request.user, car_id)
    row = get_object_or_404(AirPanel, pk=panel_id, car=file.car)
    try:
        return file, panel_as_typed(row)
    except CoreError as error:
        raise Http404 from error


def _attached(content: str, kind: str, name: str) -> HttpResponse:
    response = HttpResponse(content, content_type=kind)
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


def panel_svg(request: HttpRequest, car_id: int, panel_id: int) -> HttpResponse:
    """The panel at 1:1 as a drawing of its own."""
    file, one = _panel_or_404(request, car_id, panel_id)
    left, low, right, top = one.shape.bounds
    context = {
        "panel": one, "path": path_of(one.shape, left - 20, low - 20), "wide": right - left + 40, "high": top - low + 40, "dots": [(x - left + 20, y - low + 20) for x, y in (*one.fixed.existing, *one.fixed.new)],
        "bar": BAR_MM,
    }  # fmt: skip
    return _attached(for_xml(render(request, "bench/panel.svg", context).content.decode()), "image/svg+xml", f"panel-{one.row.pk}.svg")


def panel_dxf(request: HttpRequest, car_id: int, panel_id: int) -> HttpResponse:
    """The panel at 1:1 in millimetres, with its holes, fasteners and a control bar."""
    file, one = _panel_or_404(request, car_id, panel_id)
    document = new_drawing("R2010", setup=False)
    document.header["$INSUNITS"] = 4
    for layer, colour in (("PANEL", 7), ("FASTENERS", 3), ("NOTES", 1)):
        document.layers.add(layer, color=colour)
    space = document.modelspace()
    for ring in (one.shape.exterior, *one.shape.interiors):
        space.add_lwpolyline([(float(x), float(-y)) for x, y in ring.coords[:-1]], close=True, dxfattribs={"layer": "PANEL"})
    for x, y in (*one.fixed.existing, *one.fixed.new):
        space.add_circle((x, -y), 3.0, dxfattribs={"layer": "FASTENERS"})
    left, low, _, top = one.shape.bounds
    space.add_line((left, -top - 40), (left + BAR_MM, -top - 40), dxfattribs={"layer": "NOTES"})
    words = f"{one_line(one.row.name)}, {one_line(file.car.nickname)}, 1:1 mm, bar {BAR_MM:g} mm, {timezone.localdate():%-d %b %Y}"
    space.add_text(words, height=8, dxfattribs={"layer": "NOTES"}).set_placement((left, -top - 60))
    text = io.StringIO()
    document.write(text)
    return _attached(text.getvalue(), "application/dxf", f"panel-{one.row.pk}.dxf")


def panel_tiles(request: HttpRequest, car_id: int, panel_id: int) -> HttpResponse:
    """The panel on A4, a tile a page, with overlap marks and a control bar; printed at 100 %."""
    file, one = _panel_or_404(request, car_id, panel_id)
    rows = [
        (tile, tile_path(one.shape, tile), [(x - tile.left_mm, y - tile.top_mm) for x, y in (*one.fixed.existing, *one.fixed.new)])
        for tile in tiles(one.shape)
    ]
    context = {"panel": one, "tiles": rows, "paper": PAPER_MM, "edge": EDGE_MM, "bar": BAR_MM}
    return page(request, file, "check", "bench/tiles.html", context)
