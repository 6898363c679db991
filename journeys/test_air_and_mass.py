"""Ten items weighed on the telephone; from the goal to the best set to its sheet; a panel dragged, kept and on paper.

A coast-down from its file; a label that opens its item.
"""

import re

from playwright.sync_api import expect

from demo.pictures import card_picture, card_section
from garage.air.models import AirPanel
from garage.logs.models import Log
from garage.mass.models import MassItem
from gauges import streams
from journeys.browser import Journey, click_in, missed
from workshop.models import Job


class Mass(Journey):
    def test_ten_items_on_the_telephone(self):
        page = self.sign_in(self.open("phone"))
        before = MassItem.objects.filter(car=self.car).count()
        self.go(self.at("check/mass/scale/?gauge=scale"), page)
        expect(page.locator("main")).to_contain_text("Bench scale (simulation)")
        for number in range(10):
            page.get_by_label("What lies on it").fill(f"Bracket {number}")
            page.get_by_label("With its box").fill(f"{1 + number / 10:.1f}")
            if number == 0:
                page.get_by_label("The empty box").fill("0.4")
            page.get_by_role("button", name="Save it, next").click()
            expect(page.locator("main")).to_contain_text(f"Bracket {number}")
        self.assertEqual(MassItem.objects.filter(car=self.car).count(), before + 10)
        self.assertAlmostEqual(MassItem.objects.get(name="Bracket 9").net_kg, 1.5, places=6)
        wide = page.evaluate("document.documentElement.scrollWidth - document.documentElement.clientWidth")
        self.assertLessEqual(wide, 0)
        small = page.locator(
            ".sheet button, .sheet input[type=text], .sheet input[type=number], .sheet .form-check"
        ).evaluate_all("all => all.filter(e => e.offsetParent && e.getBoundingClientRect().height < 44).length")
        self.assertEqual(small, 0)
        page.get_by_label("With its box").fill("0.2")
        page.get_by_label("What lies on it").fill("Feather")
        page.get_by_role("button", name="Save it, next").click()
        expect(page.locator("main")).to_contain_text("empty box weighs more")
        expect(page.get_by_label("What lies on it")).to_have_value("Feather")

    def test_from_the_goal_to_the_best_set_to_the_sheet(self):
        page = self.sign_in()
        self.go(self.at("check/mass/"))
        page.get_by_label("Wanted", exact=True).select_option("money")
        page.get_by_role("button", name="Find it").click()
        expect(page.locator("aside")).to_contain_text("Say the kilograms that are wanted")
        page.get_by_label("Goal, net").fill("20")
        page.get_by_role("button", name="Find it").click()
        expect(page.locator("aside")).to_contain_text("Passenger's seat")
        page.get_by_text("Why not the others").click()
        expect(page.locator("aside")).to_contain_text("never proposed")
        page.locator("aside svg a").last.click()
        expect(page).to_have_url(re.compile("money="))
        page.get_by_role("button", name="Plan these").click()
        expect(page.locator("main")).to_contain_text("has a strip session")
        self.go(self.at("fit/"))
        for box in page.locator("input[name=module]").all():
            box.set_checked(box.get_attribute("value") == "strip")
        page.get_by_role("button", name="Make a sheet from").click()
        expect(page.locator("main")).to_contain_text("Out: Passenger's seat, label")
        self.assertEqual(Job.objects.filter(car=self.car).first().modules, ["strip"])

    def test_a_label_opens_its_item(self):
        page = self.sign_in()
        self.go(self.at("check/mass/labels/"))
        expect(page.locator(".bag-labels svg").first).to_be_visible()
        item = MassItem.objects.get(car=self.car, name="Parcel shelf")
        self.go(self.at(f"check/mass/{item.label}/"))
        expect(page.get_by_label("What it is")).to_have_value("Parcel shelf")
        page.get_by_label("Shelf and box").fill("loft, box 9")
        page.get_by_role("button", name="Save it").click()
        item.refresh_from_db()
        self.assertEqual(item.kept_where, "loft, box 9")


