"""The round's server time: 200 live batches and five years of looks, beside a small garden; its queries; a look."""

from __future__ import annotations

import time
from datetime import date, timedelta
from typing import Any

from bench.curve import timed

SIZES = {20: 0, 200: 1000}  # live batches → batches long over
LOOKS = 12  # entries in each batch's history
AIM_MS = 150
WAYS = [
    ("tomato", "jar"),
    ("basil", "jar"),
    ("mint", "jar"),
    ("chilli", "dome"),
    ("sweet-potato", "pot"),
    ("fig", "bag"),
]


def round_times() -> None:
    """Print the server time of the round for a small garden and a large one, cold and warm."""
    import django

    django.setup()
    from django.conf import settings
    from django.test.utils import get_runner, setup_test_environment

    setup_test_environment()
    runner = get_runner(settings)(verbosity=0, interactive=False)
    databases = runner.setup_databases()
    try:
        print("Round, server time")
        warm = [_one(live, over) for live, over in SIZES.items()]
        small, large = list(SIZES)
        print(f"  {large // small} × the batches take {warm[1] / warm[0]:.1f} × the time")
    finally:
        runner.teardown_databases(databases)


def _one(live: int, over: int) -> float:
    from django.db import connection
    from django.test import Client
    from django.urls import reverse

    from tests.factories import member

    garden = _garden(live, over)
    client = Client()
    client.force_login(member(garden), backend="django.contrib.auth.backends.ModelBackend")
    url = reverse("round", args=[garden.pk])

    def fetch(address: str = url) -> None:
        if client.get(address).status_code != 200:
            raise RuntimeError("the round did not come")

    fetch()
    reckoning._standing.cache_clear()
    begin = time.perf_counter()
    fetch()
    cold = time.perf_counter() - begin
    warm, _ = timed(fetch, 9)
    asked: list[str] = []

    def count(execute: Any, sql: str, *given: Any) -> Any:
        asked.append(sql)
        return execute(sql, *given)

    with connection.execute_wrapper(count):
        fetch()
    batch = garden.batches.filter(over_on=None).first()
    look, _ = timed(lambda: fetch(reverse("round-look", args=[garden.pk, batch.pk])), 9)
    print(
        f"  {live:3d} live, {over:4d} over, {(live + over) * LOOKS:5d} lines of history   warm {1000 * warm:5.0f} ms  "
        f"(aim: under {AIM_MS} ms)   cold {1000 * cold:5.0f} ms   {len(asked)} queries   a look {1000 * look:4.0f} ms"
    )
    return warm


def _garden(live: int, over: int) -> Any:
    """A garden with batches at every stage, and five years of others that are over."""
    from elder.web.garden.clock import today_in
    from tests.factories import GardenFactory, PlaceFactory, WantFactory

    garden = GardenFactory()
    today = today_in(garden)
    indoors = [PlaceFactory(garden=garden) for _ in range(4)]
    places = [*indoors, *(PlaceFactory(garden=garden, standing="air", lift_day_c=6) for _ in range(4))]
    wants = [WantFactory(garden=garden, plant=p, method=m, rooting_place=places[i]) for i, (p, m) in enumerate(WAYS)]
    for i in range(live):
        _batch(wants[i % len(wants)], places[i % len(places)], today - timedelta(days=3 + i % 40), today, is_over=False)
    for i in range(over):
        _batch(wants[i % len(wants)], places[0], today - timedelta(days=60 + 2 * i), today, is_over=True)
    return garden


def _batch(want: Any, place: Any, taken: date, today: date, *, is_over: bool) -> None:
    """A batch written straight to its table: actions would take minutes for so many."""
    from elder.web.batches.models import Batch, Entry

    plan = {"target": (taken + timedelta(days=70)).isoformat(), "window": None, "wanted": 8}
    row = Batch.objects.create(
        garden=want.garden, want=want, plant=want.plant, method=want.method, stock_plant="A mother", plan=plan,
        rooting_place=place, growing_place=place, over_on=taken + timedelta(days=60) if is_over else None,
    )  # fmt: skip
    days = [taken + timedelta(days=min(3 * i, (today - taken).days)) for i in range(LOOKS)]
    lines = [Entry(batch=row, kind="taken", on=taken, count=10)]
    lines += [Entry(batch=row, kind="tended", deed="water", on=day) for day in days[1 : LOOKS - 2]]
    lines += [Entry(batch=row, kind="looked", on=days[LOOKS // 2])]
    lines += [Entry(batch=row, kind="lost", count=10 if is_over else 1, stage="waiting", on=days[-1])]
    Entry.objects.bulk_create(lines)
