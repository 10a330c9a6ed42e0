from django.urls import path

from weather.api import views

urlpatterns = [
    path("trials/<uuid:id>/weather", views.WeatherView.as_view()),
    path("trials/<uuid:id>/weather/station", views.StationView.as_view()),
    path("trials/<uuid:id>/weather/days/<str:day>", views.DayView.as_view()),
    path("trials/<uuid:id>/weather/file", views.FileView.as_view()),
    path("trials/<uuid:id>/weather/fetch", views.FetchView.as_view()),
    path("trials/<uuid:id>/weather/services/<uuid:service>", views.ServiceView.as_view()),
    path("trials/<uuid:id>/weather/services/<uuid:service>/stations", views.ServiceStationsView.as_view()),
]
