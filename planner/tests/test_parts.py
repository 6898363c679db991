"""Parts in a build: put in with the counter's questions, levers set, judged, counted; what is dragged along.

Used, returned, had already.
"""

from dataclasses import replace
from datetime import timedelta

from django.utils import timezone

from garage.car.models import Axle
from planner.chosen import build_in_hand, candidate
from planner.models import Build, Choice
from planner.parts import dragged_along, part_judgements
from planner.queries import sums
from planner.services import put_part, remove_choice, set_levers
from rimcore.families import FAMILIES
from rimcore.lines import parse_line
from shelf.services import add_line
from shell.models import Change
from shell.tests.base import ScenarioCase
from shell.undo import undo


class InABuild(ScenarioCase):
    def setUp(self):
        super().setUp()
        self.build = Build.objects.get(name="Hill season")

    def add(self, line):
        return add_line(self.car, self.user, parse_line(line))

    def put(self, line, position="A", quantity=1, **answers):
        return put_part(self.fresh(), self.user, self.add(line), {"position": position, "quantity": quantity}, answers)

    def fresh(self):
        return build_in_hand(self.file())

    def states(self):
        return {(j.code, j.where): j.state for j in part_judgements(self.file(), self.fresh())}


class Put(InABuild):
    def test_the_counters_questions_are_asked_and_stay_open_until_answered(self):
        part = self.add("calipers radius 150 face 9 left and right, 540")
        address = self.url(f"plan/put/{part.pk}/")
        page = self.client.get(address)
        self.assertEqual([ask.code for ask in page.context["family"].asks], ["hand", "hat"])
        before = self.page("open/").context["questions"]
        self.client.post(
            address, {"build": self.build.pk, "position": "F", "quantity": "1", "ask_hand": "yes", "ask_hat": ""}
        )
        choice = Choice.objects.get(part=part)
        self.assertEqual((choice.position, choice.answers), ("F", {"hand": "yes"}))
        after = self.page("open/").context["questions"]
        self.assertEqual(len(after), len(before) + 1)
        self.assertContains(self.page("plan/"), "to ask: Hat height of the disc asked for")
        self.client.post(self.url(f"plan/part/{choice.pk}/"), {"what": "answer", "ask-hand": "yes", "ask-hat": "yes"})
        self.assertEqual(len(self.page("open/").context["questions"]), len(before))

    def test_how_many_is_reckoned_from_the_hubs(self):
        part = self.add("nuts M12x1.5 cone 60 class 10, set of 10, 20")
        self.assertEqual(self.client.get(self.url(f"plan/put/{part.pk}/")).context["form"].initial["quantity"], 2)

    def test_refused(self):
        part = self.add("ring 63.4 → 72.6")
        for said, words in (
            ({"quantity": "0"}, "greater than"),
            ({"position": "X"}, "valid choice"),
            ({"build": "999"}, "valid choice"),
            ({"ask_measured": "perhaps"}, "valid choice"),
        ):
            form = {"build": self.build.pk, "position": "A", "quantity": "4", **said}
            self.assertContains(self.client.post(self.url(f"plan/put/{part.pk}/"), form), words, status_code=422)

    def test_a_spacer_sets_its_levers_and_takes_them_back(self):
        choice = self.put("spacer 15 mm bolt-on", "R", 2)
        build = self.fresh()
        self.assertEqual(
            (build.lever("spacer_mm", "R"), build.lever("spacer_mm", "F"), build.lever("spacer_kind")),
            (15.0, 0.0, "bolted"),
        )
        self.assertEqual(candidate(self.file(), build, "R").fitted.spacer_mm, 15.0)
        remove_choice(choice, self.user)
        build = self.fresh()
        self.assertEqual((build.lever("spacer_mm", "R"), build.lever("spacer_kind")), (0.0, "slip"))
        undo(self.user, Change.objects.first().pk)
        self.assertEqual(self.fresh().lever("spacer_mm", "R"), 15.0)

    def test_its_mass_is_added_where_it_replaces_nothing(self):
        before = sums(self.file(), self.fresh()).mass.total_kg
        self.put("spacer 15 mm, 0.9 kg", "R", 2)
        self.assertAlmostEqual(sums(self.file(), self.fresh()).mass.total_kg - before, 1.8)

    def test_a_caliper_moves_the_gap_of_the_wheel_well(self):
        def gap():
            found = sums(self.file(), self.fresh()).judgements
            return next((j.value, j.state) for j in found if j.code == "gap.caliper_barrel" and j.where == "front left")

        wheel = self.build.choices.get(part__family="wheel").part
        wheel.spec["barrel_radius_mm"] = 190.0
        wheel.save()
        self.assertEqual(gap()[0], 190 - 151.5)
        self.put("calipers radius 188 face 9 left and right", "F")
        self.assertEqual(gap(), (2.0, "tight"))
        here = self.page("check/FL/")
        self.assertTrue(
            any(
                j.code == "gap.caliper_barrel" and j.value == 2.0 for j in here.context["others"] + here.context["gaps"]
            )
            if "gaps" in here.context
            else True
        )


