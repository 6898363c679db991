"""Springs, dampers, arms, steering and leaves on a corner that was written down and weighed; by hand beside each."""

import math
import unittest
from dataclasses import replace

from hypothesis import given
from hypothesis import strategies as st

from rimcore.families import CHASSIS, FAMILIES
from rimcore.lines import parse_line
from rimcore.parts.declared import Place
from rimcore.parts.gives import gives, judge_gives
from rimcore.parts.sprung import coil_of, seats_mm, sprung_of
from rimcore.parts.stood import Stood
from rimcore.quantities.errors import BadInput
from rimcore.quantities.judgement import Judgement
from rimcore.well.levers import Levers
from rimcore.well.read.measured import Axle, Candidate
from rimcore.well.tests.cases import LEVERS
from rimcore.wheels.fitted import Fitted
from rimcore.wheels.hub import Hub
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import parse_wheel

FITTED = Fitted(parse_wheel("17x8 +45"), parse_tyre("225/45R17"))
#: a strut corner of 340 kg, 40 of them below the spring: 2,942 N in the spring, 98 mm of a 30 N/mm coil
OLD = {
    "spring": {"rate_n_per_mm": 30.0, "free_length_mm": 330.0, "block_length_mm": 120.0, "inner_mm": 100.0},
    "damper": {
        "extended_mm": 520.0,
        "compressed_mm": 350.0,
        "installed_mm": 450.0,
        "seat_mm": 65.0,
        "top": "mount",
        "bottom": "clevis",
        "bolt_mm": 12.0,
        "electronic": "no",
    },
    "control_arm": {"length_mm": 340.0, "bolt_mm": 14.0, "eye_mm": 48.0},
    "roll_bar": {"outer_mm": 20.0, "make": "solid", "arm_mm": 220.0},
    "bar_link": {"length_mm": 280.0, "way": "up", "ends": "studs", "bolt_mm": 10.0},
    "tie_rod": {"thread": "M14x1.5", "taper_mm": 15.2},
    "shaft": {"spline_mm": 17.0, "teeth": 36, "engaged_mm": 34.0, "angle_deg": 22.0},
    "leaf_pack": {"rate_n_per_mm": 25.0, "arch_mm": 150.0, "length_mm": 1180.0, "width_mm": 60.0, "stack_mm": 38.0},
    "u_bolt": {"inside_mm": 62.0, "length_mm": 160.0, "shape": "round"},
    "hose": {"length_mm": 420.0, "slack_mm": 30.0},
    "top_mount": {"studs": 3, "circle_mm": 96.0, "stack_mm": 30.0},
    "bump_stop": {"hole_mm": 14.0},
    "bush": {"outer_mm": 44.0, "inner_mm": 12.0, "length_mm": 60.0},
    "ball_joint": {"fixing": "pressed", "housing_mm": 42.0, "taper_mm": 17.6},
    "subframe": {"mounts": 4, "apart_mm": 760.0},
}
STOOD = Stood(
    use="street",
    end="F",
    old=OLD,
    corner_kg=340.0,
    unsprung_kg=40.0,
    motion_ratio=1.0,
    preload_mm=20.0,
    bump_mm=100.0,
    droop_mm=70.0,
    rod_mm=320.0,
    rod_change_mm=0.0,
    joints_apart_mm=286.5,
    camber_deg=0.0,
)
WHOLE = {
    "spring": {"rate_n_per_mm": 45.0, "free_length_mm": 290.0, "block_length_mm": 110.0, "inner_mm": 65.0},
    "helper": {"rate_n_per_mm": 12.0, "free_length_mm": 60.0, "block_length_mm": 18.0, "inner_mm": 65.0},
    "damper": {
        "extended_mm": 500.0,
        "compressed_mm": 340.0,
        "seat_mm": 65.0,
        "room_least_mm": 200.0,
        "room_most_mm": 285.0,
        "top": "mount",
        "bottom": "clevis",
        "bolt_mm": 12.0,
        "hand": "pair",
    },
    "bump_stop": {"free_mm": 45.0, "solid_mm": 18.0, "hole_mm": 14.0},
    "top_mount": {"studs": 3, "circle_mm": 96.0, "stack_mm": 28.0, "camber_deg": 2.0},
    "control_arm": {"place": "lower", "shortest_mm": 330.0, "longest_mm": 350.0, "bolt_mm": 14.0, "eye_mm": 48.0},
    "ball_joint": {"fixing": "pressed", "housing_mm": 42.0, "taper_mm": 17.6},
    "bush": {"outer_mm": 44.0, "inner_mm": 12.0, "length_mm": 60.0},
    "roll_bar": {"outer_mm": 20.0, "make": "solid", "arm_mm": 220.0},
    "bar_link": {"shortest_mm": 270.0, "longest_mm": 310.0, "ends": "studs", "bolt_mm": 10.0},
    "subframe": {"state": "new", "mounts": 4, "apart_mm": 760.0},
    "tie_rod": {"thread": "M14x1.5", "shortest_mm": 300.0, "longest_mm": 340.0, "taper_mm": 15.2},
    "rack_bracket": {"kind": "bolted", "forward_mm": 26.0},
    "shaft": {"spline_mm": 17.0, "teeth": 36},
    "leaf_pack": {"rate_n_per_mm": 32.0, "arch_mm": 190.0, "length_mm": 1180.0, "width_mm": 60.0},
    "lift_block": {"height_mm": 50.0, "width_mm": 60.0},
    "u_bolt": {"length_mm": 210.0, "inside_mm": 62.0, "shape": "round"},
    "hose": {"length_mm": 480.0},
    "propshaft": {"length_mm": 951.0},
}


