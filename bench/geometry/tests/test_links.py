"""Geometry and steering on the pages.

Figures are the core's, states are never clear without readings, levers flow into the build.
"""

from garage.car.models import Axle, Car
from garage.chassis.models import HardPoint, Rack
from garage.readings.models import Reading
from planner.changes import plan_of
from planner.models import Build
from rimcore.families import FAMILIES
from rimcore.quantities.judgement import Judgement
from rimcore.registry import CALCULATIONS
from rimcore.work.jobsheet import job_sheet, modules_of
from shell.tests.base import ScenarioCase


def states(judged):
    return {one.code: one.state for one in judged}


def plan_of_job(file, build):
    """Steps of a sheet for a build, as they would be composed."""
    plan = plan_of(file, build)
    return job_sheet(plan, list(modules_of(plan, {key: family.modules for key, family in FAMILIES.items()})))


class Geometry(ScenarioCase):
    def test_the_curves_are_those_of_the_command_line(self):
        page = self.page("check/geometry/?corner=FL")
        found = page.context["found"]
        points = found.before.hard_points()
        answer = CALCULATIONS["kinematics"].answer(
            {
                "kind": "strut",
                "points_mm": {name: list(point) for name, point in points.points.items()},
                "half_track_mm": points.half_track_mm,
                "wheel": {"centre_y_mm": points.wheel.centre_y_mm, "radius_mm": points.wheel.radius_mm},
                "static": {"camber_deg": points.wheel.camber_deg, "toe_deg": points.wheel.toe_deg},
                "travel_mm": list(found.travel_mm),
            }
        )
        for row, pose in zip(page.context["rows"], answer["poses"], strict=True):
            for (cell, _, _), name in zip(
                row["cells"], ("camber_deg", "toe_deg", "caster_deg", "roll_centre_mm", "track_shift_mm"), strict=True
            ):
                self.assertAlmostEqual(cell["value"], pose[name], places=6)
                self.assertGreaterEqual(cell["doubt"], 0)

    def test_angles_at_rest_are_those_that_were_read(self):
        wheel = self.page("check/geometry/?corner=FL").context["found"].before.hard_points().wheel
        self.assertEqual((wheel.camber_deg, wheel.toe_deg), (-1.3, 0.23))
        Reading.objects.filter(car=self.car, code="toe").delete()
        self.assertContains(self.page("check/geometry/?corner=FL"), "Not read at rest: toe")

    def test_the_band_is_there_and_what_to_read_again(self):
        page = self.page("check/geometry/")
        self.assertEqual(
            [one.name for one in page.context["charts"]],
            [f"{one}, over mm" for one in ("Camber", "Toe, in is plus", "Caster", "Roll centre above the ground")],
        )
        self.assertTrue(all(one.band for one in page.context["charts"]))
        self.assertEqual(page.context["again"][0][0], "tie rod, inner joint")

    def test_the_height_of_the_build_is_marked(self):
        page = self.page("check/geometry/")
        drop = Build.objects.get(car=self.car, in_hand=True).lever("ride_drop_mm", "F")
        self.assertEqual(page.context["found"].at_mm, drop)
        self.assertEqual([row["travel"] for row in page.context["rows"] if row["here"]], [drop])

    def test_unread_mirrored_and_read_are_told_apart(self):
        found = {one.reason.split(":")[0]: one for one in self.page("check/geometry/").context["judged"]}
        self.assertIn("front left", found)
        right = states(self.page("check/geometry/?corner=FR").context["judged"])
        self.assertNotIn("clear", right.values())
        HardPoint.objects.filter(car=self.car, corner="FL", name="rod_inner").delete()
        page = self.page("check/geometry/?corner=FL")
        self.assertEqual(set(states(page.context["judged"]).values()), {"unmeasured"})
        self.assertContains(page, "1 point not read")
        HardPoint.objects.filter(car=self.car).delete()
        self.assertContains(self.page("check/geometry/"), "not all read")

    def test_toe_read_with_the_wheel_raised_stands_beside_what_the_links_say(self):
        """A plate is a measurement of its own: it needs no points, and one that was raised by nothing says nothing."""
        HardPoint.objects.filter(car=self.car).delete()
        how = {
            "car": self.car,
            "outfit": self.file().current,
            "corner": "FR",
            "code": "toe_bump",
            "typed": "0.4",
            "uncertainty": 0.05,
            "method": "string",
        }
        one = Reading.objects.create(values=[0.4], where={"travel_mm": 0.0}, **how)
        self.assertNotIn("geometry.bump_steer_read", states(self.page("check/geometry/?corner=FR").context["judged"]))
        one.where = {"travel_mm": 40.0}
        one.save()
        judged = {j.code: j for j in self.page("check/geometry/?corner=FR").context["judged"]}
        self.assertEqual(judged["geometry.bump_steer_read"].state, "hit")
        self.assertAlmostEqual(judged["geometry.bump_steer_read"].value, 0.25)
        self.assertEqual(judged["geometry.bump_steer"].state, "unmeasured")

    def test_points_that_can_not_be_assembled_are_told(self):
        outer = HardPoint.objects.filter(car=self.car, corner="FL", name="rod_outer").first()
        HardPoint.objects.filter(car=self.car, corner="FL", name="rod_inner").update(
            across_mm=outer.across_mm, ahead_mm=outer.ahead_mm, up_mm=outer.up_mm
        )
        page = self.page("check/geometry/?corner=FL")
        self.assertContains(page, "can't be assembled")
        self.assertEqual(set(states(page.context["judged"]).values()), {"unmeasured"})
        self.assertContains(self.page("check/steering/"), "Steering")

    def test_a_suspension_without_links(self):
        Axle.objects.filter(car=self.car, end="F").update(suspension="beam")
        self.assertContains(self.page("check/geometry/?corner=FL"), "no links that are followed here")


