"""Levers: rows as their benches declare them."""

from garage.car.parts import Part
from planner.chosen import build_in_hand, levers_at
from planner.models import Build, Lever
from planner.queries import sums
from planner.services import add_build, add_part, duplicate_build, remove_build, set_levers
from rimcore.benches import BENCHES, LEVERS
from rimcore.quantities.errors import BadInput
from rimcore.tables.facts import CORNERS as AT_CORNERS
from rimcore.well.bench import WELL
from shell.tests.base import ScenarioCase
from shell.undo import last_change, undo


class Levers(ScenarioCase):
    def build(self):
        return build_in_hand(self.file())

    def test_a_lever_left_alone_has_no_row(self):
        build = Build.objects.get(car=self.car, name="Hill season")
        set_levers(
            build,
            {
                ("camber_deg", "F"): None,
                ("stroke_moves", ""): False,
                ("spacer_kind", ""): "slip",
                ("ride_drop_mm", "F"): 0,
            },
        )
        self.assertEqual(list(build.levers.values_list("code", "place")), [("ride_drop_mm", "R")])

    def test_a_camber_of_nought_is_set_and_a_blank_is_not(self):
        build = Build.objects.get(car=self.car, name="Hill season")
        set_levers(build, {("camber_deg", "F"): 0.0})
        self.assertEqual(levers_at(self.build(), "F")["camber_deg"], 0.0)
        self.assertIsNone(levers_at(self.build(), "R")["camber_deg"])

    def test_what_a_bench_does_not_take_is_refused_whole(self):
        build = Build.objects.get(car=self.car, name="Hill season")
        before = list(build.levers.values_list("code", "place", "number", "text"))
        for odd in (
            {("spacer_mm", "F"): 201},
            {("spacer_mm", ""): 5},
            {("spacer_kind", ""): "glued"},
            {("ride_drop_mm", "R"): float("nan")},
        ):
            with self.assertRaises(BadInput):
                set_levers(build, odd)
        self.assertEqual(list(build.levers.values_list("code", "place", "number", "text")), before)

    def test_a_row_that_its_bench_takes_no_more_is_untouched(self):
        build = Build.objects.get(car=self.car, name="Hill season")
        Lever.objects.create(build=build, code="spacer_kind", place="", text="glued")
        Lever.objects.create(build=build, code="of_another_time", place="F", number=3)
        self.assertEqual(levers_at(self.build(), "F")["spacer_kind"], "slip")
        self.assertEqual(self.client.get(self.url("plan/")).status_code, 200)
        self.assertEqual(duplicate_build(build, self.car.owner).lever("ride_drop_mm", "F"), 20)

    def test_every_lever_of_the_well_moves_a_judgement_of_some_build(self):
        """No lever is only a row: each changes what is said of the build in hand."""
        tried = {
            "spacer_mm": 15.0,
            "ride_drop_mm": 45.0,
            "camber_deg": -4.0,
            "lip_rolled_mm": 8.0,
            "lock_limit_deg": 6.0,
            "stroke_moves": True,
            "spacer_kind": "bolted",
        }
        self.assertEqual(set(tried), {lever.code for lever in WELL.levers})
        build = Build.objects.get(car=self.car, name="Hill season")
        for lever in WELL.levers:
            place = lever.places[0]
            start = {("spacer_mm", "F"): 15.0} if lever.code == "spacer_kind" else {}
            set_levers(build, start)
            before = self.said()
            was = self.build().lever(lever.code, place)
            set_levers(build, {(lever.code, place): tried[lever.code]})
            self.assertNotEqual(self.said(), before, lever.code)
            set_levers(build, {(lever.code, place): was, ("spacer_mm", "F"): 0.0})

    def said(self):
        return [(j.code, j.where, j.state, j.value) for j in sums(self.file(), self.build()).judgements]

    def test_the_plan_shows_every_lever_that_a_build_sets_and_its_form_every_one_but_those_of_a_corner(self):
        build = Build.objects.get(car=self.car, name="Hill season")
        set_levers(build, {("axle_ratio", ""): 4.1, ("lip_rolled_mm", "R"): 6.0})
        page = self.client.get(self.url("plan/"))
        for words in ("Axle ratio", "4.1", "Rear lip rolled", "6 mm", "Front lowered", "20 mm"):
            self.assertContains(page, words)
        form = self.client.get(self.url(f"plan/build/{build.pk}/")).context["form"]
        for lever in LEVERS.values():
            for place in lever.places:
                named = f"{lever.code}_{place}" if place else lever.code
                (self.assertNotIn if place in AT_CORNERS else self.assertIn)(named, form.fields)

    def test_a_part_stays_on_the_list_when_its_build_goes_and_all_comes_back_by_undo(self):
        build = self.build()
        named = Part.objects.filter(choices__build=build, family__in=("ring", "other"))
        listed = Part.objects.filter(car=self.car, family__in=("wheel", "tyre")).count()
        kept = set(named.values_list("pk", flat=True))
        self.assertTrue(kept)
        copy = duplicate_build(build, self.car.owner)
        remove_build(copy, self.car.owner)
        self.assertEqual(set(named.values_list("pk", flat=True)), kept, "another build has them still")
        spare = add_build(self.car, self.car.owner, "Spare", "daily")
        part = add_part(spare, self.car.owner, {"name": "A bracket", "quantity": 1}).part
        remove_build(spare, self.car.owner)
        self.assertTrue(Part.objects.filter(pk=part.pk, listed=True, choices__isnull=True).exists())
        undo(self.car.owner, last_change(self.car.owner).pk)
        self.assertTrue(Part.objects.filter(pk=part.pk, choices__build__name="Spare").exists())
        self.assertEqual(Part.objects.filter(car=self.car, family__in=("wheel", "tyre")).count(), listed)

    def test_no_two_benches_declare_the_same_lever(self):
        self.assertEqual(len(LEVERS), sum(len(bench.levers) for bench in BENCHES.values()))
