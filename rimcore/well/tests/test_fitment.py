"""A whole candidate against a measured axle: what is not measured is never clear."""

import unittest
from dataclasses import replace

from hypothesis import given, settings
from hypothesis import strategies as st

from rimcore.fastening.threads import parse_thread
from rimcore.quantities.judgement import InputUsed, Judgement, severity, state_of_gap, unmeasured, worst
from rimcore.well.draw.scene import well_scene
from rimcore.well.draw.scene_motion import above_scene
from rimcore.well.judge import drags, fitment
from rimcore.well.judge.tolerance import SCHOOLS
from rimcore.well.levers import Levers
from rimcore.well.read import measured as core
from rimcore.well.read.stations import STATIONS, measure_next
from rimcore.well.read.travel import Motion
from rimcore.well.solid.gap import Station
from rimcore.well.solid.pose import Pose
from rimcore.well.tests.cases import with_levers
from rimcore.wheels.fitted import Fitted
from rimcore.wheels.hub import Hub, parse_seat
from rimcore.wheels.paste import parse_offer, parse_row
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import parse_wheel

ON_CAR = Fitted(parse_wheel("16x6.5 +50 5x108 63.4"), parse_tyre("205/55R16 91V"))


def reading(corner, code, station, gap=None, **more):
    return core.Reading(corner, code, station, gap, ON_CAR, Pose(), more.pop("uncertainty", 1.0), **more)


READINGS = (
    reading("FL", "damper", Station("damper", height_mm=262.0), 15.0),
    reading("FR", "damper", Station("damper", height_mm=262.0), 12.0),
    reading("FL", "arch_12", Station("arch", clock=12, side_gap_mm=31.0, up_gap_mm=62.0)),
    reading("FL", "caliper_barrel", Station("caliper", radius_mm=151.5), uncertainty=0.1),
)
AXLE = core.Axle(
    ("FL", "FR"),
    ON_CAR,
    Hub(5, 108.0, 63.4, parse_thread("M12x1.5"), 29.0, None, parse_seat("cone 60")),
    READINGS,
    812.0,
)


def candidate(wheel="17x7.5 +45 5x108 63.4", tyre="225/45R17 91W", **more):
    parsed = parse_wheel(wheel)
    fitted = Fitted(parsed, parse_tyre(tyre), more.pop("spacer", 0.0), more.pop("camber", 0.0))
    return with_levers(fitted, mount=fitment.mount_of(parsed, parse_seat("cone 60"), 12.0), **more)


