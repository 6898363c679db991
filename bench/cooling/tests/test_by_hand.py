"""A bleed watched by hand: one reading at a time, lines of paper, the judge of a logger's file, the person's unit."""

from django.contrib.auth import get_user_model

from garage.logs.models import Log
from garage.person.models import Preferences
from gauges import streams
from rimcore.cooling.bleed import judge_bleed
from shell.tests.base import ScenarioCase


class ByHand(ScenarioCase):
    def send(self, **values):
        return self.client.post(self.url("check/cooling/by-hand/"), values)

    def lines(self, every_s=20.0):
        """The simulated run that bleeds, as somebody would write it on paper, a line every so many seconds."""
        rows = streams.bleed_rows(streams.RUNS["bleeds"], 3, streams.RUNS["bleeds"].long_s)
        kept, last = [], -every_s
        for t, top, lower, coolant in rows:
            if t - last >= every_s and top is not None and lower is not None:
                kept.append((t, round(top), round(lower), round(coolant)))
                last = t
        return kept

    def test_the_same_judge_as_of_a_file(self):
        rows = self.lines()
        text = "\n".join(f"{int(t // 60)}:{int(t % 60):02d} {top} {lower} {gauge}" for t, top, lower, gauge in rows)
        self.send(lines=text + "\n")
        log = Log.objects.get(kind="bleed", asked__by_hand=True)
        wanted = judge_bleed(
            [float(int(t)) for t, *_ in rows],
            [one[1] for one in rows],
            [one[2] for one in rows],
            boil_c=1000.0,
            coolant_c=[one[3] for one in rows],
        )
        self.assertEqual((log.found["state"], log.found["settled"]), (wanted.state, wanted.settled))
        self.assertTrue(wanted.settled)
        self.send(what="end")
        page = self.page("check/cooling/")
        judged = {one.code: one for one in page.context["judged"]}["cooling.bleed"]
        self.assertEqual(judged.state, "clear")
        self.assertContains(page, "Watch a bleed by hand")

    def test_one_reading_at_a_time_with_fan_and_level(self):
        self.assertContains(self.page("check/cooling/by-hand/"), "not begun")
        self.send(time="0", top_c="20", lower_c="20")
        self.send(time="3:30", top_c="78", lower_c="", coolant_c="84", fan="on", level="falls")
        page = self.page("check/cooling/by-hand/")
        self.assertContains(page, "3:30")
        self.assertContains(page, "running")
        self.assertContains(page, "falls")
        rows = Log.objects.get(asked__by_hand=True).asked["seen"]
        self.assertEqual([(row["t_s"], row["lower_c"]) for row in rows], [(0.0, 20.0), (210.0, None)])

    def test_a_reading_of_the_same_time_stands_in_the_place_of_the_old_one(self):
        self.send(time="1", top_c="30")
        self.send(time="1", top_c="33")
        self.assertEqual([row["top_c"] for row in Log.objects.get(asked__by_hand=True).asked["seen"]], [33.0])

    def test_bare_figures_are_in_the_persons_unit(self):
        Preferences.objects.update_or_create(user=self.user, defaults={"temperature_unit": "°F"})
        self.send(time="1", top_c="122", lines="2 140 68")
        rows = Log.objects.get(asked__by_hand=True).asked["seen"]
        self.assertEqual([round(row["top_c"], 3) for row in rows], [50.0, 60.0])

    def test_bad_input_is_told_and_stays_and_nothing_is_kept(self):
        for values, words in (
            ({"time": "soon", "top_c": "40"}, "is no time"),
            ({"time": "1"}, "one temperature at least"),
            ({"time": "1", "top_c": "900"}, "accepted"),
            ({"lines": "1 40 41 42 43"}, "more than three temperatures"),
            ({"lines": "1 fan on"}, "no temperature"),
            ({"lines": "\n".join(f"{k / 10} 40" for k in range(500))}, "up to 400 readings"),
        ):
            with self.subTest(values):
                page = self.send(**values)
                self.assertContains(page, words, status_code=422)
                self.assertFalse(Log.objects.filter(asked__by_hand=True).exists())

    def test_a_stranger_sees_nothing_of_it(self):
        self.send(time="1", top_c="30")
        self.client.force_login(get_user_model().objects.create_user("stranger", password="a long one of theirs"))
        self.assertEqual(self.client.get(self.url("check/cooling/by-hand/")).status_code, 404)
