"""Trial fits against SciPy's least squares on residuals written down anew, and their words against figures by hand."""

import math
import unittest
from dataclasses import replace

import numpy as np
from scipy.optimize import least_squares
from scipy.stats import chi2, norm

from rimcore.well.judge.sightings import (
    ALIKE,
    GROSS_MM,
    SEEN_MM,
    Corrected,
    Group,
    Part,
    Seen,
    Where,
    predict_mm,
    prediction_uncertainty_mm,
    reading_name,
    sighting_name,
)
from rimcore.well.judge.trialfit import CONFLICT_SHARE, MOST_MOVED_MM, PLACE_MM, STANDS_OUT, _apart, _Fit, correct
from rimcore.well.read.measured import Reading, placed
from rimcore.well.solid.gap import Station
from rimcore.well.solid.pose import Pose
from rimcore.wheels.fitted import Fitted
from rimcore.wheels.outline import MEASURED_SIDE_MM, NOMINAL_SIDE_MM
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import parse_wheel

ON_CAR = Fitted(parse_wheel("16x7 +42"), parse_tyre("205/55R16"))
OTHER = Fitted(parse_wheel("17x8 +40"), parse_tyre("225/45R17"))
DAMPER = Reading("FL", "damper", Station("damper", height_mm=262.0), 9.0, ON_CAR, Pose(), 1.0)
LOW = Reading("FL", "damper", Station("damper", height_mm=180.0), 24.0, ON_CAR, Pose(), 1.0)
LINER = Reading("FL", "liner_front", Station("liner", edge="front", u="centre"), 40.0, ON_CAR, Pose(), 2.0)


def seen(reading, gap, fitted=OTHER, bare=False, pose=Pose(), sigma=0.5):  # noqa: B008  frozen
    return Seen(reading, fitted, bare, pose, gap, sigma)


def near(reading, place, off, fitted=OTHER, bare=False, pose=Pose(), sigma=0.5):  # noqa: B008  frozen
    """A sighting that is so much off what is expected."""
    return seen(place, predict_mm(reading, fitted, bare, pose) + off, fitted, bare, pose, sigma)


def by_scipy(readings, sightings):
    """The same problem put to a reference library: shifts of every obstacle, then growth of every tyre."""
    keys = sorted(
        {(one.present.tyre.size, one.present.wheel.width_in) for one in readings}
        | {one.tyre_key for one in sightings if one.tyre_key}
    )
    points = [placed(one).points_mm[0] for one in readings]
    starts = [predict_mm(one, one.present, False, one.pose) for one in readings]

    def gap(reading, point, fitted, bare, pose, grown):
        return Where.of(reading, fitted, bare, pose).gap(point, grown)[0]

    def residuals(x):
        shifts, grown = x[: 3 * len(readings)].reshape(-1, 3), dict(zip(keys, x[3 * len(readings) :], strict=True))
        rows = []
        for one in sightings:
            at = gap(
                readings[one.reading],
                points[one.reading] + shifts[one.reading],
                one.fitted,
                one.bare,
                one.pose,
                grown.get(one.tyre_key, 0.0),
            )
            rows.append((at - one.gap_mm) / one.uncertainty_mm)
        for k, one in enumerate(readings):
            own = grown[one.present.tyre.size, one.present.wheel.width_in]
            rows.append(
                (gap(one, points[k] + shifts[k], one.present, False, one.pose, own) - starts[k]) / one.uncertainty_mm
            )
        return np.concatenate([rows, x[: 3 * len(readings)] / PLACE_MM, x[3 * len(readings) :] / NOMINAL_SIDE_MM])

    found = least_squares(
        residuals,
        np.zeros(3 * len(readings) + len(keys)),
        bounds=(-MOST_MOVED_MM, MOST_MOVED_MM),
        xtol=1e-12,
        ftol=1e-12,
        gtol=1e-12,
    )
    return found, keys


