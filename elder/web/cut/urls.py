"""Addresses of the Cut room: so far, the windfall."""

from django.urls import path

from elder.web.cut import views

urlpatterns = [
    path("hand/", views.windfall, name="windfall"),
    path("hand/take/", views.take_windfall, name="windfall-take"),
]
