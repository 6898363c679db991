"""Gauges on the pages: what they show fills the form and names its source; faults in words; files replayed.

Nothing kept by itself.
"""

from django.core.files.uploadedfile import SimpleUploadedFile

from garage.readings.models import Reading
from shell.tests.base import ScenarioCase

HEAD = "t_s,FL,FR,RL,RR\n"


def file_of(rows, name="pads.csv"):
    text = HEAD + "".join(f"{k / 5},{','.join(str(one) for one in row)}\n" for k, row in enumerate(rows))
    return SimpleUploadedFile(name, text.encode(), "text/csv")


class Pads(ScenarioCase):
    def test_what_they_show_fills_the_form_and_nothing_is_kept(self):
        before = Reading.objects.count()
        page = self.client.get(self.url("check/weights/"), {"gauge": "pads"})
        initial = page.context["pads"].initial
        self.assertAlmostEqual(initial["FL"], 410, delta=3)
        self.assertEqual(initial["who"], "Four pads (simulation)")
        self.assertContains(page, "Four pads (simulation)")
        self.assertEqual(Reading.objects.count(), before)

    def test_a_reading_from_a_gauge_is_stored_like_a_typed_one_and_says_whose_it_is(self):
        initial = self.client.get(self.url("check/weights/"), {"gauge": "pads"}).context["pads"].initial
        data = {
            "form": "pads",
            **{corner: str(initial[corner]) for corner in ("FL", "FR", "RL", "RR")},
            "uncertainty": "0.5",
            "who": initial["who"],
            "taken_on": "2026-11-20",
        }
        self.assertRedirects(self.client.post(self.url("check/weights/"), data), self.url("check/weights/"))
        kept = Reading.objects.filter(car=self.car, code="corner_mass").order_by("-id").first()
        self.assertEqual(kept.who, "Four pads (simulation)")

    def test_pads_that_were_not_zeroed_are_told(self):
        self.assertContains(self.client.get(self.url("check/weights/"), {"gauge": "pads_unzeroed"}), "was not zeroed")

    def test_as_if_turned_the_cross_weight_is_even(self):
        initial = self.client.get(self.url("check/weights/"), {"gauge": "pads", "turned": "1"}).context["pads"].initial
        total = sum(initial[corner] for corner in ("FL", "FR", "RL", "RR"))
        self.assertAlmostEqual(100 * (initial["FR"] + initial["RL"]) / total, 50, delta=0.4)

    def test_a_file_is_replayed(self):
        rows = [(0, 0, 0, 0)] * 10 + [(401.5, 398, 240, 237)] * 40
        page = self.client.post(self.url("check/weights/"), {"form": "replay", "file": file_of(rows)})
        self.assertEqual(
            (page.context["pads"].initial["FL"], page.context["taken"].source), (401.5, "replayed from a file")
        )

    def test_bad_files_are_told_what_is_accepted(self):
        for upload, words in (
            (SimpleUploadedFile("a.csv", b"t_s,FL\n0,1\n"), "lacks FR"),
            (SimpleUploadedFile("a.csv", b"\xff\xfe\x00"), "no text"),
            (file_of([(1, 2, 3, 4)]), "two rows"),
            (SimpleUploadedFile("a.csv", b"x" * 1_000_001), "over 1 MB"),
            (SimpleUploadedFile("a.csv", b""), "empty"),
        ):
            page = self.client.post(self.url("check/weights/"), {"form": "replay", "file": upload})
            self.assertContains(page, words, status_code=422)

    def test_a_gauge_that_is_not_there_shows_nothing(self):
        self.assertIsNone(self.client.get(self.url("check/weights/"), {"gauge": "pads_of_gold"}).context["taken"])


class Angles(ScenarioCase):
    def test_camber_toe_and_sweep(self):
        page = self.client.get(self.url("check/alignment/"), {"gauge": "angle"})
        self.assertAlmostEqual(page.context["form"].initial["FL-camber"], -1.3, delta=0.25)
        self.assertEqual(page.context["form"].initial["who"], "Digital angle gauge (simulation)")
        self.assertContains(
            self.client.get(self.url("check/alignment/"), {"gauge": "angle_unzeroed"}), "was not zeroed"
        )
        strings = self.client.get(self.url("check/alignment/"), {"gauge": "strings"}).context["form"].initial
        self.assertEqual(strings["over_mm"], 400.0)
        self.assertIn("FL-toe_mm", strings)
        self.assertAlmostEqual(
            self.client.get(self.url("check/alignment/"), {"gauge": "plates"}).context["form"].initial["sweep_deg"],
            20,
            delta=0.5,
        )

    def test_turns_lock_to_lock(self):
        page = self.client.get(self.url("check/steering/"), {"gauge": "counter"})
        self.assertAlmostEqual(page.context["form"].initial["turns"], 2.9, delta=0.1)
        self.assertContains(page, "turn counter (simulation)")
