"""Logs, pulls and sound files with a known truth."""

import io
import math
import unittest
from unittest import mock

import numpy as np
from scipy import signal, stats

from rimcore.breathing.bill import Piece, bill, said
from rimcore.breathing.pulls import Set, difference, rises, runs_of, together, wheel_power_kw
from rimcore.breathing.runs import Section
from rimcore.breathing.spectra import NOMINAL, THIRDS, drone, hear, offset_db, orders, thirds_change_db, wav_of
from rimcore.logs.tables import read_table
from rimcore.quantities.errors import BadInput


class Tables(unittest.TestCase):
    def test_ways_in_which_one_table_is_written(self):
        """The same three readings, as six programs write them."""
        for text in (
            "rpm,power [kW]\n2000,30.5\n2500,38\n3000,47.25\n",
            "Engine speed;Power (kW)\r\n2000;30,5\r\n2500;38,0\r\n3000;47,25\r\n",
            "rpm\tpower\n1/min\tkW\n2000\t30.5\n2500\t38\n3000\t47.25\n",
            '\ufeff"RPM","Power, kW"\n2000,30.5\n2500,38\n3000,47.25\n',
            "made on a Tuesday\n\nrpm|power_kW\n2000|30.5\n2500|38\n3000|47.25\n",
            "engine speed [rpm];Wheel power [W]\n2000;30500\n2500;38000\n3000;47250\n",
        ):
            with self.subTest(text=text):
                found = read_table(text)
                self.assertEqual(found.found("rpm").taken("rpm").tolist(), [2000, 2500, 3000])
                np.testing.assert_allclose(found.found("power").taken("power"), [30.5, 38.0, 47.25])

    def test_units_are_brought_to_the_cores_own(self):
        found = read_table("time [min];vehicle speed [mph];coolant [°F];torque [lb-ft]\n0;60;212;100\n1;30;32;50\n")
        np.testing.assert_allclose(found.found("time").taken("time"), [0, 60])
        np.testing.assert_allclose(found.found("speed").taken("speed"), [96.56064, 48.28032])
        np.testing.assert_allclose(found.found("coolant").taken("coolant"), [100.0, 0.0])
        np.testing.assert_allclose(found.found("torque").taken("torque"), [135.58179483, 67.790897415])
        with self.assertRaisesRegex(BadInput, "accepted: km/h"):
            found.found("speed").taken("speed", "furlongs")

    def test_times_of_a_clock_and_gaps(self):
        found = read_table("time,top hose,lower hose\n0:00:01,20,19\n0:00:02,,19.5\n0:01:03.5,21,n/a\n")
        self.assertEqual(found.found("time").taken("time").tolist(), [1.0, 2.0, 63.5])
        self.assertTrue(np.isnan(found.found("top_hose").values[1]) and np.isnan(found.found("lower_hose").values[2]))

    def test_what_is_left_out_is_told(self):
        found = read_table("a,b\n1,2\n3,4\n5\n6,7\n")
        self.assertEqual((found.rows, found.left_out), (3, ("line 4: 1 cells where 2 stand above",)))

    def test_names_that_say_nothing_are_left_to_the_person(self):
        found = read_table("x,y\n1,2\n3,4\n")
        self.assertEqual([one.quantity for one in found.columns], [None, None])
        self.assertEqual([one.name for one in read_table("1,2\n3,4\n").columns], ["column 1", "column 2"])

    def test_refused_in_words(self):
        for text, words in (
            ("", "empty"),
            ("no figures here\nnor here\n", "no row of figures"),
            ("a\0b,c\n", "no text"),
            ("x" * 40_000_001, "too long"),
        ):
            with self.assertRaisesRegex(BadInput, words):
                read_table(text)


def pull(rng, up=0.0, noise=0.8, count=600, tilt=0.0):
    rpm = np.linspace(2000, 6500, count) + rng.normal(0, 6, count)
    return rpm, truth(rpm) + up + tilt + rng.normal(0, noise, count)


def truth(rpm):
    return 95 * np.sin((rpm - 500) / 6500 * 2.2)


