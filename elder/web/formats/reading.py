"""What the readers of files hand over: raw columns, before any judgement, and lines that were refused."""

from __future__ import annotations

from dataclasses import dataclass, field

from elder.web.formats.dates import DateOrder


@dataclass(frozen=True)
class ReadOptions:
    """What the person says where the file does not: unit, order of day and month, whether suspects stay."""

    unit: str = ""
    order: DateOrder = ""
    keep_suspects: bool = False


@dataclass(frozen=True)
class Refused:
    """A line that was not taken, by its number from 1, and why."""

    line: int
    why: str


class Stations:
    """The station a file is read for: the first it names. Others are counted and left out, since two stations
    are two climates."""

    def __init__(self) -> None:
        self.first, self.others = "", set[str]()

    def is_ours(self, name: str) -> bool:
        """Whether a line is of the station read for."""
        self.first = self.first or name
        if name != self.first:
            self.others.add(name)
        return name == self.first

    @property
    def words(self) -> str:
        """Which station was read, and whether others were left out."""
        if not self.others:
            return self.first
        count = len(self.others)
        return f"{self.first}; {count} other{'s' if count > 1 else ''} in the file left out"


@dataclass
class ReadColumns:
    """Raw columns as read, before any judgement. NaN for a value that is missing."""

    lines: list[int] = field(default_factory=list)
    days: list[int] = field(default_factory=list)
    low: list[float] = field(default_factory=list)
    high: list[float] = field(default_factory=list)
    refused: list[Refused] = field(default_factory=list)
    understood: list[tuple[str, str]] = field(default_factory=list)
    unit: str = ""
    order: DateOrder = ""
    order_unsure: bool = False
