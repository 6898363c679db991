"""Eighteen kinds of work, each from an empty car to a verdict in Prove, every other one in inches and pounds.

A part is pasted as a shop writes it, put into a build with what it also needs, its sheet gone through with its readings
at its steps, and closed. What is only pressed at a step is pressed once by hand; the rest are taken as done.
"""

import re
from dataclasses import dataclass, field
from time import perf_counter

from django.contrib.auth.models import User
from playwright.sync_api import expect

from garage.car.models import Car
from garage.person.models import Preferences
from journeys.browser import Journey
from planner.models import Build
from workshop.models import Job, Step

INCHES = {
    "length_unit": "in",
    "mass_unit": "lb",
    "torque_unit": "lbf·ft",
    "pressure_unit": "psi",
    "speed_unit": "mph",
    "distance_unit": "mi",
    "temperature_unit": "°F",
    "rate_unit": "lbf/in",
}


@dataclass(frozen=True, kw_only=True)
class Kind:
    """A kind of work: parts as lines of a shop, readings before, at its steps and after, what Prove says."""

    name: str
    parts: tuple[tuple[str, str], ...]
    inches: bool = False
    #: (corner or "", station, value by the field's place)
    before: tuple[tuple[str, str, tuple[str, ...]], ...] = ()
    #: words of a step -> values of its fields, in order
    at_steps: dict = field(default_factory=dict)
    #: addresses below the car that must open and know something
    opens: tuple[str, ...] = ()
    wheels: bool = False
    proves: str = "Money"


KINDS = (
    Kind(
        name="wheels and tyres",
        parts=(
            ("wheel", "Varnholt 17x7.5 +40 5x108 63.4, 18.5 lb, $1,240 set of 4"),
            ("tyre", "Harl 215/45R17 91W 20 lb $134 each"),
        ),
        inches=True,
        wheels=True,
        before=(("FL", "damper", ("10.3", "0.7")),),
        opens=("check/FL/",),
    ),
    Kind(
        name="rings and a shake",
        parts=(("ring", "ring 63.4 → 72.6 solid aluminium, 6.00, 4 days"),),
        opens=("check/shake/",),
    ),
    Kind(
        name="coilovers",
        parts=(("damper", "coilover kit Varnholt street, $1,190, 2 weeks"),),
        inches=True,
        before=(("FL", "ride_height", ("14.4",)),),
        at_steps={"Preload on the bench": ("6.7", "6.4")},
        opens=("check/ride/",),
    ),
    Kind(
        name="springs on a rusty car",
        parts=(("spring", "springs 40 mm lower, 189, 1 week"),),
        before=(("FL", "bump", ("95",)), ("FL", "ride_height", ("365",))),
        opens=("check/ride/",),
    ),
    Kind(
        name="caster and camber",
        parts=(("top_mount", "camber plates pillow ball camber ±2, $260"),),
        inches=True,
        before=(("FL", "camber", ("-0.8",)),),
        opens=("check/alignment/",),
    ),
    Kind(
        name="rack forward",
        parts=(("rack_bracket", "rack bracket bolt-in bracket forward 26 mm, 240"),),
        before=(("FL", "steer_plan", ("700", "660", "130", "300", "150")),),
        opens=("check/steering/",),
    ),
    Kind(
        name="lock clearance with other arms",
        parts=(("control_arm", "control arms lower 13-13.8 in, $420"),),
        inches=True,
        opens=("check/steering/",),
    ),
    Kind(
        name="shifter",
        parts=(("shifter", "short shifter throw 65 %, 145"),),
        before=(),
        at_steps={"Throw at the knob read": ("110",), "Throw at the knob again": ("72",)},
        opens=("check/gearing/",),
    ),
    Kind(
        name="crossmember",
        parts=(("subframe", "subframe used 4 mounts, $180"),),
        inches=True,
        before=(("", "sump_gap", ("0.7",)),),
        opens=("check/square/",),
    ),
    Kind(
        name="lift, gears, brakes",
        parts=(
            ("leaf_pack", "leaf springs lift 6 in, $650"),
            ("axle_gears", "axle gears 4.10, 540"),
            ("brake_pads", "brake pads tow, 85"),
        ),
        inches=True,
        opens=("check/gearing/", "check/brakes/"),
    ),
    Kind(
        name="intake",
        parts=(("intake_pipe", "intake pipe 76 x 400 mm aluminium, 0.6 kg, 48"),),
        opens=("check/breathing/",),
    ),
    Kind(
        name="exhaust",
        parts=(("silencer", "silencer 2.5 x 17.7 in, 11 lb, $165"),),
        inches=True,
        at_steps={"Exhaust gaps read": ("0.7",)},
        opens=("check/breathing/", "check/sound/"),
    ),
    Kind(
        name="belly panel",
        parts=(("panel", "belly panel 1.1 m² aluminium, +3.1 kg, 28"),),
        at_steps={"Room from the panel": ("35",), "Gap from the panel": ("35",)},
        opens=("check/air/",),
    ),
    Kind(
        name="splitter",
        parts=(("splitter", "splitter plywood 3.4 sq ft, +4.6 lb, $64"),),
        inches=True,
        at_steps={"Lip height read again": ("4.1",)},
        opens=("check/air/",),
    ),
    Kind(
        name="weight out",
        parts=(("seat", "bucket seat left M8, −8.8 kg, 320"),),
        before=(("", "car_mass", ("1210",)),),
        opens=("check/mass/",),
    ),
    Kind(
        name="radiator and bleed",
        parts=(("radiator", "aluminum radiator 26 x 13 x 1.5 in 2 rows, 9 lb, $185"),),
        inches=True,
        before=(("", "core_space", ("27.6", "13.8", "2.5")),),
        opens=("check/cooling/", "check/cooling/by-hand/"),
    ),
    Kind(
        name="radiator mount made",
        parts=(("radiator", "radiator 660 x 325 x 36 mm, 185"), ("other", "other brackets for the radiator, 24")),
        before=(("", "core_space", ("700", "345", "62")),),
        opens=("check/cooling/",),
    ),
    Kind(
        name="brakes and pads",
        parts=(("brake_pads", "brake pads track, $85"), ("rotor", "brake discs 11.81 x 0.945 in, $96")),
        inches=True,
        opens=("check/brakes/",),
    ),
)


