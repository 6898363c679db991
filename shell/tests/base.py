"""A signed-in person with the demo scenario."""

import re

from django.contrib.auth.models import User
from django.test import TestCase, override_settings

from garage.file import open_file
from shell import kept
from shell.tests.laid_down import laid_down

#: every page asks for all its rows, as the first one does
read_anew = override_settings(KEEP_READ=False)


def shown(text):
    """A text with its white space as a browser shows it: one space for any run of it."""
    if isinstance(text, bytes):
        text = text.decode(errors="replace")
    return re.sub(r"\s+", " ", str(text))


class ScenarioCase(TestCase):
    """The demo scenario, laid down once a class; ``self.url`` fills the car in."""

    @classmethod
    def setUpTestData(cls):
        cls.car = laid_down()
        cls.user = cls.car.owner

    def setUp(self):
        # What a test wrote was rolled back: the database goes on from the revision of before it.
        kept.forget()
        self.client.force_login(self.user)

    def url(self, rest):
        return f"/car/{self.car.pk}/{rest}"

    def page(self, rest, status=200):
        response = self.client.get(self.url(rest))
        self.assertEqual(response.status_code, status, rest)
        return response

    def fragment(self, rest, status=200):
        """A part of a page, as htmx asks for it."""
        response = self.client.get(self.url(rest), headers={"HX-Request": "true"})
        self.assertEqual(response.status_code, status, rest)
        return response

    def file(self):
        return open_file(self.user, self.car.pk)

    def _assert_contains(self, response, text, status_code, msg_prefix, html):
        """White space as a browser shows it: a line of a template may end anywhere between two words."""
        told = super()._assert_contains(response, text, status_code, msg_prefix, html)
        if html or response.streaming:
            return told
        return told[0], shown(response.content).count(shown(text)), *told[2:]

    @staticmethod
    def person(name="jory"):
        return User.objects.create_user(name, password="a-long-enough-word")