class Judged(InABuild):
    def test_enough_of_them(self):
        self.put("nuts M12x1.5 cone 60 class 10, set of 16, 20")
        self.assertEqual(self.states()["part.nut.count", ""], "hit")
        self.put("nuts M12x1.5 cone 60 class 10, set of 4, 6")
        self.assertEqual(self.states()["part.nut.count", ""], "clear")

    def test_left_and_right_alike(self):
        self.put("discs 300x24 hat 46 left", "F")
        self.put("discs 300x24 hat 40 right", "F")
        self.assertEqual(
            self.states()["part.rotor.sides", "front axle"]
            if ("part.rotor.sides", "front axle") in self.states()
            else self.states()["part.rotor.sides", ""],
            "hit",
        )

    def test_they_count_in_the_builds_state(self):
        self.put("ring 63.4 → 73.1 hollow", quantity=4)
        found = sums(self.file(), self.fresh())
        self.assertEqual(found.state, "hit")
        self.assertIn("part.ring.build", {j.code for j in found.judgements})


class Dragged(InABuild):
    def rows(self):
        return {row.need.family: row for row in dragged_along(self.file(), self.fresh())}

    def test_the_ring_of_the_build_answers_its_need(self):
        row = self.rows()["ring"]
        self.assertEqual((row.need.spec["inner_mm"], row.need.spec["outer_mm"], row.need.quantity), (63.4, 72.6, 4))
        self.assertEqual(row.choice.kind, "ring")

    def test_one_press_wants_all_that_is_needed(self):
        self.build.choices.get(part__family="ring").delete()
        self.client.post(self.url(f"plan/build/{self.build.pk}/drag/"), {"which": "all"})
        wanted = {c.kind: c for c in Choice.objects.filter(build=self.build, state="wanted")}
        self.assertEqual(set(wanted), {"ring", "other"})
        self.assertEqual(
            (wanted["ring"].quantity, wanted["ring"].part.supplier),
            (4, "Nook Lane Wheels"),
            "one of the list that fits is taken",
        )
        self.assertFalse(
            [row for row in dragged_along(self.file(), self.fresh()) if row.need.needed and row.choice is None]
        )
        again = self.client.post(self.url(f"plan/build/{self.build.pk}/drag/"), {"which": "all"}, follow=True)
        self.assertContains(again, "Nothing of that is missing any more")

    def test_have_it_is_off_the_bill(self):
        self.build.choices.get(part__family="ring").delete()
        before = sums(self.file(), self.fresh())
        key = f"ring:{self.rows()['ring'].need.name}"
        self.client.post(self.url(f"plan/build/{self.build.pk}/drag/"), {"which": key, "have": "1"})
        choice = Choice.objects.get(build=self.build, part__family="ring")
        self.assertEqual(choice.state, "have")
        self.assertEqual(sums(self.file(), self.fresh()).money, before.money)

    def test_studs_that_a_spacer_leaves_short(self):
        self.put("spacer 20 mm slip-on", "F", 2)
        stud = self.rows()["stud"]
        self.assertEqual((stud.position, stud.need.quantity, stud.need.spec["thread"]), ("F", 10, "M12x1.5"))
        # Pad 13, spacer 20, and 1.1 × 12 of thread: 46.2, whole millimetres.
        self.assertEqual(stud.need.spec["length_mm"], 47.0)
        self.client.post(self.url(f"plan/build/{self.build.pk}/drag/"), {"which": f"stud:{stud.need.name}"})
        part = Choice.objects.get(build=self.build, part__family="stud").part
        self.assertEqual(part.spec["thread"], "M12x1.5")

    def test_whatever_ends_with_an_alignment_drags_one_along(self):
        for code, place, value, wanted in (
            ("ride_drop_mm", "F", 30.0, True),
            ("camber_deg", "R", -2.0, True),
            ("rack_forward_mm", "", 26.0, True),
            ("crossmember", "", True, True),
            ("rack_limit_mm", "", 3.0, False),
            ("axle_ratio", "", 4.3, False),
        ):
            self.build.levers.all().delete()
            set_levers(self.build, {(code, place): value})
            names = {row.need.name for row in dragged_along(self.file(), self.fresh())}
            self.assertEqual("Alignment" in names, wanted, code)

    def test_calipers_drag_pads_and_fluid(self):
        self.put("calipers radius 150 face 9 left and right", "F")
        self.assertLessEqual(
            {"Brake fluid", "Brake pads for the caliper"},
            {row.need.name for row in dragged_along(self.file(), self.fresh())},
        )

    def test_without_hub_data_nothing_is_made_up(self):
        Axle.objects.filter(car=self.car).update(bore_mm=None, stud_length_mm=None, bolts=None)
        rows = self.rows()
        self.assertNotIn("ring", rows)
        self.assertNotIn("stud", rows)


