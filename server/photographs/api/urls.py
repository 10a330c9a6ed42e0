from django.urls import path

from photographs.api import views

urlpatterns = [
    path("photographs/<uuid:id>", views.PhotographView.as_view()),
    path("photographs/<uuid:id>/preview", views.PreviewView.as_view()),
]
