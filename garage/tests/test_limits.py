"""What is stored holds to the core's limits: forms, tables, and rows of before."""

import ast
import gc
import re
import sys
import unittest
from io import StringIO
from pathlib import Path

from django.core.management import call_command
from django.db import IntegrityError, connection, transaction
from django.db.migrations.executor import MigrationExecutor
from django.db.migrations.loader import MigrationLoader
from django.db.migrations.recorder import MigrationRecorder
from django.test import SimpleTestCase, TransactionTestCase

from demo.scenario import load
from exchange import before
from garage.car.models import OutfitAxle
from garage.car.parts import Part, Tyre, Wheel
from garage.car.services import add_car
from garage.chassis.models import HardPoint
from garage.file import open_file
from garage.logs.models import Log
from garage.mass.models import MassItem
from garage.migrations_before._then import tyre_then, wheel_then
from garage.readings.models import Reading, Trial
from planner.chosen import builds_of
from planner.dates.models import BuildWeek, Claim, Happening, PersonWeek, PlanTask, ReceiptPicture, Said
from planner.finder.models import Search
from planner.models import Build, Choice
from planner.queries import sums
from proof.models import RunPlan
from rimcore.families import CHASSIS
from rimcore.lines import parse_line
from rimcore.quantities.errors import BadInput, CoreError
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import parse_wheel
from shelf.services import add_line
from shell import revision
from shell.tests.base import ScenarioCase
from workshop.models import Step

PAGES = ("", "measure/", "measure/FL/", "choose/", "check/FL/", "plan/", "fit/", "prove/")


class Forms(ScenarioCase):
    def reading(self, corner, code, **values):
        return self.client.post(
            self.url(f"measure/{corner}/{code}/"), {"method": "rule", "taken_on": "2026-11-01", **values}
        )

    def test_readings_are_bounded_both_ways(self):
        count = Reading.objects.count()
        for corner, code, values in (
            ("FL", "camber_bump", {"travel_mm": "40", "value": "-3000"}),
            ("FL", "camber_bump", {"travel_mm": "40", "value": "-21"}),
            ("FL", "arch_12", {"value": "-1e200", "value2": "10"}),
            ("FL", "arch_12", {"value": "10", "value2": "-201"}),
            ("FL", "bump", {"value": "401"}),
            ("FL", "kingpin", {"value": "-301"}),
            ("FL", "damper", {"height_mm": "240", "value": "12", "uncertainty": "51"}),
            ("FL", "camber", {"value": "nan"}),
        ):
            answer = self.reading(corner, code, **values)
            self.assertEqual(answer.status_code, 422, (code, values))
            for value in values.values():
                self.assertContains(answer, f'value="{value}"', status_code=422)
        self.assertEqual(Reading.objects.count(), count)

    def test_a_candidate_with_odd_lugs_or_a_lead_time_beyond_all_dates(self):
        wheel = Wheel.objects.filter(car=self.car).first()
        form = {
            "name": "x",
            "diameter_in": "17",
            "width_in": "8",
            "offset_mm": "40",
            "supplier": "",
            "link": "",
            "note": "",
        }
        for field, value, words in (
            ("bolts", "0", "3 to 10"),
            ("bolts", "12", "3 to 10"),
            ("bolts", "1000", "3 to 10"),
            ("lead_days", "1001", "0 to 1000"),
        ):
            answer = self.client.post(self.url(f"choose/wheel/{wheel.pk}/"), form | {field: value})
            self.assertContains(answer, words, status_code=422)
        choice = Choice.objects.filter(build__car=self.car).first()
        answer = self.client.post(
            self.url(f"plan/part/{choice.pk}/"),
            {"what": "part", "part-position": "A", "part-quantity": "4", "part-lead_days": "2147483648"},
        )
        self.assertEqual(answer.status_code, 422)
        for page in PAGES:
            self.assertEqual(self.client.get(self.url(page)).status_code, 200, page)

    def test_numbers_of_forty_and_of_4400_digits_are_not_found(self):
        for digits in ("9" * 40, "9" * 4400):
            self.assertEqual(self.client.get(f"/car/{digits}/").status_code, 404)
            self.assertEqual(
                self.client.post(self.url("plan/choose/"), {"build": digits, "wheel": "1", "tyre": "1"}).status_code,
                404,
            )

    def test_a_post_whose_boundary_is_missing(self):
        for kind in ("multipart/form-data", "multipart/form-data; boundary=", 'multipart/form-data; boundary=""'):
            answer = self.client.post(self.url("choose/"), data=b"line=18x9", content_type=kind)
            self.assertLess(answer.status_code, 500, kind)


