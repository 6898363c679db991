"""Stored readings as the core takes them: motion, placement, corrections, and what a page reads."""

from dataclasses import replace
from datetime import timedelta

from garage.car.models import Car, OutfitAxle
from garage.car.services import stand
from garage.chassis.models import HardPoint
from garage.file import open_file
from garage.inhand import as_it_stands
from garage.readings.corrections import placing
from garage.readings.models import Reading, Sighting
from planner.chosen import build_in_hand
from planner.queries import sums
from rimcore.well.read.measured import place_uncertainty_mm, placed
from rimcore.well.read.stations import STATIONS
from shelf.queries import listed_of
from shell.tests.base import ScenarioCase


class Motions(ScenarioCase):
    def add(self, code, value, value2=None, **where):
        like = Reading.objects.filter(car=self.car, corner="FL").order_by("taken_on").last()
        later = like.taken_on + timedelta(days=1)
        return Reading.objects.create(
            car=self.car,
            corner="FL",
            code=code,
            where=where,
            values=[value] if value2 is None else [value, value2],
            typed=str(value),
            method="gauge",
            uncertainty=0.1,
            who="Ina",
            taken_on=later,
            outfit=like.outfit,
            condition=like.condition,
        )

    def test_how_the_front_left_goes(self):
        motion = self.file().motions["FL"]
        self.assertEqual((motion.bump_mm, motion.steer_out_deg, motion.steer_in_deg), (72.0, 36.0, 33.0))
        self.assertEqual((motion.kpi_deg, motion.caster_deg, motion.kingpin_inboard_mm), (12.5, 4.2, 108.0))
        self.assertAlmostEqual(motion.camber_gain_deg_per_mm, (-1.1 + 0.6) / 50.0)
        self.assertEqual(motion.missing, ())
        self.assertEqual(self.file().motions["FR"].missing, ("bump", "droop", "lock_out", "lock_in"))

    def test_bump_read_on_a_lowered_car_is_counted_from_the_baseline(self):
        """Thirty lower, what the rule reads to the stop is thirty less than from the baseline."""
        OutfitAxle.objects.filter(outfit__car=self.car, outfit__is_baseline=False, end="F").update(ride_drop_mm=30.0)
        reading = self.add("bump", 42.0)
        reading.outfit = self.car.outfits.get(is_baseline=False)
        reading.save()
        self.assertAlmostEqual(self.file().motions["FL"].bump_mm, 72.0)

    def test_a_typed_gain_counts_until_two_heights_are_measured(self):
        self.add("camber_gain", -0.5)
        measured = self.file().motions["FL"].camber_gain_deg_per_mm
        self.assertAlmostEqual(measured, -0.01)
        Reading.objects.filter(car=self.car, code="camber_bump").update(struck_why="slipped")
        self.assertAlmostEqual(self.file().motions["FL"].camber_gain_deg_per_mm, -0.02)

    def test_the_roadsters_arm_and_the_tugs_lock_stop(self):
        roadster, tug = (Car.objects.get(nickname__startswith=name) for name in ("Gannel", "Strath"))
        hinge = open_file(self.user, roadster.pk).motions["FL"].hinge
        self.assertEqual((hinge.pivot_mm, hinge.joint_mm), ((-395.0, -88.0), (-84.0, -118.0)))
        self.assertEqual(open_file(self.user, tug.pk).motions["FL"].lock_stop_mm, 74.0)

    def test_a_struck_reading_says_nothing(self):
        Reading.objects.filter(car=self.car, code="lock_out", corner="FL").update(struck_why="gauge on the wrong rim")
        self.assertEqual(self.file().motions["FL"].missing, ("lock_out",))


