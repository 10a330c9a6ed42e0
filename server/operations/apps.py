from django.apps import AppConfig


class OperationsConfig(AppConfig):
    name = "operations"
    label = "season"  # of its tables, since the first release

    def ready(self) -> None:
        from operations import following  # noqa: F401  (forecasts follow weather and measurements)
