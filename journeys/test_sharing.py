"""A car is shared in the browser: a link read without an account, a helper who measures, a car that changes hands."""

from django.contrib.auth.models import User
from playwright.sync_api import expect

from garage.car.models import Car
from garage.readings.models import Reading
from journeys.browser import Journey, titled


class Sharing(Journey):
    def test_link_helper_and_hand_over(self):
        page = self.sign_in()
        User.objects.create_user("kez", password="tape-measure-9")
        self.go(self.at("share/"))
        page.get_by_label("What it shows").select_option(label="The build book")
        page.get_by_role("button", name="Make a link").click()
        address = page.get_by_label("Address of the link").input_value()
        reader = self.open("phone")
        reader.goto(address)
        expect(reader.locator("h1")).to_have_text(self.car.nickname)
        reader.get_by_role("link", name="imperial").click()
        expect(reader.locator("#readings")).to_contain_text(" in")
        page.get_by_label(titled("Sign-in name")).fill("kez")
        page.get_by_label("May").select_option("works")
        page.get_by_role("button", name="Let them help").click()
        page.get_by_label("Sign-in name of the next owner").fill("kez")
        page.get_by_role("button", name="Offer it").click()
        expect(page.locator("main")).to_contain_text("Offered to kez")

        theirs = self.open("desk")
        self.go("/sign-in/", theirs)
        theirs.get_by_label("Username").fill("kez")
        theirs.get_by_label("Password").fill("tape-measure-9")
        theirs.get_by_label("Password").press("Enter")
        theirs.get_by_role("link", name=self.car.nickname).click()
        expect(theirs.get_by_role("note")).to_contain_text("you help with it")
        count = Reading.objects.filter(car=self.car).count()
        self.go(self.at("measure/FL/bump/"), theirs)
        theirs.locator("[name=value]").fill("61")
        theirs.get_by_role("button", name="Save the reading").click()
        theirs.wait_for_load_state("networkidle")
        self.assertEqual(Reading.objects.filter(car=self.car).count(), count + 1)
        self.go("/", theirs)
        theirs.get_by_role("button", name="Take the car").click()
        expect(theirs.locator("main")).to_contain_text("is yours")
        self.assertEqual(Car.objects.filter(owner__username="kez").count(), 1)
        self.go(self.at("measure/"))
        expect(page.get_by_role("note")).to_contain_text("A copy to read")
        reader.reload()
        expect(reader.locator("h1")).to_have_text("Not found")
        self.complaints = [one for one in self.complaints if "404" not in one]
