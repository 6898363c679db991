from django.apps import AppConfig


class ShelfConfig(AppConfig):
    name = "shelf"

    def ready(self) -> None:
        from garage import file, inhand
        from shelf import queries
        from shell import board

        file.load_with(queries.load, "wheels", "tyres", "parts")
        inhand.wait_for(queries.waiting)
        board.put_stage("choose", "choose", queries.share_chosen)
