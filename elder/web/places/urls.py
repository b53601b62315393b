"""Addresses of the Places room."""

from django.urls import path

from elder.web.places import floor_views, sensor_views, sky_views, views, walk_views, wall_views

urlpatterns = [
    path("places/", views.places, name="places"),
    path("places/wall/", wall_views.wall, name="places-wall"),
    path("places/walk/", walk_views.walk, name="places-walk"),
    path("place/new/", views.new_place, name="place-new"),
    path("place/<int:place_id>/", views.edit_place, name="place-edit"),
    path("place/<int:place_id>/floor/", floor_views.floor, name="place-floor"),
    path("place/<int:place_id>/sky/", sky_views.sky, name="place-sky"),
    path("place/<int:place_id>/readings/", sensor_views.readings, name="place-readings"),
    path("place/<int:place_id>/sensor/", sensor_views.sensor, name="place-sensor"),
    path("place/<int:place_id>/readings/forget/", sensor_views.forget, name="readings-forget"),
    path("place/<int:place_id>/readings.<slug:form>", sensor_views.send, name="readings-send"),
]
