from django.urls import path

from reports.api import views

urlpatterns = [
    path("trials/<uuid:id>/report", views.SeasonReportView.as_view()),
    path("trials/<uuid:id>/files", views.FilesView.as_view()),
    path("trials/<uuid:id>/stake-out.csv", views.StakeOutView.as_view()),
    path("trials/<uuid:id>/plots.geojson", views.OutlinesView.as_view()),
]
