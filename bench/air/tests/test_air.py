"""The air bench on the pages.

A panel from its card to paper, drawn as it is typed, heat and slopes judged, the splitter's load; bad input in words.
"""

import io
import math

from ezdxf import read as read_dxf
from shapely import Polygon

from bench import faces
from bench.air.facts import panel_as_typed
from garage.air.models import AirPanel, AirUnder
from planner.models import Build
from planner.services import set_levers
from rimcore.registry import CALCULATIONS
from shell.tests.base import ScenarioCase
from shell.undo import last_change, undo

PANEL = {
    "form": "panel",
    "panel": "new",
    "name": "Rear plate",
    "stations": "0 300\n500 400\n900 350",
    "sheet": "aluminium",
    "sheets": "1000 x 1000, 20",
    "pitch_mm": "120",
    "edge_mm": "15",
}


class Panels(ScenarioCase):
    def belly(self):
        return AirPanel.objects.get(car=self.car, name="Belly panel")

    def test_figures_are_those_of_the_command_line(self):
        page = self.page("check/air/")
        found = page.context["panel"]
        ring = [list(point) for point in found.shape.exterior.coords[:-1]]
        holes = [[list(point) for point in one.coords[:-1]] for one in found.shape.interiors]
        answer = CALCULATIONS["panel"].answer(
            {
                "outline_mm": ring,
                "holes_mm": holes,
                "kg_per_m2": 0.8,
                "sheet_mm": [1220, 2440],
                "heat": [
                    {
                        "name": one.name,
                        "line_mm": [list(p) for p in one.line_mm],
                        "radius_mm": one.radius_mm,
                        "keep_mm": one.keep_mm,
                        "clear_mm": one.clear_mm,
                    }
                    for one in found.hot
                ],
            }
        )
        self.assertAlmostEqual(found.area_m2, answer["area_m2"], places=9)
        self.assertAlmostEqual(found.mass_kg, answer["mass_kg"], places=9)
        self.assertEqual([one.state for one in found.heat], [one["state"] for one in answer["heat"]])
        best = next(cut for cut in found.cuts if cut.sheet.wide_mm == 1220)
        self.assertEqual((best.count, best.turned_deg), (answer["sheets_needed"], answer["turned_deg"]))

    def test_what_is_typed_is_drawn_before_it_is_kept(self):
        said = {
            name: getattr(self.belly(), name)
            for name in ("name", "stations", "holes", "heat", "existing", "sheets", "sheet")
        }
        wider = said | {
            "stations": said["stations"].replace("600 585", "600 700"),
            "panel": self.belly().pk,
            "outline": "",
            "pitch_mm": "150",
            "edge_mm": "15",
            "kg_per_m2": "0.8",
        }
        answer = self.client.get(self.url("check/air/"), wider, headers={"HX-Request": "true"})
        self.assertTemplateUsed(answer, "bench/air/sheet.html")
        self.assertTemplateNotUsed(answer, "bench/air/air.html")
        self.assertGreater(answer.context["panel"].area_m2, panel_as_typed(self.belly()).area_m2)
        self.assertIn("600 585", self.belly().stations)

    def test_a_panel_is_kept_changed_removed_and_back(self):
        answer = self.client.post(self.url("check/air/"), PANEL)
        made = AirPanel.objects.get(car=self.car, name="Rear plate")
        self.assertRedirects(answer, self.url(f"check/air/?panel={made.pk}"))
        self.assertAlmostEqual(panel_as_typed(made).area_m2, (700 * 500 + 750 * 400) / 1e6)
        self.assertEqual(made.kg_per_m2, 4.1, "as aluminium is usually sold")
        self.client.post(self.url(f"check/air/{made.pk}/remove/"))
        self.assertFalse(AirPanel.objects.filter(pk=made.pk).exists())
        undo(self.user, last_change(self.user).pk)
        self.assertTrue(AirPanel.objects.filter(pk=made.pk).exists())

    def test_bad_input_in_words_nothing_lost_nothing_kept(self):
        for change, words in (
            ({"stations": "0 300\nwide"}, "Line 2"),
            ({"stations": "", "outline": "0 0; 200 0; 0 100; 150 120"}, "crosses itself"),
            ({"stations": ""}, "fewer than two"),
            ({"holes": "plug: 1"}, "drain plug"),
            ({"heat": "silencer 3"}, "Line 1"),
            ({"sheets": "big"}, "1000 x 2000"),
            ({"name": "Belly panel"}, "already"),
            ({"name": ""}, "required"),
            ({"pitch_mm": "5"}, "Out of range"),
            ({"holes": "slot: 450 0 r 2000"}, "cuts the panel apart"),
        ):
            answer = self.client.post(self.url("check/air/"), PANEL | change)
            self.assertContains(answer, words, status_code=422, msg_prefix=str(change))
            self.assertContains(answer, "500 400" if "stations" not in change else "1000 x 1000", status_code=422)
        self.assertFalse(AirPanel.objects.filter(name="Rear plate").exists())
        live = self.client.get(
            self.url("check/air/"), PANEL | {"stations": "0 300\nwide"}, headers={"HX-Request": "true"}
        )
        self.assertContains(live, "is not understood")

    def test_a_kept_text_that_can_not_be_read_is_told_and_never_clear(self):
        AirPanel.objects.filter(car=self.car).update(stations="x")
        judged = {one.name: one for one in self.page("check/air/").context["judged"]}
        self.assertEqual(judged["Belly panel"].state, "unmeasured")

    def test_one_to_one_as_dxf_svg_and_on_paper(self):
        belly = self.belly()
        shape = panel_as_typed(belly).shape
        raw = self.page(f"check/air/{belly.pk}/panel.dxf").content.decode()
        document = read_dxf(io.StringIO(raw))
        rings = [
            Polygon([(x, y) for x, y, *_ in one.get_points()]) for one in document.modelspace().query("LWPOLYLINE")
        ]
        self.assertAlmostEqual(
            max(ring.area for ring in rings) - sum(sorted(ring.area for ring in rings)[:-1]), shape.area, places=3
        )
        bar = document.modelspace().query("LINE")[0]
        self.assertAlmostEqual(math.dist(bar.dxf.start, bar.dxf.end), 100.0)
        svg = self.page(f"check/air/{belly.pk}/panel.svg").content.decode()
        self.assertIn('mm" height=', svg)
        page = self.page(f"check/air/{belly.pk}/tiles/")
        self.assertContains(page, 'width="194.0mm"')
        self.assertContains(page, "the bar on each has to be 100 mm")
        self.client.force_login(self.person())
        for what in ("panel.dxf", "panel.svg", "tiles/"):
            self.assertEqual(self.client.get(self.url(f"check/air/{belly.pk}/{what}")).status_code, 404)


