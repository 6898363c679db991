"""Alive and ready: without signing in, without a session, and never ready on a database of another version."""

from unittest.mock import patch

from django.db import DatabaseError
from django.test import TestCase

from exchange import health


class Watched(TestCase):
    def test_alive_asks_nothing_of_the_database(self):
        with self.assertNumQueries(0):
            answer = self.client.get("/healthz")
        self.assertEqual((answer.status_code, answer.content), (200, b"alive\n"))
        self.assertFalse(answer.cookies)
        self.assertEqual(self.client.post("/healthz").status_code, 405)
        self.assertEqual(self.client.head("/healthz").content, b"")

    def test_ready_on_this_version_alone(self):
        self.assertEqual(self.client.get("/readyz").status_code, 200)
        with patch("exchange.health.wanted", return_value=health.wanted() | {("garage", "9999_later")}):
            answer = self.client.get("/readyz")
        self.assertEqual((answer.status_code, answer.content), (503, b"the database is of another version\n"))
        with patch("exchange.health.MigrationRecorder", side_effect=DatabaseError("gone")):
            answer = self.client.get("/readyz")
        self.assertEqual((answer.status_code, answer.content), (503, b"the database does not answer\n"))