class Eighteen(Journey):
    laid = False

    def count(self, fields=0, pages=0):
        self.fields, self.pages = self.fields + fields, self.pages + pages

    def fill(self, place, text):
        place.fill(text)
        self.count(fields=1)

    def visit(self, rest):
        self.count(pages=1)
        return self.go(self.at(rest))

    def new_car(self, kind):
        """An empty car, made in the browser; its person reads in inches or in millimetres."""
        if kind.inches:
            Preferences.objects.update_or_create(user=self.user, defaults=INCHES)
        page = self.go("/car/new/")
        self.fill(page.get_by_label("Nickname"), "Finch")
        page.get_by_label("Driven wheels").select_option("rear")
        page.get_by_role("button", name="Add it").click()
        expect(page.locator("#wheels-F")).to_be_visible()
        self.count(fields=1, pages=1)
        self.car = Car.objects.get(nickname="Finch", owner=self.user)

    def enter_wheels(self):
        for end in ("F", "R"):
            form = self.page.locator(f"#wheels-{end}")
            self.fill(form.get_by_label("Wheel", exact=False).first, "16x6.5 ET50 5x108 63.4")
            self.fill(form.get_by_label("Tyre", exact=False).first, "205/55R16 91V")
            form.get_by_role("button", name=re.compile("^Save .* wheels")).click()
            expect(self.page.locator(f"#wheels-{end}")).to_be_visible()

    def read(self, corner, code, values):
        page = self.visit(f"measure/{corner}/{code}/" if corner else f"measure/car/{code}/")
        boxes = page.locator("main form input[type=text]:visible")
        for place, value in enumerate(values):
            self.fill(boxes.nth(place), value)
        page.get_by_role("button", name="Save the reading").click()
        expect(page.locator("body")).to_contain_text("saved")

    def put(self, family, line):
        page = self.visit(f"choose/parts/{family}/")
        self.fill(page.get_by_label("Paste a line"), line)
        page.get_by_role("button", name="Add it").click()
        page.get_by_role("link", name="Add to build").last.click()
        self.count(pages=1)
        place = page.get_by_label("Goes on")
        if place.input_value() == "":
            place.select_option("F")
            self.count(fields=1)
        page.get_by_role("button", name="Add to build").click()
        expect(page.locator("main")).to_contain_text("First")

    def put_pair(self, parts):
        page = self.visit("choose/")
        for _, line in parts:
            self.fill(page.get_by_label("Paste a line"), line)
            page.get_by_role("button", name="Add it").click()
            expect(page.locator("body")).to_contain_text("On the list:")
        page.locator("button[name=build]").first.click()
        expect(page.locator("body")).to_contain_text("First")

    def walk(self, kind, job):
        """The sheet: what is read is read at its step, the last step is pressed, the rest are as done."""
        for words, values in kind.at_steps.items():
            step = job.steps.filter(title__startswith=words).first()
            if step is None:
                continue
            job.steps.filter(place__lt=step.place, state="todo").update(state="done")
            page = self.visit(f"fit/job/{job.pk}/{step.place}/")
            boxes = page.locator("form.step-reads input[type=text]")
            for place, value in enumerate(values):
                self.fill(boxes.nth(place), value)
            save = page.get_by_role("button", name=re.compile("^Save the readings"))
            save.click()
            if page.locator("input[name$='-sure']").count():
                # it differs from the last reading by more than both ±, and is right
                page.locator("input[name$='-sure']").check()
                save.click()
            page.wait_for_url(lambda url, here=step.place: not url.endswith(f"/{here}/"))
            self.assertTrue(step.taken.exists(), f"{kind.name}: {words}")
        last = job.steps.order_by("-place").first()
        Step.objects.filter(job=job, state="todo").exclude(pk=last.pk).update(state="done")
        page = self.visit(f"fit/job/{job.pk}/{last.place}/")
        if page.get_by_role("button", name="Close it").count() == 0:
            page.locator("button.big").last.click()
        self.fill(page.get_by_label("Odometer"), "56010" if kind.inches else "90010")
        page.get_by_role("button", name="Close it").click()
        page.wait_for_url(re.compile("/prove/"))

    def go_through(self, kind):
        self.fields = self.pages = 0
        self.user = User.objects.create_user("finch", password="a long one of five words")
        began = perf_counter()
        page = self.sign_in_as(self.user)
        page.set_default_timeout(30_000)
        expect.set_options(timeout=30_000)
        self.new_car(kind)
        if kind.wheels:
            self.enter_wheels()
        for corner, code, values in kind.before:
            self.read(corner, code, values)
        self.visit("plan/")
        self.fill(page.get_by_label("Name"), "First")
        page.get_by_role("button", name="Make a build").click()
        expect(page.locator("body")).to_contain_text("First")
        if kind.wheels:
            self.put_pair(kind.parts)
        else:
            for family, line in kind.parts:
                self.put(family, line)
        for rest in kind.opens:
            text = self.visit(rest).locator("main").inner_text()
            self.assertNotRegex(text.lower(), "enter the wheels on the car first|nothing on this car to check")
            self.assertGreater(len(text), 200, rest)
        self.visit("plan/")
        if page.get_by_role("button", name="Add everything needed").count():
            page.get_by_role("button", name="Add everything needed").first.click()
            expect(page.locator("body")).to_contain_text("First")
        self.visit("fit/")
        page.get_by_role("button", name=re.compile("Make a sheet from")).click()
        expect(page.locator(".step-list").first).to_be_visible()
        job = Job.objects.get(car=self.car)
        self.assertGreater(job.steps.count(), 4)
        self.walk(kind, job)
        main = page.locator("main")
        expect(main).to_contain_text(kind.proves)
        self.assertTrue(main.locator("table.ledger tbody tr").count(), kind.name)
        self.assertEqual(
            set(Build.objects.get(car=self.car).choices.exclude(state="fitted").values_list("state", flat=True))
            - {"wanted", "ordered"},
            set(),
        )
        print(
            f"{kind.name}: {self.fields} fields, {self.pages} pages, {job.steps.count()} steps, {perf_counter() - began:.1f} s"
        )
        self.assertEqual(self.complaints, [])


def _of(kind):
    def test(self):
        self.go_through(kind)

    return test


for _kind in KINDS:
    setattr(Eighteen, f"test_{re.sub('[^a-z]+', '_', _kind.name)}", _of(_kind))
