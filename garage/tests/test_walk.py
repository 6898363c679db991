"""The measuring walk through its addresses.

Order, keeping, passing over, the floor sheet, readings that are doubted.
"""

import csv
import io

from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test.utils import CaptureQueriesContext
from django.utils import timezone
from openpyxl import load_workbook

from garage.inhand import judgements_in_hand
from garage.person.models import Preferences
from garage.readings.models import Reading, Skip
from garage.readings.walk import route_of
from proofs.fuzz import Forms
from rimcore.tables.facts import CORNERS
from rimcore.well.read.stations import judged_codes
from shell.models import Change
from shell.tests.base import ScenarioCase, read_anew
from shell.undo import undo


class Walking(ScenarioCase):
    def how(self, **values):
        return {
            "method": "rule",
            "taken_on": f"{timezone.localdate():%Y-%m-%d}",
            "uncertainty": "",
            "who": "Ina",
        } | values

    def route(self, whole=False):
        return route_of(self.file(), whole)

    def test_only_what_the_build_in_hand_waits_for_and_on_request_all(self):
        waits = {name for j in judgements_in_hand(self.file()) for name in j.missing}
        self.assertTrue(self.route().stops)
        self.assertTrue(all(stop.key in waits for stop in self.route().stops))
        every = {(corner, code) for corner in CORNERS for code in judged_codes(corner)}
        read = {(r.corner, r.code) for r in self.file().latest}
        self.assertEqual({(stop.corner, stop.code) for stop in self.route(True).stops}, every - read)

    def test_a_reading_is_kept_the_next_stop_comes_and_says_what_it_unlocked(self):
        first, second = self.route().stops[:2]
        page = self.page("walk/")
        self.assertEqual(page.context["at"], first)
        self.assertContains(page, f"{len(self.route().stops)} left, about")
        self.assertEqual((first.corner, first.code), ("FL", "arch_10"))
        answer = self.client.post(self.url(f"walk/?at={first.key}"), self.how(value="24", value2="61"))
        self.assertEqual(answer.status_code, 302)
        self.assertIn(f"at={second.key}", answer.url)
        kept = Reading.objects.get(car=self.car, corner="FL", code="arch_10")
        self.assertEqual((kept.values, kept.typed, kept.who), ([24.0, 61.0], "24 / 61", "Ina"))
        following = self.client.get(answer.url)
        self.assertEqual(following.context["at"].key, second.key)
        said = following.context["said"]
        self.assertTrue(said and all(j.code.startswith("gap.arch_10") for j in said))
        self.assertContains(following, "sideways")
        self.assertNotIn(first.key, [stop.key for stop in self.route().stops])

    def test_it_keeps_its_place(self):
        self.assertEqual(self.page("walk/").context["at"], self.page("walk/").context["at"])
        stops = self.route().stops
        self.client.post(self.url("walk/skip/"), {"at": stops[0].key, "why": "later", "note": ""})
        self.assertEqual(self.page("walk/").context["at"].key, stops[1].key)

    def test_passed_over_with_a_reason_and_taken_up_again(self):
        stops = self.route().stops
        answer = self.client.post(
            self.url("walk/skip/"), {"at": stops[3].key, "why": "reach", "note": "behind the brake line"}
        )
        self.assertIn(f"at={stops[4].key}", answer.url)
        page = self.page("walk/")
        self.assertContains(page, "can&#x27;t reach")
        self.assertContains(page, "behind the brake line")
        self.assertNotIn(stops[3].key, [stop.key for stop in self.route().stops])
        self.assertEqual(self.client.get(self.url("measure/")).status_code, 200)
        passed = Skip.objects.get()
        back = self.client.post(self.url(f"walk/again/{passed.pk}/"))
        self.assertIn(f"at={stops[3].key}", back.url)
        self.assertFalse(Skip.objects.exists())
        undo(self.user, Change.objects.first().pk)
        self.assertEqual(Skip.objects.get().note, "behind the brake line")

    def test_a_station_that_is_read_is_passed_over_no_more(self):
        stop = self.route().stops[0]
        self.client.post(self.url("walk/skip/"), {"at": stop.key, "why": "later"})
        self.client.post(self.url(f"walk/?at={stop.key}"), self.how(value="24", value2="61"))
        self.assertFalse(Skip.objects.exists())
        undo(self.user, Change.objects.first().pk)
        self.assertTrue(Skip.objects.exists())
        self.assertFalse(Reading.objects.filter(car=self.car, corner="FL", code="arch_10").exists())

    def test_bad_input(self):
        stop = self.route().stops[0]
        for values, said in (
            ({"value": "", "value2": ""}, "This field is required"),
            ({"value": "x", "value2": "61"}, ""),
            ({"value": "-900", "value2": "61"}, "accepted: "),
            ({"value": "24;" * 10, "value2": "61"}, "9 at most"),
            ({"value": "24", "value2": "61", "taken_on": "2999-01-01"}, "has not come yet"),
        ):
            answer = self.client.post(self.url(f"walk/?at={stop.key}"), self.how(**values))
            self.assertEqual(answer.status_code, 422, values)
            self.assertContains(answer, said, status_code=422)
        for at in ("XX.damper", "FL.nothing", "FL", ".damper", "RL.kpi", "FL.damper.x"):
            self.assertEqual(self.client.get(self.url(f"walk/?at={at}")).status_code, 404, at)
            self.assertEqual(self.client.post(self.url("walk/skip/"), {"at": at, "why": "later"}).status_code, 404, at)
        self.assertEqual(self.client.post(self.url("walk/skip/"), {"at": stop.key, "why": "dislike"}).status_code, 302)
        self.assertFalse(Skip.objects.exists())
        self.assertEqual(self.client.get(self.url("walk/skip/")).status_code, 405)

    def test_where_nothing_is_left_it_is_done(self):
        for stop in self.route().stops:
            Skip.objects.create(car=self.car, corner=stop.corner, code=stop.code)
        page = self.page("walk/")
        self.assertContains(page, "The walk is done")
        self.assertContains(page, "Passed over")
        self.assertEqual(self.page("walk/?all=1").status_code, 200)

    def test_without_wheels_on_the_car_they_are_asked_first(self):
        bare = type(self.car).objects.create(
            owner=self.user, nickname="Bare", use="street", drive="F", odometer_km=0, currency="EUR"
        )
        for name in ("walk", "walk/sheet"):
            self.assertRedirects(
                self.client.get(f"/car/{bare.pk}/{name}/"), f"/car/{bare.pk}/", fetch_redirect_response=False
            )

    def test_only_ones_own_car(self):
        other = self.person()
        passed = Skip.objects.create(car=self.car, corner="FL", code="joint")
        self.client.force_login(other)
        for address in ("walk/", "walk/sheet/"):
            self.assertEqual(self.client.get(self.url(address)).status_code, 404)
        self.assertEqual(self.client.post(self.url("walk/skip/"), {"at": "FL.damper"}).status_code, 404)
        self.assertEqual(self.client.post(self.url(f"walk/again/{passed.pk}/")).status_code, 404)

    @read_anew
    def test_ten_times_as_many_passed_over_ask_no_more(self):
        def count():
            with CaptureQueriesContext(connection) as asked:
                self.page("walk/?all=1")
                self.page("walk/sheet/?all=1")
            return len(asked)

        self.page("walk/")
        before = count()
        for code in (
            "perch",
            "ride_height",
            "arch_9",
            "arch_11",
            "arch_1",
            "arch_3",
            "caster",
            "kpi",
            "camber",
            "lock_stop",
        ):
            Skip.objects.create(car=self.car, corner="FL", code=code)
        self.assertEqual(count(), before)


