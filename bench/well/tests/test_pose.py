"""The bench in motion through its addresses: pose, windows, remedies, drawings, trial fits, rubs, shake."""

import io
import math
import re
from xml.etree import ElementTree

import ezdxf
from django.utils import timezone

from garage.car.parts import Tyre, Wheel
from garage.file import open_file
from garage.readings.models import Reading, Rub, Sighting, Trial
from rimcore.drawing.planes import PX_PER_MM
from rimcore.well.solid.gap import outline_polygon
from shell import board
from shell.tests.base import ScenarioCase


class Moving(ScenarioCase):
    def test_pose_follows_the_address_and_stays_in_the_range(self):
        page = self.page("check/FL/?steer=30&travel=40")
        self.assertContains(page, "30° out, bump 40")
        self.assertContains(page, "turned into the plane of the axle")
        beyond = self.page("check/FL/?steer=79&travel=400")
        self.assertEqual((beyond.context["steer"], beyond.context["travel"]), (36.0, 52.0))

    def test_a_drag_gets_the_drawing_alone(self):
        fragment = self.client.get(self.url("check/FL/?steer=12&travel=5&pose=1"), headers={"HX-Request": "true"})
        self.assertContains(fragment, "12° out, bump 5")
        self.assertNotContains(fragment, "Gaps, tightest first")
        self.assertNotContains(fragment, "bench-windows")

    def test_the_map_hatches_hits(self):
        wide = Wheel.objects.get(car=self.car, name="Ottermoor Deep")
        self.assertContains(self.page(f"check/FL/?pick={wide.pk}"), "cell-hit-hatch")

    def test_without_a_range_there_is_no_map_and_it_says_what_to_measure(self):
        page = self.page("check/FR/")
        self.assertIsNone(page.context["map"])
        self.assertContains(page, "How far the wheel goes is not measured")
        self.assertContains(page, self.url("measure/FR/bump/"))

    def test_the_rear_does_not_steer(self):
        page = self.page("check/RL/")
        self.assertContains(page, "this axle does not steer")
        self.assertNotContains(page, 'id="bench-steer"')

    def test_lowering_a_spring_or_a_damper(self):
        spring, damper = (self.page(f"check/FL/?drop=40{more}").context["reach"] for more in ("", "&stroke=on"))
        self.assertEqual(damper.bump_mm - spring.bump_mm, 40.0)

    def test_the_board_says_pose_and_side(self):
        cell = next(
            cell for cell in board.cells(open_file(self.car.owner, self.car.pk)) if cell.label == "Tightest gap"
        )
        self.assertIn("full bump", cell.parts)
        worst, measured, where, pose = cell.parts.split(" · ")
        self.assertEqual(worst, "hit: Drone at cruise")
        self.assertRegex(measured, r"^\d+ measured, \d+ not$")
        self.assertIn("front left", where)
        self.assertContains(self.page("plan/"), pose)


class Beside(ScenarioCase):
    def test_four_at_most_and_the_others_are_named(self):
        wheels = list(Wheel.objects.filter(car=self.car)[:6])
        page = self.page("check/FL/compare/?" + "&".join(f"w={wheel.pk}" for wheel in wheels))
        self.assertEqual([column["wheel"] for column in page.context["columns"]], wheels[:4])
        self.assertContains(page, f"left out: {wheels[4].size}, {wheels[5].size}")
        self.assertContains(page, 'class="cell-under"')
        self.assertContains(page, "straight</text>", count=4, msg_prefix="each map has its scale")

    def test_a_trial_fit_offers_every_obstacle_of_the_corner(self):
        like = Reading.objects.filter(car=self.car, corner="FL", code="arch_12").first()
        for code in ("arch_9", "arch_11", "arch_1", "arch_3"):
            Reading.objects.create(
                car=self.car,
                outfit=like.outfit,
                corner="FL",
                code=code,
                values=[30, 70],
                typed="30 / 70",
                method="rule",
                uncertainty=1.0,
                who="Ina",
                taken_on=like.taken_on,
                condition=like.condition,
            )
        codes = [row.reading.code for row in self.page("check/FL/trial/").context["rows"]]
        self.assertTrue({"arch_9", "arch_11", "arch_1", "arch_3", "damper", "liner_front"} <= set(codes))
        self.assertGreater(len(codes), 8)


