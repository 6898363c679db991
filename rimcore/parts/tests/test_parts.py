"""Parts of every family on a measured hub: judged, counted, the same on both sides, and what they drag along."""

import unittest
from dataclasses import replace

from rimcore.benches import LEVERS
from rimcore.families import CHASSIS, FAMILIES, PAIRED, RUNNING
from rimcore.fastening.threads import parse_thread
from rimcore.limits import LIMITS
from rimcore.lines import parse_line
from rimcore.parts.common import judge_count, judge_diameter, judge_sides, judged
from rimcore.parts.declared import Need, Place
from rimcore.parts.needs import answered
from rimcore.quantities.errors import BadInput
from rimcore.well.judge import fitment
from rimcore.well.judge.altered import braked
from rimcore.well.judge.tolerance import SCHOOLS
from rimcore.well.levers import Brake, Levers
from rimcore.well.read.measured import Axle, Candidate
from rimcore.well.tests.cases import with_levers
from rimcore.wheels.fitted import Fitted
from rimcore.wheels.hub import Hub, WheelMount, parse_seat
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import parse_wheel

HUB = Hub(
    bolts=5,
    pcd_mm=112.0,
    bore_mm=57.1,
    thread=parse_thread("M14x1.5"),
    stud_length_mm=28.0,
    bolt_length_mm=None,
    seat=parse_seat("ball R13"),
    collar_mm=12.0,
)
FITTED = Fitted(parse_wheel("17x8 +45"), parse_tyre("225/45R17"))
MOUNT = WheelMount(5, 112.0, 72.6, parse_seat("cone 60"), 12.0)


def place(hub=HUB, mount=MOUNT, spacer=0.0, kind="slip", chosen=False, beside=(), **candidate):
    wanted = with_levers(replace(FITTED, spacer_mm=spacer), mount=mount, spacer_kind=kind, **candidate)
    return Place(Axle(("FL", "FR"), FITTED, hub, ()), wanted, hub.bolts, beside, chosen)


def states(key, given, where=None):
    return {judged.code: judged.state for judged in FAMILIES[key].judge(given, where or place())}


class Hats(unittest.TestCase):
    def test_which_side_the_rotor_stands_is_said(self):
        given = {"radius_mm": 150.0, "face_mm": 30.0, "for_hat_mm": 46.0}
        for hat, side in ((50.0, "4 mm outboard"), (43.0, "3 mm inboard")):
            found = FAMILIES["caliper"].judge(given, place(beside=(("rotor", {"hat_mm": hat}),)))
            self.assertIn(side, next(one.reason for one in found if one.code == "part.caliper.hat"))


class Rings(unittest.TestCase):
    """57.1 in 72.6: common practice's own example of a ring; a hollow plastic one still lets the wheel shift."""

    def test_the_ring_of_the_example_is_clear_on_both_sides(self):
        self.assertEqual(set(states("ring", {"inner_mm": 57.1, "outer_mm": 72.6}).values()), {"clear"})

    def test_a_drawer_over(self):
        self.assertEqual(states("ring", {"inner_mm": 57.1, "outer_mm": 73.1})["part.ring.wheel"], "hit")
        self.assertEqual(states("ring", {"inner_mm": 57.1, "outer_mm": 72.0})["part.ring.wheel"], "tight")
        self.assertEqual(states("ring", {"inner_mm": 56.6, "outer_mm": 72.6})["part.ring.hub"], "hit")
        self.assertEqual(states("ring", {"inner_mm": 57.5, "outer_mm": 72.6})["part.ring.hub"], "tight")

    def test_hollow_is_tight_and_solid_is_not_told(self):
        self.assertEqual(
            states("ring", {"inner_mm": 57.1, "outer_mm": 72.6, "build": "hollow"})["part.ring.build"], "tight"
        )
        self.assertNotIn("part.ring.build", states("ring", {"inner_mm": 57.1, "outer_mm": 72.6, "build": "solid"}))

    def test_nothing_measured_is_never_clear(self):
        unknown = place(hub=Hub(), mount=WheelMount())
        for key, given in (
            ("ring", {"inner_mm": 57.1, "outer_mm": 72.6}),
            ("stud", {"thread": "M14x1.5", "length_mm": 45.0}),
            ("nut", {"thread": "M14x1.5", "seat": "cone 60"}),
            ("valve", {}),
            ("sensor", {"band": "433"}),
            ("cap", {}),
        ):
            with self.subTest(key):
                found = FAMILIES[key].judge(given, unknown)
                self.assertTrue(found)
                self.assertEqual({judged.state for judged in found}, {"unmeasured"})
                self.assertTrue(all(judged.missing for judged in found))

    def test_figures_of_the_card(self):
        """What is held against what: 0.1 mm, the play found, and its formula with the numbers put in."""
        judged = next(
            j
            for j in FAMILIES["ring"].judge({"inner_mm": 57.1, "outer_mm": 72.0}, place())
            if j.code == "part.ring.wheel"
        )
        self.assertEqual(
            (judged.value, judged.held_against, round(judged.margin, 3), judged.formula),
            (0.6, 0.1, -0.5, "72.6 − 72 = 0.6 mm"),
        )
        fine = next(
            j
            for j in FAMILIES["ring"].judge({"inner_mm": 57.1, "outer_mm": 72.5678}, place())
            if j.code == "part.ring.wheel"
        )
        self.assertEqual((fine.value, fine.state), (0.032, "clear"))

    def test_both_ends_of_a_match(self):
        for outer, state in ((72.5, "clear"), (72.49, "tight"), (72.7, "clear"), (72.71, "hit")):
            self.assertEqual(states("ring", {"inner_mm": 57.1, "outer_mm": outer})["part.ring.wheel"], state, outer)