class Placed(ScenarioCase):
    def test_core_readings_come_in_the_order_of_the_stored_ones(self):
        file = self.file()
        stored = placing(file)
        self.assertEqual([(r.corner, r.code) for r in stored], [(r.corner, r.code) for r in file.core_readings()])

    def test_a_trial_fit_moves_what_was_seen_and_nothing_else(self):
        file = self.file()
        seen = set(Sighting.objects.values_list("reading_id", flat=True))
        for stored, as_read, corrected in zip(
            placing(file), file.core_readings(as_read=True), file.core_readings(), strict=True
        ):
            self.assertEqual(corrected.corrected, stored.pk in seen)
            if stored.pk not in seen:
                self.assertEqual(as_read, corrected)
            else:
                self.assertEqual(
                    replace(corrected, moved_mm=(0, 0, 0), uncertainty_mm=0, spread_mm2=None, tied_mm2=()),
                    replace(as_read, moved_mm=(0, 0, 0), uncertainty_mm=0),
                )

    def test_the_measured_section_of_the_tyre_on_the_car_narrows_every_placement(self):
        def worst():
            return max(
                place_uncertainty_mm(reading)
                for reading in self.file().core_readings(as_read=True)
                if reading.corner == "RL"
            )

        known = worst()
        for axle in OutfitAxle.objects.filter(outfit__car=self.car):
            stand(axle.outfit, axle.end, {"measured_section_mm": None})
        self.assertAlmostEqual(known, 1.12, delta=0.01)
        self.assertAlmostEqual(worst(), 2.69, delta=0.01)

    def test_a_room_is_read_only_when_something_asks_for_it(self):
        with self.assertNumQueries(9):
            file = open_file(self.user, self.car.pk)
        with self.assertNumQueries(7):
            self.assertTrue(file.core_readings())  # they stand on the corner's links
        with self.assertNumQueries(0):
            self.assertTrue(file.motions and file.core_axle("F"))
        with self.assertNumQueries(1):
            self.assertTrue(listed_of(file).wheels and listed_of(file).tyres)
        with self.assertNumQueries(0):
            self.assertIs(listed_of(file), listed_of(file))


class Unlocked(ScenarioCase):
    """A reading changes the figures that its station says it unlocks."""

    def read(self, corner, code, value, **where):
        file = self.file()
        return Reading.objects.create(
            car=self.car,
            outfit=file.current,
            corner=corner,
            code=code,
            where=where,
            values=[value],
            typed=str(value),
            uncertainty=0.2,
            method="gauge",
        )

    def test_camber_feeds_the_pose(self):
        Reading.objects.filter(code="camber").delete()
        OutfitAxle.objects.filter(outfit__car=self.car).update(camber_deg=None)
        before = self.file()
        self.assertEqual(before.standing("F").fitted.camber_deg, 0.0)
        Reading.objects.filter(corner="RR").update(struck_why="none at this corner")
        self.assertGreater(dict(self.file().core_axle("R").motions)["RR"].doubt.camber_deg, 1.0)
        self.assertGreater(dict(before.core_axle("F").motions)["FL"].doubt.camber_deg, 1.0)
        self.read("FL", "camber", -2.0)
        self.read("FR", "camber", -1.0)
        after = self.file()
        self.assertEqual(after.standing("F").fitted.camber_deg, -1.5)
        self.assertLess(dict(after.core_axle("F").motions)["FL"].doubt.camber_deg, 1.0)

    def test_a_blank_camber_is_no_reading_for_the_gain(self):
        Reading.objects.filter(code__in=("camber", "camber_gain", "camber_bump")).delete()
        OutfitAxle.objects.filter(outfit__car=self.car).update(camber_deg=None)
        HardPoint.objects.filter(car=self.car).delete()
        self.read("FL", "camber_bump", -2.5, travel_mm=50)
        self.assertIsNone(self.file().motions["FL"].camber_gain_deg_per_mm)
        OutfitAxle.objects.filter(outfit__car=self.car).update(camber_deg=-1.0)
        self.assertAlmostEqual(self.file().motions["FL"].camber_gain_deg_per_mm, -0.03, places=3)

    def test_corner_masses_are_the_load_of_an_axle_nobody_wrote(self):
        Car.objects.filter(pk=self.car.pk).update(front_axle_kg=None)
        Reading.objects.filter(code="corner_mass").delete()
        self.assertIsNone(self.file().core_axle("F").axle_load_kg)
        self.read("FL", "corner_mass", 402.0)
        self.assertIsNone(self.file().core_axle("F").axle_load_kg)
        self.read("FR", "corner_mass", 398.0)
        self.assertEqual(self.file().core_axle("F").axle_load_kg, 800.0)

    def test_a_speed_or_a_mass_of_nothing_is_refused_and_one_that_is_kept_counts_for_nothing_and_is_told(self):
        Reading.objects.filter(code="corner_mass").delete()
        for corner, code in (("", "true_speed"), ("FL", "corner_mass"), ("FR", "corner_mass")):
            address = self.url(f"measure/{corner or 'car'}/{code}/")
            refused = self.client.post(
                address, {"value": "0", "uncertainty": "1", "method": "logger", "taken_on": "2026-11-20"}
            )
            self.assertEqual(refused.status_code, 422, code)
            self.read(corner, code, 0.0)
        Car.objects.filter(pk=self.car.pk).update(front_axle_kg=None)
        file = self.file()
        self.assertEqual(file.core_axle("F").true_at_100_kmh, 96.6, "the reading before it stands")
        self.assertIsNone(file.axle_load_kg("F"))
        self.assertEqual(len(file.strange), 3)
        self.assertContains(
            self.client.get(self.url("measure/")), "accepted: 50 to 150; the reading is kept and counts for nothing"
        )
        self.assertEqual(self.client.get(self.url("plan/")).status_code, 200)

    def test_true_speed_corrects_the_speedometer(self):
        Reading.objects.filter(code="true_speed").delete()
        self.assertIsNone(self.file().core_axle("F").true_at_100_kmh)
        self.read("", "true_speed", 96.0, who="Ina")
        axle = self.file().core_axle("F")
        self.assertAlmostEqual(axle.true_at_100_kmh, 96.0)
        said = {j.code: j for j in as_it_stands(self.file(), "F")}["tyre.speed"]
        self.assertAlmostEqual(said.value, 96.0, places=3)
        self.assertTrue(any("96" in used.value and used.date for used in said.inputs))

    def test_a_rail_inboard_runs_along_the_car(self):
        rail = next(
            r
            for car in Car.objects.all()
            for r in open_file(car.owner, car.pk).core_readings()
            if r.code == "rail_inside"
        )
        points = placed(rail).points_mm
        self.assertGreater(points[:, 0].max(), 100)
        self.assertLess(points[:, 0].min(), -100)
        self.assertLess(abs(points[:, 0].sum()), 20)
        for code, kind in STATIONS.items():
            if kind.place in ("liner", "rail", "arm") and code not in ("arm_pivot", "arm_joint"):
                self.assertIn(kind.edge, ("front", "rear", "along"), code)


