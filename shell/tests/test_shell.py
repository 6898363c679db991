"""Figures, fields that read the tape, icons with words, theme and error pages."""

from types import SimpleNamespace

from django import forms
from django.contrib.auth.models import User
from django.http import HttpResponse
from django.template import Context, Template
from django.test import RequestFactory, SimpleTestCase, TestCase

from rimcore.quantities.judgement import Judgement
from shell import figures
from shell.forms import CoreTextField, MoneyField, QuantityField
from shell.models import Change
from shell.tests.base import ScenarioCase
from shell.undo import CannotUndo, undo

METRIC = SimpleNamespace(
    length_unit="mm",
    offset_unit="mm",
    mass_unit="kg",
    torque_unit="N·m",
    pressure_unit="bar",
    speed_unit="km/h",
    distance_unit="km",
)
MIXED = SimpleNamespace(
    length_unit="in",
    offset_unit="mm",
    mass_unit="lb",
    torque_unit="lbf·ft",
    pressure_unit="psi",
    speed_unit="mph",
    distance_unit="mi",
)


class Figures(SimpleTestCase):
    def test_in_the_persons_units(self):
        cases = [
            (17.4625, "length", METRIC, ("17.5", "mm")),
            (17.4625, "length", MIXED, ("0.688", "in")),
            (2560.0, "length", METRIC, ("2\u2009560", "mm")),
            (-31.4, "mass", METRIC, ("−31.4", "kg")),
            (-31.4, "mass", MIXED, ("−69.2", "lb")),
            (110.0, "torque", MIXED, ("81", "lbf·ft")),
            (230.0, "pressure", METRIC, ("2.30", "bar")),
            (100.4, "speed", METRIC, ("100.4", "km/h")),
            (-1.8, "angle", METRIC, ("−1.8", "°")),
            (800.0, "distance", MIXED, ("497", "mi")),
            (None, "length", METRIC, ("–", "mm")),
        ]
        for value, kind, person, expected in cases:
            with self.subTest(value=value, kind=kind):
                self.assertEqual(figures.figure(value, kind, person), expected)

    def test_signs_and_zero(self):
        self.assertEqual(figures.number(0.04, 1, sign=True), "0.0")
        self.assertEqual(figures.number(-0.04, 1), "0.0")
        self.assertEqual(figures.number(3.0, 1, sign=True), "+3.0")

    def test_money(self):
        self.assertEqual(figures.amount(31000, "EUR"), "310 EUR")
        self.assertEqual(figures.amount(31050), "310.50")
        self.assertEqual(figures.amount(None), "–")
        self.assertEqual(figures.whole(258050), "2\u2009580")


class Typed(forms.Form):
    gap = QuantityField("length", 0, 2000)
    torque = QuantityField("torque", 1, 1000, required=False)
    price = MoneyField(required=False)
    word = CoreTextField(lambda text: None, required=False)


class Fields(SimpleTestCase):
    def test_reads_what_is_on_the_tape(self):
        form = Typed({"gap": "11/16 in", "torque": "80 ft-lb", "price": "1 310,50"})
        self.assertTrue(form.is_valid(), form.errors)
        self.assertEqual((form.cleaned_data["gap"], form.cleaned_data["price"]), (17.4625, 131050))
        self.assertAlmostEqual(form.cleaned_data["torque"], 108.465, places=3)

    def test_refuses_in_words_and_keeps_the_typing(self):
        for typed, words in (
            ("nine", "accepted"),
            ("-3", "Out of range; accepted: 0 mm to 2000 mm"),
            ("1/0", "below the line"),
            ("5 kg", "unit of mass"),
        ):
            form = Typed({"gap": typed})
            self.assertFalse(form.is_valid())
            self.assertIn(words, str(form.errors["gap"]))
            self.assertIn(f'value="{typed}"', str(form["gap"]))
        for price in ("much", "-3", "1e400", "9" * 30, "1,310", "310.555"):
            self.assertIn("price", Typed({"gap": "1", "price": price}).errors)

    def test_shows_a_kept_value_with_its_unit(self):
        self.assertIn('value="17.4625 mm"', str(Typed(initial={"gap": 17.4625})["gap"]))
        self.assertIn('value="310.50"', str(Typed(initial={"price": 31050})["price"]))


