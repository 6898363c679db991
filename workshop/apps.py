from django.apps import AppConfig


class WorkshopConfig(AppConfig):
    name = "workshop"

    def ready(self) -> None:
        from planner import done
        from shell import board
        from workshop import queries, services

        done.give(queries.done_of, services.snag_of_claim)
        board.put_cell("open", queries.open_cell)
        board.put_stage("fit", "fit", queries.share_fitted)