class Threads(unittest.TestCase):
    """Wanted in the nut: 1.0 × diameter (common practice: 8 turns of M12×1.5)."""

    def test_length_less_pad_less_spacer(self):
        for length, spacer, state in (
            (26.0, 0.0, "tight"),
            (25.9, 0.0, "hit"),
            (27.4, 0.0, "tight"),
            (27.5, 0.0, "clear"),
            (45.0, 20.0, "hit"),
            (46.0, 20.0, "tight"),
        ):
            found = states("stud", {"thread": "M14x1.5", "length_mm": length, "grade": "10.9"}, place(spacer=spacer))
            self.assertEqual(found["part.engagement"], state, (length, spacer))

    def test_a_bolted_spacer_takes_no_thread_from_them(self):
        found = states("stud", {"thread": "M14x1.5", "length_mm": 28.0}, place(spacer=20.0, kind="bolted"))
        self.assertEqual(found["part.engagement"], "clear")

    def test_pitch_matters(self):
        self.assertEqual(states("nut", {"thread": "M14x1.25", "seat": "cone 60"})["part.thread"], "hit")
        self.assertEqual(states("nut", {"thread": "M14x1.5", "seat": "cone 60"})["part.thread"], "clear")
        self.assertEqual(states("nut", {"thread": "M12x1.5", "seat": "cone 60"})["part.thread"], "hit")

    def test_seat_by_shape_and_size(self):
        for seat, state in (
            ("cone 60", "clear"),
            ("cone 90", "hit"),
            ("ball R13", "hit"),
            ("flat", "hit"),
            ("cone", "unmeasured"),
        ):
            self.assertEqual(states("nut", {"thread": "M14x1.5", "seat": seat})["part.seat"], state, seat)

    def test_class(self):
        for key, given, state in (
            ("stud", {"grade": "8.8"}, "tight"),
            ("stud", {"grade": "10.9"}, "clear"),
            ("stud", {"grade": "12.9"}, "clear"),
            ("stud", {}, "unmeasured"),
            ("nut", {"grade": "8", "seat": "cone 60"}, "tight"),
            ("nut", {"grade": "10", "seat": "cone 60"}, "clear"),
        ):
            whole = {"thread": "M14x1.5", "length_mm": 45.0, **given}
            self.assertEqual(states(key, whole)["part.class"], state, (key, given))