class Tables(ScenarioCase):
    def test_the_database_refuses_too(self):
        reading, wheel = Reading.objects.filter(car=self.car).first(), Wheel.objects.filter(car=self.car).first()
        for row, field, value in (
            (reading, "values", [9000.0]),
            (reading, "uncertainty", 500.0),
            (wheel, "lead_days", 2000),
            (wheel, "width_in", 2.0),
            (wheel, "diameter_in", None),
        ):
            with self.assertRaises(IntegrityError), transaction.atomic():
                type(row)._base_manager.filter(pk=row.pk).update(**{field: value})

    def test_nothing_is_kept_that_a_family_does_not_take(self):
        wheel, tyre = Wheel.objects.filter(car=self.car).first(), Tyre.objects.filter(car=self.car).first()
        for part, code, value in (
            (wheel, "bolts", 12),
            (wheel, "pcd_mm", 3.0),
            (wheel, "seat", "hexagon"),
            (wheel, "pad_thickness_mm", "thick"),
            (wheel, "width_in", 25.0),
            (tyre, "size", "odd"),
            (tyre, "diameter_in", 15.0),
            (tyre, "measured_section_mm", 2000.0),
            (tyre, "profile", [[1, 2], [3]]),
        ):
            before = dict(part.spec)
            setattr(part, code, value)
            with self.assertRaises((CoreError, ValueError), msg=code):
                part.save()
            part.spec = before
            part.refresh_from_db()
        self.assertIsNone(wheel.fault)
        for family, spec in (
            ("ring", {"inner_mm": 72.6, "outer_mm": 57.1}),
            ("ring", {"inner_mm": 57.1}),
            ("nothing", {}),
        ):
            with self.assertRaises(BadInput):
                Part(car=self.car, family=family, name="a part", spec=spec).save()


class OldRows(ScenarioCase):
    """Texts that today's core refuses are told in their place; the rest of every page stands."""

    def test_each_is_told_with_the_way_to_repair_it(self):
        for axle in OutfitAxle.objects.filter(outfit__car=self.car, end="R"):
            Part.objects.filter(pk=axle.wheel_part_id).update(family="other", name="17x8 3/4x 40", line="17x8 3/4x 40")
        wheel, tyre = Wheel.objects.filter(car=self.car).last(), Tyre.objects.filter(car=self.car).last()
        Part.objects.filter(pk=wheel.pk).update(spec=wheel.spec | {"seat": "hexagon"})
        Part.objects.filter(pk=tyre.pk).update(spec=tyre.spec | {"size": "odd"})
        Trial.objects.filter(car=self.car).update(wheel="a wheel")
        self.car.axles.filter(end="F").update(thread="M99")
        for page in PAGES:
            answer = self.client.get(self.url(page))
            self.assertEqual(answer.status_code, 200, page)
            self.assertContains(answer, "left out of what is checked")
        listed = self.client.get(self.url("choose/"))
        for words in ("hexagon", "a wheel", "M99", "wheel and tyre of"):
            self.assertContains(listed, words)
        self.assertContains(listed, "Put it right")
        broken = Wheel.objects.get(spec__seat="hexagon")
        self.assertEqual(self.client.get(self.url(f"choose/wheel/{broken.pk}/")).status_code, 200)
        pair = self.client.get(self.url(f"choose/pair/{broken.pk}/{Tyre.objects.filter(car=self.car).first().pk}/"))
        self.assertIn(pair.status_code, (302, 404))

    def test_a_station_that_is_declared_no_more_is_told_and_breaks_nothing(self):
        """Station codes are declarations: the database keeps no list of them."""
        self.assertIsNone(Reading._meta.get_field("code").choices)
        odd = Reading.objects.filter(car=self.car, corner="FR", code="arch_12").first()
        Reading.objects.filter(pk=odd.pk).update(code="of_another_time")
        for page in ("", "measure/", "measure/FR/", "check/FR/", "choose/", "plan/", "fit/", "prove/"):
            self.assertEqual(self.client.get(self.url(page)).status_code, 200, page)
        self.assertContains(self.client.get(self.url("measure/")), "no such station any more")

    def test_a_reading_that_cant_have_been_taken_leaves_its_corner_standing(self):
        Reading.objects.filter(car=self.car, corner="FL", code="damper").update(where={"height_mm": 490})
        answer = self.client.get(self.url("check/FL/"))
        self.assertContains(answer, "is above the tread")
        self.assertTrue(any(j.value is not None for j in answer.context["gaps"]))
        self.assertEqual(self.fragment("check/FL/remedies/").status_code, 200)
        self.assertEqual(self.fragment("check/FL/windows/").status_code, 200)


