"""Kept pages, forms pressed twice, two windows, pictures, tidying, limits: what holds when used hard."""

import io
import os
import subprocess
import sys
import tempfile
import time
from datetime import UTC, datetime, timedelta
from pathlib import Path
from unittest import mock

from django.conf import settings
from django.contrib.messages import get_messages
from django.core.files.storage import default_storage
from django.db import OperationalError, connection
from django.test import Client, override_settings
from django.test.utils import CaptureQueriesContext
from django.utils import timezone
from PIL import Image

from garage.car.models import Axle, Car, OutfitAxle
from garage.car.parts import Tyre, Wheel
from garage.readings.models import Reading
from proof.models import Series
from rimcore.quantities.errors import BadInput
from shell.models import Change, Pressed
from shell.once import HOLDER
from shell.pictures import clean_picture
from shell.tests.base import ScenarioCase
from shell.tidy import tidy
from shell.undo import last_change, undo
from workshop.models import Job, Photo
from workshop.queries import work_of
from workshop.services import keep_photo

LINE = {"line": "17x7 +48 5x108 63.4, 8.8 kg, 150, 2 weeks", "name": "Twice"}


@override_settings(KEEP_PAGES=True)
class Kept(ScenarioCase):
    def setUp(self):
        super().setUp()
        self.client.get("/settings/")

    def queries(self, rest):
        with CaptureQueriesContext(connection) as count:
            page = self.client.get(self.url(rest))
        return len(count), page.content.decode()

    def test_a_page_read_again_is_not_made_again(self):
        first, page = self.queries("plan/")
        again, same = self.queries("plan/")
        self.assertGreater(first, 10)
        self.assertLess(again, 6)
        self.assertEqual(len(page), len(same))

    def test_another_session_of_the_person_has_it_too_with_its_own_token(self):
        """Kept by person, not by cookie: a new session begins warm, and its forms are accepted."""
        self.queries("plan/")
        other = Client(enforce_csrf_checks=True)
        other.force_login(self.user)
        with CaptureQueriesContext(connection) as count:
            html = other.get(self.url("plan/")).content.decode()
        self.assertLess(len(count), 8)
        token = html.split('name="csrfmiddlewaretoken" value="')[1].split('"')[0]
        self.assertNotIn("@csrf-token@", html)
        sent = {"csrfmiddlewaretoken": token, "name": "From the other session", "tolerance": "daily"}
        self.assertNotEqual(other.post(self.url("plan/"), sent).status_code, 403)
        self.assertEqual(other.post(self.url("plan/"), sent | {"csrfmiddlewaretoken": "x" * 64}).status_code, 403)

    def test_what_a_person_sends_makes_their_pages_old(self):
        self.queries("choose/")
        self.client.post(self.url("choose/"), LINE)
        self.client.get(self.url("choose/"))
        self.assertIn("Twice", self.queries("choose/")[1])
        self.assertIn("Twice", self.queries("choose/")[1])
        change = last_change(self.user)
        self.client.post(f"/undo/{change.pk}/")
        self.client.get(self.url("choose/"))
        self.assertNotIn("Twice 17", self.queries("choose/")[1])

    def test_a_run_that_is_watched_goes_on_at_the_same_address(self):
        """The fragment asks the same address every second."""
        began = time.time()
        told = []
        for later in (0.0, 3.0):
            with mock.patch("bench.cooling.views.time.time", lambda later=later: began + later):
                told.append(self.fragment(f"check/cooling/live/?run=bleeds&from={began:.3f}").content)
        self.assertNotEqual(*told)

    def test_a_clock_that_runs_is_told_on_every_page(self):
        job = Job.objects.filter(car=self.car, state__in=("todo", "under_way")).first()
        job.spells.create(began=timezone.now() - timedelta(hours=1))
        first = work_of(self.page("plan/").context["file"]).done.clocked[job.build_id]
        with mock.patch("workshop.models.timezone.now", lambda: datetime.now(UTC) + timedelta(hours=2)):
            later = work_of(self.page("plan/").context["file"]).done.clocked[job.build_id]
        self.assertAlmostEqual(later - first, 2.0, delta=0.01)

    def test_nobody_sees_anothers_page(self):
        self.queries("plan/")
        other = Client()
        other.force_login(self.person())
        other.get("/settings/")
        self.assertEqual(other.get(self.url("plan/")).status_code, 404)

    def test_every_form_has_a_token_of_its_own(self):
        pages = [self.queries("choose/")[1] for _ in range(2)]
        tokens = [part.split('"')[0] for page in pages for part in page.split('name="once" value="')[1:]]
        self.assertGreater(len(tokens), 4)
        self.assertEqual(len(tokens), len(set(tokens)))
        self.assertNotIn(HOLDER, "".join(pages))

    def test_a_message_is_shown_once(self):
        self.client.post(self.url("choose/"), LINE)
        self.assertIn("On the list", self.queries("choose/")[1])
        self.assertNotIn("On the list", self.queries("choose/")[1])


