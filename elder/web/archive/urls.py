"""Addresses of a garden's archive."""

from django.urls import path

from elder.web.archive import keeping_views, views

urlpatterns = [
    path("g/<int:garden_id>/garden/archive/", views.carry, name="garden-archive"),
    path("g/<int:garden_id>/garden/archive/file/", views.archive_file, name="garden-archive-file"),
    path("archive/", views.read, name="archive-read"),
    path("keeping/", keeping_views.keeping, name="keeping"),
    path("archive/preview/", views.preview, name="archive-preview"),
]
