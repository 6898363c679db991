"""Help: a page a bench and a kind of work, searched; a guided first time that leads on and can be left."""

from html import unescape

from django.contrib.auth import get_user_model
from django.test import TestCase

from manual.views import found
from rimcore.benches import BENCHES
from rimcore.guides import GUIDES
from rimcore.help_benches import HELPS
from rimcore.help_works import WORKS
from rimcore.registry import CALCULATIONS
from shell.guided import address_of
from shell.tests.base import ScenarioCase, shown


class Whole(TestCase):
    def setUp(self):
        self.client.force_login(get_user_model().objects.create_user("reader", password="a long one of theirs"))

    def test_every_bench_and_eighteen_kinds_of_work_have_a_page(self):
        self.assertEqual(set(HELPS), set(BENCHES))
        self.assertEqual(len(WORKS), 18)

    def test_a_page_of_a_bench_says_what_the_command_line_says(self):
        for key, one in HELPS.items():
            text = shown(unescape(self.client.get(f"/help/bench/{key}/").content.decode())).lower()
            for calculation in one.calculations:
                self.assertIn(calculation.source.lower(), text, key)
            for line in (*one.leaves_out, one.cautions):
                self.assertIn(line.lower(), text, key)

    def test_examples_are_reckoned_by_the_core(self):
        for key, one in HELPS.items():
            for example in one.examples:
                answer = CALCULATIONS[example.calculation].answer(dict(example.given))
                self.assertIn(example.calculation, one.bench.calculations + ("swap",), key)
                for (_, _, value, _), name in zip(example.rows, example.shows, strict=True):
                    self.assertEqual(value, answer[name])

    def test_a_kind_of_work_shows_its_own_steps_and_cautions(self):
        page = self.client.get("/help/work/coilovers/")
        self.assertContains(page, "preload")
        self.assertContains(page, "lethal energy")
        self.assertNotContains(page, "exhaust")
        for key, one in WORKS.items():
            self.assertEqual(self.client.get(f"/help/work/{key}/").status_code, 200)
            self.assertTrue(one.benches and one.choices and one.dangers and one.measured and len(one.steps) > 4, key)

    def test_search_and_what_is_not_there(self):
        self.assertIn(("work", "radiator", "Radiator and bleed"), found("bleed hoses"))
        self.assertIn(("bench", "gearing", "Gearing"), found("axle ratio speed"))
        self.assertContains(self.client.get("/help/", {"q": "zzz"}), "Nothing says that")
        self.assertContains(self.client.get("/help/", {"q": "<b>"}), "&lt;b&gt;")
        for address in ("/help/bench/none/", "/help/work/none/"):
            self.assertEqual(self.client.get(address).status_code, 404)


class Guided(ScenarioCase):
    def test_every_page_of_every_guide_is_there_and_has_the_bar(self):
        for key, guide in GUIDES.items():
            for place, leg in enumerate(guide.legs):
                self.assertRedirects(
                    self.client.get(self.url(f"guide/{key}/?leg={place}")),
                    address_of(self.car.pk, leg),
                    fetch_redirect_response=False,
                )
                page = self.client.get(address_of(self.car.pk, leg), follow=True)
                self.assertContains(page, f"page {place + 1} of {len(guide.legs)}")

    def test_it_is_of_its_car_and_can_be_left(self):
        self.client.get(self.url("guide/lower/"))
        self.assertContains(self.page("plan/"), "Back to this page of the guide")
        self.assertNotContains(self.client.get("/"), "guide-bar")
        self.client.post("/guide/leave/")
        self.assertNotContains(self.page("plan/"), "guide-bar")

    def test_bad_addresses(self):
        for rest in ("guide/none/", "guide/lower/?leg=99", "guide/lower/?leg=99999999"):
            self.assertEqual(self.client.get(self.url(rest)).status_code, 404, rest)
        session = self.client.session
        for odd in (
            "x",
            {"key": "lower", "car": self.car.pk, "leg": "2"},
            {"key": "gone", "car": self.car.pk, "leg": 0},
        ):
            session["guide"] = odd
            session.save()
            self.assertNotContains(self.page("plan/"), "guide-bar")
