from django.apps import AppConfig


class RecordsConfig(AppConfig):
    name = "records"
