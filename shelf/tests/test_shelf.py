"""Shortlists: pasted lines, CSV, filters, and what can't be taken off."""

import csv
import io
import zipfile
from unittest.mock import patch

from django.core.files.uploadedfile import SimpleUploadedFile
from openpyxl import Workbook

from garage.car.models import Car
from garage.car.parts import Tyre, Wheel
from garage.file import open_file
from garage.inhand import in_hand
from garage.person.models import Preferences
from shelf.judging import judge_pair
from shelf.order import ROUGH_MM, ordered
from shelf.queries import AT_ONCE, listed_of
from shell.tests.base import ScenarioCase

CSV = """wheel,mass,price,lead time,supplier
17x7 +48 5x108 63.4,8.8 kg,150,2 weeks,Tip Street Yard
17x7.5 5x108,9 kg,160,1 week,no offset
225/45R17 94W,9.4,101.50,5,Nook Lane Wheels
rubbish,1,2,3,4
17x8 +35 5x108 63.4,8 kg,soon,1 week,bad price
"""


class Pasting(ScenarioCase):
    def test_a_line_is_understood_and_judged_at_once(self):
        response = self.client.post(
            self.url("choose/"),
            {
                "line": "17x7.5 +47 5x108 63.4, 18 lb 8 oz, 199.90, 6 weeks, Nook Lane Wheels, https://nook.example/x",
                "name": "Fenn",
            },
            follow=True,
        )
        wheel = Wheel.objects.get(name="Fenn")
        self.assertAlmostEqual(wheel.mass_kg, 8.39, places=2)
        self.assertEqual(
            (wheel.price_minor, wheel.lead_days, wheel.supplier, wheel.link),
            (19990, 42, "Nook Lane Wheels", "https://nook.example/x"),
        )
        self.assertContains(response, "17×7.5 +47")

    def test_refused_lines_stay(self):
        for line, words in (
            ("17x7.5 5x108", "offset is missing"),
            ("gold rims", "read"),
            ("17x7.5 +47, 8 kg, 9 kg", "said twice"),
        ):
            response = self.client.post(self.url("choose/"), {"line": line})
            self.assertContains(response, line, status_code=422)
            self.assertContains(response, words, status_code=422)