class AgainstSciPy(unittest.TestCase):
    TURNED = Pose(steer_deg=10.0, kingpin_inboard_mm=100.0)
    CASES = (
        ([DAMPER], [near(DAMPER, 0, 2.0)]),
        ([DAMPER], [near(DAMPER, 0, -3.0), near(DAMPER, 0, 1.0, replace(OTHER, spacer_mm=5.0), sigma=1.0)]),
        ([DAMPER, LINER], [near(DAMPER, 0, 1.5), near(LINER, 1, -2.0), near(LINER, 1, 1.0, pose=TURNED, sigma=2.0)]),
        ([DAMPER], [near(DAMPER, 0, 11.0)]),
        ([DAMPER], [near(DAMPER, 0, 1.0, bare=True)]),
    )

    def test_where_the_obstacles_stand_and_how_large_the_tyres_are(self):
        for readings, sightings in self.CASES:
            reference, keys = by_scipy(readings, sightings)
            found = correct(readings, sightings)
            shifts = np.array([one.moved_mm for one in found.readings]).ravel()
            own = np.sqrt(np.diag(np.linalg.inv(reference.jac.T @ reference.jac)))[: len(shifts)]
            np.testing.assert_array_less(np.abs(shifts - reference.x[: len(shifts)]) / own, 0.2, "of its own ±")
            if all(one.tyre_key for one in sightings):
                for key, grown in zip(keys, reference.x[3 * len(readings) :], strict=True):
                    self.assertAlmostEqual(found.grown_mm[key][0], grown, delta=0.02)

    def test_chi_square_spread_and_each_residual(self):
        """Covariance is the inverse of the normal matrix; a residual's own ± is the root of one less its leverage."""
        for readings, sightings in self.CASES[:4]:
            reference, keys = by_scipy(readings, sightings)
            found = correct(readings, sightings)
            total = sum(group.chi2 for group in found.groups)
            self.assertAlmostEqual(total, 2 * reference.cost, delta=0.02 + 0.01 * total)
            spread = np.linalg.inv(reference.jac.T @ reference.jac)
            first = 3 * len(readings)
            leverage = np.einsum("ij,jk,ik->i", reference.jac, spread, reference.jac)
            t = reference.fun / np.sqrt(np.maximum(1 - leverage, 1e-6))
            if len(found.groups) > 1:
                continue
            group = found.groups[0]
            scale = max(1.0, group.chi2 / group.dof) if group.conflict else 1.0
            said = {(part.kind, part.place): part.t for part in group.parts}
            for k in range(len(sightings)):
                self.assertAlmostEqual(said["sighting", k], t[k], delta=0.05)
                self.assertEqual(found.residuals[k], said["sighting", k])
            self.assertAlmostEqual(said["reading", 0], t[len(sightings)], delta=0.05)
            tyres = [part for part in group.parts if part.kind == "tyre"]
            for part, own in zip(tyres, t[len(t) - len(keys) :], strict=True):
                self.assertAlmostEqual(part.t, own, delta=0.05)
            for n, key in enumerate(keys):
                self.assertAlmostEqual(
                    found.grown_mm[key][1], math.sqrt(spread[first + n, first + n] * scale), delta=0.1
                )
            own = np.sqrt(np.diag(spread) * scale)
            off = np.reshape(found.readings[0].spread_mm2, (3, 3)) - spread[:3, :3] * scale
            np.testing.assert_array_less(np.abs(off) / np.outer(own[:3], own[:3]), 0.06, "as a correlation")
            for m, (key, tie) in enumerate(found.readings[0].tied_mm2):
                self.assertEqual(key, keys[m])
                off = np.array(tie) - spread[:3, first + m] * scale
                np.testing.assert_array_less(np.abs(off) / (own[:3] * own[first + m]), 0.06)
            self.assertAlmostEqual(group.p, chi2.sf(group.chi2, group.dof))

    def test_what_is_left_is_less_than_rule_and_carcass_together(self):
        found = correct([DAMPER], [seen(0, 6.0)])
        self.assertLess(found.readings[0].uncertainty_mm, math.hypot(DAMPER.uncertainty_mm, NOMINAL_SIDE_MM))
        self.assertGreater(found.readings[0].uncertainty_mm, 0.3)

    def test_conflict_by_the_whole_or_by_the_worst_part(self):
        """At 1.5 in a hundred for the whole; each of n parts at that share over n, both ways (Bonferroni)."""
        for off in (*np.arange(0.0, 4.0, 0.1), 5.0, 8.0, 12.0, 30.0):
            fitted = replace(OTHER, measured_section_mm=230.0)
            expected = predict_mm(DAMPER, fitted, False, Pose())
            group = correct([DAMPER], [seen(0, expected, fitted), seen(0, expected + off, fitted)]).groups[0]
            limit = norm.isf(CONFLICT_SHARE / 2 / len(group.parts))
            worst = max(abs(part.t) for part in group.parts)
            self.assertEqual(group.conflict, group.p < CONFLICT_SHARE or worst > limit, off)
            self.assertEqual(group.settled, not group.conflict and GROSS_MM / group.checked_mm >= STANDS_OUT)
        self.assertTrue(group.conflict)
        only = set()
        for off in np.arange(0.0, 8.0, 0.1):
            sightings = [
                seen(0, expected, fitted),
                seen(0, expected, fitted),
                seen(0, expected, fitted, sigma=1.0),
                seen(0, expected + off, fitted),
            ]
            three = correct([DAMPER], sightings).groups[0]
            by_worst = max(abs(part.t) for part in three.parts) > norm.isf(CONFLICT_SHARE / 2 / len(three.parts))
            self.assertEqual(three.conflict, three.p < CONFLICT_SHARE or by_worst, off)
            only.add((three.p < CONFLICT_SHARE, by_worst))
        self.assertIn((False, True), only, "one that stands out alone is a conflict too")
        self.assertGreater(
            correct([DAMPER], [seen(0, expected, fitted), seen(0, expected + off, fitted)]).readings[0].uncertainty_mm,
            1.0,
        )

    def test_a_shift_stays_within_what_makes_it_another_obstacle(self):
        found = correct([DAMPER], [seen(0, 300.0), seen(0, -200.0)])
        self.assertTrue(all(abs(value) <= MOST_MOVED_MM for value in found.readings[0].moved_mm))
        self.assertTrue(found.groups[0].conflict)