class Spacers(unittest.TestCase):
    def test_on_the_list_the_thread_and_collar_it_leaves(self):
        found = states("spacer", {"thickness_mm": 5.0, "kind": "slip"})
        self.assertEqual((found["hub.engagement"], found["spacer.collar"]), ("hit", "clear"))
        self.assertEqual(states("spacer", {"thickness_mm": 20.0, "kind": "bolted"})["spacer.studs"], "hit")
        self.assertEqual(states("spacer", {"thickness_mm": 30.0, "kind": "bolted"})["spacer.studs"], "clear")

    def test_in_the_build_its_thickness_is_held_against_the_lever(self):
        self.assertEqual(
            states("spacer", {"thickness_mm": 15.0}, place(spacer=15.0, chosen=True))["part.spacer.lever"], "clear"
        )
        self.assertEqual(
            states("spacer", {"thickness_mm": 15.0}, place(spacer=10.0, chosen=True))["part.spacer.lever"], "tight"
        )
        self.assertNotIn("part.spacer.lever", states("spacer", {"thickness_mm": 15.0}))

    def test_pattern(self):
        self.assertEqual(
            states("spacer", {"thickness_mm": 5.0, "bolts": 5, "pcd_mm": 112.0})["part.spacer.pattern"], "clear"
        )
        self.assertEqual(
            states("spacer", {"thickness_mm": 5.0, "bolts": 5, "pcd_mm": 114.3})["part.spacer.pattern"], "hit"
        )
        self.assertEqual(
            states("spacer", {"thickness_mm": 5.0, "bolts": 4, "pcd_mm": 112.0})["part.spacer.pattern"], "hit"
        )
        for said, where, state in (
            ({}, place(), "unmeasured"),
            ({"pcd_mm": 112.0}, place(), "unmeasured"),
            ({"bolts": 5}, place(), "unmeasured"),
            ({"bolts": 4}, place(), "hit"),
            ({"pcd_mm": 112.6}, place(), "hit"),
            ({"bolts": 5, "pcd_mm": 112.5}, place(), "clear"),
            ({"bolts": 5, "pcd_mm": 112.0}, place(hub=replace(HUB, bolts=None)), "unmeasured"),
            ({"bolts": 5, "pcd_mm": 112.0}, place(hub=replace(HUB, pcd_mm=None)), "unmeasured"),
        ):
            self.assertEqual(states("spacer", {"thickness_mm": 5.0, **said}, where)["part.spacer.pattern"], state, said)

    def test_only_a_bolted_one_has_nuts_of_its_own_to_look_at_again(self):
        (due,) = FAMILIES["spacer"].dues
        self.assertEqual(
            [due.holds(given) for given in ({"kind": "bolted"}, {"kind": "slip"}, {})], [True, False, False]
        )

    def test_only_a_bolted_one_has_a_thread_of_its_own(self):
        for kind, judged_so in (("bolted", True), ("slip", False), (None, False)):
            given = {"thickness_mm": 15.0, "thread": "M14x1.5"} | ({"kind": kind} if kind else {})
            self.assertEqual("part.spacer.thread" in states("spacer", given), judged_so, kind)
        self.assertNotIn("part.spacer.thread", states("spacer", {"thickness_mm": 15.0, "kind": "bolted"}))

    def test_a_bolted_one_wants_nuts_for_each_lug(self):
        nuts = FAMILIES["spacer"].drags({"thickness_mm": 15.0, "kind": "bolted"}, place())
        self.assertEqual([(need.family, need.quantity) for need in nuts if need.family == "nut"], [("nut", 10)])
        unknown = Place(Axle(("FL", "FR"), FITTED, replace(HUB, bolts=None), ()), Candidate(FITTED, mount=MOUNT), None)
        self.assertNotIn(
            "nut", [need.family for need in FAMILIES["spacer"].drags({"thickness_mm": 15.0, "kind": "bolted"}, unknown)]
        )

    def test_who_has_not_said_the_pattern(self):
        for given, hub, whose in (
            ({"bolts": 5, "pcd_mm": 112.0}, replace(HUB, pcd_mm=None), "hub's"),
            ({"bolts": 5, "pcd_mm": 112.0}, replace(HUB, bolts=None), "hub's"),
            ({"bolts": 5}, HUB, "spacer's"),
            ({"pcd_mm": 112.0}, HUB, "spacer's"),
        ):
            found = {one.code: one for one in FAMILIES["spacer"].judge({"thickness_mm": 15.0, **given}, place(hub))}[
                "part.spacer.pattern"
            ]
            self.assertEqual(found.state, "unmeasured")
            self.assertIn(whose, found.reason)
            self.assertEqual(found.missing, ("hub.pattern" if whose == "hub's" else "part.spacer",))

    def test_a_twentieth_of_a_millimetre_is_the_same_thickness(self):
        for lever, state, words in ((15.04, "clear", "both 15 mm"), (15.07, "tight", "reckons with 15.07")):
            found = {
                one.code: one
                for one in FAMILIES["spacer"].judge({"thickness_mm": 15.0}, place(spacer=lever, chosen=True))
            }["part.spacer.lever"]
            self.assertEqual(found.state, state)
            self.assertIn(words, found.reason)


class Answered(unittest.TestCase):
    def test_valve_and_sensor_against_what_was_read_on_the_car(self):
        for key, code, given, answers, state in (
            ("valve", "part.valve", {"hole": "11.3"}, {"hole": "11.3 mm"}, "clear"),
            ("valve", "part.valve", {"hole": "11.3"}, {"hole": "8.3 mm"}, "hit"),
            ("valve", "part.valve", {}, {"hole": "8.3 mm"}, "unmeasured"),
            ("valve", "part.valve", {"hole": "8.3"}, {}, "unmeasured"),
            ("sensor", "part.sensor", {"band": "433"}, {"band": "433 MHz"}, "clear"),
            ("sensor", "part.sensor", {"band": "433"}, {"band": "315 MHz"}, "hit"),
            ("sensor", "part.sensor", {"band": "433"}, {"band": "not read"}, "unmeasured"),
            ("sensor", "part.sensor", {}, {"band": "433 MHz"}, "unmeasured"),
        ):
            self.assertEqual(states(key, given, replace(place(), answers=answers))[code], state, (key, given, answers))


