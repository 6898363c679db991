"""The search for remedies on answers that are written down: which amounts, pairs and words come out of them."""

import unittest
from dataclasses import replace
from types import SimpleNamespace
from unittest.mock import patch

import numpy as np

from rimcore.fastening.threads import parse_thread
from rimcore.quantities.judgement import Judgement
from rimcore.well.judge import remedies as searched
from rimcore.well.judge.fitment import Verdict, judge
from rimcore.well.judge.ranges import lock_text
from rimcore.well.judge.remedies import (
    _alone,
    _answer,
    _consequences,
    _few,
    _gives_away_mm,
    _hopeful,
    _let_through,
    _title,
    _together,
    effort,
)
from rimcore.well.judge.tolerance import SCHOOLS
from rimcore.well.judge.trials import LEVERS, MOST_TRIES, SUM_ERROR_MM, Trials, kept, neighbours
from rimcore.well.read.measured import Axle, Reading
from rimcore.well.read.travel import Motion
from rimcore.well.solid.gap import Station
from rimcore.well.solid.pose import Pose
from rimcore.well.tests.cases import with_levers
from rimcore.wheels.fitted import Fitted
from rimcore.wheels.hub import Hub, WheelMount
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import parse_wheel

DAILY = SCHOOLS["daily"]
ON_CAR = Fitted(parse_wheel("16x6.5 +50"), parse_tyre("205/55R16 91V"))
LIP = Reading("FL", "arch_12", Station("arch", clock=12, side_gap_mm=31.0, up_gap_mm=62.0), None, ON_CAR, Pose(), 1.0)
DAMPER = Reading("FL", "damper", Station("damper", height_mm=262.0), 15.0, ON_CAR, Pose(), 1.0)
SPACER = next(lever for lever in LEVERS if lever.code == "spacer")


def stands(wheel="17x8 +40", tyre="225/45R17 91W", **more):
    return with_levers(Fitted(parse_wheel(wheel), parse_tyre(tyre)), **more)


class Written:
    """Trials whose gaps are written down: a start, and what each change adds to it; any other change is forbidden."""

    tyres = ()
    axle = SimpleNamespace(stop_motion=Motion(lock_stop_mm=74.0))
    tolerances = DAILY

    def __init__(self, start, wanted=0.0, adds=None, fails=(), candidate=None):
        self.start, self.wanted = np.array(start, dtype=float), np.full(len(start), wanted)
        self.adds = {key: np.array(value, dtype=float) for key, value in (adds or {}).items()}
        self.fails, self.candidate, self.sure, self.asked = set(fails), candidate, False, []

    def gaps(self, changes):
        if any(change not in self.adds for change in changes):
            return None
        return self.start + sum((self.adds[change] for change in changes), np.zeros(len(self.start))), self.wanted

    def shortfall(self, changes):
        self.asked.append(changes)
        got = self.gaps(changes)
        return None if got is None else (got[0].min(), (got[0] - got[1]).min())

    def keeps_margins(self, changes):
        return changes not in self.fails


class OneLever(unittest.TestCase):
    """Spacers of 3, 5, 8, 10 mm and so on, on gaps that grow by a millimetre each."""

    def alone(self, start, wanted, fails=(), without=()):
        adds = {("spacer", a): [a] for a in SPACER.amounts if a not in without}
        trials = Written([start], wanted, adds, [(("spacer", a),) for a in fails])
        return [changes[0][1] for changes in _alone(SPACER, trials, trials.shortfall(()))]

    def test_the_first_that_ends_the_contact_and_the_first_that_keeps_the_margin(self):
        self.assertEqual(self.alone(-5.0, 3.0), [5, 8])
        self.assertEqual(self.alone(-4.0, 3.0), [5, 8])
        self.assertEqual(self.alone(-2.0, 8.0), [3, 10])

    def test_without_contact_only_the_margin_counts(self):
        self.assertEqual(self.alone(0.0, 10.0), [10])
        self.assertEqual(self.alone(1.0, 6.0), [5])

    def test_one_that_does_both_is_told_once(self):
        self.assertEqual(self.alone(-5.0, 0.0), [5])

    def test_a_margin_that_the_whole_judgement_does_not_keep_is_not_kept(self):
        self.assertEqual(self.alone(1.0, 6.0, fails=(5, 8)), [10])
        self.assertEqual(self.alone(-5.0, 0.0, fails=(5,)), [5, 8])

    def test_what_is_forbidden_is_passed_over(self):
        self.assertEqual(self.alone(1.0, 6.0, without=(5,)), [8])

    def test_where_nothing_does_there_is_none(self):
        self.assertEqual(self.alone(-30.0, 5.0), [])
        self.assertEqual(self.alone(-25.0, 5.0), [25])
        self.assertEqual(self.alone(1.0, 60.0), [])