class Pulls(unittest.TestCase):
    def test_each_rise_is_a_run(self):
        rpm = np.r_[
            np.full(20, 900.0),
            np.linspace(900, 6000, 80),
            np.linspace(6000, 1500, 30),
            np.linspace(1500, 5500, 70),
            np.linspace(5500, 5200, 9),
        ]
        found = rises(rpm + np.random.default_rng(1).normal(0, 15, len(rpm)))
        self.assertEqual(len(found), 2)
        self.assertAlmostEqual(rpm[found[1]].min(), 1500, delta=60)

    def test_smoothing_bends_nothing_and_says_its_window(self):
        """A parabola: a straight line over ±100 rpm reads its middle high by c h² ÷ 3."""
        rpm = np.linspace(2000, 6000, 4001)
        one = runs_of(rpm, rpm**2 / 1e5)[0]
        middle = (one.rpm > 2200) & (one.rpm < 5800)
        self.assertLess(np.abs(one.power_kw[middle] - one.rpm[middle] ** 2 / 1e5).max(), 100**2 / 1e5 * 0.35)
        self.assertEqual(set(np.diff(one.rpm)), {50.0})

    def test_the_interval_holds_the_truth_as_often_as_it_says(self):
        """300 draws of three pulls each way, shifted alike by the day: 95 % within two standard errors of the count."""
        held = 0
        for seed in range(300):
            rng = np.random.default_rng(seed)
            sets = [
                together([runs_of(*pull(rng, up, tilt=rng.normal(0, 0.7), count=200))[0] for _ in range(3)])
                for up in (0.0, 2.5)
            ]
            _, low, high = difference(*sets).over_range
            held += low <= 2.5 <= high
        self.assertGreaterEqual(held / 300, 0.92)
        self.assertLessEqual(held / 300, 0.995)

    def test_a_difference_is_real_or_not_shown(self):
        rng = np.random.default_rng(5)
        made = lambda up: together([runs_of(*pull(rng, up))[0] for _ in range(4)])  # noqa: E731
        before = made(0.0)
        self.assertTrue(difference(before, made(4.0)).verdict.startswith("proven: +4"))
        self.assertTrue(difference(before, made(0.0)).verdict.startswith("not proven"))
        one = together([runs_of(*pull(rng, 9.0))[0]])
        self.assertIn("one pull says nothing", difference(before, one).verdict)
        self.assertFalse(difference(before, one).real.any())

    def test_welch_is_scipys(self):
        rng = np.random.default_rng(8)
        rows = [rng.normal(50, 1, (4, 1)), rng.normal(52, 3, (3, 1))]
        sets = [Set(np.array([3000.0]), row.mean(0), row.mean(0), row.mean(0), len(row), row) for row in rows]
        found = difference(*sets)
        interval = stats.ttest_ind(rows[1][:, 0], rows[0][:, 0], equal_var=False).confidence_interval(0.95)
        np.testing.assert_allclose([found.low_kw[0], found.high_kw[0]], interval)

    def test_power_of_a_car_that_speeds_up(self):
        """With m a v known in closed form: v² = 2 P t ÷ m at constant power."""
        t = np.arange(2.0, 20.0, 0.1)
        speed = 3.6 * np.sqrt(2 * 50_000 * t / 1200)
        found = wheel_power_kw(t, speed, 1200, 0.0, 0.5)
        np.testing.assert_allclose(found[10:-10], 50.0, rtol=2e-3)
        with self.assertRaises(BadInput):
            wheel_power_kw(np.array([0.0, 2.0, 1.0]), np.zeros(3), 1200)

    def test_no_pull_is_said(self):
        with self.assertRaisesRegex(BadInput, "no run rises"):
            runs_of(np.full(50, 3000.0), np.full(50, 40.0))
        with self.assertRaisesRegex(BadInput, "share no engine speed"):
            together([runs_of(np.linspace(a, a + 1200, 50), np.ones(50))[0] for a in (1500, 4000)])


RATE = 16_000


