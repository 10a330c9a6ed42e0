from django.urls import path

from sowing.api import views

urlpatterns = [
    path("trials/<uuid:id>/sow", views.SowView.as_view()),
    path("trials/<uuid:id>/sow/drill", views.DrillView.as_view()),
    path("trials/<uuid:id>/sow/spreader", views.SpreaderView.as_view()),
    path("trials/<uuid:id>/sow/tank", views.TankView.as_view()),
    path("trials/<uuid:id>/sow/tests/<uuid:test>", views.TestView.as_view()),
    path("trials/<uuid:id>/sow/bags/<str:plot>", views.BagView.as_view()),
    path("trials/<uuid:id>/sow/placed/<str:plot>", views.PlacedView.as_view()),
    path("trials/<uuid:id>/sow/decisions/<uuid:decision>", views.DecisionView.as_view()),
    path("visits/<uuid:id>/standing", views.StandingView.as_view()),
    path("trials/<uuid:id>/sow/sowings/<uuid:sowing>", views.SowingView.as_view()),
]
