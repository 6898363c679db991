"""Cars, hubs, readings: what is kept, what is refused, what can be undone."""

from django.db import IntegrityError, transaction
from django.utils import timezone

from garage.car.models import Axle, Car, Outfit
from garage.person.models import ToleranceSet
from garage.readings.models import Reading
from shell.models import Change
from shell.tests.base import ScenarioCase
from shell.undo import CannotUndo, undo


class ManyValues(ScenarioCase):
    def test_every_value_of_a_station_has_its_field_and_is_kept_and_shown(self):
        """A station with more than two values once lost those after the second."""
        for code, values in (
            ("core_space", ["701", "345", "62"]),
            ("driveline", ["3.1", "4.2", "-2.5"]),
            ("mixture", ["1.01", "0.98", "0.86"]),
            ("battery_voltage", ["12.61", "14.22"]),
        ):
            names = ["value", "value2", "value3"]
            answer = self.client.post(
                self.url(f"measure/car/{code}/"),
                {
                    **dict(zip(names, values, strict=False)),
                    "method": "rule",
                    "taken_on": f"{timezone.localdate():%Y-%m-%d}",
                },
            )
            self.assertEqual(answer.status_code, 302, answer.context and answer.context["form"].errors)
            kept = Reading.objects.filter(car=self.car, code=code).get()
            self.assertEqual(kept.values, [float(value) for value in values])
            self.assertContains(
                self.page(f"measure/car/{code}/"), " / ".join(value.replace("-", "−") for value in values)
            )


class NewCar(ScenarioCase):
    def test_a_blank_odometer_is_nought_and_later_as_it_was(self):
        sent = {
            "nickname": "Moth",
            "use": "street",
            "drive": "F",
            "currency": "EUR",
            "hours_per_week": 5,
            "odometer_km": "",
        }
        self.client.post("/car/new/", sent)
        car = Car.objects.get(nickname="Moth")
        self.assertEqual(car.odometer_km, 0)
        Car.objects.filter(pk=car.pk).update(odometer_km=70)
        self.client.post(f"/car/{car.pk}/", {**sent, "form": "car"})
        car.refresh_from_db()
        self.assertEqual(car.odometer_km, 70)

    def test_from_nothing_to_a_judged_gap(self):
        self.client.force_login(self.person())
        self.client.post(
            "/car/new/",
            {
                "nickname": "Moth",
                "use": "street",
                "drive": "F",
                "odometer_km": 1000,
                "currency": "EUR",
                "hours_per_week": 5,
            },
        )
        car = Car.objects.get(nickname="Moth")
        base = f"/car/{car.pk}/"
        refused = self.client.post(
            base + "measure/FL/damper/",
            {"height_mm": "260", "value": "9.5", "method": "rule", "taken_on": "2026-01-05"},
            follow=True,
        )
        self.assertContains(refused, "First say which wheels stand on the car")
        for end in "FR":
            kept = self.client.post(
                base,
                {
                    "what": f"wheels-{end}",
                    f"wheels-{end}-wheel": "16x6.5 +50 5x108 63.4",
                    f"wheels-{end}-tyre": "205/55R16 91V",
                    f"wheels-{end}-camber_deg": "-0°30'",
                },
            )
            self.assertRedirects(kept, base)
        self.assertEqual(car.outfits.get().axles.get(end="F").camber_deg, -0.5)
        self.client.post(
            base,
            {
                "what": "hub-F",
                "hub-F-suspension": "strut",
                "hub-F-bolts": 5,
                "hub-F-pcd_mm": "108",
                "hub-F-bore_mm": "63.4",
                "hub-F-nut_torque_nm": "80 ft-lb",
            },
        )
        self.assertAlmostEqual(Axle.objects.get(car=car, end="F").nut_torque_nm, 108.47, places=2)
        self.client.post(
            base + "measure/FL/damper/",
            {"height_mm": "260", "value": "11/16 in", "method": "rule", "taken_on": "2026-01-05"},
        )
        reading = Reading.objects.get(car=car)
        self.assertEqual(
            (reading.value, reading.typed, reading.uncertainty, reading.method), (17.4625, "11/16 in", 1.0, "rule")
        )
        self.assertContains(self.client.get(base + "measure/FL/"), "17.5")


