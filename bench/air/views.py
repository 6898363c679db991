"""The air bench: a panel drawn from its card, heat ring and fasteners; slopes against the car; the splitter's load.

Templates at 1:1.
"""

from __future__ import annotations

import io
from copy import copy
from dataclasses import replace
from typing import Any

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST

from bench.air.facts import (
    Panel,
    dragged_of,
    judgements,
    panel_as_typed,
    panels,
    pressed,
    slopes_judged,
    slopes_of,
    source_of,
    under_kept,
    under_of,
    wanted_of,
)
from bench.air.forms import FIELDS, PANEL_FOLDS, UNDER, UNDER_FOLDS, PanelForm, UnderForm
from bench.frame.folded import folds_of
from garage.air import services
from garage.air.models import AirPanel
from garage.file import CarFile, open_file
from garage.inhand import in_hand
from planner.chosen import builds_of
from planner.wants import keep_up
from planner.wants_form import WantsForm, asked_of, want_it
from rimcore.aero.bench import angles_of, side_view
from rimcore.aero.card import SCHOOLS, stations
from rimcore.aero.drawing import path_of, tile_path, underside
from rimcore.aero.paper import BAR_MM, EDGE_MM, OVERLAP_MM, PAPER_MM, tiles
from rimcore.quantities.errors import CoreError
from rimcore.quantities.judgement import Judgement
from shell.pages import page, status_of
from shell.plain import for_xml, one_line


def air(request: HttpRequest, car_id: int) -> HttpResponse:
    """Panel and slopes; what is typed in the panel's form is drawn at once."""
    file = open_file(request.user, car_id)
    what = request.POST.get("form", "") if request.method == "POST" else ""
    row = _row(file, request)
    live = request.method == "GET" and "stations" in request.GET
    form = PanelForm(file, request.GET if live else request.POST if what == "panel" else None, initial=_initial(row))
    under = UnderForm(file, request.POST if what == "under" else None, initial=_under(file))
    wants = _wants(request, file, row)
    if wants is not None and wants.is_bound and wants.is_valid():
        want_it(request, file, wants)
        return redirect(f"{request.path}?panel={row.pk if row else ''}")
    if what == "panel" and form.is_valid():
        try:
            kept = services.keep_panel(
                file.car, request.user, {name: form.cleaned_data[name] for name in FIELDS} | _heights(file), row
            )
        except CoreError as error:
            form.add_error("name", error.message[:1].upper() + error.message[1:] + ".")
        else:
            _keep_up(request, car_id, kept)
            messages.success(request, f"{kept.name} saved.")
            return redirect(f"{request.path}?panel={kept.pk}")
    if what == "under" and under.is_valid():
        services.set_under(file.car, under.cleaned_data | _heights(file))
        messages.success(request, "Saved.")
        return redirect("air", car_id)
    shown = _shown(file, form, row)
    context: dict[str, Any] = {
        "form_folds": folds_of(form, PANEL_FOLDS),
        "under_folds": folds_of(under, UNDER_FOLDS),
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
        return render(request, "bench/air/live.html", context | {"judged": _rest(file, slopes_judged(file, typed))})
    context |= {
        "judged": _rest(file),
        "schools": SCHOOLS,
        "pressed": pressed(under_kept(file)),
        "kept": under_kept(file),
        "here": "air",
        "wants": wants,
    }
    bound = (form, under, *([wants] if wants is not None else []))
    return page(request, file, "check", "bench/air/air.html", context, status_of(*bound))


def _wants(request: HttpRequest, file: CarFile, row: AirPanel | None) -> WantsForm | None:
    """What the panel needs in the build in hand; None while there is no panel, or no build."""
    return None if row is None else asked_of(request, file, source_of(row), lambda build: wanted_of(file, build, row))


def _keep_up(request: HttpRequest, car_id: int, row: AirPanel) -> None:
    """Builds that have the panel's parts have them as it is now."""
    file = open_file(request.user, car_id)
    for build in builds_of(file):
        keep_up(file, build, request.user, source_of(row), wanted_of(file, build, row))


def _row(file: CarFile, request: HttpRequest) -> AirPanel | None:
    asked = (
        request.GET.get("panel") or request.POST.get("panel") or request.POST.get("source", "").removeprefix("panel ")
    )
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
        "panel": one,
        "path": path_of(one.shape, left - 20, low - 20),
        "wide": right - left + 40,
        "high": top - low + 40,
        "dots": [(x - left + 20, y - low + 20) for x, y in (*one.fixed.existing, *one.fixed.new)],
        "bar": BAR_MM,
    }
    return _attached(
        for_xml(render(request, "bench/air/panel.svg", context).content.decode()),
        "image/svg+xml",
        f"panel-{one.row.pk}.svg",
    )


def panel_dxf(request: HttpRequest, car_id: int, panel_id: int) -> HttpResponse:
    """The panel at 1:1 in millimetres, with its holes, fasteners and a control bar."""
    file, one = _panel_or_404(request, car_id, panel_id)
    from ezdxf.filemanagement import new as new_drawing  # loaded for who wants a drawing

    document = new_drawing("R2010", setup=False)
    document.header["$INSUNITS"] = 4
    for layer, colour in (("PANEL", 7), ("FASTENERS", 3), ("NOTES", 1)):
        document.layers.add(layer, color=colour)
    space = document.modelspace()
    for ring in (one.shape.exterior, *one.shape.interiors):
        space.add_lwpolyline(
            [(float(x), float(-y)) for x, y in ring.coords[:-1]], close=True, dxfattribs={"layer": "PANEL"}
        )
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
        (
            tile,
            tile_path(one.shape, tile),
            [(x - tile.left_mm, y - tile.top_mm) for x, y in (*one.fixed.existing, *one.fixed.new)],
        )
        for tile in tiles(one.shape)
    ]
    context = {"panel": one, "tiles": rows, "paper": PAPER_MM, "edge": EDGE_MM, "bar": BAR_MM, "overlap": OVERLAP_MM}
    return page(request, file, "check", "bench/air/tiles.html", context)