class WindowsAndRemedies(ScenarioCase):
    def test_other_tyres_of_the_list_have_their_windows_too(self):
        page = self.fragment("check/FL/windows/?offset=40&width=8&tyre=225/45R17 91W")
        text = page.content.decode()
        self.assertIn("On 8 in, with the other tyres of the list", text)
        link = re.search(r'href="([^"]+)"\s+aria-label="215/45R17, offset \+42"', text)[1].replace("&amp;", "&")
        taken = self.client.get(link)
        self.assertContains(taken, "solid 17×8 +42, 215/45R17 91W")
        narrow, wide = (
            next(row.contact for group in page.context["groups"] for row, _ in group[2] if row.label == label)
            for label in ("215/45R17", "245/40R17")
        )
        self.assertGreater(narrow[1], wide[1], "the narrower tyre has the wider window")

    def test_a_click_takes_an_offset(self):
        page = self.fragment("check/FL/windows/?offset=40&width=8")
        links = re.findall(r'href="([^"]+)"\s+aria-label="8 in, offset \+35"', page.content.decode())
        self.assertEqual(len(links), 1)
        taken = self.client.get(links[0].replace("&amp;", "&"))
        self.assertEqual(taken.context["form"].cleaned_data["offset"], 35.0)

    def test_a_remedy_can_be_tried_and_clears(self):
        page = self.fragment("check/FL/remedies/?offset=20&width=9")
        tries = re.findall(r'href="([^"]+)">\s*Try\s+it', page.content.decode())
        self.assertTrue(tries)
        tried = self.client.get(tries[0].replace("&amp;", "&"))
        states = {j.state for j in tried.context["gaps"] if j.code.startswith("gap.") and j.value is not None}
        self.assertNotIn("hit", states)

    def test_nothing_measured_says_so(self):
        Reading.objects.filter(car=self.car, corner="RR").delete()
        self.assertContains(self.fragment("check/RR/windows/"), "every offset is unmeasured")

    def test_side_by_side_at_most_four(self):
        wheels = [wheel.pk for wheel in Wheel.objects.filter(car=self.car)[:6]]
        page = self.page("check/FL/compare/?" + "&".join(f"w={pk}" for pk in wheels))
        self.assertEqual(len(page.context["columns"]), 4)
        self.assertContains(page, "On the bench", count=4)
        self.assertEqual(self.page("check/FL/compare/?w=nonsense").context["columns"], [])