class Tags(SimpleTestCase):
    def render(self, text, **context):
        return Template(text).render(Context({"request": RequestFactory().get("/"), **context}))

    def test_every_state_has_shape_and_word(self):
        shapes = set()
        for state in ("clear", "tight", "hit", "unmeasured"):
            html = self.render("{% state_icon s %}", s=state)
            self.assertIn(f">{state}</span>", html)
            shapes.add(html.split("<svg")[1].split("</svg>")[0])
        self.assertEqual(len(shapes), 4)
        self.assertEqual(self.render("{% state_icon s %}", s="nonsense"), "")

    def test_known_says_formula_basis_and_inputs(self):
        judged = Judgement(
            "gap.damper",
            "Damper",
            "tight",
            "wants 5 mm",
            "the user's own measurement",
            value=3.8,
            unit="mm",
            held_against=5.0,
            margin=-1.2,
            before=9.1,
            formula="a less b",
        )
        html = self.render("{% known j %}{% known j %}", j=judged)
        for words in ("9.1 → 3.8", "Held against", "margin −1.2", "a less b", "own measurement", "known-1", "known-2"):
            self.assertIn(words, html)

    def test_text_is_escaped(self):
        judged = Judgement("g", "<b>x</b>", "tight", "<script>", "")
        self.assertNotIn("<script>", self.render("{% known j %}", j=judged))


class Pages(TestCase):
    def test_theme_is_kept_and_goes_back_only_to_our_own(self):
        answer = self.client.post("/theme/", {"theme": "dark", "next": "https://elsewhere.example/"})
        self.assertEqual((answer.status_code, answer.headers["Location"]), (302, "/"))
        self.assertContains(self.client.get("/sign-in/"), 'data-theme="dark"')
        self.client.post("/theme/", {"theme": "<script>"})
        self.assertContains(self.client.get("/sign-in/"), 'data-theme="dark"')

    def test_an_odd_way_back_leads_home(self):
        """A number is no address of ours, and no name of one either."""
        for odd in ("9223372036854775808", "-0", "½", "garage", "//elsewhere.example/", "javascript:alert(1)"):
            self.assertEqual(self.client.post("/theme/", {"theme": "dark", "next": odd}).headers["Location"], "/", odd)
        self.client.force_login(User.objects.create_user("ina"))
        for odd in ("9223372036854775808", "None", "2"):
            self.assertEqual(self.client.post("/undo/316/", {"next": odd}).headers["Location"], "/", odd)
        self.assertEqual(self.client.post("/undo/316/", {"next": "/settings/"}).headers["Location"], "/settings/")

    def test_a_change_that_knows_other_columns_cant_be_undone_and_says_so(self):
        user = User.objects.create_user("ina")
        row = {"model": "garage.car", "pk": 1, "fields": {"no_such_column": 1}}
        for operation in ({"kind": "was", "row": row}, {"kind": "made", "model": "garage.nothing", "pk": 1}):
            change = Change.objects.create(user=user, label="old", operations=[operation])
            with self.assertRaises(CannotUndo):
                undo(user, change.pk)

    def test_not_found_in_our_words(self):
        self.client.force_login(User.objects.create_user("ina"))
        self.assertContains(self.client.get("/nowhere/"), "Not found", status_code=404)


class Around(ScenarioCase):
    def test_head_has_no_body_and_pages_are_kept_nowhere(self):
        answer = self.client.get(self.url("plan/"))
        self.assertEqual(answer.headers["Cache-Control"], "private, no-store")
        from shell.middleware import Bodiless

        bare = Bodiless(lambda request: HttpResponse(b"x" * 50))(RequestFactory().head("/"))
        self.assertEqual((bare.content, bare.headers["Content-Length"]), (b"", "50"))

    def test_nested_brackets_in_what_a_form_says_it_showed_are_nothing(self):
        sent = {"what": "odometer", "odometer-odometer_km": "142500 km", "odometer-seen": "[" * 15_000}
        self.assertEqual(self.client.post(self.url(""), sent).status_code, 302)
        self.assertEqual(self.client.post(self.url(""), sent | {"odometer-seen": "[" * 100_000}).status_code, 302)
