"""A garden on a fixed day, and people signed in to it."""

from __future__ import annotations

import re
import zlib
from datetime import date
from typing import Any
from uuid import uuid4

import pytest
from django.test import Client
from django.urls import URLPattern, URLResolver, get_resolver, reverse

from elder.engine.handbook.own import copy_of, raw_of, relative_text, written
from elder.web.batches.models import Batch, Photo
from elder.web.cut.models import TrayLabel
from elder.web.garden import access
from elder.web.garden.hands import Hands
from elder.web.garden.models import Person, RecordsDraft
from elder.web.moving.actions import begin_move
from elder.web.moving.models import HouseMove, MovedPlant
from elder.web.passing.actions import make_promise
from elder.web.passing.models import Promise
from elder.web.plants.models import OwnPlant
from elder.web.read import services
from elder.web.record.models import Trial
from elder.web.record.trial_actions import ArmAsked, ask_trial
from elder.web.rounds import round as rounds
from elder.web.season.models import Want
from elder.web.shed.actions import keep_container
from elder.web.shed.models import MixOrder
from elder.web.stock.models import StockLook, StockPhoto, StockPlant
from elder.web.year.line_actions import begin_line
from elder.web.year.models import Multiplying, Wintered
from tests.factories import GardenFactory, PersonFactory, PlaceFactory, WantFactory, member, take
from tests.web.presses import MILD

TODAY = date(2027, 3, 20)
TUB = {"kind": "pot", "one": "blue tub", "many": "blue tubs", "shape": {"frustum": [24, 19, 22]}, "fill": 0.9}


@pytest.fixture(autouse=True)
def read_as_a_browser_reads(monkeypatch: pytest.MonkeyPatch) -> None:
    """Any white space counts as one space, so that where a template's lines break says nothing."""
    fetch = Client.request

    def collapsed(self: Client, **request: Any) -> Any:
        response = fetch(self, **request)
        if response.streaming:  # a file is read to its end, as a browser does
            response.streaming_content = [b"".join(response.streaming_content)]
        if response.headers.get("Content-Type", "").startswith("text/html") and not response.streaming:
            response.content = re.sub(rb"\s+", b" ", response.content)
        return response

    monkeypatch.setattr(Client, "request", collapsed)


@pytest.fixture(autouse=True)
def no_weather_told() -> None:
    """What a service told one test is not kept for the next."""
    services.forget_weather()


@pytest.fixture
def today(monkeypatch: pytest.MonkeyPatch) -> date:
    """Everything takes its day from one clock, so one patch sets it."""
    monkeypatch.setattr(access, "today_in", lambda garden: TODAY)
    return TODAY


@pytest.fixture
def garden(db: None, today: date) -> Any:
    """Harrow Stair with a sill."""
    row = GardenFactory()
    PlaceFactory(garden=row, name="Kitchen sill")
    return row


@pytest.fixture
def sign_in(garden: Any) -> Any:
    """Sign someone new in to the garden in a role."""

    def signed(role: str = "owner", into: Any = None) -> Client:
        client = Client()
        client.force_login(member(into or garden, role), backend="django.contrib.auth.backends.ModelBackend")
        return client

    return signed


@pytest.fixture
def owner(sign_in: Any) -> Client:
    return sign_in("owner")


@pytest.fixture
def sill(garden: Any) -> Any:
    """The garden's only place."""
    return garden.places.get()


@pytest.fixture
def want(garden: Any, sill: Any) -> Any:
    """Eight tomatoes, as soon as it is safe."""
    return WantFactory(garden=garden, rooting_place=sill)


@pytest.fixture
def batch(want: Any) -> Batch:
    """Eleven side shoots for it, taken a fortnight ago."""
    return take(want, on=date(2027, 3, 6))


@pytest.fixture
def mild(monkeypatch: pytest.MonkeyPatch) -> None:
    """Weather in which nothing need be carried or shaded, unless a test says otherwise."""
    monkeypatch.setattr(rounds, "days_ahead", lambda garden, today: MILD)


def all_names() -> dict[str, list[str]]:
    """Every named address with the names of its parts."""
    found: dict[str, list[str]] = {}

    def walk(patterns: Any, above: list[str]) -> None:
        for pattern in patterns:
            parts = [*above, *pattern.pattern.converters]
            if isinstance(pattern, URLResolver):
                walk(pattern.url_patterns, parts)
            elif isinstance(pattern, URLPattern) and pattern.name:
                found[pattern.name] = parts

    walk(get_resolver().url_patterns, [])
    return found


def own_text(relative: str, name: str = "Ours") -> str:
    """A plant of one's own as it is begun from a relative, written out."""
    return written(copy_of(raw_of(relative_text(relative)), name, relative))


def asked_trial(garden: Any, **more: Any) -> Trial:
    """A trial of tomato shoots at two places' difference, asked and not cut."""
    place, person = garden.places.first(), PersonFactory()
    plain = {"question": "Clean or dipped?", "plant": "tomato", "method": "jar", "stock_plant": "Ferry Lamp 1"}
    row = Trial(**{**plain, "differs": "foot", "each": 6, "judged_on": date(2027, 5, 1), **more})
    return ask_trial(row, [ArmAsked("clean", place), ArmAsked("dipped", place)], garden, person, TODAY)


