"""A spring Saturday of many small households, squeezed into minutes, on this machine alone: `make load`.

Debian's nginx in front of gunicorn's two processes, PostgreSQL and a shared cache; and the same on one process with
SQLite. Each household opens its round, looks at a batch, opens the season, and its phone asks the calendar. Bounded: so
many requests, at the pace of the day, to the loopback address, for so long at the most. Prints what was served, how
soon, what failed and how much memory it took.

``python -m bench.household_load --on sqlite``, or ``scripts/postgres.sh`` before it with ``--on postgres``.
"""

from __future__ import annotations

import argparse
import http.client
import os
import re
import shutil
import statistics
import subprocess
import sys
import tempfile
import threading
import time
from collections import Counter
from dataclasses import dataclass, field
from datetime import timedelta
from pathlib import Path
from typing import Any, Final

ROOT: Final = Path(__file__).resolve().parent.parent
HANDS: Final = 48  # who ask at one time at the most
TIMEOUT_S: Final = 30.0
SERVED: Final = {
    "DJANGO_SETTINGS_MODULE": "elder.config.settings.production", "ALLOWED_HOSTS": "127.0.0.1",
    "SECRET_KEY": "for-this-load-only", "SECURE_SSL_REDIRECT": "0", "REQUEST_LOG": "WARNING",
    "OPENBLAS_NUM_THREADS": "1",
}  # fmt: skip
NGINX: Final = """
worker_processes 1; pid {folder}/nginx.pid; error_log {folder}/error.log warn;
events {{ worker_connections 1024; }}
http {{
  access_log off; client_body_temp_path {folder}/body; proxy_temp_path {folder}/proxy;
  fastcgi_temp_path {folder}/f; uwsgi_temp_path {folder}/u; scgi_temp_path {folder}/s;
  upstream elder {{ server 127.0.0.1:{back}; keepalive 32; }}
  server {{ listen 127.0.0.1:{front}; location / {{
    proxy_pass http://elder; proxy_http_version 1.1; proxy_set_header Connection ""; proxy_set_header Host $host; }} }}
}}
"""


@dataclass
class Household:
    """One household: its garden, its session, its calendar's address, and the batch that is looked at."""

    garden: int
    session: str
    secret: str
    batch: int


@dataclass
class Tally:
    """What was asked and what came of it, by kind: seconds; and what failed."""

    seconds: dict[str, list[float]] = field(default_factory=dict)
    failed: Counter[str] = field(default_factory=Counter)
    lock: threading.Lock = field(default_factory=threading.Lock)

    def add(self, kind: str, spent: float, status: int) -> None:
        """Write one down."""
        with self.lock:
            self.seconds.setdefault(kind, []).append(spent)
            if status >= 400 or status == 0:
                self.failed[f"{kind} {status}"] += 1


def households(count: int) -> list[Household]:
    """So many, each with a garden of two wants and two batches, and somebody signed in."""
    from django.contrib.auth import BACKEND_SESSION_KEY, HASH_SESSION_KEY, SESSION_KEY
    from django.contrib.sessions.backends.db import SessionStore
    from django.utils import timezone

    from elder.web.batches.models import Batch, Entry
    from elder.web.rounds.actions import open_feed
    from tests.factories import GardenFactory, PlaceFactory, WantFactory, member

    today, found = timezone.now().date(), []
    for i in range(count):
        garden: Any = GardenFactory()
        place, person = PlaceFactory(garden=garden), member(garden)
        person.last_login = timezone.now()
        person.save(update_fields=["last_login"])
        for plant, method in (("tomato", "jar"), ("basil", "jar")):
            want = WantFactory(
                garden=garden, plant=plant, method=method, rooting_place=place, growing_place=place, wanted=3 + i % 9
            )
            plan = {"target": (today + timedelta(days=50)).isoformat(), "window": None, "wanted": 4}
            batch = Batch.objects.create(
                garden=garden, want=want, plant=plant, method=method, stock_plant="One", rooting_place=place,
                growing_place=place, plan=plan,
            )  # fmt: skip
            Entry.objects.create(batch=batch, kind="taken", on=today - timedelta(days=9 + i % 9), count=9)
        session = SessionStore()
        session[SESSION_KEY], session[BACKEND_SESSION_KEY] = (
            str(person.pk),
            "django.contrib.auth.backends.ModelBackend",
        )
        session[HASH_SESSION_KEY] = person.get_session_auth_hash()
        session.create()
        found.append(Household(garden.pk, str(session.session_key), open_feed(person), batch.pk))
    return found


