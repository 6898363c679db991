"""One rule of units: a walk over every kind of address as somebody who reads inches, pounds, lbf·ft, mph, °F and psi."""

import re
from html.parser import HTMLParser

from garage.car.models import Car
from garage.person.models import Preferences
from shell.tests.base import ScenarioCase

#: a figure in one of the core's units, or one of them standing alone
FOREIGN = re.compile(
    r"\d[\d.,]*[\s\u2009\u00a0]*(?:mm|cm|kg|N·m|Nm|km/h|km|bar|kPa|°C|kW|L|N/mm|m)(?![\w/·³²])"
    r"|(?<![\w/(,])(?:mm|kg|N·m|km/h|kPa|°C|kW|N/mm)(?![\w/·])"
)
#: what may stand in them: trade conventions, and examples of what a field reads
MAY = re.compile(
    r"offset|^to, mm$|bolt circle|hub collar|hub spigot|centre bore|110 Nm, 80 ft-lb|kgf/mm|joint on the floor|caliper, to|Use metric|Nm, |L, |kg, |"
    r"kW, |bar, |control bar|Formula, in|such as half a tank|8\.4 kg|14k|per mm|printed|1:1|1 : ",
    re.IGNORECASE,
)
#: fields of trade conventions: everybody says them in millimetres
TRADE = re.compile(r"(pcd|bore|offset)_mm$")
#: attributes that are read out or seen
SAID = ("placeholder", "aria-label", "title", "aria-valuetext")


class Seen(HTMLParser):
    """What a page shows: texts and labels, and where it leads; somebody's own words left out."""

    VOID = frozenset(("input", "br", "img", "hr", "meta", "link", "path", "line", "circle", "rect", "use"))

    def __init__(self):
        super().__init__()
        self.texts, self.links, self.hidden, self.fields = [], set(), [], []

    def handle_starttag(self, tag, attrs):
        given = dict(attrs)
        if tag == "a" and given.get("href"):
            self.links.add(given["href"])
        if self.hidden:
            if tag == self.hidden[0] and tag not in self.VOID:
                self.hidden.append(tag)
            return
        if tag not in self.VOID and (
            tag in ("script", "style", "textarea", "option") or "as-typed" in (given.get("class") or "")
        ):
            self.hidden.append(tag)
            return
        self.texts += [given[name] for name in SAID if given.get(name)]
        if (
            tag == "input"
            and given.get("type") != "hidden"
            and given.get("value")
            and not TRADE.search(given.get("name") or "")
        ):
            self.texts.append(given["value"])

    def handle_endtag(self, tag):
        if self.hidden and tag == self.hidden[0]:
            self.hidden.pop()

    def handle_data(self, text):
        if not self.hidden and text.strip():
            self.texts.append(" ".join(text.split()))


