"""Gardens are walls, and roles are doors: every address, as somebody else and as somebody less."""

from __future__ import annotations

from datetime import date
from typing import Any

import pytest
from django.urls import reverse

from elder.web.garden.models import Place
from elder.web.garden.undo import Undo
from tests.factories import GardenFactory, PlaceFactory
from tests.web.conftest import all_names
from tests.web.presses import take_back

OPEN = {
    "password",
    "password-choose",
    "sign-in",
    "sign-out",
    "first-account",
    "home",
    "habits",
    "demo-enter",
    "demo-clock",
    "garden-new",
    "garden-new-answer",
    "reminders",
    "letter-stop",
    "favicon",
    "manifest",
    "now",
    "hand",
    "calendar",
    "calendar-feed",
    "service-worker",
    "out-of-reach",
    "label-open",
    "slip-open",
    "slip-file",
    "archive-read",
    "keeping",
    "invitation",
    "sessions",
    "account-delete",
    "health",
    "archive-preview",
}
# What each role may not do, by address; anything not named here every member may see.
OWNER_ONLY = {
    "want-new", "want-first", "want-edit", "want-carry", "want-cut", "want-away", "want-back",
    "garden-edit", "garden-delete", "person-invite", "person-uninvite", "garden-archive", "garden-archive-file",
    "place-new", "place-edit", "person-new", "person-part", "person-link",
    "stock-new", "stock-edit", "records", "records-preview", "records-forget",
    "season-fit", "season-risk", "want-serve",
    "place-readings", "place-sensor", "readings-forget", "round-settle", "round-walk", "round-water-days",
    "places-walk", "stock-end", "own-new", "own-read", "own-change", "own-away",
    "shed-use", "shed-recipe", "shed-container", "shed-container-new",
    "record-plan-by", "record-old-notes", "trial-new", "trial-split",
    "year-line-new", "year-line-away",
    "passing-new", "passing-bring", "passing-bring-take", "passing-reserve", "passing-answers", "passing-off",
    "moving-new", "moving-change", "moving-ask", "moving-off", "moving-go", "moving-plant", "moving-cut",
}  # fmt: skip
TENDING = {
    "windfall-take", "batch-name", "take", "harvest", "note", "move", "entry-correct",
    "round-done", "round-look", "round-looks", "round-move", "round-recut", "round-withdraw",
    "stock-look", "stock-keep", "cut-trim", "cut-variety", "label-print",
    "label-tray-clear", "cut-prepared",
    "batch-pots", "shed-count", "shed-bought", "shed-mixed", "shed-drop",
    "record-price", "trial-take", "trial-count",
    "year-line-cut", "year-winter-do", "year-winter-tops", "year-winter-look", "year-winter-over", "year-crop-pot",
    "passing-hand", "moving-done", "moving-plant-here", "moving-water",
}  # fmt: skip
POST_ONLY = {
    "person-invite", "person-uninvite", "garden-leave",
    "want-carry",
    "records-forget", "season-risk", "want-serve", "windfall-take", "person-part", "person-link",
    "want-cut", "want-away", "want-back", "harvest", "note",
    "move", "undo",
    "place-sensor", "readings-forget", "round-settle", "round-walk", "round-water-days", "round-done", "places-walk",
    "round-move", "round-recut", "batch-name", "round-withdraw",
    "stock-end", "own-away", "cut-prepared", "stock-look", "cut-trim",
    "cut-variety", "label-print", "label-tray-clear", "label-find",
    "batch-pots", "shed-use", "shed-bought", "shed-mixed", "shed-drop",
    "record-plan-by", "record-price", "trial-take", "trial-count", "trial-split",
    "year-line-cut", "year-line-away", "year-winter-over", "year-crop-pot",
    "passing-bring-take", "passing-reserve", "passing-answers", "passing-hand", "passing-off",
    "moving-new", "moving-change", "moving-ask", "moving-off", "moving-cut", "moving-done", "moving-plant-here",
    "moving-water",
}  # fmt: skip


GARDEN_NAMES = sorted(name for name, parts in all_names().items() if "garden_id" in parts)


def test_every_address_is_walled_or_known_to_be_open() -> None:
    assert {name for name, parts in all_names().items() if "garden_id" not in parts} == OPEN
    assert set(GARDEN_NAMES) >= OWNER_ONLY | TENDING | POST_ONLY