class Effort(unittest.TestCase):
    #: lever: base and step (common practice: 1 an hour, 4 buys a part, 8 wheels or tyres, 10 bodywork)
    TABLE = {
        "camber": (1.0, 0.4),
        "raise": (1.5, 0.4),
        "lock": (2.0, 0.5),
        "spacer": (4.0, 0.3),
        "offset": (8.0, 0.1),
        "width": (8.2, 0.4),
        "tyre": (7.0, 0.3),
        "lip": (10.0, 0.8),
    }

    def test_a_step_is_counted_from_the_first_amount(self):
        for lever in LEVERS:
            base, step = self.TABLE[lever.code]
            for k, amount in enumerate(lever.amounts):
                self.assertAlmostEqual(
                    effort([(lever.code, amount)]), base + step * (k + 1), msg=f"{lever.code} {amount}"
                )

    def test_together_they_add_and_wheels_are_bought_once(self):
        self.assertAlmostEqual(effort([("spacer", 5), ("raise", 3)]), 4.0 + 2 * 0.3 + 1.5 + 0.4)
        self.assertAlmostEqual(effort([("offset", -3), ("width", -0.5)]), 5 * 0.1 + 0.4 + 8.2)

    def test_a_few_amounts_stand_for_all_in_threes(self):
        self.assertEqual(_few("spacer"), {5, 12, 25})
        self.assertEqual(_few("lock"), {2, 5, 8})
        self.assertEqual(_few("lip"), {4, 8})


class Sums(unittest.TestCase):
    def test_a_sum_may_lack_as_much_as_sums_err(self):
        now = np.array([-5.0, 0.0]), np.array([0.0, 3.0])
        moved = np.array([[5.0 - SUM_ERROR_MM, 3.0], [0.0, -2.0 * SUM_ERROR_MM], [0.0, 0.0]])
        pairs = np.array([[0, 1], [0, 2], [1, 2]])
        keeps = [(row.tolist(), both) for row, both in _let_through(pairs, moved, now, False)]
        self.assertEqual(keeps, [([0, 2], True)])
        touches = [(row.tolist(), both) for row, both in _let_through(pairs, moved, now, True)]
        self.assertEqual(
            touches, [([0, 1], False), ([0, 2], True)], "0: −2 and −1, which may not touch; 1: with lever 2 it does"
        )
        self.assertEqual(_let_through(np.zeros((0, 2), dtype=int), moved, now, True), [])


def singles(**adds):
    """Known single changes as the search has them: ``spacer_5=(9, 0)``."""
    rows = []
    for name, add in adds.items():
        code, amount = name.split("_")
        rows.append((code, float(amount), np.array(add, dtype=float)))
    return [(code, amount, (np.full(2, -10.0) + add, np.zeros(2))) for code, amount, add in rows], np.array(
        [add for _, _, add in rows]
    )


