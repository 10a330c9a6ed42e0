from django.urls import path

from jobs.api import views

urlpatterns = [
    path("jobs/<uuid:id>", views.JobView.as_view()),
    path("jobs/<uuid:id>/file", views.JobFileView.as_view()),
]
