"""The brake template: what the caliper fills, 1:1 on paper, to hold against a wheel's back."""

from __future__ import annotations

from dataclasses import dataclass

from rimcore.quantities.errors import BadInput

#: paper of the template [mm] (ISO 216 A4), margin that printers leave
PAPER_MM, EDGE_MM = (210.0, 297.0), 10.0


#: length of the control bar [mm]
BAR_MM = 100.0


#: largest pad of a wheel, height of a caliper where nobody measured its lower end, and the card's stem [mm] (common
#: practice)
PAD_RADIUS_MM, CALIPER_HEIGHT_MM, STEM_MM = 75.0, 72.0, 45.0


#: outline drawn round the caliper for the margin asked for
DEFAULT_MARGIN_MM = 3.0


@dataclass(frozen=True)
class Template:
    """A template in paper millimetres, y downward.

    ``brake`` is the card to cut: from the axle along the mounting face, then round the caliper; ``room``
    is the caliper with the margin. ``axle_y`` is the hub's centre line, ``face_x`` the mounting face;
    outboard is to the right.
    """

    brake: tuple[tuple[float, float], ...]
    room: tuple[tuple[float, float], ...]
    axle_y: float
    face_x: float
    bar: tuple[float, float, float]
    radius_mm: float
    face_mm: float
    inner_mm: float
    margin_mm: float


def brake_template(
    radius_mm: float, face_mm: float, inner_face_mm: float | None, margin_mm: float = DEFAULT_MARGIN_MM
) -> Template:
    """Lay the caliper out on A4, the axle along the lower edge.

    Parameters
    ----------
    radius_mm : largest radius of the caliper from the hub's centre [mm]
    face_mm : how far its face stands outboard of the mounting face (minus inboard) [mm]
    inner_face_mm : its inner end, on the same scale; 80 mm behind the face where nobody measured it [mm]

    Raises
    ------
    BadInput : it does not go on the paper, or its ends are crossed

    Examples
    --------
    >>> found = brake_template(151.5, 8.0, -70.0)
    >>> round(found.axle_y - found.brake[3][1], 1), round(found.brake[3][0] - found.face_x, 1)
    (151.5, 8.0)
    """
    inner = face_mm - 80.0 if inner_face_mm is None else inner_face_mm
    if inner >= face_mm:
        raise BadInput("the caliper's inner end must lie inboard of its face", "inner_face_mm")
    if not 40 <= radius_mm <= PAPER_MM[1] - 70.0:
        raise BadInput(
            f"the caliper's radius does not go on the paper; accepted: 40 to {PAPER_MM[1] - 70:.0f} mm", "radius_mm"
        )
    if face_mm - inner > 150 or abs(face_mm) > 80:
        raise BadInput(
            "the caliper does not go on the paper; accepted: a depth up to 150 mm, a face within 80 mm of the mounting face",
            "face_mm",
        )
    axle_y, face_x = PAPER_MM[1] - 30.0, 130.0
    low = max(PAD_RADIUS_MM + 3.0, radius_mm - CALIPER_HEIGHT_MM)
    stem = face_x - STEM_MM
    left, right, top, bottom = face_x + inner, face_x + face_mm, axle_y - radius_mm, axle_y - low
    brake = (
        (face_x, axle_y),
        (face_x, bottom),
        (right, bottom),
        (right, top),
        (left, top),
        (left, bottom),
        (min(stem, face_x), bottom),
        (min(stem, face_x), axle_y),
    )
    room = (
        (left - margin_mm, bottom),
        (left - margin_mm, top - margin_mm),
        (right + margin_mm, top - margin_mm),
        (right + margin_mm, bottom),
    )
    bar = (EDGE_MM + 5, PAPER_MM[1] - 12.0, BAR_MM)
    return Template(
        brake=brake,
        room=room,
        axle_y=axle_y,
        face_x=face_x,
        bar=bar,
        radius_mm=radius_mm,
        face_mm=face_mm,
        inner_mm=inner,
        margin_mm=margin_mm,
    )