class Judging(unittest.TestCase):
    def judged(self, found, code, where=""):
        return next(j for j in found.judgements if j.code == code and (not where or j.where == where))

    def test_nothing_measured_is_nothing_clear(self):
        bare = core.Axle(("FL", "FR"), ON_CAR, Hub(), ())
        gaps = [
            j
            for j in fitment.judge(bare, candidate(), SCHOOLS["show"]).judgements
            if j.code.startswith(("gap.", "hub."))
        ]
        self.assertTrue(gaps)
        self.assertEqual({j.state for j in gaps}, {"unmeasured"})
        self.assertTrue(all(j.missing for j in gaps))

    def test_both_sides_are_judged_and_the_worst_counts(self):
        found = fitment.judge(AXLE, candidate(), SCHOOLS["daily"])
        self.assertEqual(found.tightest.where, "front right")

    def test_closed_form_at_the_damper(self):
        """Widest point to widest point: (section then − now) ÷ 2, and the offset."""
        found = self.judged(fitment.judge(AXLE, candidate(), SCHOOLS["daily"]), "gap.damper", "front left")
        inward = (225.0 - 205.0) / 2 + (45 - 50)
        self.assertAlmostEqual(found.reads, 15.0 - inward, delta=0.3)
        self.assertAlmostEqual(found.value, found.reads, delta=0.5)

    def test_high_offset_hits_the_damper(self):
        found = fitment.judge(AXLE, candidate("18x8.5 +55 5x108 63.4", "235/40R18 95W"), SCHOOLS["daily"])
        self.assertEqual(found.state, "hit")
        hit = self.judged(found, "gap.damper", "front right")
        self.assertEqual(hit.state, "hit")
        self.assertTrue(any("spacer" in remedy for remedy in hit.remedies))

    def test_the_remedy_of_an_offset_clears_it(self):
        bad = self.judged(
            fitment.judge(AXLE, candidate("17x7.5 +60 5x108 63.4"), SCHOOLS["daily"]), "gap.damper", "front right"
        )
        offset = next(r for r in bad.remedies if r.startswith("offset")).split()[1]
        good = self.judged(
            fitment.judge(AXLE, candidate(f"17x7.5 {offset} 5x108 63.4"), SCHOOLS["daily"]), "gap.damper", "front right"
        )
        self.assertEqual((bad.state, good.state), ("hit", "clear"))

    def test_poke_is_a_hit_with_its_caution(self):
        found = self.judged(
            fitment.judge(AXLE, candidate("17x9 +15 5x108 65.1", "245/40R17 91W"), SCHOOLS["show"]),
            "gap.arch_12.sideways",
        )
        self.assertEqual(found.state, "hit")
        self.assertIn("regulated", found.reason)

    def test_caliper_is_unmeasured_until_the_rim_is_known(self):
        self.assertEqual(
            self.judged(fitment.judge(AXLE, candidate(), SCHOOLS["daily"]), "gap.caliper_barrel", "front left").state,
            "unmeasured",
        )
        known = candidate(barrel_radius_mm=152.5)
        self.assertEqual(
            self.judged(fitment.judge(AXLE, known, SCHOOLS["daily"]), "gap.caliper_barrel", "front left").state, "tight"
        )

    def test_lowering_moves_the_arch_of_the_whole_build(self):
        rest = self.judged(fitment.judge(AXLE, candidate(), SCHOOLS["daily"]), "gap.arch_12.upward")
        low = self.judged(fitment.judge(AXLE, candidate(ride_drop_mm=25.0), SCHOOLS["daily"]), "gap.arch_12.upward")
        self.assertAlmostEqual(rest.value - low.value, 25.0)

    def test_a_reading_from_a_lowered_car_is_held_at_that_height(self):
        lowered = replace(READINGS[2], pose=Pose(travel_mm=20.0), drop_mm=20.0)
        axle = replace(AXLE, readings=(lowered,))
        found = self.judged(
            fitment.judge(axle, core.Candidate(ON_CAR, levers=Levers(ride_drop_mm=20.0)), SCHOOLS["daily"]),
            "gap.arch_12.upward",
        )
        self.assertAlmostEqual(found.value, 62.0)

    def test_uncertainty_crosses_the_margin(self):
        self.assertEqual(state_of_gap(5.5, 5.0, 1.0), "tight")
        found = self.judged(
            fitment.judge(AXLE, candidate("17x7.5 +51 5x108 63.4"), SCHOOLS["daily"]), "gap.damper", "front right"
        )
        self.assertTrue(0 <= found.value < found.uncertainty)
        self.assertEqual(found.state, "tight")
        self.assertIn("may touch", found.reason)

    def test_what_was_only_assumed_is_never_clear(self):
        for assumed, state in ((False, "clear"), (True, "unmeasured")):
            axle = replace(AXLE, readings=(replace(READINGS[0], assumed=assumed),))
            found = self.judged(
                fitment.judge(axle, candidate("16x6.5 +50 5x108 63.4", "205/55R16 91V"), SCHOOLS["daily"]),
                "gap.damper",
                "front left",
            )
            self.assertEqual((found.state, found.missing), (state, ("FL.damper",) if assumed else ()))
            self.assertEqual("clear" in fitment.states_by_school(found, SCHOOLS).values(), not assumed)
        bad = replace(AXLE, readings=(replace(READINGS[0], assumed=True),))
        hit = self.judged(
            fitment.judge(bad, candidate("17x7.5 +65 5x108 63.4"), SCHOOLS["daily"]), "gap.damper", "front left"
        )
        self.assertEqual(hit.state, "hit")

    def test_loads(self):
        light = candidate(wheel_load_kg=390.0)
        self.assertEqual(self.judged(fitment.judge(AXLE, light, SCHOOLS["daily"]), "wheel.load").state, "hit")
        self.assertEqual(
            self.judged(fitment.judge(AXLE, candidate(wheel_load_kg=650.0), SCHOOLS["daily"]), "wheel.load").state,
            "clear",
        )
        self.assertEqual(
            self.judged(fitment.judge(AXLE, candidate(), SCHOOLS["daily"]), "wheel.load").state, "unmeasured"
        )

    def test_schools_disagree_and_each_is_told(self):
        found = self.judged(
            fitment.judge(AXLE, candidate("17x8 +40 5x108 63.4"), SCHOOLS["daily"]), "gap.arch_12.sideways"
        )
        says = fitment.states_by_school(found, SCHOOLS)
        self.assertEqual(set(says), set(SCHOOLS))
        self.assertEqual(says["daily"], found.state)

    def test_drags(self):
        rings = [d for d in drags.drags_along(AXLE, candidate("17x8 +40 5x108 72.6")) if d.what == "Centring ring"]
        self.assertEqual(len(rings), 1)
        self.assertIn("63.4 → 72.6", rings[0].detail)
        self.assertIn("solid, not hollow", rings[0].detail)
        self.assertFalse([d for d in drags.drags_along(AXLE, candidate()) if d.what == "Centring ring"])

    @settings(max_examples=150, deadline=None)
    @given(
        st.integers(-20, 70),
        st.sampled_from([6.5, 7.0, 7.5, 8.0, 8.5, 9.0]),
        st.sampled_from(["205/50R17", "225/45R17", "245/40R17"]),
        st.integers(-20, 40),
    )
    def test_clear_is_never_an_overlap(self, offset, width, tyre, drop):
        found = fitment.judge(
            AXLE, candidate(f"17x{width} {offset:+d} 5x108 63.4", tyre, ride_drop_mm=float(drop)), SCHOOLS["show"]
        )
        for judgement in found.judgements:
            if judgement.code.startswith("gap.") and judgement.state == "clear":
                self.assertGreaterEqual(judgement.value - judgement.uncertainty, judgement.held_against - 1e-6)
        self.assertEqual(found.state, worst(j.state for j in found.judgements))
        self.assertEqual(list(found.judgements), sorted(found.judgements, key=severity))


