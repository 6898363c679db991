"""Sheets are true to the hand: rules of the order of work, over every pair of families and levers.

What is held here is read from the words of the steps, not from the marks by which they are put in order. Source: the
order of work of each job is common practice.
"""

import itertools
import re
import unittest
from collections import defaultdict
from functools import cache

from rimcore.families import FAMILIES
from rimcore.work.jobsheet import CornerHub, JobPlan, PartOn, job_sheet, modules_of
from rimcore.work.modules import MODULES, OF_LEVER, Again
from rimcore.work.steps import PHASES, StepPlan, composed

OF_FAMILY = {key: family.modules for key, family in FAMILIES.items()}
HUBS = tuple(CornerHub(corner, 5, 110.0, "M12x1.5") for corner in ("FL", "FR", "RL", "RR"))
THINGS = (*FAMILIES, *OF_LEVER)
#: levers of one end
OF_THE_FRONT = {code for code in OF_LEVER if code.startswith(("rack_", "rod_", "steer_"))} | {"crossmember"}
#: specifications that bring steps of their own
SPECS = {
    "spacer": {"kind": "bolted"},
    "sensor": {"style": "metal"},
    "damper": {"electronic": "yes"},
    "shifter_bush": {"make": "machined"},
    "fluid": {"kind": "axle", "litres": 1.2},
    "other": {"reach": "wheels"},
}


def plan_of(*things):
    parts = tuple(
        PartOn(
            key,
            FAMILIES[key].name.capitalize(),
            SPECS.get(key, {}),
            FAMILIES[key].ends if len(FAMILIES[key].ends) == 1 else ("F", "R"),
        )
        for key in dict.fromkeys(things)
        if key in FAMILIES
    )
    levers = {key: ("F",) if key in OF_THE_FRONT else ("F", "R") for key in things if key in OF_LEVER}
    ends = {end for part in parts for end in part.ends} | {end for moved in levers.values() for end in moved}
    again = tuple(
        Again(due.what, due.after_km, due.after_days, due.after_track_days)
        for part in parts
        for due in FAMILIES[part.family].dues
    )
    return JobPlan(tuple(hub for hub in HUBS if hub.corner[0] in ends), parts, levers, again=again)


@cache
def sheets():
    """Every pair's sheet: (things, modules, steps)."""
    found = []
    for things in itertools.combinations_with_replacement(THINGS, 2):
        plan = plan_of(*things)
        modules = modules_of(plan, OF_FAMILY)
        found.append((things, modules, job_sheet(plan, modules)))
    return found


def places(steps, pattern, corner=None):
    """Where steps stand whose title has such words."""
    return [k for k, step in enumerate(steps) if says(pattern, step.title) and corner in (None, step.corner)]


@cache
def says(pattern, text):
    return re.search(pattern, text, re.IGNORECASE) is not None


