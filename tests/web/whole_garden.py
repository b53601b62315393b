"""A garden with a row of every kind that an archive holds. All invented."""

from __future__ import annotations

import io
import zlib
from datetime import date, datetime, time
from typing import Any
from uuid import uuid4

import numpy as np
from PIL import Image

from elder.engine.climate.records import records_of
from elder.engine.place.readings import Reading
from elder.web.batches.actions import add_entries
from elder.web.batches.models import Batch, Entry, Photo
from elder.web.formats.daily import to_bytes
from elder.web.garden.models import Person, Records
from elder.web.moving.models import HouseMove, MovedPlant, Watering
from elder.web.passing.models import Handing, Promise
from elder.web.places.readings import keep_readings
from elder.web.plants.models import OwnPlant
from elder.web.record.models import PlantPrice, Trial
from elder.web.season.models import Want
from elder.web.shed.models import MixOrder, ShedEntry, Supply
from elder.web.stock.models import Heritage, StockLook, StockPhoto, StockPlant, VarietyAnswer
from elder.web.year.models import LineLot, Multiplying, PotUp, WinterCheck, Wintered
from tests.factories import GardenFactory, PersonFactory, PlaceFactory, WantFactory, take
from tests.web.conftest import TUB, asked_trial, own_text

DAY = date(2027, 3, 6)


def jpeg(colour: str = "green") -> bytes:
    """A small photo as Elder keeps them."""
    out = io.BytesIO()
    Image.new("RGB", (32, 24), colour).save(out, "JPEG", quality=80, optimize=True)
    return out.getvalue()


def whole_garden(**more: Any) -> Any:
    """Harrow Stair with something in every table."""
    garden = GardenFactory(kit={"own": [{"key": "own-1", **TUB}], "made": 1}, water_days=[1, 4], **more)
    light = {"facing": 140.0, "cloth": 0.2, "before": [{"towards": 0, "height": 2, "away": 3, "wide": 5}]}
    sill = PlaceFactory(garden=garden, name="Sill", light=light, capacity={"jar": 6})
    PlaceFactory(garden=garden, name="Bed, “long”", standing="ground")
    person: Any = PersonFactory()
    _measured(garden, sill, person)
    own = OwnPlant.objects.create(garden=garden, name="Ours", relative="mint", text=own_text("mint"))
    mother = StockPlant.objects.create(garden=garden, name="Old one", plant="tomato", gives=4, again_days=9, place=sill)
    StockPlant.objects.create(garden=garden, name="Ours 1", plant=own.slug, gives=4, again_days=9)
    _batches(garden, sill, mother, person)
    _seen(garden, mother, person)
    _shed(garden)
    _year(garden, sill, mother, person)
    _passed(garden, sill, mother, person)
    return garden


def _measured(garden: Any, sill: Any, person: Person) -> None:
    ordinals = np.arange(date(2024, 1, 1).toordinal(), date(2027, 1, 1).toordinal())
    low = np.where(ordinals % 7 == 0, np.nan, ordinals % 13 - 2.5)
    kept = records_of(ordinals, low, low + 8.1)
    Records.objects.create(
        garden=garden, data=zlib.compress(b"".join(to_bytes(kept))), days=len(kept), first_day=kept.first,
        last_day=kept.last, counted_from=2025, source="a station",
    )  # fmt: skip
    garden.records_digest = kept.since(2025).digest
    garden.save()
    hours = [
        Reading(datetime.combine(date(2027, 3, 1), time(hour)), 15 + hour / 10, 60.0 if hour % 2 else float("nan"))
        for hour in range(20)
    ]
    keep_readings(sill, hours, source="a logger", person=person)