class Combinations(unittest.TestCase):
    NOW = np.full(2, -10.0), np.zeros(2)

    def hopeful(self, touches=False, wanted=0.0, **adds):
        known, moved = singles(**adds)
        return _hopeful(known, moved, (self.NOW[0], np.full(2, wanted)), touches)

    def test_pairs_of_different_levers_cheapest_first(self):
        found = self.hopeful(spacer_12=(10, 0), spacer_5=(10, 0), lock_2=(0, 10), lock_1=(0, 10))
        self.assertEqual(found[0], (("spacer", 5.0), ("lock", 1.0)))
        self.assertEqual(len(found), 4)
        self.assertEqual([effort(one) for one in found], sorted(effort(one) for one in found))

    def test_two_amounts_of_one_lever_are_no_pair(self):
        self.assertEqual(self.hopeful(spacer_5=(10, 0), spacer_12=(0, 10)), [])

    def test_threes_only_where_no_pair_keeps_the_margins_and_only_of_a_few_amounts(self):
        thirds = {"lock_2": (3.5, 3.5), "lip_4": (3.5, 3.5)}
        self.assertEqual([len(one) for one in self.hopeful(spacer_5=(3.5, 3.5), **thirds)], [3])
        self.assertEqual(self.hopeful(spacer_3=(3.5, 3.5), **thirds), [], "3 mm is none of the few")
        self.assertEqual([len(one) for one in self.hopeful(spacer_5=(6, 6), **thirds)], [2, 2])

    def test_those_that_keep_the_margins_come_before_those_that_only_clear(self):
        found = self.hopeful(True, 6.0, spacer_5=(6, 6), lock_2=(6, 6), lip_4=(6, 6))
        self.assertEqual([len(one) for one in found], [3, 2, 2, 2])
        self.assertEqual(
            [len(one) for one in self.hopeful(False, 6.0, spacer_5=(6, 6), lock_2=(6, 6), lip_4=(6, 6))], [3]
        )


class Together(unittest.TestCase):
    A, B, C = ("camber", -0.6), ("lock", 2), ("spacer", 5)

    def found(self, adds, start=(-10.0, -10.0), wanted=0.0, fails=()):
        trials = Written(start, wanted, adds, fails)
        return _together(trials, trials.shortfall(()))

    def test_the_two_cheapest_of_different_levers(self):
        adds = {self.A: (0, 11), self.B: (0, 11), self.C: (11, 0), ("raise", 6): (0, 11), ("camber", -0.9): (0, 11)}
        self.assertEqual(self.found(adds), [(self.A, self.C), (("raise", 6), self.C)])

    def test_what_clears_alone_needs_no_company(self):
        self.assertEqual(self.found({self.A: (5, 5), self.B: (10, 10)}), [])
        self.assertEqual(self.found({self.A: (5, 5), self.B: (9, 9)}), [(self.A, self.B)])

    def test_one_that_only_ends_the_contact_where_nothing_keeps_the_margins(self):
        adds = {self.A: (0, 11), self.B: (0, 12), self.C: (11, 0)}
        self.assertEqual(self.found(adds, wanted=5.0), [(self.A, self.C)], "1 mm is left of the 5")
        self.assertEqual(
            self.found(adds, start=(0.0, -11.0), wanted=12.5), [], "−11 is no contact of both, 12 alone ends it"
        )
        for start in (1.0, 0.5, 0.0):
            found = self.found({self.A: (0, 3), self.C: (3, 0)}, start=(start, start), wanted=5.0)
            self.assertEqual(found, [], "nothing touches")

    def test_a_margin_kept_by_nothing_is_kept(self):
        for left in (0.0, 0.5):
            adds = {self.A: (0, 10 + left), self.C: (10 + left, 0)}
            self.assertEqual(self.found(adds), [(self.A, self.C)])

    def test_one_whose_contact_a_single_lever_ends_as_well_is_not_told(self):
        adds = {self.A: (0, 11), self.C: (11, 0), ("lip", 4): (10, 10)}
        self.assertEqual(self.found(adds, wanted=30.0), [])

    def test_margins_that_are_not_kept_when_judged_whole(self):
        adds = {self.A: (0, 11), self.B: (0, 11), self.C: (11, 0)}
        self.assertEqual(self.found(adds, fails=[(self.A, self.C)]), [(self.B, self.C)])
        self.assertEqual(
            self.found(adds, fails=[(self.A, self.C), (self.B, self.C)]), [(self.A, self.C)], "it ends the contact"
        )

    def test_a_pair_that_the_sum_lets_through_and_the_trial_does_not(self):
        adds = {self.A: (0, 9), self.C: (9, 0)}
        self.assertEqual(self.found(adds), [], "a millimetre is lacking, which the sum allows")

    def test_nothing_where_the_start_is_not_known(self):
        self.assertEqual(_together(SimpleNamespace(gaps=lambda changes: None), (-1.0, -1.0)), [])


