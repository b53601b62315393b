"""The round's server time: 200 live batches and five years of looks, beside a small garden; its queries; a look."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

from bench.pages import fetching
from bench.table import Line, forget, timed

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


def lines() -> list[Line]:
    """The server time of the round for a small garden and a large one, cold and warm, and of a look."""
    from tests.factories import GardenFactory

    floor, _ = fetching("round", GardenFactory())
    small, large = SIZES
    small_s, small_lines = _one(small, SIZES[small], ("an empty garden, warm", floor))
    _, large_lines = _one(large, SIZES[large], (f"{small} live", small_s))
    return [*small_lines, *large_lines]


def _one(live: int, over: int, beside: tuple[str, float]) -> tuple[float, list[Line]]:
    from django.db import connection
    from django.urls import reverse

    garden = _garden(live, over)
    warm, fetch = fetching("round", garden)
    forget()
    cold, _ = timed(fetch, 1)
    asked: list[str] = []

    def count(execute: Any, sql: str, *given: Any) -> Any:
        asked.append(sql)
        return execute(sql, *given)

    with connection.execute_wrapper(count):
        fetch()
    address = reverse("round-look", args=[garden.pk, garden.batches.filter(over_on=None).first().pk])
    look, _ = timed(lambda: fetch(address=address), 9)
    note = f"aim: under {AIM_MS} ms; {over} over, {(live + over) * LOOKS:,} lines of history, {len(asked)} queries"
    return warm, [
        Line("round", f"{live} live, warm", warm, *beside, note),
        Line("round", f"{live} live, nothing kept", cold, "warm", warm),
        Line("round", f"{live} live, a look", look, "the round, warm", warm),
    ]


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