class Groups(unittest.TestCase):
    def test_what_shares_an_obstacle_or_a_tyre_hangs_together(self):
        measured = replace(ON_CAR, measured_section_mm=212.0)
        first, second = replace(DAMPER, present=measured), replace(LINER, present=measured)
        third = replace(OTHER, wheel=parse_wheel("17x9 +40"))
        self.assertEqual(_apart([first, second], [seen(0, 1.0), seen(1, 2.0)]), [[0, 1]], "one tyre tried on both")
        self.assertEqual(
            _apart([first, second], [seen(0, 1.0), seen(1, 2.0, third)]), [[0], [1]], "another rim is another outline"
        )
        self.assertEqual(_apart([first, second], [seen(0, 1.0, bare=True), seen(1, 2.0, bare=True)]), [[0], [1]])
        self.assertEqual(
            _apart([DAMPER, LINER], [seen(0, 1.0, bare=True), seen(1, 2.0, bare=True)]),
            [[0, 1]],
            "checked against one tyre",
        )
        self.assertEqual(_apart([first, second], [seen(0, 1.0), seen(1, 2.0, third), seen(1, 2.0)]), [[0, 1, 2]])
        unplaced = replace(DAMPER, station=Station("damper", height_mm=900.0))
        self.assertEqual(_apart([unplaced, second], [seen(0, 1.0), seen(1, 2.0)]), [[1]])

    def test_unknowns_are_three_a_place_and_one_a_tyre(self):
        fit = _Fit([DAMPER, LINER], [seen(1, 30.0), seen(0, 2.0), seen(1, 31.0)], [0, 1, 2])
        self.assertEqual((fit.places, fit.keys), ([0, 1], [("205/55R16", 7.0), ("225/45R17", 8.0)]))
        self.assertEqual((fit.x.shape, fit.left.shape, fit.slopes.shape), ((8,), (3 + 2 + 8,), (13, 8)))

    def test_slopes_are_those_of_the_residuals(self):
        fit = _Fit(
            [DAMPER, LINER],
            [seen(0, 2.0), seen(1, 30.0, pose=Pose(steer_deg=8.0, kpi_deg=10.0, kingpin_inboard_mm=90.0))],
            [0, 1],
        )
        x = fit.x + 0.1
        _, slopes = fit._rows(x)
        for k in range(len(x)):
            step = np.zeros(len(x))
            step[k] = 1e-4
            np.testing.assert_allclose((fit._rows(x + step)[0] - fit._rows(x - step)[0]) / 2e-4, slopes[:, k], atol=0.1)


