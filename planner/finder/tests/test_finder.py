"""The finder: never worse than the same made by hand, what touches is out with its reason, a set becomes a build."""

from __future__ import annotations

import math
import random
import re
from datetime import date, timedelta
from itertools import combinations
from unittest.mock import patch

from django.utils import timezone
from hypothesis import given, settings
from hypothesis import strategies as st

from garage.car.models import Car
from garage.car.parts import Part, Tyre, Wheel
from garage.chassis.models import Adjuster
from garage.file import open_file
from garage.inhand import school_of
from garage.mass.ledger import net_since_kg, scales
from garage.mass.models import MassGoal, MassItem
from garage.readings.models import Reading
from planner.chosen import builds_of
from planner.finder.built import beside_of, set_build
from planner.finder.judged import judged_pair
from planner.finder.models import Search
from planner.finder.options import begin, camber_ends, camber_told, families_of, next_setting, spares_of
from planner.finder.search import MOST_ROUNDS, OFTEN, said_of_set, step, ways_out
from planner.finder.wished import BEST_MARGIN_MM, wish_of
from planner.models import Build
from planner.queries import sums
from planner.services import put_part, put_whole
from rimcore.choosing.compose import compose
from rimcore.choosing.finding import worth_asking
from rimcore.choosing.quick import OUT, PAIR
from rimcore.tables.facts import ENDS
from rimcore.wheels.tyre import parse_tyre
from rimcore.wheels.wheel import same_rim
from shelf.models import WheelSet, WheelSetAxle
from shelf.sets.services import add_set
from shell.tests.base import ScenarioCase

ASKED = {"change": [PAIR], "goal": "money", "school": "daily"}


class Searching(ScenarioCase):
    def whole(self, asked):
        """A search to its end."""
        file = open_file(self.user, self.car.pk)
        search = Search(car=file.car, asked=asked, state=begin(file, asked))
        for _ in range(400):
            if search.done:
                return file, search
            step(file, search)
        raise AssertionError("it does not end")

    def by_hand(self, file, asked):
        """Every pair of the list judged, the cheapest that does not touch: going through all of them."""
        found = []
        for wheel in Wheel.objects.filter(car=self.car, listed=True):
            for tyre in Tyre.objects.filter(car=self.car, listed=True):
                if not same_rim(wheel.diameter_in, tyre.rim_diameter_in) or None in (
                    wheel.price_minor,
                    tyre.price_minor,
                ):
                    continue
                facts = {"facts": {"x": {"wheel": wheel.pk, "tyre": tyre.pk}}}
                build = set_build(file, asked, facts, ["x"], 77_000 + len(found))
                if not any(one.state == "hit" for one in judged_pair(file, build)):
                    found.append(4 * (wheel.price_minor + tyre.price_minor))
        return sorted(found)


class Drawn(Searching):
    def test_the_cheapest_that_holds_is_found_and_nothing_cheaper_holds(self):
        """On lists drawn by Hypothesis, some parts without a price, against going through everything."""
        parts = list(Part.objects.filter(car=self.car, listed=True, family__in=("wheel", "tyre")).order_by("pk"))
        price = st.one_of(st.none(), st.integers(40, 400))

        @settings(max_examples=4, derandomize=True)
        @given(st.lists(price, min_size=len(parts), max_size=len(parts)))
        def holds(prices):
            for part, drawn in zip(parts, prices, strict=True):
                part.price_minor = None if drawn is None else drawn * 100
                part.save()
            file, search = self.whole(ASKED)
            wanted = self.by_hand(file, ASKED)
            found = [sum(search.state["facts"][key]["money_minor"] for key in keys) for keys in search.state["sets"]]
            self.assertEqual(found, wanted[: len(found)])
            self.assertTrue(search.state["proven"])
            self.assertEqual(len(found), min(5, len(wanted)))

        holds()