def place(stood=STOOD, beside=(), chosen=False, camber=0.0, **more):
    wanted = Candidate(replace(FITTED, camber_deg=camber))
    levers = {name: more.pop(name) for name in (LEVERS - {"camber_deg"}) & set(more)}
    stood = replace(stood, levers=Levers(**levers))
    return Place(
        Axle(("FL", "FR"), FITTED, Hub(), ()), wanted, None, tuple(beside), chosen, stood=replace(stood, **more)
    )


def judged(key, given_=None, where=None):
    return {one.code.removeprefix("part."): one for one in FAMILIES[key].judge(given_ or WHOLE[key], where or place())}


def state(key, code, given_=None, where=None):
    return judged(key, given_, where)[code].state


class Walk(unittest.TestCase):
    def test_nothing_is_clear_where_nothing_of_the_car_is_known(self):
        """But for what the part says of itself alone.

        A pair is a pair, a new subframe is new, two schools are two schools.
        """
        alone = {"part.damper.hand", "part.subframe.seen", "part.rack.school"}
        for key, family in CHASSIS.items():
            with self.subTest(key):
                found = family.judge(WHOLE[key], place(Stood()))
                self.assertTrue(found)
                self.assertEqual({one.code for one in found if one.state == "clear"} - alone, set())

    def test_a_whole_part_on_a_whole_corner_has_every_figure(self):
        for key, family in CHASSIS.items():
            with self.subTest(key):
                for one in family.judge(WHOLE[key], place()):
                    if one.state != "unmeasured":
                        self.assertTrue(one.reason and one.basis and (one.state == "clear" or one.remedies), one.code)

    def test_every_example_is_read_whole(self):
        for key, family in CHASSIS.items():
            found = parse_line(family.example)
            self.assertEqual((found.family, found.unread, found.fault), (key, (), None))
            self.assertEqual(found.supplier, "supplier")

    @given(st.sampled_from(sorted(CHASSIS)), st.data())
    def test_whatever_is_left_out_is_answered_in_words(self, key, data):
        kept = {code: value for code, value in WHOLE[key].items() if data.draw(st.booleans())}
        kept |= {spec.code: WHOLE[key][spec.code] for spec in CHASSIS[key].specs if spec.required}
        old = {family: said for family, said in OLD.items() if data.draw(st.booleans())}
        for one in CHASSIS[key].judge(kept, place(old=old, corner_kg=data.draw(st.sampled_from([None, 340.0])))):
            self.assertIsInstance(one, Judgement)
            self.assertTrue(one.reason)
        CHASSIS[key].drags(kept, place(old=old))