class Used(InABuild):
    def state(self, choice, **said):
        return self.client.post(self.url(f"plan/part/{choice.pk}/"), {"what": "state", "on": "2026-11-20", **said})

    def test_sold_less_its_fees_and_returned_with_restocking(self):
        ring = self.build.choices.get(part__family="ring")
        before = sums(self.file(), self.fresh()).money.total_minor
        self.state(ring, state="sold", sold_minor="15", fees_minor="2")
        self.assertEqual(sums(self.file(), self.fresh()).money.total_minor, before - 1500 + 200)
        self.state(ring, state="returned", fees_minor="7")
        self.assertEqual(sums(self.file(), self.fresh()).money.total_minor, before - 2400 + 700)
        self.state(ring, state="shortlisted", fees_minor="7")
        ring.refresh_from_db()
        self.assertEqual(ring.fees_minor, 0)

    def test_what_it_is_worth_used_stands_beside_it(self):
        wheels = self.build.choices.get(part__family="wheel")
        page = self.client.get(self.url(f"plan/part/{wheels.pk}/"))
        self.assertEqual(page.context["used_minor"], round(wheels.price * FAMILIES["wheel"].used_share))

    def test_a_stale_quote_is_told_before_it_is_ordered(self):
        part = self.add("nuts M12x1.5 cone 60 class 10, set of 20, 20, Yard")
        put_part(self.fresh(), self.user, part, {"position": "A", "quantity": 1})
        self.assertNotContains(self.page("plan/"), "has expired")
        part.quotes.update(asked_on=timezone.localdate() - timedelta(days=31))
        self.assertContains(self.page("plan/"), "has expired: ask again")

    def test_a_family_without_a_figure_says_none(self):
        self.assertIsNone(FAMILIES["stud"].used_share)
        self.assertIsNotNone(replace(FAMILIES["stud"], used_share=0.1).used_share)