def tones(*parts, seconds=6.0, noise=0.0, seed=1):
    t = np.arange(int(seconds * RATE)) / RATE
    found = sum(a * np.sin(2 * np.pi * hz * t) for hz, a in parts) if parts else np.zeros(len(t))
    return found + np.random.default_rng(seed).normal(0, noise, len(t)) if noise else found


def heard(samples):
    return hear(io.BytesIO(wav_of(samples, RATE)))


class Sound(unittest.TestCase):
    def test_a_tone_of_a_kilohertz_reads_its_mean_square(self):
        found = heard(tones((1000, 0.5)))
        self.assertAlmostEqual(found.level_a_db, 10 * math.log10(0.125), delta=0.02)
        self.assertAlmostEqual(found.level_z_db, found.level_a_db, delta=0.02)

    def test_a_weighting_takes_from_a_low_tone_what_the_standard_says(self):
        """IEC 61672-1: −16.1 dB at 125 Hz, −26.2 dB at 63 Hz."""
        for hz, level in ((10**2.1, -16.1), (10**1.8, -26.2)):
            found = heard(tones((hz, 0.5)))
            self.assertAlmostEqual(found.level_a_db - found.level_z_db, level, delta=0.12)

    def test_a_third_octave_holds_its_tone_and_the_others_do_not(self):
        found = heard(tones((100, 0.3)))
        loudest = int(np.argmax(found.thirds_db))
        self.assertEqual(NOMINAL[loudest], 100)
        self.assertAlmostEqual(THIRDS[loudest], 100.0)
        self.assertAlmostEqual(found.thirds_db[loudest], 10 * math.log10(0.045), delta=0.05)
        self.assertLess(sorted(found.thirds_db)[-2], found.thirds_db[loudest] - 40)

    def test_noise_is_scipys_welch(self):
        samples = tones(noise=0.1, seconds=20)
        hz, power = signal.welch(samples, RATE, "hann", 32_768)
        found = heard(samples)
        for place, centre in enumerate(THIRDS[3:25], 3):
            rows = (hz >= centre * 10**-0.05) & (hz < centre * 10**0.05)
            self.assertAlmostEqual(found.thirds_db[place], 10 * math.log10(power[rows].sum() * hz[1]), delta=0.3)

    def test_firing_orders_and_a_drone(self):
        found = heard(tones((80, 0.2), (160, 0.05), noise=0.01))
        marked = {one.name: one for one in orders(found, 80.0)}
        self.assertGreater(marked["1 × firing"].over_db, 20)
        self.assertLess(marked["1.5 × firing"].over_db, 10)
        tone = drone(found)
        self.assertAlmostEqual(tone.hz, 80.0, delta=1.0)
        self.assertIsNone(drone(heard(tones(noise=0.05))))

    def test_silence_and_clipping_are_told(self):
        self.assertIn("silent", " ".join(heard(np.zeros(RATE * 2)).faults))
        self.assertIn("clipped", " ".join(heard(tones((100, 3.0))).faults))
        self.assertEqual(heard(tones((100, 0.5))).faults, ())

    def test_absolute_only_when_something_says_so(self):
        found = heard(tones((1000, 0.5)))
        self.assertIsNone(found.absolute_a_db())
        self.assertAlmostEqual(offset_db(94.0, found) + found.level_a_db, 94.0)

    def test_the_same_recorder_twice_needs_no_calibration(self):
        change = thirds_change_db(heard(tones((100, 0.1), noise=0.001)), heard(tones((100, 0.2), noise=0.001)))
        self.assertAlmostEqual(change[NOMINAL.index(100)], 20 * math.log10(2), delta=0.05)

    def test_every_width_of_reading_and_two_channels(self):
        from scipy.io import wavfile

        samples = tones((1000, 0.5))
        for made in (
            (samples * 2**31 * 0.999).astype(np.int32),
            (128 + 127 * samples).astype(np.uint8),
            samples.astype(np.float32),
            np.stack([samples, samples], 1).astype(np.float32),
        ):
            file = io.BytesIO()
            wavfile.write(file, RATE, made)
            file.seek(0)
            self.assertAlmostEqual(hear(file).level_a_db, 10 * math.log10(0.125), delta=0.1)

    def test_refused_in_words(self):
        short = wav_of(np.zeros(400), RATE)
        for raw, words in (
            (b"", "no WAV"),
            (b"RIFF1234WAVEjunk", "can't be read"),
            (b"ID3" + bytes(500), "no WAV"),
            (short, "lasts"),
            (wav_of(np.zeros(9000), 4000), "readings a second"),
            (wav_of(tones(), RATE)[:60], "lasts"),
        ):
            with self.subTest(raw=raw[:12]), self.assertRaisesRegex(BadInput, words):
                hear(io.BytesIO(raw))