class Doubted(ScenarioCase):
    """A reading that differs from the last by more than both ± asks before it is kept."""

    def post(self, value, **more):
        form = {
            "height_mm": "262",
            "value": value,
            "method": "rule",
            "taken_on": "2026-11-20",
            "uncertainty": "",
        } | more
        return self.client.post(self.url("measure/RL/damper/"), form | {"height_mm": "255"})

    def test_asked_once_and_kept_when_it_is_said_to_be_right(self):
        self.file()
        last = Reading.objects.filter(car=self.car, corner="RL", code="damper", outfit=self.file().current).first()
        if last is None:
            self.assertEqual(self.post("27").status_code, 302)
            last = Reading.objects.filter(car=self.car, corner="RL", code="damper").first()
        count = Reading.objects.count()
        near, far = last.value + 2 * last.uncertainty, last.value + 2.2 * last.uncertainty
        self.assertEqual(self.post(f"{near:g}").status_code, 302)
        asked = self.post(f"{near + far - last.value:g}")
        self.assertContains(asked, "they differ by more than both ±", status_code=422)
        self.assertContains(asked, 'name="sure"', status_code=422)
        self.assertEqual(Reading.objects.count(), count + 1)
        self.assertEqual(self.post(f"{near + far - last.value:g}", sure="1").status_code, 302)
        self.assertEqual(Reading.objects.count(), count + 2)

    def test_another_place_or_other_wheels_are_no_doubt(self):
        self.assertEqual(self.post("27").status_code, 302)
        other = self.client.post(
            self.url("measure/RL/damper/"),
            {"height_mm": "200", "value": "90", "method": "rule", "taken_on": "2026-11-20"},
        )
        self.assertEqual(other.status_code, 302)


