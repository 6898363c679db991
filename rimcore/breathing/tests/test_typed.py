"""A run as it is typed: read and written back alike, told where it is not understood."""

import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from rimcore.breathing.air import moist_air
from rimcore.breathing.bench import Breath, exhaust_flow, intake_flow, judge_housing, judge_loss, judge_room
from rimcore.breathing.bill import MATERIALS, Piece, bill
from rimcore.breathing.drawing import run_drawing
from rimcore.breathing.heard import judge_drone, judge_level
from rimcore.breathing.runs import Section
from rimcore.breathing.typed import ACCEPTED, line_of, parse_piece, parse_run, steps_of, with_bore
from rimcore.cooling.bleed import Bled, Opened, look_at
from rimcore.quantities.errors import BadInput

BORES = st.integers(20, 800).map(lambda half: half / 2)
SECTIONS = st.one_of(
    st.builds(lambda d, long: Section("pipe", d, long), BORES, st.integers(0, 9000).map(float)),
    st.builds(
        lambda d, a, r: Section("bend", d, angle_deg=a, radius_mm=r),
        BORES,
        st.integers(1, 180).map(float),
        st.integers(5, 2000).map(float),
    ),
    st.builds(lambda d, k: Section("bend", d, k=k), BORES, st.integers(0, 500).map(lambda k: k / 10)),
    st.builds(
        lambda d, k: Section("entry", d, k=k), BORES, st.one_of(st.none(), st.integers(0, 500).map(lambda k: k / 10))
    ),
    st.builds(
        lambda d, long: Section("reducer", d, long, to_mm=d + 3.5 if d < 390 else d - 3.5),
        BORES,
        st.integers(1, 900).map(float),
    ),
    st.builds(
        lambda kpa, flow: Section("filter", drop_kpa=kpa, at_kg_per_s=flow),
        st.integers(0, 1000).map(lambda k: k / 10),
        st.integers(1, 5000).map(lambda k: k / 1000),
    ),
    st.builds(
        lambda kpa, hot: Section("silencer", drop_kpa=kpa, at_kg_per_s=0.1, at_c=hot),
        st.integers(0, 1000).map(lambda k: k / 10),
        st.integers(0, 1200).map(float),
    ),
)
PIECES = st.builds(
    lambda section, material, wall, own, reused, clamps, hangers: Piece(
        section=section,
        name="",
        wall_mm=wall,
        material=material,
        own_kg=own,
        reused=reused,
        clamps=clamps,
        couplers=0,
        hangers=hangers,
    ),
    SECTIONS,
    st.sampled_from(sorted(MATERIALS)),
    st.integers(3, 200).map(lambda k: k / 10),
    st.one_of(st.none(), st.integers(0, 2000).map(lambda k: k / 10)),
    st.booleans(),
    st.integers(0, 9),
    st.integers(0, 9),
)
BREATH = Breath(2.0, 6000.0, 95.0, moist_air(15.0, 101.325))