class Order(unittest.TestCase):
    """Each rule over all sheets of two; what does not hold is told with its sheet."""

    def setUp(self):
        self.faults = []

    def tearDown(self):
        self.assertEqual(self.faults[:6], [], f"{len(self.faults)} faults")

    def each(self):
        for self.things, modules, steps in sheets():
            yield modules, steps

    def hold(self, good, *said):
        if not good:
            self.faults.append((*self.things, *said))

    def before(self, steps, first, then, corner=None):
        """Every step of the first words stands before every step of the others."""
        early, late = places(steps, first, corner), places(steps, then, corner)
        if early and late:
            self.hold(max(early) < min(late), steps[max(early)].title, steps[min(late)].title)

    def test_every_pair_has_a_sheet(self):
        self.assertEqual(len(sheets()), len(THINGS) * (len(THINGS) + 1) // 2)
        for _, steps in self.each():
            self.hold(len(steps) > 0)

    def test_phases_in_order_none_twice(self):
        for _, steps in self.each():
            told = [PHASES.index(step.phase) for step in steps]
            self.hold(told == sorted(told), told)

    def test_nothing_on_a_hub_or_strut_after_its_wheel_is_on(self):
        hand = (
            r"spring and damper (in|out)|arm in|old arm out|bracket bolts|brake hose|rotor|caliper off|studs|drawn in|"
            r"spacer|collar|lip rolled|pack or block|joint nut|rod (cut|end)|hub nut|pressed|brakes bled|pedal held|"
            r"bar on|wheel bearing|limiters"
        )
        for _, steps in self.each():
            on = places(steps, "wheel on, every nut")
            for k, step in enumerate(steps):
                if step.phase in ("Remove", "Mock-up", "Fit") and says(hand, step.title):
                    alike = [n for n in on if step.corner in ("", steps[n].corner)]
                    self.hold(not alike or k < min(alike), step.title)

    def test_nothing_is_fitted_once_a_wheel_is_on(self):
        for _, steps in self.each():
            on = places(steps, "wheel on, every nut")
            for step in steps[min(on) :] if on else ():
                good = step.phase != "Fit" or "wheel on, every nut" in step.title or "spin it" in step.title
                self.hold(good, step.title)

    def test_preload_before_the_strut_goes_in(self):
        for _, steps in self.each():
            self.before(steps, "preload on the bench", "spring and damper in")

    def test_a_strut_goes_in_at_every_corner_it_came_out_of(self):
        for modules, steps in self.each():
            out = {steps[k].corner for k in places(steps, "spring and damper out")}
            self.hold(out == {steps[k].corner for k in places(steps, "spring and damper in")}, out)
            self.hold("springs" not in modules or out and "" not in out, out)

    def test_bushes_are_tight_only_with_the_car_on_its_wheels(self):
        tight = r"car at ride height|car on its wheels|top mount to body|rod lock nut"
        for _, steps in self.each():
            self.before(steps, "wheel on, every nut", "car down on its tyres")
            self.before(steps, "car down on its tyres", tight)
            if places(steps, tight):
                self.hold(len(places(steps, "car down on its tyres")) == 1)

    def test_nuts_to_half_in_the_air_and_to_the_full_figure_on_the_ground(self):
        for _, steps in self.each():
            self.before(steps, "to half", "car down on its tyres")
            self.before(steps, "car down on its tyres", "to the full figure")
            self.before(steps, "to the full figure", "roll the car")

    def test_what_goes_up_comes_down_before_it_rolls(self):
        for _, steps in self.each():
            up, down = places(steps, "set the stands"), places(steps, "car down on its tyres")
            self.hold(len(up) == len(down), up, down)
            self.before(steps, "set the stands", "car down on its tyres")
            self.before(steps, "car down on its tyres", "roll the car")
            self.hold(len(up) == 1 or not any("under car" in step.does for step in steps))

    def test_filler_before_drain_before_fill_before_bleed(self):
        for _, steps in self.each():
            self.before(steps, "axle.*filler", "axle.*drain")
            self.before(steps, r"^axle's drain|^axle oil: drained", r"oil to the filler's edge|[\d ]L: filled")
            self.before(steps, "coolant's cap off", "coolant drained")
            self.before(steps, "coolant drained", "coolant filled")
            self.before(steps, "coolant filled", "coolant bled")
            self.before(steps, "lines off at the rack|fluid's filler open", "steering fluid filled")
            self.before(steps, "steering fluid filled", "bled lock to lock")
            self.before(steps, "brakes bled", "roll the car")

    def test_support_before_anything_is_loosened_under_the_car(self):
        under = (
            r"wheels off|exhaust off|lines off|shaft marked|drain plug|oil: drained|crossmember bolts backed|"
            r"subframe down|mounts off|card cut|spring force|spring and damper out|joint split|carrier out"
        )
        for _, steps in self.each():
            up, loosened = places(steps, "set the stands"), places(steps, under)
            for k in loosened:
                self.hold(up and k > up[0], steps[k].title)

    def test_spring_force_is_off_before_an_arm_is(self):
        for _, steps in self.each():
            for corner in ("FL", "FR", "RL", "RR"):
                off = places(steps, "old arm out", corner)
                freed = places(steps, "spring force off|spring and damper out", corner)
                self.hold(not off or freed and max(freed) < min(off), corner)
            self.before(steps, "spring force off", "parted from the subframe")

    def test_an_axle_on_leaves_is_done_one_side_after_the_other(self):
        for _, steps in self.each():
            off = [step for step in steps if "U-bolts off" in step.title]
            self.hold(all("this side alone" in step.title and "changed" in step.title for step in off))

    def test_full_lock_is_tried_once_and_before_a_drive(self):
        for _, steps in self.each():
            self.hold(len(places(steps, "^full lock")) <= 1)
            self.before(steps, "^full lock", "test dip|bed the pads|first drive|first warm drive|worst slope")

    def test_tried_before_cut(self):
        for _, steps in self.each():
            for tried, cut in (
                ("nothing meets the card", "transferred to the sheet and cut"),
                ("located by the bumper", "drilled through both"),
                ("laid in dry", "cut to the marks"),
                ("mated on the floor", "up and loose"),
                ("rack held in its new place", "rack on its new brackets"),
                ("new core laid in", "on its rubbers"),
                ("old subframe beside", "subframe up"),
                ("on by hand, wheel over them", "on a clean hub"),
                ("tried by hand at full bump", "front left: arm in, bolts by hand|rear left: arm in, bolts by hand"),
            ):
                self.before(steps, tried, cut)
                self.hold(bool(places(steps, tried)) == bool(places(steps, cut)), tried)

    def test_the_engine_is_carried_before_its_mounts_come_off(self):
        for modules, steps in self.each():
            self.before(steps, "engine carried", "mounts off|subframe down|crossmember bolts backed")
            carried = len(places(steps, "engine carried"))
            self.hold(carried == 1 or not {"mounts", "crossmember"} & set(modules), carried)

    def test_the_wheel_is_locked_before_the_shaft_is_parted(self):
        for _, steps in self.each():
            self.before(steps, "steering wheel locked", "^shaft marked across")
            parted = bool(places(steps, "^shaft marked across"))
            self.hold(parted == bool(places(steps, "steering wheel locked")))
            self.hold(parted == bool(places(steps, "shaft clamp bolt")))

    def test_calipers_are_hung_and_no_hose_carries_one(self):
        for _, steps in self.each():
            for step in steps:
                said = f"{step.title} {step.detail}".lower()
                if "caliper" in said and step.phase == "Remove":
                    self.hold("wire" in said and "hose" in f"{said} {step.caution}".lower(), step.title)

    def test_toe_is_set_before_rods_are_locked_and_after_everything_that_moves_it(self):
        for _, steps in self.each():
            self.before(steps, "^alignment: camber", "rod lock nut")
            self.before(steps, "^alignment: camber", "alignment looked at again")
            self.before(steps, "roll the car", "^alignment: camber")
            self.before(steps, "test dip, driven", "^alignment: camber")
            self.before(steps, "collars turned as the sheet says", "alignment looked at again")

    def test_a_step_of_corners_stands_at_each_or_once_for_all_alike_everywhere(self):
        forms = defaultdict(set)
        name_of = {"FL": "Front left", "FR": "Front right", "RL": "Rear left", "RR": "Rear right"}
        for _, steps in self.each():
            known = {(step.title, step.corner) for step in steps}
            for step in steps:
                if step.share:
                    forms[step.share.removesuffix(step.corner).strip()].add(bool(step.corner))
                if step.corner:
                    twin = step.corner[0] + {"L": "R", "R": "L"}[step.corner[1]]
                    title = step.title.replace(name_of[step.corner], name_of[twin], 1)
                    self.hold(step.title.startswith(name_of[step.corner]) and (title, twin) in known, step.title)
        self.assertEqual([name for name, both in forms.items() if len(both) > 1], [])

    def test_no_step_stands_twice(self):
        for _, steps in self.each():
            shares = [step.share for step in steps if step.share]
            self.hold(len(shares) == len(set(shares)), shares)
            titles = [step.title for step in steps]
            self.hold(len(titles) == len(set(titles)), [title for title in titles if titles.count(title) > 1][:1])

    #: words of a kind of work -> modules whose sheets may say them; None: where a wheel comes off
    OWN = {
        r"exhaust|silencer|hanger|flange": {"exhaust", "mounts", "axle gears", "studs", "propshaft"},
        r"coolant|radiator": {"radiator"},
        r"splitter": {"splitter"},
        r"\bpanel": {"panel"},
        r"\bseat bolts|\bbelt lie": {"seats"},
        r"u-bolt|leaf|leaves in": {"leaves"},
        r"caliper(?! rule)|brake pad|rotor": {"bearings", "brakes", "hoses", "springs", "height", "subframe", "wheels"},
        r"\brack\b": {"rack", "rods", "limiters", "subframe"},
        r"crossmember|subframe": {"crossmember", "subframe", "mounts"},
        r"\blever out|gaiter|knob": {"shifter"},
        r"headlamp|the known dip": {"springs", "height"},
        r"ride height at every": {"springs", "height", "leaves"},
        r"rotation arrow|\bwheels off\b": None,
        r"bonnet": {"intake", "radiator", "subframe", "mounts"},
        r"\bfiller": {"axle gears", "driveshafts", "fluids", "rack", "rods", "steering lines", "radiator"},
    }

    def test_no_words_of_another_familys_work(self):
        names = tuple(FAMILIES[key].name.capitalize() for key in FAMILIES)
        for modules, steps in self.each():
            wheels = any(step.share == "wheels off" for step in steps)
            for step in steps:
                if step.share == "odometer":
                    continue
                for words, owners in self.OWN.items():
                    if says(words, without(names, step.title, step.detail)):
                        self.hold(wheels if owners is None else owners & set(modules), words, step.title)

    def test_nothing_is_promised_at_the_end_that_the_sheet_did_not_touch(self):
        for _, steps in self.each():
            off = any(step.share == "wheels off" for step in steps)
            self.hold(off or not places(steps, "measure the gaps again|full lock each way"))
            wanted = {due_name(due) for key in self.things if key in FAMILIES for due in FAMILIES[key].dues}
            said = "".join(step.detail for step in steps if step.share == "odometer")
            told = set(re.findall(r"(?:^|\. )([^.]*?) after \d", said))
            self.hold(told == wanted | ({"Wheel nuts"} if off else set()), told ^ wanted)
            self.hold(any(step.salvage for step in steps) or not places(steps, "count what was bagged"))

    def test_every_module_is_reached_and_says_its_own(self):
        self.assertEqual({name for _, modules, _ in sheets() for name in modules}, set(MODULES))
        for modules, steps in self.each():
            said = {word for step in steps for word in step.module.split()}
            self.hold({word for name in modules for word in name.split()} <= said, modules)

    def test_hand_work_at_a_corner_is_marked(self):
        """The order is made by marks: what is done at a corner has one."""
        for _, steps in self.each():
            for step in steps:
                here = step.corner and step.phase in ("Remove", "Mock-up", "Fit") and "spin it" not in step.title
                self.hold(not here or step.does, step.title)


@cache
def without(names, title, detail):
    """What a step says besides the names of its parts."""
    return re.sub("|".join(map(re.escape, names)), "", f"{title} {detail}")


def due_name(due):
    return due.what.removesuffix(", re-torque")


class Reads(unittest.TestCase):
    def test_what_a_step_measures_is_a_station(self):
        from rimcore.well.read.stations import STATIONS

        found = set()
        for _, _, steps in sheets():
            for step in steps:
                for code in step.reads:
                    station, _, corner = code.partition(" ")
                    if station == "at":
                        continue
                    found.add(station)
                    self.assertIn(station, STATIONS, step.title)
                    self.assertEqual(bool(corner), not STATIONS[station].whole_car, code)
        for station in (
            "ride_height",
            "preload",
            "lip_height",
            "camber",
            "toe",
            "rod_stick",
            "backlash",
            "joint_play",
            "throw",
            "arm_length",
            "driveline",
            "shaft_engaged",
            "panel_heat",
            "tow_ball",
            "car_mass",
        ):
            self.assertIn(station, found)

    def test_a_step_that_measures_has_its_field_or_its_page(self):
        """But for gaps, which are the stations of their corner, and what is only looked at."""
        bare = {
            step.title
            for _, _, steps in sheets()
            for step in steps
            if step.kind == "measure" and not step.reads and not step.corner
        }
        self.assertEqual({title for title in bare if not title.startswith("Measure what is still unmeasured")}, set())


class Composing(unittest.TestCase):
    def test_order_of_hand_work_is_of_one_corner(self):
        steps = composed(
            [
                StepPlan("Fit", "do", "wheel FL", corner="FL", does=("wheel on",)),
                StepPlan("Fit", "do", "hub FR", corner="FR", does=("hub",)),
                StepPlan("Fit", "do", "hub FL", corner="FL", does=("hub",)),
            ]
        )
        self.assertEqual([step.title for step in steps], ["hub FR", "hub FL", "wheel FL"])

    def test_a_fluid_waits_for_its_own_drain_alone(self):
        steps = composed(
            [
                StepPlan("Fit", "do", "fill axle", does=("fill:axle",)),
                StepPlan("Fit", "do", "drain coolant", does=("drain:coolant",)),
                StepPlan("Fit", "do", "drain axle", does=("drain:axle",)),
            ]
        )
        self.assertEqual([step.title for step in steps], ["drain coolant", "drain axle", "fill axle"])

    def test_what_closes_its_phase_stands_last(self):
        steps = composed(
            [StepPlan("Fit", "do", "a", late=True), StepPlan("Fit", "do", "b"), StepPlan("Tighten", "do", "c")]
        )
        self.assertEqual([step.title for step in steps], ["b", "a", "c"])


if __name__ == "__main__":
    unittest.main()
