"""From the floor sheet to the curves, and from over centre to a rack that is moved.

Typed, dragged, put into the build.
"""

from playwright.sync_api import expect

from demo.stable import ROADSTER_POINTS
from garage.car.models import Car
from garage.chassis.models import HardPoint
from journeys.browser import Journey
from planner.models import Build


class Links(Journey):
    def setUp(self):
        super().setUp()
        self.car = Car.objects.get(owner=self.car.owner, nickname__startswith="Gannel")

    def test_a_floor_sheet_becomes_curves(self):
        HardPoint.objects.filter(car=self.car).delete()
        page = self.sign_in()
        self.go(self.at("measure/FL/"))
        page.get_by_role("link", name="Hard points of the links").click()
        expect(page.locator("aside")).to_contain_text("9 of 9 to read")
        for name, point in ROADSTER_POINTS.items():
            for axis, value in zip(("across", "ahead", "up"), point, strict=True):
                if (name, axis) != ("hub", "ahead"):
                    page.locator(f"[name='{name}-{axis}']").fill(str(value))
        page.locator("[name='rod_inner-up']").fill("low")
        page.get_by_role("button", name="Save the points").click()
        expect(page.locator("main")).to_contain_text("Nothing is kept yet")
        expect(page.locator("[name='upper_rear-across']")).to_have_value("437")
        page.locator("[name='rod_inner-up']").fill("226")
        page.get_by_role("button", name="Save the points").click()
        expect(page.locator("aside")).to_contain_text("All 9 read")
        page.get_by_role("link", name="To the curves").click()
        expect(page.locator("figure.curve")).to_have_count(4)
        expect(page.locator("figure.curve canvas")).to_have_count(4)
        expect(page.locator("figure.curve svg").first).to_be_hidden()
        page.emulate_media(media="print")
        expect(page.locator("figure.curve svg").first).to_be_visible()
        page.emulate_media(media="screen")
        expect(page.locator("main")).to_contain_text("Read again first")
        page.get_by_role("link", name="Front right").click()
        expect(page.locator("main")).to_contain_text("not all read")

    def test_the_rack_is_dragged_to_over_centre_and_cured(self):
        page = self.sign_in()
        self.go(self.at("check/steering/?rack_forward_mm=0"))
        sheet = page.locator("#steer-sheet")
        expect(sheet).to_contain_text("it sticks at lock")
        rack = page.get_by_label("Rack", exact=True)
        rack.focus()
        rack.press("Home")
        expect(sheet).to_contain_text("a wheel can't follow the rack")
        page.get_by_label("Rack moved forward, mm").fill("36")
        page.get_by_label("Rack moved forward, mm").press("Tab")
        expect(sheet).not_to_contain_text("a wheel can't follow the rack")
        expect(sheet.locator(".state.st-clear").first).to_be_visible()
        page.get_by_role("button", name="Put it into Sprint fifteens").click()
        expect(page.locator("main")).to_contain_text("rack as tried")
        self.assertEqual(Build.objects.get(car=self.car, in_hand=True).lever("rack_forward_mm"), 36.0)
        expect(page.locator("#steer-sheet .state.st-clear").first).to_be_visible()

    def test_pads_are_typed_and_evened(self):
        page = self.sign_in()
        self.go(self.at("check/weights/"))
        expect(page.locator("main")).to_contain_text("47.9")
        for name, load in (("FL", "380"), ("FR", "269"), ("RL", "263"), ("RR", "260")):
            page.locator(f"[name='{name}']").fill(load)
        page.get_by_role("button", name="Save the pads").click()
        expect(page.locator("main")).to_contain_text("Zero the pads and read them again")
        page.locator("[name='FL']").fill("273")
        page.get_by_role("button", name="Save the pads").click()
        expect(page.locator("main")).to_contain_text("Four pads saved")
        expect(page.locator("main .st-clear").first).to_be_visible()
        expect(page.locator("main")).to_contain_text("Weighed before")

    def test_a_sweep_and_a_turn_say_what_to_turn(self):
        self.car = Car.objects.get(owner=self.car.owner, nickname__startswith="Tarn")
        page = self.sign_in()
        self.go(self.at("check/alignment/"))
        page.get_by_text("Caster by a sweep on turn plates").click()
        page.get_by_label("Camber, front edge outboard, front right").fill("-0.1")
        page.get_by_label("Camber, front edge inboard, front right").fill("-3.8")
        page.get_by_role("button", name="Save the angles").click()
        expect(page.locator("main")).to_contain_text("+5.4°")
        page.locator("[name='turn-corner']").select_option("FR")
        page.get_by_label("What was turned").fill("Tie rod")
        page.get_by_label("Toe now").fill("0.15")
        page.get_by_role("button", name="Save calibration").click()
        expect(page.locator("main")).to_contain_text("Tie rod is learnt")
        adjusters = page.locator("table.ledger:not(.print-only)")
        expect(adjusters).to_contain_text("toe +0.360°")
        page.get_by_role("button", name="Undo").click()
        expect(adjusters.locator("tbody tr")).to_have_count(1)

    def test_on_a_phone_nothing_runs_out_of_the_page(self):
        page = self.sign_in(self.open("phone"))
        for rest in (
            "measure/FL/points/",
            "check/geometry/",
            "check/steering/",
            "check/weights/",
            "check/alignment/",
            "check/ride/",
            "check/square/",
        ):
            self.go(self.at(rest), page)
            self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 392, rest)
