from django.urls import path

from sample_photographs.api import counting, views

urlpatterns = [
    path("visits/<uuid:id>/photographs", views.VisitPhotographsView.as_view()),
    path("visits/<uuid:id>/photographs/<uuid:photograph>", views.VisitPhotographView.as_view()),
    path("photographs/<uuid:id>/cover", views.CoverView.as_view()),
    path("photographs/<uuid:id>/cover/picture", views.CoverPictureView.as_view()),
    path("photographs/<uuid:id>/count", counting.PhotoCountView.as_view()),
    path("photographs/<uuid:id>/corners", counting.FrameCornersView.as_view()),
    path("photographs/<uuid:id>/ruler", counting.RulerView.as_view()),
    path("trials/<uuid:id>/plots/<uuid:plot>/photographs", views.PlotPhotographsView.as_view()),
    path("photographs/<uuid:id>/straight", counting.StraightPictureView.as_view()),
    path("photographs/<uuid:id>/suggested-marks", counting.SuggestedMarksView.as_view()),
    path("photographs/<uuid:id>/lengths/<uuid:length>", counting.PhotoLengthView.as_view()),
]