class Plans(unittest.TestCase):
    def test_next_readings_are_ranked(self):
        found = fitment.judge(AXLE, candidate(), SCHOOLS["daily"]).judgements
        ranked = measure_next(found)
        self.assertNotIn(("FL", "damper"), [(one.corner, one.code) for one in ranked])
        self.assertIn(("FR", "arch_12"), [(one.corner, one.code) for one in ranked])

    def test_what_a_reading_changes_ranks_it(self):
        def lacks(*names):
            return unmeasured("g", "g", "", list(names))

        pairs = [
            [lacks("RL.joint")],
            [lacks("RL.joint")],
            [lacks("RL.damper", "RL.arch_12")],
            [lacks("RL.liner_rear", "RL.caliper_spoke")],
        ]
        ranked = measure_next([lacks("FR.caliper_barrel"), lacks("FR.damper"), lacks("wheel.caliper_spoke")], pairs)
        self.assertEqual(
            [(one.corner, one.code) for one in ranked],
            [
                ("FR", "damper"),
                ("FR", "caliper_barrel"),  # the build in hand, less effort first
                ("RL", "joint"),  # two pairs turn with it alone, though the wheel comes off
                ("RL", "damper"),
                ("RL", "arch_12"),
                ("RL", "liner_rear"),
                ("RL", "caliper_spoke"),
            ],
        )
        self.assertIn("2 pairs would be known with it", ranked[2].reason)
        self.assertIn("wheel off", ranked[2].reason)

    def test_the_speedometer_goes_by_what_the_logger_read(self):
        taller = candidate()
        plain = {j.code: j for j in fitment.judge(AXLE, taller, SCHOOLS["daily"]).judgements}["tyre.speed"]
        read = InputUsed("true speed", "95 ± 0.5 km/h at 100", "logger", "1 Nov 2026")
        corrected = {
            j.code: j
            for j in fitment.judge(
                replace(AXLE, true_at_100_kmh=95.0, true_speed_read=read), taller, SCHOOLS["daily"]
            ).judgements
        }["tyre.speed"]
        self.assertAlmostEqual(corrected.value, 0.95 * plain.value, places=6)
        self.assertIn(read, corrected.inputs)
        # UN R39: what read five per cent high may grow by five, what was exact may not.
        ratio = taller.fitted.tyre.diameter_mm / AXLE.present.tyre.diameter_mm
        self.assertEqual(corrected.state, "clear" if 0.95 * ratio <= 1 else "tight")
        self.assertEqual(plain.state, "clear" if ratio <= 1 else "tight")

    def test_every_station_says_where_the_rule_goes(self):
        for station in STATIONS.values():
            self.assertTrue(station.how and station.unlocks and station.values)