class Whole(unittest.TestCase):
    """Which searches are made, and what of their answers is shown."""

    def run_with(self, plain, sure, alone, together=((("lip", 8),),)):
        trials = SimpleNamespace(sure=False)
        trials.shortfall = lambda changes: sure if trials.sure else plain
        asked = []

        def one_lever(lever, _, start):
            asked.append((lever.code, trials.sure, start))
            return [((lever.code, lever.amounts[0]),)] if lever.code in alone else []

        def pairs(_, start):
            asked.append(("together", trials.sure, start))
            return list(together)

        def answer(axle, before, changes, _):
            return SimpleNamespace(
                changes=changes, clear=changes[0][0] != "lip", effort=effort(changes), gives_away_mm=0.0
            )

        names = ("Trials", "judge", "_alone", "_together", "_answer")
        fakes = (lambda *_: trials, lambda *_: None, one_lever, pairs, answer)
        with patch.multiple(searched, **dict(zip(names, fakes, strict=True))):
            found = searched.remedies.__wrapped__(None, stands(), DAILY)
        return [one.changes[0][0] for one in found], asked

    def test_nothing_is_searched_where_nothing_lacks(self):
        self.assertEqual(self.run_with(None, None, ["camber"]), ([], []))
        self.assertEqual(self.run_with((1.0, 0.0), (1.0, 0.0), ["camber"]), ([], []))

    def test_a_margin_that_lacks_is_searched_alone_and_together_and_then_for_sure(self):
        found, asked = self.run_with((1.0, -0.5), (0.5, -1.0), ["camber", "spacer"])
        self.assertEqual(found, ["camber", "spacer", "lip"])
        self.assertEqual([one[0] for one in asked if not one[1]], [*(lever.code for lever in LEVERS), "together"])
        self.assertEqual([one[0] for one in asked if one[1]], [lever.code for lever in LEVERS])
        self.assertEqual({one[2] for one in asked if not one[1]}, {(1.0, -0.5)})
        self.assertEqual({one[2] for one in asked if one[1]}, {(0.5, -1.0)})

    def test_what_lacks_only_with_its_doubt_is_searched_for_sure_alone(self):
        found, asked = self.run_with((1.0, 0.0), (0.5, -0.5), [])
        self.assertEqual((found, {one[1] for one in asked}), (["lip"], {True}))
        self.assertEqual(asked[-1][0], "together")
        found, asked = self.run_with((1.0, 0.0), (0.5, 0.0), ["camber"])
        self.assertEqual((found, asked), ([], []))

    def test_six_are_shown_those_that_keep_every_margin_first(self):
        found, _ = self.run_with((1.0, -0.5), (0.5, -1.0), [lever.code for lever in LEVERS], together=[(("lip", 2),)])
        self.assertEqual(found, ["camber", "raise", "lock", "spacer", "tyre", "offset"])


def gap(code, value, margin, state="clear", doubt=0.0, where="front left"):
    return Judgement(f"gap.{code}", code, state, "", "", value=value, margin=margin, uncertainty=doubt, where=where)


