from django.urls import path

from crew.api.views import SessionView

urlpatterns = [path("session", SessionView.as_view())]
