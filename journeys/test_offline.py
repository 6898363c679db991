"""A phone in a garage without a connection.

What is typed waits, is sent in order, a clash is shown, nothing stays after signing out.
"""

import re

from django.contrib.auth.models import User
from django.contrib.sessions.models import Session
from playwright.sync_api import expect

from garage.readings.models import Reading
from journeys.browser import Journey
from workshop.models import Job, Pull


class Lost(Journey):
    def ready(self, page):
        """The worker has what it needs."""
        expect(page.locator("body[data-ready='1']")).to_be_attached(timeout=60_000)

    def lose(self, page):
        page.context.set_offline(True)

    def back(self, page):
        page.context.set_offline(False)

    def tearDown(self):
        # What a browser says of a connection that is not there, or of a session that has ended, is no complaint about
        # the application.
        self.complaints[:] = [said for said in self.complaints if "net::ERR_" not in said and "401" not in said]
        super().tearDown()

    def sheet(self):
        return Job.objects.get(build__name="Hill season")

    def test_torques_and_ticks_wait_and_are_sent_in_order(self):
        page, job = self.sign_in(self.open("phone")), self.sheet()
        step = job.steps.filter(kind="torque").first()
        self.go(self.at(f"fit/job/{job.pk}/{step.place}/"), page)
        self.ready(page)
        page.locator("#read").fill("54")
        page.locator("button.big").click()
        expect(page.locator("main")).to_contain_text("nut 2 of 5")
        self.ready(page)
        self.lose(page)
        for read in ("55", "56", "57", "58"):
            page.locator("#read").fill(read)
            page.locator("button.big").click()
            expect(page.locator("#waiting")).to_contain_text(f": {read}")
        expect(page.locator("#waiting")).to_contain_text("4 entries wait for the connection")
        page.wait_for_url(re.compile(f"/fit/job/{job.pk}/{step.place + 1}/"))
        expect(page.locator("#waiting")).to_contain_text("4 entries wait")
        self.assertEqual(Pull.objects.filter(step=step).count(), 1)
        self.back(page)
        expect(page.locator("#waiting")).to_have_count(0)
        self.assertEqual(
            list(step.pulls.order_by("id").values_list("lug", "read_nm")),
            [(1, 54.0), (3, 55.0), (5, 56.0), (2, 57.0), (4, 58.0)],
        )
        step.refresh_from_db()
        self.assertEqual(step.state, "done")

    def test_a_clash_is_shown_and_never_overwritten(self):
        page, job = self.sign_in(self.open("phone")), self.sheet()
        step = job.steps.filter(kind="torque").first()
        self.go(self.at(f"fit/job/{job.pk}/{step.place}/"), page)
        self.ready(page)
        self.lose(page)
        page.locator("#read").fill("70")
        page.locator("button.big").click()
        expect(page.locator("#waiting")).to_contain_text("1 entry waits")
        Pull.objects.create(step=step, lug=1, wanted_nm=55, read_nm=55)
        self.back(page)
        page.evaluate("window.dispatchEvent(new Event('online'))")
        expect(page.locator("#waiting")).to_contain_text("meanwhile 55 N·m was read there")
        self.assertEqual(Pull.objects.get(step=step, lug=1).read_nm, 55)
        page.get_by_role("button", name="Drop mine").click()
        expect(page.locator("#waiting")).to_have_count(0)
        self.assertEqual(Pull.objects.get(step=step, lug=1).read_nm, 55)

    def test_the_walk_goes_on_and_keeps_its_readings(self):
        page = self.sign_in(self.open("phone"))
        self.go(self.at("walk/"), page)
        first = page.get_by_role("heading", level=1).inner_text()
        self.ready(page)
        self.lose(page)
        page.get_by_label("Sideways from the sidewall").fill("24")
        page.get_by_label("Up from the tread").fill("61")
        page.get_by_role("button", name="Save").click()
        expect(page.get_by_role("heading", level=1)).not_to_have_text(first)
        expect(page.locator("#waiting")).to_contain_text("24, 61")
        self.assertFalse(Reading.objects.filter(car=self.car, corner="FL", code="arch_10").exists())
        self.back(page)
        expect(page.locator("#waiting")).to_have_count(0)
        self.assertEqual(Reading.objects.get(car=self.car, corner="FL", code="arch_10").values, [24.0, 61.0])

    def test_what_is_refused_is_told_and_stays(self):
        page = self.sign_in(self.open("phone"))
        self.go(self.at("walk/"), page)
        self.ready(page)
        self.lose(page)
        page.get_by_label("Sideways from the sidewall").fill("twenty")
        page.get_by_label("Up from the tread").fill("61")
        page.get_by_role("button", name="Save").click()
        expect(page.locator("#waiting")).to_contain_text("twenty, 61")
        self.back(page)
        expect(page.locator("#waiting")).to_contain_text("not accepted")
        self.assertFalse(Reading.objects.filter(car=self.car, corner="FL", code="arch_10").exists())
        page.get_by_role("button", name="Drop mine").click()
        expect(page.locator("#waiting")).to_have_count(0)

    def test_another_person_on_the_same_telephone_sends_and_loses_nothing_of_mine(self):
        page, job = self.sign_in(self.open("phone")), self.sheet()
        User.objects.create_user("wren", password="a-long-enough-word")
        step = job.steps.filter(kind="torque").first()
        address = self.at(f"fit/job/{job.pk}/{step.place}/")
        self.go(address, page)
        self.ready(page)
        self.lose(page)
        page.locator("#read").fill("55")
        page.locator("button.big").click()
        expect(page.locator("#waiting")).to_contain_text("1 entry waits for the connection")
        Session.objects.all().delete()
        self.back(page)
        expect(page.locator("#waiting")).to_contain_text("sign in again to send them")
        self.go("/sign-in/", page)
        page.get_by_label("Name").fill("wren")
        page.get_by_label("Password").fill("a-long-enough-word")
        page.get_by_role("button", name="Sign in", exact=True).click()
        expect(page.locator("main")).to_contain_text("Begin with three questions")
        expect(page.locator("#waiting")).to_have_count(0)
        page.get_by_role("button", name="Sign out wren").click()
        page.wait_for_url("**/sign-in/")
        self.assertEqual(Pull.objects.filter(step=step).count(), 0)
        with page.expect_response(lambda sent: sent.request.method == "POST" and sent.url.endswith(address)):
            self.sign_in(page)
        # The first page is shown anew once nothing waits any more: another one looks.
        other = page.context.new_page()
        for _ in range(2):
            self.go(address, other)
            expect(other.locator("main")).to_contain_text("nut 2 of 5")
            expect(other.locator("#waiting")).to_have_count(0)
        self.assertEqual(list(Pull.objects.filter(step=step).values_list("lug", "read_nm")), [(1, 55.0)])

    def test_nothing_is_left_after_signing_out(self):
        page, job = self.sign_in(self.open("phone")), self.sheet()
        self.go(self.at(f"fit/job/{job.pk}/5/"), page)
        self.ready(page)
        self.assertGreater(page.evaluate("caches.open('tally-pages-1').then(c => c.keys()).then(k => k.length)"), 5)
        page.get_by_role("button", name="Sign out demo").click()
        page.wait_for_url("**/sign-in/")
        self.assertEqual(page.evaluate("caches.keys().then(k => k.length)"), 0)
        self.assertEqual(page.evaluate("navigator.serviceWorker.getRegistrations().then(r => r.length)"), 0)
        self.assertEqual(page.evaluate("indexedDB.databases().then(d => d.length)"), 0)