class InInches(ScenarioCase):
    """Every kind of address of the demo's cars, once."""

    maxDiff = None

    def setUp(self):
        super().setUp()
        units = dict(zip(Preferences.UNITS, Preferences.PRESETS["imperial"], strict=True))
        Preferences.objects.update_or_create(user=self.user, defaults=units)

    def walk(self):
        todo = [f"/car/{car.pk}/measure/" for car in Car.objects.filter(owner=self.user)] + [
            "/",
            "/settings/",
            "/start/",
        ]
        kinds = set()
        while todo:
            address = todo.pop(0).split("#")[0]
            kind = re.sub(r"/car/\d+/", "/car/#/", address).partition("?")[0]
            kind = re.sub(r"/\d+/", "/#/", re.sub(r"/(FL|FR|RL|RR|F|R)/", "/*/", kind))
            if kind in kinds:
                continue
            kinds.add(kind)
            answer = self.client.get(address)
            if answer.status_code != 200 or "html" not in answer.headers.get("Content-Type", ""):
                continue
            seen = Seen()
            seen.feed(answer.content.decode())
            todo += [
                link
                for link in sorted(seen.links)
                if link.startswith("/") and not link.startswith(("/static", "/sign-out"))
            ]
            yield address, seen
        self.assertGreater(len(kinds), 100)

    def test_no_page_says_a_foreign_unit(self):
        foreign = {}
        for address, seen in self.walk():
            for text in seen.texts:
                if FOREIGN.search(text) and not MAY.search(text):
                    foreign.setdefault(re.sub(r"[\d.,−]+", "#", text)[:120], address)
        self.assertEqual(foreign, {})

    def post(self, rest, **data):
        return self.client.post(self.url(rest), data)

    def test_bare_numbers_of_every_kind_are_the_persons(self):
        """88 is lbf·ft, 153 is inches, 900 is pounds, 33 is psi, 61 is °F, 88,400 is miles."""
        car = self.file().car
        whole = {
            "what": "car",
            "car-nickname": car.nickname,
            "car-use": car.use,
            "car-drive": car.drive,
            "car-currency": "EUR",
        }
        self.post(
            "",
            **whole,
            **{
                "car-hours_per_week": "7",
                "car-wheelbase_mm": "100",
                "car-front_axle_kg": "1800",
                "car-odometer_km": "88400",
            },
        )
        car.refresh_from_db()
        self.assertAlmostEqual(car.wheelbase_mm, 2540.0)
        self.assertAlmostEqual(car.front_axle_kg, 1800 * 0.45359237, places=4)
        self.assertEqual(car.odometer_km, round(88400 * 1.609344))
        hub = {"what": "hub-F", "hub-F-suspension": "strut", "hub-F-nut_torque_nm": "88"}
        self.post("", **hub)
        self.assertAlmostEqual(self.file().axles["F"].nut_torque_nm, 88 * 1.3558179483, places=4)
        noted = {
            "what": "condition",
            "condition-noted_on": "2026-11-20",
            "condition-front_kpa": "33",
            "condition-air_c": "61",
        }
        self.post("", **noted)
        made = car.conditions.order_by("-pk").first()
        self.assertAlmostEqual(made.front_kpa, 33 * 6.894757293, places=3)
        self.assertAlmostEqual(made.air_c, (61 - 32) / 1.8, places=4)

    def test_limits_are_said_in_the_persons_unit_and_what_was_typed_stays(self):
        car = self.file().car
        whole = {
            "what": "car",
            "car-nickname": car.nickname,
            "car-use": car.use,
            "car-drive": car.drive,
            "car-currency": "EUR",
        }
        answer = self.post("", **whole, **{"car-hours_per_week": "7", "car-wheelbase_mm": "2560"})
        self.assertContains(answer, "39.37 in to 236.22 in", status_code=422)
        self.assertContains(answer, 'value="2560"', status_code=422)

    def test_what_is_kept_is_shown_to_be_kept_again(self):
        """A form sent back as it came changes nothing."""
        before = self.file().axles["F"].pcd_mm, self.file().car.wheelbase_mm
        page = self.client.get(self.url(""))
        html = page.content.decode()
        found = re.search(r'name="car-wheelbase_mm" value="([^"]+)"', html)
        self.assertIsNotNone(found)
        self.assertIn(" in", found[1])
        self.assertEqual(before, (self.file().axles["F"].pcd_mm, self.file().car.wheelbase_mm))

    def test_presets_are_one_press(self):
        self.client.post("/settings/", {"what": "preset-mixed"})
        mine = Preferences.objects.get(user=self.user)
        self.assertEqual(
            (mine.length_unit, mine.mass_unit, mine.fuel_unit, mine.temperature_unit), ("mm", "lb", "mpg UK", "°C")
        )
        self.client.post("/settings/", {"what": "preset-metric"})
        self.assertContains(self.page("plan/"), "kg")

    def test_a_lever_of_the_well_is_read_in_inches_and_its_address_says_its_unit(self):
        page = self.page("check/FL/?drop=1&tyre=225/45R17 91W&diameter=17&width=8&offset=40&camber=-1.8")
        self.assertAlmostEqual(page.context["setting"].values["drop"], 25.4)
        self.assertIn("drop=25.4+mm", page.context["query"])

    def test_a_run_of_pipe_and_a_card_are_typed_in_inches(self):
        from garage.air.models import AirPanel
        from planner.models import PipeRun

        self.post(
            "check/breathing/", form="run", kind="exhaust", lines="pipe 2.5 x 30", pipes="1", rpm="6000", where="car"
        )
        self.assertTrue(PipeRun.objects.filter(car=self.car, kind="exhaust", lines="pipe 63.5 x 762").exists())
        sent = {
            "form": "panel",
            "name": "In inches",
            "stations": "0 15\n20 20",
            "sheet": "corrugated",
            "pitch_mm": "6",
            "edge_mm": "0.6",
        }
        self.post("check/air/", **sent)
        made = AirPanel.objects.get(car=self.car, name="In inches")
        self.assertEqual(made.stations.replace("\r", ""), "0 381\n508 508")
        self.assertAlmostEqual(made.pitch_mm, 152.4)