class Answer(unittest.TestCase):
    def answer(self, before, after, changes=(("offset", -5.0),)):
        trials = Written([1.0], candidate=stands())
        with patch.object(searched, "judge", lambda *_: Verdict(tuple(after))):
            return _answer(None, Verdict(tuple(before)), changes, trials)

    def test_a_hit_is_none_and_one_not_measured_is_no_hit(self):
        self.assertIsNone(self.answer([], [gap("a", -1.0, -6.0, "hit")]))
        self.assertIsNotNone(self.answer([], [gap("a", 1.0, -4.0, "tight"), replace(gap("b", None, None, "hit"))]))

    def test_another_judgement_may_become_tight_and_not_hit(self):
        was = Judgement("tyre.load", "", "clear", "", "", where="front left")
        for before, after, good in (
            ("clear", "hit", False),
            ("tight", "hit", False),
            ("hit", "hit", True),
            ("clear", "tight", True),
        ):
            found = self.answer([replace(was, state=before)], [replace(was, state=after)])
            self.assertEqual(found is not None, good, f"{before} to {after}")
        self.assertIsNotNone(self.answer([], [replace(was, state="hit")]), "not checked before")
        self.assertIsNotNone(self.answer([was], [replace(was, state="hit", where="front right")]))

    def test_clear_and_sure(self):
        both = [gap("a", 9.0, 4.0, doubt=1.0), gap("b", 9.0, 2.0, doubt=1.0)]
        cases = (
            (both, True, True),
            ([both[0], gap("b", 9.0, 0.5, "tight", 1.0)], True, False),
            ([both[0], gap("b", 9.0, 0.5, "clear", 1.0)], True, False),
            ([both[0], gap("b", 9.0, 2.0, "tight", 1.0)], True, False),
            ([both[0], gap("b", 4.0, -0.5, "tight", 1.0)], False, False),
        )
        for after, clear, sure in cases:
            found = self.answer([], after)
            self.assertEqual((found.clear, found.sure), (clear, sure), after[1])

    def test_what_it_takes_is_said_once(self):
        found = self.answer([], [gap("a", 9.0, 4.0)], (("offset", -5.0), ("width", -0.5), ("camber", -0.3)))
        self.assertEqual(found.takes, "other wheels and an alignment")
        self.assertEqual(
            found.candidate, stands("17x7.5 +35").__class__(replace(stands("17x7.5 +35").fitted, camber_deg=-0.3))
        )
        self.assertIsNone(self.answer([], [gap("a", 9.0, 4.0)], (("offset", -500.0),)), "no such wheel")

    def test_margin_given_away(self):
        was = {
            ("gap." + code, "front left"): gap(code, 9.0, margin)
            for code, margin in (("a", 5.0), ("b", -1.0), ("c", 2.0), ("d", 1.0))
        }
        was["gap.e", "front left"] = gap("e", None, None)
        now = [
            gap("a", 7.0, 3.0),
            gap("b", 1.0, -3.0),
            gap("c", 1.0, -4.0),
            gap("d", 9.0, 4.0),
            gap("e", 3.0, 1.0),
            gap("f", 3.0, 1.0),
        ]
        self.assertAlmostEqual(_gives_away_mm(was, now), 2.0 + 2.0)
        self.assertEqual(_gives_away_mm(was, [gap("a", None, None)]), 0.0)


class Words(unittest.TestCase):
    TYRES = (parse_tyre("215/45R17"), parse_tyre("205/50R17"))

    def trials(self, **more):
        found = Written([1.0], candidate=stands(**more))
        found.tyres = self.TYRES
        return found

    def test_title(self):
        wanted = {
            ("offset", -3.0): "offset +37",
            ("offset", -43.0): "offset −3",
            ("width", -0.5): "7.5 in wide",
            ("spacer", 5.0): "5 mm spacer",
            ("camber", -0.6): "camber −0.6°",
            ("tyre", 2.0): "205/50R17",
            ("raise", 6.0): "6 mm higher",
            ("lock", 2.0): "2° less lock",
            ("lip", 4.0): "lip rolled 4 mm",
        }
        for change, said in wanted.items():
            self.assertEqual(_title([change], self.trials()), said)
        self.assertEqual(_title([("spacer", 5.0), ("lock", 2.0)], self.trials()), "5 mm spacer, 2° less lock")

    def said(self, before=(), after=(), **more):
        return _consequences(Verdict(tuple(before)), Verdict(tuple(after)), stands(**more), self.trials())

    def test_gaps_that_move_tightest_first_and_three_at_most(self):
        before = [gap(code, 10.0, 5.0) for code in "abcde"]
        after = [
            gap("a", 10.03, 5.0),
            gap("b", 9.0, 4.0),
            gap("c", 12.0, 7.0),
            gap("d", 6.0, 1.0, "tight"),
            gap("e", 9.93, 4.9),
        ]
        self.assertEqual(
            self.said(before, after),
            (
                "front left, d: 10.0 → 6.0 mm (tight)",
                "front left, b: 10.0 → 9.0 mm (clear)",
                "front left, e: 10.0 → 9.9 mm (clear)",
            ),
        )
        self.assertEqual(self.said(before[:1], after[:1]), ())
        self.assertEqual(self.said(before[4:], after[4:]), ("front left, e: 10.0 → 9.9 mm (clear)",))
        self.assertEqual(self.said([], after), (), "nothing was known of them")
        self.assertEqual(self.said([gap("d", None, None)], after), ())
        self.assertEqual(self.said([gap("d", 1.0, 1.0)], [gap("d", None, None)]), ())

    def test_other_judgements_that_are_not_clear_come_before_the_gaps_and_clear_ones_after(self):
        def load(value, state, reason):
            return Judgement("tyre.load", "Tyre load", state, reason, "", value=value, where="front left")

        gaps = [gap("a", 10.0, 5.0)], [gap("a", 6.0, 1.0)]
        for state, place in (("tight", 0), ("clear", 1)):
            found = self.said([*gaps[0], load(500.0, "clear", "")], [*gaps[1], load(450.0, state, "carries less")])
            self.assertEqual(found.index("tyre load: carries less"), place, state)

    def test_track_scrub_and_lever_from_half_a_millimetre_on(self):
        self.assertEqual(self.said(wheel="17x8 +35"), ("track +10 mm, scrub radius +5 mm, bearing lever +5 mm",))
        self.assertEqual(self.said(wheel="17x8 +48"), ("track −16 mm, scrub radius −8 mm, bearing lever −8 mm",))
        self.assertTrue(self.said(wheel="17x8 +39.5")[0].startswith("track +1 mm"))
        self.assertEqual(self.said(wheel="17x8 +39.6"), ())

    def test_less_lock_takes_limiters(self):
        self.assertEqual(self.said(lock_limit_deg=2.0), (lock_text(Motion(lock_stop_mm=74.0), 2.0),))
        self.assertEqual(self.said(lock_limit_deg=0.0), ())

    def test_height_and_speed_of_another_tyre(self):
        """225/45R17 is 634.3 mm, 215/45R17 625.3, 255/40R17 635.8, 205/50R17 636.8 (ISO 4000-1, nominal)."""
        self.assertEqual(self.said(tyre="215/45R17"), ("−4 mm under the car, speed −1.4 %",))
        self.assertEqual(self.said(tyre="255/40R17"), ("+1 mm under the car, speed +0.2 %",))
        self.assertEqual(self.said(tyre="205/50R17"), ("+1 mm under the car, speed +0.4 %",))