class Drawing(unittest.TestCase):
    def test_scene_is_to_scale_and_mirrored(self):
        verdict = fitment.judge(AXLE, candidate(), SCHOOLS["daily"])
        here = [r for r in READINGS if r.corner == "FL"]
        gaps = [j for j in verdict.judgements if j.where == "front left"]
        scene = well_scene("FL", ON_CAR, candidate(), here, gaps)
        side = next(d for d in scene.dimensions if d.key == "gap.arch_12.sideways")
        up = next(d for d in scene.dimensions if d.key == "gap.arch_12.upward")
        px_per_mm = abs(up.y2 - up.y1) / next(j.value for j in gaps if j.code == "gap.arch_12.upward")
        self.assertAlmostEqual(
            abs(side.x2 - side.x1) / px_per_mm,
            next(j.value for j in gaps if j.code == "gap.arch_12.sideways"),
            delta=0.2,
        )
        self.assertLess(side.x2, side.x1)
        right = well_scene("FR", ON_CAR, candidate(), here, gaps)
        mirrored = next(d for d in right.dimensions if d.key == "gap.arch_12.sideways")
        self.assertGreater(mirrored.x2, mirrored.x1)

    def test_unmeasured_is_drawn_broken_and_says_so(self):
        scene = well_scene("FL", ON_CAR, candidate(), [], [])
        self.assertTrue(any("not measured" in label.text for label in scene.labels))
        self.assertIn("unmeasured", {shape.ink for shape in scene.shapes})
        self.assertTrue(
            any(
                "not measured" in label.text
                for label in above_scene("FL", ON_CAR, candidate(), Motion(), [], 0.0, 0.0).labels
            )
        )


class Offers(unittest.TestCase):
    def test_a_line_in_any_order(self):
        for line in (
            "18x9.5 +22 5x114.3 73.1, 8.4 kg, 310, 6 weeks",
            "18x9.5 +22 5x114.3 73.1; 6 weeks; € 310; 8,4 kg",
        ):
            offer = parse_offer(line)
            self.assertEqual(
                (offer.mass_kg, offer.price_minor, offer.lead_days, offer.wheel),
                (8.4, 31000, 42, parse_wheel("18x9.5 +22 5x114.3 73.1")),
            )

    def test_row(self):
        offer = parse_row(
            {"Wheel": "17x8 +40", "Weight": "18 lb", "Price": "239.50", "Lead time": "3 weeks", "Colour": "gold"}
        )
        self.assertEqual((offer.price_minor, offer.lead_days), (23950, 21))
        self.assertAlmostEqual(offer.mass_kg, 18 * 0.45359237)

    def test_refused(self):
        from rimcore.quantities.errors import CoreError

        for line in ("", "hello", "17x8 +40, 8 kg, 9 kg", "17x8 +40, " + "x" * 600):
            with self.assertRaises(CoreError):
                parse_offer(line)
        for row in (
            {},
            {"price": "3"},
            {"wheel": "17x8", "lead": "soon"},
            {"wheel": "17x8", "link": "javascript:alert(1)"},
        ):
            with self.assertRaises(CoreError):
                parse_row(row)


class Tightest(unittest.TestCase):
    def test_the_worst_state_comes_before_the_least_margin(self):
        """A hit of −2.1 mm at rest against 0 stands before a gap of 26.7 mm that lacks 13 mm of its margin."""
        low = Judgement("gap.perch", "Perch", "hit", "", "", value=-2.1, unit="mm", held_against=0.0, margin=-2.1)
        wide = Judgement(
            "gap.damper", "Damper", "tight", "", "", value=26.7, unit="mm", held_against=40.0, margin=-13.3
        )
        self.assertEqual(fitment.Verdict((wide, low)).tightest, low)
        self.assertEqual(fitment.Verdict((wide,)).tightest, wide)
