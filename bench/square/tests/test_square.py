"""The frame on the page: judged as the command line does, nudged until square, bad input in words."""

from garage.chassis.models import FrameMarks
from rimcore.registry import CALCULATIONS
from shell.tests.base import ScenarioCase
from shell.undo import last_change, undo

MARKS = {
    "what": "front subframe",
    "front_mm": "700",
    "rear_mm": "640",
    "left_mm": "900",
    "right_mm": "900",
    "left_to_right_mm": "1122",
    "right_to_left_mm": "1128",
    "who": "Ina",
    "taken_on": "2026-11-12",
}


class Square(ScenarioCase):
    def send(self, **change):
        return self.client.post(self.url("check/square/"), MARKS | change)

    def test_unmeasured_until_it_is_read(self):
        self.assertContains(self.page("check/square/"), "No marks are read")
        self.assertContains(self.page("check/square/"), "1 of 1 unmeasured")

    def test_judged_as_the_command_line_does(self):
        self.assertRedirects(self.send(), self.url("check/square/"))
        page = self.page("check/square/")
        answer = CALCULATIONS["square"].answer(
            {
                "left_mm": 900,
                "right_mm": 900,
                "front_mm": 700,
                "rear_mm": 640,
                "front_left_to_rear_right_mm": 1122,
                "front_right_to_rear_left_mm": 1128,
            }
        )
        self.assertEqual(
            [one.state for one in page.context["judged"]], [answer["sides"]["state"], answer["diagonals"]["state"]]
        )
        self.assertAlmostEqual(page.context["frame"].rear_stands_left_mm, answer["rear_stands_left_mm"], places=6)
        self.assertContains(page, answer["move"][1:])

    def test_nudged_and_read_again(self):
        self.send()
        self.send(left_to_right_mm="1121.2", right_to_left_mm="1122")
        page = self.page("check/square/")
        self.assertEqual({one.state for one in page.context["judged"]}, {"clear"})
        self.assertEqual(len(page.context["history"]), 1)
        undo(self.user, last_change(self.user).pk)
        self.assertEqual(FrameMarks.objects.filter(car=self.car).count(), 1)

    def test_inches_as_people_write_them(self):
        self.send(left_mm="35 7/16 in")
        self.assertAlmostEqual(FrameMarks.objects.get(car=self.car).left_mm, 35.4375 * 25.4)

    def test_bad_input_in_words_nothing_kept_or_lost(self):
        for change, words in (
            ({"left_to_right_mm": "1700"}, "can&#x27;t close"),
            ({"rear_mm": "wide"}, "wide"),
            ({"rear_mm": ""}, "required"),
            ({"front_mm": "2"}, "Out of range"),
            ({"taken_on": "2126-01-01"}, "has not come yet"),
        ):
            answer = self.send(**change)
            self.assertContains(answer, words, status_code=422)
            self.assertContains(answer, "front subframe", status_code=422)
        self.assertFalse(FrameMarks.objects.exists())


class Beside(ScenarioCase):
    """A bolt that leans into the frame: both ends tried, again before the weld, each corner for itself."""

    TRIAL = {
        "form": "beside",
        "beside-what": "Toe link bolt",
        "beside-corner": "RL",
        "beside-bump_mm": "3",
        "beside-droop_mm": "9",
        "beside-plate_mm": "2",
        "beside-taken_on": "2026-11-20",
    }

    def rooms(self):
        return {one.where: one for one in self.page("check/square/").context["trials"]}

    def test_marked_taken_away_and_tried_again(self):
        self.client.post(self.url("check/square/"), self.TRIAL)
        self.assertEqual(self.rooms()["rear left"].state, "tight")
        self.assertIn("4.0 mm have to come away", self.rooms()["rear left"].reason)
        self.client.post(self.url("check/square/"), self.TRIAL | {"beside-bump_mm": "9/32 in", "beside-again": "on"})
        self.assertEqual(self.rooms()["rear left"].state, "clear")

    def test_bad_input_in_words(self):
        for change, words in (
            ({"beside-bump_mm": "", "beside-droop_mm": ""}, "Nothing was tried"),
            ({"beside-bump_mm": "near"}, "accepted"),
            ({"beside-what": ""}, "required"),
        ):
            self.assertContains(
                self.client.post(self.url("check/square/"), self.TRIAL | change), words, status_code=422
            )
        self.assertEqual(self.rooms(), {})
