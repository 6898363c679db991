from django.apps import AppConfig


class WorkshopConfig(AppConfig):
    name = "workshop"

    def ready(self) -> None:
        from garage.told import wheels_put_on
        from planner import done
        from shell import board
        from workshop import queries, services

        done.give(queries.done_of, services.snag_of_claim)
        wheels_put_on.connect(services.nuts_of_set, dispatch_uid="nuts of a set")
        board.put_cell("open", queries.open_cell)
        board.put_stage("fit", "fit", queries.share_fitted)
