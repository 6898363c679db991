from django.apps import AppConfig


class ShelfConfig(AppConfig):
    name = "shelf"
