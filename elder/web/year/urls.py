"""Addresses of the Year room."""

from django.urls import path

from elder.web.year import line_views, long_views, views, winter_views

urlpatterns = [
    path("year/", views.year, name="year"),
    path("year/multiply/", line_views.choose, name="year-multiply"),
    path("year/multiply/<int:mother_id>/", line_views.new, name="year-line-new"),
    path("year/line/<int:line_id>/", line_views.line, name="year-line"),
    path("year/line/<int:line_id>/cut/", line_views.cut, name="year-line-cut"),
    path("year/line/<int:line_id>/away/", line_views.away, name="year-line-away"),
    path("year/winter/", winter_views.winter, name="year-winter"),
    path("year/winter/do/<slug:key>/", winter_views.see_to, name="year-winter-do"),
    path("year/winter/tops/<slug:key>/", winter_views.tops, name="year-winter-tops"),
    path("year/winter/look/<int:row_id>/", winter_views.check, name="year-winter-look"),
    path("year/long/", long_views.crops, name="year-long"),
    path("year/long/<slug:key>/", long_views.crop, name="year-crop"),
    path("year/long/<slug:key>/pot/", long_views.pot_up, name="year-crop-pot"),
    path("year/winter/over/<int:row_id>/", winter_views.finish, name="year-winter-over"),
]
