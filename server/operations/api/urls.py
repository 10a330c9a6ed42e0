from django.urls import path

from operations.api import views

urlpatterns = [
    path("trials/<uuid:id>/season", views.SeasonView.as_view()),
    path("trials/<uuid:id>/operations/<uuid:operation>", views.OperationView.as_view()),
    path("trials/<uuid:id>/visit-series/<uuid:series>", views.VisitSeriesView.as_view()),
    path("trials/<uuid:id>/kill-windows", views.KillWindowsView.as_view()),
    path("trials/<uuid:id>/stages", views.StagesView.as_view()),
    path("trials/<uuid:id>/stages/<uuid:stage>", views.StageView.as_view()),
    path("trials/<uuid:id>/kill-dates", views.KillDatesView.as_view()),
    path("day-list", views.DayListView.as_view()),
    path("today", views.TodayView.as_view()),
]
