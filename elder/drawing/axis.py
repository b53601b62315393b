"""Time across a drawing: where a day stands, and the ticks of months and weeks."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, timedelta

MONTH_NAMES = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")


@dataclass(frozen=True)
class TimeAxis:
    """Days from ``start`` at the left edge to ``end`` at the right."""

    start: date
    end: date

    def __post_init__(self) -> None:
        if self.end <= self.start:
            raise ValueError("an axis runs forward")

    @property
    def days(self) -> int:
        """Days from edge to edge."""
        return (self.end - self.start).days

    def x(self, day: date, *, hour: float = 0.0) -> float:
        """Where a day stands, as a share of the width; outside 0..1 beyond the edges."""
        return ((day - self.start).days + hour / 24) / self.days

    def held(self, day: date) -> float:
        """The same, held to the edges."""
        return min(max(self.x(day), 0.0), 1.0)

    def shows(self, day: date) -> bool:
        """Whether a day lies on the axis."""
        return self.start <= day <= self.end

    def months(self) -> Iterator[date]:
        """First days of months on the axis."""
        day = self.start.replace(day=1)
        while day <= self.end:
            if day >= self.start:
                yield day
            day = (day + timedelta(days=32)).replace(day=1)

    def mondays(self) -> Iterator[date]:
        """First days of ISO weeks on the axis."""
        day = self.start + timedelta(days=-self.start.weekday() % 7)
        while day <= self.end:
            yield day
            day += timedelta(days=7)


def month_label(day: date, *, with_year: bool, crowded: bool = False) -> str:
    """A month's short name, with its year where that matters; the year short where months crowd."""
    name = MONTH_NAMES[day.month - 1]
    if not with_year:
        return name
    return f"{name} ’{day.year % 100:02}" if crowded else f"{name} {day.year}"


def axis_around(today: date, days: list[date]) -> TimeAxis:
    """An axis that holds today and ``days``: six to eighteen months, whole months at the left."""
    first = min([today, *days])
    start = (max(first, today - timedelta(days=150)) - timedelta(days=10)).replace(day=1)
    last = max([today + timedelta(days=150), *days])
    end = min(last + timedelta(days=12), start + timedelta(days=550))
    return TimeAxis(start, end)