class Refusals(ScenarioCase):
    def test_what_was_typed_stays_and_the_message_says_what_is_accepted(self):
        cases = [
            (
                "measure/FL/damper/",
                {"height_mm": "260", "value": "about nine", "method": "rule", "taken_on": "2026-01-05"},
                "about nine",
                "accepted",
            ),
            (
                "measure/FL/damper/",
                {"height_mm": "260", "value": "-3", "method": "rule", "taken_on": "2026-01-05"},
                'value="-3"',
                "Out of range",
            ),
            (
                "measure/FL/damper/",
                {"height_mm": "260", "value": "9", "method": "rule", "taken_on": "2199-01-05"},
                "2199-01-05",
                "has not come yet",
            ),
            (
                "measure/FL/liner_rear_lock/",
                {"u": "inner", "steer_deg": "2", "value": "9", "method": "rule", "taken_on": "2026-01-05"},
                'value="2"',
                "Full lock",
            ),
            (
                "",
                {"what": "wheels-F", "wheels-F-wheel": "16x6.5 5x108", "wheels-F-tyre": "205/55R16"},
                "16x6.5 5x108",
                "offset",
            ),
            (
                "",
                {"what": "wheels-F", "wheels-F-wheel": "16x6.5 +50", "wheels-F-tyre": "225/45R17"},
                "225/45R17",
                "does not go on",
            ),
            (
                "",
                {"what": "hub-F", "hub-F-suspension": "strut", "hub-F-thread": "bolt", "hub-F-stud_length_mm": "30"},
                'value="bolt"',
                "not a thread",
            ),
            (
                "",
                {
                    "what": "hub-F",
                    "hub-F-suspension": "strut",
                    "hub-F-bolt_length_mm": "30",
                    "hub-F-stud_length_mm": "30",
                },
                'value="30"',
                "not both",
            ),
            ("", {"what": "odometer", "odometer-odometer_km": "far"}, "far", "read as distance"),
            ("", {"what": "car", "car-nickname": "", "car-hours_per_week": "900"}, "900", "required"),
        ]
        readings, revision = Reading.objects.count(), Change.objects.count()
        for rest, data, kept, words in cases:
            with self.subTest(data=data):
                response = self.client.post(self.url(rest), data)
                self.assertContains(response, kept, status_code=422)
                self.assertContains(response, words, status_code=422)
        self.assertEqual((Reading.objects.count(), Change.objects.count()), (readings, revision))

    def test_a_refused_form_does_not_reach_the_board(self):
        answer = self.client.post(
            self.url(""), {"what": "car", "car-nickname": "Other name", "car-hours_per_week": "900"}
        )
        self.assertContains(answer, 'value="Other name"', status_code=422)
        self.assertContains(answer, ">Tarn, the blue one</a>", status_code=422)

    def test_the_database_refuses_too(self):
        baseline = Outfit.objects.get(car=self.car, is_baseline=True)
        broken = [
            lambda: Reading.objects.create(
                car=self.car, outfit=baseline, corner="XX", code="damper", values=[1], typed="1", uncertainty=1
            ),
            lambda: Reading.objects.create(
                car=self.car, outfit=baseline, corner="FL", code="damper", values=[1], typed="1", uncertainty=-1
            ),
            lambda: Outfit.objects.create(car=self.car, name="second baseline", is_baseline=True),
            lambda: Axle.objects.create(car=self.car, end="F"),
            lambda: Axle.objects.filter(car=self.car, end="F").update(stud_length_mm=1, bolt_length_mm=1),
            lambda: Car.objects.create(owner=self.user, nickname="", hours_per_week=5),
        ]
        for break_it in broken:
            with self.assertRaises(IntegrityError), transaction.atomic():
                break_it()


class Histories(ScenarioCase):
    def test_a_newer_reading_stands_over_an_older_one(self):
        before = Reading.objects.filter(corner="FL", code="damper").count()
        self.client.post(
            self.url("measure/FL/damper/"),
            {"height_mm": "262", "value": "14,5", "method": "caliper", "taken_on": timezone.localdate().isoformat()},
        )
        self.assertEqual(Reading.objects.filter(corner="FL", code="damper").count(), before + 1)
        newest = next(r for r in self.file().latest if r.corner == "FL" and r.code == "damper" and r.height_mm == 262)
        self.assertEqual((newest.value, newest.uncertainty), (14.5, 0.1))
        self.assertContains(self.page("measure/FL/damper/"), "5/8 in")

    def test_mirrored_only_when_asked_and_marked(self):
        self.assertFalse(Reading.objects.filter(mirrored_from__isnull=False).exists())
        original = Reading.objects.get(car=self.car, corner="FL", code="liner_rear")
        self.client.post(self.url(f"reading/{original.pk}/mirror/"))
        copy = Reading.objects.get(mirrored_from=original)
        self.assertEqual((copy.corner, copy.value), ("FR", original.value))
        self.assertContains(self.page("measure/FR/"), "assumed from the other side")

    def test_struck_out_counts_no_more_and_stays(self):
        reading = Reading.objects.get(car=self.car, corner="RL", code="damper")
        self.client.post(self.url(f"reading/{reading.pk}/strike/"), {"why": ""})
        self.assertIn(reading, self.file().latest)
        self.client.post(self.url(f"reading/{reading.pk}/strike/"), {"why": "rule stood on the weld"})
        self.assertNotIn(reading, self.file().latest)
        self.assertContains(self.page("measure/RL/damper/"), "rule stood on the weld")


