"""Addresses of batches."""

from django.urls import path

from elder.web.batches import views

urlpatterns = [
    path("batches/", views.batches, name="batches"),
    path("want/<int:want_id>/take/", views.take, name="take"),
    path("batch/<int:batch_id>/", views.batch, name="batch"),
    path("batch/<int:batch_id>/harvest/", views.harvest, name="harvest"),
    path("batch/<int:batch_id>/note/", views.note, name="note"),
    path("batch/<int:batch_id>/move/<slug:verb>/", views.move, name="move"),
    path("batch/<int:batch_id>/undo/", views.undo, name="undo"),
    path("batch/<int:batch_id>/entry/<int:entry_id>/", views.correct, name="entry-correct"),
]
