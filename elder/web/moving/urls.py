"""Addresses of moving house."""

from django.urls import path

from elder.web.moving import here_views, views

urlpatterns = [
    path("moving/", views.moving, name="moving"),
    path("moving/new/", views.new, name="moving-new"),
    path("moving/here/", here_views.here, name="moving-here"),
    path("moving/here/<int:moved_id>/plant/", here_views.plant_here, name="moving-plant-here"),
    path("moving/here/<int:moved_id>/water/", here_views.water, name="moving-water"),
    path("moving/<int:move_id>/", views.one, name="moving-one"),
    path("moving/<int:move_id>/change/", views.change, name="moving-change"),
    path("moving/<int:move_id>/load/", views.load, name="moving-load"),
    path("moving/<int:move_id>/ask/", views.ask, name="moving-ask"),
    path("moving/<int:move_id>/off/", views.off, name="moving-off"),
    path("moving/<int:move_id>/go/", views.go, name="moving-go"),
    path("moving/<int:move_id>/plant/<slug:moved_key>/", views.plant, name="moving-plant"),
    path("moving/<int:move_id>/cut/<slug:moved_key>/", views.cut, name="moving-cut"),
    path("moving/<int:move_id>/done/<slug:moved_key>/", views.done, name="moving-done"),
]
