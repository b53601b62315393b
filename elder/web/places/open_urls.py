"""The demo's clock: outside any garden, since it moves them all."""

from django.urls import path

from elder.web.places import clock_views

urlpatterns = [path("demo/clock/", clock_views.move_clock, name="demo-clock")]
