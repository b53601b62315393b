"""What tests of the round share: a day, mild weather, and the presses people make."""

from __future__ import annotations

import uuid
from datetime import date
from typing import Any

from django.test import Client
from django.urls import reverse

from elder.engine.weather import DayAhead
from elder.web.batches.models import Batch

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
