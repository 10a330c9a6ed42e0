from django.apps import AppConfig


class WeatherConfig(AppConfig):
    name = "weather"

    def ready(self) -> None:
        from weather import fetching  # noqa: F401  (makes its kind of job known)
