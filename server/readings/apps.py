from django.apps import AppConfig


class ReadingsConfig(AppConfig):
    name = "readings"

    def ready(self) -> None:
        from readings import rehearsals  # noqa: F401  (makes its kind of job known)
