"""The measuring walk: on a phone under the car, on the desk by keys, and the floor sheet typed in afterwards."""

import re

from playwright.sync_api import expect

from garage.readings.models import Reading, Skip
from journeys.browser import AXE, Journey


class Walk(Journey):
    def serious(self, page):
        page.evaluate(AXE.read_text())
        return page.evaluate(
            "axe.run().then(r => r.violations.filter(v => ['serious', 'critical'].includes(v.impact)).map(v => v.id))"
        )

    def test_on_a_phone_with_one_passed_over_and_one_misread(self):
        page = self.sign_in(self.open("phone"))
        self.go(self.at("measure/"), page)
        page.get_by_role("link", name="Start the walk").click()
        expect(page.get_by_role("heading", level=1)).to_have_text("Arch lip at 10 o'clock")
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 392)
        for target in page.locator(
            ".walk button:visible, .walk-field input:visible, .walk summary, .walk-ways a"
        ).all():
            self.assertGreaterEqual(target.bounding_box()["height"], 43.5, target.inner_text())
        self.assertEqual(self.serious(page), [])
        page.get_by_label("Sideways from the sidewall").fill("twenty")
        page.get_by_label("Up from the tread").fill("61")
        page.get_by_role("button", name="Save").click()
        expect(page.locator(".invalid-feedback").first).to_be_visible()
        expect(page.get_by_label("Sideways from the sidewall")).to_have_value("twenty")
        page.get_by_label("Sideways from the sidewall").fill("24; 24.5")
        page.get_by_role("button", name="Save").click()
        expect(page.get_by_role("status")).to_contain_text(re.compile("sideways [−\\d.]+ mm:\\s+(clear|tight|hit)"))
        expect(page.get_by_role("heading", level=1)).to_have_text("Ball joint or tie-rod end to barrel")
        page.locator("summary", has_text="Skip").first.click()
        page.locator("#id_why").select_option("reach")
        page.get_by_label("Note").fill("behind the brake line")
        page.get_by_role("button", name="Skip").click()
        expect(page.locator("main")).to_contain_text("behind the brake line")
        expect(page.get_by_role("heading", level=1)).not_to_have_text("Ball joint or tie-rod end to barrel")
        kept = Reading.objects.get(car=self.car, corner="FL", code="arch_10")
        self.assertEqual((kept.values, kept.typed), ([24.25, 61.0], "24; 24.5 / 61"))
        self.assertEqual(Skip.objects.get(car=self.car).why, "reach")
        heading = page.get_by_role("heading", level=1).inner_text()
        self.go(self.at("walk/"), page)
        expect(page.get_by_role("heading", level=1)).to_have_text(heading)

    def test_on_the_desk_by_keys(self):
        page = self.sign_in()
        self.go(self.at("walk/"))
        page.wait_for_load_state()
        first = page.get_by_role("heading", level=1).inner_text()
        page.keyboard.press(".")
        expect(page.get_by_role("heading", level=1)).not_to_have_text(first)
        page.wait_for_load_state()  # the keys are read once the page's modules have run
        page.keyboard.press(",")
        expect(page.get_by_role("heading", level=1)).to_have_text(first)
        page.wait_for_load_state()
        page.get_by_label("Sideways from the sidewall").fill("24")
        page.keyboard.press("Tab")
        page.keyboard.type("61")
        page.keyboard.press("Enter")
        expect(page.get_by_role("status")).to_contain_text("sideways")

    def test_the_floor_sheet_typed_in(self):
        page = self.sign_in()
        self.go(self.at("walk/sheet/"))
        self.assertEqual(self.serious(page), [])
        page.locator("#id_FL-arch_10-value").fill("24")
        page.locator("#id_FL-joint-value").fill("132")
        page.get_by_role("button", name="Save what is typed").click()
        expect(page.get_by_role("alert")).to_contain_text("Nothing is kept yet: 1 row")
        expect(page.locator("#id_FL-joint-value")).to_have_value("132")
        page.locator("#id_FL-arch_10-value2").fill("61")
        page.get_by_role("button", name="Save what is typed").click()
        expect(page.locator("main")).to_contain_text("2 readings saved.")
        page.emulate_media(media="print")
        self.go(self.at("walk/sheet/"))
        expect(page.get_by_role("button", name="Save what is typed")).to_be_hidden()
