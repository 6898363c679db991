"""Job sheets compose themselves: shared removals once, order by gates, nothing made up."""

import itertools
import unittest
from dataclasses import replace

from hypothesis import given, settings
from hypothesis import strategies as st

from rimcore.families import FAMILIES
from rimcore.work.jobsheet import (
    CornerHub,
    JobPlan,
    PartOn,
    job_sheet,
    modules_of,
    not_known,
    saved,
    tightening,
    tools_of,
)
from rimcore.work.modules import MODULES, OF_LEVER, steps_of
from rimcore.work.steps import GATES, KINDS, PHASES, Joint, StepPlan, closed_gates, composed, gate_text, merged

OF_FAMILY = {key: family.modules for key, family in FAMILIES.items()}
CORNERS = tuple(CornerHub(corner, 5, 110.0, "M12x1.5") for corner in ("FL", "FR", "RL", "RR"))
EVERYTHING = JobPlan(
    CORNERS,
    (
        PartOn("wheel", "Wheels"),
        PartOn("ring", "Rings"),
        PartOn("spacer", "Spacers", {"kind": "bolted"}),
        PartOn("stud", "Studs"),
        PartOn("nut", "Nuts", {"key_mm": 19.0}),
        PartOn("sensor", "Sensors", {"style": "metal"}, quantity=4),
        PartOn("caliper", "Calipers", ends=("F",)),
        PartOn("rotor", "Discs", ends=("F",)),
        PartOn("other", "A bracket"),
        PartOn("spring", "Springs"),
        PartOn("damper", "Dampers", {"electronic": "yes"}),
        PartOn("control_arm", "Arms"),
        PartOn("roll_bar", "A bar", ends=("F",)),
        PartOn("tie_rod", "Rods", ends=("F",)),
        PartOn("leaf_pack", "Leaves", ends=("R",)),
        PartOn("hose", "Hoses"),
        PartOn("meter_housing", "Housing", ends=("F",)),
        PartOn("silencer", "Silencer", ends=("R",)),
        PartOn("radiator", "Radiator", ends=("F",)),
        PartOn("shifter_bush", "Bushes", {"make": "machined"}, ends=("F",)),
        PartOn("panel", "Belly panel"),
        PartOn("splitter", "Splitter", ends=("F",)),
        PartOn("seat", "Seat", ends=("F",)),
        PartOn("battery", "Battery"),
        PartOn("ball_joint", "Joints"),
        PartOn("propshaft", "Propshaft", ends=("R",)),
        PartOn("driveshaft", "Driveshafts", ends=("R",)),
        PartOn("wing", "Wing", ends=("R",)),
        PartOn("bearing", "Bearings"),
        PartOn("subframe", "Subframe", ends=("F",)),
        PartOn("mount", "Mounts", ends=("F",)),
        PartOn("steering_hose", "Steering hoses", ends=("F",)),
        PartOn("fluid", "Gearbox oil", {"kind": "gearbox"}, ends=("F",)),
        PartOn("ballast", "Ballast"),
    ),
    dict.fromkeys(OF_LEVER, ("F", "R")),
)


def place_of(steps, words):
    return next(k for k, step in enumerate(steps) if words in step.title)


