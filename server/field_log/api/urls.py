from django.urls import path

from field_log.api import views

urlpatterns = [
    path("trials/<uuid:id>/log", views.LogView.as_view()),
    path("trials/<uuid:id>/log/<uuid:entry>", views.EntryView.as_view()),
    path("trials/<uuid:id>/log/<uuid:entry>/photographs/<uuid:photograph>", views.EntryPhotographView.as_view()),
    path("trials/<uuid:id>/kill-limit", views.KillLimitView.as_view()),
    path("trials/<uuid:id>/kills", views.KillsView.as_view()),
    path("trials/<uuid:id>/kills/<uuid:operation>/checks", views.KillChecksView.as_view()),
    path("trials/<uuid:id>/kills/<uuid:operation>/<str:day>", views.LivingView.as_view()),
]
