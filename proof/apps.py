from django.apps import AppConfig


class ProofConfig(AppConfig):
    name = "proof"

    def ready(self) -> None:
        from proof import honest, queries
        from shell import board
        from workshop.services import job_finished

        board.put_stage("prove", "prove", queries.share_proved)
        job_finished.connect(honest.learn, dispatch_uid="learn from what was predicted")
