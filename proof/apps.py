from django.apps import AppConfig


class ProofConfig(AppConfig):
    name = "proof"
