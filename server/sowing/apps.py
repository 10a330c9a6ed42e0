from django.apps import AppConfig


class SowingConfig(AppConfig):
    name = "sowing"
