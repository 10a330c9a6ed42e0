from django.apps import AppConfig


class SamplePhotographsConfig(AppConfig):
    name = "sample_photographs"
