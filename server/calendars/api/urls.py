from django.urls import path

from calendars.api import views

urlpatterns = [
    path("calendars", views.CalendarsView.as_view()),
    path("calendars/<uuid:id>", views.CalendarView.as_view()),
    path("calendars/<str:token>.ics", views.FeedView.as_view()),
]
