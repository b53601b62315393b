"""What the page of one thing shows: its book, who asks for it and how much of it is left week by week."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np
from django.urls import reverse

from elder.engine.handbook.loading import handbook
from elder.web.batches.models import Batch
from elder.web.garden.models import Garden
from elder.web.read.asked import WEEK
from elder.web.read.shed import ShedToday
from elder.web.say.plants import plant_words
from elder.web.say.shed import amount_words, so_much
from elder.web.say.words import about, day_words
from elder.web.season.models import Want
from elder.web.shed.models import ShedEntry

RECENT = 40  # lines of a thing's book that are shown
SHOWN_WEEKS = 12


@dataclass(frozen=True)
class ThingEntry:
    """One line of a thing's book."""

    on: date
    words: str


@dataclass(frozen=True)
class AskedBy:
    """Who asks for it: how much is expected, at the most in any week, and from when."""

    name: str
    url: str
    amount: str
    since: str


@dataclass(frozen=True)
class WeekLine:
    """One week: how much will have been asked by its end, as expected and to be sure, and what is left then."""

    week: str
    expected: str
    sure: str
    left: str
    is_short: bool


def book_of(garden: Garden, what: str, shed: ShedToday, units: str) -> list[ThingEntry]:
    """The newest lines of a thing's book."""
    rows = ShedEntry.objects.filter(garden=garden, what=what).order_by("-pk")[:RECENT]
    kinds = dict(ShedEntry.Deed.choices)
    return [ThingEntry(row.on, f"{kinds[row.kind]}: {so_much(what, row.amount, shed.kit, units)}") for row in rows]


def asked_by(garden: Garden, what: str, shed: ShedToday, units: str) -> list[AskedBy]:
    """Who asks for a thing, the most first."""
    totals: dict[tuple[str, int], np.ndarray[tuple[int], np.dtype[np.float64]]] = defaultdict(
        lambda: np.zeros(shed.weeks.count)
    )
    for ask in shed.asks:
        if ask.what == what and isinstance(ask.who, tuple):
            totals[ask.who] += ask.expected
    names = _names(garden, list(totals))
    ordered = sorted(totals.items(), key=lambda one: -float(one[1].max()))
    found = []
    for who, weeks in ordered:
        first = int(np.flatnonzero(weeks > 0.05 * weeks.max())[0]) if weeks.max() > 0 else 0
        day = shed.weeks.monday + timedelta(days=WEEK * first)
        since = "now" if day <= shed.today else f"from about {about(day, shed.today)}"
        name, url = names.get(who, ("mix that was ordered", reverse("shed", args=[garden.pk])))
        found.append(AskedBy(name, url, amount_words(what, float(weeks.max()), units), since))
    return found


def _names(garden: Garden, whose: list[tuple[str, int]]) -> dict[tuple[str, int], tuple[str, str]]:
    """The names of wants and batches, with their pages."""
    found = {}
    for kind, model in (("want", Want), ("batch", Batch)):
        rows = model.objects.filter(garden=garden, pk__in=[pk for one, pk in whose if one == kind])
        for row in rows:
            name = plant_words(handbook()[row.plant].name, row.variety)
            word = "" if kind == "want" else ", cut already"
            found[(kind, row.pk)] = (f"{name}{word}", reverse(kind, args=[garden.pk, row.pk]))
    return found


def weeks_of(what: str, shed: ShedToday, units: str) -> list[WeekLine]:
    """The weeks ahead in figures, for as long as anything changes; nothing where nothing is asked."""
    need, there = shed.needed.get(what), shed.there(what)
    if need is None:
        return []
    found = []
    for week in range(min(shed.weeks.count, SHOWN_WEEKS)):
        left = there - float(need.sure[week])
        end = shed.weeks.monday + timedelta(days=WEEK * (week + 1) - 1)
        found.append(
            WeekLine(
                week=day_words(end, shed.today),
                expected=amount_words(what, float(need.expected[week]), units),
                sure=amount_words(what, float(need.sure[week]), units),
                left=f"{amount_words(what, abs(left), units)}{' short' if left < -1e-9 else ''}",
                is_short=left < -1e-9,
            )
        )
    return found
