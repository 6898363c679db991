"""Panels, splitters, seats, batteries, ballast.

What is judged of each alone, what it drags along, and the sheets that fit them.
"""

import unittest
from dataclasses import replace

from rimcore.families import FAMILIES, RUNNING
from rimcore.lines import parse_line
from rimcore.parts.aired import AIRED, LIGHTER, SHEETS, STANDS_C
from rimcore.parts.stood import Stood
from rimcore.parts.tests.test_chassis_parts import place
from rimcore.work.jobsheet import JobPlan, PartOn, job_sheet
from rimcore.work.modules import NO_WHEEL_OFF


def states(key, given, **answers):
    return {one.code: one.state for one in FAMILIES[key].judge(given, replace(place(), answers=answers))}


def titles(plan, *modules):
    return [step.title for step in job_sheet(plan, modules)]


class Declared(unittest.TestCase):
    def test_what_the_families_of_engine_air_and_weight_say(self):
        """Share of price used, is it added, pieces at an end, one for the car, ends, looked at again (km, days, track
        days), pieces it drags along: written down.
        """
        found = {
            key: (
                one.used_share,
                one.adds,
                one.per_end(5),
                one.once,
                "".join(one.ends),
                [(due.after_km, due.after_days, due.after_track_days) for due in one.dues],
                [need.quantity for need in one.drags({}, place())],
            )
            for key, one in RUNNING.items()
        }
        self.assertEqual(
            found,
            {
                "brake_pads": (None, False, 1, False, "FR", [(300, None, None), (None, None, 1)], [1]),
                "brake_lines": (None, False, None, False, "FR", [(None, 1, None)], [1]),
                "brake_fluid": (None, True, 1, False, "F", [(None, 700, None), (None, None, 6)], []),
                "intake_pipe": (0.4, False, 1, False, "F", [(80, None, None)], [2, 4, 1]),
                "coupler": (None, True, None, False, "F", [], []),
                "reducer": (None, True, None, False, "F", [], []),
                "air_filter": (0.3, False, 1, False, "F", [(10000, None, None)], []),
                "meter_housing": (0.5, False, 1, False, "F", [(80, None, None)], [1]),
                "charge_cooler": (0.4, False, 1, False, "F", [(80, None, None)], []),
                "manifold": (0.5, False, 1, False, "F", [(20, None, None), (800, None, None)], [1, 2, 2]),
                "catalyst": (0.4, False, 1, True, "FR", [(20, None, None), (800, None, None)], [1, 2, 2]),
                "mid_pipe": (0.4, False, 1, True, "FR", [(20, None, None), (800, None, None)], [1, 2, 2]),
                "silencer": (0.4, False, 1, True, "FR", [(20, None, None), (800, None, None)], [1, 2, 2]),
                "tail_tip": (0.3, True, None, False, "R", [(20, None, None), (800, None, None)], []),
                "hanger": (None, True, None, False, "FR", [], []),
                "clamp": (None, True, None, False, "FR", [], []),
                "radiator": (0.4, False, 1, False, "F", [(None, 1, None), (200, None, None)], [1, 1, 1]),
                "fan": (0.4, False, 1, False, "F", [], [1]),
                "thermostat": (None, False, 1, False, "F", [], [1]),
                "radiator_cap": (None, False, 1, False, "F", [], []),
                "coolant_hose": (None, False, None, False, "F", [(200, None, None)], []),
                "coolant": (None, True, None, False, "F", [], []),
                "axle_gears": (0.4, False, 1, False, "FR", [(800, None, None)], [1, 1, 1, 1]),
                "differential": (0.5, False, 1, False, "FR", [(800, None, None)], [1, 1]),
                "driveshaft": (0.4, False, None, False, "FR", [], [2, 1]),
                "shifter": (0.5, False, 1, False, "F", [], [1]),
                "shifter_bush": (None, False, None, False, "F", [], []),
                "shift_cable": (0.3, False, None, False, "F", [], []),
                "panel": (None, True, 1, True, "FR", [(80, None, None), (None, None, 1)], [1, 1]),
                "splitter": (0.3, True, 1, False, "F", [(80, None, None), (None, None, 1)], [1, 1, 2]),
                "strake": (None, True, None, False, "FR", [(80, None, None), (None, None, 1)], [1, 1]),
                "vent": (None, True, None, False, "FR", [(80, None, None), (None, None, 1)], []),
                "wing": (0.4, True, 1, False, "R", [(80, None, None), (None, None, 1)], [1, 1]),
                "insert": (None, True, None, False, "FR", [], []),
                "splitter_adjuster": (0.4, True, None, False, "F", [], []),
                "seat": (0.5, False, 1, False, "F", [(80, None, None)], [1, 4, 1]),
                "battery": (0.5, False, 1, True, "FR", [(500, None, None)], [1]),
                "glass": (0.3, False, None, False, "FR", [], []),
                "trim": (0.4, False, None, False, "FR", [], []),
                "mount": (None, False, None, False, "F", [(80, None, None)], [2, 1]),
                "bearing": (None, False, 2, False, "FR", [(80, None, None), (None, None, 2)], [2, 2]),
                "steering_hose": (None, False, None, False, "F", [(None, 1, None)], [1, 2]),
                "steering_pump": (0.3, False, None, False, "F", [(80, None, None)], [1, 2, 1]),
                "fluid": (None, True, None, False, "F", [(None, 1, None)], [1]),
                "ballast": (None, True, 1, True, "FR", [(None, None, 1)], []),
            },
        )

    def test_what_heat_the_sheets_stand(self):
        """Common practice, from memory: written down."""
        self.assertEqual(
            STANDS_C,
            {"corrugated": 80.0, "abs": 85.0, "plywood": 150.0, "aluminium": 300.0, "glass": 120.0, "carbon": 120.0},
        )