class Tables(ScenarioCase):
    def upload(self, content, name="list.csv"):
        raw = content if isinstance(content, bytes) else content.encode()
        return self.client.post(self.url("choose/table/"), {"upload": "1", "file": SimpleUploadedFile(name, raw)})

    def test_preview_rejects_row_by_row_and_imports_the_rest_on_request(self):
        wheels, tyres = Wheel.objects.count(), Tyre.objects.count()
        shown = self.upload(CSV)
        self.assertContains(shown, "2 understood, 3 refused")
        self.assertContains(shown, "offset is missing")
        self.assertEqual((Wheel.objects.count(), Tyre.objects.count()), (wheels, tyres))
        self.client.post(self.url("choose/table/"), {"import": "1"})
        self.assertEqual((Wheel.objects.count(), Tyre.objects.count()), (wheels + 1, tyres + 1))
        gone = self.client.post(self.url("choose/table/"), {"import": "1"}, follow=True)
        self.assertContains(gone, "choose the file again")
        self.assertEqual(Wheel.objects.count(), wheels + 1)

    def test_without_a_header_each_line_is_a_candidate(self):
        shown = self.upload("17x7 +48 5x108 63.4, 8.8 kg, 150, 2 weeks\n225/45R17 94W, 9.4 kg, 100\n")
        self.assertContains(shown, "2 understood, 0 refused")

    def test_semicolons(self):
        self.assertContains(self.upload("size;price\n225/45R17 94W;101,50\n"), "1 understood, 0 refused")

    def test_columns_of_any_names_are_matched_on_the_page_and_changed_there(self):
        wheels = Wheel.objects.count()
        text = "Felge;How heavy (lb);Asking;Where it lies\n17x7 +48 5x108 63.4;20;150;shed\n17x8 +40 5x108 63.4;21;160;attic\n"
        shown = self.upload(text)
        self.assertContains(shown, "What the columns are")
        self.assertEqual([one.taken for one, *_ in shown.context["columns"]], ["", "", "price", ""])
        self.assertContains(shown, "0 understood, 2 refused")
        said = {"taken": ["spec", "mass", "price", "-"]}
        shown = self.client.post(self.url("choose/table/"), said)
        self.assertContains(shown, "2 understood, 0 refused")
        self.assertNotContains(shown, "Not understood")
        self.client.post(self.url("choose/table/"), {"import": "1"})
        self.assertEqual(Wheel.objects.count(), wheels + 2)
        heavy = Wheel.objects.order_by("-pk")[0]
        self.assertAlmostEqual(heavy.mass_kg, 21 * 0.45359237, 3)

    def test_a_column_headed_by_its_unit_alone_keeps_it_when_it_is_said_again(self):
        shown = self.upload("size,lb\n225/45R17 94W,20\n")
        self.assertEqual(
            [(one.taken, one.unit) for one, *_ in shown.context["columns"]], [("spec", ""), ("mass", "lb")]
        )
        again = self.client.post(self.url("choose/table/"), {"taken": ["spec", "mass"]})
        self.assertAlmostEqual(again.context["rows"][0].said.mass_kg, 20 * 0.45359237, 4)

    def test_bare_figures_are_in_the_persons_unit_and_it_is_said(self):
        Preferences.objects.update_or_create(user=self.user, defaults={"mass_unit": "lb"})
        shown = self.upload("size,weight,pad\n17x7 +48 5x108 63.4,20,12\n")
        self.assertEqual([unit for *_, unit in shown.context["columns"]], ["", "lb", "mm"])
        self.assertAlmostEqual(shown.context["rows"][0].said.mass_kg, 20 * 0.45359237, 4)

    def test_what_nobody_knows_of_a_column_is_told_row_by_row(self):
        shown = self.upload("size,price,shelf\n225/45R17 94W,90,B4\n")
        self.assertContains(shown, "Not understood: shelf: B4")
        odd = self.client.post(self.url("choose/table/"), {"taken": ["spec", "price", "no such"]})
        self.assertContains(odd, "1 understood, 0 refused")
        self.assertContains(self.upload(",".join("ab" for _ in range(80)) + "\n1\n"), "60 at most", status_code=422)

    def test_the_list_that_goes_out_comes_back(self):
        raw = self.client.get(self.url("lists/") + "?what=shortlist")
        self.assertEqual(raw.status_code, 200)
        shown = self.upload(raw.content)
        whole = len(list(csv.reader(io.StringIO(raw.content.decode("utf-8-sig"))))) - 1
        # One part of the scenario was never written as a line that says its size.
        self.assertContains(shown, f"{whole - 1} understood, 1 refused")
        self.assertNotContains(shown, "currency: EUR")
        before = sorted(Wheel.objects.filter(car=self.car, listed=True).values_list("name", "offset_mm", "mass_kg"))
        self.client.post(self.url("choose/table/"), {"import": "1"})
        after = sorted(Wheel.objects.filter(car=self.car, listed=True).values_list("name", "offset_mm", "mass_kg"))
        self.assertEqual(after, sorted([*before, *before]))
        prices = {row.said.price_minor for row in shown.context["rows"] if row.said is not None}
        self.assertTrue({part.price_minor for part in Wheel.objects.filter(car=self.car, listed=True)} <= prices)

    def workbook(self, rows):
        book, out = Workbook(), io.BytesIO()
        for row in rows:
            book.active.append(row)
        book.save(out)
        return out.getvalue()

    def changed(self, raw, name, old, new):
        """A workbook with something else in one of its parts."""
        out = io.BytesIO()
        with zipfile.ZipFile(io.BytesIO(raw)) as whole, zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
            for part in whole.namelist():
                content = whole.read(part)
                self.assertTrue(part != name or old in content)
                archive.writestr(part, content.replace(old, new) if part == name else content)
        return out.getvalue()

    def test_a_workbook_is_read_as_its_first_sheet(self):
        raw = self.workbook([[*row] for row in csv.reader(io.StringIO(CSV))])
        self.assertContains(self.upload(raw, "list.xlsx"), "2 understood, 3 refused")
        figures = self.workbook([["size", "price", "lead"], ["225/45R17 94W", 101.5, 14.0]])
        self.assertContains(self.upload(figures, "list.xlsx"), "1 understood, 0 refused")
        # what a formula came to is read, never the formula: here it was never worked out
        formula = self.workbook([["size", "price"], ["225/45R17 94W", "=1+1"]])
        self.assertContains(self.upload(formula, "list.xlsx"), "1 understood, 0 refused")

    def test_a_workbook_that_is_none_or_too_large_is_refused_before_it_is_unpacked(self):
        plain, bomb = io.BytesIO(), io.BytesIO()
        with zipfile.ZipFile(plain, "w") as archive:
            archive.writestr("car.json", "{}")
        with zipfile.ZipFile(bomb, "w", zipfile.ZIP_DEFLATED) as archive:
            archive.writestr("xl/workbook.xml", b"0" * 4 * 1024**2)
        whole = self.workbook([["size"], ["225/45R17 94W"]])
        for raw, words in (
            (plain.getvalue(), "no workbook"),
            (b"PK\x03\x04" + b"x" * 200, "no workbook"),
            (whole[: len(whole) // 2], "no workbook"),
            (whole.replace(b"xl/worksheets", b"xl/work\x00heets"), "empty"),
            (bomb.getvalue(), "2 MB at most"),
            (
                self.changed(whole, "xl/styles.xml", b"</cellXfs>", b"<xf/>" * 20_000 + b"</cellXfs>"),
                "too many formats",
            ),
            (self.changed(whole, "[Content_Types].xml", b"/xl/workbook.xml", b"/xl/media/a.xml"), "no workbook"),
            (self.workbook([["size"], *(["225/45R17 94W"] for _ in range(600))]), "500 at most"),
        ):
            self.assertContains(self.upload(raw, "list.xlsx"), words, status_code=422)

    def test_files_that_are_no_table(self):
        for content, words in (
            (b"\x00\x01", "no text file"),
            ("é".encode("latin-1") * 3, "UTF-8"),
            (b"", "empty"),
            (b"a" * 300_000, "256 kB"),
            ("x\n" * 600, "at most"),
        ):
            self.assertContains(self.upload(content), words, status_code=422)


class Filtering(ScenarioCase):
    def rows(self, query):
        """Pairs of all parts of the table, in the order in which they are shown."""
        found, start = [], 0
        while start is not None:
            part = self.client.get(
                self.url(f"choose/pairs/?{query}&from={start}"), headers={"HX-Request": "true"}
            ).context["part"]
            found += [pair for pair, _ in part.rows]
            start = part.following
        return found

    def test_by_width_offset_mass_price_lead_margin_and_state(self):
        for query, holds in (
            ("width_min=8", lambda p: p.wheel.width_in >= 8),
            ("offset_max=42", lambda p: p.wheel.offset_mm <= 42),
            ("mass_max=8.7", lambda p: p.wheel.mass_kg <= 8.7),
            ("price_max=200", lambda p: p.wheel.price_minor <= 20000),
            ("lead_max=10", lambda p: p.wheel.lead_days <= 10),
            ("margin_min=2", lambda p: p.margin_mm >= 2),
            ("state=hit", lambda p: p.state == "hit"),
        ):
            found = self.rows(query)
            self.assertTrue(found, query)
            self.assertTrue(all(holds(pair) for pair in found), query)

    def test_sorting(self):
        prices = [pair.price_minor for pair in self.rows("order=price")]
        self.assertEqual(prices, sorted(prices))
        widths = [pair.wheel.width_in for pair in self.rows("order=-width")]
        self.assertEqual(widths, sorted(widths, reverse=True))

    def test_every_pair_goes_into_any_build(self):
        page = self.page("choose/")
        for build in self.car.builds.all():
            self.assertContains(
                page, f'value="{build.pk}" type="submit">{build.name}</button>', count=len(page.context["part"].rows)
            )
        self.assertNotContains(page, "Make a build first")
        with patch("shelf.views.builds_named", lambda file: []):
            self.assertContains(self.page("choose/"), "Make a build first")

    def test_nonsense_in_the_address_does_no_harm(self):
        self.page("choose/?width_min=abc&order=nothing&end=sky")
        self.page("choose/?from=-1&wheels=x&tyres=999")
        self.assertEqual(self.page("choose/?from=999999").context["part"].rows, [])

    def test_the_parts_of_the_table_hold_every_pair_once(self):
        file = self.file()
        wanted = {
            (w.pk, t.pk)
            for w in listed_of(file).wheels
            for t in listed_of(file).tyres
            if w.diameter_in == t.rim_diameter_in
        }
        for order in ("", "order=state", "order=offset", "end=R"):
            found = [(pair.wheel.pk, pair.tyre.pk) for pair in self.rows(order)]
            self.assertEqual(len(found), len(wanted), order)
            self.assertEqual(set(found), wanted, order)

    def test_the_first_part_holds_the_largest_margins(self):
        pairs = self.rows("")
        first, rest = pairs[:AT_ONCE], pairs[AT_ONCE:]
        self.assertGreater(min(p.margin_mm for p in first), max(p.margin_mm for p in rest) - ROUGH_MM)
        self.assertEqual([p.margin_mm for p in first], sorted((p.margin_mm for p in first), reverse=True))

    def test_the_quick_margin_is_near_the_judged_one(self):
        for car in Car.objects.all():
            file = open_file(car.owner, car.pk)
            wheels, tyres = listed_of(file).wheels, listed_of(file).tyres
            places = ordered(file, wheels, tyres, "all", "margin", None)
            for i, k, quick in zip(places.wheels, places.tyres, places.margins_mm, strict=True):
                gaps = [
                    one
                    for one in judge_pair(file, wheels[i], tyres[k], in_hand(file)).judgements
                    if one.code.startswith("gap.")
                ]
                judged = min((one.margin for one in gaps if one.margin is not None), default=None)
                if judged is None:
                    self.assertNotEqual(quick, quick)
                elif judged > -10:
                    self.assertAlmostEqual(quick, judged, delta=ROUGH_MM, msg=f"{wheels[i]} {tyres[k]}")
                else:
                    self.assertLess(quick, -2.0)

    def test_a_part_by_itself_shows_the_page(self):
        answer = self.client.get(self.url("choose/pairs/?from=8"))
        self.assertRedirects(answer, self.url("choose/?from=8"))
        self.assertContains(self.page("choose/?from=8"), "From pair 9 on")

    def test_a_long_list_is_shown_in_pages(self):
        Tyre.objects.bulk_create(
            Tyre(
                family="tyre", car=self.car, size="225/45R17", rim_diameter_in=17, section_width_mm=225, name=f"No {k}"
            )
            for k in range(60)
        )
        page = self.page("choose/?tyres=2")
        self.assertContains(page, "51 to")
        self.assertEqual(len(page.context["part"].rows), AT_ONCE)


class Candidates(ScenarioCase):
    def test_pairs_that_take_long_to_judge_come_one_by_one(self):
        with self.settings(PAIRS_S=0.0):
            part = self.page("choose/").context["part"]
        self.assertEqual((len(part.rows), part.start, part.following), (1, 0, 1))
        self.assertEqual(self.page("choose/").context["part"].total, part.total)

    def test_what_is_learnt_later_changes_the_judgement(self):
        wheel = Wheel.objects.get(name="Quillet Five")
        data = {
            "name": wheel.name,
            "diameter_in": "17",
            "width_in": "7.5",
            "offset_mm": "45",
            "bolts": "5",
            "pcd_mm": "108",
            "bore_mm": "63.4",
            "seat": "cone 60",
            "pad_thickness_mm": "12",
            "barrel_radius_mm": "150",
        }
        self.client.post(self.url(f"choose/wheel/{wheel.pk}/"), data)
        tyre = Tyre.objects.filter(diameter_in=17).first()
        self.assertContains(self.client.get(self.url(f"choose/pair/{wheel.pk}/{tyre.pk}/")), "overlaps by 1.5 mm")

    def test_one_in_a_build_stays(self):
        used = Wheel.objects.get(name="Skerrow Mesh")
        answer = self.client.post(self.url(f"choose/wheel/{used.pk}/remove/"), follow=True)
        self.assertContains(answer, "take it out there first")
        free = Wheel.objects.get(name="Quillet Six")
        self.client.post(self.url(f"choose/wheel/{free.pk}/remove/"))
        self.assertFalse(Wheel.objects.filter(pk=free.pk).exists())


class Alone(ScenarioCase):
    """A fragment's address opened by itself shows the page that holds it."""

    def test_pair_windows_and_remedies(self):
        wheel = Wheel.objects.filter(car=self.car).first()
        tyre = Tyre.objects.filter(car=self.car, diameter_in=wheel.diameter_in).first()
        pair = self.client.get(self.url(f"choose/pair/{wheel.pk}/{tyre.pk}/"))
        self.assertContains(pair, "To the shortlist")
        self.assertContains(pair, 'class="board')
        self.assertNotContains(self.fragment(f"choose/pair/{wheel.pk}/{tyre.pk}/"), 'class="board')
        for rest in ("windows", "remedies"):
            self.assertRedirects(
                self.client.get(self.url(f"check/FL/{rest}/?offset=40&width=8")),
                self.url("check/FL/?offset=40&width=8"),
            )
            self.assertEqual(self.client.get(self.url(f"check/XX/{rest}/")).status_code, 404)
