"""What no text holds, and what no database takes, is told in words or left out."""

import uuid
from unittest.mock import patch

from django.contrib.messages import get_messages
from django.db import DataError
from django.test import RequestFactory, SimpleTestCase

from garage.car.models import Car
from rimtally.postgres.base import kind_of
from shell.merge import SEEN
from shell.middleware import WithoutNul
from shell.tests.base import ScenarioCase


class Nought(SimpleTestCase):
    def test_it_is_left_out_of_what_is_asked_and_nothing_else_is(self):
        seen = []
        WithoutNul(lambda request: seen.append(request.GET))(RequestFactory().get("/?words=a%00b&words=c&page=2"))
        WithoutNul(lambda request: seen.append(request.GET))(RequestFactory().get("/?words=a%20b"))
        self.assertEqual(
            [dict(one.lists()) for one in seen], [{"words": ["ab", "c"], "page": ["2"]}, {"words": ["a b"]}]
        )


class NotSaved(ScenarioCase):
    def test_what_the_database_does_not_take_is_no_fault(self):
        with patch("garage.car.views.queries.cars_of", side_effect=DataError("value too long for type")):
            answer = self.client.post("/", {"words": "x"}, headers={"referer": self.url("plan/")})
        self.assertRedirects(answer, self.url("plan/"), fetch_redirect_response=False)
        self.assertIn("too long", str(next(iter(get_messages(answer.wsgi_request)))))

    def test_what_came_before_it_in_the_same_form_is_not_kept(self):
        def writes_half(*_):
            Car.objects.filter(pk=self.car.pk).update(nickname="half")
            raise DataError("value too long for type")

        with patch("garage.car.views.queries.cars_of", side_effect=writes_half):
            answer = self.client.post("/", {SEEN: "{}"})
        self.assertEqual(answer.status_code, 302)
        self.assertFalse(Car.objects.filter(nickname="half").exists())

    def test_what_waited_without_a_connection_is_refused_once_and_for_all(self):
        told = {"X-Tally-Key": str(uuid.uuid4()), "X-Tally-User": str(self.user.pk)}
        with patch("garage.car.views.queries.cars_of", side_effect=DataError("value too long for type")):
            answer = self.client.post("/", {}, headers=told)
        self.assertEqual((answer.status_code, answer.json()["state"]), (422, "refused"))
        self.assertIn("too long", answer.json()["why"])


class Kinds(SimpleTestCase):
    def test_only_what_a_constraint_compares_loses_the_order_of_its_keys(self):
        self.assertEqual(
            {name: kind_of({"name": name}) for name in ("values", "where")}, {"values": "jsonb", "where": "json"}
        )
