"""Links to read by: unguessable, until a day, with what was ticked and nothing else."""

import re
from datetime import timedelta

from django.test import Client, override_settings
from django.utils import timezone

from garage.car.models import Car
from planner.models import Build
from sharing.models import Link, Opening
from sharing.services import MOST_OPENED, MOST_WRONG
from shell.tests.base import ScenarioCase, shown
from workshop.models import Job, Photo


class Links(ScenarioCase):
    def setUp(self):
        super().setUp()
        self.reader = Client()
        self.day = timezone.localdate() + timedelta(days=5)

    def link(self, **values):
        return Link.objects.create(car=self.car, **{"what": "book", "until": self.day, "chapters": ["car"], **values})

    def read(self, link, rest="", status=200, **asked):
        answer = self.reader.get(f"/shared/{link.token}/{rest}", asked)
        self.assertEqual(answer.status_code, status)
        return answer

    def test_made_on_the_page_and_read_without_an_account(self):
        sent = {"what-form": "link", "link-what": "book", "link-until": self.day, "link-chapters": ["car", "torque"]}
        usual = timezone.localdate() + timedelta(days=30)
        self.assertContains(self.page("share/"), f'value="{usual}"', msg_prefix="as a field of days takes it")
        self.assertRedirects(self.client.post(self.url("share/"), sent), self.url("share/"))
        link = Link.objects.get()
        self.assertContains(self.page("share/"), f"/shared/{link.token}/")
        answer = self.read(link)
        self.assertContains(answer, self.car.nickname)
        self.assertContains(answer, "Torque record")
        self.assertNotContains(answer, "What was read")
        self.assertNotContains(answer, self.car.description)
        link.refresh_from_db()
        self.assertEqual(link.opened, 1)

    def test_no_index_no_trace_no_store(self):
        answer = self.read(self.link())
        self.assertIn("noindex", answer.headers["X-Robots-Tag"])
        self.assertEqual(answer.headers["Referrer-Policy"], "no-referrer")
        self.assertIn("no-store", answer.headers["Cache-Control"])
        self.assertNotIn("sessionid", answer.cookies)

    def test_tokens_are_long_and_differ(self):
        tokens = {self.link().token for _ in range(50)}
        self.assertEqual(len(tokens), 50)
        self.assertGreaterEqual(min(map(len, tokens)), 43, "256 bits in base64 (RFC 4648) are 43 letters")

    def test_taken_back_and_ended_are_told_and_show_nothing(self):
        link = self.link()
        self.client.post(self.url(f"share/link/{link.pk}/"))
        for one in (link, self.link(until=timezone.localdate() - timedelta(days=1))):
            answer = self.read(one, status=410)
            self.assertNotContains(answer, self.car.nickname, status_code=410)

    def test_prices_only_where_ticked(self):
        build = Build.objects.filter(car=self.car, in_hand=True).first()
        price = build.choices.exclude(part__price_minor=None).first()
        money = re.compile(rf"{price.price // 100}(\.\d\d)? ?{self.car.currency}")
        every = ["car", "readings", "drawings", "torque", "parts", "photos", "proof", "held", "cautions", "open"]
        for values in ({"what": "build", "number": build.pk}, {"chapters": every}):
            told = shown(self.read(self.link(**values)).content)
            self.assertIsNone(re.search(rf"\d {self.car.currency}", told), values)
        self.assertRegex(shown(self.read(self.link(what="build", number=build.pk, money=True)).content), money)

    def test_names_and_notes_only_where_ticked(self):
        answer = self.read(self.link(chapters=["readings"]))
        self.assertNotContains(answer, "<th>By</th>")
        self.assertContains(self.read(self.link(chapters=["readings"], names=True)), "<th>By</th>")
        self.assertContains(self.read(self.link(notes=True)), self.car.description)

    def test_a_job_sheet_with_its_cautions(self):
        job = Job.objects.filter(car=self.car, steps__caution__gt="").first()
        answer = self.read(self.link(what="job", number=job.pk))
        self.assertContains(answer, job.title)
        self.assertContains(answer, job.steps.exclude(caution="").first().caution[:40])

    def test_nothing_of_other_cars(self):
        every = ["car", "readings", "drawings", "torque", "parts", "photos", "proof", "held", "cautions", "open"]
        told = shown(self.read(self.link(chapters=every, money=True, notes=True, names=True)).content)
        for other in Car.objects.filter(owner=self.user).exclude(pk=self.car.pk):
            self.assertNotIn(other.nickname, told)
        numbers = set(re.findall(r"/car/(\d+)/", told))
        self.assertEqual(numbers, set(), "no address of the garage stands on it")
        other = Build.objects.exclude(car=self.car).first()
        self.read(self.link(what="build", number=other.pk), status=404)
        self.read(self.link(what="job", number=Job.objects.exclude(car=self.car).first().pk), status=404)

    def test_pictures_only_of_the_chapter_and_the_car(self):
        photo = Photo.objects.filter(job__car=self.car).first()
        with_photos = self.link(chapters=["photos"])
        self.assertEqual(self.read(with_photos, f"photo/{photo.pk}/").headers["Content-Type"], "image/jpeg")
        self.read(self.link(), f"photo/{photo.pk}/", status=404)
        self.read(with_photos, f"receipt/{photo.pk}/", status=404)
        self.read(with_photos, "photo/999999/", status=404)
        self.read(with_photos, f"logs/{photo.pk}/", status=404)

    def test_in_the_readers_units(self):
        link = self.link(chapters=["car", "readings"])
        self.assertContains(self.read(link), " km")
        told = shown(self.read(link, units="imperial").content)
        self.assertIn(" mi", told)
        self.assertNotIn(" km", told)

    @override_settings(KEEP_PAGES=True)
    def test_the_owner_who_looks_at_it_in_other_units_keeps_their_own(self):
        link, book = self.link(chapters=["readings"]), "prove/book/?chapter=readings"
        mine = shown(self.page(book).content)
        self.assertIn(" in", shown(self.client.get(f"/shared/{link.token}/?units=imperial").content))
        self.assertEqual(
            re.findall(r"[\d.]+ (?:mm|in)\b", shown(self.page(book).content)), re.findall(r"[\d.]+ (?:mm|in)\b", mine)
        )
        self.assertNotRegex(mine, r"[\d.]+ in\b")

    def test_guessing_and_opening_without_end_are_stopped(self):
        for _ in range(MOST_WRONG):
            self.assertEqual(self.reader.get("/shared/not-a-token/").status_code, 404)
        self.read(self.link(), status=429)
        Opening.objects.all().delete()
        Opening.objects.bulk_create(Opening(address="127.0.0.1") for _ in range(MOST_OPENED))
        self.read(self.link(), status=429)
        Opening.objects.update(at=timezone.now() - timedelta(minutes=11))
        self.read(self.link())

    def test_what_is_refused_is_told_and_nothing_typed_is_lost(self):
        for sent, words in (
            ({"link-until": "2001-01-01"}, "Accepted: "),
            ({"link-until": "soon"}, "Enter a valid date"),
            ({"link-what": "build-999999"}, "Select a valid choice"),
            ({"link-chapters": []}, "at least one"),
        ):
            whole = {"what-form": "link", "link-what": "book", "link-until": self.day, "link-chapters": ["car"]} | sent
            answer = self.client.post(self.url("share/"), whole)
            self.assertContains(answer, words, status_code=422)
        self.assertEqual(Link.objects.count(), 0)
        for method in ("post", "put", "delete", "patch"):
            self.assertEqual(getattr(self.reader, method)(f"/shared/{self.link().token}/").status_code, 405)
