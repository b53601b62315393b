"""Addresses of batches."""

from django.urls import path

from elder.web.batches import corrections, views

urlpatterns = [
    path("batches/", views.batches, name="batches"),
    path("want/<int:want_id>/take/", views.take, name="take"),
    path("batch/<int:batch_id>/", views.batch, name="batch"),
    path("batch/<int:batch_id>/harvest/", views.harvest, name="harvest"),
    path("batch/<int:batch_id>/note/", views.note, name="note"),
    path("batch/<int:batch_id>/move/<slug:verb>/", views.move, name="move"),
    path("batch/<int:batch_id>/undo/", putting_right.undo, name="undo"),
    path("batch/<int:batch_id>/entry/<int:entry_id>/", putting_right.correct, name="entry-correct"),
    path("batch/<int:batch_id>/entry/<int:entry_id>/restore/", putting_right.restore, name="entry-restore"),
    path("batch/<int:batch_id>/untake/", putting_right.untake, name="untake"),
]
