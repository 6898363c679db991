from django.apps import AppConfig


class ShelfConfig(AppConfig):
    name = "shelf"

    def ready(self) -> None:
        from shelf import queries
        from shell import board

        board.put_stage("choose", "choose", queries.share_chosen)
