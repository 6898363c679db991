from django.apps import AppConfig


class ShellConfig(AppConfig):
    name = "shell"
    verbose_name = "Shell"

    def ready(self) -> None:
        from shell import limits, undo

        undo.connect()
        limits.hold_all()