def group(conflict=False, settled=False, parts=(), keys=()):
    return Group(
        readings=(0,),
        sightings=(0,),
        keys=keys,
        chi2=12.34,
        dof=2,
        p=0.0021,
        parts=tuple(parts),
        conflict=conflict,
        settled=settled,
        checked_mm=4.25,
    )


class Words(unittest.TestCase):
    PARTS = (
        Part("sighting", "seen at the damper", 3.0, 0),
        Part("reading", "first reading of the damper", -3.5, 0),
        Part("tyre", "225/45R17 is 2.0 mm larger", 2.0),
    )

    def test_what_can_not_be_told_apart_comes_worst_first(self):
        """Within a fifth of the worst of 3.5, which is down to 2.8."""
        found = group(True, parts=self.PARTS)
        self.assertEqual([part.t for part in found.suspects], [-3.5, 3.0])
        self.assertAlmostEqual(ALIKE, 0.2)
        self.assertEqual(group(False, parts=self.PARTS).suspects, ())
        self.assertIn(
            "either the first reading of the damper was misread, or what was seen at the damper was misread: they can't be told apart",
            found.text,
        )
        self.assertIn("chi-square 12.3 over 2, p 0.002", found.text)
        alone = group(True, parts=self.PARTS[1:])
        self.assertIn("most likely the first reading of the damper was misread", alone.text)
        self.assertEqual(self.PARTS[2].blame, "the 225/45R17 is 2.0 mm larger all round")

    def test_settled_or_not(self):
        self.assertTrue(group(settled=True).text.startswith("settled: the readings agree (chi-square 12.3 over 2)"))
        self.assertTrue(group().text.startswith("not settled: a misreading of 10 mm would not stand out (± 4.2 mm)"))
        self.assertIn("Read the same place again", group().text)
        sized = group(keys=(("225/45R17", 8.0), ("225/45R17", 8.5), ("205/55R16", 7.0))).text
        self.assertIn("Measure the section over the 225/45R17 and 205/55R16 with a caliper", sized)

    def test_names(self):
        self.assertEqual((reading_name(DAMPER), sighting_name(LINER)), ("damper", "seen at the liner in front"))
        self.assertEqual(reading_name(replace(DAMPER, code="of_another_time")), "of_another_time")

    def test_whose_sighting_is_doubted(self):
        found = Corrected((), {}, (), (group(True, parts=self.PARTS),))
        self.assertEqual([found.conflict(k) for k in (0, 1)], [True, False])
        self.assertIsNone(found.group_of(1))
        quiet = Corrected((), {}, (), (group(True, parts=(*self.PARTS[1:2], replace(self.PARTS[0], t=1.0))),))
        self.assertFalse(quiet.conflict(0))
        elsewhere = group(True, parts=[Part("reading", "first reading of the damper", 3.0, 0)])
        self.assertFalse(Corrected((), {}, (), (elsewhere,)).conflict(0), "a reading of the same number is no sighting")