class PressedTwice(ScenarioCase):
    def token(self):
        return "a-token-of-sixteen-or-more"

    def test_the_second_press_gets_the_first_ones_answer(self):
        for _ in range(3):
            answer = self.client.post(self.url("choose/"), LINE | {"once": self.token()})
            self.assertRedirects(answer, self.url("choose/"))
        self.assertEqual(Wheel.objects.filter(name="Twice").count(), 1)

    def test_another_content_is_another_matter(self):
        for offset in (40, 41):
            self.client.post(
                self.url("choose/"), {"line": f"17x7 +{offset} 5x108 63.4", "name": "Twice", "once": self.token()}
            )
        self.assertEqual(Wheel.objects.filter(name="Twice").count(), 2)

    def test_a_form_with_errors_may_be_sent_again(self):
        for _ in range(2):
            answer = self.client.post(self.url("choose/"), {"line": "nonsense", "once": self.token()})
            self.assertEqual(answer.status_code, 422)
        self.assertEqual(Pressed.objects.count(), 0)

    def test_the_same_once_more_after_a_minute(self):
        self.client.post(self.url("choose/"), LINE | {"once": self.token()})
        Pressed.objects.update(at=timezone.now() - timedelta(minutes=2))
        self.client.post(self.url("choose/"), LINE | {"once": self.token()})
        self.assertEqual(Wheel.objects.filter(name="Twice").count(), 2)

    def test_a_press_that_came_to_nothing_is_told(self):
        self.client.post(self.url("choose/"), LINE | {"once": self.token()})
        Pressed.objects.update(answer="")
        with mock.patch("shell.middleware.WAIT_S", 0.1):
            answer = self.client.post(self.url("choose/"), LINE | {"once": self.token()})
        self.assertIn("first press failed", str([*get_messages(answer.wsgi_request)][-1]))

    def test_a_finished_job_is_not_finished_again(self):
        job = Job.objects.exclude(state="done").first()
        outfits = self.car.outfits.count()
        last = job.steps.order_by("-place").first()
        data = {"what": "finish", "finish-odometer_km": self.car.odometer_km + 10}
        for once in ("a-first-token-of-some-length", "another-token-of-some-length"):
            self.client.post(self.url(f"fit/job/{job.pk}/{last.place}/"), data | {"once": once})
        self.assertLessEqual(self.car.outfits.count(), outfits + 1)
        self.assertLessEqual(job.follow_ups.filter(due_km__isnull=False).count(), 2)