def asked_line(garden: Any, mother: StockPlant, **more: Any) -> Multiplying:
    """A line of mint begun today from one mother, nothing of it cut."""
    place = garden.places.first()
    plain: dict[str, Any] = {"plant": "mint", "method": "jar", "wanted": 12, "by": date(2027, 9, 1)}
    plain |= {"gives": 3, "again_days": 21}
    plain |= {"first_take_days": 21, "rooting_place": place, "growing_place": place}
    row = Multiplying(**{**plain, **more})
    return begin_line(row, [mother], garden, PersonFactory(), TODAY)


def asked_promise(garden: Any, **more: Any) -> Promise:
    """Six mint promised for June, nothing of it cut."""
    place = garden.places.first()
    plain: dict[str, Any] = {"plant": "mint", "method": "jar", "wanted": 6, "by": date(2027, 6, 12)}
    row = {name: more.pop(name) for name in ("who", "how", "goes", "price", "swap", "road_days") if name in more}
    reserved = more.pop("reserved", ())
    want = Want(rooting_place=place, growing_place=place, purpose="gift", **{**plain, **more})
    promise = Promise(**{"who": "the fair", **row})
    return make_promise(promise, want, reserved, Hands(garden, PersonFactory(), TODAY, uuid4()))


def asked_move(garden: Any, to: Any = None, day: date = date(2027, 10, 9), **more: Any) -> HouseMove:
    """A move in October, to another garden of the household."""
    there = to or GardenFactory(household=garden.household, name=f"There {uuid4()}")
    if not there.places.exists():
        PlaceFactory(garden=there, name="Sill there")
    return begin_move(HouseMove(to=there, day=day, **more), Hands(garden, PersonFactory(), TODAY, uuid4()))


def passed_on(garden: Any, mother: StockPlant) -> dict[str, Any]:
    """A promise, a move, and a plant that came to this garden by another."""
    promise, move = asked_promise(garden), asked_move(garden)
    came = asked_move(GardenFactory(household=garden.household, name="Before"), garden)
    moved = MovedPlant.objects.create(move=came, what="s1-bed-0", arrived=True, stock=mother, way="dig")
    return {
        "promise_id": promise.pk, "slip_key": promise.slip_key, "move_id": move.pk, "moved_id": moved.pk,
        "moved_key": f"s{mother.pk}-bed-0",
    }  # fmt: skip


@pytest.fixture
def shoots(monkeypatch: pytest.MonkeyPatch) -> date:
    """A day on which rosemary has wood in season."""
    day = date(2027, 7, 5)
    monkeypatch.setattr(access, "today_in", lambda garden: day)
    return day


@pytest.fixture
def address(garden: Any, today: date) -> Any:
    """The address of a name, with a want, batch, entry and place of the garden."""
    want = WantFactory(garden=garden, rooting_place=garden.places.first())
    batch = take(want, on=date(2027, 3, 10))
    mother = StockPlant.objects.create(
        garden=garden, name="Old one", plant="mint", gives=4, again_days=9, raised_from=batch
    )
    look = StockLook.objects.create(mother=mother, on=date(2027, 3, 12))
    stock_photo = StockPhoto.objects.create(look=look, data=b"no picture", width_px=1, height_px=1)
    known = {
        "look_id": look.pk,
        "stock_photo_id": stock_photo.pk,
        "tray_id": TrayLabel.objects.create(garden=garden, batch=batch, job=uuid4(), png=b"no label").pk,
        "size": "tag",
        "garden_id": garden.pk,
        "want_id": want.pk,
        "batch_id": batch.pk,
        "entry_id": batch.entries.get().pk,
        "place_id": garden.places.first().pk,
        "photo_id": Photo.objects.create(
            batch=batch, entry=batch.entries.get(), data=b"no picture", width_px=1, height_px=1
        ).pk,
        "form": "csv",
        "verb": "pot-on",
        "slug": "tomato",
        "stock_id": mother.pk,
        "plant_id": OwnPlant.objects.create(garden=garden, name="Ours", relative="mint", text=own_text("mint")).pk,
        "key": keep_container(garden, TUB),
        "what": "label",
        "way": "jar",
        "year": 2027,
        "trial_id": asked_trial(garden).pk,
        "mother_id": mother.pk,
        "line_id": asked_line(garden, mother).pk,
        "row_id": Wintered.objects.create(
            garden=garden,
            winter=2026,
            key=uuid4(),
            plant="mint",
            way="covered",
            stock=mother,
            count=1,
            wanted=1,
            on=TODAY,
        ).pk,
        "order_id": MixOrder.objects.create(garden=garden, recipe="light", vessel="bag", count=9, by=TODAY).pk,
        **passed_on(garden, mother),
        "membership_id": garden.household.memberships.create(person=PersonFactory(), role="viewer").pk,
    }
    for person in Person.objects.all():
        RecordsDraft.objects.create(garden=garden, person=person, name="a.csv", data=zlib.compress(b"nothing"))
    parts = all_names()
    return lambda name, **other: reverse(name, kwargs={part: {**known, **other}[part] for part in parts[name]})
