from django.apps import AppConfig


class OperationsConfig(AppConfig):
    name = "operations"
    label = "season"  # of its tables, since the first release
