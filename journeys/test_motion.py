"""The wheel well in motion: drag, keys, an offset from the windows, a remedy, a trial fit, paper, a traced card."""

import io
import re
import tempfile
from pathlib import Path

from PIL import Image
from playwright.sync_api import expect

from demo.pictures import card_picture, card_section
from garage.car.parts import Tyre
from garage.readings.models import Trial
from journeys.browser import Journey, click_in, missed, titled


class Motion(Journey):
    def bench(self, rest="check/FL/", page=None):
        page = self.sign_in(page)
        self.go(self.at(rest), page)
        return page

    def test_drag_on_the_map(self):
        page = self.bench("check/FL/?width=8&offset=40&drop=0&camber=-1.8")
        expect(page.locator("[data-pose]")).to_have_text("straight, at rest height")
        at_rest = page.locator("#bench-sheet svg path.candidate").first.get_attribute("d")
        box = page.locator("#well-map").bounding_box()
        page.mouse.move(box["x"] + box["width"] * 0.5, box["y"] + box["height"] * 0.6)
        page.mouse.down()
        for share in (0.6, 0.7, 0.8):
            page.mouse.move(box["x"] + box["width"] * share, box["y"] + box["height"] * 0.2, steps=3)
        expect(page.locator("[data-pose]")).to_have_text(re.compile(r"^\d+° out, bump \d+$"))
        page.mouse.up()
        page.wait_for_load_state("networkidle")
        expect(page).to_have_url(re.compile(r"steer=\d+.*travel=\d+"))
        self.assertNotEqual(page.locator("#bench-sheet svg path.candidate").first.get_attribute("d"), at_rest)
        expect(page.locator("#bench-sheet h2").first).to_contain_text("turned into the plane of the axle")
        # The drawing follows the last place of the mouse, also when answers come late.
        expect(page.locator(".htmx-request")).to_have_count(0)
        page.wait_for_timeout(600)
        page.wait_for_load_state("networkidle")
        seen = page.locator("[data-pose]").inner_text()
        page.mouse.move(box["x"] + 20, box["y"] + 20)
        page.reload()
        expect(page.locator("[data-pose]")).to_have_text(seen)
        page.get_by_role("button", name="Back to rest").click()
        expect(page.locator("[data-pose]")).to_have_text("straight, at rest height")

    def test_keys_and_sliders(self):
        page = self.bench("check/FL/?width=8&offset=40&drop=0&camber=-1.8")
        page.locator("#well-map").focus()
        for key, pose in (
            ("ArrowRight", "1° out, at rest height"),
            ("Shift+ArrowRight", "6° out, at rest height"),
            ("Shift+ArrowUp", "6° out, bump 5"),
        ):
            page.keyboard.press(key)
            expect(page.locator("[data-pose]")).to_have_text(pose)
            page.locator("#well-map").focus()
        page.locator("#bench-steer").focus()
        page.keyboard.press("Home")
        expect(page.locator("[data-pose]")).to_have_text("33° in, bump 5")
        page.get_by_role("button", name="Go to the tightest").click()
        worst = page.locator("#bench-sheet .pose-gaps b").first
        expect(worst).to_be_visible()
        expect(page.locator("[data-pose]")).not_to_have_text("33° in, bump 5")

    def test_take_an_offset_from_the_windows(self):
        page = self.bench("check/FL/?width=8&offset=40&drop=0&camber=-1.8")
        page.get_by_role("link", name="8 in, offset +47").click()
        expect(page.locator("#bench-offset")).to_have_value("47")
        expect(page.locator("#bench-sheet")).to_contain_text("solid 17×8 +47")
        expect(page.locator("#bench-windows svg").first).to_be_visible()

    def test_try_a_remedy(self):
        page = self.bench("check/FL/?diameter=17&width=8&offset=55&tyre=225/45R17 91W&drop=0&camber=-1.8")
        gaps = page.locator("#bench-rest section ul.rows").first
        self.assertGreater(gaps.locator(".fig.st-hit").count(), 0)
        page.get_by_role("link", name="Try it").first.click()
        expect(page.locator("#bench-sheet")).not_to_contain_text("solid 17×8 +55")
        self.assertEqual(gaps.locator(".fig.st-hit").count(), 0, gaps.inner_text())
        self.assertEqual(page.locator("#bench-lower .st-hit").count(), 0, "and nothing else forbids it")

    def test_a_trial_fit_changes_the_prediction(self):
        setting = "check/FL/?width=8&offset=40&tyre=225/45R17 91W&drop=0&camber=-1.8"
        page = self.bench(setting)
        known = page.get_by_role("button", name=re.compile(r"^Liner in front: "))
        before = known.first.inner_text()
        self.go(self.at("check/FL/trial/"))
        page.get_by_label("Wheel", exact=False).first.fill("17x8 +40")
        page.get_by_label("Tyre", exact=False).first.fill("225/45R17")
        page.get_by_label(titled("Gap, Liner in front")).fill("about a finger")
        page.get_by_role("button", name="Save the trial fit").click()
        expect(page.get_by_label(titled("Gap, Liner in front"))).to_have_value("about a finger")
        self.assertEqual(Trial.objects.filter(wheel="17x8 +40").count(), 0)
        page.get_by_label(titled("Gap, Liner in front")).fill("13/16 in")
        page.get_by_role("button", name="Save the trial fit").click()
        expect(page.locator("aside")).to_contain_text("gap read with a rule 20.6 mm")
        self.go(self.at(setting))
        self.assertNotEqual(known.first.inner_text(), before)
        self.go(self.at("prove/"))
        expect(page.locator("main")).to_contain_text("Liner in front")

    def test_a_rub_stands_on_the_map(self):
        page = self.bench("check/FL/trial/")
        marks = 1
        page.locator("#id_rub-code").select_option(label="Arch lip at 12 o'clock")
        page.locator("#id_rub-when").select_option(index=1)
        page.get_by_label("Steer, about").fill("10")
        page.get_by_label("Travel from where it stood, about").fill("30")
        page.get_by_role("button", name="Save the rub").click()
        page.wait_for_url("**/check/FL/")
        expect(page.locator("#well-map .map-rub")).to_have_count(marks + 1)
        expect(page.locator("main")).to_contain_text("Rubs seen")


