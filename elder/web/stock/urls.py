"""Addresses of the Stock room."""

from django.urls import path

from elder.web.stock import family_views, views

urlpatterns = [
    path("stock/", views.stock, name="stock"),
    path("stock/new/", views.new_stock, name="stock-new"),
    path("stock/families/", family_views.families, name="stock-families"),
    path("stock/photo/<int:stock_photo_id>/", views.photo, name="stock-photo"),
    path("stock/<int:stock_id>/", views.mother, name="stock-plant"),
    path("stock/<int:stock_id>/edit/", views.edit_stock, name="stock-edit"),
    path("stock/<int:stock_id>/look/", views.look, name="stock-look"),
    path("stock/<int:stock_id>/end/", views.end, name="stock-end"),
]
