"""Parts of every family: on the list, in a build, or on the car. What each is made of its family declares."""

from __future__ import annotations

from typing import Any

from django.db import models
from django.db.models import Q

from rimcore.families import FAMILIES, Family
from rimcore.quantities.errors import BadInput
from shell.limits import limited
from shell.narrow import ChangedColumns


class Part(ChangedColumns):
    """A part: who offers it, what it costs and weighs, and its specification as its family declares it.

    What lists are sorted and filtered by stands in columns; the rest of the specification in ``spec``.
    """

    car = models.ForeignKey("garage.Car", on_delete=models.CASCADE, related_name="parts")
    family = models.CharField(max_length=20)
    name = models.CharField(max_length=80, blank=True)
    mass_kg = models.FloatField(null=True, blank=True)
    price_minor = models.PositiveIntegerField(null=True, blank=True)
    lead_days = models.PositiveSmallIntegerField(null=True, blank=True)
    supplier = models.CharField(max_length=80, blank=True)
    link = models.URLField(max_length=300, blank=True)
    note = models.CharField(max_length=200, blank=True)
    line = models.CharField(max_length=500, blank=True)
    pinned = models.BooleanField(default=False)
    #: how much the owner likes it, 0 to 5; the finder can go by it
    stars = models.PositiveSmallIntegerField("your stars, 0 to 5", default=0)
    #: on the list; else it stands, or stood, on the car
    listed = models.BooleanField(default=True)
    diameter_in = models.FloatField(null=True, blank=True)
    width_in = models.FloatField(null=True, blank=True)
    offset_mm = models.FloatField(null=True, blank=True)
    section_width_mm = models.FloatField(null=True, blank=True)
    spec = models.JSONField(default=dict)
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]
        indexes = [models.Index(fields=["car", "family"])]
        constraints = [
            *limited(
                "part",
                mass_kg="mass_kg",
                price_minor="price_minor",
                lead_days="lead_days",
                stars="stars",
                diameter_in="diameter_in",
                width_in="width_in",
                offset_mm="offset_mm",
                section_width_mm="section_mm",
            ),
            models.CheckConstraint(
                name="part_wheel",
                condition=~Q(family="wheel")
                | Q(diameter_in__isnull=False, width_in__isnull=False, offset_mm__isnull=False),
            ),
            models.CheckConstraint(name="part_named", condition=Q(family__in=("wheel", "tyre")) | ~Q(name="")),
            models.CheckConstraint(name="part_tyre", condition=~Q(family="tyre") | Q(diameter_in__isnull=False)),
        ]

    def __str__(self) -> str:
        return self.name

    def save(self, *args: Any, **options: Any) -> None:
        """Keep the part; nothing is kept that its family does not take.

        Raises
        ------
        BadInput : with the field and what is accepted
        """
        known = self.declared
        if known is None:
            raise BadInput(f"no such family of parts; accepted: {', '.join(FAMILIES)}", "family")
        known.check(self.whole)
        super().save(*args, **options)

    @classmethod
    def from_db(cls, *args: Any, **options: Any) -> Part:
        """A row is what its family makes it."""
        row: Part = super().from_db(*args, **options)
        if "family" in row.__dict__:
            row.__class__ = _CLASSES.get(row.family, Part)
        return row

    @property
    def declared(self) -> Family | None:
        """The part's family."""
        return FAMILIES.get(self.family)

    @property
    def usual_position(self) -> str:
        """Where it goes if nothing is said: the axle it was sold for, else as its family does."""
        if self.declared is None:
            return "A"
        sold_for = str(self.spec.get("end") or "")
        return sold_for if sold_for in self.declared.positions else self.declared.usual_position

    @property
    def whole(self) -> dict[str, Any]:
        """The whole specification, columns and all."""
        if self.declared is None:
            return dict(self.spec)
        return {
            one.code: getattr(self, one.code) if one.column else self.spec.get(one.code) for one in self.declared.specs
        }

    @property
    def fault(self) -> str | None:
        """Why the core can't read this part; None where it can."""
        return f"no such family: {self.family}" if self.declared is None else self.declared.fault(self.whole)


def _said(code: str, blank: Any = None) -> Any:
    """A value of the specification as an attribute."""

    def read(part: Part) -> Any:
        return part.spec.get(code, blank)

    def write(part: Part, value: Any) -> None:
        if value is None or value == "":
            part.spec.pop(code, None)
        else:
            part.spec[code] = value

    return property(read, write)


class _OfFamily(models.Manager[Any]):
    """Parts of one family that are on the list."""

    def __init__(self, family: str = "") -> None:
        super().__init__()
        self.family = family

    def get_queryset(self) -> models.QuerySet[Any]:
        return super().get_queryset().filter(family=self.family, listed=True)

    def create(self, **values: Any) -> Any:
        return super().create(family=self.family, **values)


class Wheel(Part):
    """A wheel."""

    objects = _OfFamily("wheel")

    bolts = _said("bolts")
    pcd_mm = _said("pcd_mm")
    bore_mm = _said("bore_mm")
    seat = _said("seat", "")
    pad_thickness_mm = _said("pad_thickness_mm")
    load_kg = _said("load_kg")
    barrel_radius_mm = _said("barrel_radius_mm")
    spoke_back_mm = _said("spoke_back_mm")

    class Meta:
        proxy = True

    def __str__(self) -> str:
        return f"{self.name} {self.size}".strip()

    @property
    def size(self) -> str:
        return f"{self.diameter_in:g}×{self.width_in:g} {self.offset_mm:+g}".replace("-", "−")


class Tyre(Part):
    """A tyre."""

    objects = _OfFamily("tyre")

    size = _said("size", "")
    measured_section_mm = _said("measured_section_mm")
    profile = _said("profile")
    profile_rim_in = _said("profile_rim_in")

    class Meta:
        proxy = True

    def __str__(self) -> str:
        return f"{self.name} {self.size}".strip()

    @property
    def rim_diameter_in(self) -> Any:
        """Diameter of the rim it goes on."""
        return self.diameter_in

    @rim_diameter_in.setter
    def rim_diameter_in(self, value: float) -> None:
        self.diameter_in = value


_CLASSES: dict[str, type[Part]] = {"wheel": Wheel, "tyre": Tyre}
