"""The bench at rest: address, fragment, pinning, refusals."""

from garage.car.parts import Wheel
from shell.tests.base import ScenarioCase


class Bench(ScenarioCase):
    def test_the_address_holds_the_state(self):
        page = self.page("check/FL/?width=8.5&offset=31&spacer=3&drop=25&camber=-2.1&tyre=235/45R17&school=show")
        values = page.context["form"].cleaned_data
        self.assertEqual(
            (values["width"], values["offset"], values["spacer"], values["drop"], values["camber"], values["tyre"]),
            (8.5, 31, 3, 25, -2.1, "235/45R17"),
        )
        self.assertEqual(page.context["setting"].school, "show")
        self.assertContains(page, "17×8.5 +31, 235/45R17")

    def test_htmx_gets_drawing_and_gaps_without_the_shell(self):
        fragment = self.client.get(self.url("check/FL/?offset=38"), headers={"HX-Request": "true"})
        self.assertContains(fragment, "Gaps, tightest first")
        self.assertContains(fragment, "Section through the axle")
        self.assertNotContains(fragment, "Tally board")

    def test_offset_moves_the_gap_one_for_one(self):
        def damper(offset):
            gaps = self.page(f"check/FL/?offset={offset}&drop=0&camber=0").context["gaps"]
            return next(j.reads for j in gaps if j.code == "gap.damper")

        self.assertAlmostEqual(damper(35) - damper(45), 10.0, places=6)

    def test_refused_values_are_kept_and_the_last_good_drawing_stays(self):
        page = self.page("check/FL/?width=99&tyre=hello", status=422)
        self.assertContains(page, 'value="hello"', status_code=422)
        self.assertContains(page, "is not a tyre size", status_code=422)
        self.assertContains(page, "Section through the axle", status_code=422)
        wrong = self.page("check/FL/?tyre=225/40R18", status=422)
        self.assertContains(wrong, "does not go on", status_code=422)

    def test_a_tyre_of_another_rim_is_told_beside_it_and_nothing_typed_is_thrown_away(self):
        typed = "diameter=17&width=8.5&offset=33&tyre=205/55R16&drop=12"
        answer = self.client.get(self.url(f"check/FL/?{typed}"))
        self.assertEqual(answer.status_code, 422)
        self.assertContains(answer, "A 16 in tyre does not go on a 17 in wheel; drawn on a 16 in one.", status_code=422)
        form, drawn = answer.context["form"], answer.context["setting"].candidate.fitted
        self.assertEqual(
            [form[name].value() for name in ("diameter", "width", "offset", "tyre")], ["17", "8.5", "33", "205/55R16"]
        )
        self.assertEqual((drawn.wheel.diameter_in, drawn.wheel.width_in, drawn.wheel.offset_mm), (16.0, 8.5, 33.0))
        self.assertEqual(
            (drawn.tyre.size, answer.context["setting"].candidate.levers.ride_drop_mm), ("205/55R16", 12.0)
        )

    def test_all_corners_open(self):
        for corner in ("FL", "FR", "RL", "RR"):
            self.assertContains(self.page(f"check/{corner}/"), "seen from behind")
        self.assertEqual(self.client.get(self.url("check/")).status_code, 302)

    def test_picking_a_listed_wheel(self):
        wheel = Wheel.objects.get(name="Brack Eight")
        page = self.page(f"check/FR/?pick={wheel.pk}")
        self.assertEqual(page.context["form"].cleaned_data["offset"], 55)
        self.assertEqual(page.context["form"].cleaned_data["diameter"], 18)
        self.assertIn("hit", {j.state for j in page.context["gaps"]})
        self.assertContains(page, "What would clear it")

    def test_pin(self):
        data = {
            "diameter": "17",
            "width": "8",
            "offset": "43",
            "spacer": "0",
            "tyre": "225/45R17 91W",
            "drop": "20",
            "camber": "-1.8",
            "school": "track",
        }
        self.client.post(self.url("check/FL/pin/"), data)
        pinned = Wheel.objects.get(pinned=True)
        self.assertEqual((pinned.width_in, pinned.offset_mm), (8, 43))
        self.assertEqual(self.client.post(self.url("check/FL/pin/"), {**data, "offset": "x"}).status_code, 302)
        self.assertEqual(Wheel.objects.filter(pinned=True).count(), 1)

    def test_before_anything_stands_on_the_car(self):
        from garage.car.services import add_car

        bare = add_car(self.user, {"nickname": "bare"})
        for rest in ("check/FL/", "measure/", "choose/", "plan/", "fit/", "prove/", "open/", ""):
            self.assertEqual(self.client.get(f"/car/{bare.pk}/{rest}").status_code, 200, rest)

    def test_what_is_out_of_all_reason_is_refused_and_shown_again(self):
        for drop in ("1e200", "-1e200 in", "9" * 80):
            page = self.page(f"check/RR/?drop={drop}&width=½", 422)
            self.assertContains(page, "Out of range", status_code=422)
        self.assertContains(self.page("check/RR/?drop=1e200", 422), 'value="1e+200"', status_code=422)