class Brakes(unittest.TestCase):
    def test_a_caliper_moves_what_the_wheel_goes_over(self):
        wanted = Candidate(
            FITTED, barrel_radius_mm=190.0, spoke_back_mm=40.0, levers=Levers(brake=Brake(180.0, 38.0, "the offer"))
        )
        axle = Axle(("FL", "FR"), FITTED, HUB, ())
        found = {j.code: j for j in fitment.judge(axle, wanted, SCHOOLS["daily"]).judgements if j.where == "front left"}
        self.assertEqual((found["gap.caliper_barrel"].value, found["gap.caliper_spoke"].value), (10.0, 2.0))
        larger = fitment.judge(axle, wanted.moved(brake=Brake(191.0, 41.0)), SCHOOLS["daily"]).judgements
        self.assertEqual(
            {j.state for j in larger if j.code.startswith("gap.caliper_") and j.value is not None}, {"hit"}
        )
        without = {j.code: j for j in fitment.judge(axle, wanted.moved(brake=None), SCHOOLS["daily"]).judgements}
        self.assertEqual(without["gap.caliper_barrel"].state, "unmeasured")

    def test_the_builds_wheel_over_a_caliper_of_the_list(self):
        given = {"radius_mm": 165.0, "face_mm": 31.0}
        for barrel, spoke, spacer, states_ in (
            (165.0, 31.0, 0.0, ("tight", "tight")),
            (165.5, 30.99, 0.0, ("tight", "hit")),
            (167.0, 35.0, 0.0, ("tight", "clear")),
            (168.0, 30.0, 0.0, ("clear", "hit")),
            (164.9, 30.0, 5.0, ("hit", "clear")),
            (None, None, 0.0, ("unmeasured", "unmeasured")),
        ):
            found = states("caliper", given, place(spacer=spacer, barrel_radius_mm=barrel, spoke_back_mm=spoke))
            self.assertEqual((found["part.caliper.barrel"], found["part.caliper.spoke"]), states_)
        self.assertNotIn("part.caliper.barrel", states("caliper", given, place(barrel_radius_mm=170.0, chosen=True)))

    def test_what_was_read_of_the_old_one_gives_way(self):
        axle = braked(Axle(("FL", "FR"), FITTED, HUB, ()), Brake(150.0, 20.0))
        again = braked(axle, Brake(160.0, 25.0))
        self.assertEqual([r.station.radius_mm for r in again.readings if r.code == "caliper_barrel"], [160.0, 160.0])
        self.assertIs(braked(axle, None), axle)

    def test_hats_of_caliper_and_rotor(self):
        given = {"radius_mm": 165.0, "face_mm": 31.0, "for_hat_mm": 46.0, "hand": "pair"}
        for hat, state in ((46.0, "clear"), (46.5, "clear"), (47.0, "hit"), (40.0, "hit")):
            self.assertEqual(
                states("caliper", given, place(beside=(("rotor", {"hat_mm": hat}),)))["part.caliper.hat"], state, hat
            )
        self.assertEqual(states("caliper", given)["part.caliper.hat"], "unmeasured")

    def test_a_side_alone_is_told(self):
        for hand, state in (("left", "tight"), ("pair", "clear"), ("either", "clear"), (None, "unmeasured")):
            given = {"diameter_mm": 300.0} | ({"hand": hand} if hand else {})
            self.assertEqual(states("rotor", given)["part.rotor.hand"], state)

    def test_rotor_in_the_barrel(self):
        for barrel, state in (
            (150.0, "tight"),
            (150.5, "tight"),
            (149.99, "hit"),
            (149.0, "hit"),
            (152.0, "tight"),
            (153.0, "clear"),
            (None, "unmeasured"),
        ):
            found = states("rotor", {"diameter_mm": 300.0}, place(barrel_radius_mm=barrel))
            self.assertEqual(found["part.rotor.barrel"], state, barrel)


