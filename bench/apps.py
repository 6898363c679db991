from django.apps import AppConfig


class BenchConfig(AppConfig):
    name = "bench"

    def ready(self) -> None:
        from planner.board import share_checked
        from shell import board

        board.put_stage("check", "check-start", share_checked)
