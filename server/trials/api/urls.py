from django.urls import path

from trials.api import confounding, importing, layout, views, zones

urlpatterns = [
    path("trials", views.TrialsView.as_view()),
    path("trials/<uuid:id>", views.TrialView.as_view()),
    path("trials/<uuid:id>/archive", views.ArchiveView.as_view()),
    path("trials/<uuid:id>/ask", views.AskView.as_view()),
    path("trials/<uuid:id>/plan", views.PlanView.as_view()),
    path("trials/<uuid:id>/plan/file", importing.LayoutFileView.as_view()),
    path("trials/<uuid:id>/layout", layout.LayoutView.as_view()),
    path("trials/<uuid:id>/layout/check", layout.LayoutCheckView.as_view()),
    path("trials/<uuid:id>/layout/outline", layout.OutlineView.as_view()),
    path("trials/<uuid:id>/zones", zones.ZonesView.as_view()),
    path("trials/<uuid:id>/swap", views.SwapView.as_view()),
    path("trials/<uuid:id>/copy", views.CopyView.as_view()),
    path("templates", views.TemplatesView.as_view()),
    path("crossing", views.CrossingView.as_view()),
    path("confounding", confounding.ConfoundingView.as_view()),
    path("aspects", confounding.AspectsView.as_view()),
    path("workspaces/<uuid:id>/equipment", views.EquipmentView.as_view()),
    path("sites", views.SitesView.as_view()),
    path("measures/<uuid:id>", views.TrialMeasureView.as_view()),
]