def visit(house: Household, port: int, tally: Tally) -> None:
    """What one household asks on such a morning."""
    line = http.client.HTTPConnection("127.0.0.1", port, timeout=TIMEOUT_S)
    cookies = {"sessionid": house.session}

    def ask(kind: str, path: str, body: str | None = None) -> tuple[int, str, dict[str, str]]:
        headers = {"Cookie": "; ".join(f"{k}={v}" for k, v in cookies.items()), "Host": "127.0.0.1"}
        if body is not None:
            headers |= {"Content-Type": "application/x-www-form-urlencoded", "Referer": f"http://127.0.0.1{path}"}
        begin, status, text, told = time.perf_counter(), 0, "", {}
        try:
            line.request("GET" if body is None else "POST", path, body, headers)
            answer = line.getresponse()
            text, status, told = answer.read().decode(), answer.status, dict(answer.getheaders())
            for name, value in re.findall(r"(\w+)=([^;]+)", told.get("Set-Cookie", "")):
                if name == "csrftoken":
                    cookies[name] = value
        except OSError:
            line.close()
        tally.add(kind, time.perf_counter() - begin, status)
        return status, text, told

    g = f"/g/{house.garden}"
    ask("round", f"{g}/round/")
    _, page, _ = ask("look", f"{g}/round/look/{house.batch}/")
    token = re.findall(r'name="csrfmiddlewaretoken" value="(\w+)"', page)
    key = re.findall(r'name="key" value="([0-9a-f-]+)"', page)
    day = re.findall(r'name="on"[^>]*value="([0-9-]+)"', page)
    if token and key and day:
        sent = f"csrfmiddlewaretoken={token[0]}&key={key[0]}&on={day[0]}&stage=waiting&as_it_should=1"
        ask("a look written", f"{g}/round/look/{house.batch}/", sent)
    ask("round", f"{g}/round/")
    ask("season", f"{g}/season/")
    _, _, told = ask("calendar", f"/calendar/{house.secret}.ics")
    for _ in range(2):
        begin = time.perf_counter()
        try:
            line.request("GET", f"/calendar/{house.secret}.ics", headers={"If-None-Match": told.get("ETag", "")})
            answer = line.getresponse()
            answer.read()
            tally.add("calendar again", time.perf_counter() - begin, answer.status)
        except OSError:
            line.close()
            tally.add("calendar again", time.perf_counter() - begin, 0)
    line.close()


def run(houses: list[Household], port: int, seconds: float) -> tuple[Tally, float]:
    """All of them, begun evenly over so many seconds; what it came to, and how long it took."""
    tally, order, begin = Tally(), list(enumerate(houses)), time.perf_counter()
    lock = threading.Lock()

    def hand() -> None:
        while True:
            with lock:
                if not order:
                    return
                i, house = order.pop(0)
            time.sleep(max(begin + seconds * i / len(houses) - time.perf_counter(), 0))
            visit(house, port, tally)

    hands = [threading.Thread(target=hand) for _ in range(HANDS)]
    for one in hands:
        one.start()
    for one in hands:
        one.join()
    return tally, time.perf_counter() - begin


def memory_mb(pid: int) -> float:
    """What a process and those it began hold, MB."""
    total = 0
    for folder in Path("/proc").glob("[0-9]*"):
        try:
            status = (folder / "status").read_text()
        except OSError:
            continue
        mine = folder.name == str(pid) or re.search(rf"^PPid:\s+{pid}$", status, re.MULTILINE)
        held = re.search(r"VmRSS:\s+(\d+)", status)
        total += int(held[1]) if mine and held else 0
    return total / 1024


def spent_by() -> Counter[str]:
    """Seconds of the processor that this machine's processes have taken by now, by their names; ours by number."""
    ticks, found = os.sysconf("SC_CLK_TCK"), Counter[str]()
    for folder in Path("/proc").glob("[0-9]*"):
        try:
            name, rest = (folder / "stat").read_text().split("(", 1)[1].rsplit(")", 1)
        except OSError:
            continue
        parts = rest.split()
        found["who asks" if folder.name == str(os.getpid()) else name] += (int(parts[11]) + int(parts[12])) / ticks
    found["other machines on this one"] = int(Path("/proc/stat").read_text().split()[8]) / ticks  # "steal"
    return found


def free_port() -> int:
    """A free one on the loopback address."""
    import socket

    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