class Repeated(ScenarioCase):
    def test_mean_and_spread_of_several(self):
        form = {
            "height_mm": "240",
            "value": "10; 12,5; 12",
            "method": "caliper",
            "taken_on": "2026-11-20",
            "uncertainty": "",
        }
        self.assertEqual(self.client.post(self.url("measure/RR/damper/"), form).status_code, 302)
        kept = Reading.objects.get(car=self.car, corner="RR", code="damper")
        self.assertAlmostEqual(kept.value, 11.5)
        self.assertAlmostEqual(kept.uncertainty, 1.25)
        self.assertEqual(kept.typed, "10; 12,5; 12")

    def test_readings_too_far_apart_are_no_one_place(self):
        for address, form in (
            ("measure/RR/damper/", {"height_mm": "240", "value": "1; 300", "method": "rule"}),
            ("measure/FL/corner_mass/", {"value": "200; 2000", "method": "scale"}),
            ("walk/sheet/", {"FL-joint-value": "10; 390"}),
        ):
            answer = self.client.post(self.url(address), form | {"taken_on": "2026-11-20", "uncertainty": ""})
            self.assertContains(answer, "differ too much to be one place", status_code=422)

    def test_a_typed_uncertainty_stands(self):
        form = {
            "height_mm": "240",
            "value": "10; 12",
            "method": "caliper",
            "taken_on": "2026-11-20",
            "uncertainty": "3",
        }
        self.client.post(self.url("measure/RR/damper/"), form)
        self.assertEqual(Reading.objects.get(car=self.car, corner="RR", code="damper").uncertainty, 3.0)


class FloorSheet(ScenarioCase):
    def test_in_the_order_of_the_walk_and_kept_together(self):
        page = self.page("walk/sheet/")
        listed = [stop.key for _, rows in page.context["groups"] for stop, _ in rows]
        self.assertEqual(listed, [stop.key for stop in route_of(self.file(), False).stops])
        count = Reading.objects.count()
        answer = self.client.post(
            self.url("walk/sheet/"),
            {"FL-arch_10-value": "24", "FL-arch_10-value2": "61", "FL-joint-value": "132", "FL-joint-typed": ""},
        )
        self.assertRedirects(answer, self.url("measure/"))
        self.assertEqual(Reading.objects.count(), count + 2)
        kept = Reading.objects.get(car=self.car, corner="FL", code="joint")
        self.assertEqual((kept.value, kept.method, kept.taken_on), (132.0, "rule", timezone.localdate()))
        undo(self.user, Change.objects.first().pk)
        self.assertEqual(Reading.objects.count(), count)

    def test_a_row_that_cant_be_read_keeps_none_and_loses_nothing(self):
        count = Reading.objects.count()
        answer = self.client.post(
            self.url("walk/sheet/"), {"FL-arch_10-value": "24", "FL-arch_10-value2": "sixty", "FL-joint-value": "132"}
        )
        self.assertContains(answer, "Nothing is kept yet: 1 row can't be read", status_code=422)
        self.assertContains(answer, 'value="sixty"', status_code=422)
        self.assertContains(answer, 'value="132"', status_code=422)
        self.assertNotContains(answer, "This field is required", status_code=422)
        self.assertEqual(Reading.objects.count(), count)

    def test_an_empty_sheet_is_told(self):
        answer = self.client.post(self.url("walk/sheet/"), {})
        self.assertContains(answer, "Nothing was typed")


