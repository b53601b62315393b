"""Addresses of the Record room."""

from django.urls import path

from elder.web.record import csv_views, old_notes_views, trial_views, views

urlpatterns = [
    path("record/", views.mine, name="record"),
    path("record/plan-by/", views.plan_by, name="record-plan-by"),
    path("record/old-notes/", old_notes_views.old_notes, name="record-old-notes"),
    path("record/way/<slug:slug>/<slug:way>/", views.way, name="record-way"),
    path("record/right/", views.right, name="record-right"),
    path("record/became/", views.became, name="record-became"),
    path("record/price/", views.price, name="record-price"),
    path("record/losses/", views.losses, name="record-losses"),
    path("record/year/", views.year, name="record-year"),
    path("record/year/<int:year>/", views.year, name="record-year-of"),
    path("record/trials/", trial_views.trials, name="trials"),
    path("record/trials/new/", trial_views.new, name="trial-new"),
    path("record/trial/<int:trial_id>/", trial_views.trial, name="trial"),
    path("record/trial/<int:trial_id>/take/", trial_views.take, name="trial-take"),
    path("record/trial/<int:trial_id>/count/", trial_views.count, name="trial-count"),
    path("record/trial/<int:trial_id>/split/", trial_views.split, name="trial-split"),
    path("record/trial/<int:trial_id>/sheet/", trial_views.sheet, name="trial-sheet"),
    path("record/<slug:what>.csv", csv_views.table, name="record-csv"),
]
