"""A page read as a person or a screen reader does: by its labels, its lists, its rows and its cells."""

from __future__ import annotations

from typing import Any

from bs4 import BeautifulSoup, Tag


def words(tag: Tag) -> str:
    """What is to be read in an element, in one line; a word's explanation that is shut says nothing."""
    shut = ("what-is", "what-said")
    parts = [part for part in tag.find_all(string=True) if not part.find_parent(class_=shut)]
    return " ".join(" ".join(parts).split())


def read(answer: Any) -> BeautifulSoup:
    """The page of an answer."""
    return BeautifulSoup(answer.content.decode(), "html.parser")


def named(page: Tag, label: str) -> Tag:
    """The one element of that name: by ``aria-label``, else by the heading or caption it goes by."""
    found = page.find_all(attrs={"aria-label": label})
    if not found:
        heads = [head for head in page.find_all(["h2", "h3", "caption"]) if words(head).startswith(label)]
        found = [head.parent for head in heads if head.parent]
    assert len(found) == 1, f"{len(found)} are called {label!r}"
    return found[0]


def table(page: Tag, label: str) -> list[list[str]]:
    """The rows of a table by what it is called, its head first, cell by cell."""
    part = named(page, label)
    grid = part if part.name == "table" else part.find("table")
    assert isinstance(grid, Tag)
    return [[words(cell) for cell in row.find_all(["th", "td"])] for row in grid.find_all("tr")]


def items(page: Tag, label: str) -> list[str]:
    """The lines of a list by what it is called."""
    part = named(page, label)
    line = part if part.name in ("ul", "ol") else part.find(["ul", "ol"])
    assert isinstance(line, Tag)
    return [words(item) for item in line.find_all("li", recursive=False)]


def pairs(page: Tag, label: str) -> dict[str, str]:
    """A list of names and what is said of each."""
    part = named(page, label)
    return {words(name): words(said) for name, said in zip(part.find_all("dt"), part.find_all("dd"), strict=True)}


def board(page: Tag) -> dict[str, str]:
    """The rows of the Season board: each want's name, and what stands beside it."""
    rows = named(page, "Wants on one time axis").select(".board-rows > li")
    found = {}
    for row in rows:
        name = row.select_one(".row-name")
        said = row.select_one(".row-said") or row.select_one(".board-label > span")
        assert name is not None
        found[words(name)] = words(said) if said else ""
    return found