class Composed(unittest.TestCase):
    def setUp(self):
        self.steps = job_sheet(EVERYTHING, modules_of(EVERYTHING, OF_FAMILY))

    def test_every_part_and_lever_brings_its_steps(self):
        self.assertEqual(set(modules_of(EVERYTHING, OF_FAMILY)), set(MODULES))
        modules = {name for step in self.steps for name in step.module.split()}
        for name in MODULES:
            self.assertLessEqual(set(name.split()), modules, name)

    def test_what_is_shared_is_done_once(self):
        for words in (
            "Wheels off",
            "Jack at the maker",
            "wheels chocked",
            "Crack the nuts",
            "Front left: wheel on",
            "Rear right: tighten crosswise to half",
            "Alignment: camber",
            "Engine carried",
            "Shaft marked across",
        ):
            self.assertEqual(sum(words in step.title for step in self.steps), 1, words)
        counted = saved(EVERYTHING, modules_of(EVERYTHING, OF_FAMILY))
        self.assertGreater(counted.asked, counted.left + 50)

    def test_a_rack_goes_to_its_place_without_the_crossmember(self):
        """Order of work of a rack that is moved: common practice."""
        plan = JobPlan(CORNERS[:2], (), {"rack_forward_mm": ("F",)})
        titles = [step.title for step in job_sheet(plan, list(modules_of(plan, {})))]
        self.assertFalse([title for title in titles if "Crossmember" in title])
        order = [
            next(k for k, title in enumerate(titles) if words in title)
            for words in (
                "Rack centred",
                "Steering wheel locked",
                "rod end off",
                "Lines off",
                "Shaft marked",
                "Rack held in its new place",
                "Rack on its new brackets",
                "Rack mounts",
                "Shaft in the joint",
                "Shaft clamp bolt",
                "rod cut or set",
                "wheel on",
                "Steering fluid filled",
                "Bled lock to lock",
                "Full lock both ways",
                "Alignment: camber",
                "rod lock nut",
            )
        ]
        self.assertEqual(order, sorted(order), titles)

    def test_a_subframe_comes_down_and_goes_up_as_the_trade_does_it(self):
        plan = JobPlan(CORNERS[:2], (PartOn("subframe", "Subframe", ends=("F",)),))
        titles = [step.title for step in job_sheet(plan, list(modules_of(plan, OF_FAMILY)))]
        order = [
            next(k for k, title in enumerate(titles) if words in title)
            for words in (
                "Four marks plumbed",
                "Steering wheel locked",
                "Shaft marked",
                "Engine carried",
                "spring force off",
                "parted from the subframe",
                "Subframe down slowly",
                "every hole",
                "tried in the air",
                "Subframe up",
                "Four marks again",
                "from the middle",
                "back on",
                "Shaft in the joint",
                "wheel on",
                "arm bolts, car at ride height",
                "Fluids of every line",
                "Alignment: camber",
            )
        ]
        self.assertEqual(order, sorted(order), titles)

    def test_no_step_comes_before_what_it_waits_for(self):
        for k, step in enumerate(self.steps):
            for later in self.steps[k + 1 :]:
                self.assertNotIn(
                    later.opens or "-", set(step.gates) - {step.opens}, f"{step.title} before {later.title}"
                )

    def test_the_trade_order(self):
        """Mock-up before what can't be undone, support before the wheel is off, plugs and hoses before wheels,
        alignment after settling.
        """
        for first, then in (
            ("Lay out every part", "Crack the nuts"),
            ("Crack the nuts", "Jack at"),
            ("Jack at", "Wheels off"),
            ("Photograph", "Wheels off"),
            ("new disc and caliper on by hand", "Calipers, Discs"),
            ("brake hose on the new caliper", "Front left: wheel on"),
            ("the spacer's own nuts", "Front left: wheel on"),
            ("Front left: wheel on", "Front left: spin"),
            ("Rear right: tighten crosswise to half", "Front left: tighten crosswise to the full"),
            ("Roll the car two metres", "Alignment"),
            ("Roll the car two metres", "Bed the pads"),
            ("Brakes cold", "caliper off"),
            ("Sensors: into the rims", "Wheels off"),
        ):
            self.assertLess(place_of(self.steps, first), place_of(self.steps, then), (first, then))

    def test_filler_before_drain(self):
        self.assertLess(place_of(self.steps, "filler plug loosened"), place_of(self.steps, "drain plug out"))

    def test_cautions_stand_where_they_belong(self):
        for words, caution in (
            ("Jack at", "Never under a car"),
            ("spring and damper out", "lethal"),
            ("caliper off", "Never hang"),
            ("Bed the pads", "public roads"),
            ("lip rolled", "regulated"),
            ("brake hose on", "licensed"),
        ):
            self.assertIn(caution, self.steps[place_of(self.steps, words)].caution)
        self.assertTrue(all(s.caution for s in self.steps if s.kind == "torque" and s.joint.name == "Wheel nuts"))

    def test_every_step_is_of_its_kinds(self):
        for step in steps_of(EVERYTHING, list(MODULES)):
            self.assertIn(step.phase, PHASES)
            self.assertIn(step.kind, KINDS)
            self.assertTrue(
                all(
                    gate in GATES or gate.partition(" ")[0] in GATES
                    for gate in (*step.gates, *filter(None, [step.opens]))
                )
            )
            self.assertEqual(step.kind == "torque", step.joint is not None, step.title)

    def test_tools_once_with_sizes(self):
        tools = tools_of(self.steps)
        self.assertEqual(len(tools), len(set(tools)))
        self.assertIn("deep socket 19 mm", tools)

    def test_a_ring_alone_takes_no_wheel_off_twice(self):
        alone = JobPlan(CORNERS[:1], (PartOn("ring", "Rings"),))
        self.assertEqual(modules_of(alone, OF_FAMILY), ("rings",))
        self.assertEqual(sum("Wheels off" in step.title for step in job_sheet(alone, ("rings",))), 1)


