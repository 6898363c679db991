"""The job sheet on a phone: one step at a time, large targets."""

from playwright.sync_api import expect

from garage.car.parts import Tyre, Wheel
from journeys.browser import Journey
from workshop.models import Job


class PhoneJob(Journey):
    def test_nut_by_nut(self):
        page = self.sign_in(self.open("phone"))
        job = Job.objects.get(build__name="Hill season")
        step = job.steps.filter(kind="torque").first()
        self.go(self.at(f"fit/job/{job.pk}/{step.place}/"), page)
        for number in range(1, 6):
            expect(page.locator("main")).to_contain_text(f"nut {number} of 5")
            page.locator("#read").fill("55")
            page.locator("button.big").click()
        expect(page.locator("main")).not_to_contain_text("nut 5 of 5")
        self.go(self.at(f"fit/job/{job.pk}/{step.place}/"), page)
        expect(page.locator("main")).to_contain_text("done")
        self.assertEqual(step.pulls.count(), 5)

    def test_targets_and_width(self):
        page = self.sign_in(self.open("phone"))
        job = Job.objects.get(build__name="Hill season")
        for rest in (
            f"fit/job/{job.pk}/5/",
            f"fit/job/{job.pk}/17/",
            "fit/",
            "fit/tools/",
            "fit/removed/",
            "rules/",
            "measure/FL/",
            "choose/parts/ring/",
            "measure/",
            "check/FL/",
            "plan/",
            "choose/",
            "prove/",
        ):
            self.go(self.at(rest), page)
            self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 392, rest)
            if rest.startswith("fit/job"):
                for target in page.locator(".fit-page .btn:visible, .phone-spine a").all():
                    self.assertGreaterEqual(target.bounding_box()["height"], 43.5, target.inner_text())

    def test_the_bench_in_motion(self):
        page = self.sign_in(self.open("phone"))
        tyre = Tyre.objects.filter(car=self.car).first()
        wheels = "&".join(f"w={wheel.pk}" for wheel in Wheel.objects.filter(car=self.car)[:2])
        for rest in (
            "check/FL/trial/",
            f"check/FL/compare/?{wheels}",
            "check/FL/template/",
            "check/shake/",
            f"choose/tyre/{tyre.pk}/trace/",
        ):
            self.go(self.at(rest), page)
            self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 392, rest)
        self.go(self.at("check/FL/?width=8&offset=40"), page)
        page.get_by_text("From above, and the map").click()
        page.wait_for_load_state("networkidle")
        self.scroll_to("#well-map", page)
        for slider in page.locator(".pose-sliders input").all():
            self.assertGreaterEqual(slider.bounding_box()["height"], 43.5)
        box = page.locator("#well-map").bounding_box()
        page.touchscreen.tap(box["x"] + box["width"] * 0.75, box["y"] + box["height"] * 0.2)
        expect(page.locator("[data-pose]")).to_contain_text("out, bump")
        expect(page.locator("#bench-rest").get_by_role("heading", name="Gaps, tightest first")).to_be_visible()
        self.assertLess(
            page.locator("#bench-rest").bounding_box()["y"], page.locator("#bench-lower").bounding_box()["y"]
        )

    def test_snag_with_words_kept_on_error(self):
        page = self.sign_in(self.open("phone"))
        job = Job.objects.get(build__name="Hill season")
        self.go(self.at(f"fit/job/{job.pk}/5/"), page)
        page.locator("summary", has_text="Snag").click()
        page.get_by_label("What happened").fill("socket rounded off")
        page.get_by_label("Money lost").fill("a lot")
        page.get_by_role("button", name="Log the snag").click()
        expect(page.get_by_label("What happened")).to_have_value("socket rounded off")
        expect(page.locator("main")).to_contain_text("Write an amount such as 310")
        page.get_by_label("Money lost").fill("12")
        page.get_by_role("button", name="Log the snag").click()
        expect(page.locator("main")).to_contain_text("Snag logged")