class Springs(unittest.TestCase):
    """340 − 40 kg on 45 N/mm: 300 × 9.80665 ÷ 45 = 65.4 mm, so 224.6 mm long under load, where the old one stood 231.9."""

    def test_the_height_by_hand(self):
        force = 300 * 9.80665
        wanted = (330 - force / 30) - (290 - force / 45)
        found = judged("spring")["spring.height"]
        self.assertAlmostEqual(found.value, wanted, places=9)
        self.assertIn(f"{wanted:.0f} mm lower", found.reason)
        self.assertEqual(found.state, "clear")

    def test_bump_left_after_it_decides(self):
        lowers = judged("spring")["spring.height"].value
        for left, said in ((45.5, "clear"), (44.0, "tight"), (0.0, "hit")):
            self.assertEqual(state("spring", "spring.height", where=place(bump_mm=left + lowers)), said, left)

    def test_a_car_that_is_lowered_already_counts_from_where_it_stands(self):
        one = judged("spring", where=place(bump_mm=70.0, ride_drop_mm=30.0, stands_mm=30.0))["spring.height"]
        other = judged("spring", where=place(bump_mm=70.0))["spring.height"]
        self.assertAlmostEqual(one.margin, other.margin)

    def test_frequency_by_hand_and_by_use(self):
        hertz = math.sqrt(45_000 / 300) / 2 / math.pi
        self.assertAlmostEqual(judged("spring")["spring.frequency"].value, hertz)
        self.assertEqual(state("spring", "spring.frequency"), "tight")  # 1.95 Hz is hard for the street
        self.assertEqual(state("spring", "spring.frequency", where=place(use="track")), "clear")

    def test_a_preload_nobody_read_is_no_nought(self):
        """Another free length between seats whose room is not known: 280 mm of room or 330, nobody can tell."""
        old = {"spring": {"rate_n_per_mm": 60.0, "free_length_mm": 330.0, "block_length_mm": 120.0}}
        bare = place(old=old, preload_mm=None)
        found = judged("spring", WHOLE["spring"] | {"free_length_mm": 280.0}, bare)["spring.seats"]
        self.assertEqual((found.state, found.missing), ("unmeasured", ("preload",)))
        self.assertIsNone(seats_mm(bare, {"free_length_mm": 280.0}))
        self.assertFalse([need for need in FAMILIES["spring"].drags(WHOLE["spring"], bare) if need.family == "helper"])
        read = judged("spring", WHOLE["spring"] | {"free_length_mm": 280.0}, place(old=old, preload_mm=55.0))[
            "spring.seats"
        ]
        self.assertEqual((read.state, read.value), ("clear", 5.0))

    def test_preload_of_the_bench_example(self):
        """A 170 mm spring wound to 162 mm has 8 mm of preload (common practice)."""
        seats = place(
            old={"spring": {"rate_n_per_mm": 60.0, "free_length_mm": 170.0, "block_length_mm": 80.0}}, preload_mm=8.0
        )
        self.assertEqual(seats_mm(seats, {"rate_n_per_mm": 137.3, "free_length_mm": 170.0}), 8.0)

    def test_loose_at_full_droop_wants_a_helper_and_one_cures_it(self):
        self.assertEqual(state("spring", "spring.seats"), "hit")
        self.assertIn("20 mm loose", judged("spring")["spring.seats"].reason)
        self.assertIn("helper", [need.family for need in FAMILIES["spring"].drags(WHOLE["spring"], place())])
        helped = place(beside=[("helper", WHOLE["helper"])])
        self.assertEqual(state("spring", "spring.seats", where=helped), "clear")
        short = {**WHOLE["helper"], "free_length_mm": 36.0}
        self.assertEqual(state("spring", "spring.seats", where=place(beside=[("helper", short)])), "hit")

    def test_collars_wound_up_take_the_slack_away(self):
        self.assertEqual(state("spring", "spring.seats", where=place(perch_up_mm=20.0)), "clear")

    def test_longer_than_the_damper(self):
        self.assertEqual(state("spring", "spring.seats", {**WHOLE["spring"], "free_length_mm": 520.0}), "hit")

    def test_topped_out_is_said(self):
        stiff = {**WHOLE["spring"], "rate_n_per_mm": 200.0, "free_length_mm": 330.0}
        self.assertIn("topped out", judged("spring", stiff)["spring.bind"].reason)

    def test_bore_on_the_seat(self):
        for inner, said in ((65.0, "clear"), (64.0, "hit"), (66.5, "tight")):
            self.assertEqual(state("spring", "spring.bore", {**WHOLE["spring"], "inner_mm": inner}), said)

    def test_a_block_length_above_the_free_one_is_refused(self):
        self.assertIsNotNone(
            FAMILIES["spring"].fault({"rate_n_per_mm": 45.0, "free_length_mm": 100.0, "block_length_mm": 120.0})
        )

    def test_a_coilovers_own_spring_carries_the_corner(self):
        own = {**WHOLE["damper"], "rate_n_per_mm": 60.0, "free_length_mm": 250.0, "block_length_mm": 100.0}
        found = gives(place(beside=[("damper", own)]))
        force = 300 * 9.80665
        self.assertAlmostEqual(found.total_mm, (330 - force / 30) - (250 - force / 60))

    def test_a_helper_that_stays_open_softens(self):
        self.assertEqual(state("helper", "helper.closed", where=place(beside=[("spring", WHOLE["spring"])])), "clear")
        hard = {**WHOLE["helper"], "rate_n_per_mm": 100.0}
        found = judged("helper", hard, place(beside=[("spring", WHOLE["spring"])]))["helper.closed"]
        self.assertEqual(found.state, "tight")
        self.assertIn(f"{45 * 100 / 145:.1f} N/mm", found.reason)

    def test_what_is_not_known_is_named(self):
        self.assertIn("the corner's weight", sprung_of(place(corner_kg=None), WHOLE["spring"]))
        self.assertIn("touching", sprung_of(place(), {"rate_n_per_mm": 45.0}))
        self.assertIsNone(coil_of({"rate_n_per_mm": 45.0}))


