"""Runs planned and driven one by one on the telephone, to a verdict; a set found, made a build, and its job sheet."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from journeys.browser import Journey
from planner.models import Build
from proof.models import Run, RunPlan, Series
from workshop.models import Job


class Runs(Journey):
    def test_from_a_plan_to_a_verdict_on_the_telephone(self):
        page = self.sign_in(self.open("phone"))
        series = Series.objects.create(car=self.car, name="Lane sprint", unit="s", better="less")
        self.go(self.at(f"prove/{series.pk}/"), page)
        page.get_by_role("link", name="Plan runs").click()
        page.get_by_label("What is changed").fill("New dampers")
        page.get_by_label(re.compile("to and fro")).check()
        page.get_by_label(re.compile("Smallest change worth having")).fill("1")
        page.get_by_label(re.compile("Scatter of one run")).fill("0.2")
        page.get_by_role("button", name="Plan these runs").click()
        plan = RunPlan.objects.latest("pk")
        for number, side in enumerate(plan.order, 1):
            expect(page.locator(".where")).to_contain_text(f"Run {number} of {len(plan.order)}")
            expect(page.locator("main")).not_to_contain_text("roven:")
            expect(page.locator(".step-title")).to_have_text("Before" if side == "A" else "After")
            page.locator("[name=value]").fill(f"{(10.0 if side == 'A' else 7.5) + 0.05 * (number % 3):.2f}")
            page.get_by_role("button", name=f"Save run {number}").click()
        expect(page.locator("main")).to_contain_text("Proven: 95 % interval")
        expect(page.locator("main")).to_contain_text("Worth it")
        self.assertEqual(Run.objects.filter(plan=plan).count(), len(plan.order))
        wide = page.evaluate("document.documentElement.scrollWidth - document.documentElement.clientWidth")
        self.assertEqual(wide, 0)


class Found(Journey):
    def test_from_a_question_to_a_build_to_its_job_sheet(self):
        page = self.sign_in()
        self.go(self.at("choose/"))
        page.get_by_role("link", name="Find a build").click()
        page.get_by_label("Budget").fill("2000")
        page.get_by_role("button", name="Find it").click()
        expect(page.locator(".found-sets")).to_be_visible(timeout=60_000)
        expect(page.locator("main")).to_contain_text("Left out")
        page.get_by_role("button", name="Make a build").first.click()
        expect(page.locator("main")).to_contain_text("its parts are wanted")
        build = Build.objects.latest("pk")
        self.client_take(page, build)
        self.go(self.at("fit/"))
        page.get_by_role("button", name="Make a sheet from").click()
        expect(page.locator("main")).to_contain_text("step")
        self.assertEqual(Job.objects.latest("pk").build_id, build.pk)

    def client_take(self, page, build):
        """The build that was found is made the current one."""
        self.go(self.at("plan/"))
        page.locator("li", has_text=build.name).get_by_role("button", name="Make current").click()
        expect(page.locator(".board")).to_contain_text(build.name)
        build.refresh_from_db()
        self.assertTrue(build.in_hand)