class Kept(unittest.TestCase):
    def test_without_a_margin_nothing_is_left_over_the_doubt(self):
        self.assertTrue(kept(gap("a", 1.0, None, doubt=0.5)))
        self.assertFalse(kept(gap("a", 1.0, None, doubt=0.5), sure=True))
        self.assertTrue(kept(replace(gap("a", 1.0, 0.0), uncertainty=None), sure=True))
        self.assertTrue(kept(gap("a", 1.0, 0.5, doubt=0.5), sure=True))
        self.assertFalse(kept(gap("a", 1.0, -0.001)))

    def test_the_worst_usual_axis_counts(self):
        """10 mm over a margin of 4 is 6; at 7.5 mm for the worst axis 3.5, and at 3 mm it is not kept."""
        some = replace(gap("a", 10.0, 6.0), usual=(7.5, 12.0))
        self.assertAlmostEqual(some.sure_margin, 3.5)
        self.assertTrue(kept(some))
        self.assertFalse(kept(replace(some, usual=(3.0, 12.0))))
        self.assertIsNone(replace(some, margin=None).sure_margin)


class Reach(unittest.TestCase):
    TYRES = (parse_tyre("215/45R17"), parse_tyre("205/50R17"), parse_tyre("225/40R17"))

    def test_the_tyre_of_an_amount(self):
        for amount, tyre in enumerate(self.TYRES, start=1):
            self.assertEqual(searched.apply(stands(), [("tyre", float(amount))], self.TYRES).fitted.tyre, tyre)
        self.assertIsNone(searched.apply(stands(), [("tyre", 4.0)], self.TYRES))
        self.assertEqual(next(lever.amounts for lever in LEVERS if lever.code == "tyre"), (1, 2, 3, 4, 5, 6))
        self.assertEqual(MOST_TRIES, 80)

    def test_a_spacer_may_not_take_the_thread_and_may_stay_where_there_was_none(self):
        """Studs of 30 mm through a pad of 12: a spacer of 15 leaves 3 mm.

        Where there is too little before, it forbids nothing.
        """
        for stud_mm, forbidden in ((32.0, True), (60.0, False), (14.0, False)):
            here = Axle(("FL",), ON_CAR, Hub(thread=parse_thread("M12x1.5"), stud_length_mm=stud_mm), (LIP,), 812.0)
            start = stands(mount=WheelMount(pad_thickness_mm=12.0))
            trials = Trials(here, start, DAILY, ())
            wider = replace(start, fitted=replace(start.fitted, spacer_mm=15.0))
            self.assertEqual(trials._forbidden(wider), forbidden, stud_mm)
            self.assertFalse(trials._forbidden(start))


