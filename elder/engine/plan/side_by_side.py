"""Many pairs of places set side by side in the year of the normals: one product for each growing place.

For choosing which pairs to look at closely, not for saying. Where roots come is followed for each rooting place once,
and how plants come to stand for each growing place once; the pairs are their product. Days are read every few days and
potting is gathered, so a day may be out by one or two; what is chosen is reckoned whole.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date
from typing import Final

import numpy as np

from elder.engine.arrays import Floats, Ints
from elder.engine.chance.ready_by import Raising, first_day_at, ready_from_cut
from elder.engine.keeping import cached_property
from elder.engine.place.warmth import Place
from elder.engine.setting import Setting

STEP_DAYS: Final = 4
NODES: Final = 40


@dataclass(frozen=True, eq=False)
class SideBySide:
    """``half_rooted`` of each rooting place, −1 for never; ``ready``: of each pair the chance by each day, of one that
    takes; shapes (rooting,) and (rooting, growing, days)."""

    half_rooted: Ints
    ready: Floats

    @cached_property
    def half(self) -> Ints:
        """The first day on which half are ready; shape (rooting, growing)."""
        return first_day_at(self.ready, 0.5)

    def settled(self, share: float) -> Ints:
        """The first day on which so many are."""
        return first_day_at(self.ready, share)


def side_by_side(
    setting: Setting, rooting: Sequence[Place], growing: Sequence[Place], start: date, days: int
) -> SideBySide:
    """Every rooting place with every growing place. Of the setting the two places are not read."""
    raising = [replace(setting, rooting_place=place).raising().usual for place in rooting]
    followed = [ready_from_cut(replace(one, establish=None, harden_days=0), start, days) for one in raising]
    rooted = np.array([one.mean_rooted for one in followed])
    # Without establishing, what is ready is what was potted.
    potted = np.diff(np.array([one.mean_ready for one in followed]), axis=1, prepend=0.0)
    at = np.unique(np.append(np.arange(0, days, STEP_DAYS), days - 1))
    nodes, masses = _gathered(potted)
    ready = np.empty((len(rooting), len(growing), days))
    for j, place in enumerate(growing):
        side = replace(setting, growing_place=place).raising().usual
        ready[:, j] = _between(masses @ _standing(side, start, days, nodes, at), at)
    harden = setting.raising().harden_days
    if harden:
        ready = np.concatenate((np.zeros((*ready.shape[:2], harden)), ready[..., :-harden]), axis=2)
    return SideBySide(first_day_at(rooted, 0.5), ready)


def _between(few: Floats, at: Ints) -> Floats:
    """What is known of some days, straight between them on those between; from (rows, few) to (rows, days)."""
    day = np.arange(at[-1] + 1)
    before = np.minimum(day // STEP_DAYS, len(at) - 2)
    part = (day - at[before]) / (at[before + 1] - at[before])
    low = few[:, before]
    return np.asarray(low + part * (few[:, before + 1] - low))


def _gathered(potted: Floats) -> tuple[Floats, Floats]:
    """Days of potting gathered, even by what all rooting places together pot: the mean day of each part, and of each
    rooting place the mass; shapes (parts,) and (rooting, parts)."""
    pooled = potted.sum(axis=0)
    if pooled.sum() <= 0:
        return np.zeros(1), np.zeros((len(potted), 1))
    part = np.minimum((NODES * np.cumsum(pooled) / pooled.sum()).astype(int), NODES - 1)
    masses = np.zeros((len(potted), NODES))
    np.add.at(masses.T, part, potted.T)
    whole = np.bincount(part, pooled, NODES)
    days = np.bincount(part, pooled * np.arange(len(pooled)), NODES)
    return days[whole > 0] / whole[whole > 0], masses[:, whole > 0]


def _standing(raising: Raising, start: date, days: int, nodes: Floats, at: Ints) -> Floats:
    """Of those potted on each node, the share that stands by each of some days; shape (nodes, days)."""
    law = raising.establish_law
    if law is None:
        return (at >= nodes[:, None]).astype(np.float64)
    units = raising.running(raising.growing_place, start, days)[0, 1:]
    begun = np.interp(nodes, np.arange(days), units)
    return law.quick_cdf(np.maximum(units[at] - begun[:, None], 0.0))
