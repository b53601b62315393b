"""Addresses of the Season room."""

from django.urls import path

from elder.web.season import first_views, take_views, views, want_views

urlpatterns = [
    path("season/", views.season, name="season"),
    path("season/risk/", views.keep_risk, name="season-risk"),
    path("season/fit/", views.fit, name="season-fit"),
    path("want/<int:want_id>/serve/", want_views.serve, name="want-serve"),
    path("wants/away/", views.wants_away, name="wants-away"),
    path("want/new/", want_views.new_want, name="want-new"),
    path("want/first/", first_views.first, name="want-first"),
    path("want/<int:want_id>/", want_views.want, name="want"),
    path("want/<int:want_id>/take/", take_views.take, name="take"),
    path("want/<int:want_id>/edit/", want_views.edit_want, name="want-edit"),
    path("want/<int:want_id>/cut/", want_views.move_cut, name="want-cut"),
    path("want/<int:want_id>/carry/", want_views.carry, name="want-carry"),
    path("want/<int:want_id>/away/", want_views.put_away, name="want-away"),
    path("want/<int:want_id>/back/", want_views.bring_back, name="want-back"),
]
