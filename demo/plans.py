"""Plans of the demo's three cars: one that is likely ready, one that is not, one that slipped twice. Invented."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

from django.core.files.base import ContentFile
from django.utils import timezone

from demo.pictures import receipt_picture, wheel_picture
from garage.car.models import Car
from garage.file import open_file
from planner.chosen import build_in_hand
from planner.dates.models import BuildWeek, Claim, ClaimPicture, Happening, PersonWeek, PlanTask, ReceiptPicture, Said
from planner.finder.models import Search
from planner.finder.options import begin
from planner.models import Build, Choice
from rimcore.choosing.quick import PAIR

#: two evenings and the weekend
WEEK = [0.0, 2.0, 0.0, 2.0, 0.0, 4.0, 3.0]


def load_plans(user: Any, today: date) -> None:
    """Weeks, work by others, what happened."""
    PersonWeek.objects.filter(owner=user).delete()
    PersonWeek.objects.create(
        owner=user,
        week_hours=WEEK,
        away=[(today + timedelta(days=k)).isoformat() for k in (9, 10, 11)],
        extra={(today + timedelta(days=13)).isoformat(): 5.0},
        helper_weekdays=[5],
        wet_pct=35.0,
    )
    tarn = open_file(user, Car.objects.get(owner=user, nickname__startswith="Tarn").pk)
    asked = {"change": [PAIR], "goal": "money", "school": "daily", "budget_minor": 150_000, "drop_mm": 20.0}
    Search.objects.create(car=tarn.car, asked=asked, state=begin(tarn, asked), made_at=timezone.now())
    held = {}
    for name in ("Tarn", "Gannel", "Strath"):
        car = Car.objects.get(owner=user, nickname__startswith=name)
        build = build_in_hand(open_file(user, car.pk))
        if build is not None:
            held[name] = (car, build)
    _likely(*held["Tarn"], today)
    _unlikely(*held["Gannel"], today)
    _slipped(*held["Strath"], today)


def _likely(car: Car, build: Build, today: date) -> None:
    """Alignment is booked at a shop; the build ahead of it is the hill climb's."""
    PlanTask.objects.create(
        build=build,
        key="m:alignment",
        name="Alignment, at a shop",
        away_low=0,
        away_likely=1,
        away_high=3,
        by_whom="Tenter Lane Tracking",
        price_minor=9000,
        not_before=today + timedelta(days=24),
    )
    PlanTask.objects.create(
        build=build, key="own:1", name="Photographs and test dip", low_h=1, likely_h=1.5, high_h=3, dry=True
    )
    said = [
        Said.objects.create(
            build=build,
            said_on=today - timedelta(days=6),
            why=why,
            ready_on=today + timedelta(days=ready),
            p80_on=today + timedelta(days=ready + 2),
            chance_pct=100.0,
            event_on=car.event_on,
            money_minor=276_000,
            hours=9.3,
        )
        for why, ready in (("before: rain on two evenings", 23), ("Rain on two evenings", 25))
    ]
    Happening.objects.create(
        build=build,
        kind="rain",
        happened_on=today - timedelta(days=6),
        what="Rain on two evenings",
        days=2,
        before=said[0],
        later=said[1],
    )
    other = car.builds.exclude(pk=build.pk).first()
    if other is not None:
        BuildWeek.objects.create(build=other, week_hours=WEEK, wet_pct=0.0)
        wheels = other.choices.filter(part__family="wheel").first()
        if wheels is not None:
            claim = Claim.objects.create(
                choice=wheels,
                what="Lacquer lifts round one valve hole",
                seen_on=today - timedelta(days=4),
                after_km=410.0,
                said="4 days ago, by mail: photographs wanted, with the code of the casting",
                due_on=today + timedelta(days=9),
                due_what="an answer to the photographs",
            )
            ClaimPicture(claim=claim).image.save("claim.jpg", ContentFile(wheel_picture()), save=True)
            receipt = ReceiptPicture(choice=claim.choice)
            receipt.image.save("receipt.jpg", ContentFile(receipt_picture()), save=True)


def _unlikely(car: Car, build: Build, today: date) -> None:
    """The bracket is made only after a gap was read, and the arch is painted before anything goes back."""
    PlanTask.objects.create(
        build=build, key="own:1", name="Read the gap for the bracket", low_h=1, likely_h=2, high_h=3
    )
    PlanTask.objects.create(
        build=build,
        key="own:2",
        name="Arch cut, welded, painted",
        away_low=28,
        away_likely=45,
        away_high=95,
        by_whom="Culvert Street Body Works",
        price_minor=42000,
        after=["own:1"],
        not_before=today + timedelta(days=12),
    )
    PlanTask.objects.create(
        build=build,
        key="own:3",
        name="Interior back in",
        low_h=4,
        likely_h=9,
        high_h=24,
        after=["own:2"],
        helper=True,
    )


def _slipped(car: Car, build: Build, today: date) -> None:
    """Said three times: the tyres came late, then in another size."""
    part = Choice.objects.filter(build=build).order_by("id").first()
    if part is not None:
        part.state, part.ordered_on, part.arrived_on, part.lead_days = "ordered", today - timedelta(days=8), None, 62
        part.lead_low_days, part.lead_high_days = 50, 140
        part.save()
    rows = [
        Said.objects.create(
            build=build,
            said_on=today - timedelta(days=ago),
            why=why,
            ready_on=today + timedelta(days=ready),
            p80_on=today + timedelta(days=ready + 12),
            chance_pct=chance,
            event_on=car.event_on,
            money_minor=money,
            hours=hours,
        )
        for ago, why, ready, chance, money, hours in (
            (41, "kept", 12, 97.0, 61_000, 16.0),
            (27, "before: tyres back-ordered", 12, 96.0, 61_000, 16.0),
            (27, "tyres back-ordered", 34, 88.0, 61_000, 16.0),
            (8, "before: other size in the box", 34, 87.0, 61_000, 14.0),
            (8, "Other size in the box: sent back", 61, 64.0, 62_800, 14.0),
        )
    ]
    Happening.objects.create(
        build=build,
        kind="late",
        happened_on=today - timedelta(days=27),
        what="Tyres back-ordered: three weeks more",
        days=22,
        choice=part,
        before=rows[1],
        later=rows[2],
    )
    BuildWeek.objects.create(
        build=build, week_hours=[0.0, 0.0, 2.0, 0.0, 0.0, 5.0, 0.0], lift_weekdays=[5], wet_pct=35.0
    )
    Happening.objects.create(
        build=build,
        kind="wrong",
        happened_on=today - timedelta(days=8),
        what="Other size in the box: sent back",
        days=21,
        money_minor=1800,
        choice=part,
        before=rows[3],
        later=rows[4],
    )
    if part is not None:
        Claim.objects.create(
            choice=part,
            what="Other size in the box than on the label",
            seen_on=today - timedelta(days=8),
            said="8 days ago, by telephone: they send the right one, label for the return by mail",
            due_on=today + timedelta(days=6),
            due_what="the right tyres",
            sent_on=today - timedelta(days=5),
            label="RT-4417",
        )