def served(database: str, workers: int, folder: str, cache: str) -> tuple[list[subprocess.Popen[bytes]], int]:
    """gunicorn, and nginx before it; the port to ask at."""
    back, front = free_port(), free_port()
    env = os.environ | SERVED | {"DATABASE_URL": database, "CACHE_URL": cache, "WEB_CONCURRENCY": str(workers)}
    gunicorn = [
        sys.executable, "-m", "gunicorn", "-c", "deploy/gunicorn.conf.py", "--bind", f"127.0.0.1:{back}",
        "elder.config.wsgi",
    ]  # fmt: skip
    conf = Path(folder) / "nginx.conf"
    conf.write_text(NGINX.format(folder=folder, back=back, front=front))
    elder = subprocess.Popen(gunicorn, cwd=ROOT, env=env)  # noqa: S603 - our own commands
    proxy = subprocess.Popen(["/usr/sbin/nginx", "-c", str(conf), "-g", "daemon off;"])  # noqa: S603
    for _ in range(300):
        line = http.client.HTTPConnection("127.0.0.1", front, timeout=2)
        try:
            line.request("GET", "/sign-in/", headers={"Host": "127.0.0.1"})
            if line.getresponse().status == 200:
                return [elder, proxy], front
        except OSError:
            pass
        time.sleep(0.1)
    raise RuntimeError("it does not serve")


def _ms(values: list[float], share: float) -> str:
    return f"{1000 * statistics.quantiles([*values, *values], n=100)[round(100 * share) - 1]:7.0f}"


def main() -> None:
    """Lay the households out, serve, ask, print."""
    asked = argparse.ArgumentParser(description=__doc__)
    asked.add_argument("--on", choices=("sqlite", "postgres"), default="sqlite")
    asked.add_argument("--households", type=int, default=1000)
    asked.add_argument("--seconds", type=float, default=180.0)
    given = asked.parse_args()
    with tempfile.TemporaryDirectory() as folder:
        Path(folder).chmod(0o755)
        many = given.on == "postgres"
        database = os.environ["TEST_DATABASE_URL"] if many else f"sqlite:///{folder}/elder.sqlite3"
        os.environ |= SERVED | {"DATABASE_URL": database, "CACHE_URL": ""}
        os.environ.pop("TEST_DATABASE_URL", None)
        import django

        django.setup()
        from django.conf import settings
        from django.core.management import call_command

        settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
        call_command("migrate", verbosity=0)
        call_command("collectstatic", interactive=False, verbosity=0)
        houses = households(given.households)
        processes: list[subprocess.Popen[Any]] = []
        cache = ""
        if many:
            port = free_port()
            store = [
                shutil.which("valkey-server") or "/usr/bin/redis-server",
                "--port",
                str(port),
                "--bind",
                "127.0.0.1",
                "--save",
                "",
            ]
            processes.append(subprocess.Popen([*store, "--loglevel", "warning"], stdout=subprocess.DEVNULL))  # noqa: S603
            cache = f"redis://127.0.0.1:{port}/0"
        try:
            if many:  # as elder-warm.timer does before breakfast
                subprocess.run(
                    [sys.executable, "manage.py", "warm"], cwd=ROOT, env=os.environ | {"CACHE_URL": cache}, check=True
                )
            more, front = served(database, 2 if many else 1, folder, cache)
            processes += more
            before = spent_by()
            tally, took = run(houses, front, given.seconds)
            spent = spent_by()
            spent.subtract(before)
            held = memory_mb(more[0].pid)
        finally:
            for one in processes:
                one.terminate()
            for one in processes:
                one.wait(timeout=20)
    count = sum(map(len, tally.seconds.values()))
    print(f"{given.households} households on {given.on}: {count} requests in {took:.0f} s, {count / took:.0f} a second")
    print(f"{'asked':16} {'times':>6} {'p50':>7} {'p95':>7} {'p99':>7} ms")
    for kind, values in sorted(tally.seconds.items()):
        print(f"{kind:16} {len(values):6} " + " ".join(_ms(values, share) for share in (0.5, 0.95, 0.99)))
    most = ", ".join(f"{name} {seconds:.0f}" for name, seconds in spent.most_common(6))
    print(f"seconds of the processor, of {(os.cpu_count() or 1) * took:.0f} there were: {most}")
    print(f"failed: {dict(tally.failed) or 'none'}; memory of all processes at the end: {held:.0f} MB")


if __name__ == "__main__":
    main()