class TwoWindows(ScenarioCase):
    def opened(self, rest, what):
        """A form's fields as the page shows them."""
        page = self.page(rest)
        form = page.context["forms"][what] if "forms" in page.context else page.context["form"]
        return {"what": what} | {
            form.add_prefix(name): ("on" if form[name].value() else "")
            if name == "stroke_moves"
            else ""
            if form[name].value() is None
            else form[name].value()
            for name in form.fields
        }

    def send(self, rest, data):
        return self.client.post(self.url(rest), {name: value for name, value in data.items() if value != ""})

    def test_different_fields_are_both_kept(self):
        one, two = self.opened("", "car"), self.opened("", "car")
        self.assertEqual(self.send("", one | {"car-wheelbase_mm": "2600"}).status_code, 302)
        self.assertEqual(self.send("", two | {"car-event_name": "Another climb"}).status_code, 302)
        car = Car.objects.get(pk=self.car.pk)
        self.assertEqual((car.wheelbase_mm, car.event_name), (2600, "Another climb"))

    def test_the_same_field_asks_once_with_both_values(self):
        one, two = self.opened("", "car"), self.opened("", "car")
        self.send("", one | {"car-event_name": "First climb"})
        refused = self.send("", two | {"car-event_name": "Second climb"})
        self.assertContains(refused, "Meanwhile changed to “First climb”", status_code=422)
        self.assertContains(refused, "Second climb", status_code=422)
        seen = refused.context["forms"]["car"]["seen"].value()
        self.assertEqual(self.send("", two | {"car-event_name": "Second climb", "car-seen": seen}).status_code, 302)
        self.assertEqual(Car.objects.get(pk=self.car.pk).event_name, "Second climb")

    def test_a_build_and_a_candidate_too(self):
        build, wheel = self.car.builds.first(), Wheel.objects.filter(car=self.car).first()
        for rest, what, changes, row in (
            (f"plan/build/{build.pk}/", "build", ({"note": "one"}, {"hours_estimate": "31"}), build),
            (f"choose/wheel/{wheel.pk}/", "wheel", ({"note": "one"}, {"lead_days": "31"}), wheel),
        ):
            one, two = self.opened(rest, what), self.opened(rest, what)
            for form, change in ((one, changes[0]), (two, changes[1])):
                answer = self.send(rest, form | change)
                self.assertEqual(answer.status_code, 302, answer.context and answer.context["form"].errors)
            row.refresh_from_db()
            self.assertEqual(row.note, "one", rest)

    def test_a_form_without_what_was_seen_acts_as_ever(self):
        sent = self.opened("", "car") | {"car-event_name": "Third", "car-seen": "{not json"}
        self.assertEqual(self.send("", sent).status_code, 302)


class Undone(ScenarioCase):
    def test_a_removed_car_comes_back_whole(self):
        counts = {
            model: model.objects.count() for model in (Car, Axle, OutfitAxle, Reading, Wheel, Tyre, Job, Photo, Series)
        }
        self.client.post(self.url("remove/"), {"confirm": self.car.nickname})
        self.assertFalse(Car.objects.filter(pk=self.car.pk).exists())
        undo(self.user, last_change(self.user).pk)
        self.assertEqual({model: model.objects.count() for model in counts}, counts)
        for rest in ("measure/", "choose/", "check/FL/", "plan/", "fit/", "prove/", ""):
            self.page(rest)


class Tidied(ScenarioCase):
    def setUp(self):
        super().setUp()
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        # Other processes of the test keep their pictures elsewhere.
        self.enterContext(override_settings(MEDIA_ROOT=folder.name))

    def photo(self):
        job = Job.objects.filter(car=self.car).first()
        raw = io.BytesIO()
        Image.new("RGB", (40, 30), "grey").save(raw, "PNG")
        return keep_photo(job, None, raw.getvalue(), "")

    def age(self, photo):
        """As if it had been kept yesterday."""
        path = Path(photo.image.path)
        os.utime(path, (time.time() - 90_000,) * 2)
        return path

    def test_a_removed_photo_stays_until_it_cant_be_undone(self):
        photo = self.photo()
        path = self.age(photo)
        tidy()
        self.assertTrue(path.exists(), "a row speaks of it")
        self.client.post(self.url(f"fit/photo/{photo.pk}/remove/"))
        tidy()
        self.assertTrue(path.exists(), "it can be undone")
        undo(self.user, last_change(self.user).pk)
        self.assertEqual(self.client.get(self.url(f"fit/photo/{photo.pk}/")).status_code, 200)
        self.client.post(self.url(f"fit/photo/{photo.pk}/remove/"))
        Change.objects.update(made_at=timezone.now() - timedelta(hours=3))
        self.assertEqual(tidy()["files"], 1)
        self.assertFalse(path.exists())

    def test_files_nobody_speaks_of_go_but_not_the_newest(self):
        name = default_storage.save("photos/stray.jpg", io.BytesIO(b"x"))
        path = Path(settings.MEDIA_ROOT, name)
        tidy()
        self.assertTrue(path.exists())
        os.utime(path, (time.time() - 90_000,) * 2)
        tidy()
        self.assertFalse(path.exists())


