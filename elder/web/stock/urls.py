"""Addresses of the Stock room."""

from django.urls import path

from elder.web.stock import views

urlpatterns = [
    path("stock/", views.stock, name="stock"),
    path("stock/new/", views.new_stock, name="stock-new"),
    path("stock/<int:stock_id>/", views.edit_stock, name="stock-edit"),
]
