from django.urls import path

from readings.api import views

urlpatterns = [
    path("trials/<uuid:id>/outlook", views.OutlookView.as_view()),
    path("trials/<uuid:id>/carry-over", views.CarryOverView.as_view()),
    path("trials/<uuid:id>/rehearsals", views.RehearsalsView.as_view()),
    path("rehearsals/<uuid:id>", views.RehearsalView.as_view()),
    path("trials/<uuid:id>/results", views.ResultsView.as_view()),
    path("trials/<uuid:id>/readings", views.ReadingsView.as_view()),
    path("trials/<uuid:id>/answers", views.AnswersView.as_view()),
]
