from django.apps import AppConfig


class FieldLogConfig(AppConfig):
    name = "field_log"
