from django.apps import AppConfig


class BackupsConfig(AppConfig):
    name = "backups"
