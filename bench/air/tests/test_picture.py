"""A panel from a photographed card: from a known plate through a turned picture and back.

What is no picture or no outline is told.
"""

import io
import math

from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image
from shapely import Polygon

from bench.air.facts import panel_as_typed
from garage.air.models import AirPanel, PanelPicture
from shell.tests.base import ScenarioCase
from shell.undo import last_change, undo

#: along and right of the centre line [mm]; the bar lies on the centre line from 850 to 1450
PLATE = [(800.0, 300.0), (1400.0, 380.0), (1500.0, -350.0), (820.0, -280.0)]
BAR = [(850.0, 0.0), (1450.0, 0.0)]
#: how the camera was held, and what a pixel is [mm]
TURN, PIXEL_MM = math.radians(17.0), 1.6


def seen(points, mirrored=False):
    """Pixels of points of the floor: turned by the camera, right and down."""
    found = []
    for x, y in points:
        u, v = (x - 1150.0) / PIXEL_MM, (-y if mirrored else y) / PIXEL_MM
        found.append(
            (
                round(500 + u * math.cos(TURN) - v * math.sin(TURN), 1),
                round(400 + u * math.sin(TURN) + v * math.cos(TURN), 1),
            )
        )
    return found


def photograph(size=(1000, 800)):
    stored = io.BytesIO()
    Image.new("RGB", size, "#cfc7b6").save(stored, "PNG")
    return stored.getvalue()


class Pictured(ScenarioCase):
    def setUp(self):
        super().setUp()
        self.panel = AirPanel.objects.get(car=self.car, name="Belly panel")
        AirPanel.objects.filter(pk=self.panel.pk).update(holes="", existing="")
        self.address = self.url(f"check/air/{self.panel.pk}/picture/")

    def send(self, raw=None):
        return self.client.post(
            self.address, {"what": "picture", "image": SimpleUploadedFile("card.png", raw or photograph())}
        )

    def click(self, pixels, **changed):
        said = {
            "what": "points",
            "points": "\n".join(f"{x} {y}" for x, y in pixels),
            "bar_mm": "600",
            "ahead_mm": "850",
            "right_mm": "0",
        }
        return self.client.post(self.address, said | changed)

    def test_a_turned_picture_gives_the_plate_back_from_above_and_below(self):
        self.assertContains(self.client.get(self.address), "control bar")
        self.assertRedirects(self.send(), self.address)
        for changed in ({}, {"from_below": "on"}):
            answer = self.click(seen([*BAR, *PLATE], bool(changed)), **changed)
            self.assertRedirects(answer, self.url(f"check/air/?panel={self.panel.pk}"))
            shape = panel_as_typed(AirPanel.objects.get(pk=self.panel.pk)).shape
            self.assertLess(shape.symmetric_difference(Polygon(PLATE)).area / Polygon(PLATE).area, 0.002)
        page = self.client.get(self.address)
        self.assertAlmostEqual(page.context["pixel_mm"], PIXEL_MM, delta=0.01)
        undo(self.user, last_change(self.user).pk)
        self.assertFalse(PanelPicture.objects.get(panel=self.panel).from_below)

    def test_what_is_no_picture_or_no_outline_is_told_and_nothing_is_lost(self):
        self.assertContains(self.send(b"GIF89a no picture"), "JPEG, PNG or WebP", status_code=422)
        self.send()
        before = AirPanel.objects.get(pk=self.panel.pk).outline
        good = seen([*BAR, *PLATE])
        for pixels, changed, words in (
            (good[:4], {}, "accepted: two for the bar and 3"),
            ([*good[:2], good[2], good[4], good[3], good[5]], {}, "crosses itself"),
            ([good[0], good[0], *good[2:]], {}, "too near"),
            ([*good, (4000.0, 10.0)], {}, "outside the picture"),
            (good, {"bar_mm": "0"}, "Out of range"),
            (good, {"bar_mm": "long"}, "long"),
            (good, {"points": "12 by 7"}, "is not a point"),
        ):
            answer = self.click(pixels, **changed)
            self.assertContains(answer, words, status_code=422)
            self.assertContains(answer, changed.get("points") or f"{pixels[-1][0]} {pixels[-1][1]}", status_code=422)
        self.assertEqual(AirPanel.objects.get(pk=self.panel.pk).outline, before)

    def test_nobody_elses_picture(self):
        self.send()
        card = self.url(f"check/air/{self.panel.pk}/card.jpg")
        self.assertEqual(self.client.get(card)["Content-Type"], "image/jpeg")
        self.client.force_login(self.person())
        for address in (card, self.address):
            self.assertEqual(self.client.get(address).status_code, 404)