class Paper(Journey):
    def test_the_section_prints_at_the_scale_it_states(self):
        page = self.sign_in()
        self.go(self.at("check/FL/?width=8&offset=40"))
        page.emulate_media(media="print")
        size = page.locator("#bench-scene svg").evaluate(
            "svg => { const r = svg.getBoundingClientRect(); return [r.width, svg.viewBox.baseVal.width]; }"
        )
        self.assertAlmostEqual(size[0], size[1], delta=0.5)
        expect(page.locator(".title-block")).to_contain_text("scale on paper")
        self.assertLessEqual(len(re.findall(rb"/Type\s*/Page[^s]", page.pdf(format="A4"))), 4)

    def test_template_prints_at_full_size_and_downloads(self):
        page = self.sign_in()
        self.go(self.at("check/FL/template/"))
        page.emulate_media(media="print")
        svg = page.locator("svg.template-svg")
        length = svg.evaluate("svg => { const r = svg.getBoundingClientRect(); return [r.width, r.height]; }")
        self.assertAlmostEqual(length[0] / 96 * 25.4, 210, delta=0.5)
        self.assertAlmostEqual(length[1] / 96 * 25.4, 297, delta=0.5)
        bar = svg.locator("path.t-bar").evaluate("line => { const r = line.getBoundingClientRect(); return r.width; }")
        self.assertAlmostEqual(bar / 96 * 25.4, 100.0, delta=0.5)
        self.assertGreater(self.ink(page), 500, "and there is something on the paper")
        self.assertEqual(len(re.findall(rb"/Type\s*/Page[^s]", page.pdf(prefer_css_page_size=True))), 1)
        page.emulate_media(media="screen")
        with page.expect_download() as waiting:
            page.get_by_role("link", name="Download, A4").click()
        text = Path(waiting.value.path()).read_text()
        self.assertIn('width="210.0mm"', text)
        self.assertIn("100 mm", text)

    def ink(self, page):
        """Dark pixels of what stands on the page."""
        with Image.open(io.BytesIO(page.screenshot())) as shot:
            return sum(shot.convert("L").histogram()[:100])

    def test_drawings_download(self):
        page = self.sign_in()
        self.go(self.at("check/FL/?width=8&offset=40"))
        for name, start in (("Drawing as SVG", "<svg"), ("as DXF, 1:1", "  0")):
            with page.expect_download() as waiting:
                page.get_by_role("link", name=name).click()
            self.assertTrue(Path(waiting.value.path()).read_text().startswith(start))


class Card(Journey):
    def test_trace_a_card_by_clicking(self):
        page = self.sign_in()
        tyre = Tyre.objects.get(car=self.car, spec__size__startswith="225/45R17")
        picture, pixels = card_picture(card_section("17x8 +40", tyre.size, 6.0), 205.0)
        self.go(self.at(f"choose/tyre/{tyre.pk}/"))
        page.get_by_role("link", name="Trace its outline from a card").click()
        with tempfile.NamedTemporaryFile(suffix=".txt") as wrong:
            wrong.write(b"no picture")
            wrong.flush()
            page.get_by_label("Picture of the card").set_input_files(wrong.name)
            page.get_by_role("button", name="Use this picture").click()
        expect(page.locator("main")).to_contain_text("accepted: JPEG, PNG or WebP")
        page.get_by_label("Picture of the card").set_input_files(
            {"name": "card.jpg", "mimeType": "image/jpeg", "buffer": picture}
        )
        page.get_by_role("button", name="Use this picture").click()
        card = page.locator("[data-card]")
        card.scroll_into_view_if_needed()
        expect(page.locator("[data-next]")).to_contain_text("inner end of the control bar")
        for x, y in pixels:
            click_in(page, card, x, y)
        self.assertEqual(missed(page, pixels), [])
        expect(page.locator("[data-next]")).to_contain_text(f"{len(pixels) - 2} so far")
        page.get_by_role("button", name="Take the last point back").click()
        expect(page.locator("[data-next]")).to_contain_text(f"{len(pixels) - 3} so far")
        page.get_by_label("Length of the control bar").fill("205")
        page.get_by_label("Width of the rim").fill("8")
        page.get_by_role("button", name="Save the outline").click()
        expect(page.locator("main")).to_contain_text("The traced outline is kept")
        tyre.refresh_from_db()
        self.assertEqual(len(tyre.profile), len(pixels) - 3)
        expect(page.locator("aside")).to_contain_text("Section width")
