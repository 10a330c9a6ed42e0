from django.urls import path

from sample_photographs.api import views

urlpatterns = [
    path("visits/<uuid:id>/photographs", views.VisitPhotographsView.as_view()),
    path("visits/<uuid:id>/photographs/<uuid:photograph>", views.VisitPhotographView.as_view()),
    path("photographs/<uuid:id>/cover", views.CoverView.as_view()),
    path("photographs/<uuid:id>/cover/picture", views.CoverPictureView.as_view()),
]
