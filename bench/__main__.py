"""`make bench`: everything that is measured, each beside another way of doing it, in one table."""

from __future__ import annotations

from bench.table import forget, garden_database, show

if __name__ == "__main__":
    from bench import (
        archive,
        curve,
        every_page,
        finding,
        learning,
        loads,
        pages,
        questions,
        records,
        rounds,
        shed,
        space,
        stems,
        sun,
    )
    from bench import lines as multiplied

    lines = []
    for part in (curve, records, space, stems, shed, sun, learning, multiplied, loads, finding, questions):
        forget()
        lines += part.lines()
    with garden_database():
        for part in (pages, rounds, archive, every_page):
            forget()
            lines += part.lines()
    show(lines)
