from django.urls import path

from records.api import views

urlpatterns = [
    path("uploads", views.UploadsView.as_view()),
    path("uploads/<uuid:id>/check", views.CheckView.as_view()),
    path("uploads/<uuid:id>/trial", views.AcceptView.as_view()),
    path("observations/<uuid:id>", views.ObservationView.as_view()),
]