class Expected(unittest.TestCase):
    def test_a_tyre_that_grew_is_nearer_and_a_bare_rim_is_not(self):
        grown = replace(OTHER, grown_mm=2.0)
        plain = predict_mm(LINER, OTHER, False, Pose())
        self.assertAlmostEqual(predict_mm(LINER, grown, False, Pose()), plain - 2.0)
        self.assertAlmostEqual(predict_mm(LINER, grown, True, Pose()), predict_mm(LINER, OTHER, True, Pose()))
        self.assertGreater(predict_mm(LINER, OTHER, True, Pose()), plain + 50.0)

    def test_along_the_axle_below_the_flange(self):
        """Read at 180 mm against a lip.

        A wheel whose lip lies 12 mm further in reads 12 mm less, whatever its tyre is.
        """
        plain = predict_mm(LOW, ON_CAR, False, Pose())
        self.assertAlmostEqual(plain, 24.0)
        further = replace(ON_CAR, wheel=parse_wheel("16x7 +54"), grown_mm=5.0)
        self.assertAlmostEqual(predict_mm(LOW, further, False, Pose()), 12.0)

    def test_slopes_of_a_gap(self):
        for reading, fitted, pose in (
            (DAMPER, OTHER, Pose()),
            (LOW, OTHER, Pose()),
            (LINER, OTHER, Pose()),
            (
                LINER,
                OTHER,
                Pose(steer_deg=12.0, travel_mm=20.0, kpi_deg=12.0, caster_deg=4.0, kingpin_inboard_mm=100.0),
            ),
            (DAMPER, replace(OTHER, wheel=parse_wheel("17x8 +75")), Pose()),
        ):
            where, point = Where.of(reading, fitted, False, pose), placed(reading).points_mm[0]
            gap, slope, growth = where.gap(point, 0.7)
            for k in range(3):
                step = np.zeros(3)
                step[k] = 1e-4
                self.assertAlmostEqual(
                    (where.gap(point + step, 0.7)[0] - where.gap(point - step, 0.7)[0]) / 2e-4, slope[k], delta=0.01
                )
            self.assertAlmostEqual((where.gap(point, 0.8)[0] - where.gap(point, 0.6)[0]) / 0.2, growth)
            self.assertAlmostEqual(gap, where.gap(point, 0.0)[0] + 0.7 * growth)

    def test_what_is_seen_is_worth(self):
        """Touching is 0 ± 0.5 mm, paper that is held 0.4 ± 0.4 (common practice)."""
        self.assertEqual(SEEN_MM, {"touches": (0.0, 0.5), "paper": (0.4, 0.4)})

    def test_uncertainty_of_a_sighting(self):
        self.assertEqual(seen(0, 1.0).sigma_mm, 0.5)
        self.assertEqual(seen(0, 1.0, bare=True).sigma_mm, 0.5)
        measured = replace(OTHER, measured_section_mm=230.0)
        self.assertAlmostEqual(seen(0, 1.0, measured).sigma_mm, math.hypot(0.5, MEASURED_SIDE_MM))
        self.assertIsNone(seen(0, 1.0, measured).tyre_key)
        self.assertEqual(seen(0, 1.0).tyre_key, ("225/45R17", 8.0))

    def test_uncertainty_of_what_is_expected(self):
        self.assertAlmostEqual(prediction_uncertainty_mm(LOW, OTHER, True), 1.0)
        self.assertAlmostEqual(prediction_uncertainty_mm(LOW, OTHER, False), math.hypot(1.0, NOMINAL_SIDE_MM))
        self.assertAlmostEqual(
            prediction_uncertainty_mm(LINER, OTHER, False), math.sqrt(2.0**2 + 2 * NOMINAL_SIDE_MM**2)
        )
        self.assertAlmostEqual(prediction_uncertainty_mm(LINER, ON_CAR, False), 2.0)


if __name__ == "__main__":
    unittest.main()
