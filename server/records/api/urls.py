from django.urls import path

from records.api import views, visits

urlpatterns = [
    path("uploads", views.UploadsView.as_view()),
    path("uploads/<uuid:id>/check", views.CheckView.as_view()),
    path("uploads/<uuid:id>/trial", views.AcceptView.as_view()),
    path("observations/<uuid:id>", views.ObservationView.as_view()),
    path("observations/<uuid:id>/sheet", views.ObservationSheetView.as_view()),
    path("observations/<uuid:id>/undo", visits.UndoView.as_view()),
    path("observations/<uuid:id>/decision", visits.DecisionView.as_view()),
    path("trials/<uuid:id>/visits/<uuid:visit>", visits.TrialVisitView.as_view()),
    path("measures/<uuid:id>/parts", visits.PartsView.as_view()),
    path("measures/<uuid:id>/threshold", visits.ActionThresholdView.as_view()),
    path("visits/<uuid:id>", visits.VisitView.as_view()),
    path("visits/<uuid:id>/entries", visits.EntriesView.as_view()),
    path("visits/<uuid:id>/redo", visits.RedoView.as_view()),
    path("visits/<uuid:id>/notes/<uuid:note>", visits.NoteView.as_view()),
]