class Dragged(unittest.TestCase):
    """What a pair of wheels drags along, with quantities for one end."""

    def of(self, **where):
        return {need.family: need for need in FAMILIES["wheel"].drags({}, place(**where))}

    def test_ring_with_its_two_diameters_for_each_wheel(self):
        ring = self.of()["ring"]
        self.assertEqual(
            (ring.spec["inner_mm"], ring.spec["outer_mm"], ring.quantity, ring.needed), (57.1, 72.6, 2, True)
        )
        self.assertNotIn("ring", self.of(mount=replace(MOUNT, bore_mm=57.1)))

    def test_studs_as_long_as_the_spacer_leaves_short(self):
        """28 − 12 − 10 = 6 mm of thread where 14 are wanted.

        With the tenth that is clear of tight 12 + 10 + 15.4, whole: 38 mm.
        """
        stud = self.of(spacer=10.0)["stud"]
        self.assertEqual((stud.spec["length_mm"], stud.spec["thread"], stud.quantity), (38.0, "M14x1.5", 10))
        self.assertEqual(states("stud", {**stud.spec, "grade": "10.9"}, place(spacer=10.0))["part.engagement"], "clear")
        self.assertNotIn("stud", self.of())
        bolted = {
            need.family
            for need in FAMILIES["wheel"].drags(
                {}, place(hub=replace(HUB, stud_length_mm=20.0), spacer=10.0, kind="bolted")
            )
        }
        self.assertIn("stud", bolted, "without the spacer's thickness: 12 + 15.4")
        said = next(
            n
            for n in FAMILIES["wheel"].drags(
                {}, place(hub=replace(HUB, stud_length_mm=20.0), spacer=10.0, kind="bolted")
            )
            if n.family == "stud"
        )
        self.assertEqual(said.spec["length_mm"], 28.0)
        # Where pad and spacer hide the whole stud it is they that say the length: 12 + 25 + 15.4, whole: 53 mm.
        self.assertEqual(self.of(spacer=25.0)["stud"].spec["length_mm"], 53.0)

    def test_bolts_where_the_hub_takes_bolts(self):
        hub = replace(HUB, stud_length_mm=None, bolt_length_mm=28.0)
        bolt = self.of(hub=hub, spacer=10.0)["bolt"]
        self.assertEqual((bolt.spec["length_mm"], bolt.spec["seat"]), (38.0, "cone 60°"))

    def test_nuts_of_the_wheels_seat(self):
        nut = self.of()["nut"]
        self.assertEqual((nut.spec["seat"], nut.spec["thread"], nut.quantity), ("cone 60°", "M14x1.5", 10))
        self.assertNotIn("nut", self.of(mount=replace(MOUNT, seat=parse_seat("ball R13"))))

    def test_bolts_of_the_wheels_seat_where_they_are_long_enough(self):
        """Long enough for pad and no spacer, but of another seat: bolts again, ten of them.

        A hub with both lengths unknown takes nuts.
        """
        hub = replace(HUB, stud_length_mm=None, bolt_length_mm=40.0)
        found = self.of(hub=hub)
        self.assertEqual((found["bolt"].quantity, found["bolt"].spec["seat"]), (10, "cone 60°"))
        self.assertNotIn("nut", found)
        self.assertIn("nut", self.of(hub=replace(HUB, stud_length_mm=None)))

    def test_caps_only_where_the_bore_is_another(self):
        for bore, caps in ((72.6, True), (57.1, False), (57.15, False), (57.3, True)):
            self.assertEqual("cap" in self.of(mount=replace(MOUNT, bore_mm=bore)), caps, bore)
        self.assertNotIn("cap", self.of(hub=replace(HUB, bore_mm=None)))

    def test_bolts_say_their_seat_where_it_is_known_and_studs_never(self):
        self.assertNotIn("seat", self.of(spacer=10.0)["stud"].spec)
        hub = replace(HUB, stud_length_mm=None, bolt_length_mm=28.0)
        self.assertNotIn("seat", self.of(hub=hub, spacer=10.0, mount=replace(MOUNT, seat=None))["bolt"].spec)

    def test_without_a_count_of_lugs_no_studs_and_nuts_are_counted(self):
        bare = Place(
            Axle(("FL", "FR"), FITTED, replace(HUB, bolts=None, stud_length_mm=20.0), ()),
            Candidate(FITTED, mount=replace(MOUNT, bolts=None)),
            None,
        )
        self.assertFalse({need.family for need in FAMILIES["wheel"].drags({}, bare)} & {"stud", "nut", "bolt"})

    def test_two_of_what_each_wheel_has_one_of(self):
        found = self.of()
        self.assertEqual(
            [(found[family].quantity, found[family].needed) for family in ("valve", "sensor")], [(2, False), (2, False)]
        )
        self.assertEqual(found["cap"].quantity, 2)

    def test_what_is_only_to_be_thought_of(self):
        found = self.of()
        bolted = FAMILIES["spacer"].drags({"thickness_mm": 20.0, "kind": "bolted"}, place())
        self.assertEqual(
            [(need.family, need.quantity, need.needed, need.spec["thread"]) for need in bolted],
            [("nut", 10, False, "M14x1.5")],
        )
        self.assertEqual(FAMILIES["spacer"].drags({"thickness_mm": 20.0, "kind": "slip"}, place()), ())
        self.assertFalse(found["sensor"].needed or found["valve"].needed or found["cap"].needed)

    def test_every_need_is_a_part_that_its_family_takes_or_names(self):
        for need in FAMILIES["wheel"].drags({}, place(spacer=10.0)):
            self.assertIn(need.family, FAMILIES)
            self.assertTrue(answered(need, need.family, need.name, need.spec), need.name)

    def test_answered_by_the_same_or_a_longer_one(self):
        stud = self.of(spacer=10.0)["stud"]
        for spec, said in (
            ({"length_mm": 38.0}, True),
            ({"length_mm": 45.0}, True),
            ({"length_mm": 35.0}, False),
            ({"thread": "M12x1.5"}, False),
            ({"thread": "M14×1.5"}, True),
        ):
            self.assertEqual(answered(stud, "stud", "", {**stud.spec, **spec}), said, spec)
        self.assertFalse(answered(stud, "nut", "", stud.spec))


