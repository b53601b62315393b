"""Gardens of many years, made up: so many batches, their histories line by line, mothers, places, wants and records.
Made by the numbers, without the actions people use, since forty-eight thousand presses would take an hour. No two
batches are alike in number, days and warmth, as none are in life: alike they would be weighed once for all.
"""

from __future__ import annotations

import zlib
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any, Final

import numpy as np


@dataclass(frozen=True)
class Size:
    """How large a garden is. ``lines``: of each batch's history."""

    years: int
    batches: int
    lines: int
    mothers: int
    places: int
    wants: int
    record_years: int = 90


SMALL: Final = Size(1, 60, 32, 20, 6, 10, 24)
MIDDLE: Final = Size(5, 750, 32, 500, 40, 100)
LARGE: Final = Size(10, 1500, 32, 500, 40, 200)

WAYS: Final = (
    ("tomato", "jar"), ("basil", "jar"), ("mint", "jar"), ("chilli", "dome"), ("sweet-potato", "pot"),
    ("rosemary", "gritty"), ("sage", "mix"), ("scented-pelargonium", "gritty"), ("fuchsia", "mix"), ("fig", "bag"),
    ("lemon-balm", "jar"), ("oregano", "mix"),
)  # fmt: skip
ROOMS: Final = 6  # that things are rooted in, none as warm as another
LIVES: Final = 40  # batches that are not over


def make_garden(size: Size, *, today: date) -> Any:
    """A garden of that size, as it stands on a day."""
    from tests.factories import GardenFactory, PlaceFactory

    garden = GardenFactory(name=f"{size.years} years")
    kinds = ("room", "air", "ground")
    places = [
        PlaceFactory(
            garden=garden, standing=kinds[i % 3], name=f"Place {i}", day_c=16 + i / 5, night_c=13 + i / 6,
            lift_day_c=i / 6, lift_night_c=i / 12,
        )
        for i in range(size.places)
    ]  # fmt: skip
    mothers = _mothers(garden, places, size)
    wants = _wants(garden, places, mothers, size, today)
    _batches(garden, places, mothers, wants, size, today)
    _records(garden, size, today)
    return garden


def _mothers(garden: Any, places: list[Any], size: Size) -> list[Any]:
    from elder.web.stock.models import StockPlant

    rows = [
        StockPlant(
            garden=garden, name=f"Mother {i}", plant=WAYS[i % len(WAYS)][0], gives=6, again_days=30,
            place=places[i % len(places)], since=date(2015, 4, 1),
        )
        for i in range(size.mothers)
    ]  # fmt: skip
    return StockPlant.objects.bulk_create(rows)


def _wants(garden: Any, places: list[Any], mothers: list[Any], size: Size, today: date) -> list[Any]:
    from elder.web.season.models import Want

    rows = [
        Want(
            garden=garden, plant=WAYS[i % len(WAYS)][0], method=WAYS[i % len(WAYS)][1], wanted=3 + i % 12,
            rooting_place=places[0], growing_place=places[i % len(places)],
            by=today + timedelta(days=60 + i % 40) if i % 2 else None,
            closed_on=None if i < min(size.wants, 40) else today - timedelta(days=i),
        )
        for i in range(size.wants)
    ]  # fmt: skip
    return Want.objects.bulk_create(rows)


