from django.apps import AppConfig


class BenchConfig(AppConfig):
    name = "bench"

    def ready(self) -> None:
        from bench.inhand import Builds
        from garage import inhand
        from planner.board import share_checked
        from shell import board

        board.put_stage("check", "check-start", share_checked)
        inhand.give(Builds())
