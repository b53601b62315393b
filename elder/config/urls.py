"""Every address of Elder. Each room brings its own; all but the door lie inside a garden."""

from django.urls import include, path

urlpatterns = [
    path("", include("elder.web.garden.urls")),
    path("", include("elder.web.places.open_urls")),
    path("g/<int:garden_id>/", include("elder.web.places.urls")),
    path("g/<int:garden_id>/", include("elder.web.season.urls")),
    path("g/<int:garden_id>/", include("elder.web.cut.urls")),
    path("g/<int:garden_id>/", include("elder.web.plants.urls")),
    path("g/<int:garden_id>/", include("elder.web.stock.urls")),
    path("g/<int:garden_id>/", include("elder.web.batches.urls")),
    path("g/<int:garden_id>/", include("elder.web.rounds.urls")),
    path("g/<int:garden_id>/", include("elder.web.shed.urls")),
    path("g/<int:garden_id>/", include("elder.web.record.urls")),
    path("g/<int:garden_id>/", include("elder.web.year.urls")),
    path("g/<int:garden_id>/", include("elder.web.passing.urls")),
    path("g/<int:garden_id>/", include("elder.web.moving.urls")),
    path("g/<int:garden_id>/", include("elder.web.finding.urls")),
    path("", include("elder.web.archive.urls")),
    path("", include("elder.web.rounds.open_urls")),
    path("", include("elder.web.cut.open_urls")),
    path("", include("elder.web.passing.open_urls")),
    path("", include("elder.web.ui.urls")),
]

handler400 = "elder.web.ui.errors.bad_request"
handler403 = "elder.web.ui.errors.forbidden"
handler404 = "elder.web.ui.errors.not_found"
handler500 = "elder.web.ui.errors.server_error"
