"""What was understood of a file of daily readings, as its page shows it before anything is kept."""

from __future__ import annotations

from dataclasses import dataclass

from elder.engine.climate.freezes import frost_of
from elder.engine.climate.normals import Normals, midsummer
from elder.engine.climate.records import monthly_means
from elder.web.formats.daily import ReadFile
from elder.web.say.units import temperature
from elder.web.say.words import MONTHS, about, days_words, doy_words

SHOWN = 12  # rows of a list before the rest is only counted


@dataclass(frozen=True)
class Preview:
    """What a preview shows of a file."""

    read: ReadFile
    units: str

    @property
    def span(self) -> str:
        """From when to when."""
        ends = self.read.records.first, self.read.records.last
        return " to ".join(f"{about(day, None)} {day.year}" for day in ends)

    @property
    def days(self) -> str:
        """How many days were read."""
        return f"{len(self.read.records):,}"

    @property
    def frost(self) -> str:
        """What its frosts average, where it is long enough to have an ordinary year."""
        means = monthly_means(self.read.records)
        if means is None:
            return ""
        frost = frost_of(self.read.records, midsummer(Normals(*means)))
        if frost.spring is None and frost.autumn is None:
            return "By these readings there is no frost."
        parts = [f"the last frost averages {doy_words(frost.spring.mean_doy)}"] if frost.spring else []
        parts += [f"the first {doy_words(frost.autumn.mean_doy)}"] if frost.autumn else []
        return f"By these readings {', '.join(parts)}."

    @property
    def months(self) -> list[tuple[str, str, str]]:
        """The ordinary year these readings make, month by month."""
        means = monthly_means(self.read.records)
        if means is None:
            return []
        rows = zip(MONTHS, *Normals(*means).__dict__.values(), strict=True)
        return [(name, temperature(low, self.units, 1), temperature(high, self.units, 1)) for name, low, high in rows]

    @property
    def refused(self) -> list[tuple[str, int, str]]:
        """Each reason with its number of lines and the first of them."""
        return [
            (why, count, ", ".join(str(row.line) for row in self.read.refused if row.why == why)[:90])
            for why, count in self.read.reasons.items()
        ]

    @property
    def suspects(self) -> list[tuple[int, str, str, str]]:
        """Readings that look wrong: line, day, what it says and what is usual."""
        return [
            (
                row.line,
                f"{row.day.day} {MONTHS[row.day.month - 1]} {row.day.year}",
                f"{'lowest' if row.which == 'low' else 'highest'} {temperature(row.value, self.units, 1)}",
                f"usual then {temperature(row.usual, self.units)}",
            )
            for row in self.read.suspects[:SHOWN]
        ]

    @property
    def gaps(self) -> list[str]:
        """Holes of more than ten days."""
        holes = [(first, last, days_words((last - first).days + 1)) for first, last in self.read.gaps[:SHOWN]]
        return [f"{about(a, None)} {a.year} to {about(b, None)} {b.year}, {long}" for a, b, long in holes]

    @property
    def more(self) -> tuple[int, int]:
        """How many suspects and gaps are not listed."""
        return max(len(self.read.suspects) - SHOWN, 0), max(len(self.read.gaps) - SHOWN, 0)