class Drawings(ScenarioCase):
    def test_svg_is_well_formed_and_to_scale(self):
        answer = self.page("check/FL/section.svg?steer=20")
        self.assertEqual(answer["Content-Type"], "image/svg+xml")
        root = ElementTree.fromstring(answer.content)
        self.assertTrue(root.tag.endswith("svg"))
        self.assertIn("20° out", answer.content.decode())

    def test_odd_letters_in_a_name_break_no_drawing(self):
        self.car.nickname = "Tarn\x0b\x1f & <co>"
        self.car.save()
        ElementTree.fromstring(self.page("check/FL/section.svg").content)
        ezdxf.read(io.StringIO(self.page("check/FL/section.dxf").content.decode()))

    def test_dxf_is_one_to_one_in_millimetres(self):
        answer = self.page("check/FL/section.dxf?steer=20")
        document = ezdxf.read(io.StringIO(answer.content.decode()))
        self.assertEqual(document.header["$INSUNITS"], 4)
        setting = self.page("check/FL/").context["setting"].candidate.fitted
        points = [
            point
            for line in document.modelspace().query('LWPOLYLINE[layer=="CANDIDATE"]')
            for point in line.get_points("xy")
        ]
        crown = outline_polygon(setting.outline)[:, 1].max()
        self.assertAlmostEqual(max(y for _, y in points) - min(y for _, y in points), 2 * crown, places=6)
        lip = outline_polygon(setting.outline)[:, 0].max() + setting.centre_mm
        self.assertAlmostEqual(max(x for x, _ in points), lip, places=6)
        self.assertTrue(document.modelspace().query('CIRCLE[layer=="OBSTACLES"]'))

    def test_the_template_prints_at_full_size(self):
        answer = self.page("check/FL/template.svg")
        text = answer.content.decode()
        ElementTree.fromstring(answer.content)
        self.assertIn('width="210.0mm" height="297.0mm" viewBox="0 0 210.0 297.0"', text)
        bar = re.search(r'class="t-bar"\s+d="M([\d.]+) [\d.]+H([\d.]+)', text)
        self.assertEqual(float(bar[2]) - float(bar[1]), 100.0)
        self.assertContains(self.page("check/FL/template/"), "100 mm")

    def test_without_readings_it_says_which(self):
        self.assertContains(self.page("check/RL/template/"), "It needs two readings")
        self.assertEqual(self.client.get(self.url("check/RL/template.svg")).status_code, 302)


class TrialFits(ScenarioCase):
    def post(self, **values):
        data = {
            "wheel": "17x8 +40",
            "tyre": "",
            "camber_deg": "-0.6",
            "tried_on": timezone.localdate().isoformat(),
            "who": "Ina",
            **values,
        }
        return self.client.post(self.url("check/FL/trial/"), data)

    def damper(self):
        return next(r for r in self.file().latest if r.corner == "FL" and r.code == "damper")

    def gap(self):
        return next(
            j.value
            for j in self.page("check/FL/?offset=40&camber=-0.6&drop=0").context["gaps"]
            if j.code == "gap.damper"
        )

    def test_a_trial_fit_moves_the_prediction_and_is_kept_for_prove(self):
        reading, before = self.damper(), self.gap()
        kept = self.post(
            tyre="225/45R17",
            measured_section_mm="226",
            **{f"s{reading.pk}-seen": "gap", f"s{reading.pk}-gap_mm": "1/4 in"},
        )
        self.assertEqual(kept.status_code, 302)
        after = self.gap()
        self.assertLess(after, before - 1.0)
        sighting = Sighting.objects.get(typed="1/4 in")
        self.assertAlmostEqual(sighting.gap_mm, 6.35)
        self.assertIsNotNone(sighting.predicted_mm)
        self.assertContains(self.page("prove/"), "Trial fit, damper, front left")
        self.client.post(self.url(f"check/trial/{sighting.trial_id}/remove/"))
        self.assertAlmostEqual(self.gap(), before, places=6)

    def test_a_contradiction_is_shown(self):
        reading = self.damper()
        self.post(
            tyre="225/45R17", measured_section_mm="226", **{f"s{reading.pk}-seen": "gap", f"s{reading.pk}-gap_mm": "45"}
        )
        self.assertContains(self.page("check/FL/trial/"), "these readings contradict each other")

    def test_refused_keeps_what_was_typed(self):
        reading, trials = self.damper(), Trial.objects.count()
        nothing = self.post()
        self.assertContains(nothing, "Say what was seen", status_code=422)
        odd = self.post(wheel="17x8", **{f"s{reading.pk}-seen": "gap", f"s{reading.pk}-gap_mm": "soon"})
        self.assertContains(odd, 'value="soon"', status_code=422)
        self.assertContains(odd, "offset", status_code=422)
        missing = self.post(**{f"s{reading.pk}-seen": "gap"})
        self.assertContains(missing, "Write the gap", status_code=422)
        self.assertEqual(Trial.objects.count(), trials)

    def test_it_can_be_undone(self):
        reading, before = self.damper(), Trial.objects.count()
        self.post(**{f"s{reading.pk}-seen": "paper"})
        self.assertEqual(Trial.objects.count(), before + 1)
        from shell.undo import last_change, undo

        undo(self.user, last_change(self.user).pk)
        self.assertEqual(Trial.objects.count(), before)

    def test_a_rub_stands_on_the_map_against_the_prediction(self):
        when = {
            "rub-code": "arch_12",
            "rub-when": "dip",
            "rub-steer_deg": "10",
            "rub-travel_mm": "60",
            "rub-seen_on": timezone.localdate().isoformat(),
        }
        self.assertEqual(self.client.post(self.url("check/FL/rub/"), when).status_code, 302)
        page = self.page("check/FL/")
        self.assertContains(page, "rub seen: the test dip")
        self.assertContains(page, "predicted")
        self.assertContains(page, "Drawn where it was seen")
        seen = next(one for one in page.context["rubs"] if one.row.code == "arch_12")
        marks = [one for one in seen.scene.shapes if one.ink == "rub-mark"]
        self.assertEqual(len(marks), 2, "on the tyre and on the arch")
        (x1, y1), (x2, y2) = (map(float, re.match(r"M([-\d.]+) ([-\d.]+)", one.d).groups()) for one in marks)
        apart_mm = math.hypot(x2 - x1, y2 - y1) / (PX_PER_MM / float(seen.scene.scale.split(":")[1]))
        predicted_mm = float(re.search(r"predicted ([-\d.]+) mm", seen.says)[1])
        self.assertAlmostEqual(apart_mm, predicted_mm, delta=2.0, msg="as far apart as the gap, by the drawing's scale")
        rub = Rub.objects.get(code="arch_12")
        self.client.post(self.url(f"check/rub/{rub.pk}/remove/"))
        self.assertNotContains(self.page("check/FL/"), "rub seen: the test dip")
        self.assertEqual(
            self.client.post(self.url("check/FL/rub/"), when | {"rub-steer_deg": "round"}).status_code, 422
        )