class Typed(unittest.TestCase):
    @settings(max_examples=300, deadline=None, derandomize=True)
    @given(PIECES)
    def test_what_is_written_is_read_back_alike(self, piece):
        self.assertEqual(parse_piece(line_of(piece)), piece)

    def test_examples_of_the_page_are_read(self):
        for text in ACCEPTED.values():
            for one in text.split(", or "):
                parse_piece(one)

    def test_as_people_write_them(self):
        for line, wanted in (
            ("Pipe 2.5 in x 30in", "pipe 63.5 x 762"),
            ("pipe 63,5 x 800 mm", "pipe 63.5 x 800"),
            ("bend 63.5 90 deg r 95", "bend 63.5 90° r 95"),
            ("bend 60mm 45° r 6 cm", "bend 60 45° r 60"),
            ("reducer 70 → 76 × 60", "reducer 70 to 76 x 60"),
            ("filter 0,5 kPa @ 0.1 kg/s", "filter 0.5 kPa at 0.1 kg/s"),
            ("meter 0.3 kPa at 0.1 kg/s bore 2.75 in", "meter 0.3 kPa at 0.1 kg/s bore 69.85"),
            (
                'pipe 60 x 100, stainless steel, reused, "front, lower"',
                "pipe 60 x 100, stainless, re-used, “front, lower”",
            ),
            ("pipe 60 x 1,5", "pipe 60 x 1.5"),
        ):
            self.assertEqual(line_of(parse_piece(line)), wanted, line)

    def test_told_with_its_line(self):
        for text, words in (
            ("pipe 60 x 100\nfoo", "line 2: .*begins with no piece"),
            ("\n\npipe 60", "line 3"),
            ("pipe 9 x 100", "bore 9 mm is out of range; accepted: 10 to 400 mm"),
            ("pipe 60 x 10001", "length"),
            ("bend 60 181° r 50", "angle"),
            ("pipe 60 x 100, 0.1 mm wall", "wall"),
            ("pipe 60 x 100, 300 kg", "mass"),
            ("pipe 60 x 100, blue", "“blue” is not understood"),
            ("reducer 60 to 60 x 10", "another bore"),
            ("reducer 60 to 70 x 0", "another bore"),
            ("silencer 3 kPa at 0.1 kg/s", "temperature"),
            ("filter 3 kPa", "is not understood"),
        ):
            with self.subTest(text=text), self.assertRaisesRegex(BadInput, words):
                parse_run(text)

    def test_another_bore_takes_its_reducers_along(self):
        run = parse_run(
            "pipe 60 x 100\nreducer 60 to 70 x 50\npipe 70 x 200\nreducer 70 to 50 x 40\nfilter 1 kPa at 0.1 kg/s"
        )
        self.assertEqual(
            [line_of(one) for one in with_bore(run, 2, 60.0)],
            ["pipe 60 x 100", "pipe 60 x 50", "pipe 60 x 200", "reducer 60 to 50 x 40", "filter 1 kPa at 0.1 kg/s"],
        )
        self.assertEqual(with_bore(run, 4, 60.0), run)

    def test_jumps_are_told_and_a_box_joins(self):
        self.assertEqual(
            len(
                steps_of(
                    parse_run(
                        "pipe 60 x 1\npipe 70 x 1\nreducer 70 to 60 x 5\npipe 60 x 1\nfilter 1 kPa at 1 kg/s\npipe 90 x 1"
                    )
                )
            ),
            1,
        )

    def test_what_holds_a_piece_has_its_place_along_it(self):
        """A place for each at most, within the piece; a bend's length is that of its centre line."""
        one = parse_piece("pipe 60 x 1350, 3 hangers at 200 mm and 1100, clamp at 1340,5, coupler")
        self.assertEqual((one.hangers, one.clamps, one.couplers), (3, 1, 1))
        self.assertEqual(one.placed, (("hanger", 200.0), ("hanger", 1100.0), ("clamp", 1340.5)))
        self.assertEqual(parse_piece(line_of(one)).placed, (("clamp", 1340.5), ("hanger", 200.0), ("hanger", 1100.0)))
        self.assertEqual(parse_piece("bend 60 90° r 100, hanger at 157").placed, (("hanger", 157.0),))
        for line, words in (
            ("bend 60 90° r 100, hanger at 158", "beyond the piece; accepted: 0 to 157.08 mm"),
            ("pipe 60 x 500, 1 hanger at 100 and 200", "1 hanger at 2 places"),
            ("silencer 3 kPa at 0.1 kg/s 400 °C, hanger at 20", "accepted: 0 to 0 mm"),
            ("pipe 60 x 500, hanger at the tail", "is not understood"),
        ):
            with self.assertRaises(BadInput, msg=line) as caught:
                parse_piece(line)
            self.assertIn(words, caught.exception.message)

    def test_places_go_on_along_the_run_and_say_the_longest_stretch(self):
        """400 + a quarter circle of 100 mm radius (157.08) + 900.

        Hangers at 100, 400 and 1157, the tail 300 mm behind the last.
        """
        run = parse_run(
            "pipe 60 x 400, hangers at 100 and 400\nbend 60 90° r 100\npipe 60 x 900, hanger at 600, 2 clamps at 10"
        )
        found = bill(run)
        rows = dict(found.rows)
        self.assertEqual(rows["hangers"], "3, at 100, 400, 1157 mm along the run")
        self.assertEqual(rows["clamps"], "2, at 567 mm along the run; 1 not placed")
        self.assertAlmostEqual(found.unhung_mm, 600 + 157.0796, places=3)
        self.assertIsNone(bill(parse_run("pipe 60 x 400, 2 hangers at 100")).unhung_mm, "one of them has no place")
        self.assertIsNone(bill(parse_run("pipe 60 x 400, 2 clamps")).unhung_mm)

    def test_marks_stand_where_they_sit_on_the_sheet(self):
        """A quarter along the only pipe; a clamp's bars reach over the pipe, a hanger's hook stands on it."""
        drawn = run_drawing(
            intake_flow(
                parse_run("pipe 70 x 400, hanger at 100, clamp at 300, coupler at 200"),
                Breath(2.0, 6000.0, 100.0, moist_air(15.0, 101.325)),
            )
        )
        pipe = drawn.pieces[0]
        at = {mark.kind: float(mark.path[1:].split(" ")[0]) for mark in drawn.marks}
        self.assertAlmostEqual(at["hanger"], pipe.x + pipe.width / 4, delta=0.11)
        self.assertAlmostEqual(at["clamp"] + 2, pipe.x + 3 * pipe.width / 4, delta=0.11)
        self.assertAlmostEqual(at["coupler"] + 7, pipe.x + pipe.width / 2, delta=0.11)