class Hanging(ScenarioCase):
    """A panel hangs where its card was read: slopes and heat answer to its heights."""

    def typed(self, **change):
        row = AirPanel.objects.get(car=self.car, name="Belly panel")
        said = {
            name: getattr(row, name)
            for name in (
                "name",
                "stations",
                "holes",
                "heat",
                "existing",
                "sheets",
                "sheet",
                "front_mm",
                "pitch_mm",
                "edge_mm",
                "kg_per_m2",
            )
        }
        return {"panel": row.pk, "form": "panel", **said, **change}

    def live(self, **change):
        return self.client.get(self.url("check/air/"), self.typed(**change), headers={"HX-Request": "true"})

    def test_slopes_answer_while_a_height_is_typed(self):
        kept = self.page("check/air/").context
        lower = self.live(stations="0 420 165\n250 560 160\n600 585 90\n950 560 150\n1300 480 155")
        self.assertTemplateUsed(lower, "bench/air/slopes.html")
        self.assertLess(lower.context["angles"].breakover_deg, kept["angles"].breakover_deg - 2)
        self.assertContains(lower, 'hx-swap-oob="true"')
        self.assertIn(
            "at Belly panel", next(one for one in lower.context["judged"] if one.code == "air.ramp.drive").reason
        )
        away = self.live(front_mm="")
        self.assertGreater(away.context["angles"].breakover_deg, kept["angles"].breakover_deg)
        self.assertEqual(away.context["side"].handles, ())
        again = self.page("check/air/").context
        self.assertEqual(again["angles"], kept["angles"], "nothing was saved")

    def test_a_lower_build_lowers_it_and_a_dragged_height_is_the_one_that_was_read(self):
        for code, end in (("ride_drop_mm", "F"), ("ride_drop_mm", "R")):
            set_levers(Build.objects.get(car=self.car, in_hand=True), {(code, end): 30.0})
        found = self.page("check/air/").context["side"]
        self.assertTrue(all(abs(by - 30.0) < 0.01 for _, _, _, by in found.handles))
        self.client.post(self.url("check/air/"), self.typed(pitch_mm="140"))
        self.assertEqual(AirPanel.objects.get(car=self.car).front_drop_mm, 0.0, "the card was not read again")
        stands = self.file().on(self.file().current, "F").ride_drop_mm
        self.client.post(self.url("check/air/"), self.typed(stations="0 420 160\n1300 480 150"))
        self.assertEqual(AirPanel.objects.get(car=self.car).front_drop_mm, stands)

    def test_slopes_typed_anew_leave_the_height_at_which_the_lip_was_read(self):
        """The car stands lower than when the lip was read: another list of slopes is no reading, another lip is."""
        stands = self.file().on(self.file().current, "F")
        AirUnder.objects.filter(car=self.car).update(front_drop_mm=stands.ride_drop_mm - 12.0, rear_drop_mm=0.0)
        kept = AirUnder.objects.get(car=self.car)
        said = {
            name: getattr(kept, name)
            for name in ("lip_ahead_mm", "lip_up_mm", "tail_behind_mm", "tail_up_mm", "belly_behind_mm", "belly_up_mm")
        }
        self.client.post(self.url("check/air/"), {"form": "under", **said, "slopes": "drive 5"})
        again = AirUnder.objects.get(car=self.car)
        self.assertEqual((again.slopes, again.front_drop_mm), ("drive 5", stands.ride_drop_mm - 12.0))
        self.client.post(self.url("check/air/"), {"form": "under", **said, "lip_up_mm": "190", "slopes": "drive 5"})
        self.assertEqual(AirUnder.objects.get(car=self.car).front_drop_mm, stands.ride_drop_mm)

    def test_what_is_hot_is_held_against_the_heights(self):
        one = next(judged for judged in self.live(heat="pipe: 600 0, 900 0 r 30 keep 50 up 250").context["heat"])
        self.assertAlmostEqual(one.value, 250 - 150 - 30)
        self.assertContains(self.live(heat="pipe: 600 0 r 30 up high"), "is not understood")
        self.assertContains(self.live(front_mm="far"), "be read as length")