class Dampers(unittest.TestCase):
    def test_stroke_by_hand(self):
        found = judged("damper")
        self.assertEqual((found["damper.bump"].value, found["damper.droop"].value), (110.0, 50.0))
        lowered = judged("damper", where=place(ride_drop_mm=30.0, motion_ratio=0.5))
        self.assertEqual(
            (lowered["damper.bump"].value, lowered["damper.droop"].value), ((450 - 15 - 340) / 0.5, (500 - 435) / 0.5)
        )

    def test_a_body_that_goes_along_keeps_the_stroke(self):
        along = judged("damper", where=place(ride_drop_mm=30.0, stroke_moves=True))
        self.assertEqual(along["damper.bump"].value, 110.0)

    def test_collar(self):
        for free, said in ((285.0, "clear"), (230.0, "clear"), (300.0, "tight"), (190.0, "hit")):
            spring = {**WHOLE["spring"], "free_length_mm": free}
            self.assertEqual(state("damper", "damper.collar", where=place(beside=[("spring", spring)])), said, free)

    def test_refused_in_words(self):
        for odd, field in (
            ({"compressed_mm": 500.0}, "compressed_mm"),
            ({"room_least_mm": 300.0}, "room_least_mm"),
            ({"free_length_mm": 500.0, "rate_n_per_mm": 60.0}, "free_length_mm"),
        ):
            with self.assertRaises(BadInput) as refused:
                FAMILIES["damper"].check({**WHOLE["damper"], **odd})
            self.assertEqual(refused.exception.field, field)
        self.assertIn(
            "collar is below its thread", FAMILIES["damper"].fault({**WHOLE["damper"], "room_least_mm": 300.0})
        )
        self.assertIn("longer than the damper", FAMILIES["damper"].fault({**WHOLE["damper"], "free_length_mm": 500.0}))

    def test_ends_and_lamp(self):
        self.assertEqual(state("damper", "damper.ends"), "clear")
        self.assertEqual(state("damper", "damper.ends", {**WHOLE["damper"], "bolt_mm": 14.0}), "hit")
        electronic = place(old={**OLD, "damper": {**OLD["damper"], "electronic": "yes"}})
        self.assertEqual(state("damper", "damper.lamp", where=electronic), "tight")
        self.assertIn("Cancelling plugs", [need.name for need in FAMILIES["damper"].drags(WHOLE["damper"], electronic)])

    def test_bump_stop_by_hand(self):
        found = judged("bump_stop")
        self.assertEqual((found["stop.first"].value, found["stop.solid"].value), (450 - 350 - 45, 450 - 350 - 18))
        low = judged("bump_stop", where=place(ride_drop_mm=60.0))
        self.assertEqual((low["stop.first"].state, low["stop.solid"].state), ("tight", "tight"))
        self.assertIn("stands on it, 5 mm deep", low["stop.first"].reason)
        self.assertEqual(state("bump_stop", "stop.solid", where=place(ride_drop_mm=82.0)), "hit")

    def test_top_mount(self):
        self.assertEqual(judged("top_mount")["mount.height"].value, 2.0)
        self.assertEqual(state("top_mount", "mount.camber", where=place(camber=-2.0)), "clear")
        self.assertEqual(state("top_mount", "mount.camber", where=place(camber=-2.5)), "hit")
        self.assertEqual(state("top_mount", "mount.studs", {**WHOLE["top_mount"], "studs": 4}), "hit")


