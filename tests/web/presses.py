"""What tests of the rooms share: a day, mild weather, the presses people make, and what their pages say."""

from __future__ import annotations

import re
import uuid
from datetime import date
from typing import Any

from django.test import Client
from django.urls import reverse

from elder.engine.place.weather import DayAhead
from elder.web.batches.models import Batch
from elder.web.garden.undo import Undo
from elder.web.season.models import Want
from tests.factories import WantFactory

TODAY = date(2027, 3, 20)
MILD = tuple(DayAhead(date.fromordinal(TODAY.toordinal() + i), 15, 8) for i in range(10))


def at(name: str, garden: Any, *more: Any) -> str:
    return reverse(name, args=[garden.pk, *more])


def page(client: Client, name: str, garden: Any, *more: Any) -> str:
    answer = client.get(at(name, garden, *more))
    assert answer.status_code == 200
    return str(answer.content.decode())


def press(client: Client, garden: Any, deed: str, *batches: Batch, **more: Any) -> Any:
    data = {"deed": deed, "batch": [batch.pk for batch in batches], "key": uuid.uuid4(), **more}
    return client.post(at("round-done", garden), data)


def look(client: Client, batch: Batch, **given: Any) -> Any:
    data = {"on": TODAY.isoformat(), "stage": "waiting", "key": uuid.uuid4(), **given}
    return client.post(at("round-look", batch.garden, batch.pk), data)


def kinds(batch: Batch) -> list[str]:
    return [entry.deed or entry.kind for entry in batch.entries.all()]


def text(html: str) -> str:
    return re.sub(r"\s+", " ", re.sub(r"<[^>]+>", " ", html)).strip()


def undo_on(html: str) -> str:
    """The way back that a page offers, as its button would send it."""
    found = re.search(r'name="of" value="([^"]+)"><button[^>]*class="link-button">Undo', html)
    assert found, "an undo is offered"
    return found[1]


def way_back(client: Client, answer: Any) -> str:
    """The way back that the next page offers."""
    return undo_on(client.get(answer.url).content.decode())


def take_back(client: Client, garden: Any, offered: str, **more: Any) -> Any:
    """Press Undo."""
    return client.post(at("undo", garden), {"of": offered}, **more)


def struck(client: Client, garden: Any, *entries: Any, to: str = "round") -> Any:
    """Press the Undo that was offered when these entries were written."""
    told = {"entries": [entry.pk for entry in entries], "to": to, "parts": []}
    return take_back(client, garden, Undo("entries", told).offered(garden))


def wanted(garden: Any, plant: str, method: str, **more: Any) -> Want:
    place = garden.places.get()
    made: Want = WantFactory(garden=garden, plant=plant, method=method, rooting_place=place, **more)
    return made


def laid(client: Client, garden: Any, query: str) -> str:
    answer = client.get(f"{at('cut-layout', garden)}?{query}")
    assert answer.status_code == 200
    return text(answer.content.decode())
