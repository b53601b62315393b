"""Every page that is read, in gardens of one, five and ten years: warm, with nothing kept, and after a write.

``python -m bench.every_page`` prints them all, the slowest first; ``--size large`` another garden; ``--beside`` the
large garden beside the middle one, page by page in turn; names of addresses ask for those alone. Seconds are of the
processor, on one core.
"""

from __future__ import annotations

import argparse
import gc
import os
import resource
import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import partial
from typing import Any, Final

from bench.made_garden import LARGE, MIDDLE, SMALL, make_garden
from bench.table import Line, forget, garden_database
from elder.config.settled import settle

SIZES: Final = {"small": SMALL, "middle": MIDDLE, "large": LARGE}
WRITTEN_TIMES: Final = 3
COLD_TIMES: Final = 2
WARM_TIMES: Final = 5  # and the least of them: what else a machine does only ever adds
# Files for the hand, and pages that are not about a garden's rows.
APART: Final = ("garden-archive-file", "health", "offline", "manifest", "service-worker")
ASKED: Final = {"find": "?q=tom", "verdict": ""}


@dataclass(frozen=True)
class Paged:
    """One page: seconds of the processor warm, with nothing kept, after a write; questions to the database; bytes."""

    name: str
    warm: float
    cold: float
    written: float
    queries: int
    size: int


def parts_of(garden: Any) -> dict[str, Any]:
    """What the parts of addresses stand for: the newest of each thing of the garden."""
    from elder.web.batches.models import Batch, Entry
    from elder.web.season.models import Want
    from elder.web.stock.models import StockPlant

    batch = Batch.objects.filter(garden=garden).latest("pk")
    return {
        "garden_id": garden.pk,
        "want_id": Want.objects.filter(garden=garden, closed_on=None).earliest("pk").pk,
        "batch_id": batch.pk,
        "entry_id": Entry.objects.filter(batch=batch).latest("pk").pk,
        "place_id": garden.places.first().pk,
        "stock_id": StockPlant.objects.filter(garden=garden).first().pk,
        "mother_id": StockPlant.objects.filter(garden=garden).first().pk,
        "slug": "tomato",
        "way": "jar",
        "form": "csv",
        "what": "label",
        "size": "tag",
        "year": batch.entries.first().on.year,
    }


def addresses(garden: Any) -> Iterator[tuple[str, str]]:
    """Every named address whose parts are known, by name."""
    from django.urls import URLPattern, URLResolver, get_resolver, reverse

    known = parts_of(garden)

    def walk(patterns: Any, above: tuple[str, ...]) -> Iterator[tuple[str, tuple[str, ...]]]:
        for pattern in patterns:
            parts = (*above, *pattern.pattern.converters)
            if isinstance(pattern, URLResolver):
                yield from walk(pattern.url_patterns, parts)
            elif isinstance(pattern, URLPattern) and pattern.name:
                yield pattern.name, parts

    asked = {**ASKED, "round-looks": f"?of={','.join(map(str, _to_look_at(garden)))}"}
    for name, parts in walk(get_resolver().url_patterns, ()):
        if "garden_id" in parts and set(parts) <= set(known) and name not in APART:
            yield name, reverse(name, kwargs={part: known[part] for part in parts}) + asked.get(name, "")


def _to_look_at(garden: Any) -> list[int]:
    """As many living batches as one answer draws."""
    from elder.web.batches.models import Batch
    from elder.web.rounds.look_views import A_HANDFUL

    living = Batch.objects.filter(garden=garden, over_on=None).order_by("-pk")
    return list(living.values_list("pk", flat=True)[:A_HANDFUL])


def spent(run: Callable[[], Any]) -> float:
    """Seconds of the processor that a run took."""
    begin = time.process_time()
    run()
    return time.process_time() - begin


def laid_out(size: str) -> tuple[Any, Any]:
    """A garden of that size, and somebody signed in to it."""
    from django.test import Client
    from django.utils import timezone

    from tests.factories import member

    garden, client = make_garden(SIZES[size], today=timezone.now().date()), Client()
    client.force_login(member(garden), backend="django.contrib.auth.backends.ModelBackend")
    return garden, client


def beside(names: tuple[str, ...] = ()) -> Iterator[tuple[str, float, float, float, float]]:
    """Of each page the seconds in the middle garden and in the large one, warm and after a write: asked in turn, the
    least of so many, so that a machine whose speed goes up and down does the same to both."""
    both = [laid_out(size) for size in ("middle", "large")]
    writes = [a_look(garden) for garden, _ in both]
    pages = [dict(addresses(garden)) for garden, _ in both]
    for name in pages[0]:
        if names and name not in names:
            continue
        asks = [partial(client.get, page[name]) for (_, client), page in zip(both, pages, strict=True)]
        if any(ask().status_code != 200 for ask in asks):
            continue
        warm = [[spent(ask) for ask in asks] for _ in range(2 * WARM_TIMES)]
        written = [[_after(write, ask) for write, ask in zip(writes, asks, strict=True)] for _ in range(WARM_TIMES)]
        yield name, *map(min, zip(*warm, strict=True)), *map(min, zip(*written, strict=True))  # type: ignore[misc]


