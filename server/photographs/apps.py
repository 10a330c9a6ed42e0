from django.apps import AppConfig


class PhotographsConfig(AppConfig):
    name = "photographs"