class Links(unittest.TestCase):
    def test_set_to_the_old_arms_length(self):
        self.assertEqual(state("control_arm", "arm.length"), "clear")
        self.assertIn("340", judged("control_arm")["arm.length"].reason)

    def test_one_that_can_not_be_set_says_what_it_does_to_the_camber(self):
        """5 mm at joints 286.5 mm apart: arctan(5 ÷ 286.5) = 1.0°; a longer lower arm pushes the foot out."""
        longer = {"place": "lower", "length_mm": 345.0}
        self.assertIn("1.0° more negative", judged("control_arm", longer)["arm.length"].reason)
        self.assertIn("1.0° less negative", judged("control_arm", {**longer, "place": "upper"})["arm.length"].reason)
        self.assertIn("less negative", judged("control_arm", {**longer, "length_mm": 335.0})["arm.length"].reason)
        self.assertNotIn("camber", judged("control_arm", {**longer, "place": "trailing"})["arm.length"].reason)

    def test_every_arm_says_which_angle_it_moves(self):
        for where, words in (
            ("caster", "caster"),
            ("tension", "caster"),
            ("radius", "forward or back"),
            ("trailing", "toe"),
            ("toe", "toe"),
            ("lateral", "camber"),
        ):
            self.assertIn(
                words, judged("control_arm", {"place": where, "length_mm": 345.0})["arm.length"].reason, where
            )

    def test_an_arm_is_held_against_the_one_it_replaces_alone(self):
        stands = place(old={**OLD, "control_arm": {"place": "lower", "length_mm": 340.0}})
        found = judged("control_arm", {"place": "tension", "length_mm": 340.0}, stands)["arm.length"]
        self.assertEqual((found.state, found.missing), ("unmeasured", ("part.control_arm",)))
        self.assertEqual(state("control_arm", "arm.length", {"place": "lower", "length_mm": 340.0}, stands), "clear")

    def test_tension_rods_and_radius_arms_are_read_from_a_line(self):
        for text, where in (
            ("tension rods 330-350, 180", "tension"),
            ("radius arms 402, 90", "radius"),
            ("caster arm 310, 90", "caster"),
        ):
            line = parse_line(text)
            self.assertEqual((line.family, line.spec["place"]), ("control_arm", where))

    def test_a_bar_by_the_fourth_power(self):
        found = judged("roll_bar", {"outer_mm": 24.0, "make": "solid"})["bar.stiffness"]
        self.assertAlmostEqual(found.value, (24 / 20) ** 4)
        self.assertEqual(found.state, "tight")
        self.assertEqual(state("roll_bar", "bar.stiffness"), "clear")
        for unsaid in (
            {"outer_mm": 20.0, "arm_mm": 220.0},
            {"outer_mm": 20.0, "make": "solid"},
            {"outer_mm": 20.0, "make": "hollow", "arm_mm": 220.0},
        ):
            self.assertEqual(state("roll_bar", "bar.stiffness", unsaid), "unmeasured", unsaid)
        arms = place(old={**OLD, "roll_bar": {"outer_mm": 20.0, "arm_mm": 200.0}})
        self.assertAlmostEqual(
            judged("roll_bar", {"outer_mm": 20.0, "arm_mm": 250.0}, arms)["bar.stiffness"].value, 0.64
        )
        self.assertEqual(state("roll_bar", "bar.bushes", {"outer_mm": 22.0}), "tight")

    def test_a_wall_that_leaves_nothing_hollow_is_refused(self):
        self.assertIn("half", FAMILIES["roll_bar"].fault({"outer_mm": 20.0, "wall_mm": 10.0}))

    def test_a_link_keeps_the_bars_arm_level(self):
        fixed = {"length_mm": 280.0, "ends": "studs", "bolt_mm": 10.0}
        self.assertEqual(state("bar_link", "link.length", fixed, place(ride_drop_mm=30.0)), "tight")
        found = judged("bar_link", where=place(ride_drop_mm=30.0))["link.length"]
        self.assertIn("310", found.reason)
        down = place(old={**OLD, "bar_link": {**OLD["bar_link"], "way": "down"}}, ride_drop_mm=30.0)
        self.assertEqual(judged("bar_link", {**fixed, "length_mm": 250.0}, down)["link.length"].value, 0.0)

    def test_a_used_subframe_is_unmeasured_until_somebody_looked(self):
        used = {**WHOLE["subframe"], "state": "used"}
        here = place()
        self.assertEqual(state("subframe", "subframe.seen", used), "unmeasured")
        self.assertEqual(state("subframe", "subframe.seen", used, replace(here, answers={"seen": "sound"})), "clear")
        self.assertEqual(
            state("subframe", "subframe.seen", used, replace(here, answers={"seen": "to be repaired"})), "tight"
        )

    def test_a_raised_joint_asks_for_the_rod(self):
        self.assertEqual(state("ball_joint", "joint.rod", {**WHOLE["ball_joint"], "raised_mm": 20.0}), "tight")
        self.assertNotIn("joint.rod", judged("ball_joint"))

    def test_metal_bushes_are_noisy(self):
        self.assertEqual(state("bush", "bush.noise", {**WHOLE["bush"], "material": "metal"}), "tight")