class Finder(Searching):
    def test_a_set_is_the_build_made_by_hand(self):
        file, search = self.whole(ASKED)
        search.save()
        said = search.state["whole"]["+".join(sorted(search.state["sets"][0]))]
        answer = self.client.post(self.url(f"find/{search.pk}/make/"), {"set": "0"})
        build = Build.objects.latest("pk")
        self.assertRedirects(answer, self.url(f"plan/build/{build.pk}/"), fetch_redirect_response=False)
        again = open_file(self.user, self.car.pk)
        made = next(one for one in builds_of(again) if one.pk == build.pk)
        found = sums(again, made)
        self.assertAlmostEqual(found.mass.total_kg, said["kg"], places=2)
        self.assertAlmostEqual(found.hours.hours, said["hours"], places=6)
        gaps = [one for one in found.judgements if one.code.startswith("gap.") and one.margin is not None]
        self.assertAlmostEqual(min(one.margin for one in gaps), said["margin_mm"], places=3)
        self.assertFalse([one for one in found.judgements if one.state == "hit" and one.code.startswith("gap.")])

    def test_what_touches_is_out_with_its_reason(self):
        _, search = self.whole(ASKED | {"goal": "score"})
        hits = [one for one in search.state["judged"].values() if one["state"] == "hit"]
        self.assertTrue(hits)
        self.assertTrue(all(one["why"] for one in hits))
        offered = {key for keys in search.state["sets"] for key in keys}
        self.assertFalse([key for key in offered if search.state["judged"][key]["state"] == "hit"])

    def test_most_room_is_the_most_room_of_all(self):
        file, search = self.whole(ASKED | {"goal": "score"})
        best = search.state["judged"][search.state["sets"][0][0]]["margin_mm"]
        self.assertEqual(
            best, max(one["margin_mm"] for one in search.state["judged"].values() if one["state"] != "hit")
        )

    def test_under_a_budget_nothing_is_told_with_what_stands_in_the_way(self):
        file, search = self.whole(ASKED | {"budget_minor": 100})
        self.assertEqual(search.state["sets"], [])
        self.assertEqual(search.state["without"][0][0], "money")
        self.assertIsNotNone(search.state["without"][0][1])

    def test_what_the_limit_would_have_to_be_holds_when_it_is_asked_with(self):
        _, search = self.whole(ASKED | {"budget_minor": 100})
        _, _, needed = search.state["without"][0]
        _, again = self.whole(ASKED | {"budget_minor": math.ceil(needed) * 100})
        self.assertTrue(again.state["sets"])
        _, less = self.whole(ASKED | {"budget_minor": math.floor(needed) * 100 - 100})
        self.assertEqual(less.state["sets"], [])
        search.save()
        page = self.page(f"find/{search.pk}/")
        address = re.search(r'href="([^"]*with=money:[^"]*)"', page.content.decode())[1].replace("&amp;", "&")
        form = self.client.get(address).context["form"]
        self.assertEqual(form.initial["budget_minor"], math.ceil(needed) * 100)

    def test_the_widest_tyre_is_the_widest_of_all_that_do_not_touch(self):
        _, search = self.whole(ASKED | {"goal": "width"})
        _, every = self.whole(ASKED | {"goal": "score"})
        widths = [search.state["facts"][keys[0]]["width_mm"] for keys in search.state["sets"]]
        judged = every.state["judged"]
        hold = [every.state["facts"][key]["width_mm"] for key in judged if judged[key]["state"] != "hit"]
        self.assertEqual(widths[0], max(hold))
        self.assertEqual(widths, sorted(widths, reverse=True))

    def test_a_set_that_is_late_too_often_is_out_with_its_chance(self):
        Car.objects.filter(pk=self.car.pk).update(event_on=timezone.localdate() + timedelta(days=26))
        _, free = self.whole(ASKED)
        chances = [free.state["whole"][name]["chance"] for name in free.state["whole"]]
        self.assertGreater(len(set(chances)), 1, chances)
        wanted = int(sorted(chances)[-1])
        _, sure = self.whole(ASKED | {"chance_pct": wanted})
        found = ["+".join(sorted(keys)) for keys in sure.state["sets"]]
        self.assertTrue(all(sure.state["whole"][name]["chance"] >= wanted for name in found))
        self.assertTrue([why for _, why in sure.state["out"] if "of 100 draws" in why])

    def test_front_and_rear_may_differ_and_cost_what_both_ends_cost_at_the_least(self):
        """Against going through every pair of each end by itself; what does not go together is cut when it is judged whole."""
        asked = ASKED | {"staggered": True}
        file, search = self.whole(asked)
        least = 0
        for end in "FR":
            held = []
            for key, fact in search.state["facts"].items():
                if fact["end"] == end:
                    build = set_build(file, asked, search.state, [key], 88_000)
                    if not any(one.state == "hit" for one in judged_pair(file, build, end)):
                        held.append(fact["money_minor"])
            least += min(held)
        found = [sum(search.state["facts"][key]["money_minor"] for key in keys) for keys in search.state["sets"]]
        self.assertEqual(found, sorted(found))
        self.assertGreaterEqual(found[0], least)
        if not search.state["cut"]:
            self.assertEqual(found[0], least)
        _, square = self.whole(ASKED)
        alike = min(sum(square.state["facts"][key]["money_minor"] for key in keys) for keys in square.state["sets"])
        self.assertLessEqual(found[0], alike, "the same set at both ends is one of them")
        search.save()
        said = said_of_set(search.state, search.state["sets"][0])
        self.client.post(self.url(f"find/{search.pk}/make/"), {"set": "0"})
        build = Build.objects.latest("pk")
        self.assertEqual(sorted(build.choices.values_list("position", "quantity")), [("F", 2)] * 2 + [("R", 2)] * 2)
        made = next(one for one in builds_of(open_file(self.user, self.car.pk)) if one.pk == build.pk)
        total = sums(open_file(self.user, self.car.pk), made)
        self.assertAlmostEqual(total.mass.total_kg, said["kg"], places=2)
        self.assertContains(self.page(f"find/{search.pk}/"), "front: ")

    def test_nothing_is_drilled_into_the_body_where_that_is_a_must(self):
        Part.objects.create(car=self.car, family="splitter", name="Lip", price_minor=9000, listed=True)
        file = open_file(self.user, self.car.pk)
        asked = {"change": ["splitter"], "goal": "money", "school": "daily"}
        self.assertIn("splitter", begin(file, asked)["options"])
        state = begin(file, asked | {"no_drilling": True})
        self.assertEqual(state["options"]["splitter"], [])
        self.assertIn(["splitters", "its holes are drilled into the body"], state["out"])

    def test_ones_own_stars_are_a_goal_and_asked_for_where_there_are_none(self):
        Part.objects.filter(car=self.car).update(stars=0)
        asked = {"change": [PAIR], "goal": "stars", "school": "daily"}
        self.assertContains(self.client.post(self.url("find/"), asked), "has stars yet", status_code=422)
        chance = random.Random(5)
        for part in Part.objects.filter(car=self.car, listed=True):
            Part.objects.filter(pk=part.pk).update(stars=chance.randrange(6))
        _, search = self.whole(asked)
        _, every = self.whole(ASKED | {"goal": "score"})
        judged = every.state["judged"]
        stars = sorted(
            (every.state["facts"][key]["stars"] for key in judged if judged[key]["state"] != "hit"), reverse=True
        )
        found = [search.state["facts"][keys[0]]["stars"] for keys in search.state["sets"]]
        self.assertEqual(found, stars[: len(found)], "against every pair that does not touch")

    def test_most_room_with_ends_that_differ_is_that_of_the_tighter_end(self):
        """Against every pair of every end: the tighter of both ends is as roomy as it can be."""
        asked = ASKED | {"staggered": True, "goal": "score"}
        _, search = self.whole(asked)
        judged, facts = search.state["judged"], search.state["facts"]
        best = {
            end: max(
                one["margin_mm"]
                for key, one in judged.items()
                if facts[key]["end"] == end and one["state"] != "hit" and one["margin_mm"] is not None
            )
            for end in "FR"
        }
        rooms = [min(judged[key]["margin_mm"] for key in keys) for keys in search.state["sets"]]
        self.assertEqual(rooms, sorted(rooms, reverse=True))
        self.assertAlmostEqual(rooms[0], min(best.values()), places=6)
        self.assertLess(len(judged), len(facts), "what has less room standing still than the best is not judged")

    def test_no_pair_has_more_room_than_it_was_thought_to_have_at_the_most(self):
        """Every pair in every setting; one that does not go on is looked at no more, and is a hit."""
        asked = ASKED | {"goal": "score", "drop_mm": 30.0, "spacer_mm": 6.0}
        file, search = self.whole(asked)
        rooms = [(pair, place, most) for pair, row in search.state["rooms"].items() for place, most in enumerate(row)]
        told = 0
        for pair, place, most in rooms[::7]:
            fact = search.state["pairs"][pair] | search.state["settings"][place]
            build = set_build(file, asked, {"facts": {"x": fact}}, ["x"], 91_000)
            whole = judged_pair(file, build)
            if most <= -BEST_MARGIN_MM:
                self.assertIn("hit", [one.state for one in whole if not one.code.startswith("gap.")])
                continue
            told += 1
            room = min(one.margin for one in whole if one.code.startswith("gap.") and one.margin is not None)
            self.assertLessEqual(room, most + 1e-9, (pair, place))
        self.assertGreater(told, 20)

    def test_the_roomiest_of_every_pair_in_every_setting(self):
        """Against all of them: nothing that holds has more room than the first that is offered."""
        for kind, most in ((Wheel, 4), (Tyre, 4)):
            kept = [one.pk for one in kind.objects.filter(car=self.car, listed=True, price_minor__isnull=False)][:most]
            Part.objects.filter(car=self.car, listed=True, family=kind.__name__.lower()).exclude(pk__in=kept).update(
                listed=False
            )
        asked = ASKED | {"goal": "score", "drop_mm": 10.0, "spacer_mm": 8.0}
        file, search = self.whole(asked)
        self.assertTrue(search.state["proven"])
        best = {}
        for pair, fact in search.state["pairs"].items():
            for setting in search.state["settings"]:
                build = set_build(file, asked, {"facts": {"x": fact | setting}}, ["x"], 92_000)
                whole = judged_pair(file, build)
                rooms = [one.margin for one in whole if one.code.startswith("gap.") and one.margin is not None]
                if not any(one.state == "hit" for one in whole):
                    best[pair] = max(min(rooms), best.get(pair, -BEST_MARGIN_MM))
        wanted = sorted(best.values(), reverse=True)
        found = [search.state["judged"][keys[0]]["margin_mm"] for keys in search.state["sets"]]
        self.assertTrue(found)
        for one, other in zip(found, wanted, strict=False):
            self.assertAlmostEqual(one, other, places=2)
        self.assertEqual(len(found), min(5, len(wanted)))

    def test_most_room_of_nothing_and_of_a_wheel_that_goes_from_the_list_meanwhile(self):
        _, none = self.whole(ASKED | {"goal": "score", "rim_low": 22.0})
        self.assertEqual(none.state["sets"], [])
        for goal in ("score", "money"):
            with self.subTest(goal):
                file = open_file(self.user, self.car.pk)
                asked = ASKED | {"goal": goal}
                search = Search(car=file.car, asked=asked, state=begin(file, asked))
                gone = file.car.parts.filter(family="wheel", listed=True).order_by("price_minor").first()
                file.car.parts.filter(pk=gone.pk).update(listed=False)
                for _ in range(200):
                    if not search.done:
                        step(open_file(self.user, self.car.pk), search)
                self.assertTrue(search.state["sets"])
                self.assertNotIn(gone.pk, [search.state["facts"][keys[0]]["wheel"] for keys in search.state["sets"]])

    def test_another_setting_is_looked_at_where_the_one_before_is_out(self):
        """Against every pair in every setting: what holds somewhere is offered, and no cheaper one holds."""
        asked = ASKED | {"spacer_mm": 12.0, "drop_mm": 10.0}
        for kind, most in ((Wheel, 4), (Tyre, 5)):
            kept = [one.pk for one in kind.objects.filter(car=self.car, listed=True, price_minor__isnull=False)][:most]
            Part.objects.filter(car=self.car, listed=True, family=kind.__name__.lower()).exclude(pk__in=kept).update(
                listed=False
            )
        file, search = self.whole(asked)
        settings, pairs = search.state["settings"], search.state["pairs"]
        self.assertGreater(len(settings), 4)
        holds = set()
        facts = {f"{pair}.{k}": fact | one for pair, fact in pairs.items() for k, one in enumerate(settings)}
        for key, fact in facts.items():
            build = set_build(file, asked, {"facts": facts}, [key], 92_000)
            if not any(one.state == "hit" for one in judged_pair(file, build)):
                holds.add((fact["money_minor"], fact["wheel"], fact["tyre"]))
        found = [search.state["facts"][keys[0]] for keys in search.state["sets"]]
        wanted = [one[0] for one in sorted(holds)]
        self.assertEqual([one["money_minor"] for one in found], wanted[: len(found)])
        self.assertEqual(len(found), min(5, len(wanted)))
        moved = [one for one in found if one["moved"]]
        for fact in moved:
            still = set_build(file, asked, {"facts": {"x": {**fact, "spacer_mm": 0, "drop_mm": 0}}}, ["x"], 93_000)
            self.assertTrue(any(one.state == "hit" for one in judged_pair(file, still)), fact)

    def test_the_spare_still_goes_on(self):
        """A caliper that the spare does not go over is out; a tyre that rolls another way is out before it is judged."""
        self.assertContains(
            self.client.post(self.url("find/"), ASKED | {"keep_spare": "on"}), "No spare", status_code=422
        )
        first = Tyre.objects.filter(car=self.car, listed=True).first()
        rim = f"{first.rim_diameter_in:g}x7.5 +40 5x108 63.4"
        said = {"name": "Space saver", "purpose": "spare", "wheel_F": rim, "tyre_F": first.size}
        asked = ASKED | {"keep_spare": True}
        small = f"155/50R{first.rim_diameter_in:g} 80M"
        add_set(open_file(self.user, self.car.pk), said | {"tyre_F": small})
        state = begin(open_file(self.user, self.car.pk), asked)
        self.assertEqual(state["pairs"], {})
        self.assertTrue(any("the spare rolls" in why for _, why in state["out"]))
        WheelSet.objects.filter(car=self.car).delete()
        add_set(open_file(self.user, self.car.pk), said)
        state = begin(open_file(self.user, self.car.pk), asked)
        rolls = {
            one.pk: parse_tyre(one.size).rolling_circumference_mm
            for one in Tyre.objects.filter(car=self.car, listed=True)
        }
        offered = {fact["tyre"] for fact in state["facts"].values()}
        spare_mm = rolls[first.pk]
        self.assertTrue(offered)
        self.assertTrue(all(abs(spare_mm / rolls[pk] - 1) <= 0.03 for pk in offered))
        for axle in WheelSetAxle.objects.filter(wheel_set__car=self.car):
            axle.wheel_part.spec["barrel_radius_mm"] = 205.0
            axle.wheel_part.save()
        low = {"facts": {"p": {"wheel": 1, "tyre": 1, "drop_mm": 40.0, "camber_deg": 0.0, "spacer_mm": 9.0}}}
        row, axle = spares_of(open_file(self.user, self.car.pk))[0]
        lowered = set_build(open_file(self.user, self.car.pk), asked, low, ["p"], 77, axle)
        self.assertEqual({one.code for one in lowered.levers.all()}, {"ride_drop_mm"}, "its height, not its spacer")
        self.assertEqual({one.part_id for one in lowered.choices.all()}, {axle.wheel_part_id, axle.tyre_part_id})
        huge = Part.objects.create(
            car=self.car,
            family="caliper",
            name="Huge",
            price_minor=1,
            listed=True,
            spec={"radius_mm": 299.0, "face_mm": 90.0},
        )
        both = {"change": ["caliper"], "goal": "money", "school": "daily", "keep_spare": True, "hold_part": huge.pk}
        _, braked = self.whole(both)
        self.assertEqual(braked.state["sets"], [])
        self.assertTrue(any(why.startswith("Space saver, ") for _, why in braked.state["out"]), braked.state["out"])

    def test_a_set_is_pinned_and_asked_again_with_one_thing_held(self):
        Part.objects.filter(car=self.car).update(pinned=False)
        _, search = self.whole(ASKED)
        search.save()
        self.client.post(self.url(f"find/{search.pk}/pin/"), {"set": "0"})
        fact = search.state["facts"][search.state["sets"][0][0]]
        pinned = set(Part.objects.filter(car=self.car, pinned=True).values_list("pk", flat=True))
        self.assertEqual(pinned, {fact["wheel"], fact["tyre"]})
        page = self.page(f"find/{search.pk}/")
        self.assertContains(page, f"hold={fact['tyre']}")
        form = self.client.get(self.url("find/"), {"again": search.pk, "hold": fact["tyre"]}).context["form"]
        self.assertEqual(form.initial["hold_tyre"], str(fact["tyre"]))
        self.client.post(self.url(f"find/{search.pk}/pin/"), {"set": "99"})
        self.assertEqual(Part.objects.filter(car=self.car, pinned=True).count(), 2)

    def test_what_would_clear_a_pair_that_is_left_out_is_said(self):
        _, search = self.whole(ASKED | {"goal": "score"})
        search.save()
        key = re.search(r"clears/([^/]+)/", self.page(f"find/{search.pk}/").content.decode())[1]
        answer = self.client.get(self.url(f"find/{search.pk}/clears/{key}/"))
        file = open_file(self.user, self.car.pk)
        end, ways = ways_out(file, search.asked, search.state, key)
        self.assertTrue(ways)
        self.assertContains(answer, f"{ENDS[end]}: {ways[0].title}")
        self.assertTrue(all(one.clear or one.tightest is None or one.tightest.margin >= 0 for one in ways[:1]))
        self.assertEqual(self.client.get(self.url(f"find/{search.pk}/clears/p0.0.0/")).content, b"")

    def test_camber_only_as_far_as_the_adjusters_are_known_to_go(self):
        asked = ASKED | {"camber_deg": -3.0}
        file = open_file(self.user, self.car.pk)
        self.assertEqual(min(one["camber_deg"] for one in begin(file, asked)["settings"]), -3.0)
        self.assertEqual(camber_told(file, asked).bare, ("front", "rear"))
        for corner in ("FL", "FR", "RL", "RR"):
            Adjuster.objects.update_or_create(
                car=self.car,
                corner=corner,
                name="plate",
                defaults={"effects": {"camber_deg": 0.25}, "turns_back": 2.0, "turns_on": 2.0, "doubts": {}},
            )
        file = open_file(self.user, self.car.pk)
        ends = camber_ends(file)
        self.assertNotIn(None, ends.values())
        least = min(one["camber_deg"] for one in begin(file, asked)["settings"])
        self.assertGreaterEqual(least, max(ends.values()) - 1e-9)
        self.assertEqual((camber_told(file, asked).bare, camber_told(file, asked).most_deg), ((), max(ends.values())))
        search = Search.objects.create(car=self.car, asked=asked, state=begin(file, asked), done=True)
        self.assertContains(self.page(f"find/{search.pk}/"), "The adjusters bring the camber to")
        now = [file.camber_of(file.on(file.baseline, end)) for end in "FR"]
        steps = {one["camber_deg"] for one in begin(file, asked)["settings"]} - {0.0}
        self.assertTrue(all(one <= min(now) for one in steps), "adjusters are not turned the other way")
        free = begin(file, asked | {"change": [PAIR, "top_mount"]})["settings"]
        self.assertEqual(min(one["camber_deg"] for one in free), -3.0)

    def test_not_under_the_class_minimum(self):
        """Of what may still come out, by the scale and the rule, no set takes more; who knows neither is told."""
        MassGoal.objects.filter(car=self.car).delete()
        must = ASKED | {"goal": "kg", "class_minimum": "on"}
        self.assertContains(self.client.post(self.url("find/"), must), "class minimum or", status_code=422)
        _, free = self.whole(ASKED | {"goal": "kg"})
        lightest = free.state["facts"][free.state["sets"][0][0]]["kg"]
        self.assertLess(lightest, -1.0)
        reading = next(one for one in scales(open_file(self.user, self.car.pk)))[1]
        now = reading.kg - net_since_kg(open_file(self.user, self.car.pk), scales(self.file())[0][0], False)
        MassGoal.objects.create(car=self.car, minimum_kg=now + lightest + 0.5)
        self.assertEqual(self.client.post(self.url("find/"), must).status_code, 302)
        _, search = self.whole(ASKED | {"goal": "kg", "class_minimum": True})
        kgs = [search.state["facts"][keys[0]]["kg"] for keys in search.state["sets"]]
        others = [one["kg"] for one in free.state["pairs"].values() if one["kg"] >= lightest + 0.5 - 1e-9]
        self.assertGreaterEqual(min(kgs), lightest + 0.5 - 1e-9)
        self.assertGreaterEqual(min(kgs), min(others))
        Part.objects.filter(car=self.car, listed=True, family="wheel").update(mass_kg=None)
        state = begin(open_file(self.user, self.car.pk), ASKED | {"class_minimum": True})
        self.assertEqual(state["pairs"], {}, "an unknown weight is not nothing")

    def test_a_class_minimum_that_nothing_keeps_is_told_and_no_fault(self):
        file = open_file(self.user, self.car.pk)
        asked = ASKED | {"lighter_kg": 5.0}
        search = Search(car=file.car, asked=asked, state=begin(file, asked) | {"most_off_kg": 1.0})
        for _ in range(400):
            if not search.done:
                step(file, search)
        self.assertEqual(search.state["sets"], [])
        without = {name: (goal is not None, needed) for name, goal, needed in search.state["without"]}
        self.assertEqual(without["kg_off"], (True, None))
        search.save()
        self.assertContains(self.page(f"find/{search.pk}/"), "without it a set holds")

    def test_only_what_is_pinned(self):
        Part.objects.filter(car=self.car, listed=True).update(pinned=False)
        pinned = [Wheel.objects.filter(car=self.car, listed=True).first()]
        pinned += list(Tyre.objects.filter(car=self.car, listed=True, diameter_in=pinned[0].diameter_in))
        Part.objects.filter(pk__in=[one.pk for one in pinned]).update(pinned=True)
        state = begin(open_file(self.user, self.car.pk), ASKED | {"only_pinned": True})
        self.assertEqual({fact["wheel"] for fact in state["facts"].values()}, {pinned[0].pk})

    def test_a_lever_is_moved_only_where_it_helps(self):
        _, search = self.whole(ASKED | {"drop_mm": 20.0})
        facts = [search.state["facts"][keys[0]] for keys in search.state["sets"]]
        self.assertEqual(facts[0]["drop_mm"], 0.0)
        # sets that differ by a lever alone are one
        self.assertEqual(len({(one["wheel"], one["tyre"]) for one in facts}), len(facts))

    def test_what_is_not_known_is_left_out_where_it_is_asked_and_never_nothing(self):
        wheel = Wheel.objects.filter(car=self.car, listed=True, price_minor__isnull=False).first()
        Wheel.objects.filter(pk=wheel.pk).update(mass_kg=None, lead_days=None)
        file = open_file(self.user, self.car.pk)
        for asked, there in (
            (ASKED, True),
            (ASKED | {"goal": "kg"}, False),
            (ASKED | {"lighter_kg": 1.0}, False),
            (ASKED | {"goal": "lead_days"}, False),
            (ASKED | {"ready_on": "2099-01-01"}, False),
        ):
            wheels = {fact["wheel"] for fact in begin(file, asked)["facts"].values()}
            self.assertEqual(wheel.pk in wheels, there, asked)

    def test_a_pair_that_nobody_measured_is_not_called_clear(self):
        Reading.objects.filter(car=self.car).delete()
        _, search = self.whole(ASKED)
        states = {one["state"] for one in search.state["judged"].values()}
        self.assertNotIn("clear", states)
        self.assertIn("unmeasured", states)

    def test_a_cut_of_what_is_not_offered_any_more_is_passed_over(self):
        file = open_file(self.user, self.car.pk)
        state = begin(file, ASKED)
        state["cut"] = [["p1.1.0", "nowhere"]]
        self.assertEqual(wish_of(ASKED, state, date(2027, 1, 1)).not_together, ())

    def test_two_that_hit_together_are_cut_and_never_offered(self):
        """Rings of the list against wheels: none is offered that leaves its wheel loose, as by hand."""
        file, search = self.whole(ASKED | {"change": [PAIR, "ring"]})
        self.assertTrue(search.state["cut"])
        # whole sets alone are cut where there are two slots: what is left is the best there is
        self.assertTrue(search.state["proven"])
        for keys in search.state["sets"]:
            build = set_build(file, ASKED, search.state, keys, 88_000)
            here = beside_of(file, build)
            hits = [one for one in sums(here, build).judgements if one.state == "hit"]
            stands = [tuple(one) for one in search.state["stands"]]
            self.assertEqual([one.name for one in hits if (one.code, one.where) not in stands], [])

    def test_a_search_that_an_older_version_began_begins_anew(self):
        file = open_file(self.user, self.car.pk)
        state = begin(file, ASKED)
        for later in ("order", "pairs", "settings", "spares", "most_off_kg"):
            del state[later]
        search = Search.objects.create(car=self.car, asked=ASKED, state=state | {"phase": "compose", "rounds": 3})
        self.client.post(self.url(f"find/{search.pk}/"))
        search.refresh_from_db()
        self.assertIn("pairs", search.state)
        self.assertLess(search.state["rounds"], 3)

    def test_what_is_not_judged_yet_counts_as_holding(self):
        file = open_file(self.user, self.car.pk)
        state = begin(file, ASKED)
        wish = wish_of(ASKED, state, date(2027, 1, 1))
        cheapest = sorted(
            {(one["wheel"], one["tyre"]): one["money_minor"] for one in state["facts"].values()}.values()
        )[:5]
        offered = sorted(option.money for option in wish.slots[0].options)
        self.assertEqual([round(one * 100) for one in offered[:5]], cheapest)

    def test_what_others_beat_in_everything_is_not_asked_and_nothing_is_lost(self):
        """Against going through all: the best five by each figure are among what is asked."""
        chance = random.Random(8)
        rows = [tuple(float(chance.randrange(9)) for _ in range(3)) for _ in range(200)]
        kept = set(worth_asking(rows, 5))
        self.assertLess(len(kept), 120)
        for weights in ((1, 0, 0), (0, 1, 0), (1, 2, 3), (5, 1, 1)):
            worth = sorted(sum(w * x for w, x in zip(weights, row, strict=True)) for row in rows)[:5]
            of_kept = sorted(sum(w * x for w, x in zip(weights, rows[k], strict=True)) for k in kept)[:5]
            self.assertEqual(worth, of_kept)

    def test_what_goes_on_one_end_or_both_is_offered_at_each(self):
        """Pads nobody said an end of: front, rear, or both, as many as go there; none is short of pieces."""
        Part.objects.filter(car=self.car, family="brake_pads").update(listed=False)
        pads = Part.objects.create(car=self.car, family="brake_pads", name="Plain", price_minor=5000, listed=True)
        asked = {"change": ["brake_pads"], "goal": "money", "school": "daily"}
        _, search = self.whole(asked)
        facts = {one["place"]: (one["count"], one["money_minor"]) for one in search.state["facts"].values()}
        self.assertEqual(facts, {"F": (1, 5000), "R": (1, 5000), "A": (2, 10000)})
        money = [search.state["facts"][keys[0]]["money_minor"] for keys in search.state["sets"]]
        self.assertEqual(money, [5000, 5000, 10000], search.state["out"])
        search.save()
        self.assertContains(self.page(f"find/{search.pk}/"), "front and rear: ")
        self.client.post(self.url(f"find/{search.pk}/make/"), {"set": "2"})
        made = Build.objects.latest("pk").choices.get()
        self.assertEqual((made.part_id, made.position, made.quantity), (pads.pk, "A", 2))

    def test_what_a_part_sets_is_set_in_a_set_and_in_the_build_made_of_it(self):
        """As by hand: gears bring their ratio."""
        Part.objects.filter(car=self.car, family="axle_gears").update(listed=False)
        gears = Part.objects.create(
            car=self.car, family="axle_gears", name="Short", price_minor=5000, listed=True, spec={"ratio": 4.1}
        )
        file, search = self.whole({"change": ["axle_gears"], "goal": "money", "school": "daily"})
        keys = search.state["sets"][0]
        build = set_build(file, search.asked, search.state, keys, 99_000)
        by_hand = put_part(
            Build.objects.create(car=self.car, name="by hand"),
            self.user,
            gears,
            {"position": search.state["facts"][keys[0]]["place"], "quantity": 1},
        ).build
        wanted = {(one.code, one.place): one.value for one in by_hand.levers.all()}
        self.assertTrue(wanted)
        self.assertEqual({(one.code, one.place): one.value for one in build.levers.all()}, wanted)
        search.save()
        self.client.post(self.url(f"find/{search.pk}/make/"), {"set": "0"})
        made = Build.objects.latest("pk")
        self.assertEqual({(one.code, one.place): one.value for one in made.levers.all()}, wanted)

    def test_an_option_that_hits_on_every_kind_of_wheel_is_out_by_itself(self):
        """Nuts of another thread: asked beside a few wheels, then beside one of every kind, and no more."""
        nut = Part.objects.filter(car=self.car, family="nut", listed=True).first()
        Part.objects.filter(car=self.car, family="nut").update(listed=False)
        nut.pk, nut.price_minor, nut.listed, nut.name = None, 100, True, "Other thread"
        nut._state.adding = True
        nut.spec = nut.spec | {"thread": "M14x1.5"}
        nut.save()
        _, search = self.whole(ASKED | {"change": [PAIR, "nut"]})
        self.assertEqual((search.state["sets"], search.state["gone"]), ([], [f"f{nut.pk}"]), search.state["out"])
        pairs = {key.rpartition(".")[0] for group in search.state["cut"] for key in group if key.startswith("p")}
        self.assertEqual(len(pairs), OFTEN)
        search.save()
        rows = self.page(f"find/{search.pk}/").context["left_out"]
        self.assertIn(str(nut), [name for name, *_ in rows])
        self.assertFalse([name for name, *_ in rows if name.split("+")[0] in search.state["facts"]], rows)
        self.assertEqual(len({(name, why) for name, why, *_ in rows}), len(rows))
        self.assertTrue(search.state["shaky"], "what hits alone may hold beside a part that nobody tried")

    def test_both_ends_with_an_option_that_always_hits(self):
        """Ends that differ: what hits on every wheel leaves nothing, in words, and nothing is cut of itself."""
        nut = Part.objects.filter(car=self.car, family="nut", listed=True).first()
        Part.objects.filter(car=self.car, family="nut").update(listed=False)
        Part.objects.filter(pk=nut.pk).update(listed=True, spec=nut.spec | {"thread": "M14x1.5"}, price_minor=100)
        _, search = self.whole(ASKED | {"change": [PAIR, "nut"], "staggered": True})
        self.assertEqual(search.state["sets"], [])
        self.assertTrue(all(len(group) > 1 for group in search.state["cut"]), search.state["cut"])

    def test_a_kit_brings_its_pieces_as_by_hand(self):
        Part.objects.filter(car=self.car, family__in=("brake_pads", "brake_fluid")).update(listed=False)
        pads = Part.objects.create(
            car=self.car, family="brake_pads", name="Set", price_minor=9000, listed=True, spec={"kit": "k1"}
        )
        fluid = Part.objects.create(
            car=self.car, family="brake_fluid", name="Bottle", price_minor=0, listed=True, spec={"kit": "k1"}
        )
        file, search = self.whole({"change": ["brake_pads"], "goal": "money", "school": "daily"})
        keys = search.state["sets"][0]
        found = set_build(file, search.asked, search.state, keys, 99_000)
        place = search.state["facts"][keys[0]]["place"]
        by_hand = Build.objects.create(car=self.car, name="by hand")
        put_whole(by_hand, self.user, pads, {"position": place, "quantity": 1})
        wanted = {(one.part_id, one.position, one.quantity) for one in by_hand.choices.all()}
        self.assertEqual({part for part, _, _ in wanted}, {pads.pk, fluid.pk})
        self.assertEqual({(one.part_id, one.position, one.quantity) for one in found.choices.all()}, wanted)
        search.save()
        self.client.post(self.url(f"find/{search.pk}/make/"), {"set": "0"})
        made = Build.objects.latest("pk").choices.all()
        self.assertEqual({(one.part_id, one.position, one.quantity) for one in made}, wanted)
        self.assertEqual({one.state for one in made}, {"wanted"})

    def test_a_search_ends_after_so_many_rounds_and_offers_only_what_was_judged_whole(self):
        file = open_file(self.user, self.car.pk)
        search = Search(car=file.car, asked=ASKED, state=begin(file, ASKED) | {"rounds": MOST_ROUNDS})
        for _ in range(50):
            if not search.done:
                step(file, search)
        self.assertTrue(search.done)
        self.assertEqual((search.state["sets"], search.state["proven"]), ([], False))
        self.assertTrue(any("rounds" in name for name, _ in search.state["out"]))

    def test_so_many_settings_and_no_more_are_kept(self):
        file = open_file(self.user, self.car.pk)
        state = begin(file, ASKED | {"spacer_mm": 12.0})
        key = next(iter(state["facts"]))
        with patch("planner.finder.options.MOST_LOOKED", len(state["facts"])):
            next_setting(state, key)
            next_setting(state, key)
        self.assertTrue(state["capped"])
        self.assertEqual([why for why, _ in state["out"]].count("pairs in other settings"), 1)

    def test_families_beside_wheels(self):
        file = open_file(self.user, self.car.pk)
        families = list(begin(file, ASKED)["options"])
        self.assertEqual(families, [PAIR])
        other = Part.objects.filter(car=self.car, listed=True, price_minor__isnull=False).exclude(
            family__in=("wheel", "tyre")
        )
        family = next(one.family for one in other if one.fault is None)
        _, search = self.whole(ASKED | {"change": [PAIR, family]})
        for keys in search.state["sets"]:
            self.assertEqual(sorted(key[0] for key in keys), ["f", "p"])

    def test_what_is_in_a_set_is_not_said_to_be_needed_besides(self):
        """New discs want new pads: said where the set has none, and not where it has them at both ends."""
        pads = "Brake pads for the new discs"
        _, bare = self.whole({"change": ["rotor"], "goal": "money", "school": "daily"})
        said = [said_of_set(bare.state, keys)["drags"] for keys in bare.state["sets"]]
        self.assertTrue(said)
        self.assertTrue(all(pads in drags for drags in said), said)
        _, both = self.whole({"change": ["rotor", "brake_pads"], "goal": "money", "school": "daily"})
        found = []
        for keys in both.state["sets"]:
            pad_keys = set(both.state["options"]["brake_pads"]) & set(keys)
            ends = "".join(both.state["facts"][key]["place"] for key in pad_keys)
            found.append(("A" in ends or set(ends) == {"F", "R"}, pads in said_of_set(both.state, keys)["drags"]))
        self.assertIn((True, False), found)
        self.assertNotIn((True, True), found)


