"""A garage of many cars: in pages, found by words, and as quick as with three."""

from django.contrib.auth.models import User
from django.db import connection
from django.test import TestCase
from django.test.utils import CaptureQueriesContext

from garage.car.models import Car
from garage.car.queries import ROWS


class Many(TestCase):
    def setUp(self):
        self.user = User.objects.create_user("many", password="long enough a word")
        self.client.force_login(self.user)

    def cars(self, count):
        Car.objects.bulk_create(
            Car(owner=self.user, nickname=f"Car {k}", description="red estate" if k % 10 == 0 else "blue van")
            for k in range(count)
        )

    def asked(self, address="/"):
        with CaptureQueriesContext(connection) as queries:
            page = self.client.get(address)
        return len(queries), page

    def test_two_hundred_cars_ask_no_more_than_three(self):
        self.cars(3)
        few, _ = self.asked()
        self.cars(197)
        many, page = self.asked()
        self.assertEqual(few, many)
        self.assertEqual(page.content.count(b"garage-cells"), ROWS)
        self.assertContains(page, f"1 to {ROWS} of 200 cars")
        self.assertContains(self.client.get("/?page=8"), "176 to 200 of 200 cars")

    def test_found_by_words_whatever_they_are(self):
        self.cars(200)
        self.assertEqual(self.client.get("/?words=estate+RED").content.count(b"garage-cells"), 20)
        self.assertContains(self.client.get("/?words=tractor"), "No car has all of these words")
        for odd in ("%25", "_", "'", "%00x", "9" * 3000, "a " * 3000):
            self.assertEqual(self.client.get(f"/?words={odd}&page=zz").status_code, 200, odd[:9])

    def test_a_page_that_is_none_is_the_nearest(self):
        self.cars(30)
        for page in ("0", "-1", "999", "x", "9" * 400):
            self.assertEqual(self.client.get(f"/?page={page}").status_code, 200, page[:9])

    def test_nobody_elses(self):
        self.cars(30)
        other = User.objects.create_user("other", password="long enough a word")
        Car.objects.create(owner=other, nickname="Hidden estate")
        self.assertNotContains(self.client.get("/?words=hidden"), "Hidden")
