"""A line that is multiplied: what its plants give and how often, who stands already, who is rooting."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import Final

from elder.engine.chance.counting import Take

NEVER: Final = 100_000  # days that no plan runs for: what is first cut after so many never is


@dataclass(frozen=True)
class Line:
    """One line. A plant that has been one for ``first_take_days`` or more, and was last cut ``again_days`` ago or more,
    ``gives`` so many cuttings; a cutting is a plant ``days_to_plant`` later with its lot's own ``take``.

    ``slow_days``: days to a plant for a cut on each day from the day asked, where warmth makes them differ; past its
    end it begins anew, as years do. Empty: ``days_to_plant`` always. Raises ValueError for a line that gives nothing,
    or stands still.
    """

    gives: int
    again_days: int
    first_take_days: int
    days_to_plant: int
    take: Take
    slow_days: tuple[int, ...] = ()

    def __post_init__(self) -> None:
        counted = (self.gives, self.again_days, self.days_to_plant, *(self.slow_days or (1,)))
        if min(counted) < 1 or self.first_take_days < 0:
            raise ValueError("a line gives at least one cutting, again some day, and a plant some days later")

    def plant_on(self, day: int) -> int:
        """The day on which what is cut on a day (both counted from the day asked) is a plant."""
        if not self.slow_days:
            return day + self.days_to_plant
        return day + self.slow_days[day % len(self.slow_days)]


@dataclass(frozen=True)
class CutGroup:
    """So many plants that may be cut from a day on. ``generation`` 0: first mothers, which may differ from their
    clones: each ``gives`` so many, ``again_days`` later as many again, ``takes`` times in all (a tuber is spent some
    day); ``None``: as the line has it, and for ever."""

    count: int
    cut_from: date
    generation: int = 0
    gives: int | None = None
    again_days: int | None = None
    takes: int | None = None


@dataclass(frozen=True)
class Rooting:
    """A lot cut already: ``chances`` of how many of it become plants, from none to all, and the day they are."""

    chances: tuple[float, ...]
    plant_on: date
    generation: int = 1


@dataclass(frozen=True)
class Bench:
    """What bounds a line beside its plants. ``closed_days``: on which nothing is cut. ``keep_uncut``: of the clones
    that come to their last cut of all, what is left uncut so that it stands strong at the end: a share below 1, or
    from 1 on so many. ``room``: how many cuttings may stand rooting at one time. ``last_on``: after it nothing is cut,
    and on it at most ``last_most`` cuttings."""

    closed_days: frozenset[date] = frozenset()
    keep_uncut: float = 0.0
    room: int | None = None
    last_on: date | None = None
    last_most: int | None = None

    def __post_init__(self) -> None:
        if self.keep_uncut < 0 or (self.room is not None and self.room < 1):
            raise ValueError("what is kept uncut is not negative, and room is for one cutting at least")


FREE: Final = Bench()  # nothing bounds it


@dataclass(frozen=True)
class CutLot:
    """What is cut on a day: the ``cuttings`` expected, how many from each ``generation`` (0: the first mothers), from
    how many plants, and the day they are plants."""

    day: date
    cuttings: float
    plants_cut: float
    by_generation: tuple[tuple[int, float], ...]
    plant_on: date

    @property
    def count(self) -> int:
        """Whole cuttings."""
        return round(self.cuttings)


def first_mothers(count: int, today: date) -> Sequence[CutGroup]:
    """So many mothers that may be cut at once."""
    return (CutGroup(count, today),)