def _after(write: Callable[[], Any], ask: Callable[[], Any]) -> float:
    write()
    return spent(ask)


def page(client: Any, name: str, address: str, write: Callable[[], Any]) -> Paged | None:
    """One page measured; nothing for what cannot be read, or leads elsewhere."""
    from django.db import connection
    from django.test.utils import CaptureQueriesContext

    with CaptureQueriesContext(connection) as asked:
        answer = client.get(address)
    queries = len(asked)
    if answer.status_code != 200:
        return None
    body = b"".join(answer.streaming_content) if answer.streaming else answer.content
    warm = min(spent(lambda: client.get(address)) for _ in range(WARM_TIMES))
    written = min(_after(write, lambda: client.get(address)) for _ in range(WRITTEN_TIMES))
    cold = min(_from_nothing(lambda: client.get(address)) for _ in range(COLD_TIMES))
    return Paged(name, warm, cold, written, queries, len(body))


def _from_nothing(ask: Callable[[], Any]) -> float:
    forget()
    gc.collect()
    return spent(ask)


def a_look(garden: Any) -> Callable[[], Any]:
    """Writes a look down, of one living batch after the other."""
    from elder.web.batches.models import Batch, Entry

    living = list(Batch.objects.filter(garden=garden, over_on=None).order_by("pk"))
    today = living[0].entries.latest("pk").on

    def write() -> None:
        write.turn += 1  # type: ignore[attr-defined]
        batch = living[write.turn % len(living)]  # type: ignore[attr-defined]
        Entry.objects.create(batch=batch, kind="tended", on=max(today, batch.entries.latest("pk").on), deed="water")

    write.turn = 0  # type: ignore[attr-defined]
    return write


def pages(size: str, names: tuple[str, ...] = ()) -> tuple[list[Paged], float]:
    """Every page of a garden of that size, and the most memory the process had, MB."""
    garden, client = laid_out(size)
    write = a_look(garden)
    found = []
    for name, address in addresses(garden):
        if not names or name in names:
            one = page(client, name, address, write)
            if one:
                found.append(one)
    return found, resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024


def lines() -> list[Line]:
    """Every page of the middle garden warm, beside the page of the glossary, which asks for nothing."""
    found, _ = pages("middle")
    floor = next(one.warm for one in found if one.name == "words")
    return [
        Line(
            "every page", one.name, one.warm, "the glossary's page", floor, f"{1000 * one.written:.0f} ms after a write"
        )
        for one in sorted(found, key=lambda one: -one.warm)
    ]


def _ms(seconds: float) -> str:
    return f"{1000 * seconds:8.0f}"


def main() -> None:
    """Print them."""
    asked = argparse.ArgumentParser(description=__doc__)
    asked.add_argument("names", nargs="*")
    asked.add_argument("--size", choices=list(SIZES), default="middle")
    asked.add_argument("--beside", action="store_true")
    given = asked.parse_args()
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "elder.config.settings.test")
    if given.beside:
        with garden_database():
            settle()
            print(f"{'page':32} {'warm':>8} {'large':>8} {'':>6} {'written':>8} {'large':>8}")
            for name, warm, large, written, more in beside(tuple(given.names)):
                print(
                    f"{name:32} {_ms(warm)} {_ms(large)} {large / warm:5.2f}× "
                    f"{_ms(written)} {_ms(more)} {more / written:5.2f}×"
                )
        return
    with garden_database():
        settle()
        found, most = pages(given.size, tuple(given.names))
    print(f"{'page':32} {'warm':>8} {'cold':>8} {'written':>8} {'queries':>7} {'kB':>6}")
    for one in sorted(found, key=lambda one: -one.warm):
        times = " ".join(_ms(seconds) for seconds in (one.warm, one.cold, one.written))
        print(f"{one.name:32} {times} {one.queries:7} {one.size / 1000:6.0f}")
    speed = _ms(min(spent(a_million) for _ in range(5))).strip()
    print(f"{len(found)} pages, {most:.0f} MB at the most; a million numbers take this machine {speed} ms")


def a_million() -> int:
    """What tells one machine, or one hour of it, from another: a million numbers added up."""
    return sum(number * number % 7 for number in range(1_000_000))


if __name__ == "__main__":
    main()
