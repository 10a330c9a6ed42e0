from django.apps import AppConfig


class RecordsConfig(AppConfig):
    name = "records"

    def ready(self) -> None:
        from records import import_job  # noqa: F401  (makes its kind of job known)