def _batches(garden: Any, places: list[Any], mothers: list[Any], wants: list[Any], size: Size, today: date) -> None:
    from elder.web.batches.models import Batch, Entry

    days = size.years * 365
    rows = []
    for i in range(size.batches):
        turn, of = divmod(i, len(WAYS))
        plant, method = WAYS[of]
        living = i >= size.batches - LIVES
        mine = [want for want in wants[of :: len(WAYS)] if not (living and want.closed_on)] or wants
        want = mine[turn % len(mine)]  # what lives is for what is still wanted
        mother = mothers[i % (len(mothers) // len(WAYS) * len(WAYS))]
        began = _began(i, size, days, today)
        over = None if living else began + timedelta(days=95)
        target = (began + timedelta(days=60)).isoformat()
        rows.append(
            Batch(
                garden=garden, want=want, plant=plant, method=method, mother=mother, stock_plant=mother.name,
                rooting_place=places[3 * (turn % ROOMS) % len(places)], growing_place=places[i % len(places)],
                plan={"target": target, "window": None, "count": _course(i).taken, "wanted": 8, "take": [0.85, 8],
                      "forecast": {"counts": [0.0] * 8 + [0.1, 0.2, 0.3, 0.3, 0.1], "by": "both"}},
                over_on=over,
            )
        )  # fmt: skip
    made = Batch.objects.bulk_create(rows, batch_size=500)
    lines = [
        Entry(batch=batch, **line)
        for i, batch in enumerate(made)
        for line in _history(_began(i, size, days, today), size.lines, _course(i), living=i >= size.batches - LIVES)
    ]
    Entry.objects.bulk_create(lines, batch_size=500)


def _began(i: int, size: Size, days: int, today: date) -> date:
    living = i - (size.batches - LIVES)
    return today - timedelta(days=30 - living % 25 if living >= 0 else 130 + days - days * i // size.batches)


@dataclass(frozen=True)
class _Course:
    """How a batch went: so many taken; by the first look that found roots, some days after the cut, so many rooted and
    lost; by the second so many more."""

    taken: int
    first_day: int
    first: int
    lost: int
    second_day: int
    second: int

    @property
    def plants(self) -> int:
        """All that rooted."""
        return self.first + self.second


def _course(i: int) -> _Course:
    """The course of the batch of that number, always the same."""
    draw = np.random.default_rng(1000 + i)
    taken, lost = int(draw.integers(8, 17)), int(draw.integers(1, 4))
    first = int(draw.integers(2, taken - lost - 1))
    day = int(draw.integers(9, 22))
    return _Course(taken, day, first, lost, day + int(draw.integers(3, 9)), taken - lost - first)


def _history(began: date, lines: int, course: _Course, *, living: bool) -> Iterator[dict[str, Any]]:
    """A batch's history: cut, watered, rooted in two looks, some lost, potted, hardened, planted, cropped."""

    def on(days: int) -> date:
        return began + timedelta(days=days)

    yield {"kind": "taken", "on": on(0), "count": course.taken}
    if living:
        yield {"kind": "looked", "on": on(3), "note": "as it should be"}
        return
    end = (
        {"kind": "rooted", "on": on(course.first_day), "count": course.first},
        {"kind": "lost", "on": on(course.first_day), "count": course.lost, "why": "rot"},
        {"kind": "rooted", "on": on(course.second_day), "count": course.second},
        {"kind": "potted", "on": on(course.second_day + 3), "count": course.plants},
        {"kind": "hardening", "on": on(45), "count": course.plants},
        {"kind": "planted", "on": on(55), "count": course.plants}, {"kind": "harvested", "on": on(95)},
    )  # fmt: skip
    tended = [
        {"kind": "tended", "on": on(1 + day * (course.first_day - 1) // max(lines - 8, 1)), "deed": "water"}
        for day in range(lines - 8)
    ]
    yield from sorted([*tended, *end], key=lambda one: one["on"])


def _records(garden: Any, size: Size, today: date) -> None:
    from elder.engine.climate.records import records_of
    from elder.web.formats.daily import to_bytes
    from elder.web.garden.models import Records

    count = size.record_years * 365
    ordinals = np.arange(today.toordinal() - count, today.toordinal())
    year = 2 * np.pi * (ordinals % 365.25) / 365.25
    drawn = np.random.default_rng(size.years)
    low = np.round(6 - 6 * np.cos(year) + drawn.normal(0, 2.5, count), 1)
    kept = records_of(ordinals, low, np.round(low + 7, 1))
    Records.objects.create(
        garden=garden, data=zlib.compress(b"".join(to_bytes(kept)), 6), days=count, first_day=kept.first,
        last_day=kept.last, counted_from=today.year - 30, source="made up",
    )  # fmt: skip
    garden.records_digest = kept.since(today.year - 30).digest
    garden.save(update_fields=["records_digest"])
