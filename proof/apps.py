from django.apps import AppConfig


class ProofConfig(AppConfig):
    name = "proof"

    def ready(self) -> None:
        from proof import queries
        from shell import board

        board.put_stage("prove", "prove", queries.share_proved)
