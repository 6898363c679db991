"""The alignment sheet: read in degrees, millimetres and sweeps, learnt by a turn, turned by least squares.

Bad input in words.
"""

from garage.chassis.models import Adjuster
from garage.readings.models import Reading
from planner.models import Build
from planner.services import set_levers
from rimcore.registry import CALCULATIONS
from rimcore.steering.schools import ALIGNMENT_SCHOOLS
from shell.tests.base import ScenarioCase
from shell.undo import last_change, undo

HOW = {
    "form": "angles",
    "uncertainty": "0.1",
    "toe_uncertainty": "0.03",
    "sweep_deg": "20",
    "who": "Ina",
    "taken_on": "2026-11-20",
}
TURN = {"form": "turn", "turn-corner": "FR", "turn-name": "Tie rod", "turn-turns": "0.5"}


class Sheet(ScenarioCase):
    def send(self, data):
        return self.client.post(self.url("check/alignment/"), data)

    def read(self):
        return {
            (one.corner, one.code): one.value
            for one in reversed(
                Reading.objects.filter(car=self.car, code__in=("camber", "toe", "caster"), outfit=self.file().current)
            )
        }

    def test_degrees_millimetres_and_a_sweep(self):
        self.assertRedirects(
            self.send(
                HOW
                | {
                    "RL-camber": "-1.9",
                    "RR-camber": "-1°48'",
                    "RL-toe_mm": "1",
                    "RR-toe_mm": "0.5",
                    "over_mm": "420",
                    "FL-out": "-0.1",
                    "FL-in": "-3.8",
                }
            ),
            self.url("check/alignment/"),
        )
        read = self.read()
        answer = CALCULATIONS["alignment"].answer(
            {"wheels": {"RL": {"toe_mm": 1, "over_mm": 420}, "RR": {"toe_mm": 0.5, "over_mm": 420}}}
        )
        self.assertAlmostEqual(read[("RL", "toe")], answer["wheels"]["RL"]["toe_deg"], places=3)
        self.assertAlmostEqual(read[("RR", "camber")], -1.8, places=4)
        self.assertAlmostEqual(read[("FL", "caster")], 5.409, places=3)
        doubts = {one.code: one.uncertainty for one in Reading.objects.filter(car=self.car, taken_on="2026-11-20")}
        self.assertEqual((doubts["camber"], doubts["toe"]), (0.1, 0.03))
        self.assertAlmostEqual(doubts["caster"], 0.207, places=3, msg="resolution √2 ÷ (2 sin 20°)")
        thrust = {one.code: one for one in self.page("check/alignment/").context["judged"]}["align.thrust"]
        self.assertAlmostEqual(thrust.value, answer["thrust_deg"], places=3)
        undo(self.user, last_change(self.user).pk)
        self.assertNotIn(("RL", "toe"), self.read())

    def test_turns_are_those_of_the_command_line(self):
        self.send(TURN | {"turn-toe": "-0.03"})
        page = self.page("check/alignment/?school=street")
        read, wanted = self.read(), ALIGNMENT_SCHOOLS["street"].targets
        rows = {str(one): one for one in Adjuster.objects.filter(car=self.car)}
        self.assertAlmostEqual(rows["FR Tie rod"].effects["toe_deg"], (-0.03 - -0.21) / 0.5, places=5)
        answer = CALCULATIONS["alignment"].answer(
            {
                "wheels": {
                    corner: {"camber_deg": read[(corner, "camber")], "toe_deg": read[(corner, "toe")]}
                    for corner in ("FL", "FR")
                },
                "targets": {"FL": {"toe_deg": wanted[("F", "toe_deg")]}, "FR": {"toe_deg": wanted[("F", "toe_deg")]}},
                "adjusters": [
                    {"name": name, "effects": {f"{row.corner}.{angle}": value for angle, value in row.effects.items()}}
                    for name, row in rows.items()
                ],
            }
        )
        for one in page.context["adjusters"]:
            self.assertAlmostEqual(one["turns"], answer["turns"][str(one["row"])], places=6)

    def test_turns_chase_nothing_that_a_turn_was_not_seen_to_move(self):
        """A camber plate whose turn moved toe by less than the gauge tells: toe stays the tie rod's."""
        self.send(TURN | {"turn-name": "Camber plate", "turn-turns": "1", "turn-camber": "-1.6", "turn-toe": "-0.2"})
        row = next(
            one
            for one in self.page("check/alignment/?school=street").context["adjusters"]
            if "Camber plate" in str(one["row"])
        )
        self.assertEqual([(name, counts) for name, _, counts in row["effects"]], [("camber", True), ("toe", False)])
        self.assertLess(abs(row["turns"]), 2.0)

    def test_turns_stop_at_the_end_of_the_travel(self):
        self.send(TURN | {"turn-toe": "-0.03", "turn-turns_on": "0.1", "turn-turns_back": "3"})
        row = next(
            one for one in self.page("check/alignment/?school=street").context["adjusters"] if one["row"].corner == "FR"
        )
        self.assertAlmostEqual(row["turns"], 0.1, places=6)
        self.assertEqual(row["said"], "the end of its travel")
        self.send(TURN | {"turn-toe": "-0.01", "turn-turns": "0.1"})
        kept = Adjuster.objects.get(car=self.car, corner="FR")
        self.assertEqual((round(kept.turns_on, 6), round(kept.turns_back, 6)), (0.0, 3.1))

    def test_the_builds_camber_is_aimed_at_and_ones_own_before_it(self):
        build = Build.objects.get(car=self.car, in_hand=True)
        set_levers(build, {("camber_deg", "F"): -1.8})
        wanted = {one.code: one.reason for one in self.page("check/alignment/").context["judged"]}
        self.assertIn(f"−1.80° wanted by {build.name}", wanted["align.camber.FR"])
        aim = {"form": "targets", "aim-school": "grip", "aim-F-camber_deg": "-2°12'", "aim-R-toe_deg": "0.15"}
        self.assertEqual(self.send(aim).status_code, 302)
        page = self.page("check/alignment/")
        self.assertEqual(page.context["school"].key, "grip")
        self.assertIn(
            "−2.20° wanted as you set it", {one.code: one.reason for one in page.context["judged"]}["align.camber.FR"]
        )
        self.assertEqual(page.context["school"].targets["R", "toe_deg"], 0.15)
        self.assertEqual(self.send(aim | {"aim-F-camber_deg": "steep"}).status_code, 422)

    def test_a_school_is_picked_and_stays(self):
        self.assertEqual(self.send({"form": "school", "school": "drift"}).status_code, 302)
        self.assertEqual(self.page("check/alignment/").context["school"].key, "drift")

    def test_the_cambers_of_a_sweep_are_readings(self):
        self.send(HOW | {"FL-out": "-0.1", "FL-in": "-3.8"})
        kept = {one.code: one for one in Reading.objects.filter(car=self.car, corner="FL", taken_on="2026-11-20")}
        self.assertEqual((kept["camber_out"].value, kept["camber_out"].steer_deg), (-0.1, 20.0))
        self.assertEqual((kept["camber_in"].value, kept["camber_in"].steer_deg), (-3.8, -20.0))
        self.assertContains(self.page("measure/FL/"), "Camber, front edge outboard")

    def test_what_was_learnt_is_undone_whole(self):
        before = self.read()
        self.send(TURN | {"turn-toe": "0"})
        self.assertEqual(self.read()[("FR", "toe")], 0.0)
        undo(self.user, last_change(self.user).pk)
        self.assertEqual(self.read(), before)
        self.assertFalse(Adjuster.objects.filter(corner="FR").exists())

    def test_an_adjuster_goes_off_the_sheet(self):
        row = Adjuster.objects.get(car=self.car)
        self.client.post(self.url(f"check/alignment/{row.pk}/drop/"))
        self.assertContains(self.page("check/alignment/"), "No adjuster is calibrated yet")
        self.client.force_login(self.person())
        self.assertEqual(self.client.post(self.url(f"check/alignment/{row.pk}/drop/")).status_code, 404)

    def test_schools_side_by_side_want_other_things(self):
        states = {}
        for key, school in ALIGNMENT_SCHOOLS.items():
            page = self.page(f"check/alignment/?school={key}")
            self.assertContains(page, school.costs)
            states[key] = {one.code: one.state for one in page.context["judged"]}["align.toe.FR"]
        self.assertEqual(states, {"street": "hit", "life": "hit", "grip": "tight", "drift": "clear", "look": "tight"})

    def test_what_was_not_read_is_unmeasured(self):
        states = {one.code: one.state for one in self.page("check/alignment/").context["judged"]}
        self.assertEqual(
            {states[code] for code in ("align.thrust", "align.toe.RL", "align.caster.FL", "align.even.R")},
            {"unmeasured"},
        )

    def test_bad_input_in_words_and_nothing_is_kept(self):
        before = Reading.objects.count()
        for change, words in (
            ({}, "Nothing was typed"),
            ({"FL-camber": "much"}, "much"),
            ({"FL-toe": "0.1", "FL-toe_mm": "1", "over_mm": "400"}, "given twice"),
            ({"FL-toe_mm": "1"}, "the length that toe in mm is read over"),
            ({"FL-toe_mm": "90", "over_mm": "80"}, "more than the length"),
            ({"FL-out": "-0.1"}, "a sweep has both cambers"),
            ({"FL-out": "-0.1", "FL-in": "-3.8", "sweep_deg": "0"}, "Out of range"),
            ({"FL-out": "19", "FL-in": "-19"}, "give a caster of"),
            ({"FL-camber": "-1", "taken_on": "2126-01-01"}, "has not come yet"),
        ):
            with self.subTest(change):
                self.assertContains(self.send(HOW | change), words, status_code=422)
        for change, words in (
            ({"turn-turns": "0", "turn-toe": "0"}, "teaches nothing"),
            ({}, "at least one angle"),
            ({"turn-corner": "RL", "turn-toe": "0"}, "not read before the turn"),
            ({"turn-name": "", "turn-toe": "0"}, "required"),
        ):
            with self.subTest(change):
                self.assertContains(self.send(TURN | change), words, status_code=422)
        self.assertEqual(Reading.objects.count(), before)
