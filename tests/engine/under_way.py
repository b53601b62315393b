"""Batches under way, lived in recorded years and looked at: does what is forecast at a look come true by the day?"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

import numpy as np

from elder.engine.assumptions import Assumptions
from elder.engine.batch.forecast import Aims, forecast
from elder.engine.batch.history import replay
from elder.engine.batch.state import BatchState, Entry
from elder.engine.handbook.loading import handbook
from elder.engine.setting import Setting
from tests.engine.stations import PLACES, Array, LivedBatch, Station, day_of, lived_batch, station

# Plant, way, places, the day cut and the day wanted, the number cut.
LIVES = (
    (("tomato", "jar", "sill", "cover"), date(2027, 4, 1), 47, 11),
    (("basil", "jar", "sill", "sill"), date(2027, 4, 10), 40, 12),
    (("mint", "mix", "air", "air"), date(2027, 5, 10), 55, 10),
    (("strawberry", "plug", "cover", "air"), date(2027, 7, 1), 60, 9),
)
SHARES = (0.25, 0.45, 0.65, 0.85)  # of the way to the day wanted, when what is forecast is written down


@dataclass(frozen=True)
class Coverage:
    """The share inside the stated 10–90% range; the mean chance stated and the share that came true, of as many plants
    as were as good as even; how many forecasts."""

    inside: float
    stated: float
    true: float
    checks: int


@dataclass
class Written:
    """What somebody who looks has written down, and how far each cutting has come."""

    entries: list[Entry]
    potted: dict[int, int]
    hardened: dict[int, int]
    lost: set[int]


def look_at(batch: LivedBatch, cut: date, day: int, written: Written, harden_from: int) -> None:
    """One look: what has rooted is potted at once, what has failed is thrown out, what stands is put out to harden."""
    on, key = day_of(cut, day), f"{day}"
    gone = {*written.potted, *written.lost}
    rooted = [i for i, root in enumerate(batch.roots) if 0 <= root <= day and i not in gone]
    failed = [i for i, fail in enumerate(batch.fails) if 0 <= fail <= day and i not in written.lost]
    if rooted:
        written.entries += [Entry(f"r{key}", "rooted", on, len(rooted)), Entry(f"p{key}", "potted", on, len(rooted))]
    if failed:
        written.entries.append(Entry(f"l{key}", "lost", on, len(failed), stage="waiting", why="rot"))
    if not rooted and not failed:
        written.entries.append(Entry(f"k{key}", "looked", on))
    written.potted |= dict.fromkeys(rooted, day)
    written.lost |= set(failed)
    dead = [i for i, potted in written.potted.items() if batch.dies[i] and batch.stands(i, potted) <= day]
    if dead:
        written.entries.append(Entry(f"d{key}", "lost", on, len(dead), stage="potted", why="pests"))
        written.lost |= set(dead)
        for i in dead:
            del written.potted[i]
    if day >= harden_from:
        by_day = sorted((potted, i) for i, potted in written.potted.items() if i not in written.hardened)
        stand = [i for potted, i in by_day if batch.stands(i, potted) <= day and not batch.dies[i]]
        if stand:
            written.entries.append(Entry(f"h{key}", "hardening", on, len(stand)))
            # The oldest are written down as moved, whichever they were; their number is what tells.
            written.hardened |= dict.fromkeys(stand, day)


def coverage(look: int, *, batches: int, names: tuple[str, ...] = ("brussels", "north-yorks")) -> Coverage:
    """Live batches, write down what is forecast at looks on the way, and set it beside what came."""
    chance = np.random.default_rng(27 + look)
    inside, stated, true = [], [], []
    for i in range(batches):
        job, cut, by, count = LIVES[i % len(LIVES)]
        at = station(names[(i // len(LIVES)) % len(names)])
        batch = lived_batch(chance, at, job, cut, count, look)
        forecasts = _forecasts(at, job, cut, by, batch, look)
        final = forecasts.pop()
        came = int(final.argmax())
        for pmf in forecasts:
            below = np.cumsum(pmf)
            low, high = int((below < 0.1 - 1e-12).sum()), int((below < 0.9 - 1e-12).sum())
            inside.append(low <= came <= high)
            at_least = np.cumsum(pmf[::-1])[::-1]
            ask = int((at_least >= 0.5).sum()) - 1  # as many as are as good as even, or better
            if ask > 0:
                stated.append(float(at_least[ask]))
                true.append(came >= ask)
    return Coverage(float(np.mean(inside)), float(np.mean(stated)), float(np.mean(true)), len(inside))


def _forecasts(
    at: Station, job: tuple[str, str, str, str], cut: date, by: int, batch: LivedBatch, look: int
) -> list[Array]:
    """The number ready by the day wanted as forecast at each of some looks; last, as it came (all on one number)."""
    plant = handbook()[job[0]]
    method, target = plant.method(job[1]), day_of(cut, by)
    written = Written([Entry("t", "taken", cut, len(batch.roots))], {}, {}, set())
    wanted_at, found = [round(share * by) for share in SHARES], []
    asked = by - method.harden_days  # the day on which the round asks for hardening: they come then too
    for day in sorted({*(one for one in batch.looks if one <= by), asked}):
        look_at(batch, cut, day, written, asked)
        if wanted_at and day >= wanted_at[0]:
            wanted_at.pop(0)
            today = day_of(cut, day)
            state = replay(written.entries, today=today)
            assert isinstance(state, BatchState), state
            places = PLACES[job[2]], PLACES[job[3]]
            setting = Setting(plant, method, at.climate, *places, today, Assumptions(look_every_days=look))
            found.append(forecast(state, setting, aims=Aims(ready_on=target)).ready_on(target))
    ready = sum(day + method.harden_days <= by for day in written.hardened.values())
    came = np.zeros(len(batch.roots) + 1)
    came[ready] = 1.0
    return [*found, came]
