"""Parts of every family on their pages: pasted, judged, edited, pinned, duplicated, taken off; quotes, the stand-in.

Tables.
"""

from datetime import timedelta

from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test.utils import CaptureQueriesContext
from django.utils import timezone

from garage.car.models import Axle
from garage.car.parts import Part, Wheel
from gauges import supplier
from planner.models import Build
from rimcore.families import FAMILIES, PAIRED
from rimcore.lines import parse_line
from shelf.models import Quote
from shelf.services import add_line, ask_stand_in, look_for_answers
from shell.models import Change
from shell.tests.base import ScenarioCase, read_anew
from shell.undo import undo


class Pasted(ScenarioCase):
    def paste(self, family, line, **more):
        return self.client.post(self.url(f"choose/parts/{family}/"), {"line": line, **more}, follow=True)

    def test_every_family_takes_its_own_example(self):
        for key, family in FAMILIES.items():
            if key in PAIRED:
                continue
            with self.subTest(key):
                before = Part.objects.filter(family=key).count()
                page = self.paste(key, family.example)
                self.assertEqual(page.status_code, 200)
                self.assertEqual(Part.objects.filter(family=key).count(), before + 1)
                self.assertEqual(page.redirect_chain[-1][0], self.url(f"choose/parts/{key}/"))

    def test_a_line_of_another_family_goes_to_its_own_list(self):
        page = self.paste("ring", "studs M12x1.5 45 mm 10.9, set of 20, 58")
        self.assertEqual(page.redirect_chain[-1][0], self.url("choose/parts/stud/"))

    def test_what_was_not_understood_is_said_and_kept(self):
        page = self.paste("ring", "63.4 → 72.6, 7x9q, 6.00")
        self.assertContains(page, "Not understood, kept in its note: 7x9q")
        self.assertIn("7x9q", Part.objects.filter(family="ring").last().note)

    def test_refused_and_the_line_stays(self):
        page = self.client.post(self.url("choose/parts/ring/"), {"line": "72.6 → 63.4"})
        self.assertContains(page, "more than the inner", status_code=422)
        self.assertContains(page, "72.6 → 63.4", status_code=422)

    def test_no_such_family(self):
        for family in ("hat", "wheel", "tyre"):
            self.assertEqual(self.client.get(self.url(f"choose/parts/{family}/")).status_code, 404)

    def test_judged_on_this_car(self):
        page = self.paste("ring", "63.4 → 73.1 hollow, 3")
        row = page.context["rows"][-1]
        self.assertEqual(row.state, "hit")
        self.assertEqual({j.code: j.state for j in row.judgements}["part.ring.build"], "tight")

    def test_each_end_with_its_own_hub(self):
        Axle.objects.filter(car=self.car, end="R").update(thread="M14x1.5")
        row = self.paste("nut", "nuts M12x1.5 cone 60 class 10, set of 20").context["rows"][-1]
        said = {j.where: j.state for j in row.judgements if j.code == "part.thread"}
        self.assertEqual(said, {"front axle": "clear", "rear axle": "hit"})