class Steering(ScenarioCase):
    """On the roadster: over centre as it was read, tight with the rack 26 mm forward, clear at 36 mm."""

    def setUp(self):
        super().setUp()
        self.car = Car.objects.get(owner=self.user, nickname__startswith="Gannel")

    def verdict(self, rest="") -> Judgement:
        return self.page(f"check/steering/{rest}").context["verdict"]

    def test_moving_the_rack_cures_it(self):
        for forward, state in ((0, "hit"), (26, "tight"), (36, "clear")):
            self.assertEqual(self.verdict(f"?rack_forward_mm={forward}").state, state, forward)
        self.assertContains(self.page("check/steering/?rack_forward_mm=0"), "inside the rack")
        self.assertContains(self.page("check/steering/?rack_forward_mm=36"), "past the lock")

    def test_figures_are_those_of_the_command_line(self):
        page = self.page("check/steering/?rack=-40")
        both = page.context["steer"].axle

        def corner(points):
            return {
                "kind": "wishbone",
                "points_mm": {name: list(point) for name, point in points.points.items()},
                "wheel": {"centre_y_mm": points.wheel.centre_y_mm, "radius_mm": points.wheel.radius_mm},
                "static": {"camber_deg": points.wheel.camber_deg},
            }

        answer = CALCULATIONS["steering"].answer(
            {
                "left": corner(both.left),
                "right": corner(both.right),
                "rack_mm": [-40],
                "wheelbase_mm": 2310,
                "kingpin_track_mm": both.kingpin_track_mm,
            }
        )
        for name, value in page.context["spot"].items():
            self.assertAlmostEqual(value, answer["poses"][0][name], places=6)

    def test_a_limiter_shortens_the_rack(self):
        page = self.page("check/steering/?rack_limit_mm=6&rack=66")
        self.assertEqual((page.context["end"], page.context["rack"]), (60.0, 60.0))
        self.assertEqual(page.context["verdict"].state, "clear")

    def test_the_fragment_is_the_sheet_alone(self):
        fragment = self.fragment("check/steering/?rack=10")
        self.assertContains(fragment, 'id="steer-sheet"')
        self.assertNotContains(fragment, "<html")

    def test_what_is_tried_goes_into_the_build_and_onto_its_sheet(self):
        self.assertNotContains(self.page("check/steering/"), "Put it into")
        self.assertContains(self.page("check/steering/?rack_forward_mm=36"), "Put it into Sprint fifteens")
        answer = self.client.post(
            self.url("check/steering/"),
            {"form": "levers", "rack_forward_mm": "36", "rack_up_mm": "0", "rack_limit_mm": "2"},
            follow=True,
        )
        self.assertContains(answer, "rack as tried")
        build = Build.objects.get(car=self.car)
        self.assertEqual(
            [build.lever(code) for code in ("rack_forward_mm", "rack_up_mm", "rack_limit_mm")], [36.0, 0.0, 2.0]
        )
        steps = [step.title for step in plan_of_job(self.file(), build)]
        for words in ("Rack centred", "Shaft clamp bolt", "rod cut or set", "Lock limiters", "Full lock both ways"):
            self.assertTrue(any(words in title for title in steps), words)

    def test_bad_input_is_told_and_nothing_is_lost(self):
        for wrong, words in (
            ({"travel_mm": "far"}, "far"),
            ({"travel_mm": "200"}, "Out of range"),
            ({"turns": "0"}, "greater than"),
        ):
            answer = self.client.post(
                self.url("check/steering/"), {"form": "rack", "travel_mm": "61", "left_stick_out_mm": "19.5", **wrong}
            )
            self.assertContains(answer, words, status_code=422)
            self.assertContains(answer, 'value="19.5"', status_code=422)
        self.assertEqual(Rack.objects.get(car=self.car).travel_mm, 66.0)
        answer = self.page("check/steering/?rack_forward_mm=400", 422)
        self.assertContains(answer, "100 mm", status_code=422)
        self.assertContains(answer, 'value="400"', status_code=422)
        answer = self.client.post(
            self.url("check/steering/"), {"form": "levers", "rack_forward_mm": "400"}, follow=True
        )
        self.assertContains(answer, "Not put into the build")

    def test_never_clear_without_travel_or_with_one_side_mirrored(self):
        self.assertEqual(self.verdict("?rack_forward_mm=36").state, "clear")
        HardPoint.objects.filter(car=self.car, corner="FR").delete()
        found = self.verdict("?rack_forward_mm=36")
        self.assertEqual(found.state, "unmeasured")
        self.assertIn("only mirrored", found.reason)
        Rack.objects.filter(car=self.car).update(travel_mm=None)
        self.assertIn("not measured", self.verdict("?rack_forward_mm=36").reason)

    def test_a_rack_that_is_not_centred_is_a_hit(self):
        judged = {one.code: one for one in self.page("check/steering/").context["judged"]}
        self.assertEqual(judged["steer.centre"].state, "hit")
        self.assertIn("1.25 mm to the right", judged["steer.centre"].reason)
        Rack.objects.filter(car=self.car).update(right_stick_out_mm=None)
        judged = {one.code: one for one in self.page("check/steering/").context["judged"]}
        self.assertEqual(judged["steer.centre"].state, "unmeasured")

    def test_without_points_it_says_what_to_read(self):
        HardPoint.objects.filter(car=self.car).delete()
        page = self.page("check/steering/")
        self.assertContains(page, "9 hard points of the front left corner")
        self.assertEqual(states(page.context["judged"])["steer.toggle"], "unmeasured")
        Car.objects.filter(pk=self.car.pk).update(wheelbase_mm=None)
        self.assertContains(self.page("check/steering/"), "the wheelbase")
