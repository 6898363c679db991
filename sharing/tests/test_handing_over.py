"""A car changes hands: accepted there, with or without prices and notes, and what the first owner keeps."""

from datetime import timedelta

from django.contrib.auth.models import User
from django.test import Client
from django.urls import reverse
from django.utils import timezone

from exchange.cars import rows_of_car
from exchange.tests.test_cars import plain
from garage.car.models import Car
from garage.readings.models import Reading
from planner.dates.models import ReceiptPicture
from rimcore.quantities.errors import BadInput
from sharing.models import HandOver, Helper, Link
from sharing.services import accept
from shell.tests.base import ScenarioCase
from workshop.models import Photo


class HandingOver(ScenarioCase):
    def setUp(self):
        super().setUp()
        self.next = User.objects.create_user("next", password="long enough a word")
        self.theirs = Client()
        self.theirs.force_login(self.next)

    def offer(self, **values):
        sent = {"what-form": "over", "over-name": "next", "over-keep": "copy", **values}
        self.assertEqual(self.client.post(self.url("share/"), sent).status_code, 302)
        return HandOver.objects.get()

    def answer(self, one, word="take", client=None):
        return (client or self.theirs).post(reverse("offer-answer", args=[one.pk]), {"answer": word})

    def test_nothing_moves_before_it_is_taken(self):
        one = self.offer()
        self.assertEqual(Car.objects.filter(owner=self.next).count(), 0)
        self.assertContains(self.theirs.get(reverse("others")), self.car.nickname)
        self.assertEqual(self.answer(one, client=self.client).status_code, 404, "the owner can't take it for another")
        self.answer(one, "leave")
        self.assertEqual((HandOver.objects.count(), Car.objects.filter(owner=self.next).count()), (0, 0))

    def test_whole_with_a_copy_that_is_only_read(self):
        before = plain(self.car)
        Helper.objects.create(car=self.car, person=User.objects.create_user("third"), role="works")
        Link.objects.create(car=self.car, what="book", chapters=["car"], until=timezone.localdate())
        self.answer(self.offer(**{"over-money": "on", "over-notes": "on"}))
        taken = Car.objects.get(owner=self.next)
        self.assertEqual(plain(taken), before)
        self.assertEqual(self.theirs.get(f"/car/{taken.pk}/plan/").status_code, 200)
        self.assertContains(self.page("measure/"), "A copy to read")
        count = Reading.objects.filter(car=self.car).count()
        answer = self.client.post(
            self.url("measure/FL/bump/"), {"method": "rule", "taken_on": "2026-11-01", "value": "61"}
        )
        self.assertEqual(answer.status_code, 403)
        self.assertEqual(Reading.objects.filter(car=self.car).count(), count)
        photo = Photo.objects.filter(job__car=self.car).first()
        self.assertEqual(self.client.post(self.url(f"fit/photo/{photo.pk}/remove/")).status_code, 403)
        self.assertTrue(Photo.objects.filter(pk=photo.pk).exists())
        self.assertEqual((Helper.objects.count(), Link.objects.count(), HandOver.objects.count()), (0, 0, 0))
        self.client.post(self.url("remove/"), {"confirm": self.car.nickname})
        self.assertFalse(Car.objects.filter(pk=self.car.pk).exists())

    def test_nothing_kept(self):
        self.answer(self.offer(**{"over-keep": "nothing", "over-money": "on", "over-notes": "on"}))
        self.assertFalse(Car.objects.filter(pk=self.car.pk).exists())
        self.assertEqual(Car.objects.filter(owner=self.next).count(), 1)

    def test_pressed_in_two_windows_it_is_taken_once(self):
        one = self.offer()
        accept(one)
        with self.assertRaisesRegex(BadInput, "already"):
            accept(one)
        self.assertEqual(Car.objects.filter(owner=self.next).count(), 1)

    def test_without_prices_and_notes(self):
        Car.objects.filter(pk=self.car.pk).update(description="stands at 4 Mill Lane")
        self.answer(self.offer())
        taken = Car.objects.get(owner=self.next)
        for model, rows in rows_of_car(taken).items():
            for row in rows:
                for column in model._meta.concrete_fields:
                    if column.name.endswith("_minor"):
                        self.assertIn(getattr(row, column.name), (None, 0), column)
                    elif column.name in ("note", "description"):
                        self.assertEqual(getattr(row, column.name), "", column)
        self.assertFalse(ReceiptPicture.objects.filter(choice__build__car=taken).exists())
        promised = [one.code for job in taken.jobs.all() for one in job.promises.all()]
        self.assertTrue(promised)
        self.assertNotIn("work.money", promised)
        for rest in ("measure/", "choose/", "plan/", "fit/", "prove/", "prove/book/"):
            self.assertEqual(self.theirs.get(f"/car/{taken.pk}/{rest}").status_code, 200, rest)

    def test_an_offer_that_is_over_moves_nothing(self):
        one = self.offer()
        HandOver.objects.update(until=timezone.localdate() - timedelta(days=1))
        self.assertNotContains(self.theirs.get(reverse("others")), self.car.nickname)
        self.answer(one)
        self.assertEqual(Car.objects.filter(owner=self.next).count(), 0)

    def test_taken_back(self):
        one = self.offer()
        self.client.post(self.url("share/offer/"))
        self.assertEqual(self.answer(one).status_code, 404)
