"""One search over a car's record: words, kind, family, state, days; pages; nobody else's rows; constant queries."""

from datetime import date, timedelta

from django.db import connection
from django.test.utils import CaptureQueriesContext

from garage.car.models import Car
from garage.car.parts import Part
from garage.readings.models import Reading
from proof.searching import KINDS, Asked, rows_of, shown
from shell.tests.base import ScenarioCase


class Searching(ScenarioCase):
    def found(self, **asked):
        kind = asked.pop("kind", "parts")
        asked["words"] = tuple(asked.get("words", "").split())
        return [shown(kind, row, self.file().preferences) for row in rows_of(self.car, kind, Asked(kind=kind, **asked))]

    def test_without_words_everything_of_a_kind_is_there(self):
        self.assertEqual(len(self.found()), Part.objects.filter(car=self.car).count())
        self.assertEqual(len(self.found(kind="readings")), Reading.objects.filter(car=self.car).count())
        for kind in KINDS:
            self.assertTrue(self.found(kind=kind), kind)

    def test_every_word_counts_in_any_field_and_in_names(self):
        self.assertEqual({row.name for row in self.found(words="quillet five")}, {"Quillet Five 17×7.5 +45"})
        self.assertEqual(self.found(words="quillet nowhere"), [])
        rings = self.found(words="centring")
        self.assertTrue(rings and all("ring" in row.said for row in rings))
        left = self.found(kind="readings", words="front left damper")
        self.assertTrue(left)
        self.assertTrue(all(row.name.lower().endswith("front left") for row in left), left[0].name)

    def test_family_state_and_days(self):
        self.assertTrue(all(row.said.startswith("tyre") for row in self.found(family="tyre")))
        pinned = Part.objects.filter(car=self.car).first()
        pinned.pinned = True
        pinned.save()
        self.assertEqual([row.name for row in self.found(state="pinned")], [str(pinned)])
        reading = Reading.objects.filter(car=self.car).first()
        Reading.objects.filter(pk=reading.pk).update(struck_why="slipped", taken_on=date(2019, 3, 4))
        old = self.found(kind="readings", until=date(2019, 3, 4))
        self.assertEqual([(row.day, row.state) for row in old], [(date(2019, 3, 4), "struck out: slipped")])
        self.assertEqual(self.found(kind="readings", since=date.today() + timedelta(days=1)), [])

    def test_the_page_says_how_many_of_each_kind_and_leads_to_each_row(self):
        shown_page = self.page("search/?q=wheel")
        self.assertContains(shown_page, "Job sheets")
        for kind in KINDS:
            one = self.page(f"search/?kind={kind}")
            self.assertEqual(self.client.get(one.context["rows"][0].address).status_code in (200, 302), True, kind)

    def test_odd_questions_are_answered(self):
        wrong = self.client.get(self.url("search/?since=tomorrow&kind=parts"))
        self.assertContains(wrong, "Enter a valid date", status_code=422)
        for query in ("q=" + "x" * 500, "kind=all", "state=gone", "family=none"):
            self.assertEqual(self.client.get(self.url(f"search/?{query}")).status_code, 422, query)
        self.assertEqual(self.client.get(self.url("search/?page=99999&q=%00")).status_code in (200, 422), True)
        shown = self.page("search/?kind=jobs&state=pinned")
        self.assertEqual(shown.context["asked"].kind, "parts")
        self.assertEqual(self.page("search/?kind=jobs&family=tyre").context["asked"].kind, "parts")
        self.assertNotIn("state", shown.context["among"])

    def test_a_long_list_is_in_pages_and_asks_no_more_queries(self):
        self.page("search/?q=part")
        with CaptureQueriesContext(
            connection,
        ) as few:
            self.page("search/?q=part")
        Part.objects.bulk_create(
            Part(car=self.car, family="other", name=f"part {k}", listed=True, spec={}) for k in range(300)
        )
        self.page("search/?q=part")
        with CaptureQueriesContext(connection) as many:
            second = self.page("search/?q=part&page=2")
        self.assertEqual((len(second.context["rows"]), second.context["pages"].number), (25, 2))
        self.assertLessEqual(len(many), len(few))

    def test_another_car_is_not_looked_through(self):
        other = Car.objects.filter(owner=self.car.owner).exclude(pk=self.car.pk).first()
        Part.objects.create(car=other, family="other", name="elsewhere alone", spec={})
        self.assertEqual(self.found(words="elsewhere"), [])
