"""The Season page's server time with 5 and with 100 wants, cold and warm."""

from __future__ import annotations

import time

from bench.curve import timed

WANTS = [
    ("tomato", "jar"),
    ("basil", "jar"),
    ("mint", "jar"),
    ("chilli", "dome"),
    ("sweet-potato", "pot"),
    ("grapevine", "stick"),
]
AIMS = {5: 60, 100: 250}


def season_times() -> None:
    """Print the server time of the Season page for each number of wants."""
    import django

    django.setup()
    from django.conf import settings
    from django.test.utils import get_runner, setup_test_environment

    setup_test_environment()
    runner = get_runner(settings)(verbosity=0, interactive=False)
    databases = runner.setup_databases()
    try:
        print("Season page, server time")
        for wants in AIMS:
            _one(wants)
    finally:
        runner.teardown_databases(databases)


def _one(wants: int) -> None:
    from django.test import Client
    from django.urls import reverse

    from elder.engine.counting import count_ladder, take_nodes
    from elder.engine.raising import course_of
    from elder.web.season import reckoning
    from tests.factories import GardenFactory, PlaceFactory, WantFactory, member

    garden = GardenFactory()
    places = [PlaceFactory(garden=garden), PlaceFactory(garden=garden, standing="air", lift_day_c=7, lift_night_c=2)]
    for i in range(wants):
        plant, method = WANTS[i % len(WANTS)]
        place = places[i % 2]
        WantFactory(
            garden=garden, plant=plant, method=method, wanted=3 + i % 10, rooting_place=place, growing_place=place
        )
    client = Client()
    client.force_login(member(garden), backend="django.contrib.auth.backends.ModelBackend")
    url = reverse("season", args=[garden.pk])

    def fetch() -> None:
        if client.get(url).status_code != 200:
            raise RuntimeError("the Season page did not come")

    fetch()
    for kept in (course_of, count_ladder, take_nodes, reckoning._plan_want):
        kept.cache_clear()
    begin = time.perf_counter()
    fetch()
    cold = time.perf_counter() - begin
    warm, _ = timed(fetch, 9)
    print(f"  {wants:3d} wants  warm {1000 * warm:6.0f} ms  (aim: under {AIMS[wants]} ms)   cold {1000 * cold:6.0f} ms")