def _batches(garden: Any, sill: Any, mother: StockPlant, person: Person) -> None:
    series = uuid4()
    first = WantFactory(garden=garden, rooting_place=sill, mother=mother, by=date(2027, 6, 10), made_by=person)
    Want.objects.filter(pk=first.pk).update(series=series, lots=2)
    other = WantFactory(garden=garden, rooting_place=sill, series=series, lot=2, lots=2, closed_on=DAY)
    batch = take(first, on=DAY)
    batch.also_for.add(other)
    batch.mother, batch.treatment = mother, {"hormone": "none"}
    batch.save()
    looked = Entry(kind="looked", on=DAY, signs="buds", note="=SUM(A1) — a note")
    lost = Entry(kind="lost", on=DAY, count=1, why="rot", stage="waiting")
    add_entries(batch, [looked, lost], today=DAY, person=person)
    add_entries(batch, [Entry(kind="lost", on=DAY, count=2, stage="waiting", strikes=lost)], today=DAY, person=person)
    Photo.objects.create(batch=batch, entry=looked, data=jpeg(), width_px=32, height_px=24)
    mother.raised_from = take(other, on=DAY, count=5)
    mother.save()


def _seen(garden: Any, mother: StockPlant, person: Person) -> None:
    line = [{"name": "Hers before", "since": "2020-04-01"}]
    Heritage.objects.create(stock=mother, key=uuid4(), line=line, told={"count": 1}, on=DAY)
    look = StockLook.objects.create(mother=mother, on=DAY, shoots=7, by=person)
    StockPhoto.objects.create(look=look, data=jpeg("red"), width_px=32, height_px=24)
    VarietyAnswer.objects.create(garden=garden, plant="tomato", variety="Ferry Lamp", protected="no", on=DAY)


def _shed(garden: Any) -> None:
    Supply.objects.create(garden=garden, what="vessel:jar", pack=4, price="3.50")
    ShedEntry.objects.create(garden=garden, what="vessel:jar", kind="counted", amount=9, on=DAY)
    MixOrder.objects.create(garden=garden, recipe="light", vessel="bag", count=9, by=DAY)
    PlantPrice.objects.create(garden=garden, plant="tomato", price="2.40")


def _year(garden: Any, sill: Any, mother: StockPlant, person: Person) -> None:
    first = asked_trial(garden)
    Trial.objects.filter(pk=asked_trial(garden, question="And then?").pk).update(of=first)
    batch = Batch.objects.filter(garden=garden).first()
    line = Multiplying.objects.create(
        garden=garden, plant="tomato", method="jar", wanted=12, by=date(2027, 9, 1), rooting_place=sill,
        growing_place=sill, gives=3, again_days=21, first_take_days=21, made_on=DAY,
    )  # fmt: skip
    line.mothers.add(mother)
    assert batch is not None
    LineLot.objects.create(line=line, batch=batch, plant_on=date(2027, 5, 1))
    row = Wintered.objects.create(
        garden=garden, winter=2026, key=uuid4(), plant="tomato", way="in", stock=mother, place=sill, count=3, wanted=2,
        on=DAY,
    )  # fmt: skip
    WinterCheck.objects.create(wintered=row, key=uuid4(), on=DAY, lost=1)
    PotUp.objects.create(stock=mother, key=uuid4(), container="gallon", on=DAY, by=person)


def _passed(garden: Any, sill: Any, mother: StockPlant, person: Person) -> None:
    want = WantFactory(garden=garden, rooting_place=sill, purpose="gift")
    promise = Promise.objects.create(garden=garden, key=uuid4(), want=want, who="the fair", price="2.00", made_on=DAY)
    Handing.objects.create(promise=promise, key=uuid4(), on=DAY, count=2, money="4.00", by=person)
    move = HouseMove.objects.create(
        garden=garden, key=uuid4(), day=date(2027, 10, 9), made_on=DAY,
        asks={"sale": {"said": "yes", "whom": "the buyer", "on": "2027-03-01"}},
    )  # fmt: skip
    what = f"s{mother.pk}-pot-{sill.pk}"
    moved = MovedPlant.objects.create(move=move, what=what, way="dig", stem_cm=1.5, want=want)
    Watering.objects.create(plant=moved, key=uuid4(), on=DAY, by=person)
