"""A new user from an empty garage to the proof, with readings as read off the tape."""

import re

from playwright.sync_api import expect

from journeys.browser import Journey, titled


class WholePath(Journey):
    def test_from_sign_up_to_proof(self):
        page = self.page
        self.go("/sign-up/")
        page.get_by_label("Username").fill("jory")
        page.locator("#id_password1").fill("eleven-sixteenths")
        page.locator("#id_password2").fill("eleven-sixteenths")
        page.get_by_role("button", name="Open the account").click()
        self.add_car(page)
        self.measure(page)
        self.choose(page)
        self.check(page)
        self.plan(page)
        self.fit(page)
        self.prove(page)

    def add_car(self, page):
        page.get_by_role("link", name="Write everything about the car").click()
        page.get_by_label("Nickname").fill("Moth")
        page.get_by_label("Driven wheels").select_option("front")
        page.get_by_label("Front axle load").fill("1790 lb")
        page.get_by_label("Rear axle load").fill("480 kg")
        page.get_by_label("Odometer, km").fill("90000")
        page.get_by_label("Budget").fill("1500")
        page.get_by_role("button", name="Add it").click()
        for end in ("front", "rear"):
            form = page.locator(f"#wheels-{end[0].upper()}")
            form.get_by_label("Wheel", exact=False).first.fill("16x6.5 ET50 5x108 63.4")
            form.get_by_label("Tyre", exact=False).first.fill("205/55 R16 91V")
            form.get_by_label("Weight of a wheel").fill("21 lb 12 oz")
            form.get_by_label("Weight of a tyre").fill("8,9 kg")
            form.get_by_role("button", name=f"Save {end} wheels").click()
            hub = page.locator(f"#hub-{end[0].upper()}")
            hub.get_by_label("Suspension").select_option("strut")
            hub.get_by_label("Lugs").fill("5")
            hub.get_by_label("Bolt circle").fill("108")
            hub.get_by_label("Hub spigot").fill("63.4")
            hub.get_by_label("Thread").fill("M12x1.5")
            hub.get_by_label("Stud beyond").fill("1 3/16 in")
            hub.get_by_label("Seat of nuts").fill("cone 60")
            hub.get_by_label("Torque").fill("80 ft-lb")
            hub.get_by_role("button", name=f"Save {end} hub").click()
        expect(page.locator("#hub-R").get_by_label("Torque")).to_have_value("108.4654 N·m")

    def measure(self, page):
        page.get_by_role("link", name="Plan view").click()
        page.get_by_role("link", name="Front left", exact=True).first.click()
        page.get_by_role("link", name="Damper", exact=True).first.click()
        page.get_by_role("textbox", name="Height above").fill("262")
        page.get_by_role("textbox", name=titled("Gap")).fill("11/16 in")
        page.get_by_role("button", name="Save the reading").click()
        page.get_by_role("link", name="Arch lip at 12 o'clock").first.click()
        page.get_by_role("textbox", name="Sideways").fill("31")
        page.get_by_role("textbox", name="Up from the tread").fill('2 3/8"')
        page.get_by_role("button", name="Save the reading").click()
        expect(page.locator("main")).to_contain_text("17.5 mm at 262 mm · typed 11/16 in")
        expect(page.locator("main")).to_contain_text('31.0 / 60.3 mm · typed 31 / 2 3/8"')

    def choose(self, page):
        page.keyboard.press("2")
        page.wait_for_url("**/choose/")
        for line in (
            "17x7.5 +45 5x108 63.4, 8.9 kg, 186, in stock, Nook Lane Wheels, cone 60, pad 12 mm, load 650 kg",
            "225/45R17 91W, 9.2 kg, 104, 5 days",
        ):
            page.get_by_label("Paste a line").fill(line)
            page.get_by_role("button", name="Add it").click()
        row = page.locator("table.ledger tbody.pair").first
        expect(row).to_contain_text("17×7.5 +45")
        row.locator("summary").click()
        expect(row.locator(".pair-body")).to_contain_text("Also needed")
        expect(row.locator(".pair-body")).to_contain_text("Thread in the nut")

    def check(self, page):
        page.keyboard.press("3")
        page.wait_for_url("**/check/FL/**")
        page.locator("summary", has_text="Use a shortlisted wheel").click()
        page.locator("details[open]").get_by_role("link", name="17×7.5 +45").click()
        expect(page.locator("#bench")).to_contain_text("solid 17×7.5 +45, 225/45R17 91W")
        page.locator("#bench .rows .known").first.click()
        expect(page.locator(".known-card:popover-open")).to_contain_text("Held against")
        page.keyboard.press("Escape")

    def plan(self, page):
        page.keyboard.press("4")
        page.wait_for_url("**/plan/")
        page.get_by_label("Name").fill("Seventeens")
        page.get_by_role("button", name="Make a build").click()
        expect(page.locator("h1", has_text="Builds side by side")).to_be_visible()
        page.keyboard.press("2")
        page.wait_for_url("**/choose/")
        page.get_by_role("button", name="Seventeens", exact=True).first.click()
        expect(page.locator(".board")).to_contain_text("1\u2009160")
        page.keyboard.press("4")
        page.wait_for_url("**/plan/")
        for part in ("17×7.5 +45", "225/45R17 91W"):
            page.get_by_role("link", name=part).first.click()
            page.get_by_label("State").select_option("arrived")
            page.get_by_role("button", name="Note it").click()
        expect(page.locator(".board")).to_contain_text("spent 1\u2009160 · still to spend 0 · left 340")

    def fit(self, page):
        page.keyboard.press("5")
        page.wait_for_url("**/fit/")
        page.get_by_role("button", name="Make a sheet from Seventeens").click()
        for _ in range(90):
            if page.get_by_role("button", name="Close it").count():
                break
            if page.locator("#read").count():
                page.locator("#read").fill(page.locator(".read-row b").first.inner_text().split()[0])
            with page.expect_navigation():
                page.locator("button.big").first.click()
        page.get_by_label("Odometer now").fill("90010")
        page.get_by_role("button", name="Close it").click()
        page.wait_for_url("**/prove/")
        expect(page.locator("main")).to_contain_text("Wheel nuts, re-torque after 80 km")

    def prove(self, page):
        self.car.pk = int(page.url.split("/")[4])
        self.go(self.at("measure/FL/damper/"))
        page.get_by_role("textbox", name=titled("Gap")).fill("12.0")
        page.get_by_role("button", name="Save the reading").click()
        self.go(self.at("prove/"))
        expect(page.locator("main")).to_contain_text("Predicted, then measured")
        expect(page.locator("tr", has_text="Damper at 262 mm, front left").first).to_contain_text("12.0")
        page.get_by_label("Name").fill("Sprint")
        page.get_by_label("Unit").fill("s")
        page.get_by_role("button", name="Make the series").click()
        for outfit, runs in (("baseline", "40.1 40.3 39.9"), ("Seventeens, as fitted", "39,0 39.2 38.8")):
            page.get_by_label("Runs").fill(runs)
            page.get_by_label("With").select_option(label=outfit)
            page.get_by_role("button", name="Note the runs").click()
        expect(page.locator(".strip")).to_contain_text("−1.10 s")
        expect(page.locator(".strip")).to_contain_text("proven: 95 % interval")


class Stranger(Journey):
    def test_another_persons_car_is_not_there(self):
        page = self.sign_in()
        page.wait_for_load_state("networkidle")
        page.get_by_role("button", name=re.compile("Sign out")).click()
        page.wait_for_url("**/sign-in/")
        self.go("/sign-up/")
        page.get_by_label("Username").fill("jory")
        page.locator("#id_password1").fill("eleven-sixteenths")
        page.locator("#id_password2").fill("eleven-sixteenths")
        page.get_by_role("button", name="Open the account").click()
        for rest in ("measure/", "check/FL/", "plan/", "fit/", "prove/"):
            response = page.goto(f"{self.live_server_url}{self.at(rest)}")
            self.assertEqual(response.status, 404)
            expect(page.locator("h1")).to_have_text("Not found")
        self.complaints.clear()