@unittest.skipUnless(connection.vendor == "sqlite", "databases of before are files")
class Migrated(TransactionTestCase):
    """A database of before, with figures that no table takes any more."""

    BEFORE = [
        ("garage", "0003_worked"),
        ("shelf", "0003_card"),
        ("planner", "0002_motion"),
        ("workshop", "0001_initial"),
        ("proof", "0001_initial"),
    ]

    def setUp(self):
        """Thousands of states of tables are made: what is there already need not be looked through each time."""
        thresholds = gc.get_threshold()
        self.addCleanup(gc.unfreeze)
        self.addCleanup(gc.set_threshold, *thresholds)
        gc.collect()
        gc.freeze()
        gc.set_threshold(100_000, 50, 1000)

    def back(self, to=None):
        """The newest database taken back to what it was, as if it had come here step by step."""
        revision.drop()
        MigrationExecutor(connection).migrate([(room, before.WHOLE) for room in before.ROOMS])
        recorder = MigrationRecorder(connection)
        for room, name in before.names():
            recorder.record_applied(room, name)
        for room in before.ROOMS:
            recorder.record_unapplied(room, before.WHOLE)
        with before.single_steps():
            MigrationExecutor(connection).migrate(to or self.BEFORE)
        recorder.record_unapplied(*before.STOOD_FOR_FIVE)

    def forth(self):
        self.assertTrue(before.is_of_before())
        call_command("migrate", plan=True, stdout=StringIO())
        self.assertTrue(before.is_of_before(), "who only looks changes nothing")
        call_command("migrate", verbosity=0)
        self.assertFalse(before.is_of_before())

    def sql(self, statement, *values):
        with connection.cursor() as cursor:
            cursor.execute(statement, values)

    def what_is_said(self, owner):
        """Garage, gaps, money and steps of every car, as the pages say them."""
        found = {}
        for car in owner.cars.exclude(nickname="odd").order_by("pk"):
            file = open_file(owner, car.pk)
            builds = [sums(file, build) for build in builds_of(file)]
            found[car.nickname] = {
                "readings": [(r.corner, r.code, r.value, r.value2, r.typed, r.taken_on) for r in file.readings],
                "gaps": [
                    (j.code, j.where, j.state, j.value)
                    for b in builds
                    for j in b.judgements
                    if j.code.startswith("gap.")
                ],
                "money": [b.money for b in builds],
                "mass": [b.mass for b in builds],
                "steps": list(
                    Step.objects.filter(job__car=car).values_list("title", "torque_nm", "lugs", "state").order_by("pk")
                ),
            }
        return found

    def test_a_database_of_before_is_brought_here(self):
        """One way back and forth: it says the same, figures no table takes are struck out or emptied, fitted wheels
        have their specification.
        """
        car = load()
        owner = car.owner
        # What an older version never knew it can't keep: hard points, the mass ledger, plans, and parts of families that came
        # later.
        HardPoint.objects.all().delete()
        MassItem.objects.all().delete()
        Reading.objects.filter(code="core_space").delete()
        Log.objects.filter(kind="run").delete()
        for later in (PlanTask, PersonWeek, BuildWeek, Claim, Happening, Said, RunPlan, Search, ReceiptPicture):
            later.objects.all().delete()
        Build.objects.filter(choices__part__family__in=CHASSIS).delete()
        odd = self.odd_rows(owner)
        said = self.what_is_said(owner)
        fitted = OutfitAxle.objects.filter(wheel_part__spec__has_key="seat").order_by("pk").first()
        names = ("wheel", "tyre", "seat", "pad_thickness_mm", "load_kg", "measured_section_mm", "wheel_kg", "tyre_kg")
        wanted = [fitted.said(name) for name in names]
        count = Reading.objects.count()
        self.back()
        try:
            self.sql("UPDATE garage_reading SET value = -1e200, typed = '-1e200' WHERE id = %s", odd[0].pk)
            self.sql("UPDATE garage_reading SET uncertainty = 1e9 WHERE id = %s", odd[1].pk)
            self.sql("UPDATE shelf_wheel SET bolts = 0, lead_days = 32000 WHERE id = %s", odd[2].pk)
        finally:
            self.forth()
        self.assertEqual((owner.cars.count(), Reading.objects.count()), (4, count))
        for name, of_car in self.what_is_said(owner).items():
            for what, value in of_car.items():
                self.assertEqual(value, said[name][what], f"{name}: {what}")
        for row in Reading.objects.filter(pk__in=(odd[0].pk, odd[1].pk)):
            self.assertIn("out of range", row.struck_why)
        self.assertEqual(Reading.objects.get(pk=odd[0].pk).typed, "-1e200")
        wheel = Wheel.objects.get(pk=odd[2].pk)
        self.assertEqual((wheel.bolts, wheel.lead_days), (None, None))
        fitted = OutfitAxle.objects.get(pk=fitted.pk)
        self.assertEqual([fitted.said(name) for name in names], wanted)

    def odd_rows(self, owner):
        """Rows of a car of their own that are made odd on the way; nothing else is judged by them."""
        other = add_car(owner, {"nickname": "odd"})
        outfit = other.outfits.create(name="baseline", is_baseline=True)
        how = {"car": other, "outfit": outfit, "corner": "FL", "code": "bump", "method": "rule", "uncertainty": 1.0}
        first, second = (Reading.objects.create(values=[60.0 + k], typed=str(60 + k), **how) for k in range(2))
        return (
            first,
            second,
            add_line(other, owner, parse_line("17x8 +40 5x108 63.4"), "Odd one", "17x8 +40 5x108 63.4"),
        )


