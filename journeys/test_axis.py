"""A corner whose steering axis nobody measured.

What is said of it, what to measure first, and reading it from the wheel.
"""

import re

from playwright.sync_api import expect

from garage.chassis.models import HardPoint
from garage.readings.models import Reading
from journeys.browser import AXE, Journey


class SteeringAxis(Journey):
    def setUp(self):
        super().setUp()
        Reading.objects.filter(car=self.car, corner="FL", code__in=("kpi", "caster", "kingpin")).delete()
        HardPoint.objects.filter(car=self.car).delete()  # they would say the axis

    def test_from_unmeasured_to_measured(self):
        page = self.sign_in()
        self.go(self.at("check/FL/"))
        first = page.locator("#measure-first")
        expect(first).to_contain_text("Measure first")
        expect(page.locator("#bench-rest")).to_contain_text("over every usual steering axis")
        first.get_by_role("link", name="Read the axis from the wheel itself").click()
        expect(page.get_by_role("heading", name="Steering axis from the wheel")).to_be_visible()
        page.get_by_label("Radius of the scrub circle").fill("soon")
        page.get_by_role("button", name="Work it out").click()
        expect(page.get_by_label("Radius of the scrub circle")).to_have_value("soon")
        page.get_by_label("Radius of the scrub circle").fill("9/16 in")
        page.get_by_label("Lower joint, inboard of the mounting face").fill("84")
        page.get_by_label("Lower joint, below the hub's centre").fill("118 mm")
        page.get_by_label("Camber, front edge outboard").fill("0°40'")
        page.get_by_label("Camber, front edge inboard").fill("-2.2")
        page.get_by_role("button", name="Work it out").click()
        expect(page.locator("table.ledger")).to_contain_text("Kingpin inclination")
        expect(page.locator("table.ledger")).to_contain_text(re.compile(r"Caster[\s\S]*4\.2°"))
        page.evaluate(AXE.read_text())
        serious = page.evaluate(
            "axe.run().then(r => r.violations.filter(v => ['serious', 'critical'].includes(v.impact)).map(v => v.id))"
        )
        self.assertEqual(serious, [])
        page.get_by_role("button", name="Save as readings").click()
        expect(page.locator("main")).to_contain_text("Kept at the front left")
        self.go(self.at("check/FL/"))
        expect(page.locator("#measure-first")).to_have_count(0)
        expect(page.locator("#bench-rest")).not_to_contain_text("usual steering axis")

    def test_a_trial_fit_that_is_not_settled_says_so(self):
        page = self.sign_in()
        self.go(self.at("check/FL/trial/"))
        expect(page.locator(".fit-group").first).to_contain_text(re.compile("Not settled|Settled|Contradiction"))
        expect(page.locator(".fit-group").first).to_contain_text(re.compile("chi-square|misreading"))
