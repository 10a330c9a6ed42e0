from django.urls import path

from library.api import own_measures, species
from library.api.views import CatalogueView, GlossaryView, RulesView

urlpatterns = [
    path("catalogue", CatalogueView.as_view()),
    path("glossary", GlossaryView.as_view()),
    path("own-measures/try", own_measures.TryMeasureView.as_view()),
    path("workspaces/<uuid:id>/own-measures", own_measures.OwnMeasuresView.as_view()),
    path("rules", RulesView.as_view()),
    path("workspaces/<uuid:id>/species", species.SpeciesView.as_view()),
    path("workspaces/<uuid:id>/species/fit", species.FitView.as_view()),
    path("workspaces/<uuid:id>/species/mix", species.MixView.as_view()),
    path("workspaces/<uuid:id>/species/table.csv", species.SpeciesTableView.as_view()),
    path("workspaces/<uuid:id>/species/<slug:key>", species.OneSpeciesView.as_view()),
]
