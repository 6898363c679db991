"""What no text holds, and what no database takes, is told in words or left out."""

from unittest.mock import patch

from django.contrib.messages import get_messages
from django.db import DataError
from django.test import RequestFactory, SimpleTestCase

from rimtally.postgres.base import kind_of
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


class Kinds(SimpleTestCase):
    def test_only_what_a_constraint_compares_loses_the_order_of_its_keys(self):
        self.assertEqual(
            {name: kind_of({"name": name}) for name in ("values", "where")}, {"values": "jsonb", "where": "json"}
        )
