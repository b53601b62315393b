"""An archive in words: what it holds, what stays behind and why."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Final

from elder.web.archive.contents import NOT_ARCHIVED, TABLES
from elder.web.archive.reading import Looked, whys
from elder.web.say.words import listed, plural

CALLED: Final = {
    "own_plants": ("plant of your own", "plants of your own"),
    "places": ("place", "places"),
    "records": ("file of daily records", "files of daily records"),
    "readings": ("place with readings", "places with readings"),
    "mothers": ("mother", "mothers"),
    "heritages": ("family from elsewhere", "families from elsewhere"),
    "mother_looks": ("look at a mother", "looks at mothers"),
    "mother_photos": ("photo of a mother", "photos of mothers"),
    "variety_answers": ("answer about a variety", "answers about varieties"),
    "wants": ("want", "wants"),
    "batches": ("batch", "batches"),
    "entries": ("line of history", "lines of history"),
    "photos": ("photo of a batch", "photos of batches"),
    "supplies": ("thing in the shed", "things in the shed"),
    "shed_entries": ("line of the shed’s book", "lines of the shed’s book"),
    "mix_orders": ("mix to be made", "mixes to be made"),
    "prices": ("price", "prices"),
    "trials": ("trial", "trials"),
    "trial_arms": ("arm of a trial", "arms of trials"),
    "lines": ("line being multiplied", "lines being multiplied"),
    "line_lots": ("lot of a line", "lots of lines"),
    "wintered": ("kind taken through winter", "kinds taken through winter"),
    "winter_checks": ("look in winter", "looks in winter"),
    "pots": ("potting of a long crop", "pottings of long crops"),
    "promises": ("promise", "promises"),
    "handings": ("handing-over", "handings-over"),
    "moves": ("move of house", "moves of house"),
    "moved_plants": ("plant that moves", "plants that move"),
    "waterings": ("watering after a move", "waterings after a move"),
}
FIRST: Final = ("batches", "entries", "wants", "mothers", "places")
# What a person may miss, of what is not in an archive: the rest is Django's own housekeeping.
MISSED: Final = (
    ("Who did what", "who wrote each line stays with the accounts here"),
    ("People and passwords", NOT_ARCHIVED["garden.Person"]),
    ("The keys of slips and calendars", "whoever has one may read: they are drawn anew"),
    ("Printed labels", NOT_ARCHIVED["cut.TrayLabel"]),
    ("The garden before a move", "it is an archive of its own"),
)


def count_words(name: str, count: int) -> str:
    """So many of a table's rows."""
    return plural(count, *CALLED[name])


def holds_words(counts: Mapping[str, int]) -> str:
    """What a garden's archive holds, in a line."""
    there = [count_words(name, counts[name]) for name in FIRST if counts[name]]
    rest = sum(counts[name] for name in CALLED if name not in FIRST)
    if rest:
        there.append(f"{rest:,} other rows")
    return listed(there) if there else "only the garden itself and its year"


def lines_of(counts: Mapping[str, int]) -> list[tuple[str, int]]:
    """Each table that has rows, by its name in words."""
    names = [table.name for table in TABLES if table.name in CALLED and counts.get(table.name)]
    return [(CALLED[name][1].capitalize(), counts[name]) for name in names]


def coming_words(looked: Looked) -> str:
    """What comes of an archive, in a line."""
    return holds_words({name: looked.count(name) for name in CALLED})


def behind_words(looked: Looked) -> list[str]:
    """What stays behind, and why."""
    return [f"{count_words(name, count)}: {why}" for name, gone in looked.left_out.items() for why, count in whys(gone)]
