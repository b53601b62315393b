"""The Season page's server time with 5, 40 and 100 wants, cold and warm, and at another risk (what if)."""

from __future__ import annotations

import time
from datetime import date, timedelta

from bench.curve import timed

WANTS = [
    ("tomato", "jar"),
    ("basil", "jar"),
    ("mint", "jar"),
    ("chilli", "dome"),
    ("sweet-potato", "pot"),
    ("grapevine", "stick"),
]
AIMS = {5: 60, 40: 150, 100: 250}
BATCH_EVERY = 4  # every fourth want has been cut


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

    from elder.engine.chance.counting import count_ladder, take_nodes
    from elder.engine.chance.ready_by import course_of
    from elder.web.read import batches as batch_reckoning
    from elder.web.read import wants
    from tests.factories import GardenFactory, PlaceFactory, WantFactory, member, take

    garden = GardenFactory()
    places = [PlaceFactory(garden=garden), PlaceFactory(garden=garden, standing="air", lift_day_c=7, lift_night_c=2)]
    for i in range(wants):
        plant, method = WANTS[i % len(WANTS)]
        place = places[i % 2]
        row = WantFactory(
            garden=garden, plant=plant, method=method, wanted=3 + i % 10, rooting_place=place, growing_place=place
        )
        if i % BATCH_EVERY == 0:
            take(row, on=date.today() - timedelta(days=20 + i % 7), count=6 + i % 10, today=date.today())  # noqa: DTZ011
    client = Client()
    client.force_login(member(garden), backend="django.contrib.auth.backends.ModelBackend")
    url = reverse("season", args=[garden.pk])

    def fetch(query: str = "") -> None:
        if client.get(url + query).status_code != 200:
            raise RuntimeError("the Season page did not come")

    fetch()
    for kept in (course_of, count_ladder, take_nodes, reckoning._plan_want, batch_reckoning._standing):
        kept.cache_clear()
    begin = time.perf_counter()
    fetch()
    cold = time.perf_counter() - begin
    warm, _ = timed(fetch, 9)
    begin = time.perf_counter()
    fetch("?risk=4")
    moved = time.perf_counter() - begin
    print(
        f"  {wants:3d} wants  warm {1000 * warm:6.0f} ms  (aim: under {AIMS[wants]} ms)   cold {1000 * cold:6.0f} ms   "
        f"a dial moved {1000 * moved:6.0f} ms, {moved / warm:.1f} × warm"
    )
