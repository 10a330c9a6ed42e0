"""All addresses."""

from django.urls import include, path, re_path
from drf_spectacular.views import SpectacularAPIView

from config import pages

handler400, handler404, handler500 = "config.pages.wrong", "config.pages.not_there", "config.pages.fault"
urlpatterns = [
    path("api/v1/health", pages.health),
    path("api/v1/schema", SpectacularAPIView.as_view()),
    path("api/v1/", include("crew.api.urls")),
    path("api/v1/", include("jobs.api.urls")),
    path("api/v1/", include("trials.api.urls")),
    path("api/v1/", include("library.api.urls")),
    path("api/v1/", include("weather.api.urls")),
    path("api/v1/", include("records.api.urls")),
    path("api/v1/", include("operations.api.urls")),
    path("api/v1/", include("calendars.api.urls")),
    path("api/v1/", include("photographs.api.urls")),
    path("api/v1/", include("sample_photographs.api.urls")),
    path("api/v1/", include("field_log.api.urls")),
    path("api/v1/", include("sowing.api.urls")),
    path("api/v1/", include("readings.api.urls")),
    path("api/v1/", include("reports.api.urls")),
    path("favicon.svg", pages.favicon),
    path("sw.js", pages.worker),
    path("manifest.webmanifest", pages.manifest),
    re_path(r"^(?!api/|static/|admin/|sw\.js|favicon).*$", pages.index),
]