class WeightOut(Searching):
    OUT_ASKED = {"change": [OUT], "goal": "money", "school": "daily"}

    def items(self):
        """What may come out: label -> kilograms and money, as the ledger has them."""
        rows = MassItem.objects.filter(car=self.car).exclude(state="out")
        return {
            one.label: (one.weighed.net_kg, one.weighed.money_minor)
            for one in rows
            if not one.guarded and one.weighed.net_kg is not None
        }

    def test_an_item_that_is_out_by_itself_leaves_its_others_in_words(self):
        """What does not come out with one that is gone, or only with it: asked all the same."""
        items = [f"m{label}" for label in self.items()]
        state = begin(open_file(self.user, self.car.pk), self.OUT_ASKED)
        state["facts"][items[1]] |= {"not_with": [items[0][1:]], "needs": []}
        state["facts"][items[2]] |= {"needs": [items[0][1:]], "not_with": []}
        state["gone"] = [items[0]]
        found = compose(wish_of(self.OUT_ASKED | {"goal": "kg"}, state, date(2027, 1, 1)))
        picked = {key for one in found.sets for _, key in one.chosen}
        self.assertIn(items[1], picked)
        self.assertNotIn(items[2], picked)

    def test_the_cheapest_that_is_light_enough_against_every_subset(self):
        MassItem.objects.filter(car=self.car).update(needs=[], not_with=[])
        chance = random.Random(4)
        for item in MassItem.objects.filter(car=self.car):
            item.cost_minor, item.sold_minor = chance.randrange(500, 30_000, 50), 0
            item.save()
        items = self.items()
        wanted_kg = round(0.6 * sum(kg for kg, _ in items.values()), 1)
        _, search = self.whole(self.OUT_ASKED | {"lighter_kg": wanted_kg})
        best = min(
            sum(items[one][1] for one in some)
            for count in range(len(items) + 1)
            for some in combinations(items, count)
            if sum(items[one][0] for one in some) >= wanted_kg - 1e-9
        )
        facts = [search.state["facts"][key] for key in search.state["sets"][0]]
        self.assertEqual(sum(one["money_minor"] for one in facts), best)

    def test_a_set_with_items_is_the_build_that_is_made_of_it(self):
        _, search = self.whole(self.OUT_ASKED | {"change": [PAIR, OUT], "goal": "kg"})
        search.save()
        said = said_of_set(search.state, search.state["sets"][0])
        self.assertGreater(len(search.state["sets"][0]), 1)
        self.client.post(self.url(f"find/{search.pk}/make/"), {"set": "0"})
        again = open_file(self.user, self.car.pk)
        made = next(one for one in builds_of(again) if one.pk == Build.objects.latest("pk").pk)
        found = sums(again, made)
        self.assertAlmostEqual(found.mass.total_kg, said["kg"], places=2)
        self.assertAlmostEqual(found.hours.hours, said["hours"], places=6)
        labels = {search.state["facts"][key].get("item") for key in search.state["sets"][0]} - {None}
        planned = MassItem.objects.filter(car=self.car, state="planned", guarded="")
        self.assertEqual(set(planned.values_list("label", flat=True)), labels)

    def test_what_may_stay_changes_only_where_it_is_lighter(self):
        asked = self.OUT_ASKED | {"change": [PAIR, OUT], "goal": "kg", "may_stay": True}
        Wheel.objects.filter(car=self.car, listed=True).update(mass_kg=40.0)
        _, search = self.whole(asked)
        self.assertTrue(search.state["sets"])
        self.assertFalse([key for key in search.state["sets"][0] if key.startswith("p")], "no wheel is lighter")
        page = self.client.get(self.url("find/") + "?quick=lighter")
        self.assertTrue(page.context["form"].initial["may_stay"])
        refused = self.client.post(
            self.url("find/"), {"change": [PAIR], "goal": "money", "school": "daily", "may_stay": "on"}
        )
        self.assertContains(refused, "changing nothing is best", status_code=422)

    def test_what_comes_out_only_with_another_is_not_offered_without_it(self):
        first, second, third = MassItem.objects.filter(car=self.car, state="in", guarded="", gross_kg__isnull=False)[:3]
        MassItem.objects.filter(car=self.car).update(needs=[], not_with=[])
        MassItem.objects.filter(pk=first.pk).update(needs=[second.label])
        MassItem.objects.filter(pk=second.pk).update(needs=[third.label])

        def offered(**third_is):
            MassItem.objects.filter(pk=third.pk).update(**third_is)
            state = begin(open_file(self.user, self.car.pk), self.OUT_ASKED)
            return {fact["item"] for fact in state["facts"].values()} & {first.label, second.label}

        self.assertEqual(offered(), {first.label, second.label})
        self.assertEqual(offered(gross_kg=None), set(), "a chain of three, the last of it not weighed")
        self.assertEqual(offered(state="out"), {first.label, second.label}, "what is out already is no hindrance")
        MassItem.objects.filter(pk=second.pk).update(not_with=[third.label])
        self.assertEqual(offered(), set(), "and what it is not out with is one")

    def test_what_a_specialist_takes_out_is_never_proposed_and_musts_are_kept(self):
        MassItem.objects.filter(car=self.car).update(reversible=False, state="in")
        state = begin(open_file(self.user, self.car.pk), self.OUT_ASKED | {"can_go_back": True})
        self.assertEqual(state["facts"], {})
        reasons = {why for _, why in state["out"]}
        self.assertIn("can't go back in", reasons)
        guarded = MassItem.objects.filter(car=self.car).exclude(guarded="").first()
        if guarded is not None:
            self.assertIn([guarded.name, "specialist only"], state["out"])


