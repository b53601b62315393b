"""Addresses of the Cut room."""

from django.urls import path

from elder.web.cut import (
    can_views,
    feed_views,
    hormone_views,
    label_views,
    layout_views,
    room_views,
    sheet_views,
    windfall_views,
)

urlpatterns = [
    path("cut/", room_views.cut_room, name="cut"),
    path("cut/want/<int:want_id>/", sheet_views.sheet, name="cut-sheet"),
    path("cut/want/<int:want_id>/prepared/", sheet_views.prepared, name="cut-prepared"),
    path("cut/batch/<int:batch_id>/", sheet_views.after, name="cut-after"),
    path("cut/batch/<int:batch_id>/trim/", sheet_views.trim, name="cut-trim"),
    path("cut/variety/", sheet_views.say_variety, name="cut-variety"),
    path("cut/layout/", layout_views.layout, name="cut-layout"),
    path("cut/can/", can_views.can_be_cut, name="cut-can"),
    path("cut/feed/", feed_views.feed, name="cut-feed"),
    path("cut/hormone/", hormone_views.hormone, name="cut-hormone"),
    path("labels/", label_views.labels, name="labels"),
    path("labels/<int:batch_id>/<slug:size>.png", label_views.label_preview, name="label-preview"),
    path("labels/sheet.pdf", label_views.label_pdf, name="label-pdf"),
    path("labels/print/", label_views.label_print, name="label-print"),
    path("labels/find/", label_views.find_label, name="label-find"),
    path("labels/tray/", label_views.tray, name="label-tray"),
    path("labels/tray/clear/", label_views.tray_clear, name="label-tray-clear"),
    path("labels/tray/<int:tray_id>.png", label_views.tray_png, name="label-tray-png"),
    path("hand/", windfall_views.windfall, name="windfall"),
    path("hand/take/", windfall_views.take_windfall, name="windfall-take"),
]
