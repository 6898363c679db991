"""Other sets of wheels: entered, checked on the car with tread and age, put on from a day on; what came off is a set."""

from datetime import timedelta

from django.contrib.auth import get_user_model
from django.utils import timezone

from garage.car.models import Outfit
from shelf.models import WheelSet
from shell.tests.base import ScenarioCase
from shell.undo import last_change, undo

WINTER = {
    "name": "Winter steels",
    "purpose": "winter",
    "stored": "cellar, left shelf",
    "wheel_F": "16x7 +40 5x108 63.4",
    "tyre_F": "205/55R16 91H",
    "tread_F": "3.5",
    "code_F": "2319",
}


class Sets(ScenarioCase):
    def setUp(self):
        super().setUp()
        WheelSet.objects.all().delete()

    def add(self, **other):
        return self.client.post(self.url("choose/sets/"), {**WINTER, **other})

    def test_a_set_is_checked_on_this_car_as_any_pair_is(self):
        self.add()
        one = self.page("choose/sets/").context["sets"][0]
        codes = {j.code for j in one.judgements}
        self.assertIn("set.age", codes)
        self.assertTrue({code for code in codes if code.startswith(("gap.", "hub."))}, codes)
        state = {(j.code, j.where): j.state for j in one.judgements}
        self.assertEqual((state["set.age", "front"], state["set.tread", "front"]), ("tight", "tight"))
        self.assertEqual((state["set.age", "rear"], state["set.tread", "rear"]), ("unmeasured", "unmeasured"))
        self.assertEqual([axle.wheel_part.line for axle in one.axles], ["16x7 +40 5x108 63.4"] * 2)

    def test_it_is_put_on_from_a_day_on_and_what_came_off_is_a_set(self):
        self.add()
        before = self.file()
        stood = {end: before.on(before.current, end) for end in "FR"}
        lines = {end: (axle.wheel, axle.tyre) for end, axle in stood.items()}
        row = WheelSet.objects.get(name="Winter steels")
        self.client.post(self.url(f"choose/sets/{row.pk}/fit/"), {"since": f"{timezone.localdate():%Y-%m-%d}"})
        after = self.file()
        self.assertEqual((after.current.name, after.current.since), ("Winter steels", timezone.localdate()))
        self.assertEqual(after.on(after.current, "R").tyre, "205/55R16 91H")
        self.assertEqual(after.on(after.current, "F").spacer_mm, 0.0)
        self.assertEqual(after.on(after.current, "F").ride_drop_mm, stood["F"].ride_drop_mm)
        self.assertNotIn("pad_thickness_mm", after.on(after.current, "F").wheel_part.spec)
        off = WheelSet.objects.get(car=self.car)
        self.assertEqual(
            {axle.end: (axle.wheel_part.line, axle.tyre_part.spec["size"]) for axle in off.axles.all()}, lines
        )
        # put on again, all that was known of it is back: spacers, measured section, seat, tread and age
        self.client.post(self.url(f"choose/sets/{off.pk}/fit/"), {"since": f"{timezone.localdate():%Y-%m-%d}"})
        again = self.file()
        for end, axle in stood.items():
            now = again.on(again.current, end)
            self.assertEqual(now.spacer_mm, axle.spacer_mm)
            for old, new in ((axle.wheel_part, now.wheel_part), (axle.tyre_part, now.tyre_part)):
                self.assertEqual(new.mass_kg, old.mass_kg)
                self.assertEqual({k: new.spec.get(k) for k in old.spec}, old.spec)
        back = WheelSet.objects.get(name="Winter steels").axles.get(end="F")
        self.assertEqual((back.tread_mm, back.date_code), (3.5, "2319"))
        undo(self.user, last_change(self.user).pk)
        # what was read with the wheels of before stays with them
        self.assertEqual({r.outfit_id for r in after.readings if r.made_at}, {r.outfit_id for r in before.readings})
        undo(self.user, last_change(self.user).pk)
        self.assertEqual(self.file().current.name, before.current.name)
        self.assertEqual(WheelSet.objects.get(car=self.car).name, "Winter steels")

    def test_its_nuts_come_due_those_of_the_set_before_it_do_not_and_undo_takes_them_back(self):
        def due():
            return [(one.what, one.due_km) for one in self.car.follow_ups.filter(job=None).order_by("due_km")]

        self.add()
        self.add(name="Track")
        km = self.file().car.odometer_km
        for name in ("Winter steels", "Track"):
            row = WheelSet.objects.get(name=name)
            page = self.client.post(
                self.url(f"choose/sets/{row.pk}/fit/"), {"since": f"{timezone.localdate():%Y-%m-%d}"}, follow=True
            )
            self.assertContains(page, "again after 80 km: it is noted")
            self.assertEqual(
                due(),
                [
                    (f"Wheel nuts, re-torque, {name} after 80 km", km + 80),
                    (f"Wheel nuts, re-torque, {name} after 800 km", km + 800),
                ],
            )
        undo(self.user, last_change(self.user).pk)
        self.assertIn("Winter steels", due()[0][0])

    def test_only_between_the_newest_outfit_and_today(self):
        self.add()
        row, count = WheelSet.objects.get(name="Winter steels"), Outfit.objects.count()
        newest = self.file().current.since
        for day in (timezone.localdate() + timedelta(days=1), newest - timedelta(days=1), "x"):
            page = self.client.post(self.url(f"choose/sets/{row.pk}/fit/"), {"since": str(day)}, follow=True)
            self.assertContains(page, "was not put on")
        self.assertEqual(Outfit.objects.count(), count)

    def test_bad_input_is_told_and_stays(self):
        for values, words in (
            ({"tyre_F": "225/45R17"}, "A tyre for 17 in on a wheel of 16 in."),
            ({"wheel_F": "16x7 5x108"}, "offset is missing"),
            ({"code_F": "9919"}, "no date code"),
            ({"code_F": "5098"}, "week to come"),
            ({"tread_F": "90"}, "accepted"),
            ({"wheel_F": ""}, "required"),
        ):
            with self.subTest(values):
                page = self.add(**values)
                self.assertContains(page, words, status_code=422)
                self.assertContains(page, "cellar, left shelf", status_code=422)
        self.assertFalse(WheelSet.objects.exists())
        self.add()
        self.assertContains(self.add(), "There is a set", status_code=422)

    def test_tread_is_in_the_persons_unit(self):
        preferences = self.user.preferences
        preferences.length_unit = "in"
        preferences.save()
        self.add(tread_F="0.16")
        self.assertAlmostEqual(WheelSet.objects.get().axles.get(end="F").tread_mm, 4.064)

    def test_strangers_and_removal(self):
        self.add()
        row = WheelSet.objects.get()
        self.client.force_login(get_user_model().objects.create_user("stranger", password="a long one of theirs"))
        self.assertEqual(self.client.get(self.url("choose/sets/")).status_code, 404)
        self.assertEqual(self.client.post(self.url(f"choose/sets/{row.pk}/remove/")).status_code, 404)
        self.client.force_login(self.user)
        self.client.post(self.url(f"choose/sets/{row.pk}/remove/"))
        self.assertFalse(WheelSet.objects.exists())
