"""What the slip in somebody's hand opens: outside any garden, and only for who has its key."""

from django.urls import path

from elder.web.passing import slip_views

urlpatterns = [
    path("slip/<uuid:slip_key>/", slip_views.open_slip, name="slip-open"),
    path("slip/<uuid:slip_key>/plant.json", slip_views.open_file, name="slip-file"),
]
