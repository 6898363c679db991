"""Helpers: what each role reads and writes of one car, who did it, and nothing of the owner's other cars."""

import re

from django.contrib.auth.models import User
from django.test import Client
from django.urls import reverse

from demo.tests.test_access import every_pattern
from garage.car.models import Car
from garage.person.models import Preferences
from garage.readings.models import Reading
from sharing.helping import may
from sharing.models import Helper
from shell.models import Deed
from shell.tests.base import ScenarioCase, shown

READING = {"method": "rule", "taken_on": "2026-11-01", "value": "61"}


class Helping(ScenarioCase):
    def setUp(self):
        super().setUp()
        self.friend = User.objects.create_user("friend", password="long enough a word")
        self.theirs = Client()
        self.theirs.force_login(self.friend)

    def helps(self, role):
        return Helper.objects.update_or_create(car=self.car, person=self.friend, defaults={"role": role})[0]

    def get(self, rest, status=200):
        answer = self.theirs.get(self.url(rest))
        self.assertEqual(answer.status_code, status, rest)
        return answer

    def test_a_stranger_sees_nothing_and_a_helper_the_car(self):
        self.get("measure/", 404)
        sent = {"what-form": "helper", "helper-name": "friend", "helper-role": "looks"}
        self.client.post(self.url("share/"), sent)
        for rest in ("measure/", "choose/", "plan/", "fit/", "prove/", "prove/book/"):
            self.assertContains(self.get(rest), "you help with it")
        self.client.post(self.url(f"share/helper/{Helper.objects.get().pk}/"))
        self.get("measure/", 404)

    def test_looking_writes_nothing(self):
        self.helps("looks")
        count = Reading.objects.count()
        answer = self.theirs.post(self.url("measure/FL/bump/"), READING)
        self.assertContains(answer, "Not yours to change", status_code=403)
        self.assertEqual(Reading.objects.count(), count)

    def test_measuring_is_written_down_under_the_helpers_name(self):
        self.helps("works")
        count = Reading.objects.filter(car=self.car).count()
        self.theirs.post(self.url("measure/FL/bump/"), READING)
        self.assertEqual(Reading.objects.filter(car=self.car).count(), count + 1)
        self.assertEqual(Deed.objects.filter(car_number=self.car.pk).first().person, self.friend)
        self.assertContains(self.page("share/"), "friend")
        self.assertEqual(self.theirs.post(self.url("choose/"), {"line": "17x8 +40"}).status_code, 403)

    def test_planning_writes_parts_and_builds_and_not_what_is_the_owners(self):
        self.helps("plans")
        self.assertNotEqual(self.theirs.post(self.url("choose/"), {"line": "17x8 +40"}).status_code, 403)
        for rest in ("share/", "export/", "lists/"):
            self.get(rest, 403)
        for rest in ("", "remove/", "share/"):
            answer = self.theirs.post(self.url(rest), {"confirm": self.car.nickname, "what": "car"})
            self.assertEqual(answer.status_code, 403, rest)
        self.assertTrue(Car.objects.filter(pk=self.car.pk).exists())

    def test_every_address_of_the_other_cars_stays_closed(self):
        self.helps("plans")
        other = Car.objects.filter(owner=self.user).exclude(pk=self.car.pk).first()
        for rest in ("", "measure/", "choose/", "plan/", "fit/", "prove/", "share/", "export/"):
            self.assertEqual(self.theirs.get(f"/car/{other.pk}/{rest}").status_code, 404, rest)
        for page in ("measure/", "choose/", "plan/", "fit/", "prove/"):
            told = shown(self.get(page).content)
            for one in Car.objects.filter(owner=self.user).exclude(pk=self.car.pk):
                self.assertNotIn(one.nickname, told, page)
                self.assertNotIn(f"/car/{one.pk}/", told, page)

    def test_every_address_of_a_car_belongs_to_a_role(self):
        """An address that a new room brings is the owner's alone to write, until a role is given it."""
        written = {
            pattern.name
            for pattern in every_pattern()
            if str(pattern.pattern).startswith("car/<int:car_id>/")
            and may("plans", "POST", "/" + str(pattern.pattern).replace("<int:car_id>", "1").split("<")[0])
        }
        self.assertIn("measure", written)
        self.assertIn("plan", written)
        self.assertFalse(written & {"share", "lists", "export-car", "car-remove", "car"}, written)

    def test_in_the_helpers_own_units_and_not_from_the_owners_kept_page(self):
        Preferences.objects.create(
            user=self.friend, **dict(zip(Preferences.UNITS, Preferences.PRESETS["imperial"], strict=True))
        )
        self.helps("looks")
        mine, theirs = shown(self.page("plan/").content), shown(self.get("plan/").content)
        weight = re.compile(r'Weight</div> <div class="figure">[^<]+<small> (\w+)<')
        self.assertEqual((weight.search(mine)[1], weight.search(theirs)[1]), ("kg", "lb"))
        self.user.preferences.refresh_from_db()
        self.assertEqual(self.user.preferences.mass_unit, "kg")

    def test_undo_of_the_owner_is_not_offered_to_a_helper(self):
        self.client.post(self.url("measure/FL/bump/"), READING)
        self.helps("works")
        self.assertNotContains(self.get("measure/"), "/undo/")

    def test_in_their_garage_and_left_again(self):
        one = self.helps("works")
        self.assertContains(self.theirs.get(reverse("others")), self.car.nickname)
        self.theirs.post(reverse("leave-car", args=[one.pk]))
        self.assertNotContains(self.theirs.get(reverse("others")), self.car.nickname)
        self.get("measure/", 404)

    def test_nobody_by_that_name_and_oneself_are_refused_in_words(self):
        for name, words in (("nobody-here", "of no account"), (self.user.username, "your own account")):
            answer = self.client.post(
                self.url("share/"), {"what-form": "helper", "helper-name": name, "helper-role": "looks"}
            )
            self.assertContains(answer, words, status_code=422)
            self.assertContains(answer, f'value="{name}"', status_code=422)
        self.assertEqual(Helper.objects.count(), 0)
