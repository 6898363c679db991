"""axe finds no serious fault on any main page, in light and dark, at desk and phone size; forms refuse in words."""

from playwright.sync_api import expect

from demo.pictures import card_picture, card_section
from garage.air.models import AirPanel
from garage.air.services import keep_picture
from garage.car.parts import Part, Tyre, Wheel
from journeys.browser import AXE, Journey, titled
from planner.models import Choice
from shelf.cards import keep_card
from workshop.models import Job, Snag

PAGES = (
    "",
    "measure/",
    "measure/FL/",
    "measure/FL/arch_12/",
    "choose/",
    "choose/table/",
    "choose/parts/ring/",
    "choose/parts/caliper/",
    "choose/parts/damper/",
    "stands/",
    "stands/F/damper/",
    "check/weights/?gauge=pads_unzeroed",
    "rules/",
    "walk/",
    "check/FL/",
    "check/FL/trial/",
    "check/FL/template/",
    "check/shake/",
    "measure/FL/points/",
    "check/geometry/",
    "check/steering/",
    "check/alignment/",
    "check/weights/",
    "check/ride/",
    "check/square/",
    "check/breathing/",
    "check/sound/",
    "check/cooling/",
    "check/cooling/live/",
    "check/brakes/",
    "logs/add/?kind=pull",
    "prove/pulls/",
    "prove/coast/",
    "check/mass/?ask=money&goal=20&money=&hours=",
    "check/mass/scale/?gauge=scale",
    "check/mass/MA1/",
    "check/mass/labels/",
    "check/air/",
    "plan/",
    "fit/",
    "fit/tools/",
    "fit/removed/",
    "fit/removed/A1/",
    "fit/removed/labels/",
    "fit/templates/",
    "open/",
    "prove/",
)


#: what dark paper changes
CONTRAST = "{resultTypes: ['violations'], runOnly: {type: 'rule', values: ['color-contrast']}}"


class Axe(Journey):
    """Pages looked at in three classes, so that processes share the work."""

    def faults(self, page, asked="{resultTypes: ['violations']}"):
        page.evaluate(AXE.read_text())
        found = page.evaluate(f"axe.run(document, {asked})")
        return [
            f"{one['id']}: {one['nodes'][0]['html'][:160]}"
            for one in found["violations"]
            if one["impact"] in ("serious", "critical")
        ]

    def look_at(self, page, addresses, asked="{resultTypes: ['violations']}"):
        """No serious fault on any of these pages."""
        found, state = [], "load" if asked == CONTRAST else "networkidle"
        for address in addresses:
            self.go(address).wait_for_load_state(state)
            found += [(address, fault) for fault in self.faults(page, asked)]
        self.assertEqual(found, [], "\n".join(map(str, found)))

    def outside(self):
        """Pages of no car."""
        return ("/", "/settings/", "/car/new/")

    def more(self):
        """Pages that hang on what the scenario holds."""
        tyre = Tyre.objects.filter(car=self.car).first()
        keep_card(tyre, card_picture(card_section("17x8 +40", "225/45R17", 0.0), 200.0)[0])
        panel = AirPanel.objects.filter(car=self.car).first()
        keep_picture(panel, self.car.owner, card_picture(card_section("17x8 +40", "225/45R17", 0.0), 200.0)[0])
        wheels = "&".join(f"w={wheel.pk}" for wheel in Wheel.objects.filter(car=self.car)[:3])
        return (
            f"check/FL/compare/?{wheels}",
            "check/FL/?diameter=17&width=8&offset=55&steer=20&travel=30",
            f"choose/tyre/{tyre.pk}/trace/",
            f"check/air/{panel.pk}/picture/",
            *(
                f"choose/part/{part.pk}/{rest}"
                for part in [Part.objects.filter(car=self.car, name="Sensors").first()]
                for rest in ("", "quotes/")
            ),
            f"plan/put/{Part.objects.get(car=self.car, name='Four-pot set').pk}/",
            f"plan/part/{Choice.objects.filter(build__car=self.car).last().pk}/",
            f"fit/snag/{Snag.objects.get(closed_on__isnull=True, job__car=self.car).pk}/",
            f"fit/job/{Job.objects.get(build__name='Lighter sixteens').pk}/torque/",
        )

    def hanging(self):
        """The same with two steps of the sheet under way."""
        job = Job.objects.get(build__name="Hill season")
        return tuple(self.at(rest) for rest in (*self.more(), f"fit/job/{job.pk}/4/", f"fit/job/{job.pk}/17/"))


class Light(Axe):
    def test_main_pages(self):
        self.look_at(self.sign_in(), [self.at(rest) for rest in PAGES[: len(PAGES) // 2]])


class LightFurther(Axe):
    def test_main_pages(self):
        self.look_at(
            self.sign_in(), [*(self.at(rest) for rest in PAGES[len(PAGES) // 2 :]), *self.hanging(), *self.outside()]
        )


class Dark(Axe):
    def test_contrast_on_main_pages(self):
        page = self.sign_in()
        page.context.add_cookies([{"name": "theme", "value": "dark", "url": self.live_server_url}])
        self.look_at(page, [*(self.at(rest) for rest in PAGES), *self.hanging(), *self.outside()], CONTRAST)


class Elsewhere(Axe):
    def test_signed_out_and_on_the_phone(self):
        self.go("/sign-in/")
        self.assertEqual(self.faults(self.page), [])
        phone = self.sign_in(self.open("phone"))
        for rest in ("check/FL/", "fit/", "measure/", "measure/FL/", "walk/", "choose/parts/spacer/", "fit/tools/"):
            self.go(self.at(rest), phone).wait_for_load_state("networkidle")
            self.assertEqual((rest, self.faults(phone)), (rest, []))


class BadInput(Journey):
    def test_each_stage_refuses_in_words_and_keeps_the_typing(self):
        page = self.sign_in()
        self.go(self.at("measure/FL/damper/"))
        page.get_by_role("textbox", name=titled("Gap")).fill("1/0 in")
        page.get_by_role("button", name="Save the reading").click()
        expect(page.get_by_role("textbox", name=titled("Gap"))).to_have_value("1/0 in")
        expect(page.locator("main")).to_contain_text("can't have 0 below the line")
        self.go(self.at("choose/"))
        page.get_by_label("Paste a line").fill("17x8 5x108")
        page.get_by_role("button", name="Add it").click()
        expect(page.get_by_label("Paste a line")).to_have_value("17x8 5x108")
        expect(page.locator("main")).to_contain_text("The offset is missing")
        self.go(self.at("check/FL/"))
        page.locator("#bench-tyre").fill("225/45R99")
        page.locator("#bench-tyre").press("Tab")
        expect(page.locator("#bench")).to_contain_text("Rim diameter 99 is out of range")
        expect(page.locator("#bench-tyre")).to_have_value("225/45R99")
        self.go(self.at("prove/"))
        page.get_by_label("Name").fill("Hill sprint")
        page.get_by_role("button", name="Make the series").click()
        expect(page.locator("main")).to_contain_text("There is a series of that name")