class Pictures(ScenarioCase):
    def test_too_many_pixels_are_refused_before_they_are_read(self):
        raw = io.BytesIO()
        Image.new("L", (5100, 5000)).save(raw, "PNG")
        with self.assertRaisesRegex(BadInput, "26 million pixels"):
            clean_picture(raw.getvalue())

    def test_a_picture_held_sideways_is_turned(self):
        raw, held = io.BytesIO(), Image.Exif()
        held[0x0112] = 6
        wide = Image.new("RGB", (60, 20), "white")
        wide.paste("black", (0, 0, 20, 20))
        wide.save(raw, "JPEG", exif=held, quality=95)
        kept, size = clean_picture(raw.getvalue())
        self.assertEqual(size, (20, 60))
        turned = Image.open(io.BytesIO(kept)).convert("L")
        self.assertLess(turned.getpixel((10, 5)), 60)
        self.assertGreater(turned.getpixel((10, 55)), 200)

    def test_the_largest_picture_takes_little_memory(self):
        # the kernel's mark of this process alone: what getrusage says begins with what its parent held
        script = (
            "import io, re, django; from pathlib import Path; from PIL import Image; django.setup();"
            "peak_kb = lambda: int(re.search(r'VmHWM:\\s+(\\d+)', Path('/proc/self/status').read_text())[1]);"
            "from shell.pictures import clean_picture; raw = io.BytesIO();"
            "Image.new('1', (5000, 5000)).convert('P').save(raw, 'PNG');"
            "before_kb = peak_kb(); clean_picture(raw.getvalue());"
            "print(before_kb, peak_kb())"
        )
        done = subprocess.run(
            [sys.executable, "-c", script], capture_output=True, text=True, check=True, cwd=settings.BASE_DIR
        )
        before_kb, peak_kb = map(int, done.stdout.split())
        self.assertLess(peak_kb - before_kb, 50_000)
        self.assertLess(peak_kb, 300_000)


class TooLarge(ScenarioCase):
    def test_too_much_typed_and_too_large_a_file(self):
        client = Client(raise_request_exception=False)
        client.force_login(self.user)
        typed = client.post(
            self.url("choose/"), "line=" + "x" * (5 * 1024 * 1024), content_type="application/x-www-form-urlencoded"
        )
        self.assertContains(typed, "larger than any page here takes", status_code=413)
        whole = client.post(
            self.url("choose/"), b"", content_type="application/octet-stream", CONTENT_LENGTH=str(17 * 1024 * 1024)
        )
        self.assertContains(whole, "larger than any page here takes", status_code=413)
        for megabytes, status in ((100, 422), (125, 413)):
            sent = client.post(
                self.url("logs/add/"),
                b"",
                content_type="application/octet-stream",
                CONTENT_LENGTH=str(megabytes * 1024 * 1024),
            )
            self.assertEqual(sent.status_code, status, megabytes)


class FullDisk(ScenarioCase):
    def test_it_is_named_wherever_it_shows(self):
        client = Client(raise_request_exception=False)
        client.force_login(self.user)
        full = OperationalError("database or disk is full")
        for place in ("shell.middleware._first", "shelf.services.add_line"):
            with (
                self.subTest(place=place),
                mock.patch(place, side_effect=full),
                self.assertLogs("django.request", "ERROR"),
            ):
                answer = client.post(self.url("choose/"), LINE | {"once": "a-token-of-sixteen-or-more"})
                self.assertContains(answer, "is full, so nothing can be kept", status_code=507)
        with (
            mock.patch("shelf.services.add_line", side_effect=RuntimeError("ours")),
            self.assertLogs("django.request", "ERROR"),
        ):
            self.assertContains(client.post(self.url("choose/"), LINE), "The fault is ours", status_code=500)