@pytest.mark.no_cover
@pytest.mark.parametrize("name", GARDEN_NAMES)
def test_somebody_elses_garden_is_not_there(address: Any, sign_in: Any, name: str) -> None:
    stranger, url = sign_in("owner", into=GardenFactory()), address(name)
    assert stranger.get(url).status_code in ({404, 405} if name in POST_ONLY else {404})
    assert stranger.post(url).status_code in ({404} if name in POST_ONLY else {404, 405})


@pytest.mark.parametrize(
    "name",
    [
        n
        for n in GARDEN_NAMES
        if {
            "want_id",
            "batch_id",
            "place_id",
            "membership_id",
            "stock_id",
            "photo_id",
            "stock_photo_id",
            "tray_id",
            "order_id",
            "trial_id",
            "line_id",
            "row_id",
            "mother_id",
            "promise_id",
            "move_id",
            "moved_id",
            "key",
        }
        & set(all_names()[n])
    ],
)
def test_a_row_cannot_be_reached_through_ones_own_garden(address: Any, sign_in: Any, name: str) -> None:
    mine = GardenFactory()
    client = sign_in("owner", into=mine)
    answer = (
        client.post(address(name, garden_id=mine.pk))
        if name in POST_ONLY
        else client.get(address(name, garden_id=mine.pk))
    )
    assert answer.status_code == 404


@pytest.mark.parametrize("name", GARDEN_NAMES)
def test_nobody_signed_out_gets_in(address: Any, client: Any, name: str) -> None:
    answer = client.post(address(name)) if name in POST_ONLY else client.get(address(name))
    assert answer.status_code == 302
    assert answer.url.startswith(reverse("sign-in"))


@pytest.mark.no_cover
@pytest.mark.parametrize("name", GARDEN_NAMES)
def test_roles(address: Any, sign_in: Any, name: str) -> None:
    """In each role, the least first: what one may not do leaves everything as it was for the next."""
    url = address(name)
    for role in ("viewer", "helper", "owner"):
        client = sign_in(role)
        answer = client.post(url) if name in POST_ONLY else client.get(url)
        if answer.streaming:
            assert b"".join(answer.streaming_content).startswith(b"PK"), "a file, and read to its end"
        refused = (name in OWNER_ONLY and role != "owner") or (name in TENDING and role == "viewer")
        assert (answer.status_code == 403) == refused, role
        assert answer.status_code < 500, role
    if refused:
        assert b"Not for you here" in answer.content


def test_a_place_of_another_garden_cannot_be_chosen(garden: Any, owner: Any) -> None:
    other = PlaceFactory(garden=GardenFactory())
    data = {"plant": "tomato", "wanted": 8, "when": "safe", "confidence": 0.9, "purpose": "bed", "stock": "usual"}
    answer = owner.post(
        reverse("want-new", args=[garden.pk]), {**data, "rooting_place": other.pk, "growing_place": other.pk}
    )
    assert answer.status_code == 200
    assert b"Choose a place of this garden." in answer.content
    assert Place.objects.filter(garden=garden).count() == 1


def test_a_way_back_is_only_what_was_offered_here_to_whom_may(garden: Any, sign_in: Any, want: Any) -> None:
    undo, other = Undo("want-away", {"want": want.pk}), GardenFactory()
    want.closed_on = date(2027, 3, 1)
    want.save()
    owner, helper = sign_in("owner"), sign_in("helper")
    assert take_back(owner, garden, "made up").status_code == 404
    assert take_back(owner, garden, undo.offered(other)).status_code == 404, "offered in another garden"
    assert take_back(owner, garden, Undo("no-such-way", {}).offered(garden)).status_code == 404
    assert take_back(helper, garden, undo.offered(garden)).status_code == 403, "who may not plan brings no want back"
    want.refresh_from_db()
    assert want.closed_on == date(2027, 3, 1)
    assert take_back(owner, garden, undo.offered(garden)).status_code == 302
    want.refresh_from_db()
    assert want.closed_on is None
    mine = sign_in("owner", into=other)
    assert take_back(mine, other, undo.offered(other)).status_code == 404, "another garden's row is not there"