class Steering(unittest.TestCase):
    def test_thread_and_taper_must_match(self):
        """M14×1.5 (common practice); a pitch of 2 strips."""
        self.assertEqual((state("tie_rod", "rod.thread"), state("tie_rod", "rod.taper")), ("clear", "clear"))
        self.assertEqual(state("tie_rod", "rod.thread", {**WHOLE["tie_rod"], "thread": "M14x2"}), "hit")
        self.assertEqual(state("tie_rod", "rod.taper", {**WHOLE["tie_rod"], "taper_mm": 17.6}), "hit")

    def test_a_rod_follows_the_rack(self):
        """14 in before, 12½ in after (common practice): 38.1 mm less than 355.6."""
        shorter = place(rod_mm=355.6, rod_change_mm=-38.1)
        found = judged("tie_rod", where=shorter)["rod.length"]
        self.assertEqual(found.state, "clear")
        self.assertIn("318", found.reason)
        self.assertEqual(state("tie_rod", "rod.length", where=place(rod_change_mm=30.0)), "hit")

    def test_an_offset_spacer_side_loads_the_rack(self):
        found = judged("rack_bracket", {"kind": "spacer", "forward_mm": 4.0})
        self.assertEqual(found["rack.school"].state, "tight")
        self.assertIn("leak", found["rack.school"].reason)
        self.assertIn("qualified welder", judged("rack_bracket", {"kind": "welded"})["rack.school"].reason)

    def test_over_centre_is_asked_of_the_steering_with_the_brackets_own_move(self):
        asked = []

        def racked(forward, up):
            asked.append((forward, up))
            return Judgement("steer.toggle", "x", "hit", "over centre", "geometry", remedies=("less",))

        found = judged("rack_bracket", {"kind": "bolted", "forward_mm": 26.0, "up_mm": 4.0}, place(racked=racked))
        self.assertEqual((found["rack.centre"].state, asked), ("hit", [(26.0, 4.0)]))

    def test_part_and_lever_say_the_same(self):
        for rack, said in (((26.0, 0.0), "clear"), ((20.0, 0.0), "tight")):
            self.assertEqual(state("rack_bracket", "rack.lever", where=place(chosen=True, rack_mm=rack)), said)

    def test_the_shaft_is_pulled_out_by_what_the_rack_goes_forward(self):
        """34 mm in, rack 26 mm forward: 8 mm of a 17 mm spline; an extension of 30 mm makes it 38."""
        forward = place(rack_mm=(26.0, 0.0))
        self.assertEqual(judged("shaft", where=forward)["shaft.engaged"].value, 8.0)
        self.assertEqual(state("shaft", "shaft.engaged", where=forward), "hit")
        self.assertEqual(state("shaft", "shaft.engaged", {**WHOLE["shaft"], "length_mm": 30.0}, forward), "clear")
        self.assertEqual(state("shaft", "shaft.angle"), "clear")


