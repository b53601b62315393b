"""Addresses of the round that lie outside a garden: the calendar, and what works out of reach."""

from django.urls import path

from elder.web.rounds import calendar_views, offline_views

urlpatterns = [
    path("calendar/", calendar_views.calendar, name="calendar"),
    path("calendar/reminders/", calendar_views.reminders, name="reminders"),
    path("letter/stop/<str:key>/", calendar_views.stop_letters, name="letter-stop"),
    path("calendar/<str:secret>.ics", calendar_views.feed, name="calendar-feed"),
    path("sw.js", offline_views.service_worker, name="service-worker"),
    path("out-of-reach/", offline_views.out_of_reach, name="out-of-reach"),
]
