"""The first five minutes: from an empty garage to a judgement, counted in fields."""

from django.contrib.auth.models import User
from playwright.sync_api import expect

from journeys.browser import AXE, Journey, titled


class FirstFiveMinutes(Journey):
    def test_a_judgement_after_eight_fields_at_the_most(self):
        User.objects.create_user("wren", password="a-long-enough-word")
        page = self.go("/sign-in/")
        page.get_by_label("Name").fill("wren")
        page.get_by_label("Password").fill("a-long-enough-word")
        page.get_by_role("button", name="Sign in", exact=True).click()
        page.get_by_role("link", name="Begin with three questions").click()
        page.evaluate(AXE.read_text())
        serious = page.evaluate(
            "axe.run().then(r => r.violations.filter(v => ['serious', 'critical'].includes(v.impact)).map(v => v.id))"
        )
        self.assertEqual(serious, [])
        expect(page.get_by_label(titled("Up from the tread"))).to_be_hidden()
        fields = {
            "Wheel and tyre on it": "16x6.5 +50 5x108 63.4, 205/55R16 91V",
            "Wheel and tyre wanted": "17x8 +40 5x108, 225/45R17 91W",
            "Height above the hub's centre": "262",
            "Reading": "5/8 in",
        }
        for label, text in fields.items():
            page.get_by_label(titled(label)).fill(text)
        chosen = {"Driven wheels": "rear", "Front suspension": "strut", "Rear suspension": "multi-link"}
        for label, text in chosen.items():
            page.get_by_label(label).select_option(text)
        self.assertLessEqual(len(fields) + len(chosen) + 1, 8, "with the station that is chosen")
        page.get_by_role("button", name="Check it").click()
        page.wait_for_url("**/check/FL/")
        expect(page.locator("#bench-rest")).to_contain_text("Damper at 262 mm")
        expect(page.locator(".board")).to_contain_text("First build")

    def test_on_a_phone_at_the_lip(self):
        User.objects.create_user("wren", password="a-long-enough-word")
        page = self.go("/sign-in/", self.open("phone"))
        page.get_by_label("Name").fill("wren")
        page.get_by_label("Password").fill("a-long-enough-word")
        page.get_by_role("button", name="Sign in", exact=True).click()
        self.go("/start/", page)
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 392)
        page.get_by_label("Arch lip at 12 o'clock").check()
        expect(page.get_by_label(titled("Height above the hub's centre"))).to_be_hidden()
        page.get_by_label("Wheel and tyre on it").fill("205/55R16 on 16x6.5 ET50")
        for label, text in {
            "Driven wheels": "front",
            "Front suspension": "strut",
            "Rear suspension": "twist beam",
        }.items():
            page.get_by_label(label).select_option(text)
        page.get_by_label("Wheel and tyre wanted").fill("17x8 +40 225/45R18")
        page.get_by_label(titled("Reading")).fill("31")
        page.get_by_label(titled("Up from the tread")).fill("62")
        page.get_by_role("button", name="Check it").click()
        expect(page.locator("main")).to_contain_text("for a rim of 18 in, the wheel has 17")
        expect(page.get_by_label(titled("Up from the tread"))).to_have_value("62")
        page.get_by_label("Wheel and tyre wanted").fill("17x8 +40 225/45R17")
        page.get_by_role("button", name="Check it").click()
        page.wait_for_url("**/check/FL/")
