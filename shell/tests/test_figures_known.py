"""The card behind a figure, and pictures that are kept."""

import io

from django.template import Context, Template
from django.test import RequestFactory, SimpleTestCase
from PIL import Image

from rimcore.quantities.errors import BadInput
from rimcore.quantities.judgement import InputUsed, Judgement
from shell.pictures import LONGEST_PX, MOST_BYTES, clean_picture


class Known(SimpleTestCase):
    def shown(self, judgement, text=""):
        context = Context({"j": judgement, "text": text, "request": RequestFactory().get("/")})
        return Template("{% load tally %}{% known j text %}").render(context)

    def test_figure_margin_formula_basis_inputs_and_remedy_stand_on_the_card(self):
        one = Judgement(
            "gap.damper",
            "Damper",
            "tight",
            "wants 5 mm",
            "own measurement",
            value=4.2,
            unit="mm",
            held_against=5.0,
            margin=-0.8,
            before=9.0,
            uncertainty=1.5,
            formula="9 − 4.8",
            inputs=(InputUsed("Damper at 262 mm", "9 mm ± 1", "rule, Ina", "12 Sep 2026"),),
            remedies=("less width",),
            where="front left",
        )
        html = self.shown(one)
        for words in (
            "9 → 4.2 mm ± 1.5",
            "5.0 mm; margin −0.8 mm",
            "9 − 4.8",
            "own measurement",
            "9 mm ± 1; rule, Ina; 12 Sep 2026",
            "less width",
            "Wants 5 mm.",
        ):
            self.assertIn(words, html)
        self.assertIn("Damper, front left", html)

    def test_what_people_typed_is_text_and_no_markup(self):
        one = Judgement(
            "gap.x",
            "<b>lip</b>",
            "unmeasured",
            "<i>why</i>",
            "not measured",
            inputs=(InputUsed("<u>", "<script>", "<em>", "<p>"),),
        )
        html = self.shown(one, "<img>")
        for markup in ("<b>", "<i>", "<u>", "<script>", "<em>", "<img>"):
            self.assertNotIn(markup, html)
        self.assertIn("&lt;script&gt;; &lt;em&gt;; &lt;p&gt;", html)

    def test_a_sum_is_not_called_clear(self):
        said = {
            code: self.shown(Judgement(code, "Weight", "clear", "two weights not known", "sum", value=3.0, unit="kg"))
            for code in ("sum", "mass.total", "gap.x")
        }
        self.assertEqual(
            {code: "st-clear" in html for code, html in said.items()},
            {"sum": False, "mass.total": False, "gap.x": True},
        )

    def test_nothing_known_shows_no_empty_rows(self):
        html = self.shown(Judgement("gap.x", "Lip", "unmeasured", "not measured", "not measured"), "–")
        self.assertEqual(html.count("<dt>"), 1)
        self.assertIn("<dt>Basis</dt><dd>not measured</dd>", html)


class Pictures(SimpleTestCase):
    def raw(self, size=(40, 30), kind="PNG", **more):
        stored = io.BytesIO()
        Image.new("RGB", size, "#336699").save(stored, kind, **more)
        return stored.getvalue()

    def test_every_kind_becomes_a_jpeg_of_at_most_our_size(self):
        for kind in ("PNG", "JPEG", "WEBP"):
            jpeg, size = clean_picture(self.raw((2400, 1200), kind))
            with Image.open(io.BytesIO(jpeg)) as kept:
                self.assertEqual((kept.format, kept.size), ("JPEG", (LONGEST_PX, LONGEST_PX // 2)))
            self.assertEqual(size, (LONGEST_PX, LONGEST_PX // 2))

    def test_turned_upright_by_what_the_camera_said(self):
        exif = Image.Exif()
        exif[0x0112] = 6
        _, size = clean_picture(self.raw((40, 30), "JPEG", exif=exif))
        self.assertEqual(size, (30, 40))

    def test_too_much_or_no_picture_is_refused(self):
        for raw, words in (
            (b"\0" * (MOST_BYTES + 1), "over 12 MB"),
            (b"GIF89a", "accepted: JPEG"),
            (self.raw()[:50], "accepted: JPEG"),
        ):
            with self.assertRaises(BadInput) as refused:
                clean_picture(raw)
            self.assertIn(words, refused.exception.message)