class Said(ScenarioCase):
    def test_every_figure_of_the_hub_has_numbers_source_and_date(self):
        for end in ("F", "R"):
            for judged in sums(self.file(), build_in_hand(self.file())).judgements:
                if judged.code.startswith("hub.") and judged.value is not None:
                    self.assertRegex(judged.formula, r"\d", judged.code)
                    self.assertTrue(all(used.source for used in judged.inputs), judged)
                    self.assertTrue(any(used.date for used in judged.inputs), judged)
            standing = {j.code: j for j in as_it_stands(self.file(), end)}
            self.assertTrue(any("what stands on the car" in used.source for used in standing["hub.pattern"].inputs))


class Many(ScenarioCase):
    """A station that was read a thousand times: its newest stands, the pages take no more than they need."""

    def setUp(self):
        super().setUp()
        self.like = Reading.objects.filter(car=self.car, corner="FL", code="damper", struck_why="").first()
        more = [
            replace_reading(self.like, values=[10.0 + k / 100], taken_on=self.like.taken_on - timedelta(days=1 + k))
            for k in range(1000)
        ]
        Reading.objects.bulk_create(more)

    def test_the_newest_stands_and_few_are_read(self):
        before = {reading.key: reading.pk for reading in self.file().latest}
        self.assertEqual(before[self.like.key], self.like.pk)
        self.assertLess(len(self.file().readings), Reading.objects.filter(car=self.car).count() - 990)

    def test_what_was_struck_stands_aside_for_the_one_before_it(self):
        newest = Reading.objects.filter(car=self.car, corner="FL", code="damper", where=self.like.where)
        for reading in list(newest[:5]):
            reading.struck_why = "the rule slipped"
            reading.save()
        wanted = newest.filter(struck_why="").first()
        self.assertEqual(next(one.pk for one in self.file().latest if one.key == self.like.key), wanted.pk)

    def test_history_shows_the_newest_and_all_of_them_where_they_are_asked_for(self):
        self.assertEqual(len(self.page("measure/FL/damper/").context["past"]), 60)
        self.assertContains(self.page("measure/FL/damper/"), "All readings of this station")
        self.assertGreater(len(self.page("measure/FL/damper/?all=1").context["past"]), 1000)


def replace_reading(like, **change):
    fields = {
        field.attname: getattr(like, field.attname)
        for field in Reading._meta.concrete_fields
        if field.name not in ("id", "made_at")
    }
    return Reading(**fields | change)
