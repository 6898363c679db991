"""The floor sheet of hard points: kept whole, corrected, mirrored, undone; bad input in words with nothing lost."""

from demo.stable import ROADSTER_POINTS
from garage.car.models import Axle, Car
from garage.chassis.links import points_of, read_of
from garage.chassis.models import HardPoint, Rack
from rimcore.ride.plumb import wanted
from shell.tests.base import ScenarioCase
from shell.undo import last_change, undo


class Sheet(ScenarioCase):
    """On the roadster, whose front has double wishbones; its own points are taken away first."""

    def setUp(self):
        super().setUp()
        self.car = Car.objects.get(owner=self.user, nickname__startswith="Gannel")
        HardPoint.objects.filter(car=self.car).delete()

    def typed(self, **change):
        rows = {
            f"{name}-{axis}": f"{value}"
            for name, point in ROADSTER_POINTS.items()
            for axis, value in zip(("across", "ahead", "up"), point, strict=True)
            if not (name == "hub" and axis == "ahead")
        }
        return rows | {"uncertainty_mm": "2", "who": "Ina", "taken_on": "2026-11-01"} | change

    def send(self, data, corner="FL"):
        return self.client.post(self.url(f"measure/{corner}/points/"), data)

    def known(self, corner="FL"):
        return points_of(self.file(), corner)

    def test_kept_in_the_order_of_crawling_and_carried_into_the_corner(self):
        page = self.page("measure/FL/points/")
        self.assertEqual(
            [row["name"] for row in page.context["form"].rows][:3],
            ["hub, middle of the mounting face", "lower ball joint", "tie rod, outer joint"],
        )
        self.assertContains(page, "9 of 9 to read")
        self.assertRedirects(self.send(self.typed()), self.url("measure/FL/points/"))
        self.assertEqual(set(self.known()), set(wanted("wishbone")))
        found = read_of(self.file(), "FL").hard_points()
        self.assertEqual(found.points["rod_outer"], (-104.0, -89.0, -78.0))
        self.assertEqual((found.wheel.centre_y_mm, found.wheel.radius_mm), (-40.0, 297.0))
        self.assertEqual(found.half_track_mm, 721.0)
        self.assertContains(self.page("measure/FL/points/"), "All 9 read")

    def test_some_rows_now_and_the_rest_later(self):
        some = {name: value for name, value in self.typed().items() if not name.startswith(("upper", "lower_rear"))}
        self.send(some)
        self.assertEqual(len(self.known()), 5)
        self.assertContains(self.page("measure/FL/points/"), "4 of 9 to read")
        self.assertContains(self.page("measure/FL/"), "5 of 9 read")

    def test_inches_are_read_and_the_mounting_face_may_be_the_start(self):
        self.send(self.typed(**{"rod_inner-across": "17 in", "from_face": "on"}))
        found = read_of(self.file(), "FL").hard_points()
        self.assertAlmostEqual(found.points["rod_inner"][1], -17 * 25.4)
        self.assertIsNone(found.half_track_mm)

    def test_a_correction_stands_over_the_older_one_and_is_undone(self):
        self.send(self.typed())
        self.send(self.typed(**{"rod_inner-up": "230"}))
        self.assertEqual(HardPoint.objects.filter(car=self.car, corner="FL").count(), 10)
        self.assertEqual(self.known()["rod_inner"].up_mm, 230)
        undo(self.user, last_change(self.user).pk)
        self.assertEqual(self.known()["rod_inner"].up_mm, 226)

    def test_refused_in_words_and_nothing_is_kept_or_lost(self):
        cases = (
            ({"rod_inner-up": ""}, "a point has 3 figures, or none"),
            ({"hub-up": ""}, "a point has 2 figures, or none"),
            ({"rod_inner-up": "high"}, "high"),
            ({"rod_inner-up": "-5"}, "accepted: 0"),
            ({"rod_inner-across": "9 m"}, "Out of range"),
            ({"uncertainty_mm": "0"}, "Out of range"),
            ({"taken_on": "2126-01-01"}, "has not come yet"),
            ({"rod_inner-across": "672", "rod_inner-ahead": "-104", "rod_inner-up": "219"}, "can&#x27;t be assembled"),
            ({"lower_joint-across": "352", "lower_joint-ahead": "0", "lower_joint-up": "183.5"}, None),
        )
        for change, words in cases:
            answer = self.send(self.typed(**change))
            if words is None:
                continue
            with self.subTest(change):
                self.assertContains(answer, words, status_code=422)
                self.assertContains(answer, 'value="672"', status_code=422)
                self.assertFalse(self.known())
        self.assertContains(
            self.send({"uncertainty_mm": "2", "taken_on": "2026-11-01"}), "Nothing was typed", status_code=422
        )

    def test_the_other_side_is_taken_over_and_marked(self):
        self.assertContains(
            self.client.post(self.url("measure/FL/points/mirror/"), follow=True), "No point is read here yet"
        )
        self.send(self.typed())
        self.client.post(self.url("measure/FL/points/mirror/"))
        self.assertTrue(all(point.mirrored for point in self.known("FR").values()))
        self.assertContains(self.page("check/geometry/?corner=FR"), "taken over from the other side")
        self.send(self.typed(**{"rod_inner-across": "334"}), "FR")
        self.assertFalse(any(point.mirrored for point in self.known("FR").values()))

    def test_a_live_axle_has_no_links_here(self):
        Axle.objects.filter(car=self.car, end="R").update(suspension="live")
        self.assertContains(self.page("measure/RL/points/"), "no links that are followed here")
        self.assertNotContains(self.page("measure/RL/"), "Hard points of the links")

    def test_only_ones_own(self):
        self.client.force_login(self.person())
        self.assertEqual(self.client.get(self.url("measure/FL/points/")).status_code, 404)
        self.assertEqual(self.client.post(self.url("measure/FL/points/mirror/")).status_code, 404)
        self.assertEqual(self.client.post(self.url("check/steering/"), {"form": "rack"}).status_code, 404)

    def test_corners_that_are_none(self):
        self.page("measure/XX/points/", 404)
        self.page("check/geometry/?corner=XX", 404)


class Kept(ScenarioCase):
    def test_a_rack_is_kept_and_undone(self):
        self.client.post(self.url("check/steering/"), {"form": "rack", "travel_mm": "60", "turns": "2.75"})
        kept = Rack.objects.get(car=self.car)
        self.assertEqual((kept.travel_mm, kept.turns), (60.0, 2.75))
        undo(self.user, last_change(self.user).pk)
        self.assertEqual(Rack.objects.get(car=self.car).travel_mm, 62.0)