class Leaves(unittest.TestCase):
    REAR = replace(STOOD, end="R", use="tow")

    def test_height_by_hand(self):
        force = 300 * 9.80665
        found = judged("leaf_pack", where=place(self.REAR))["leaf.height"]
        self.assertAlmostEqual(found.value, (150 - force / 25) - (190 - force / 32))
        self.assertAlmostEqual(
            judged("leaf_pack", where=place(self.REAR))["leaf.frequency"].value, math.sqrt(32_000 / 300) / 2 / math.pi
        )

    def test_never_under_a_steered_axle_and_never_on_another(self):
        self.assertEqual(state("lift_block", "block.axle"), "hit")
        self.assertEqual(state("lift_block", "block.axle", where=place(self.REAR)), "tight")
        stacked = place(replace(self.REAR, old={**OLD, "lift_block": {"height_mm": 50.0}}))
        self.assertEqual(state("lift_block", "block.stacked", where=stacked), "hit")

    def test_u_bolts_grow_with_block_and_pack(self):
        rear = place(self.REAR, beside=[("lift_block", WHOLE["lift_block"]), ("leaf_pack", {"stack_mm": 42.0})])
        found = judged("u_bolt", where=rear)["u_bolt.length"]
        self.assertEqual((found.state, found.value), ("hit", 160 + 50 + 4 - 210))
        self.assertEqual(state("u_bolt", "u_bolt.length", {**WHOLE["u_bolt"], "length_mm": 214.0}, rear), "clear")

    def test_blocks_raise_by_their_height_less_the_old_ones(self):
        self.assertEqual(gives(place(self.REAR, beside=[("lift_block", WHOLE["lift_block"])])).total_mm, -50.0)
        had = place(
            replace(self.REAR, old={**OLD, "lift_block": {"height_mm": 30.0}}, stands_mm=-30.0),
            beside=[("lift_block", WHOLE["lift_block"])],
        )
        self.assertEqual(gives(had).total_mm, -50.0)

    def test_a_propshaft_grows_by_pythagoras(self):
        rear = place(replace(self.REAR, old={**OLD, "propshaft": {"length_mm": 950.0}}), ride_drop_mm=-50.0)
        self.assertAlmostEqual(judged("propshaft", where=rear)["propshaft.length"].value, 951 - math.hypot(950, 50))
        self.assertEqual(state("propshaft", "propshaft.length", {"length_mm": 980.0}, rear), "hit")

    def test_a_hose_hangs_lower_with_the_axle(self):
        self.assertEqual(judged("hose", where=place(self.REAR))["hose.reach"].value, 90.0)
        lifted = place(self.REAR, ride_drop_mm=-80.0)
        self.assertEqual(
            (judged("hose", where=lifted)["hose.reach"].value, state("hose", "hose.reach", where=lifted)),
            (10.0, "tight"),
        )
        self.assertEqual(state("hose", "hose.reach", {"length_mm": 460.0}, lifted), "hit")


class Heights(unittest.TestCase):
    def test_parts_add_up_and_are_held_against_the_build(self):
        force = 300 * 9.80665
        lowers = (330 - force / 30) - (290 - force / 45)
        here = place(
            beside=[("spring", WHOLE["spring"]), ("top_mount", WHOLE["top_mount"])], perch_up_mm=5.0, ride_drop_mm=5.0
        )
        self.assertAlmostEqual(gives(here).total_mm, lowers - 5 + 2)
        self.assertEqual(judge_gives(here).state, "clear")
        self.assertEqual(judge_gives(place(beside=[("spring", WHOLE["spring"])], ride_drop_mm=30.0)).state, "tight")

    def test_what_is_not_known_of_one_leaves_the_whole_unmeasured(self):
        found = judge_gives(place(beside=[("spring", {"rate_n_per_mm": 45.0})]))
        self.assertEqual((found.state, "springs" in found.reason), ("unmeasured", True))
        self.assertIsNone(judge_gives(place()))


