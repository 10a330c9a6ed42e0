from django.apps import AppConfig


class CrewConfig(AppConfig):
    name = "crew"