class Slopes(ScenarioCase):
    def setUp(self):
        super().setUp()
        self.car = self.user.cars.get(nickname__startswith="Gannel")

    def judged(self):
        return {one.name: one for one in self.page("check/air/").context["judged"]}

    def test_the_roadster_misses_the_trailer_by_a_degree_and_a_half(self):
        one = next(
            judged for name, judged in self.judged().items() if name.startswith("trailer") and "bump" not in name
        )
        self.assertEqual((one.state, round(one.value, 1)), ("hit", -1.5))
        codes = {j.code for j in faces.beside(self.file())}
        self.assertIn("air.ramp.trailer", codes)

    def test_the_builds_height_moves_them(self):
        before = self.page("check/air/").context["angles"].approach_deg
        build = Build.objects.get(car=self.car, in_hand=True)
        set_levers(build, {("ride_drop_mm", "F"): float(build.lever("ride_drop_mm", "F")) - 20.0})
        self.assertGreater(self.page("check/air/").context["angles"].approach_deg, before + 0.8)

    def test_the_splitters_load_is_that_of_the_command_line(self):
        kept = AirUnder.objects.get(car=self.car)
        answer = CALCULATIONS["splitter"].answer(
            {
                "area_m2": kept.area_m2,
                "speed_kmh": 160,
                "fasteners": 8,
                "lever_mm": {"load": 140, "adjuster": 260},
                "adjusters": 2,
            }
        )
        found = self.page("check/air/").context["pressed"]
        self.assertAlmostEqual(found.load_n, answer["load_N"])
        self.assertAlmostEqual(found.adjuster_n, answer["adjuster_N"])

    def test_bad_slopes_and_points_inside_the_tyre_in_words(self):
        self.assertContains(
            self.client.post(self.url("check/air/"), {"form": "under", "slopes": "drive"}), "drive 12", status_code=422
        )
        self.assertContains(
            self.client.post(self.url("check/air/"), {"form": "under", "lip_ahead_mm": "far"}), "far", status_code=422
        )
        self.client.post(
            self.url("check/air/"), {"form": "under", "lip_ahead_mm": "100", "lip_up_mm": "200", "slopes": "drive 5"}
        )
        page = self.page("check/air/")
        self.assertIn("inside the tyre", page.context["side_fault"])
        self.assertEqual(self.judged()["drive"].state, "unmeasured")

    def test_without_anything_nothing_is_clear(self):
        AirUnder.objects.filter(car=self.car).delete()
        self.assertEqual({one.state for one in self.judged().values()}, {"unmeasured"})
