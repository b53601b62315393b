"""The layout: stems typed, rules changed, several at once, and what cannot be read."""

from __future__ import annotations

import re
from typing import Any

import pytest
from django.test import Client

from elder.web.garden.models import Person
from tests.web.presses import at, laid, text, wanted
from tests.web.reading import read


def test_a_layout_by_length_and_number_of_nodes(garden: Any, owner: Client) -> None:
    said = laid(owner, garden, "plant=rosemary&method=gritty&length=60&nodes=20&bad=40-47+in+flower&wanted=8")
    assert "5 tips from this stem. 8 are wanted: 3 more to find." in said
    assert "3 nodes, two under strip two and keep one" in said
    assert "in flower" in said


def test_rules_are_changed_and_the_count_follows(garden: Any, owner: Client) -> None:
    stem = "plant=rosemary&method=gritty&length=60&nodes=20"
    assert "6 tips from this stem." in laid(owner, garden, stem)
    assert "4 tips from this stem." in laid(owner, garden, f"{stem}&least=5&most=5")
    assert "1 tip from this stem." in laid(owner, garden, f"{stem}&shortest=40&longest=60&least=10&most=20")
    assert "At most is less than at least." in laid(owner, garden, f"{stem}&least=6&most=3")
    assert "The longest is shorter than the shortest." in laid(owner, garden, f"{stem}&shortest=30&longest=10")
    assert "More would be under than a cutting has." in laid(owner, garden, f"{stem}&least=2&buried=3")


def test_several_stems_with_a_total(garden: Any, owner: Client) -> None:
    two = "plant=rosemary&method=gritty&length=60&nodes=20&bad=&length=45&nodes=3+8+14+19+25+31+38&bad="
    said = laid(owner, garden, two)
    total = int(re.search(r"(\d+) tips from these 2 stems", said)[1])  # type: ignore[index]
    parts = [int(one) for one in re.findall(r"Stem \d: (\d+) of it", said)]
    assert sum(parts) == total
    assert "from these 3 stems" in laid(owner, garden, f"{two}&another=1")
    assert "from this stem" in laid(owner, garden, f"{two}&drop=1")


@pytest.mark.parametrize(
    ("query", "said"),
    [
        ("length=frog&nodes=4&bad=", "length: A number, please."),
        ("length=0&nodes=4&bad=", "length: A length of at most 600 cm, please."),
        ("length=900&nodes=4&bad=", "length: A length of at most 600 cm, please."),
        ("length=30&nodes=four&bad=", "nodes: How many nodes, or the place of each from the base"),
        ("length=30&nodes=2.5&bad=", "nodes: A whole number of nodes, at most 120."),
        ("length=30&nodes=4+40&bad=", "nodes: 40 cm lies beyond the end of the stem."),
        ("length=30&nodes=4&bad=somewhere", "not to be used: From and to, and why"),
        ("length=30&nodes=4&bad=40-50", "not to be used: 40 lies beyond the end of the stem."),
    ],
)
def test_what_cannot_be_read_is_said_and_kept(garden: Any, owner: Client, query: str, said: str) -> None:
    html = owner.get(f"{at('cut-layout', garden)}?plant=rosemary&{query}").content.decode()
    assert said in text(html)
    assert "No layout yet." in html
    assert 'name="length" value="' + query.split("&")[0].removeprefix("length=") in html


def test_a_stem_with_nothing_in_it_says_so(garden: Any, owner: Client) -> None:
    said = laid(owner, garden, "plant=rosemary&length=4&nodes=2&bad=")
    assert "0 tips from this stem." in said
    assert "No cutting fits in it" in said


def test_long_stems_keep_their_nodes_to_the_millimetre_and_rules_are_whole(garden: Any, owner: Client) -> None:
    stem = "plant=vanilla&method=bark&length=250.5&nodes=12.25+123.45+200.5&bad="
    html = owner.get(f"{at('cut-layout', garden)}?{stem}").content.decode()
    assert 'data-positions="12.25 123.45 200.5"' in html
    assert 'data-end="250.5"' in html
    assert "A whole number, please." in laid(owner, garden, "plant=rosemary&length=60&nodes=20&least=2.5")


def test_one_node_by_its_place_and_none(garden: Any, owner: Client) -> None:
    html = owner.get(f"{at('cut-layout', garden)}?plant=rosemary&length=20&nodes=7+cm&bad=").content.decode()
    assert 'data-positions="7"' in html
    assert 'data-positions=""' in owner.get(f"{at('cut-layout', garden)}?length=20&nodes=0&bad=").content.decode()


def test_a_vine_when_material_is_short(garden: Any, owner: Client) -> None:
    stem = "plant=vanilla&method=bark&length=100&nodes=10&bad="
    assert "2 vine sections from this stem." in laid(owner, garden, stem)
    assert "Material is short" in laid(owner, garden, stem)
    assert "3 vine sections from this stem." in laid(owner, garden, f"{stem}&short=on")


def test_the_layout_counts_against_its_want_and_leads_to_its_sheet(garden: Any, owner: Client) -> None:
    want = wanted(garden, "rosemary", "gritty")
    html = owner.get(f"{at('cut-layout', garden)}?want={want.pk}&length=60&nodes=20&bad=").content.decode()
    assert "are wanted" in text(html)
    count = re.search(r"cut/want/\d+/\?count=(\d+)", html)
    assert count
    assert f"Cut {count[1]}" in text(html)
    sheet = owner.get(f"{at('cut-sheet', garden, want.pk)}?count={count[1]}").content.decode()
    assert f'id="sheet-many" name="count" value="{count[1]}"' in sheet


def test_inches_are_read_as_inches(garden: Any, owner: Client) -> None:
    Person.objects.update(units="us")
    said = laid(owner, garden, "plant=rosemary&method=gritty&length=24&nodes=20&bad=16-18")
    assert "½ in slanted" in said
    metric = 24 * 2.54
    Person.objects.update(units="metric")
    again = laid(owner, garden, f"plant=rosemary&method=gritty&length={metric}&nodes=20&bad={16 * 2.54}-{18 * 2.54}")
    assert re.findall(r"(\d+) tips from", said) == re.findall(r"(\d+) tips from", again)


def test_nothing_is_laid_out_until_every_stem_can_be_read(garden: Any, owner: Client) -> None:
    said = laid(owner, garden, "plant=rosemary&method=gritty&length=60&nodes=20&bad=&length=45&nodes=frog&bad=")
    assert "No layout yet." in said
    assert "Stem 2, nodes: How many nodes" in said
    assert "tips from" not in said


def test_stems_are_drawn_to_one_scale(garden: Any, owner: Client) -> None:
    two = "plant=rosemary&method=gritty&length=60&nodes=20&bad=&length=45&nodes=15&bad="
    page = read(owner.get(f"{at('cut-layout', garden)}?{two}"))
    drawn = [(stem["data-stem-tap"], stem["data-scale"], stem["data-end"]) for stem in page.select("[data-stem-tap]")]
    assert drawn == [("0", "60", "60"), ("1", "60", "45")]