class Kept(ScenarioCase):
    def setUp(self):
        super().setUp()
        self.part = add_line(
            self.car, self.user, parse_line("spacer 15 mm slip-on 5x108 63.4 → 63.4, 0.9 kg, 34, 1 week, Yard")
        )

    def do(self, what):
        return self.client.post(self.url(f"choose/part/{self.part.pk}/{what}/"), follow=True)

    def test_edited_by_its_declaration(self):
        page = self.client.get(self.url(f"choose/part/{self.part.pk}/"))
        self.assertEqual({spec.code for spec in FAMILIES["spacer"].specs} - set(page.context["form"].fields), set())
        form = {
            "what": "part",
            "name": "Fifteen",
            "thickness_mm": "5/8 in",
            "kind": "bolted",
            "bolts": "5",
            "pcd_mm": "108",
            "hub_bore_mm": "",
            "seen": "",
        }
        self.client.post(self.url(f"choose/part/{self.part.pk}/"), form)
        self.part.refresh_from_db()
        self.assertAlmostEqual(self.part.spec["thickness_mm"], 15.875)
        self.assertEqual((self.part.name, self.part.spec["kind"]), ("Fifteen", "bolted"))
        self.assertNotIn("hub_bore_mm", self.part.spec)

    def test_refused_edits_stay(self):
        for said, words in (
            ({"thickness_mm": ""}, "required"),
            ({"thickness_mm": "900"}, "Out of range"),
            ({"thread": "M99"}, "not a thread"),
            ({"bolts": "99"}, "Out of range"),
            ({"kind": "glued"}, "valid choice"),
        ):
            answer = self.client.post(
                self.url(f"choose/part/{self.part.pk}/"), {"what": "part", "name": "x", "thickness_mm": "15", **said}
            )
            self.assertContains(answer, words, status_code=422)
        ring = add_line(self.car, self.user, parse_line("ring 63.4 → 72.6"))
        answer = self.client.post(
            self.url(f"choose/part/{ring.pk}/"), {"what": "part", "name": "x", "inner_mm": "80", "outer_mm": "72.6"}
        )
        self.assertContains(answer, "more than the inner", status_code=422)

    def test_duplicate_pin_remove_and_back(self):
        self.do("duplicate")
        copy = Part.objects.filter(family="spacer").last()
        self.assertEqual((copy.spec, copy.quotes.count()), (self.part.spec, 0))
        self.do("pin")
        rows = self.page("choose/parts/spacer/").context["rows"]
        self.assertEqual(rows[0].part.pk, self.part.pk)
        self.do("remove")
        self.assertFalse(Part.objects.filter(pk=self.part.pk).exists())
        undo(self.user, Change.objects.first().pk)
        self.assertTrue(Part.objects.filter(pk=self.part.pk).exists())
        self.assertEqual(self.do("eat").status_code, 404)

    def test_wheels_and_tyres_too(self):
        wheel = Wheel.objects.filter(car=self.car).last()
        self.client.post(self.url(f"choose/part/{wheel.pk}/pin/"))
        self.assertEqual(self.page("choose/").context["wheels"][0].pk, wheel.pk)
        answer = self.client.post(self.url(f"choose/part/{wheel.pk}/duplicate/"), follow=True)
        copy = Wheel.objects.filter(car=self.car).last()
        self.assertEqual((copy.size, copy.pinned), (wheel.size, False))
        self.assertEqual(answer.redirect_chain[-1][0], self.url(f"choose/wheel/{copy.pk}/"))

    def test_stars_are_kept_and_left_out_they_stay(self):
        ring = Part.objects.filter(car=self.car, family="ring", listed=True).first()
        address = self.url(f"choose/part/{ring.pk}/")
        said = {"what": "part", "name": ring.name, "seen": ""}
        said |= {name: value for name, value in ring.spec.items() if value is not None}
        for stars, kept in (("3", 3), (None, 3), ("0", 0)):
            self.client.post(address, said | ({} if stars is None else {"stars": stars}))
            self.assertEqual(Part.objects.get(pk=ring.pk).stars, kept)
        wrong = self.client.post(address, said | {"stars": "9"})
        self.assertEqual(wrong.status_code, 422)
        self.assertEqual(Part.objects.get(pk=ring.pk).stars, 0)

    def test_one_in_a_build_stays(self):
        ring = Part.objects.filter(car=self.car, family="ring").first()
        page = self.client.post(self.url(f"choose/part/{ring.pk}/remove/"), follow=True)
        self.assertContains(page, "take it out there first")

    @read_anew
    def test_a_constant_number_of_queries_whatever_the_length(self):
        with CaptureQueriesContext(connection) as few:
            self.page("choose/parts/spacer/")
        for k in range(30):
            add_line(self.car, self.user, parse_line(f"spacer {5 + k} mm, 3{k}, Yard"))
        with CaptureQueriesContext(connection) as many:
            self.page("choose/parts/spacer/")
        self.assertEqual(len(few), len(many))

    def test_a_row_that_its_family_does_not_take_is_told_and_breaks_nothing(self):
        Part.objects.filter(pk=self.part.pk).update(spec={"thickness_mm": "thick"})
        for rest in ("choose/parts/spacer/", f"choose/part/{self.part.pk}/", "plan/", "choose/"):
            self.assertContains(self.page(rest), "thickness is out of range")

    def test_the_choices_page_of_wheels_shows_every_family(self):
        self.assertEqual(
            sorted(key for group in self.page("choose/").context["families"] for key in group.keys),
            sorted(key for key in FAMILIES if key not in PAIRED),
        )


