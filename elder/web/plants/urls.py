"""Addresses of the handbook."""

from django.urls import path

from elder.web.plants import own_views, views

urlpatterns = [
    path("plants/", views.plants, name="plants"),
    path("plants/own/new/", own_views.begin, name="own-new"),
    path("plants/own/read/", own_views.read_in, name="own-read"),
    path("plants/own/<int:plant_id>/", own_views.change, name="own-change"),
    path("plants/own/<int:plant_id>/away/", own_views.away, name="own-away"),
    path("plants/own/<int:plant_id>/plant.yaml", own_views.write_out, name="own-write"),
    path("plant/<slug:slug>/", views.plant, name="plant"),
]
