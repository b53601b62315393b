"""Addresses of the handbook."""

from django.urls import path

from elder.web.plants import views

urlpatterns = [
    path("plants/", views.plants, name="plants"),
    path("plant/<slug:slug>/", views.plant, name="plant"),
]
