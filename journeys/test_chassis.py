"""From a spring that is pasted to a dip that is driven on the sheet; the old part written down.

A gauge that fills the form; blocks against leaves.
"""

from playwright.sync_api import expect

from garage.car.models import Car
from garage.chassis.models import KnownDip
from journeys.browser import Journey
from planner.models import Build
from workshop.models import Step


class Chassis(Journey):
    def test_springs_pasted_taken_into_the_build_and_the_dip_driven_on_the_sheet(self):
        page = self.sign_in()
        self.go(self.at("choose/parts/spring/"))
        page.get_by_label("Paste a line").fill(
            "springs 34 N/mm free 272 block 110 inside 118, set of 2, 118, 9 days, Harrow Gate Motorsport"
        )
        page.get_by_label("Name").fill("Thirty-fours")
        page.get_by_role("button", name="Add it").click()
        row = page.locator("tr", has_text="Thirty-fours")
        expect(row).to_contain_text("Frequency with these springs")
        expect(row).to_contain_text("mm lower between the same seats")
        row.get_by_role("link", name="Add to build").click()
        page.get_by_label("Goes on").select_option("F")
        page.get_by_role("button", name="Add to build").click()
        expect(page.locator("main")).to_contain_text("Thirty-fours")
        self.go(self.at("check/ride/"))
        expect(page.locator("aside")).to_contain_text("springs")
        page.get_by_role("button", name="Take that height into the build").click()
        expect(page.locator("main")).to_contain_text("mm lowered")
        drop = Build.objects.get(car=self.car, in_hand=True).lever("ride_drop_mm", "F")
        self.assertNotEqual(drop, 20)
        self.go(self.at("fit/"))
        for box in page.locator("input[name=module]").all():
            box.set_checked(box.get_attribute("value") in ("springs", "height"))
        page.get_by_role("button", name="Make a sheet from").click()
        page.locator(".step-list summary", has_text="Settle").click()
        page.get_by_role("link", name="Test dip, driven as always").click()
        expect(page.locator(".caution")).to_contain_text("Never test limits on public roads")
        expect(page.locator(".gate").first).to_contain_text("Wait until")

    def test_a_dip_is_driven_on_the_sheet_with_bad_figures_first(self):
        page = self.sign_in()
        self.go(self.at("fit/"))
        for box in page.locator("input[name=module]").all():
            box.set_checked(box.get_attribute("value") == "height")
        page.get_by_role("button", name="Make a sheet from").click()
        dip = Step.objects.filter(kind="dip", job__build__name="Hill season").order_by("-job_id", "place").first()
        dip.job.steps.filter(place__lt=dip.place).update(state="done")
        self.go(self.at(f"fit/job/{dip.job_id}/{dip.place}/"))
        page.get_by_label("Cable tie moved").fill("deep")
        page.get_by_role("button", name="Save the dip").click()
        expect(page.get_by_label("Cable tie moved")).to_have_value("deep")
        page.get_by_label("Cable tie moved").fill("1 5/8 in")
        page.get_by_label("Lowered when it was driven").fill("-5")
        page.get_by_role("button", name="Save the dip").click()
        expect(page.locator("main")).to_contain_text("the build's from now on")
        self.assertAlmostEqual(KnownDip.objects.first().shaft_mm, 41.275)

    def test_the_old_damper_is_written_down_and_the_new_one_is_judged(self):
        page = self.sign_in()
        self.go(self.at("measure/"))
        page.get_by_role("link", name="Chassis parts fitted").click()
        page.locator(".col-lg-6", has=page.get_by_role("heading", name="Rear")).get_by_role(
            "link", name="Damper or coilover"
        ).click()
        page.get_by_label("Length extended, mount to mount").fill("480")
        page.get_by_label("Length compressed").fill("490")
        page.get_by_role("button", name="Save it").click()
        expect(page.locator("main")).to_contain_text("Must be below the extended length")
        expect(page.get_by_label("Length extended, mount to mount")).to_have_value("480")
        page.get_by_label("Length compressed").fill("330")
        page.get_by_label("Length at ride height").fill("402")
        page.get_by_role("button", name="Save it").click()
        expect(page.locator("main")).to_contain_text("480 mm")

    def test_pads_that_were_not_zeroed_are_told_and_a_zeroed_set_is_kept(self):
        self.car = Car.objects.get(owner=self.car.owner, nickname__startswith="Gannel")
        page = self.sign_in()
        self.go(self.at("check/weights/"))
        page.get_by_role("link", name="weigh without zeroing").click()
        expect(page.locator("aside")).to_contain_text("was not zeroed")
        page.get_by_role("link", name="weigh as if turned").click()
        expect(page.locator("aside")).to_contain_text("Four pads (simulation)")
        page.get_by_role("button", name="Save the pads").click()
        expect(page.locator("main")).to_contain_text("Four pads saved")
        expect(page.locator("main .st-clear").first).to_be_visible()

    def test_blocks_against_leaves(self):
        self.car = Car.objects.get(owner=self.car.owner, nickname__startswith="Strath")
        page = self.sign_in()
        self.go(self.at("plan/"))
        page.locator("li", has_text="Up on blocks").get_by_role("button", name="Make current").click()
        self.go(self.at("check/ride/"))
        expect(page.locator("main")).to_contain_text("the block makes")
        self.go(self.at("plan/"))
        page.locator("li", has_text="Up on leaves").get_by_role("button", name="Make current").click()
        self.go(self.at("check/ride/"))
        expect(page.locator("main")).not_to_contain_text("the block makes")
        expect(page.locator("aside")).to_contain_text("leaf packs")

    def test_on_a_phone_nothing_runs_out_of_the_page(self):
        page = self.sign_in(self.open("phone"))
        for rest in (
            "stands/",
            "stands/F/damper/",
            "choose/parts/damper/",
            "check/ride/",
            "check/square/",
            "check/weights/?gauge=pads",
            "check/alignment/?gauge=angle",
        ):
            self.go(self.at(rest), page)
            self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 392, rest)
