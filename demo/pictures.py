"""Drawn stand-ins for photographs."""

from __future__ import annotations

import io
import math

from PIL import Image, ImageDraw

from rimcore.wheels.outline import outline
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import parse_wheel

Pixels = list[tuple[float, float]]


def wheel_picture() -> bytes:
    """A wheel in its arch."""
    image = Image.new("RGB", (900, 600), "#cfc7b6")
    draw = ImageDraw.Draw(image)
    draw.pieslice((150, 20, 750, 620), 180, 360, fill="#2f5d8a")
    draw.rectangle((0, 320, 900, 420), fill="#2f5d8a")
    draw.ellipse((230, 130, 670, 570), fill="#23252a")
    draw.ellipse((310, 210, 590, 490), fill="#9aa0a8")
    for x in (390, 430, 470, 510):
        draw.line((x, 250, x, 450), fill="#3a3e45", width=12)
    draw.line((340, 420, 560, 280), fill="#24489b", width=12)
    return _jpeg(image)


def receipt_picture() -> bytes:
    """A receipt on a bench: lines, figures, a sum."""
    image = Image.new("RGB", (600, 800), "#b7ad98")
    draw = ImageDraw.Draw(image)
    draw.rectangle((110, 50, 490, 760), fill="#f7f5ee")
    draw.text((140, 80), "RECEIPT 0417", fill="#23252a")
    for k, (what, money) in enumerate((("4 x wheel, 17 in", "1 240.00"), ("carriage", "38.00"), ("SUM", "1 278.00"))):
        draw.text((140, 160 + 60 * k), what, fill="#23252a")
        draw.text((400, 160 + 60 * k), money, fill="#23252a")
    draw.line((140, 270, 460, 270), fill="#23252a", width=3)
    return _jpeg(image)


def card_section(wheel: str, tyre: str, wider_mm: float, count: int = 21) -> list[tuple[float, float]]:
    """Section of a tyre that is wider than its size by a little, from the inner rim edge over the tread.

    Across, radius [mm].
    """
    shape = outline(parse_wheel(wheel), parse_tyre(tyre))
    edge = [(-float(u), float(r)) for u, r in shape.polygon() if r > shape.flange_radius_mm + 0.5]
    edge.sort(key=lambda point: math.atan2(point[0], point[1] - shape.flange_radius_mm + 5.0))
    steps = [edge[round(k * (len(edge) - 1) / (count - 1))] for k in range(count)]
    half = shape.section_mm / 2
    return [(u * (half + wider_mm / 2) / half, r) for u, r in steps]


def card_picture(section_mm: list[tuple[float, float]], bar_mm: float) -> tuple[bytes, Pixels]:
    """A card cut to a section, lying on a bench with its control bar drawn.

    And where its bar and edge are in the picture.
    """
    across = [u for u, _ in section_mm]
    crown, foot = max(r for _, r in section_mm), min(r for _, r in section_mm)
    scale = 760 / (max(across) - min(across))
    left, top = 450.0, 70.0

    def at(u: float, r: float) -> tuple[float, float]:
        return round(left + u * scale, 1), round(top + (crown - r) * scale, 1)

    edge = [at(u, r) for u, r in section_mm]
    bar = [at(side * bar_mm / 2, foot - 14.0) for side in (-1, 1)]
    height = round(bar[0][1] + 60)
    image = Image.new("RGB", (900, height), "#6d5a44")
    draw = ImageDraw.Draw(image)
    for seam in range(0, 900, 90):
        draw.line((seam, 0, seam + 14, height), fill="#5f4e3a", width=3)
    draw.polygon([(edge[0][0], height - 14), *edge, (edge[-1][0], height - 14)], fill="#e9e2cf", outline="#8d846c")
    draw.line([bar[0], bar[1]], fill="#24489b", width=3)
    for x, y in bar:
        draw.line((x, y - 9, x, y + 9), fill="#24489b", width=3)
    draw.text((left - 20, bar[0][1] + 8), f"{bar_mm:g} mm", fill="#24489b")
    return _jpeg(image), [*bar, *edge]


def _jpeg(image: Image.Image) -> bytes:
    stored = io.BytesIO()
    image.save(stored, "JPEG", quality=90)
    return stored.getvalue()
