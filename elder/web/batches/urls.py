"""Addresses of batches."""

from django.urls import path

from elder.web.batches import corrections, keep_views, naming, views

urlpatterns = [
    path("batch/<int:batch_id>/name/", naming.name, name="batch-name"),
    path("batches/", views.batches, name="batches"),
    path("batch/<int:batch_id>/", views.batch, name="batch"),
    path("batch/<int:batch_id>/pots/", views.pots, name="batch-pots"),
    path("batch/<int:batch_id>/harvest/", views.harvest, name="harvest"),
    path("batch/<int:batch_id>/note/", views.note, name="note"),
    path("batch/<int:batch_id>/move/<slug:verb>/", views.move, name="move"),
    path("batch/<int:batch_id>/entry/<int:entry_id>/", corrections.correct, name="entry-correct"),
    path("batch/<int:batch_id>/keep/", keep_views.keep, name="stock-keep"),
]