def declared(model):
    """Fields and table options of a migration's model, comparable."""
    fields = {name: field.deconstruct()[1:] for name, field in model.fields.items()}
    rules = {
        kind: sorted(re.sub(r"\.0\b", "", repr(one)) for one in model.options.get(kind, []))
        for kind in ("constraints", "indexes")
    }
    return fields, rules, model.options.get("ordering"), model.options.get("unique_together")


class Steps(SimpleTestCase):
    def test_the_whole_set_and_the_single_steps_leave_the_same_tables(self):
        whole = MigrationLoader(None).project_state([(room, before.WHOLE) for room in before.ROOMS]).models
        with before.single_steps():
            steps = MigrationLoader(None).project_state().models
        ours = {key for key in steps if key[0] in before.ROOMS}
        self.assertGreater(len(ours), 50)
        self.assertEqual({key for key in whole if key[0] in before.ROOMS}, ours)
        for key, model in ((key, whole[key]) for key in ours):
            self.assertEqual(declared(model), declared(steps[key]), key)

    def test_no_migration_asks_what_the_code_says_today(self):
        root = Path(__file__).resolve().parents[2]
        for path in (*root.glob("*/migrations/*.py"), *root.glob("*/migrations_before/*.py")):
            for node in ast.walk(ast.parse(path.read_text())):
                names = (
                    [node.module]
                    if isinstance(node, ast.ImportFrom)
                    else [one.name for one in getattr(node, "names", ())]
                    if isinstance(node, ast.Import)
                    else []
                )
                for name in names:
                    known = (
                        name.split(".")[0] in {*sys.stdlib_module_names, "django"}
                        or name == "garage.migrations_before._then"
                    )
                    self.assertTrue(known, f"{path.relative_to(root)} imports {name}")

    def test_a_wheel_and_a_tyre_are_read_as_they_were(self):
        for text in (
            "16x6.5 +50 5x108 63.4",
            "9.5Jx18 ET22 5/114.3",
            "18 x 9½ ET22",
            "17x8,5 ET-10 5x112",
            "15x7 −12 4x100",
            "16x7 +42",
        ):
            read = parse_wheel(text)
            self.assertEqual(wheel_then(text), {name: getattr(read, name) for name in wheel_then(text)}, text)
        for text in ("225/45R17 91W", "35x12.50R17LT", "P225/45 R 17", "195R14C", "LT265/70R17", "245/40ZR18"):
            read = parse_tyre(text)
            self.assertEqual(
                tyre_then(text), {"diameter_in": read.rim_diameter_in, "section_width_mm": read.section_width_mm}, text
            )
        self.assertIsNone(wheel_then("a wheel"))
        self.assertIsNone(tyre_then("round"))
