"""Fit them in: what stands in whose way, and only what is accepted is changed."""

from __future__ import annotations

from datetime import date
from typing import Any

import pytest
from django.urls import reverse

from elder.engine.space.allocate import Fit
from elder.engine.space.alternatives import choices_for
from elder.web.garden.models import Garden
from elder.web.read.wants import reckon, reckon_all
from elder.web.season import actions, fitting
from elder.web.season.models import Want
from tests.factories import PlaceFactory, WantFactory, take
from tests.web.presses import take_back, way_back
from tests.web.reading import named, read, words


def board(client: Any, garden: Garden, **query: object) -> str:
    return client.get(reverse("season", args=[garden.pk]), query).content.decode()


@pytest.fixture
def crowded(garden: Garden) -> Garden:
    """Two wants for tomatoes on a sill with jars for fifteen cuttings; a shelf with room."""
    sill = garden.places.get()
    sill.capacity = {"jar": 15, "pot": 40}
    sill.save()
    PlaceFactory(garden=garden, name="Shelf", day_c=19, night_c=16, capacity={"jar": 40, "pot": 40})
    for _ in range(2):
        WantFactory(garden=garden, rooting_place=sill)
    return garden


def test_too_little_room_is_said_and_drawn(crowded: Garden, owner: Any) -> None:
    page = board(owner, crowded)
    assert "Kitchen sill, jars of water: 24 asked, room for 15" in page
    assert "load-over" in page


def test_fitting_in_changes_only_what_is_accepted(crowded: Garden, owner: Any) -> None:
    url = reverse("season-fit", args=[crowded.pk])
    page = owner.get(url)
    proposal = page.context["proposal"]
    assert len(proposal.changes) == 1
    assert proposal.after == []
    before = list(Want.objects.values_list("pk", "cut_on", "rooting_place"))
    owner.post(url, {})
    assert list(Want.objects.values_list("pk", "cut_on", "rooting_place")) == before
    accepted = owner.post(url, {"change": proposal.changes[0].key})
    undo = way_back(owner, accepted)
    assert list(Want.objects.values_list("pk", "cut_on", "rooting_place")) != before
    assert "room for 15" not in board(owner, crowded)
    take_back(owner, crowded, undo)
    assert list(Want.objects.values_list("pk", "cut_on", "rooting_place")) == before
    owner.post(url, {"change": proposal.changes[0].key})
    assert "Everything has room." in owner.get(url).content.decode()


def test_a_want_in_nobodys_way_is_not_weighed(crowded: Garden, today: date, monkeypatch: pytest.MonkeyPatch) -> None:
    apart = PlaceFactory(garden=crowded, name="Spare room", day_c=20, night_c=17, capacity={"jar": 40, "pot": 40})
    WantFactory(garden=crowded, rooting_place=apart)
    weighed = []

    def noted(plan: Any, setting: Any, now: Any, places: Any, **kit: Any) -> Any:
        weighed.append(now[1][0])
        return choices_for(plan, setting, now, places, **kit)

    monkeypatch.setattr(fitting, "choices_for", noted)
    proposal = fitting.propose(reckon_all(crowded, today), crowded, today)
    sill = crowded.places.get(name="Kitchen sill")
    assert weighed == [sill.pk, sill.pk]
    assert len(proposal.changes) == 1
    assert proposal.after == []


def test_the_day_promised_is_held_from_slower_places(crowded: Garden, owner: Any, today: date) -> None:
    # Late enough that a colder shelf would move "as soon as it is safe".
    row = Want.objects.earliest("pk")
    shelf = PlaceFactory(garden=crowded, name="Cold shelf", day_c=15, night_c=12)
    promised = reckon(row, crowded, today).target
    late = date(2027, 5, 1)
    change = actions.PlaceChange(row, None, (shelf, shelf))
    before = reckon(row, crowded, late).target
    _, undo = actions.place_wants([change], crowded, late)
    row.refresh_from_db()
    assert row.by == before
    take_back(owner, crowded, undo.offered(crowded))
    row.refresh_from_db()
    assert (row.by, reckon(row, crowded, today).target) == (None, promised)


def test_strange_changes_are_passed_over(crowded: Garden, owner: Any) -> None:
    other = WantFactory()  # another garden's
    place = crowded.places.first()
    keys = [
        f"{other.pk}:2027-04-01:{place.pk}:{place.pk}",  # type: ignore[union-attr]
        f"{Want.objects.first().pk}:2027-04-01:{other.rooting_place_id}:{place.pk}",  # type: ignore[union-attr]
        f"{Want.objects.first().pk}:1999-04-01:{place.pk}:{place.pk}",  # type: ignore[union-attr]
        "nonsense",
        "1:2:3:4",
    ]
    owner.post(reverse("season-fit", args=[crowded.pk]), {"change": keys})
    assert not Want.objects.exclude(cut_on=None).exists()


def test_what_stands_already_is_counted(crowded: Garden, owner: Any, today: date) -> None:
    take(Want.objects.first(), on=date(2027, 3, 18))
    shelf = words(named(read(owner.get(reverse("places", args=[crowded.pk]))), "Kitchen sill"))
    assert "jars of water 11 of 15 · pots 0 of 40" in shelf
    page = owner.get(reverse("season-fit", args=[crowded.pk]))
    assert len(page.context["proposal"].changes) <= 1  # what is cut already cannot move


def test_a_batch_takes_room_though_its_want_is_put_away(crowded: Garden, owner: Any, today: date) -> None:
    first, second = Want.objects.all()
    take(first, on=date(2027, 3, 18))
    second.delete()
    first.closed_on = today
    first.save()
    WantFactory(garden=crowded, rooting_place=first.rooting_place, cut_on=date(2027, 3, 22))
    page = board(owner, crowded)
    assert "Kitchen sill, jars of water: 23 asked, room for 15" in page
    assert "tomato and what stands there" in page
    shelf = words(named(read(owner.get(reverse("places", args=[crowded.pk]))), "Kitchen sill"))
    assert "jars of water 11 of 15 · pots 0 of 40" in shelf


@pytest.mark.parametrize(
    ("fit", "said"),
    [
        (Fit({}, 0, 2.0, 0, 0.04), "Nothing better can be had: every other way that was weighed is ruled out."),
        (Fit({}, 4, 2.0, 4, 0.0), "Nothing better can be had: every other way that was weighed is ruled out."),
        (Fit({}, 0, 2.0, 0, 0.3), "Of the ways weighed none saves more than 1 cutting or its worth."),
        (Fit({}, 3, 2.0, 3, 1.8), "Of the ways weighed none saves more than 2 cuttings or its worth."),
        (
            Fit({}, 46, 2.0, 25, 840.0),
            "46 cuttings find no room this way. No other way was found that leaves fewer; at least 25 would be left by "
            "any that was weighed.",
        ),
        (
            Fit({}, 1, 2.0, 0, 40.0),
            "1 cutting finds no room this way. No other way was found that leaves fewer; whether one would take them "
            "all is not known.",
        ),
    ],
)
def test_what_was_proved_of_every_other_way_is_said(fit: Fit, said: str) -> None:
    assert fitting.proved_words(fit) == said


def test_the_page_says_what_was_proved_and_how_it_is_weighed(crowded: Garden, owner: Any) -> None:
    page = words(read(owner.get(reverse("season-fit", args=[crowded.pk]))))
    assert "Nothing better can be had: every other way that was weighed is ruled out." in page
    assert "a cutting without room as forty" in page
