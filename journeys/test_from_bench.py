"""From a bench to a verdict without typing anything twice.

An exhaust drawn on its bench to a finished sheet; a panel from its card to plan, sheet and fuel by the tank; coilovers
from the list to ride heights that were read back.
"""

import re

from playwright.sync_api import expect

from garage.air.models import AirPanel
from garage.readings.models import Reading
from journeys.browser import Journey
from planner.models import Build, Choice
from workshop.models import Job, Step

EXHAUST = (
    "pipe 63.5 x 900, stainless, 2 clamps, 1 hanger\nbend 63.5 45° r 100\n"
    "pipe 63.5 x 1100, stainless, 1 clamp, 2 hangers\nsilencer 2 kPa at 0.1 kg/s 400 °C, 4.2 kg"
)


class FromBench(Journey):
    def held(self):
        return Build.objects.get(car=self.car, in_hand=True)

    def sheet_of(self, *modules):
        """A sheet of some modules, made on Fit."""
        self.go(self.at("fit/"))
        for box in self.page.locator("input[name=module]").all():
            box.set_checked(box.get_attribute("value") in modules)
        self.page.get_by_role("button", name=re.compile("Make a sheet from")).click()
        expect(self.page.locator(".step-list").first).to_be_visible()
        return Job.objects.filter(car=self.car).order_by("-pk").first()

    def close(self, job):
        """The rest of the steps as done, the last by hand, and the sheet closed."""
        last = job.steps.order_by("-place").first()
        Step.objects.filter(job=job, state="todo").exclude(pk=last.pk).update(state="done")
        self.go(self.at(f"fit/job/{job.pk}/{last.place}/"))
        self.page.get_by_role("button", name=re.compile("^Done")).click()
        self.page.get_by_label("Odometer").fill(str(self.car.odometer_km + 40))
        self.page.get_by_role("button", name="Close it").click()
        expect(self.page.locator("main")).to_contain_text("Closed.")

    def test_an_exhaust_from_its_bench_to_a_verdict(self):
        page = self.sign_in()
        self.go(self.at("check/breathing/"))
        page.locator("#lines-exhaust").fill(EXHAUST)
        page.locator("#run-exhaust").get_by_role("button", name=re.compile("^Put it into")).click()
        needs = page.locator("details.wants", has_text="Exhaust pipe 63.5 mm")
        expect(needs).to_contain_text("Silencer")
        needs.get_by_label(re.compile("Price of one, Silencer")).fill("210")
        needs.get_by_role("button", name="Want what this needs").click()
        expect(page.locator("body")).to_contain_text("without a price")
        self.go(self.at("plan/"))
        expect(page.locator("main")).to_contain_text("Exhaust pipe 63.5 mm, stainless steel, 2006 mm with the saw")
        expect(page.locator("main")).to_contain_text("210 EUR")
        job = self.sheet_of("exhaust")
        expect(page.locator(".step-list")).to_contain_text("mated on the floor and marked")
        self.assertNotIn("intake", {word for step in job.steps.all() for word in step.module.split()})
        gaps = job.steps.get(title__startswith="Exhaust gaps read")
        job.steps.filter(place__lt=gaps.place).update(state="done")
        self.go(self.at(f"fit/job/{job.pk}/{gaps.place}/"))
        page.get_by_label("Gap").first.fill("18")
        page.get_by_role("button", name=re.compile("^Save the readings")).click()
        expect(page.locator("body")).to_contain_text("1 reading saved")
        self.assertEqual(
            Reading.objects.filter(car=self.car, code="exhaust_body").order_by("-pk").first().values, [18.0]
        )
        self.close(job)
        expect(page).to_have_url(re.compile("/prove/"))
        expect(page.locator("main")).to_contain_text("Hours")
        states = set(
            Choice.objects.filter(build=self.held(), bench__startswith="run exhaust/").values_list("state", flat=True)
        )
        self.assertEqual(states, {"fitted"})

    def test_a_panel_from_its_card_to_plan_sheet_and_fuel_by_the_tank(self):
        page = self.sign_in()
        row = AirPanel.objects.get(car=self.car, name="Belly panel")
        self.go(self.at(f"check/air/?panel={row.pk}"))
        needs = page.locator("details.wants")
        expect(needs).to_contain_text("Bolts, wide washers and lock nuts for Belly panel")
        needs.get_by_role("button", name="Want what this needs").click()
        expect(page.locator("details.wants")).to_contain_text("all in it")
        self.go(self.at("plan/"))
        expect(page.locator("main")).to_contain_text("Belly panel")
        job = self.sheet_of("panel")
        expect(page.locator(".step-list")).to_contain_text("Belly panel")
        expect(page.locator(".step-list")).not_to_contain_text("hanger")
        self.close(job)
        self.go(self.at("prove/coast/"))
        page.get_by_label("Less fuel, as claimed").fill("3")
        page.get_by_label("Tanks differ by").fill("2")
        page.get_by_role("button", name="How many tanks").click()
        expect(page.locator("main")).to_contain_text("tanks before and as many after")

    def test_coilovers_from_the_list_to_ride_heights_read_back(self):
        page = self.sign_in()
        self.go(self.at("choose/parts/damper/"))
        page.get_by_label("Paste a line").fill(
            "coilovers 498 to 338 rate 52 N/mm free 210 block 92 room 176-232 seat 65 bolt 14 pair, 4.4 kg, 345, 6 weeks"
        )
        page.get_by_label("Name").fill("Hill coilovers")
        page.get_by_role("button", name="Add it").click()
        page.locator("tr", has_text="Hill coilovers").get_by_role("link", name="Add to build").click()
        page.get_by_label("Goes on").select_option("F")
        page.get_by_role("button", name="Add to build").click()
        expect(page.locator("main")).to_contain_text("Hill coilovers")
        job = self.sheet_of("springs", "height", "alignment")
        preload = job.steps.get(title__startswith="Preload on the bench")
        struts = list(job.steps.filter(title__contains="spring and damper in"))
        self.assertTrue(all(preload.place < step.place for step in struts) and struts)
        job.steps.filter(place__lt=preload.place).update(state="done")
        self.go(self.at(f"fit/job/{job.pk}/{preload.place}/"))
        page.get_by_label("Length of the coil, loose").first.fill("170")
        page.get_by_label("Length of the coil, wound up").first.fill("162")
        page.get_by_role("button", name=re.compile("^Save the readings")).click()
        expect(page.locator("body")).to_contain_text("1 reading saved")
        after = job.steps.get(title__startswith="Ride height at every corner again")
        job.steps.filter(place__lt=after.place).update(state="done")
        self.go(self.at(f"fit/job/{job.pk}/{after.place}/"))
        for place, height in enumerate(("342", "341")):
            page.get_by_label(re.compile("^Wheel centre to arch lip")).nth(place).fill(height)
        page.get_by_role("button", name=re.compile("^Save the readings")).click()
        expect(page.locator("body")).to_contain_text("2 readings saved")
        self.close(job)
        expect(page.locator("main")).to_contain_text("Ride height")
        kept = Reading.objects.filter(car=self.car, code="ride_height", corner="FL").order_by("-pk").first()
        self.assertEqual((kept.values, kept.outfit.name), ([342.0], f"{self.held().name}, as fitted"))