class Bills(unittest.TestCase):
    def test_length_volume_and_mass_by_closed_forms(self):
        pieces = [
            Piece(Section("pipe", 60.0, 500.0), wall_mm=1.5),
            Piece(Section("bend", 60.0, angle_deg=180.0, radius_mm=100.0), wall_mm=1.5),
            Piece(Section("reducer", 60.0, 90.0, to_mm=48.0), wall_mm=1.5),
        ]
        found = bill(pieces)
        self.assertAlmostEqual(found.length_mm, 500 + math.pi * 100 + 90)
        cone = math.pi * 90 / 12 * (60**2 + 60 * 48 + 48**2)
        self.assertAlmostEqual(found.volume_l, (math.pi / 4 * 60**2 * (500 + math.pi * 100) + cone) / 1e6, places=9)
        walls = math.pi / 4 * (63**2 - 60**2) * (500 + math.pi * 100) * 7.85e-6
        self.assertAlmostEqual(found.mass_kg - walls, math.pi * 55.5 * 1.5 * 90 * 7.85e-6, places=9)

    def test_what_is_bought_and_what_is_used_again(self):
        found = bill(
            [
                Piece(Section("pipe", 60.0, 400.0), clamps=2, hangers=1),
                Piece(Section("pipe", 60.0, 300.0), couplers=1),
                Piece(Section("pipe", 70.0, 100.0), reused=True),
                Piece(Section("silencer"), "rear silencer"),
                Piece(Section("silencer"), "rear silencer", own_kg=6.0),
            ]
        )
        rows = dict(found.rows)
        self.assertEqual(rows["pipe 60 mm, steel"], "cut 400 + 300 mm; 706 mm with the saw")
        self.assertEqual(
            (rows["clamps"], rows["couplers"], rows["hangers"], rows["rear silencer (silencer)"]), ("2", "1", "1", "2")
        )
        self.assertEqual((found.reused, found.unweighed), (("pipe 70 mm",), ("rear silencer (silencer)",)))
        self.assertEqual(said(Piece(Section("reducer", 76.0, 60.0, to_mm=63.0))), "reducer 76 to 63 mm")


class Bounded(unittest.TestCase):
    """What is taken in is bounded in columns, rows, figures and names before it is looked at."""

    def refused(self, text, words):
        with self.assertRaisesRegex(BadInput, words):
            read_table(text)

    def test_one_wide_line_is_refused_at_once(self):
        self.refused("1," * 40_000, "a line of")
        self.refused("\n".join(["1," * 300 + "1"] * 3), "columns")

    def test_too_many_rows_are_counted_while_they_are_read(self):
        self.refused("1,2\n" * 400_200, "rows")
        self.assertEqual(read_table("1,2\n" * 1000).rows, 1000)

    def test_many_figures_and_long_names(self):
        with mock.patch("rimcore.logs.tables.MOST_CELLS", 50):
            self.refused("a,b\n" + "1,2\n" * 40, "figures")
        found = read_table("x" * 5000 + ",speed [km/h]\n" + "1,2\n" * 9000)
        self.assertEqual((len(found.columns[0].name), found.rows), (120, 9000))

    def test_what_is_left_out_is_told_and_bounded(self):
        found = read_table("t,v\n" + "1,2\n3\n" * 300)
        self.assertEqual((found.rows, len(found.left_out), found.left_out[-1]), (300, 201, "and 100 more"))
