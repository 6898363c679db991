"""A part comes late: noted in the browser, the plan re-flows, and what was said before is still there."""

from __future__ import annotations

from playwright.sync_api import expect

from journeys.browser import Journey
from planner.dates.models import Happening, PersonWeek
from planner.models import Build, Choice


class Late(Journey):
    def test_from_a_late_part_to_a_reflowed_plan_and_its_history(self):
        page = self.sign_in()
        self.go(self.at("plan/"))
        expect(page.locator("#ruler")).to_contain_text("Hill season")
        before = page.locator(".aside p b").first.inner_text()
        page.get_by_role("link", name="Something happened").click()
        build = Build.objects.get(name="Hill season", in_hand=True)
        choice = Choice.objects.filter(build=build, state="ordered").first()
        page.get_by_label("What happened").select_option("late")
        page.get_by_label("Which part").select_option(str(choice.pk))
        page.get_by_label("In words").fill("Lost in the post")
        page.get_by_label("Days lost").fill("33")
        page.get_by_role("button", name="Note it").click()
        expect(page.locator("main")).to_contain_text("Lost in the post")
        row = Happening.objects.get(build=build, what="Lost in the post")
        self.assertGreater(row.later.ready_on, row.before.ready_on)
        page.get_by_role("link", name="Back to the plan").click()
        after = page.locator(".aside p b").first.inner_text()
        self.assertNotEqual(before, after)
        expect(page.locator(".aside")).to_contain_text("Lost in the post")
        # what would help is fetched after the page; one press tries it, and nothing is changed until it is kept
        helps = page.locator(".aside a", has_text="try").first
        expect(helps).to_be_visible()
        helps.click()
        expect(page.locator("#ruler")).to_contain_text("Tried, not kept")
        page.get_by_role("link", name="Back", exact=True).click()
        expect(page.locator(".aside p b").first).to_have_text(after)
        # work is put off by a number, which is what dragging its bar does
        page.get_by_text("The same as a table").click()
        page.get_by_label("Put off Car up and down by days").fill("5")
        page.get_by_label("Put off Car up and down by days").press("Tab")
        expect(page.locator("#ruler")).to_contain_text("Tried, not kept")
        page.get_by_role("button", name="Keep it").click()
        expect(page.locator("main")).to_contain_text("Kept: moved")
        self.go(self.at("prove/"))
        expect(page.locator("main")).to_contain_text("Dates said")
        expect(page.locator("main")).to_contain_text("Lost in the post")

    def test_a_week_is_typed_and_counts(self):
        page = self.sign_in()
        self.go(self.at("plan/week/own/"))
        page.get_by_label("Monday, hours").fill("4")
        page.get_by_role("button", name="Keep the week").click()
        expect(page.locator("main")).to_contain_text("The week is kept")
        self.assertEqual(PersonWeek.objects.get().week_hours[0], 4.0)
