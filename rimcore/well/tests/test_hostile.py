"""Hostile and odd input: refused in words, in time linear in its length, and the rest of the lines answered."""

import io
import json
import unittest

from rimcore.calc import main
from rimcore.fastening.threads import parse_thread
from rimcore.limits import LIMITS, within
from rimcore.quantities.errors import BadInput, CoreError
from rimcore.well.calculations_motion import CLEARANCE
from rimcore.well.judge import window as windows
from rimcore.well.judge.window import offset_window
from rimcore.well.read.stations import STATIONS
from rimcore.well.solid.wheel_plane import Thing, Well
from rimcore.wheels.hub import parse_seat
from rimcore.wheels.outline import outline
from rimcore.wheels.paste import parse_offer, parse_row
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import parse_wheel


def many(name, lines):
    out = io.StringIO()
    status = main([name, "--many"], io.StringIO("\n".join(lines) + "\n"), out)
    return status, [json.loads(line) for line in out.getvalue().splitlines()]


class CommandLine(unittest.TestCase):
    def test_a_line_that_cant_be_read_stops_nothing(self):
        deep = '{"spec": ' + "[" * 985 + "]" * 985 + "}"
        status, found = many(
            "wheel", ['{"spec": "\\ud800"}', deep, "[" * 3000 + "]" * 3000, '{"\\ud801": 1}', '{"spec": "18x9 +22"}']
        )
        self.assertEqual(status, 0)
        self.assertEqual([("error" in one) for one in found], [True, True, True, True, False])
        self.assertIn("Unicode", found[0]["error"]["message"])
        self.assertIn("100 levels", found[1]["error"]["message"])

    def test_a_surrogate_in_a_key_given_twice(self):
        _, found = many("wheel", ['{"\\ud801": 1, "\\ud801": 2}'])
        self.assertIn("twice", found[0]["error"]["message"])

    def test_depth_of_a_hundred_is_read(self):
        _, found = many("quantity", ['{"text": "1 mm", "kind": "length"}'])
        self.assertEqual(found[0]["value"], 1.0)

    def test_an_arm_told_to_go_beyond_its_length(self):
        arm = {
            "name": "arm",
            "frame": "arm",
            "points_mm": [[0, -100, -100]],
            "pivot_mm": [-400, -100],
            "joint_mm": [-100, -100],
        }
        car = {
            "wheel": "17x8 +40",
            "tyre": "225/45R17",
            "obstacles": [arm],
            "steer_out_deg": 0,
            "steer_in_deg": 0,
            "grid": {"steer": 1, "travel": 3},
        }
        for name, other in (("bump_mm", "droop_mm"), ("droop_mm", "bump_mm")):
            with self.assertRaises(BadInput) as caught:
                CLEARANCE.answer(car | {name: 310, other: 50})
            self.assertEqual(caught.exception.field, name)
        self.assertEqual(len(CLEARANCE.answer(car | {"bump_mm": 80, "droop_mm": 80})["obstacles"]), 1)


class Texts(unittest.TestCase):
    def test_every_text_has_a_length(self):
        for read, text in (
            (parse_seat, "cone" + " " * 40_000 + "60"),
            (parse_thread, "M12" + " " * 40_000 + "x1.5"),
            (parse_wheel, "18x9" + " " * 40_000),
            (parse_tyre, "225/45R17" + " " * 40_000),
            (parse_offer, "18x9 +22, " + "1" * 40_000),
            (lambda text: parse_row({"size": text}), "x" * 40_000),
        ):
            with self.assertRaises(CoreError):
                read(text)

    def test_blanks_within_bounds_are_read(self):
        self.assertEqual(str(parse_seat("  cone     60 ")), "cone 60°")

    def test_a_fraction_of_the_width_is_read_or_refused(self):
        for text, width in (
            ("18x9 3/4 ET22", 9.75),
            ("18x9-1/2 +22", 9.5),
            ("17x7 1/2 ET40 5x114.3", 7.5),
            ("18x9 5/8 ET20", 9.625),
        ):
            found = parse_wheel(text)
            self.assertEqual((found.width_in, found.bolts), (width, 5 if "114" in text else None), text)
        with self.assertRaises(BadInput):
            parse_wheel("18x9.5 3/4 ET22")
        self.assertEqual(parse_wheel("18x8 5/4.5 ET10").bolts, 5, "a bolt circle in inches is none")

    def test_a_lone_number_after_the_width_is_ambiguous(self):
        for text in ("18x9 40", "18x9 73.1", "18x9 73.1 5x114.3"):
            with self.assertRaisesRegex(BadInput, "offset or a bore"):
                parse_wheel(text)
        self.assertEqual(parse_wheel("18x9 5x114.3 73.1").bore_mm, 73.1)
        self.assertEqual(parse_wheel("18x9 +40 73.1").bore_mm, 73.1)

    def test_a_price_below_zero_is_refused(self):
        for text in ("-310", "−310", "(310)"):
            with self.assertRaises(BadInput):
                parse_row({"size": "225/45R17", "price": text})

    def test_a_lead_time_of_five_thousand_digits(self):
        with self.assertRaises(BadInput):
            parse_row({"size": "225/45R17", "lead": "9" * 400})


class Limits(unittest.TestCase):
    def test_one_set_for_wheels_everywhere(self):
        with self.assertRaises(BadInput):
            parse_wheel("17x8 +40 12x114.3")
        self.assertFalse(LIMITS["bolts"].holds(12))
        with self.assertRaisesRegex(BadInput, "3 to 10"):
            within("bolts", 12)

    def test_no_station_takes_what_is_no_number(self):
        for kind in STATIONS.values():
            low, high = kind.limits
            self.assertLess(low, high)
            self.assertLess(high, LIMITS["reading"].high + 1, kind.code)
            self.assertGreater(low, LIMITS["reading"].low - 1, kind.code)
            self.assertFalse(low <= float("nan") <= high)


class Windows(unittest.TestCase):
    def test_where_nothing_fits_it_says_so_without_looking_everywhere(self):
        """Two points inside the tyre whatever the offset: one exact look is enough."""
        looks = []
        kept = windows.Cloud.lows

        def counted(*args, **options):
            looks.append(1)
            return kept(*args, **options)

        windows.Cloud.lows = counted
        try:
            shape = outline(parse_wheel("17x8 +0"), parse_tyre("225/45R17")).polygon()
            inside = [
                Thing("in", "body", np_points([[0, -60, 280], [0, 60, 280]])),
                Thing("out", "body", np_points([[10, 60, 285], [0, -80, 285]])),
            ]
            found = offset_window(
                outline_mm=shape,
                well=Well(
                    centre_mm=0.0,
                    camber_deg=-1,
                    camber_gain_deg_per_mm=-0.01,
                    bump_mm=60,
                    droop_mm=70,
                    ride_drop_mm=0,
                    steer_out_deg=36,
                    steer_in_deg=33,
                    kpi_deg=12,
                    caster_deg=4,
                    kingpin_inboard_mm=105,
                ),
                things=inside,
                spacer_mm=0.0,
                low_mm=0.0,
                high_mm=60.0,
                body_margin_mm=10.0,
                knuckle_margin_mm=5.0,
            )
        finally:
            windows.Cloud.lows = kept
        self.assertIsNone(found.no_contact)
        self.assertIsNone(found.all_clear)
        self.assertLess(found.best_margin_mm, -20.0)
        self.assertLessEqual(len(looks), 3)


def np_points(points):
    import numpy as np

    return np.array(points, dtype=float)


if __name__ == "__main__":
    unittest.main()