class Said(unittest.TestCase):
    def test_a_clear_part_needs_no_remedy_and_margins_are_what_is_left(self):
        for state, remedies in (("clear", ()), ("tight", ("another",)), ("hit", ("another",))):
            found = judged("x", "X", state, "r", "f", value=-0.3, held_against=0.5, remedies=("another",))
            self.assertEqual(found.remedies, remedies)
            self.assertAlmostEqual(found.margin, 0.2, 12)
        self.assertEqual(judged("x", "X", "clear", "r", "f").unit, "")

    def test_a_bore_to_a_thousandth(self):
        self.assertEqual(judge_diameter("x", "X", 63.4567, 63.4, "hub", "hub.bore").value, 0.057)

    def test_a_text_where_a_figure_is_wanted_answers_nothing(self):
        need = Need("stud", "Studs", 10, "", "", {"length_mm": 45.0, "thread": "M14x1.5"})
        self.assertFalse(answered(need, "stud", "", {"length_mm": "long", "thread": "M14x1.5"}))
        self.assertFalse(answered(need, "stud", "", {"length_mm": 45.0, "thread": 14}))


class Figures(unittest.TestCase):
    def test_margins_and_formulas_of_the_thread(self):
        """45 − 12 − 15 = 18 mm where 14 are wanted: 4 mm to spare; a thread hidden whole is 0, not less."""
        for length, spacer, kind, value in (
            (45.0, 15.0, "slip", 18.0),
            (45.0, 15.0, "bolted", 33.0),
            (20.0, 15.0, "slip", 0.0),
        ):
            judgements = FAMILIES["stud"].judge(
                {"thread": "M14x1.5", "length_mm": length, "grade": "10.9"}, place(spacer=spacer, kind=kind)
            )
            found = {one.code: one for one in judgements}["part.engagement"]
            self.assertEqual((found.value, found.margin, found.held_against), (value, value - 14.0, 14.0))
            self.assertIn(f"− {spacer if kind == 'slip' else 0.0:g} = {value:g} mm", found.formula)

    def test_hats_half_a_millimetre_apart(self):
        given = {"radius_mm": 165.0, "face_mm": 31.0, "for_hat_mm": 46.0}
        for hat, state, margin in (
            (46.5, "clear", 0.0),
            (46.6, "hit", -0.1),
            (45.4, "hit", -0.1),
            (46.0, "clear", 0.5),
        ):
            found = {
                one.code: one for one in FAMILIES["caliper"].judge(given, place(beside=(("rotor", {"hat_mm": hat}),)))
            }["part.caliper.hat"]
            self.assertEqual(found.state, state, hat)
            self.assertAlmostEqual(found.margin, margin, 9)

    def test_room_that_is_clear_asks_for_nothing(self):
        for radius, remedies in ((140.0, ()), (149.0, ("another wheel", "a spacer, if the thread allows it"))):
            judgements = FAMILIES["caliper"].judge(
                {"radius_mm": radius, "face_mm": 31.0}, place(barrel_radius_mm=150.0)
            )
            found = {one.code: one for one in judgements}["part.caliper.barrel"]
            self.assertEqual(found.remedies, remedies)

    def test_a_caliper_has_its_inner_end_inboard_of_its_face(self):
        caliper = FAMILIES["caliper"]
        caliper.check({"radius_mm": 165.0, "face_mm": 31.0, "inner_mm": -31.0})
        with self.assertRaises(BadInput):
            caliper.check({"radius_mm": 165.0, "face_mm": 31.0, "inner_mm": -31.5})

    def test_a_tenth_either_way_is_the_same_bore_and_half_a_millimetre_the_same_ball(self):
        for apart, state in ((-0.1, "clear"), (-0.11, "hit"), (0.1, "clear"), (0.11, "tight")):
            self.assertEqual(judge_diameter("x", "X", 60.0 + apart, 60.0, "hub", "hub.bore").state, state, apart)
        for size, state in ((13.5, "clear"), (13.8, "hit"), (12.5, "clear"), (12.2, "hit")):
            found = states(
                "nut",
                {"thread": "M14x1.5", "seat": f"ball R{size}"},
                place(mount=replace(MOUNT, seat=parse_seat("ball R13"))),
            )
            self.assertEqual(found["part.seat"], state, size)

    def test_a_diameter_in_inches_to_a_hundredth(self):
        """1/2-20 is 12.70 mm with a pitch of 1.27 mm: not M12.7×1.25, and not another half inch."""
        inch = replace(HUB, thread=parse_thread("1/2-20"))
        self.assertEqual(
            states("nut", {"thread": "1/2-20", "seat": "cone 60"}, place(hub=inch))["part.thread"], "clear"
        )
        self.assertEqual(
            states("nut", {"thread": "M12.7x1.27", "seat": "cone 60"}, place(hub=inch))["part.thread"], "clear"
        )
        self.assertEqual(
            states("nut", {"thread": "M12.7x1.25", "seat": "cone 60"}, place(hub=inch))["part.thread"], "hit"
        )
        self.assertEqual(
            states("nut", {"thread": "M12.704x1.27", "seat": "cone 60"}, place(hub=inch))["part.thread"], "clear"
        )


