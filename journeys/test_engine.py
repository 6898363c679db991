"""From a run that is typed to a housing that is judged; a pull from its file to its verdict.

A bleed run on the telephone; an axle off the shelf.
"""

import re
import tempfile
import time

from playwright.sync_api import expect

from garage.car.models import Car
from garage.logs.models import Log
from gauges import streams
from journeys.browser import Journey
from planner.models import Build, PipeRun


class Engine(Journey):
    def test_a_run_is_drawn_and_the_housing_swapped(self):
        page = self.sign_in()
        self.go(self.at("check/breathing/"))
        intake = page.locator("#run-intake")
        lines = intake.get_by_label("Pieces, a line each")
        text = lines.input_value()
        self.assertIn("bore 70", text)
        lines.fill(text.replace("pipe 76 x 320", "pipe 7 x 320"))
        lines.blur()
        expect(intake.locator(".alert")).to_contain_text("out of range; accepted: 10 to 400 mm")
        expect(intake.get_by_label("Pieces, a line each")).to_have_value(re.compile("pipe 7 x 320"))
        intake.get_by_label("Pieces, a line each").fill(text.replace("bore 70", "bore 80"))
        intake.get_by_label("Pieces, a line each").blur()
        expect(intake.locator(".alert")).to_have_count(0)
        intake.get_by_role("button", name="Put it into").click()
        expect(page.locator("aside")).to_contain_text("tuned before the first drive")
        Build.objects.filter(car=self.car, in_hand=True).update(tuning_on=None)
        self.assertIn("bore 80", PipeRun.objects.get(car=self.car, build__in_hand=True, kind="intake").lines)
        page.get_by_label("Piece to change").first.select_option(index=1)
        expect(page.get_by_label("its bore").first).to_be_enabled()

    def test_a_bore_by_the_slider(self):
        page = self.sign_in()
        self.go(self.at("check/breathing/"))
        exhaust = page.locator("#run-exhaust")
        exhaust.get_by_label("Piece to change").select_option("4")
        slider = exhaust.get_by_label("its bore")
        expect(slider).to_be_enabled()
        expect(slider).to_have_value("60")
        slider.focus()
        slider.press("ArrowRight")
        expect(exhaust.get_by_label("Pieces, a line each")).to_have_value(re.compile(r"pipe 60\.5 x 1350"))

    def test_a_pull_is_looked_at_kept_and_judged(self):
        page = self.sign_in()
        Log.objects.filter(car=self.car, kind="pull", when="after").delete()
        self.go(self.at("logs/add/?kind=pull"))
        page.get_by_label("What it is").fill("Third gear, again")
        page.get_by_label("Before or after").select_option("after")
        page.get_by_label("The file").set_input_files(
            {"name": "x.csv", "mimeType": "text/csv", "buffer": b"not a table"}
        )
        page.get_by_role("button", name="Look at it").click()
        expect(page.locator("main")).to_contain_text("no row of figures")
        expect(page.get_by_label("What it is")).to_have_value("Third gear, again")
        page.get_by_label("The file").set_input_files(
            {"name": "x.csv", "mimeType": "text/csv", "buffer": streams.pulls_csv(96.0, 5900.0, 3)}
        )
        page.get_by_role("button", name="Look at it").click()
        expect(page.locator("main")).to_contain_text("decimal comma")
        page.get_by_label("Brought to the air of").select_option("SAE J1349")
        page.get_by_role("button", name="Save it").click()
        expect(page.locator("main")).to_contain_text("temperature and absolute pressure")
        page.get_by_label("Air that day").fill("14")
        page.get_by_label("Pressure at the place").fill("99.6 kPa")
        page.get_by_role("button", name="Save it").click()
        expect(page.locator("main")).to_contain_text("Proven: +")

    def test_a_file_that_is_too_large_is_told_before_it_is_sent(self):
        page = self.sign_in()
        self.go(self.at("logs/add/?kind=sound"))
        page.get_by_label("What it is").fill("A whole day")
        with tempfile.NamedTemporaryFile(suffix=".wav") as file:
            file.truncate(500 * 1024 * 1024)
            page.get_by_label("The file").set_input_files(file.name)
            expect(page.get_by_role("alert")).to_contain_text("524 MB; accepted: 120 MB at most")
        expect(page.get_by_label("What it is")).to_have_value("A whole day")
        self.assertEqual(page.get_by_label("The file").evaluate("e => e.files.length"), 0)

    def test_a_bleed_run_on_the_telephone(self):
        page = self.sign_in(self.open("phone"))
        car = Car.objects.get(owner=self.car.owner, nickname__startswith="Gannel")
        self.go(f"/car/{car.pk}/check/cooling/live/?run=bleeds", page)
        expect(page.locator("#bleed-live")).to_contain_text("Heater hot, funnel on")
        first = page.locator("#bleed-live .huge").nth(1).inner_text()
        expect(page.locator("#bleed-live .huge").nth(1)).not_to_have_text(first)
        expect(page.locator(".caution")).to_contain_text("scalds")
        self.go(f"/car/{car.pk}/check/cooling/live/?run=bleeds&from={time.time() - 45:.0f}", page)
        expect(page.locator("#bleed-live")).to_contain_text("It has opened")
        self.go(f"/car/{car.pk}/check/cooling/live/?run=bleeds&from={time.time() - 200:.0f}", page)
        expect(page.locator("#bleed-live")).to_contain_text("The run has ended")
        expect(page.locator("#bleed-live")).to_contain_text("held still")
        wide = page.evaluate("document.documentElement.scrollWidth - document.documentElement.clientWidth")
        self.assertLessEqual(wide, 0)

    def test_an_axle_off_the_shelf(self):
        page = self.sign_in()
        car = Car.objects.get(owner=self.car.owner, nickname__startswith="Strath")
        self.go(f"/car/{car.pk}/check/gearing/")
        page.get_by_label("Wanted there, rpm").fill("2600")
        page.get_by_label("Axle ratios on the shelf").fill("3.9 4.3 4.6")
        page.get_by_role("button", name="Show").click()
        page.get_by_role("link", name="Try it").first.click()
        page.get_by_role("button", name="Put axle").click()
        expect(page.locator("main")).to_contain_text("axle ratio")
        self.assertIn(Build.objects.get(car=car, in_hand=True).lever("axle_ratio"), (3.9, 4.3, 4.6))

    def test_the_job_sheet_of_an_exhaust(self):
        page = self.sign_in()
        self.go(self.at("choose/parts/silencer/"))
        row = page.locator("tr", has_text="Quarry straight-through")
        expect(row).to_contain_text("local law")
        row.get_by_role("link", name="Add to build").click()
        page.get_by_label("Goes on").select_option("rear")
        page.get_by_role("button", name="Add to build").click()
        page.wait_for_url(lambda address: "/put/" not in address)
        self.go(self.at("fit/"))
        for box in page.locator("input[name=module]").all():
            box.set_checked(box.get_attribute("value") == "exhaust")
        page.get_by_role("button", name="Make a sheet from").click()
        expect(page.locator("main")).to_contain_text("mated on the floor and marked")
        expect(page.locator("main")).not_to_contain_text("Crack the nuts")
