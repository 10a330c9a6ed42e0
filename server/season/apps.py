from django.apps import AppConfig


class SeasonConfig(AppConfig):
    name = "season"
