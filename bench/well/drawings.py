"""Drawings to keep: the section as SVG and as 1:1 DXF, the brake template on paper."""

from __future__ import annotations

import io
from typing import Any

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone

from bench.well.pose import axle_or_404, in_motion, setting_of
from bench.well.setting import Setting
from garage.file import CarFile, open_file
from rimcore.quantities.errors import CoreError
from rimcore.tables.facts import CORNER_NAMES
from rimcore.well.draw.template import PAPER_MM, Template, brake_template
from rimcore.well.judge import fitment
from rimcore.well.judge.posegaps import gaps_at
from rimcore.well.solid.gap import outline_polygon
from shell.pages import page
from shell.plain import for_xml, one_line


def _gaps(file: CarFile, corner: str, setting: Setting) -> list[Any]:
    axle = axle_or_404(file, corner)
    judgements = fitment.judge(axle, setting.candidate, file.tolerances(setting.school)).judgements
    return [j for j in judgements if j.where == CORNER_NAMES[corner]]


def _download(content: str | bytes, kind: str, name: str) -> HttpResponse:
    response = HttpResponse(content, content_type=kind)
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


def section_svg(request: HttpRequest, car_id: int, corner: str) -> HttpResponse:
    """The section as it stands on the bench, as a drawing of its own."""
    file, setting = setting_of(request, car_id, corner)
    context = in_motion(file, corner, setting, _gaps(file, corner, setting))
    found = render(
        request,
        "bench/well/section.svg",
        {"s": context["scene"], "pose": context["pose"], "file": file, "corner": corner, "setting": setting},
    )
    return _download(for_xml(found.content.decode()), "image/svg+xml", f"section-{corner}.svg")


def section_dxf(request: HttpRequest, car_id: int, corner: str) -> HttpResponse:
    """Section at 1:1 in millimetres: wheel and tyre now and then, hub face, obstacles turned into the plane of the cut.

    Across is x from the mounting face (outboard positive), up is y from the hub's centre.
    """
    from ezdxf.filemanagement import new as new_drawing  # loaded for who wants a drawing

    file, setting = setting_of(request, car_id, corner)
    axle = axle_or_404(file, corner)
    context = in_motion(file, corner, setting, [])
    document = new_drawing("R2010", setup=True)
    document.header["$INSUNITS"] = 4
    for layer, colour in (("CANDIDATE", 7), ("PRESENT", 8), ("HUB", 5), ("OBSTACLES", 1), ("NOTES", 3)):
        document.layers.add(layer, color=colour)
    space = document.modelspace()
    for fitted, layer in ((axle.present, "PRESENT"), (setting.candidate.fitted, "CANDIDATE")):
        for side in (1.0, -1.0):
            points = [(float(u) + fitted.centre_mm, side * float(r)) for u, r in outline_polygon(fitted.outline)]
            space.add_lwpolyline(points, close=True, dxfattribs={"layer": layer})
    space.add_line((0, -90), (0, 90), dxfattribs={"layer": "HUB"})
    space.add_line((-250, 0), (200, 0), dxfattribs={"layer": "HUB"})
    stands = setting.candidate.at(corner)
    travel = stands.levers.ride_drop_mm + context["travel"]
    centre = setting.candidate.fitted.centre_mm
    found = gaps_at(
        corner, axle.readings, axle.motion(corner), stands, file.tolerances(setting.school), context["steer"], travel
    )
    for one in found:
        x, y = centre + one.across_mm, one.radius_mm
        space.add_circle((x, y), 1.0, dxfattribs={"layer": "OBSTACLES"})
        space.add_line((x, y), (centre + one.foot_across_mm, one.foot_radius_mm), dxfattribs={"layer": "OBSTACLES"})
        space.add_text(f"{one.reading.name} {one.gap_mm:.1f}", height=4, dxfattribs={"layer": "NOTES"}).set_placement(
            (x + 3, y + 3)
        )
    notes = f"{one_line(file.car.nickname)}, {CORNER_NAMES[corner]}, {context['pose']}, wheel axes, 1:1 mm, {timezone.localdate():%-d %b %Y}"
    space.add_text(notes, height=6, dxfattribs={"layer": "NOTES"}).set_placement(
        (-240, -setting.candidate.fitted.outline.crown_mm - 20)
    )
    text = io.StringIO()
    document.write(text)
    return _download(text.getvalue(), "application/dxf", f"section-{corner}.dxf")


def _template(file: CarFile, corner: str) -> Template | None:
    """Template from the newest caliper readings; None where radius or face is missing."""
    read = {r.code: r.value for r in file.latest if r.corner == corner and r.code.startswith("caliper_")}
    if "caliper_barrel" not in read or "caliper_spoke" not in read:
        return None
    inner = -read["caliper_inner"] if "caliper_inner" in read else None
    return brake_template(read["caliper_barrel"], read["caliper_spoke"], inner)


def _path(points: tuple[tuple[float, float], ...]) -> str:
    return "M" + " L".join(f"{x:.2f} {y:.2f}" for x, y in points) + "Z"


def _template_context(file: CarFile, corner: str) -> dict[str, Any]:
    try:
        found = _template(file, corner)
        problem = ""
    except CoreError as error:
        found, problem = None, error.message
    if found is None:
        return {"corner": corner, "template": None, "problem": problem}
    bar_x, bar_y, bar_mm = found.bar
    return {
        "corner": corner,
        "template": found,
        "width": PAPER_MM[0],
        "height": PAPER_MM[1],
        "brake": _path(found.brake),
        "room": _path(found.room),
        "bar_x": bar_x,
        "bar_y": bar_y,
        "bar_end": bar_x + bar_mm,
        "bar_mm": bar_mm,
        "bar_ticks": [bar_x + step for step in range(0, int(bar_mm) + 1, 10)],
        "arc": _arc(found),
        "inner_known": any(r.code == "caliper_inner" and r.corner == corner for r in file.latest),
        "problem": "",
    }


def _arc(found: Template) -> str:
    """Height marks every 10 mm of radius along the face, so that the barrel can be read off."""
    marks = []
    for radius in range(60, int(found.radius_mm) + 30, 10):
        length = 6 if radius % 50 == 0 else 3
        marks.append(f"M{found.face_x:.1f} {found.axle_y - radius:.1f}h{length}")
    return "".join(marks)


def template_page(request: HttpRequest, car_id: int, corner: str) -> HttpResponse:
    """The brake template with how to use it."""
    file = open_file(request.user, car_id)
    axle_or_404(file, corner)
    return page(request, file, "check", "bench/well/template.html", {"file": file, **_template_context(file, corner)})


def template_svg(request: HttpRequest, car_id: int, corner: str) -> HttpResponse:
    """The template alone, A4 in millimetres, for printing at 100 %."""
    file = open_file(request.user, car_id)
    axle_or_404(file, corner)
    context = _template_context(file, corner)
    if context["template"] is None:
        messages.error(request, "The template needs two readings first: caliper to barrel and caliper to spoke.")
        return redirect("template", car_id, corner)
    found = render(request, "bench/well/template.svg", {"file": file, **context, "today": timezone.localdate()})
    return _download(for_xml(found.content.decode()), "image/svg+xml", f"brake-template-{corner}.svg")