class Counted(unittest.TestCase):
    def test_pieces_over_the_ends(self):
        self.assertEqual(judge_count(FAMILIES["nut"], 20, {"F": 5, "R": 5}).state, "clear")
        self.assertEqual(judge_count(FAMILIES["nut"], 19, {"F": 5, "R": 5}).reason, "19 of 20")
        self.assertEqual(judge_count(FAMILIES["spacer"], 2, {"F": 5}).state, "clear")
        self.assertIsNone(judge_count(FAMILIES["nut"], 20, {"F": 5, "R": None}))
        self.assertIsNone(judge_count(FAMILIES["other"], 1, {"F": 5}))

    def test_some_are_one_for_the_car_and_some_go_on_one_end_only(self):
        both = {"F": 5, "R": 5}
        for key in ("battery", "catalyst", "mid_pipe", "silencer", "panel", "ballast", "radiator", "splitter", "wing"):
            self.assertEqual(judge_count(FAMILIES[key], 1, both).state, "clear", key)
        self.assertEqual(judge_count(FAMILIES["tie_rod"], 2, both).state, "clear")
        self.assertEqual(judge_count(FAMILIES["roll_bar"], 1, both).reason, "1 of 2")

    def test_both_sides_alike(self):
        left, right = (
            {"diameter_mm": 300.0, "thickness_mm": 24.0, "hat_mm": 46.0, "hand": hand} for hand in ("left", "right")
        )
        self.assertEqual(judge_sides(FAMILIES["rotor"], [left, right]).state, "clear")
        self.assertEqual(judge_sides(FAMILIES["rotor"], [left, {**right, "hat_mm": 40.0}]).state, "hit")
        self.assertIsNone(judge_sides(FAMILIES["rotor"], [left]))

    def test_what_is_not_said_of_both_sides_is_not_the_same(self):
        one = {"diameter_mm": 300.0, "thickness_mm": 24.0}
        for left, right, state in (
            (one, one, "unmeasured"),
            ({**one, "hat_mm": 46.0}, one, "unmeasured"),
            ({**one, "hat_mm": 46.0}, {**one, "hat_mm": 46.0}, "clear"),
            (one, {**one, "thickness_mm": 22.0}, "hit"),
        ):
            found = judge_sides(FAMILIES["rotor"], [left, right])
            self.assertEqual(found.state, state, (left, right))
        self.assertEqual(judge_sides(FAMILIES["rotor"], [one, one]).reason, "hat height: not said of both sides")


