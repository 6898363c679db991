from django.apps import AppConfig


class ShelfConfig(AppConfig):
    name = "shelf"

    def ready(self) -> None:
        from garage import file
        from shelf import queries
        from shell import board

        file.load_with(queries.load, "wheels", "tyres", "parts")
        board.put_stage("choose", "choose", queries.share_chosen)
