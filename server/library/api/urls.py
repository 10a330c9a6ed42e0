from django.urls import path

from library.api.views import CatalogueView

urlpatterns = [path("catalogue", CatalogueView.as_view())]
