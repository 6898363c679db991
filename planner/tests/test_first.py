"""Three questions: a first judgement from a handful of fields, and nothing half kept."""

from garage.car.models import Car
from garage.readings.models import Reading
from planner.models import Build
from shell.models import Change
from shell.tests.base import ScenarioCase
from shell.undo import undo


class First(ScenarioCase):
    GIVEN = {
        "nickname": "Fen",
        "stands": "16x6.5 +50 5x108 63.4, 205/55R16 91V",
        "rear": "",
        "wanted": "17x8 +40 5x108, 225/45R17 91W",
        "corner": "FL",
        "station": "damper",
        "height_mm": "262",
        "value": "15",
        "value2": "",
        "drive": "R",
        "suspension_front": "strut",
        "suspension_rear": "multilink",
    }

    def setUp(self):
        super().setUp()
        self.new = self.person("wren")
        self.client.force_login(self.new)

    def post(self, **changed):
        return self.client.post("/start/", self.GIVEN | changed)

    def test_an_empty_garage_leads_there(self):
        self.assertContains(self.client.get("/"), "Begin with three questions")
        self.assertContains(self.client.get("/start/"), "Where it may be tight")

    def test_a_true_judgement_of_what_was_read(self):
        answer = self.post()
        car = Car.objects.get(owner=self.new)
        self.assertRedirects(answer, f"/car/{car.pk}/check/FL/")
        page = self.client.get(answer.url)
        damper = next(j for j in page.context["gaps"] if j.code == "gap.damper")
        self.assertIsNotNone(damper.value)
        self.assertIn(damper.state, ("clear", "tight", "hit"))
        self.assertEqual(Build.objects.get(car=car).in_hand, True)
        self.assertEqual({axle.wheel for axle in car.outfits.get().axles.all()}, {"16x6.5 +50 5x108 63.4"})

    def test_the_judgement_is_that_of_the_long_way(self):
        """The demo's car has the same wheels, the same reading and the same pair: the gap at the damper is the same."""
        self.post()
        car = Car.objects.get(owner=self.new)
        gap = next(j for j in self.client.get(f"/car/{car.pk}/check/FL/").context["gaps"] if j.code == "gap.damper")
        moved = self.client.get(f"/car/{car.pk}/check/FL/?offset=35").context["gaps"]
        self.assertAlmostEqual(next(j for j in moved if j.code == "gap.damper").value - gap.value, 5.0, delta=0.6)

    def test_at_the_lip_and_other_wheels_at_the_rear(self):
        answer = self.post(
            station="arch_12", height_mm="", value="31", value2="62", corner="RR", rear="16x7 +42 5x108, 215/55R16"
        )
        car = Car.objects.get(owner=self.new)
        self.assertRedirects(answer, f"/car/{car.pk}/check/RR/")
        self.assertEqual(car.outfits.get().axles.get(end="R").wheel, "16x7 +42 5x108")
        kept = Reading.objects.get(car=car)
        self.assertEqual((kept.values, kept.where, kept.typed, kept.corner), ([31.0, 62.0], {}, "31 / 62", "RR"))

    def test_other_wheels_wanted_at_the_rear_are_judged_at_the_rear(self):
        answer = self.post(corner="RL", wanted_rear="17x9 +32 5x108, 245/40R17 91W")
        build = Build.objects.get(car__owner=self.new)
        chosen = sorted((one.position, one.part.family, one.quantity) for one in build.choices.select_related("part"))
        self.assertEqual(chosen, [("F", "tyre", 2), ("F", "wheel", 2), ("R", "tyre", 2), ("R", "wheel", 2)])
        fitted = self.client.get(answer.url).context["setting"].candidate.fitted
        self.assertEqual(
            (fitted.wheel.width_in, fitted.wheel.offset_mm, fitted.tyre.section_width_mm), (9.0, 32.0, 245)
        )

    def test_what_was_asked_is_kept_and_the_hub_is_read_off_the_wheel(self):
        self.post()
        car = Car.objects.get(owner=self.new)
        hubs = {axle.end: axle for axle in car.axles.all()}
        self.assertEqual((car.drive, hubs["F"].suspension, hubs["R"].suspension), ("R", "strut", "multilink"))
        self.assertEqual((hubs["F"].bolts, hubs["F"].pcd_mm, hubs["F"].bore_mm), (5, 108.0, 63.4))
        pattern = next(
            one for one in self.client.get(f"/car/{car.pk}/check/FL/").context["others"] if one.code == "hub.pattern"
        )
        self.assertEqual((pattern.state, pattern.inputs[0].source), ("clear", "read off the wheel that stands there"))
        self.assertContains(
            self.client.get(f"/car/{car.pk}/"), "108, read off the wheel that stands there; blank: stays so"
        )
        own = {"what": "hub-F", "hub-F-suspension": "strut", "hub-F-bore_mm": "63.4"}
        self.assertEqual(self.client.post(f"/car/{car.pk}/", own).status_code, 302)
        kept = car.axles.get(end="F")
        self.assertEqual((kept.bolts, kept.pcd_mm, kept.bore_mm, kept.off_wheel), (5, 108.0, 63.4, ["bolts", "pcd_mm"]))

    def test_bad_input_keeps_nothing_and_loses_nothing(self):
        for changed, said in (
            ({"stands": "some wheels"}, "o wheel and tyre in it; accepted: 16x6.5 +50"),
            ({"wanted": "17x8 225/45R17"}, "offset is missing"),
            ({"wanted": "17x8 +40 225/45R18"}, "for a rim of 18 in, the wheel has 17"),
            ({"height_mm": ""}, "At which height did the rule lie"),
            ({"station": "arch_12", "value2": ""}, "The lip is read twice"),
            ({"value": "900"}, "accepted: 0 to 600"),
            ({"value": "wide"}, "“wide” can&#x27;t be read as length"),
            ({"height_mm": "700"}, "accepted: "),
            ({"station": "kpi"}, "Select a valid choice"),
            ({"nickname": ""}, "This field is required"),
            ({"value": ""}, "This field is required"),
            ({"drive": ""}, "This field is required"),
            ({"suspension_rear": "air"}, "Select a valid choice"),
            ({"wanted_rear": "17x9"}, "tyre"),
            ({"stands": "x" * 300}, "at most 200 characters"),
        ):
            answer = self.post(**changed)
            self.assertEqual(answer.status_code, 422, changed)
            self.assertContains(answer, said, status_code=422)
            for name, typed in (self.GIVEN | changed).items():
                if typed and name not in ("corner", "station", "drive", "suspension_front", "suspension_rear"):
                    self.assertContains(answer, f'value="{typed}"', status_code=422, msg_prefix=name)
        self.assertFalse(Car.objects.filter(owner=self.new).exists())
        self.assertFalse(Change.objects.filter(user=self.new).exists())

    def test_it_is_one_change_and_can_be_undone(self):
        self.post()
        change = Change.objects.get(user=self.new)
        self.assertEqual(change.label, "Fen begun")
        undo(self.new, change.pk)
        self.assertFalse(Car.objects.filter(owner=self.new).exists())

    def test_it_asks_for_an_account(self):
        self.client.logout()
        self.assertEqual(self.client.get("/start/").status_code, 302)
