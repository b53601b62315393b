"""Addresses of the Shed room."""

from django.urls import path

from elder.web.shed import container_views, mix_views, views

urlpatterns = [
    path("shed/", views.shed, name="shed"),
    path("shed/count/", views.count, name="shed-count"),
    path("shed/list/", views.shopping_list, name="shed-list"),
    path("shed/bought/", views.bought, name="shed-bought"),
    path("shed/thing/<str:what>/", views.thing, name="shed-thing"),
    path("shed/mix/", mix_views.mix, name="shed-mix"),
    path("shed/mix/<int:order_id>/mixed/", mix_views.mixed, name="shed-mixed"),
    path("shed/mix/<int:order_id>/drop/", mix_views.drop, name="shed-drop"),
    path("shed/recipe/", mix_views.new_recipe, name="shed-recipe"),
    path("shed/containers/", container_views.containers, name="shed-containers"),
    path("shed/containers/use/", container_views.use, name="shed-use"),
    path("shed/container/", container_views.container, name="shed-container-new"),
    path("shed/container/<slug:key>/", container_views.container, name="shed-container"),
]