class Judged(unittest.TestCase):
    def test_loss_against_what_is_usual(self):
        for kpa, state in ((1.0, "clear"), (4.0, "tight"), (7.0, "hit")):
            run = intake_flow(parse_run(f"filter {kpa} kPa at 1 kg/s"), BREATH)
            scaled = intake_flow((Piece(Section("filter", drop_kpa=kpa, at_kg_per_s=run.flow_kg_per_s)),), BREATH)
            self.assertEqual(judge_loss("intake", scaled, 6000, None).state, state)
        fast = intake_flow(parse_run("pipe 33 x 1"), BREATH)
        self.assertGreater(fast.fastest, 0.3)
        self.assertEqual(judge_loss("intake", fast, 6000, None).state, "tight")
        self.assertIn("Mach", judge_loss("intake", fast, 6000, None).reason)

    def test_the_piece_that_loses_most_is_named(self):
        run = exhaust_flow(parse_run("pipe 60 x 500\nsilencer 60 kPa at 0.1 kg/s 400 °C"), BREATH, 800.0, 400.0)
        judged = judge_loss("exhaust", run, 6000, None)
        self.assertEqual(judged.state, "hit")
        self.assertIn("line 2", judged.remedies[0])

    def test_two_runs_share_the_gas(self):
        one = exhaust_flow(parse_run("silencer 3 kPa at 0.1 kg/s 400 °C"), BREATH, 700.0, 700.0)
        two = exhaust_flow(parse_run("silencer 3 kPa at 0.1 kg/s 400 °C"), BREATH, 700.0, 700.0, 2)
        self.assertAlmostEqual(one.total_kpa, 4 * two.total_kpa)

    def test_no_housing_is_no_judgement(self):
        self.assertEqual(judge_housing(70.0, parse_run("pipe 70 x 100"), True).state, "unmeasured")
        self.assertEqual(judge_housing(None, parse_run("meter 0.3 kPa at 0.1 kg/s bore 80"), True).state, "unmeasured")
        self.assertEqual(judge_housing(70.0, parse_run("meter 0.3 kPa at 0.1 kg/s bore 70"), False).state, "clear")

    def test_room_by_its_doubt(self):
        rows = {"exhaust_body": (15.5, 1.0), "exhaust_shaft": (0.0, 1.0), "exhaust_heat": (60.0, 2.0)}
        self.assertEqual([one.state for one in judge_room(rows, {})], ["tight", "hit", "clear"])

    def test_nothing_heard_is_nothing_judged(self):
        self.assertEqual([judge_level(None, 90.0).state, judge_drone(None, None).state], ["unmeasured", "unmeasured"])

    def test_what_to_look_at_goes_with_the_state(self):
        opened = Opened(300.0, 85.0)
        words = [
            look_at(one, 80.0)
            for one in (
                Bled(None, False, "hit", ""),
                Bled(opened, True, "clear", ""),
                Bled(opened, False, "tight", ""),
                Bled(None, False, "tight", ""),
                Bled(None, False, "unmeasured", ""),
            )
        ]
        self.assertEqual(len(set(words)), 5)
        self.assertIn("Engine off", words[0])
        self.assertIn("still shut", words[4])