class Air(Journey):
    def test_a_panel_from_its_readings_to_paper(self):
        page = self.sign_in()
        self.go(self.at("check/air/?panel=new"))
        page.get_by_label("Which panel").fill("Front plate")
        card = page.get_by_label("Card, a station a line")
        card.fill("0 300 150\n400 420\n800 380")
        card.blur()
        expect(page.locator("#air-sheet")).to_contain_text("0.608 m²")
        card.fill("0 300 150\n400 wide\n800 380")
        card.blur()
        expect(page.locator("#air-sheet .alert")).to_contain_text("Line 2")
        card.fill("0 300 150\n400 420\n800 380")
        card.blur()
        handle = page.locator(".underside .handle").nth(1)
        expect(handle).to_be_visible()
        box = handle.bounding_box()
        page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
        page.mouse.down()
        page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2 + 20, steps=4)
        page.mouse.up()
        expect(card).not_to_have_value(re.compile("400 420"))
        expect(page.locator("#air-sheet")).not_to_contain_text("0.608 m²")
        lower = card.input_value().splitlines()
        card.fill("\n".join([lower[0], f"{lower[1]} 150", f"{lower[2]} 150"]))
        page.get_by_label("Its front edge behind the front axle").fill("900")
        page.get_by_label("Its front edge behind the front axle").blur()
        slopes = page.locator("#air-slopes")
        expect(slopes.locator(".panel-line")).to_have_count(2)
        before = slopes.locator("p.small").inner_text()
        point = slopes.locator(".handle").nth(1)
        point.scroll_into_view_if_needed()
        box = point.bounding_box()
        page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
        page.mouse.down()
        page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2 + 10, steps=4)
        page.mouse.up()
        expect(slopes.locator("p.small")).not_to_have_text(before)
        expect(slopes).to_contain_text("at Front plate")
        page.get_by_role("button", name="Save the panel").click()
        expect(page.locator("main")).to_contain_text("Front plate saved")
        made = AirPanel.objects.get(car=self.car, name="Front plate")
        self.assertRegex(made.stations, r"^0 300 150\s+\d+ 4[3-9]\d (\d{2}|1[0-4]\d)\s+800 380 150$")
        self.assertEqual(made.front_mm, 900.0)
        page.get_by_role("link", name="On paper, A4 tiles").click()
        expect(page.locator("svg.tile").first).to_be_visible()
        self.assertGreater(page.locator("svg.tile").count(), 8)

    def test_a_panel_from_a_photographed_card(self):
        page = self.sign_in()
        panel = AirPanel.objects.get(car=self.car, name="Belly panel")
        self.go(self.at(f"check/air/?panel={panel.pk}"))
        page.get_by_role("link", name="Outline from a picture").click()
        picture, _ = card_picture(card_section("17x8 +40", "225/45R17", 0.0), 205.0)
        page.get_by_label("Picture of the card").set_input_files(
            {"name": "card.jpg", "mimeType": "image/jpeg", "buffer": picture}
        )
        page.get_by_role("button", name="Use this picture").click()
        card = page.locator("[data-card]")
        expect(page.locator("[data-next]")).to_contain_text("front end of the control bar")
        clicked = [(100.0, 150.0), (400.0, 150.0), (50.0, 40.0), (480.0, 60.0), (460.0, 260.0), (60.0, 240.0)]
        for x, y in clicked:
            click_in(page, card, x, y)
        self.assertEqual(missed(page, clicked), [])
        page.get_by_role("button", name="Use this outline").click()
        expect(page.locator("main")).to_contain_text("required")
        self.assertEqual(missed(page, clicked), [])
        page.get_by_label("Length of the control bar").fill("600")
        page.get_by_label("Its front end behind").fill("1500")
        page.get_by_role("button", name="Use this outline").click()
        expect(page.locator("main")).to_contain_text("is the traced outline now")
        expect(page.locator("#air-sheet")).to_contain_text("Area")
        first = AirPanel.objects.get(pk=panel.pk).outline.splitlines()[0].split()
        self.assertAlmostEqual(float(first[0]), 1400.0, delta=3.0)
        self.assertAlmostEqual(float(first[1]), -220.0, delta=3.0)

    def test_a_coast_down_from_its_file(self):
        page = self.sign_in()
        Log.objects.filter(car=self.car, kind="coast", when="after").delete()
        self.go(self.at("logs/add/?kind=coast"))
        page.get_by_label("What it is").fill("Airfield, panel")
        page.get_by_label("Before or after").select_option("after")
        bomb = b'<?xml version="1.0"?><!DOCTYPE gpx [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]><gpx>&b;</gpx>'
        page.get_by_label("The file").set_input_files(
            {"name": "x.gpx", "mimeType": "application/gpx+xml", "buffer": bomb}
        )
        page.get_by_role("button", name="Look at it").click()
        expect(page.locator("main")).to_contain_text("declares entities")
        expect(page.get_by_label("What it is")).to_have_value("Airfield, panel")
        page.get_by_label("The file").set_input_files(
            {"name": "x.csv", "mimeType": "text/csv", "buffer": streams.coast_csv(0.66, 1295.0, 4)}
        )
        page.get_by_role("button", name="Look at it").click()
        page.get_by_label("Air that day").fill("9")
        page.get_by_label("Pressure at the place").fill("99.4 kPa")
        page.get_by_label("Weight in the runs").fill("1295")
        page.get_by_role("button", name="Save it").click()
        expect(page.locator("main")).to_contain_text("CdA")
        expect(page.locator("main")).to_contain_text("not proven")
        page.get_by_label("Less fuel, as claimed").fill("5")
        page.get_by_role("button", name="How many tanks").click()
        expect(page.locator("aside")).to_contain_text("tanks before and as many after")
