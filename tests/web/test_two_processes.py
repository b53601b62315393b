"""Two processes that serve one PostgreSQL: what is written through one is what the other says next."""

from __future__ import annotations

import http.cookiejar
import os
import re
import socket
import subprocess
import sys
import time
import urllib.parse
import urllib.request
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from django.db import connection

from elder.web.batches.models import Batch
from elder.web.garden.models import Garden, Place
from tests.factories import PASSWORD, GardenFactory, PlaceFactory, WantFactory, member, take

ROOT = Path(__file__).parents[2]
SERVER = os.environ.get("TEST_DATABASE_URL", "")

STORES = [path for path in ("/usr/bin/valkey-server", "/usr/bin/redis-server") if Path(path).exists()]

pytestmark = pytest.mark.skipif(not SERVER, reason="two processes on PostgreSQL: make test-postgres")


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


class Served:
    """One process, and somebody signed in to it."""

    def __init__(self, name: str, cache: str = "") -> None:
        self.port = free_port()
        self.address = f"http://127.0.0.1:{self.port}"
        env = {
            **os.environ,
            "CACHE_URL": cache,
            "TEST_DATABASE_URL": f"{SERVER.rsplit('/', 1)[0]}/{connection.settings_dict['NAME']}",
        }
        self.process = subprocess.Popen(
            [sys.executable, "-m", "gunicorn", "elder.config.wsgi", "--bind", f"127.0.0.1:{self.port}",
             "--threads", "4", "--no-control-socket", "--log-level", "error"],
            cwd=ROOT, env={**env, "DJANGO_SETTINGS_MODULE": "elder.config.settings.test"},
        )  # fmt: skip
        self.jar = http.cookiejar.CookieJar()
        self.opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self.jar))
        self._wait()
        self.post("/sign-in/", username=name, password=PASSWORD)

    def _wait(self) -> None:
        for _ in range(400):
            with socket.socket() as probe:
                if probe.connect_ex(("127.0.0.1", self.port)) == 0:
                    return
            time.sleep(0.05)
        raise RuntimeError("it does not serve")

    def get(self, path: str) -> str:
        with self.opener.open(f"{self.address}{path}", timeout=60) as answer:
            return str(answer.read().decode())

    def post(self, path: str, at: str = "", **data: str) -> str:
        """Send a form from the page it stands on."""
        page = self.get(at or path)
        token = re.findall(r'name="csrfmiddlewaretoken" value="(\w+)"', page)[0]
        key = re.findall(r'name="key" value="([0-9a-f-]+)"', page)
        sent = urllib.parse.urlencode(
            {"csrfmiddlewaretoken": token, **({"key": key[0]} if key else {}), **data}
        ).encode()
        with self.opener.open(f"{self.address}{path}", sent, timeout=60) as answer:
            return str(answer.read().decode())


@pytest.fixture
def garden(transactional_db: None) -> Any:
    row = GardenFactory()
    PlaceFactory(garden=row, name="Kitchen sill")
    return row


@pytest.fixture(params=STORES, ids=lambda path: Path(path).name)
def cache(request: pytest.FixtureRequest) -> Iterator[str]:
    """A cache of its own, of Debian's packages: of both, where Debian has both (Valkey from 13 on)."""
    port = free_port()
    server = subprocess.Popen(
        [request.param, "--port", str(port), "--bind", "127.0.0.1", "--save", "", "--loglevel", "warning"],
        stdout=subprocess.DEVNULL,
    )
    yield f"valkey://127.0.0.1:{port}/0"
    server.terminate()
    server.wait(timeout=20)


@pytest.fixture(params=["each its own", "shared"])
def two(garden: Any, cache: str, request: pytest.FixtureRequest) -> Iterator[tuple[Served, Served]]:
    """Two processes, that keep each their own answers, or lend them to each other."""
    person = member(garden)
    served = [Served(person.username, cache if request.param == "shared" else "") for _ in range(2)]
    yield served[0], served[1]
    for one in served:
        one.process.terminate()
    for one in served:
        one.process.wait(timeout=20)


def words(html: str) -> str:
    """What a page says, without what is drawn anew for each."""
    main = html.split("<main", 1)[1].split("</main>")[0]
    main = re.sub(r"<div class=\"said\".*?</div>", "", main, flags=re.DOTALL)
    return re.sub(r"\s+", " ", re.sub(r"<[^>]+>", " ", main))


def test_what_is_written_through_one_is_what_the_other_says(garden: Any, two: tuple[Served, Served]) -> None:
    """A week of deeds, by turns through each; after each, every room says the same in both, and says the deed."""
    from elder.web.garden.clock import today_in

    today = today_in(Garden.objects.select_related("household").get(pk=garden.pk))
    want = WantFactory(garden=garden, rooting_place=garden.places.get())
    batch = take(want, on=today, count=11)
    g = f"/g/{garden.pk}"
    rooms = [f"{g}/{room}/" for room in ("season", "round", "batches", "record", "places", "shed")]
    rooms.append(f"{g}/batch/{batch.pk}/")

    def alike() -> str:
        pages = [[words(one.get(room)) for room in rooms] for one in two]
        assert pages[0] == pages[1]
        return " ".join(pages[0])

    alike()
    one, other = two
    note = {"on": today.isoformat(), "note": "Two lean to the light."}
    other.post(f"{g}/batch/{batch.pk}/note/", f"{g}/batch/{batch.pk}/", **note)
    assert "Two lean to the light." in alike()
    Place.objects.filter(garden=garden).update(name="Landing sill", day_c=14.0)
    assert "Landing sill" in alike()
    one.post(f"{g}/want/{want.pk}/away/", f"{g}/want/{want.pk}/")
    assert Batch.objects.get().want.closed_on == today  # type: ignore[union-attr]
    alike()
    Garden.objects.filter(pk=garden.pk).update(accepted_risk=0.3)
    assert alike()


def test_what_one_reckoned_the_other_fetches(garden: Any, cache: str) -> None:
    """A plan and a calendar, asked of one process and then of the other: the cache gives them out."""
    import redis

    for plant, method in (("tomato", "jar"), ("basil", "jar")):
        WantFactory(garden=garden, rooting_place=garden.places.get(), plant=plant, method=method)
    person, told = member(garden), redis.Redis.from_url(cache.replace("valkey", "redis"))
    served = [Served(person.username, cache)]  # signing in leads to the season
    try:
        names = set(told.keys())
        assert len([name for name in names if b"answer:" in name]) >= 2
        hits = int(told.info()["keyspace_hits"])
        served.append(Served(person.username, cache))
        assert int(told.info()["keyspace_hits"]) >= hits + 2
        assert set(told.keys()) == names, "nothing was reckoned that was there"
    finally:
        for one in served:
            one.process.terminate()
            one.process.wait(timeout=20)