class Families(unittest.TestCase):
    def test_every_example_is_read_whole_and_is_a_part(self):
        for family in (*AIRED, *LIGHTER):
            found = parse_line(family.example)
            self.assertEqual((found.family, found.unread, found.fault), (family.key, (), None), family.example)
            self.assertTrue(family.modules and set(family.modules) <= NO_WHEEL_OFF, family.key)

    def test_what_comes_out_is_a_part_with_a_mass_of_minus(self):
        for line, kg in (
            ("bucket seat left M8, −8.8 kg, 320, 2 weeks, supplier", -8.8),
            ("battery agm 340 A, −7.5 kg, 119, 1 week, supplier", -7.5),
            ("ballast plate M10, +12 kg, 30, in stock, supplier", 12.0),
        ):
            self.assertEqual(parse_line(line).spec["mass_change_kg"], kg, line)

    def test_heat_decides_about_the_sheet(self):
        self.assertEqual(set(STANDS_C), set(SHEETS))
        silencer = replace(place(), stood=Stood(run={"hot": lambda: ["silencer"]}))
        found = FAMILIES["splitter"].judge({"sheet": "abs"}, silencer)
        self.assertEqual(
            [(one.state, "silencer" in one.reason) for one in found if one.code == "part.panel.sheet"],
            [("tight", True)],
        )
        self.assertEqual(
            [one for one in FAMILIES["splitter"].judge({"sheet": "abs"}, place()) if "sheet" in one.code],
            [],
            "nothing hot is noted",
        )
        self.assertEqual(states("panel", {"sheet": "aluminium"}), {"part.panel.sheet": "clear"})
        self.assertEqual(states("wing", {}), {"part.panel.sheet": "unmeasured"})

    def test_seat_bolts_ballast_and_cold_cranking(self):
        for bolt, wanted in ((6.0, "hit"), (8.0, "clear"), (None, "unmeasured")):
            self.assertEqual(states("seat", {"bolt_mm": bolt})["part.seat.bolt"], wanted)
        for bolt, kg, wanted in (
            (8.0, 12.0, "hit"),
            (10.0, 12.0, "clear"),
            (10.0, None, "unmeasured"),
            (None, 12.0, "unmeasured"),
        ):
            self.assertEqual(states("ballast", {"bolt_mm": bolt, "mass_change_kg": kg})["part.ballast.bolt"], wanted)
        for amps, kind, wanted in ((340.0, "agm", "clear"), (340.0, "lithium", "tight"), (None, "agm", "unmeasured")):
            self.assertEqual(states("battery", {"cold_a": amps, "kind": kind}, cold="yes")["part.battery.cold"], wanted)
        for answer in ({}, {"cold": "not yet looked at"}):
            self.assertEqual(
                states("battery", {"cold_a": 340.0, "kind": "agm"}, **answer)["part.battery.cold"], "unmeasured"
            )

    def test_what_they_drag_along_and_what_is_asked(self):
        named = {need.name for need in FAMILIES["seat"].drags({}, place())}
        self.assertIn("Occupancy circuit seen to by a qualified person", named)
        self.assertIn("splitter_adjuster", {need.family for need in FAMILIES["splitter"].drags({}, place())})
        for key, words in (
            ("splitter", "ramp"),
            ("splitter", "cooler"),
            ("panel", "silencer"),
            ("insert", "hand"),
            ("glass", "road"),
            ("ballast", "class"),
        ):
            self.assertTrue(any(words in ask.ask.lower() for ask in FAMILIES[key].asks), (key, words))