class Quotes(ScenarioCase):
    def setUp(self):
        super().setUp()
        self.part = add_line(self.car, self.user, parse_line("ring 63.4 → 72.6, 6.00, 4 days, Yard"))
        self.address = self.url(f"choose/part/{self.part.pk}/quotes/")

    def note(self, **said):
        form = {
            "what": "quote",
            "supplier": "Harrow",
            "price_minor": "5.50",
            "lead_days": "9",
            "answer": "offered",
            "asked_on": timezone.localdate().isoformat(),
            "good_days": "14",
        }
        return self.client.post(self.address, {**form, **said})

    def test_the_line_is_the_first_quote(self):
        quote = self.part.quotes.get()
        self.assertEqual((quote.supplier, quote.price_minor, quote.taken), ("Yard", 600, True))

    def test_noted_and_taken(self):
        self.note()
        cheaper = self.part.quotes.get(supplier="Harrow")
        page = self.client.get(self.address)
        self.assertEqual(
            page.context["best"],
            {cheaper.pk, self.part.quotes.get(supplier="Yard").pk},
            "one is cheaper, the other sooner",
        )
        self.client.post(self.address, {"what": "take", "quote": cheaper.pk})
        self.part.refresh_from_db()
        self.assertEqual((self.part.price_minor, self.part.lead_days, self.part.supplier), (550, 9, "Harrow"))
        self.assertEqual(self.part.quotes.filter(taken=True).count(), 1)

    def test_only_an_offer_can_be_taken(self):
        self.note(answer="out_of_stock", price_minor="")
        quote = self.part.quotes.get(supplier="Harrow")
        self.assertContains(
            self.client.post(self.address, {"what": "take", "quote": quote.pk}, follow=True),
            "out of stock; only an offer",
        )
        self.client.post(self.address, {"what": "remove", "quote": quote.pk})
        self.assertFalse(self.part.quotes.filter(pk=quote.pk).exists())

    def test_refused(self):
        for said, words in (
            ({"price_minor": ""}, "An offer has a price"),
            ({"answer": "wrong_variant"}, "offered instead"),
            ({"lead_days": "-2"}, "greater than"),
            ({"supplier": ""}, "required"),
            ({"answer": "waiting"}, "valid choice"),
        ):
            self.assertContains(self.note(**said), words, status_code=422)
        self.assertEqual(self.client.post(self.address, {"what": "take", "quote": "999999"}).status_code, 404)
        self.assertEqual(self.client.post(self.address, {"what": "take", "quote": "x"}).status_code, 404)

    def test_stale_after_its_days(self):
        self.part.quotes.update(asked_on=timezone.localdate() - timedelta(days=31))
        self.assertContains(self.page("choose/parts/ring/"), "stale")
        old = self.part.quotes.get()
        Quote.objects.filter(pk=old.pk).update(taken=False)
        self.assertContains(
            self.client.post(self.address, {"what": "take", "quote": old.pk}, follow=True), "ask again before you order"
        )

    def test_the_stand_in_answers_after_a_while_and_is_named(self):
        self.assertContains(self.client.post(self.address, {"what": "ask"}, follow=True), supplier.NAME)
        quote = self.part.quotes.get(simulated=True)
        self.assertEqual(quote.answer, "waiting")
        self.assertEqual(look_for_answers(self.part, self.user, quote.answers_at - timedelta(seconds=1)), 0)
        self.assertEqual(look_for_answers(self.part, self.user, quote.answers_at + timedelta(minutes=3)), 1)
        quote.refresh_from_db()
        self.assertNotEqual(quote.answer, "waiting")

    def test_every_kind_of_answer_comes_in_time(self):
        kinds = set()
        for _ in range(60):
            quote = ask_stand_in(self.part, self.user)
            look_for_answers(self.part, self.user, quote.answers_at + timedelta(minutes=3))
            quote.refresh_from_db()
            kinds.add(quote.answer)
            if quote.answer == "wrong_variant":
                self.assertTrue(quote.variant)
        self.assertLessEqual({"offered", "out_of_stock", "wrong_variant"}, kinds)

    def test_wheels_have_quotes_too(self):
        wheel = Wheel.objects.filter(car=self.car).first()
        self.assertContains(self.page(f"choose/part/{wheel.pk}/quotes/"), "Quotes for")
        self.assertRedirects(
            self.client.get(self.url(f"choose/part/{wheel.pk}/")), self.url(f"choose/wheel/{wheel.pk}/")
        )


class Tables(ScenarioCase):
    def upload(self, text, family=""):
        return self.client.post(
            self.url("choose/table/"),
            {"upload": "1", "family": family, "file": SimpleUploadedFile("l.csv", text.encode())},
        )

    def test_rows_of_one_family(self):
        shown = self.upload(
            "thread,length,property class,pieces,price,shade\nM12x1.5,45,10.9,20,58,blue\nM12x1.5,,10.9,20,58,\n",
            "stud",
        )
        self.assertContains(shown, "1 understood, 1 refused")
        self.assertContains(shown, "shade: blue")
        self.client.post(self.url("choose/table/"), {"import": "1"})
        part = Part.objects.filter(family="stud").last()
        self.assertEqual((part.spec["length_mm"], part.price_minor), (45.0, 5800))
        self.assertIn("shade: blue", part.note)

    def test_a_mixed_table(self):
        shown = self.upload("family,inner,outer,size,price\nring,63.4,72.6,,6\n,,,225/45R17 94W,100\nhat,1,2,,3\n")
        self.assertContains(shown, "2 understood, 1 refused")

    def test_lines_of_a_family_without_a_header(self):
        self.assertContains(self.upload("5 mm, 20\n10 mm, 24\nnothing here\n", "spacer"), "2 understood, 1 refused")


class Strangers(ScenarioCase):
    def test_a_part_of_somebody_else(self):
        part = Part.objects.filter(car=self.car, family="ring").first()
        other = self.person()
        from garage.car.services import add_car

        mine = add_car(other, {"nickname": "mine"})
        self.client.force_login(other)
        for rest in (f"choose/part/{part.pk}/", f"choose/part/{part.pk}/quotes/", f"plan/put/{part.pk}/"):
            self.assertEqual(self.client.get(f"/car/{mine.pk}/{rest}").status_code, 404)
        self.assertEqual(self.client.post(f"/car/{mine.pk}/choose/part/{part.pk}/remove/").status_code, 404)
        self.assertTrue(Build.objects.filter(choices__part=part).exists())
