from django.apps import AppConfig


class ShellConfig(AppConfig):
    name = "shell"
    verbose_name = "Shell"

    def ready(self) -> None:
        from django.db.models.signals import post_migrate, pre_migrate

        from shell import limits, revision, undo

        undo.connect()
        limits.hold_all()
        pre_migrate.connect(revision.drop, sender=self, dispatch_uid="revision-drop")
        post_migrate.connect(revision.install, sender=self, dispatch_uid="revision-install")