class Sheets(unittest.TestCase):
    def test_the_strip_session_has_a_step_for_each_item_with_its_label(self):
        plan = JobPlan((), (), {"strip_out": ()}, out=(("MA12", "Passenger's seat"), ("MA15", "Rear wiper and motor")))
        found = titles(plan, "strip")
        self.assertIn("Out: Passenger's seat, label MA12", found)
        self.assertIn("Out: Rear wiper and motor, label MA15", found)
        steps = job_sheet(plan, ("strip",))
        first = next(step for step in steps if step.title.startswith("Out"))
        self.assertIn("can fire", first.caution)
        self.assertFalse([step for step in steps if step.title.startswith("Wheel off")])
        self.assertLess(found.index(next(t for t in found if t.startswith("Battery off"))), found.index(first.title))
        self.assertTrue(any("same scale" in title for title in found))

    def test_panel_and_splitter_in_the_order_of_the_trade(self):
        for family, order in (
            (
                "panel",
                (
                    "Jack at",
                    "Card cut",
                    "Steering at both locks",
                    "transferred to the sheet",
                    "through existing holes first",
                    "Gap from the panel",
                    "Car down",
                    "After the first warm drive",
                ),
            ),
            (
                "splitter",
                (
                    "Lip height and",
                    "Bumper off",
                    "located by the bumper's existing holes",
                    "the rest drilled through both, 5/16 in",
                    "Washers on both sides",
                    "to the chassis, not the skin",
                    "Car down",
                    "Bumper back",
                    "Cooler's opening free",
                    "Lip height read again",
                    "worst slope",
                ),
            ),
        ):
            found = titles(JobPlan((), (PartOn(family, "Blade"),)), family)
            at = [next(k for k, title in enumerate(found) if words in title) for words in order]
            self.assertEqual(at, sorted(at), found)

    def test_cautions_stand_at_the_step_and_torques_are_nobodys_guess(self):
        for key, words in (("battery", "burn"), ("ballast", "kills"), ("seats", "can fire"), ("panel", "knives")):
            steps = job_sheet(JobPlan((), (PartOn({"seats": "seat"}.get(key, key), "x"),)), (key,))
            self.assertTrue(any(words in step.caution for step in steps), key)
            self.assertTrue(all(step.torque_nm is None for step in steps if step.kind == "torque"), key)


if __name__ == "__main__":
    unittest.main()
