"""Addresses of what is passed on."""

from django.urls import path

from elder.web.passing import bring_views, slip_views, views

urlpatterns = [
    path("passing/", views.board, name="passing"),
    path("passing/new/", views.new, name="passing-new"),
    path("passing/bring/", bring_views.bring, name="passing-bring"),
    path("passing/bring/take/", bring_views.take, name="passing-bring-take"),
    path("passing/mother/<int:stock_id>/", slip_views.mother_file, name="passing-mother"),
    path("passing/<int:promise_id>/", views.one, name="passing-one"),
    path("passing/<int:promise_id>/reserve/", views.reserve, name="passing-reserve"),
    path("passing/<int:promise_id>/answers/", views.answers, name="passing-answers"),
    path("passing/<int:promise_id>/hand/", views.hand, name="passing-hand"),
    path("passing/<int:promise_id>/off/", views.off, name="passing-off"),
    path("passing/<int:promise_id>/slip/", slip_views.slip, name="passing-slip"),
]
