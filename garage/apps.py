from django.apps import AppConfig


class GarageConfig(AppConfig):
    name = "garage"

    def ready(self) -> None:
        from garage import chassis, masses, queries
        from shell import board

        chassis.register()
        masses.register()
        board.put_stage("measure", "measure", queries.share_measured)
