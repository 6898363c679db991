"""Panels of a car as they were read off their cards, and what it has under it for the slopes it has to get over."""

from __future__ import annotations

import uuid

from django.db import models
from django.utils import timezone

from garage.car.models import Car
from garage.clicked import ClickedCard
from rimcore.parts.aired import SHEETS
from shell.files import NamedImage
from shell.limits import limited
from shell.narrow import ChangedColumns


class AirPanel(ChangedColumns):
    """A panel: its card's readings or outline as typed, keep-outs, what is hot, existing holes, the sheet it is cut
    from.
    """

    car = models.ForeignKey(Car, on_delete=models.CASCADE, related_name="air_panels")
    name = models.CharField(max_length=60)
    stations = models.TextField("card, a station a line", blank=True, max_length=4000)
    outline = models.TextField("outline, point by point", blank=True, max_length=4000)
    holes = models.TextField("keep-outs", blank=True, max_length=4000)
    existing = models.TextField("existing holes", blank=True, max_length=4000)
    heat = models.TextField("what is hot", blank=True, max_length=4000)
    sheet = models.CharField(max_length=12, choices=SHEETS, default="corrugated")
    kg_per_m2 = models.FloatField("weight of the sheet, kg/m²", default=0.8)
    pitch_mm = models.FloatField("from fastener to fastener", default=150)
    edge_mm = models.FloatField("from the edge to them", default=15)
    sheets = models.TextField("sheets on sale", blank=True, max_length=1000)
    #: where the card's front edge lies behind the front axle; minus is ahead of it
    front_mm = models.FloatField("front edge behind the front axle", null=True, blank=True)
    #: lowered when the card's heights were read, front and rear
    front_drop_mm = models.FloatField(default=0)
    rear_drop_mm = models.FloatField(default=0)
    noted_on = models.DateField(default=timezone.localdate, editable=False)
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]
        constraints = [
            *limited(
                "air_panel",
                kg_per_m2="sheet_kg_per_m2",
                pitch_mm="pitch_mm",
                edge_mm="panel_edge_mm",
                front_mm="item_along_mm",
                front_drop_mm="ride_drop_mm",
                rear_drop_mm="ride_drop_mm",
            ),
            models.UniqueConstraint(fields=["car", "name"], name="one_air_panel_a_name"),
        ]

    def __str__(self) -> str:
        return self.name


def picture_path(picture: PanelPicture, name: str) -> str:
    """A name of our own: nothing of the uploaded name is kept."""
    return f"panels/{picture.panel.car_id}/{uuid.uuid4().hex}.jpg"


class PanelPicture(ClickedCard):
    """A photographed card of a panel, with the points clicked along its edge; the bar's front end comes first."""

    panel = models.OneToOneField(AirPanel, on_delete=models.CASCADE, related_name="picture")
    image = NamedImage(upload_to=picture_path)
    #: where the bar's front end lies, behind the panel's front edge and right of the centre line: the frame of all its
    #: texts
    ahead_mm = models.FloatField(default=0)
    right_mm = models.FloatField(default=0)
    from_below = models.BooleanField(default=False)

    class Meta:
        constraints = [*limited("panel_picture", bar_mm="bar_mm", ahead_mm="item_along_mm", right_mm="item_across_mm")]

    def __str__(self) -> str:
        return f"picture of {self.panel}"


class AirUnder(ChangedColumns):
    """Lip, tail and belly as the car stood, the person's own slopes, and the splitter's blade."""

    car = models.OneToOneField(Car, on_delete=models.CASCADE, related_name="air_under")
    lip_ahead_mm = models.FloatField("lip ahead of the front axle", null=True, blank=True)
    lip_up_mm = models.FloatField("lip above the ground", null=True, blank=True)
    tail_behind_mm = models.FloatField("tail behind the rear axle", null=True, blank=True)
    tail_up_mm = models.FloatField("tail above the ground", null=True, blank=True)
    belly_behind_mm = models.FloatField("belly behind the front axle", null=True, blank=True)
    belly_up_mm = models.FloatField("belly above the ground", null=True, blank=True)
    #: lowered when these were read, front and rear
    front_drop_mm = models.FloatField(default=0)
    rear_drop_mm = models.FloatField(default=0)
    slopes = models.TextField("slopes it has to get over", blank=True, max_length=1000)
    area_m2 = models.FloatField("area of the splitter, m²", null=True, blank=True)
    cp = models.FloatField("pressure coefficient", default=0.6)
    speed_kmh = models.FloatField("speed", default=160)
    fasteners = models.PositiveSmallIntegerField(default=6)
    load_lever_mm = models.FloatField("rear fixing line to the middle of the area", null=True, blank=True)
    adjuster_lever_mm = models.FloatField("rear fixing line to the adjusters", null=True, blank=True)
    adjusters = models.PositiveSmallIntegerField(default=0)
    opening_mm = models.FloatField("height of the cooler's opening", null=True, blank=True)
    covered_mm = models.FloatField("of it covered", null=True, blank=True)
    noted_on = models.DateField(default=timezone.localdate, editable=False)

    class Meta:
        constraints = [
            *limited(
                "air_under",
                lip_ahead_mm="reach_mm",
                lip_up_mm="under_up_mm",
                tail_behind_mm="reach_mm",
                tail_up_mm="under_up_mm",
                belly_behind_mm="reach_mm",
                belly_up_mm="under_up_mm",
                area_m2="area_m2",
                cp="cp",
                speed_kmh="air_kmh",
                fasteners="air_count",
                load_lever_mm="reach_mm",
                adjuster_lever_mm="reach_mm",
                adjusters="air_none",
                opening_mm="reach_mm",
                covered_mm="under_up_mm",
                front_drop_mm="ride_drop_mm",
                rear_drop_mm="ride_drop_mm",
            )
        ]

    def __str__(self) -> str:
        return f"under {self.car}"
