"""The room of the help."""

from django.apps import AppConfig


class ManualConfig(AppConfig):
    name = "manual"