class Pages(ScenarioCase):
    def setUp(self):
        super().setUp()
        Search.objects.all().delete()

    def ask(self, status=302, **said):
        given = {"change": [PAIR], "goal": "money", "school": school_of(self.file())} | said
        answer = self.client.post(self.url("find/"), given)
        self.assertEqual(answer.status_code, status)
        return answer

    def test_from_question_to_build(self):
        self.ask()
        search = Search.objects.get()
        here = self.url(f"find/{search.pk}/")
        self.assertContains(self.client.get(here), " judged</p>")
        for _ in range(200):
            search.refresh_from_db()
            if search.done:
                break
            self.client.post(here)
        page = self.client.get(here)
        self.assertContains(page, "best")
        self.assertContains(page, "Make a build")
        self.assertContains(page, "proven: none is better")
        self.assertContains(page, "What money buys: room at the tightest gap")
        curves = {one["heading"]: one for one in page.context["curves"]}
        for number in {dot[2] for one in curves.values() for dot in one["dots"]} - {None}:
            self.assertContains(page, f'id="set-{number}"')
            self.assertContains(page, f'href="#set-{number}"')
        self.assertContains(self.page(f"find/?again={search.pk}"), "Asked before")
        self.client.post(self.url(f"find/{search.pk}/make/"), {"set": "0"})
        self.assertEqual(Build.objects.latest("pk").choices.count(), 2)

    def test_bad_input_is_refused_in_words_and_stays(self):
        for said, words in (
            ({"change": []}, "Nothing is chosen"),
            ({"rim_low": "18", "rim_high": "16"}, "Out of order"),
            ({"ready_on": "2001-01-01"}, "That day is over"),
            ({"budget_minor": "much"}, "much"),
            ({"change": list(families_of(self.file()))}, "at once"),
        ):
            self.assertContains(self.ask(422, **said), words, status_code=422)
        self.assertFalse(Search.objects.exists())

    def test_one_wheel_is_held(self):
        wheel = Wheel.objects.filter(car=self.car, listed=True).last()
        self.ask(hold_wheel=str(wheel.pk))
        facts = Search.objects.get().state["facts"].values()
        self.assertEqual({one["wheel"] for one in facts}, {wheel.pk})
        self.ask(422, hold_wheel="999999")
        for odd in ("9" * 4400, "x", "-1", "½"):
            self.page(f"find/?again={odd}&wheel={odd}")

    def test_an_empty_list_says_so(self):
        Part.objects.filter(car=self.car, listed=True).update(listed=False)
        self.assertContains(self.page("find/"), "Nothing is on the list yet")

    def test_no_such_set_and_a_strangers_search(self):
        self.ask()
        search = Search.objects.get()
        self.client.post(self.url(f"find/{search.pk}/make/"), {"set": "7"})
        self.assertFalse(Build.objects.filter(name__startswith="Found").exists())
        self.page("find/999999/", 404)