class ChangedWheels(ScenarioCase):
    def keep(self, changed):
        data = {
            "wheels-F-wheel": "16x7 +40 5x108 63.4",
            "wheels-F-tyre": "205/55R16 91V",
            "wheels-F-camber_deg": "-0.6",
            "wheels-F-changed": changed,
        }
        self.assertEqual(self.client.post(self.url(""), {"what": "wheels-F", **data}).status_code, 302)

    def damper(self):
        reading = next(r for r in self.file().core_readings() if r.corner == "FL" and r.code == "damper")
        return reading.present.wheel.offset_mm

    def test_a_correction_moves_the_readings_with_it(self):
        outfits = Outfit.objects.count()
        self.keep("correct")
        self.assertEqual((Outfit.objects.count(), self.damper()), (outfits, 40))

    def test_changed_wheels_leave_the_readings_with_the_old_ones(self):
        outfits = Outfit.objects.count()
        self.keep("changed")
        self.assertEqual((Outfit.objects.count(), self.damper()), (outfits + 1, 45))
        self.assertEqual(self.file().fitted(self.file().current, "F").wheel.offset_mm, 40)
        self.assertEqual(self.file().fitted(self.file().current, "R").wheel.offset_mm, 45)


class Undo(ScenarioCase):
    def test_a_reading_and_a_change_are_taken_back(self):
        count = Reading.objects.count()
        self.client.post(
            self.url("measure/FR/liner_rear/"),
            {"u": "centre", "value": "30", "method": "rule", "taken_on": "2026-01-05"},
        )
        self.client.post(self.url(""), {"what": "odometer", "odometer-odometer_km": "150000"})
        for expected in ("odometer", "liner"):
            change = Change.objects.filter(user=self.user).first()
            self.assertIn(expected, change.label)
            self.client.post(f"/undo/{change.pk}/")
        self.car.refresh_from_db()
        self.assertEqual((Reading.objects.count(), self.car.odometer_km), (count, 142310))

    def test_a_deletion_comes_back_as_it_was(self):
        one = ToleranceSet.objects.get()
        self.client.post("/settings/", {"what": f"remove-{one.pk}"})
        self.assertFalse(ToleranceSet.objects.exists())
        undo(self.user, Change.objects.first().pk)
        self.assertEqual(ToleranceSet.objects.get().liner_mm, one.liner_mm)

    def test_only_the_newest_and_only_my_own(self):
        self.client.post(self.url(""), {"what": "odometer", "odometer-odometer_km": "150000"})
        first = Change.objects.first().pk
        self.client.post(self.url(""), {"what": "odometer", "odometer-odometer_km": "150001"})
        with self.assertRaises(CannotUndo):
            undo(self.user, first)
        with self.assertRaises(CannotUndo):
            undo(self.person(), Change.objects.first().pk)

    def test_a_failed_change_leaves_nothing(self):
        from shell.undo import remember

        with self.assertRaises(RuntimeError), remember(self.user, "breaks"):
            self.car.nickname = "half"
            self.car.save()
            raise RuntimeError
        self.car.refresh_from_db()
        self.assertNotEqual(self.car.nickname, "half")
        self.assertFalse(Change.objects.exists())


class Removing(ScenarioCase):
    def test_only_with_its_name_typed(self):
        self.client.post(self.url("remove/"), {"confirm": "tarn"})
        self.assertTrue(Car.objects.filter(pk=self.car.pk).exists())
        self.client.post(self.url("remove/"), {"confirm": "Tarn, the blue one"})
        self.assertFalse(Car.objects.filter(pk=self.car.pk).exists())


class Margins(ScenarioCase):
    def test_copy_edit_and_use(self):
        self.client.post("/settings/", {"what": "copy", "copy-school": "show", "copy-name": "Low"})
        one = ToleranceSet.objects.get(name="Low")
        self.assertEqual((one.school, one.arch_side_mm), ("show", 2.0))
        values = {
            f"set-{one.pk}-{name}": "4 mm"
            for name in (
                "damper_mm",
                "perch_mm",
                "arch_side_mm",
                "arch_up_mm",
                "liner_mm",
                "rail_mm",
                "caliper_mm",
                "joint_mm",
                "growth_mm",
                "flex_mm",
            )
        }
        self.client.post("/settings/", {"what": f"set-{one.pk}", f"set-{one.pk}-name": "Low", **values})
        one.refresh_from_db()
        self.assertEqual(one.arch_up_mm, 4.0)
        self.assertContains(self.page(f"check/FL/?school=set-{one.pk}"), "wants 4 mm")
        again = self.client.post("/settings/", {"what": "copy", "copy-school": "show", "copy-name": "Low"})
        self.assertContains(again, "choose another", status_code=422)
