from django.apps import AppConfig


class GarageConfig(AppConfig):
    name = "garage"

    def ready(self) -> None:
        from garage import air_services, chassis, masses, queries
        from shell import board

        chassis.register()
        masses.register()
        air_services.register()
        board.put_stage("measure", "measure", queries.share_measured)
