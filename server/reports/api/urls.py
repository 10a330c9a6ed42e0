from django.urls import path

from reports.api import views

urlpatterns = [
    path("trials/<uuid:id>/told", views.ToldView.as_view()),
    path("trials/<uuid:id>/page.pdf", views.PageView.as_view()),
    path("trials/<uuid:id>/package.zip", views.PackageView.as_view()),
    path("trials/<uuid:id>/stake-out.csv", views.StakeOutView.as_view()),
    path("trials/<uuid:id>/plots.geojson", views.OutlinesView.as_view()),
    path("trials/<uuid:id>/labels.pdf", views.LabelsView.as_view()),
    path("trials/<uuid:id>/map.pdf", views.MapView.as_view()),
]