class Told(unittest.TestCase):
    def test_an_old_part_may_be_known_in_part_but_not_impossible(self):
        for family in CHASSIS.values():
            family.check_old({})
        with self.assertRaises(BadInput):
            CHASSIS["damper"].check_old({"extended_mm": 300.0, "compressed_mm": 400.0})
        with self.assertRaises(BadInput):
            CHASSIS["damper"].check_old({"installed_mm": 5000.0})

    def test_what_a_part_can_not_be_without(self):
        """Written down, so that a slip of the pen is noticed."""
        required = {
            key: " ".join(sorted(spec.code for spec in family.specs if spec.required))
            for key, family in CHASSIS.items()
        }
        self.assertEqual(
            {key: codes for key, codes in required.items() if codes},
            {
                "control_arm": "place",
            },
        )

    def test_what_decides_and_a_shop_may_leave_out(self):
        decides = {
            key: " ".join(sorted(spec.code for spec in family.specs if spec.decides)) for key, family in CHASSIS.items()
        }
        self.assertEqual(
            {key: codes for key, codes in decides.items() if codes},
            {
                "helper": "block_length_mm free_length_mm rate_n_per_mm",
                "bump_stop": "free_mm solid_mm",
                "roll_bar": "outer_mm",
                "shaft": "spline_mm",
            },
        )
        for key in CHASSIS:
            for one in CHASSIS[key].judge({"place": "lower"}, place()):
                if one.code in ("part.damper.lamp", "part.block.axle"):
                    # what the car has decides it, whatever the part is
                    continue
                self.assertEqual(one.state, "unmeasured", f"{key} of which nothing is known: {one.code}")

    def test_what_else_a_family_says(self):
        """Share of price used, is it added, how many at an end, when it is looked at again (km)."""
        self.assertEqual(
            {
                key: (one.used_share, one.adds, one.per_end(5), [due.after_km for due in one.dues if due.after_km])
                for key, one in CHASSIS.items()
            },
            {
                "spring": (0.4, False, 2, [300]),
                "helper": (0.3, True, 2, []),
                "damper": (0.45, False, 2, [300, 80]),
                "bump_stop": (None, False, 2, []),
                "top_mount": (0.4, False, 2, [1000]),
                "control_arm": (0.4, False, 2, [80]),
                "ball_joint": (None, False, 2, [1000]),
                "bush": (None, False, None, []),
                "roll_bar": (0.4, False, 1, [80]),
                "bar_link": (0.3, False, 2, [1000]),
                "subframe": (0.5, False, 1, [80]),
                "tie_rod": (0.2, False, 2, [80]),
                "rack_bracket": (0.5, True, 1, [80]),
                "shaft": (0.3, False, 1, [80]),
                "leaf_pack": (0.4, False, 2, [300, 80, 800]),
                "lift_block": (0.3, True, 2, [80, 800]),
                "u_bolt": (None, False, 4, [80]),
                "hose": (None, False, None, []),
                "propshaft": (0.3, False, 1, [80]),
            },
        )

    def test_what_each_drags_along(self):
        wanted = {
            "spring": {"Alignment", "Spring compressor", "Top nuts, one-use", "Helper springs"},
            "damper": {"Alignment", "Top nuts, one-use", "Lower damper bolts, one-use", "Bump stops"},
            "top_mount": {"Alignment", "Top nuts, one-use"},
            "control_arm": {"Alignment", "Arm bolts, one-use"},
            "ball_joint": {"Alignment", "Ball joint nuts, one-use"},
            "roll_bar": {"Bar bushes 20 mm"},
            "subframe": {"Alignment", "Subframe bolts, one-use", "Subframe mounts"},
            "tie_rod": {"Alignment", "Rod end nuts, one-use", "Rack boot clips"},
            "rack_bracket": {
                "Alignment",
                "Shaft extension",
                "Shaft clamp bolt, one-use",
                "Steering fluid",
                "Hose brackets",
            },
            "shaft": {"Shaft clamp bolt, one-use"},
            "leaf_pack": {"U-bolts", "Shackle and hanger bushes"},
            "lift_block": {"U-bolts", "Longer brake hoses"},
            "hose": {"Brake fluid", "Copper washers for the hose"},
            "propshaft": {"Propshaft bolts, one-use"},
        }
        for key, family in CHASSIS.items():
            needs = family.drags(WHOLE[key], place())
            self.assertEqual({need.name for need in needs}, wanted.get(key, set()), key)
            for need in needs:
                self.assertTrue(need.why and need.quantity >= 1 and need.family in FAMILIES)


class InInches(unittest.TestCase):
    def test_a_coilover_is_read_in_inches_as_in_millimetres(self):
        inch = parse_line(
            "coilovers 19 5/8 in to 13 3/8 in rate 297 lbf/in free 8.3 in room 7-9.5 in pair, 9.7 lb, 345"
        )
        self.assertEqual(
            {code: round(inch.spec[code], 3) for code in ("extended_mm", "compressed_mm", "room_most_mm")},
            {"extended_mm": 498.475, "compressed_mm": 339.725, "room_most_mm": 241.3},
        )
        bare = parse_line("coilovers 498 to 338 room 190-260, 345")
        self.assertEqual((bare.spec["extended_mm"], bare.spec["room_least_mm"], bare.unread), (498.0, 190.0, ()))