class FloorFile(ScenarioCase):
    """The floor sheet as a file: out, filled in as on a telephone, and back."""

    def rows(self, query="as=csv"):
        text = self.client.get(self.url(f"walk/sheet/?{query}")).content.decode()
        return list(csv.reader(io.StringIO(text)))

    def send(self, rows, name="sheet.csv", query=""):
        out = io.StringIO()
        csv.writer(out).writerows(rows)
        return self.brought(out.getvalue().encode(), name, query)

    def brought(self, raw, name="sheet.csv", query=""):
        return self.client.post(self.url(f"walk/sheet/{query}"), {"upload": "1", "file": SimpleUploadedFile(name, raw)})

    def filled(self, rows, **said):
        return [[*row[:-1], said.get(row[0].replace("-", "_"), row[-1])] for row in rows]

    def test_out_filled_in_looked_at_and_kept(self):
        rows, count = self.rows(), Reading.objects.count()
        self.assertEqual(rows[0], ["mark", "where", "station", "what", "in", "read"])
        self.assertTrue(any(row[0] == "FL-joint-value" and row[4] == "mm" and not row[5] for row in rows))
        page = self.send(self.filled(rows, FL_joint_value="13.2 cm", FL_arch_10_value="24", FL_arch_10_value2="61; 63"))
        self.assertContains(page, "2 stations of the file")
        self.assertEqual(Reading.objects.count(), count)
        fields = Forms()
        fields.feed(page.content.decode())
        form = next(one for one in fields.found if "FL-joint-value" in one["fields"])
        self.assertEqual(form["fields"]["FL-joint-value"], "13.2 cm")
        self.client.post(self.url("walk/sheet/"), form["fields"])
        self.assertEqual(Reading.objects.count(), count + 2)
        self.assertEqual(Reading.objects.get(car=self.car, corner="FL", code="joint").value, 132.0)

    def test_a_workbook_keeps_fractions_as_text(self):
        raw = b"".join(self.client.get(self.url("walk/sheet/?as=xlsx&all=1")).streaming_content)
        book = load_workbook(io.BytesIO(raw))
        sheet = book.active
        row = next(one for one in sheet.iter_rows() if one[0].value == "FL-joint-value")
        self.assertEqual(row[5].number_format, "@")
        row[5].value = "5 3/16"
        out = io.BytesIO()
        book.save(out)
        Preferences.objects.update_or_create(user=self.user, defaults={"length_unit": "in"})
        page = self.brought(out.getvalue(), "sheet.xlsx", "?all=1")
        # It was taken along in millimetres, and is read so.
        self.assertContains(page, "5 3/16 mm")

    def test_bare_figures_are_in_the_unit_of_the_file(self):
        Preferences.objects.update_or_create(user=self.user, defaults={"length_unit": "in"})
        rows = self.rows()
        self.assertTrue(any(row[0] == "FL-joint-value" and row[4] == "in" for row in rows))
        Preferences.objects.update_or_create(user=self.user, defaults={"length_unit": "mm"})
        self.assertContains(self.send(self.filled(rows, FL_joint_value="5.2")), 'value="5.2 in"')

    def test_where_the_rule_goes_is_in_the_unit_of_the_file_too(self):
        Preferences.objects.update_or_create(user=self.user, defaults={"length_unit": "in"})
        rows = self.rows("as=csv&all=1")
        where = next(row for row in rows if row[0].endswith("-height_mm"))
        self.assertEqual(where[4], "in")
        value = where[0].replace("-height_mm", "-value")
        Preferences.objects.update_or_create(user=self.user, defaults={"length_unit": "mm"})
        filled = [[*row[:-1], "6" if row is where else "0.5" if row[0] == value else row[-1]] for row in rows]
        page = self.send(filled, query="?all=1")
        self.assertContains(page, 'value="6 in"')
        self.assertContains(page, 'value="0.5 in"')

    def test_what_is_not_taken_is_told(self):
        rows = self.rows()
        more = [
            *rows,
            ["FL-nowhere-value", "", "", "", "", "12"],
            ["", "", "", "", "", "7"],
            ["XX-1", "", "", "", "", "4"],
        ]
        page = self.send(self.filled(more, FL_joint_value="sixty"))
        self.assertContains(page, "FL-nowhere-value: 12; not open on this sheet")
        self.assertContains(page, "a row without its mark: 7")
        self.assertContains(page, "XX-1: 4; not open on this sheet")
        self.assertContains(page, "1 row can")
        self.assertContains(page, 'value="sixty"')

    def test_files_that_are_no_floor_sheet(self):
        for raw, words in (
            (b"", "submitted file is empty"),
            (b"\n", "no floor sheet"),
            (b"size,price\n1,2\n", "no floor sheet"),
            (b"\0\1", "no text file"),
            (b"PK\x03\x04" + b"x" * 200, "no workbook"),
            (b"a" * 300_000, "256 kB"),
            (b'mark,read\n"' + b"x" * 200_000, "no table"),
        ):
            self.assertContains(self.brought(raw), words, status_code=422)
        self.assertContains(self.client.post(self.url("walk/sheet/"), {"upload": "1"}), "required", status_code=422)