class ShakeAndOutline(ScenarioCase):
    def test_the_shake_is_ranked_with_what_the_car_says(self):
        page = self.page(
            "check/shake/?low_kmh=60&high_kmh=130&felt=wheel&when=steady&new_wheels=on&tried=balance_check"
        )
        self.assertContains(page, "times a second")
        shares = [one.share for one in page.context["answer"].suspects]
        self.assertEqual(shares, sorted(shares, reverse=True))
        self.assertContains(
            self.page("check/shake/?low_kmh=130&high_kmh=60&felt=wheel&when=band", status=422),
            "lower to a higher",
            status_code=422,
        )

    def test_a_measured_section_replaces_the_outline(self):
        tyre = Tyre.objects.get(car=self.car, spec__size__startswith="225/45R17")
        before = next(j.value for j in self.page("check/FL/").context["gaps"] if j.code == "gap.damper")
        lines = "\n".join(
            f"{u} {r}"
            for u, r in [
                (-106, 236),
                (-118, 262),
                (-117, 280),
                (-104, 306),
                (-60, 315),
                (0, 317),
                (60, 315),
                (104, 306),
                (117, 280),
                (118, 262),
                (106, 236),
            ]
        )
        form = {"name": tyre.name, "size": tyre.size, "outline": lines}
        self.assertEqual(self.client.post(self.url(f"choose/tyre/{tyre.pk}/"), form).status_code, 302)
        after = next(j for j in self.page("check/FL/").context["gaps"] if j.code == "gap.damper")
        self.assertLess(after.value, before)
        self.assertTrue(any("measured outline" in one.source for one in after.inputs))
        refused = self.client.post(self.url(f"choose/tyre/{tyre.pk}/"), form | {"outline": "12 300"})
        self.assertContains(refused, "5 to 200", status_code=422)
        self.assertContains(refused, "12 300", status_code=422)
