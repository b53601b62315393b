"""Notes of past batches under whatever headings people use. All invented."""

from __future__ import annotations

from datetime import date

import pytest

from elder.engine.refusal import Refusal
from elder.web.formats.old_notes import MOST_LINES, NotesAsked, NotesTable, names_inches, read_notes, table_of


def table(text: str) -> NotesTable:
    found = table_of(text)
    assert isinstance(found, NotesTable)
    return found


@pytest.mark.parametrize(
    ("heads", "guesses"),
    [
        ("Plant,Date,No.,Rooted,Notes", ["plant", "cut_on", "count", "rooted", "note"]),
        ("Crop;Variety;Taken on;Cuttings;Took;Died", ["plant", "variety", "cut_on", "count", "rooted", "lost"]),
        (
            "What\tHow many\tDate cut\tDate rooted\tPotted\tPlanted out",
            ["plant", "count", "cut_on", "rooted_on", "potted", "planted"],
        ),
        (
            "Species,Method,From,Where,Struck,Number of cuttings",
            ["plant", "method", "mother", "place", "cut_on", "count"],
        ),
        ("Plant,Rooted on,Rooted,Longest root (in)", ["plant", "rooted_on", "rooted", "root_cm"]),
        ("Plant,Weather,Date", ["plant", "", "cut_on"]),
    ],
)  # fmt: skip
def test_columns_are_guessed_by_their_headings(heads: str, guesses: list[str]) -> None:
    sign = next(sign for sign in "\t;," if sign in heads)
    assert list(table(f"{heads}\n{sign.join('1' * len(guesses))}").guesses) == guesses


def test_a_line_is_read_with_its_days_counts_and_words() -> None:
    found = table(
        "Plant,Date,No.,Rooted,Rooted on,Longest root (in),Notes\nMint,3/5/2026,ca. 12,9,17/5/2026,1.5,on a wet day\n"
    )
    read = read_notes(found, NotesAsked(found.guesses, inches=bool(names_inches(found, found.guesses))))
    (line,) = read.lines
    assert line.words == {"plant": "Mint", "note": "on a wet day"}
    assert line.counts == {"count": 12, "rooted": 9}
    assert line.days == {"cut_on": date(2026, 5, 3), "rooted_on": date(2026, 5, 17)}
    assert line.root_cm == pytest.approx(3.81)  # 1.5 inches
    assert (read.order, read.unsure, line.number) == ("dmy", False, 2)


def test_the_other_order_of_day_and_month_is_asked_for() -> None:
    found = table("Plant,Date,No.\nMint,3/5/2026,12\n")
    assert read_notes(found, NotesAsked(found.guesses)).unsure
    read = read_notes(found, NotesAsked(found.guesses, "mdy"))
    assert read.lines[0].days["cut_on"] == date(2026, 3, 5)
    assert not read.unsure


def test_what_cannot_be_read_is_told_by_line() -> None:
    found = table("Plant,Date,No.\nMint,in May,12\nBasil,2026-05-03,a dozen\nSage,2026-05-03,-\n\nRue,2026-05-03,4\n")
    read = read_notes(found, NotesAsked(found.guesses))
    assert [line.wrong for line in read.lines] == [
        "“in May” is no date with its year", "“a dozen” is no number", "", "",
    ]  # fmt: skip
    assert [line.number for line in read.lines] == [2, 3, 4, 6]
    assert "count" not in read.lines[2].counts


def test_a_column_may_be_taken_for_something_else() -> None:
    found = table("a\tb\tc\nMint\t2026-05-03\t12")
    assert found.guesses == ("", "", "")
    read = read_notes(found, NotesAsked(("plant", "cut_on", "count")))
    assert (read.lines[0].words["plant"], read.lines[0].counts["count"]) == ("Mint", 12)


def test_names_with_spaces_and_quoted_commas_stay_whole() -> None:
    found = table('Plant,From,Date,No.\n"Sweet potato","the one, by the door",2026-05-03,3')
    assert found.lines[0][1][:2] == ("Sweet potato", "the one, by the door")
    assert table("Plant\nSweet potato").lines == ((2, ("Sweet potato",)),)


def test_too_much_or_nothing_is_refused() -> None:
    nothing = table_of("Plant,Date\n")
    assert isinstance(nothing, Refusal)
    assert nothing.code == "notes_no_lines"
    much = table_of("Plant\n" + "Mint\n" * (MOST_LINES + 1))
    assert isinstance(much, Refusal)
    assert much.params == {"lines": MOST_LINES + 1, "most": MOST_LINES}
