from django.apps import AppConfig


class GarageConfig(AppConfig):
    name = "garage"

    def ready(self) -> None:
        from garage.readings import queries
        from shell import board

        board.put_stage("measure", "measure", queries.share_measured)
