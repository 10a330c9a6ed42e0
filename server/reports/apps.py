from django.apps import AppConfig


class ReportsConfig(AppConfig):
    name = "reports"

    def ready(self) -> None:
        from reports import files  # noqa: F401  (makes its kind of job known)
