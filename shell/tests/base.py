"""A signed-in person with the demo scenario."""

from django.contrib.auth.models import User
from django.test import TestCase

from garage.file import open_file
from shell.tests.laid_down import laid_down


class ScenarioCase(TestCase):
    """The demo scenario, laid down once a class; ``self.url`` fills the car in."""

    @classmethod
    def setUpTestData(cls):
        cls.car = laid_down()
        cls.user = cls.car.owner

    def setUp(self):
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

    @staticmethod
    def person(name="jory"):
        return User.objects.create_user(name, password="a-long-enough-word")