class Declared(unittest.TestCase):
    def test_what_a_part_can_not_be_without(self):
        """Required, and kept in columns for lists that are sorted.

        Written down, so that a slip of the pen is noticed.
        """
        required = {
            key: {spec.code for spec in family.specs if spec.required}
            for key, family in FAMILIES.items()
            if key not in CHASSIS and key not in RUNNING
        }
        self.assertEqual(
            required,
            {
                "wheel": {"diameter_in", "width_in"},
                "tyre": {"size", "diameter_in"},
                "ring": {"inner_mm", "outer_mm"},
                "spacer": {"thickness_mm"},
                "stud": {"thread", "length_mm"},
                "nut": {"thread"},
                "bolt": {"thread", "length_mm"},
                "valve": set(),
                "sensor": set(),
                "cap": set(),
                "caliper": set(),
                "rotor": set(),
                "other": set(),
            },
        )
        columns = {key: {spec.code for spec in family.specs if spec.column} for key, family in FAMILIES.items()}
        self.assertEqual(
            {key: found for key, found in columns.items() if found},
            {"wheel": {"diameter_in", "width_in", "offset_mm"}, "tyre": {"diameter_in", "section_width_mm"}},
        )

    def test_what_else_a_family_says(self):
        """Share of price used, is it added, pieces at an end of five lugs, levers, looked at again (km, days, track
        days), what is counted, what stands aside.
        """
        again = (80, None, None)
        self.assertEqual(
            {
                key: (
                    family.used_share,
                    family.adds,
                    family.per_end(5),
                    dict(family.sets),
                    [(due.after_km, due.after_days, due.after_track_days) for due in family.dues],
                    [spec.code for spec in family.specs if spec.counted or spec.aside],
                )
                for key, family in FAMILIES.items()
                if key not in CHASSIS and key not in RUNNING
            },
            {
                "wheel": (0.5, False, 2, {}, [again, (800, None, None)], ["bolts"]),
                "tyre": (0.25, False, 2, {}, [], ["profile"]),
                "ring": (0.3, True, 2, {}, [], ["pieces"]),
                "spacer": (
                    0.4,
                    True,
                    2,
                    {"spacer_mm": "thickness_mm", "spacer_kind": "kind"},
                    [again],
                    ["bolts", "pieces"],
                ),
                "stud": (None, False, 10, {}, [again], ["pieces"]),
                "nut": (0.2, False, 10, {}, [again], ["pieces"]),
                "bolt": (0.2, False, 10, {}, [again], ["pieces"]),
                "valve": (None, False, 2, {}, [], ["pieces"]),
                "sensor": (0.3, False, 2, {}, [(20, None, None)], ["pieces"]),
                "cap": (None, False, 2, {}, [], ["pieces"]),
                "caliper": (0.45, False, 2, {}, [(None, 1, None), again], []),
                "rotor": (0.3, False, 2, {}, [(300, None, None), (None, None, 2)], []),
                "other": (None, False, None, {}, [], []),
            },
        )

    def test_a_caliper_drags_pads_fluid_and_washers(self):
        needs = FAMILIES["caliper"].drags({"radius_mm": 165.0, "face_mm": 31.0}, place())
        self.assertEqual([(need.quantity, need.needed) for need in needs], [(1, True), (1, True), (4, True)])

    def test_what_a_family_names_is_there(self):
        for key, family in FAMILIES.items():
            with self.subTest(key):
                codes = {spec.code for spec in family.specs}
                self.assertLessEqual(set(family.sets), set(LEVERS))
                self.assertLessEqual(set(family.sets.values()) | set(family.same_sides), codes)
                self.assertTrue(all(spec.limit in LIMITS for spec in family.specs if spec.limit))
                self.assertTrue(family.words and family.example)
                self.assertTrue(all(len(ask.choices) > 1 and ask.why for ask in family.asks))
                self.assertTrue(all(due.after_km or due.after_days or due.after_track_days for due in family.dues))

    def test_the_example_of_a_family_is_read_as_one(self):
        for key, family in FAMILIES.items():
            with self.subTest(key):
                said = parse_line(family.example)
                self.assertEqual((said.family, said.unread), (key, ()))
                self.assertIsNone(said.fault)

    def test_questions_stay_open_until_one_of_their_answers(self):
        caliper = FAMILIES["caliper"]
        self.assertEqual(len(caliper.open_questions({}, {})), len(caliper.asks))
        self.assertEqual(caliper.open_questions({ask.code: ask.choices[0] for ask in caliper.asks}, {}), ())
        self.assertEqual(len(caliper.open_questions({"hand": "perhaps"}, {})), len(caliper.asks))

    def test_pairs_are_families(self):
        self.assertLessEqual(set(PAIRED), set(FAMILIES))


if __name__ == "__main__":
    unittest.main()