class Engine(unittest.TestCase):
    """Intake, exhaust, radiator, shifter: the order of the trade, and no wheel off for them."""

    def sheet(self, *families, **spec):
        plan = JobPlan((), tuple(PartOn(family, family, spec) for family in families))
        return job_sheet(plan, modules_of(plan, OF_FAMILY))

    def test_the_trade_order(self):
        for families, order in (
            (
                ("silencer", "mid_pipe"),
                (
                    "Exhaust cold",
                    "old exhaust off",
                    "up and loose",
                    "Tips level",
                    "front to back",
                    "Cold start",
                    "Exhaust joints again",
                ),
            ),
            (
                ("radiator",),
                (
                    "Engine cold",
                    "drained",
                    "old radiator out",
                    "supports straight",
                    "on its rubbers, fan",
                    "filled slowly",
                    "bled: both hoses",
                    "Cold next morning",
                ),
            ),
            (
                ("intake_pipe",),
                ("Engine cold", "Old intake out", "laid in dry", "couplers square", "leak check", "fuel trims"),
            ),
            (("shifter",), ("Knob, gaiter", "lever in", "all gears", "trim and gaiter back")),
        ):
            steps = self.sheet(*families)
            places = [place_of(steps, words) for words in order]
            self.assertEqual(places, sorted(places), families)

    def test_no_wheel_comes_off(self):
        titles = " ".join(step.title for step in self.sheet("silencer", "radiator", "shifter", "intake_pipe"))
        self.assertNotIn("Wheels off", titles)
        self.assertNotIn("measure the gaps again", titles)
        self.assertNotIn("Crack the nuts", titles)

    def test_jobs_on_one_sheet_do_not_wait_for_each_other(self):
        steps = self.sheet("silencer", "radiator")
        fill = steps[place_of(steps, "filled slowly")]
        self.assertEqual(fill.gates, ("fitted radiator",))

    def test_cautions_stand_at_the_step(self):
        for family, words, caution in (
            ("radiator", "bled: both", "scalds"),
            ("silencer", "Cold start", "poisons"),
            ("meter_housing", "couplers square", "lean"),
            ("silencer", "Jack at", "Never under"),
        ):
            steps = self.sheet(family)
            self.assertIn(caution, steps[place_of(steps, words)].caution)

    def test_what_is_kept_of_the_old_shifter(self):
        steps = self.sheet("shifter")
        self.assertLessEqual({"circlip", "cap", "spring"}, set(steps[place_of(steps, "Knob")].salvage))
        self.assertTrue(any("machinist" in step.title for step in self.sheet("shifter_bush", make="machined")))

    def test_a_housing_is_swapped_on_the_tuning_day(self):
        steps = self.sheet("meter_housing")
        self.assertLess(place_of(steps, "At the tuner"), place_of(steps, "Meter calibrated"))
        self.assertLess(place_of(steps, "Meter calibrated"), place_of(steps, "Pulls after"))


