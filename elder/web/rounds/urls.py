"""Addresses of the round, its looks, its sheet, and the calendar of a garden."""

from django.urls import path

from elder.web.rounds import calendar_views, look_views, views

urlpatterns = [
    path("round/", views.round_, name="round"),
    path("round/sheet/", views.sheet, name="round-sheet"),
    path("round/done/", views.done, name="round-done"),
    path("round/withdraw/", views.withdraw_press, name="round-withdraw"),
    path("round/looks/", look_views.looks, name="round-looks"),
    path("round/look/<int:batch_id>/", look_views.look, name="round-look"),
    path("round/look/<int:batch_id>/<int:entry_id>/", look_views.verdict_page, name="round-verdict"),
    path("round/move/<int:batch_id>/", views.move, name="round-move"),
    path("round/recut/<int:batch_id>/", views.recut, name="round-recut"),
    path("round/settle/<int:want_id>/", views.settle, name="round-settle"),
    path("round/water-days/", views.water_days, name="round-water-days"),
    path("round/walk/<int:place_id>/", views.walk, name="round-walk"),
    path("photo/<int:photo_id>/", look_views.photo, name="photo"),
    path("calendar.ics", calendar_views.download, name="calendar-download"),
]
