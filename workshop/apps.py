from django.apps import AppConfig


class WorkshopConfig(AppConfig):
    name = "workshop"

    def ready(self) -> None:
        from garage import file
        from shell import board
        from workshop import queries

        file.load_with(queries.load, "jobs", "follow_ups", "clocked", "lost", "cures", "removed")
        board.put_cell("open", queries.open_cell)
        board.put_stage("fit", "fit", queries.share_fitted)
