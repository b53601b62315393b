"""Every page of the demo as a person reads it: no word the glossary leaves out, no fault of number, odds one way."""

from __future__ import annotations

import re
from datetime import date
from pathlib import Path
from typing import Any, Final

import pytest
from bs4 import BeautifulSoup
from django.db.models import Q
from django.test import Client
from django.urls import reverse

from demo.loader import load
from elder.web.garden.access import gardens_of
from elder.web.garden.models import Garden, Household, Person
from elder.web.read.long_crops import long_crops

GLOSSARY = Path(__file__).parents[2] / "docs" / "glossary.md"
PLAIN = [
    "season", "season-fit", "wants-away", "want-new", "cut", "cut-can", "cut-hormone", "cut-layout", "windfall",
    "labels", "label-tray", "round", "round-sheet", "batches", "plants", "stock", "stock-families", "stock-new",
    "places", "place-new", "shed", "shed-mix", "shed-containers", "shed-list", "almanac", "frost", "records", "garden",
    "garden-edit", "assumptions", "words", "person-new", "year-long", "year-multiply",
    "passing", "passing-new", "passing-bring", "moving", "moving-here",
]  # fmt: skip


def left_out() -> list[str]:
    """The words of the glossary's table of what does not stand on the screen."""
    part = GLOSSARY.read_text(encoding="utf-8").split("## Words we leave out")[1].split("\n## ")[0]
    return re.findall(r"^\| ([a-z -]+?) \|", part, re.M)


ONE = "is|has|was|day|week|month|year|night|pot|jar|plant|cutting|shoot|stick"
COUNTS_OF_MANY = r"days|weeks|months|years|nights|pots|jars|plants|cuttings|roots|leaves|shoots|sticks|slips|tops|pups"
FAULTS: Final = {
    "one of many": re.compile(rf"(?<![\d.,:–/-])\b1 (?:are|have|were|{COUNTS_OF_MANY})\b"),
    "many of one": re.compile(rf"(?<![\d.,:])\b(?!20\d\d)(?:[2-9]|[1-9]\d+) (?:{ONE})\b(?!-)"),
    "said twice": re.compile(r"\b([a-z]{2,}),? \1\b"),
    "odds": re.compile(r"\b(?:\d+ in (?:100|50|40|30|25)|(?:[2-9]|1[0-8]) in 20)\b"),
    "a bare value": re.compile(r"\b(?:None(?! ?\.| of| for)|nan|True|False|inf)\b|[{}]|\b0\.\d+ (?:chance|take)\b"),
    "nothing of nothing": re.compile(r"\b0 of 0\b"),
}


def text_of(html: str) -> str:
    """What stands on the page to be read; not what may be chosen from, nor what scripts are handed."""
    page = BeautifulSoup(html, "html.parser").body
    assert page is not None
    for part in page.select("script, style, select, dialog, svg"):
        part.decompose()
    return re.sub(r"\s+", " ", page.get_text(" "))


ANY_DAY = ("2027-04-06", "2027-06-21", "2027-09-22", "2028-02-29")


def addresses(garden: Garden, turn: int) -> list[str]:
    """The pages of a garden that are read: what asks every want and batch for its answer, and every third of the rest,
    another third each day."""
    rest = [reverse(name, args=[garden.pk]) for name in PLAIN]
    # Of what is long over a few are enough: two past seasons of them read alike.
    over = garden.batches.exclude(over_on=None).order_by("-pk").values("pk")[:4]
    for name, rows in (
        ("want", garden.wants.filter(closed_on=None).order_by("pk")),
        ("want", garden.wants.exclude(closed_on=None).order_by("-pk")[:3]),
        ("take", garden.wants.filter(closed_on=None).order_by("pk")),
        ("cut-sheet", garden.wants.filter(closed_on=None).order_by("pk")),
        ("batch", garden.batches.filter(Q(over_on=None) | Q(pk__in=over)).order_by("pk")),
        ("round-look", garden.batches.filter(over_on=None).order_by("pk")),
        ("stock-plant", garden.stock_plants.order_by("pk")),
    ):
        rest += [reverse(name, args=[garden.pk, row.pk]) for row in rows]
    rest += [reverse("year-line", args=[garden.pk, row.pk]) for row in garden.multiplying.all()]
    rest += [reverse("year-line-new", args=[garden.pk, row.pk]) for row in garden.stock_plants.filter(ended_on=None)]
    for promise in garden.promises.all():
        rest += [reverse(name, args=[garden.pk, promise.pk]) for name in ("passing-one", "passing-slip")]
    for move in garden.moves.all():
        rest += [reverse(f"moving-{name}", args=[garden.pk, move.pk]) for name in ("one", "load", "go")]
        rest += [reverse("moving-plant", args=[garden.pk, move.pk, row.what]) for row in move.plants.all()]
    rest += [
        reverse("year-crop", args=[garden.pk, crop.key])
        for crop in long_crops(garden, date.fromisoformat(ANY_DAY[turn]))
    ]
    daily = ("season", "round", "batches", "stock", "year", "year-winter")
    return [reverse(name, args=[garden.pk]) for name in daily] + rest[turn % 3 :: 3]


@pytest.mark.no_cover
@pytest.mark.parametrize("day", ANY_DAY)
def test_the_demo_stands_on_any_day_and_every_page_reads_well(
    db: None, client: Client, settings: Any, day: str
) -> None:
    settings.DEMO = True
    load(afresh=True)
    client.post(reverse("demo-enter"))
    Household.objects.update(demo_day=date.fromisoformat(day))
    faults = FAULTS | {word: re.compile(rf"\b{word}s?\b", re.I) for word in left_out()}
    found = set()
    for garden in gardens_of(Person.objects.get(username="gardener")):
        for url in addresses(garden, ANY_DAY.index(day)):
            answer = client.get(url, follow=True)
            assert answer.status_code == 200, url
            text = text_of(answer.content.decode())
            for kind, fault in faults.items():
                for seen in fault.finditer(text):
                    found.add((kind, text[max(0, seen.start() - 40) : seen.end() + 30], re.sub(r"\d+", "n", url)))
    assert sorted(found) == [], "\n".join(map(str, sorted(found)))
