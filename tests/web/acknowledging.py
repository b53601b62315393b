"""A process that writes and says what it was told is written, until it is killed; started by ``test_acknowledged``.

    python -m tests.web.acknowledging DATABASE TIMES

Forked rather than started anew each time, so that twenty kills cost seconds. Prints one line of JSON at its end.
"""

from __future__ import annotations

import json
import os
import random
import signal
import sys
import time
from datetime import date
from uuid import uuid4

import django

HEARD = 2, 4  # so many are acknowledged before a writer is killed, at a moment that falls anywhere in the next


def write_on(into: int, garden_id: int, batches: list[int], person_id: int, turns: int = 10_000) -> None:
    """Press one thing after another, and pass on each key that was acknowledged."""
    from django.test import Client
    from django.urls import reverse

    from elder.web.garden.models import Person

    client = Client()
    client.force_login(Person.objects.get(pk=person_id), backend="django.contrib.auth.backends.ModelBackend")
    for turn in range(turns):
        key = uuid4()
        note = {"on": date.today().isoformat(), "note": f"Line {turn}", "key": str(key)}  # noqa: DTZ011
        answer = client.post(reverse("note", args=[garden_id, batches[turn % len(batches)]]), note)
        if answer.status_code == 302:
            os.write(into, key.bytes)


def main(database: str, times: int) -> None:
    """Kill a writer so many times, then count what is there against what it was told."""
    os.environ |= {"DJANGO_SETTINGS_MODULE": "elder.config.settings.test"}
    django.setup()
    from django.conf import settings
    from django.db import connection, connections

    settings.DATABASES["default"]["NAME"] = connections["default"].settings_dict["NAME"] = database
    settings.ALLOWED_HOSTS = ["*"]
    from elder.engine.batch.history import retold
    from elder.web.batches.models import Batch, Entry
    from elder.web.garden.models import Garden
    from elder.web.read.histories import entries_of

    garden = Garden.objects.get()
    batches, person = list(garden.batches.values_list("pk", flat=True)), garden.household.people.get().pk
    drain, warm = os.pipe()
    write_on(warm, garden.pk, batches, person, turns=2)  # what a first page imports and works out is there for all
    os.close(warm)
    assert len(os.read(drain, 99)) == 32, "a note is written"
    known = set(Entry.objects.values_list("key", flat=True))
    acknowledged: list[bytes] = []
    chance = random.Random(1958)  # noqa: S311 - moments, not secrets
    for _ in range(times):
        connection.close()  # a connection must not be shared with a child
        out, into = os.pipe()
        child = os.fork()
        if not child:
            write_on(into, garden.pk, batches, person)
            os._exit(0)
        os.close(into)
        with os.fdopen(out, "rb") as told:
            said = told.read(16 * chance.randint(*HEARD))  # however slow the machine is
            time.sleep(chance.uniform(0.0, 0.03))
            os.kill(child, signal.SIGKILL)
            os.waitpid(child, 0)
            said += told.read()
        acknowledged += [said[at : at + 16] for at in range(0, len(said), 16)]
    written = {key.bytes for key in Entry.objects.values_list("key", flat=True) if key not in known}
    with connection.cursor() as cursor:
        cursor.execute("PRAGMA integrity_check")
        sound = cursor.fetchone()[0]
    waiting = [retold(entries_of(batch.entries.all())).count("waiting") for batch in Batch.objects.order_by("pk")]
    found = {
        "acknowledged": len(acknowledged),
        "lost": len(set(acknowledged) - written),
        "unheard": len(written - set(acknowledged)),
        "twice": len(acknowledged) - len(set(acknowledged)),
        "sound": sound,
        "waiting": waiting,
    }
    sys.stdout.write(json.dumps(found) + "\n")


if __name__ == "__main__":
    main(sys.argv[1], int(sys.argv[2]))