class Neighbours(unittest.TestCase):
    def sizes(self, tyre, *listed):
        return [one.size for one in neighbours(parse_tyre(tyre), listed)]

    def test_listed_ones_for_the_rim_come_first_and_six_at_most(self):
        found = self.sizes("225/45R17", "225/45R17", "235/40R17", "nonsense", "225/45R18", "215/45R17")
        self.assertEqual(found, ["235/40R17", "215/45R17", "225/40R17", "215/40R17", "205/45R17", "205/50R17"])
        many = [f"{width}/40R17" for width in (185, 195, 205, 235, 245, 255, 265)]
        self.assertEqual(self.sizes("225/45R17", *many), many[:6])

    def test_the_same_size_with_another_rating_is_not_another_tyre(self):
        self.assertEqual(self.sizes("225/45R17 94W", "225/45R17 91W")[0], "225/40R17")

    def test_none_narrower_or_lower_than_there_are(self):
        """145 wide and 25 % at the least: 165 may become 145, 155 may not; 30 % may become 25."""
        self.assertIn("145/55R15", self.sizes("165/55R15"))
        self.assertEqual(self.sizes("155/55R15"), ["155/50R15", "145/55R15", "145/50R15"])
        self.assertIn("245/25R20", self.sizes("245/30R20"))
        self.assertNotIn("245/20R20", self.sizes("245/25R20"))
        self.assertEqual(self.sizes("31x10.50R15LT"), [])


class Quick(unittest.TestCase):
    """At rest the quick answers of the search are those of the whole judgement."""

    CHANGES = (
        (),
        (("offset", -4),),
        (("spacer", 5),),
        (("width", 0.5),),
        (("camber", -1.2),),
        (("raise", 12),),
        (("lip", 4),),
    )

    def test_gaps_and_what_they_want(self):
        here = Axle(("FL", "FR"), ON_CAR, Hub(), (LIP, DAMPER, replace(LIP, corner="FR")), 812.0)
        trials = Trials(here, stands(), DAILY, ())
        doubts = None
        for changes in self.CHANGES:
            changed = searched.apply(stands(), changes, ())
            judged = [
                j for j in judge(here, changed, DAILY).judgements if j.code.startswith("gap.") and j.value is not None
            ]
            least, left = trials.shortfall(changes)
            self.assertAlmostEqual(least, min(j.value for j in judged), places=6, msg=changes)
            self.assertAlmostEqual(left, min(j.margin for j in judged), places=6, msg=changes)
            trials.sure = True
            sure = trials.gaps(changes)
            trials.sure = False
            plain = trials.gaps(changes)
            doubts = sure[1] - plain[1] if doubts is None else doubts
            np.testing.assert_allclose(sure[1] - plain[1], doubts)
            self.assertEqual(len(plain[0]), 5)
        start = [
            j for j in judge(here, stands(), DAILY).judgements if j.code.startswith("gap.") and j.value is not None
        ]
        np.testing.assert_allclose(sorted(doubts), sorted(j.uncertainty for j in start), atol=1e-9)

    def test_what_is_forbidden_has_no_gaps(self):
        here = Axle(("FL",), ON_CAR, Hub(), (LIP,), 812.0)
        trials = Trials(here, stands(), DAILY, ())
        self.assertIsNone(trials.gaps((("width", 9.0),)))
        self.assertIsNone(trials.shortfall((("offset", 900.0),)))
        self.assertFalse(trials.keeps_margins((("offset", 900.0),)))
        self.assertIsNone(Trials(Axle(("FL",), ON_CAR, Hub(), (), 812.0), stands(), DAILY, ()).shortfall(()))


if __name__ == "__main__":
    unittest.main()