class Merging(unittest.TestCase):
    def test_both_say_what_they_say_once(self):
        one = StepPlan("Remove", "do", "Off", "a.", "c1", ("x",), share="s", gates=("off",), helpers=0, module="m")
        two = replace(
            one, detail="b.", caution="c2", tools=("x", "y"), gates=("cold",), helpers=2, opens="fitted", module="n"
        )
        both = merged(one, two)
        self.assertEqual(
            (both.detail, both.caution, both.tools, both.gates), ("a. b.", "c1 c2", ("x", "y"), ("off", "cold"))
        )
        self.assertEqual((both.helpers, both.opens, both.module), (2, "fitted", "m n"))
        self.assertEqual(merged(one, one), one)

    def test_steps_that_wait_for_each_other_are_told(self):
        one = StepPlan("Fit", "do", "one", gates=("off",), opens="cold")
        with self.assertRaisesRegex(ValueError, "one, two"):
            composed([one, StepPlan("Fit", "do", "two", gates=("cold",), opens="off")])

    def test_a_gate_that_nothing_opens_holds_nobody_up(self):
        self.assertEqual(len(composed([StepPlan("Fit", "do", "one", gates=("cold",))])), 1)

    def test_every_order_of_the_modules_gives_an_order_that_holds(self):
        steps = [
            StepPlan("Fit", "do", "c", gates=("mock-up", "off")),
            StepPlan("Mock-up", "do", "b", gates=("off",), opens="mock-up"),
            StepPlan("Settle", "do", "a", opens="off"),
        ]
        for order in itertools.permutations(steps):
            self.assertEqual([step.title for step in composed(order)], ["a", "b", "c"])

    @settings(max_examples=60, deadline=None)
    @given(st.permutations(list(MODULES)), st.integers(1, len(MODULES)))
    def test_any_set_of_modules_has_an_order(self, names, count):
        steps = job_sheet(EVERYTHING, names[:count])
        shares = [step.share for step in steps if step.share]
        self.assertEqual(len(shares), len(set(shares)))


class Gates(unittest.TestCase):
    def test_shut_until_every_step_that_opens_it_is_done(self):
        opens = [StepPlan("Fit", "do", str(k), opens="fitted") for k in range(2)]
        on = StepPlan("Fit", "do", "on", gates=("fitted", "cold"))
        self.assertEqual(closed_gates(on, [(opens[0], True), (opens[1], False)]), ("fitted",))
        self.assertEqual(closed_gates(on, [(opens[0], True), (opens[1], True)]), ())

    def test_in_words(self):
        self.assertTrue(all(gate_text(gate) == words for gate, words in GATES.items()))


class Hubs(unittest.TestCase):
    def test_job_sheet_of_wheels(self):
        for lugs in (4, 5, 6):
            pulls = tightening(lugs, 110.0)
            self.assertEqual(len(pulls), 2 * lugs)
            self.assertEqual({p[2] for p in pulls[:lugs]}, {55.0})
        steps = job_sheet(JobPlan(CORNERS), ("wheels",))
        self.assertLess(place_of(steps, "Bare rim first"), next(i for i, s in enumerate(steps) if s.kind == "torque"))

    def test_each_corner_has_its_own_hub_and_nothing_is_made_up(self):
        hubs = (
            CornerHub("FL", 5, 110.0, "M12x1.5", "66.6 → 73.1"),
            CornerHub("RL", None, 90.0),
            CornerHub("RR", 4, None),
        )
        steps = job_sheet(JobPlan(hubs), ("wheels",))
        torque = {(s.corner, s.stage): (s.lugs, s.torque_nm) for s in steps if s.kind == "torque"}
        self.assertEqual(torque["FL", "full"], (5, 110.0))
        self.assertEqual((torque["RL", "half"], torque["RL", "full"]), ((None, 45.0), (None, 90.0)))
        self.assertEqual((torque["RR", "half"], torque["RR", "full"]), ((4, None), (4, None)))
        rings = {s.corner: "66.6" in s.detail for s in steps if "wheel on" in s.title}
        self.assertEqual(rings, {"FL": True, "RL": False, "RR": False})
        self.assertEqual(not_known(None, None), ("how many nuts or bolts it has", "the torque of the car's handbook"))

    def test_a_makers_torque_is_asked_and_not_made_up(self):
        steps = job_sheet(EVERYTHING, ("brakes", "axle gears", "height"))
        asked = [step.joint for step in steps if step.kind == "torque" and step.joint.name != "Wheel nuts"]
        self.assertTrue(asked and all(joint.torque_nm is None and joint.not_known for joint in asked))
        self.assertEqual(Joint("x", 2, 10.0).not_known, ())


if __name__ == "__main__":
    unittest.main()
