"""Fill a database with the demo garden, through the same actions that people use."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal
from pathlib import Path
from typing import Any
from uuid import uuid4

import yaml
from django.conf import settings
from django.core.exceptions import ImproperlyConfigured
from django.db import transaction

from demo.entries import written
from demo.lines import demo_line
from demo.moves import demo_move
from demo.promises import demo_promise
from demo.weather import invented_records
from elder.engine.handbook.loading import handbook
from elder.engine.refusal import Refusal
from elder.web.batches.models import Batch, Entry
from elder.web.garden.actions import keep_records
from elder.web.garden.forms import DayOfYearField
from elder.web.garden.models import Garden, Household, Membership, Person, Place
from elder.web.places.readings import read_sensors
from elder.web.record import trial_actions as trials
from elder.web.record.actions import say_price
from elder.web.record.models import Trial
from elder.web.record.trial_actions import ArmAsked
from elder.web.season.models import Want
from elder.web.season.taking import Taken, take_batch
from elder.web.shed import actions as shed
from elder.web.shed.actions import Press
from elder.web.shed.forms import WET_KG
from elder.web.shed.models import ShedEntry
from elder.web.stock.actions import look_at
from elder.web.stock.models import StockLook, StockPlant
from elder.web.year.models import PotUp

DATA = Path(__file__).with_name("garden.yaml")
SEASONS = Path(__file__).with_name("seasons.yaml")  # two past ones, of the first garden
PASSWORD = "harrow-stair-demo"  # noqa: S105 - invented people on the loopback address only


def is_loaded() -> bool:
    """Whether the demo garden is there."""
    return Household.objects.filter(demo_day__isnull=False).exists()


@transaction.atomic
def load(*, afresh: bool = False, must_be_demo: bool = True) -> bool:
    """Fill the database unless it is filled; ``afresh`` empties it first. Says whether it did anything.

    Raises ImproperlyConfigured outside the demo's own settings, whose database nothing else uses.
    """
    if must_be_demo and not settings.DEMO:
        raise ImproperlyConfigured("the demo garden is only loaded under the demo's settings")
    if is_loaded() and not afresh:
        return False
    _empty()
    data = yaml.safe_load(DATA.read_text(encoding="utf-8"))
    household = Household.objects.create(name=data["household"], demo_day=data["starts"])
    people = {}
    for name, role in data["people"].items():
        people[name] = Person.objects.create_user(name, password=PASSWORD, is_staff=name == "gardener")
        Membership.objects.create(household=household, person=people[name], role=role)
    data["gardens"][0]["wants"] += [_past(line) for line in yaml.safe_load(SEASONS.read_text(encoding="utf-8"))]
    for garden in data["gardens"]:
        _garden(garden, household, people["gardener"])
    return True


def _past(line: dict[str, Any]) -> dict[str, Any]:
    """A batch of a past season as a want that was put away when the last of it was done."""
    return {**line, "away": line["days"][-1][0], "batches": [{**line["cut"], "days": line["days"]}]}


def _empty() -> None:
    Household.objects.filter(demo_day__isnull=False).delete()
    Person.objects.filter(username__in=["gardener", "helper", "lodger"]).delete()


def _garden(data: dict[str, Any], household: Household, person: Person) -> None:
    plain = ("name", "latitude", "longitude", "elevation_m", "timezone", "t_min", "t_max")
    garden = Garden.objects.create(household=household, **{key: data[key] for key in plain}, **_frost(data))
    places = {
        place["name"]: Place.objects.create(garden=garden, walk=i, **place)
        for i, place in enumerate(data["places"], start=1)
    }
    if "weather" in data:
        _weather(data["weather"], garden, person)
    for mother in data.get("mothers", []):
        _mother(mother, garden, places, person)
    wants = [(want, _want(want, garden, places, person)) for want in data["wants"]]
    # In the order they were cut, so that each was planned with what its people knew by then.
    cuts = [(batch, row) for want, row in wants for batch in want.get("batches", [])]
    for batch, row in sorted(cuts, key=lambda cut: cut[0]["taken"]):
        _batch(batch, row, garden, person)
    for want, row in wants:
        Want.objects.filter(pk=row.pk).update(closed_on=want.get("away"))
    _recorded(data, garden, places, person)
    for mother in data.get("mothers", []):
        _kept_from(mother, garden)
    if "moved_from" in data and household.demo_day:
        demo_move(data["moved_from"], garden, household, person)
    if "shed" in data and household.demo_day:
        _shed(data["shed"], Press(garden, person, household.demo_day, uuid4()))
    if household.demo_day:
        read_sensors(garden, today=household.demo_day)


def _shed(data: dict[str, Any], press: Press) -> None:
    """What is in the shed, counted when everything else is written, so that nothing of it is drawn down twice."""
    garden = press.garden
    for raw in data["own"]:
        shed.keep_container(garden, raw)
    for recipe in data["recipes"]:
        shed.keep_recipe(garden, recipe["name"], recipe["parts"], wet_kg=WET_KG)
    for what, (pack, price) in data["bought"].items():
        shed.say_supply(garden, what, {"pack": pack, "price": price, **data["jars"].get(what, {})})
    shed.write(press, ShedEntry.Deed.COUNTED, data["counted"])
    for order in data["orders"]:
        shed.order_mix(
            replace(press, key=uuid4()), order["recipe"], order["vessel"], count=order["count"], by=order["by"]
        )


def _mother(data: dict[str, Any], garden: Garden, places: dict[str, Place], person: Person) -> None:
    """A mother and how it was seen; what is not said is the handbook's."""
    plant = handbook()[data["plant"]]
    ended_on, ended_why = data.get("ended", (None, ""))
    kept = "kept_from" in data
    row = StockPlant.objects.create(
        garden=garden,
        name=data["name"],
        plant=data["plant"],
        variety=data.get("variety", ""),
        gives=data.get("gives", plant.gives),
        again_days=data.get("again_days", plant.again_days),
        origin=StockPlant.Origin.OURS if kept else data.get("origin", StockPlant.Origin.THERE),
        place=places[data["place"]] if "place" in data else None,
        since=data.get("since"),
        ended_on=ended_on,
        ended_why=ended_why,
    )
    for on, container in data.get("pots", []):
        PotUp.objects.create(stock=row, key=uuid4(), container=container, on=on, by=person)
    for look in data.get("looks", []):
        seen = {key: value for key, value in look.items() if key != "day"}  # YAML reads "on" as a truth
        look_at(row, StockLook(on=look["day"], **seen), None, person=person)


def _kept_from(data: dict[str, Any], garden: Garden) -> None:
    """The batch a mother was kept from, once there is one."""
    if "kept_from" not in data:
        return
    found = Entry.objects.get(
        batch__garden=garden,
        batch__plant=data["plant"],
        batch__variety=data.get("variety", ""),
        kind=Entry.Kind.TAKEN,
        on=data["kept_from"],
    )
    StockPlant.objects.filter(garden=garden, name=data["name"]).update(raised_from=found.batch)


def _weather(data: dict[str, Any], garden: Garden, person: Person) -> None:
    """Invented records, kept as an accepted file would be."""
    records = invented_records(garden.t_min, garden.t_max, first=data["from"], last=data["to"], seed=data["seed"])
    kept = keep_records(garden, records, source="Quenby Sound, invented", person=person, whole=True)
    if isinstance(kept, Refusal):
        raise ValueError(f"the demo's weather cannot be kept: {kept}")


def _frost(data: dict[str, Any]) -> dict[str, int | None]:
    names = {
        "last_frost_mean": "last",
        "last_frost_late": "late",
        "first_frost_mean": "first",
        "first_frost_early": "early",
    }
    given = data.get("frost", {})
    return {name: DayOfYearField(required=False).clean(given.get(key, "")) for name, key in names.items()}


def _want(data: dict[str, Any], garden: Garden, places: dict[str, Place], person: Person) -> Want:
    return Want.objects.create(
        garden=garden,
        plant=data["plant"],
        variety=data.get("variety", ""),
        method=data.get("method", handbook()[data["plant"]].methods[0].slug),
        wanted=data["wanted"],
        spares=data.get("spares", 0),
        by=data.get("by"),
        confidence=data.get("confidence", 0.9),
        purpose=data.get("purpose", Want.Purpose.BED),
        stock=data.get("stock", Want.Stock.USUAL),
        mother=StockPlant.objects.get(garden=garden, name=data["mother"]) if "mother" in data else None,
        rooting_place=places[data["root_at"]],
        growing_place=places[data["grow_at"]],
        made_by=person,
    )


def _recorded(data: dict[str, Any], garden: Garden, places: dict[str, Place], person: Person) -> None:
    """Trials, lines, promises, and what plants cost to buy."""
    for trial in data.get("trials", []):
        _trial(trial, garden, places, person)
    for line in data.get("lines", []):
        demo_line(line, garden, places, person)
    for promise in data.get("promises", []):
        demo_promise(promise, garden, places, person)
    for plant, price in data.get("prices", {}).items():
        say_price(garden, plant, Decimal(str(price)))


def _trial(data: dict[str, Any], garden: Garden, places: dict[str, Place], person: Person) -> None:
    """A trial, each arm cut on its day and looked at since."""
    plain = ("question", "plant", "method", "differs", "alike", "each", "difference", "judged_on")
    row = Trial(variety=data.get("variety", ""), stock_plant=data["from"], **{key: data[key] for key in plain})
    arms = [ArmAsked(arm["name"], places[arm["at"]], arm.get("cut_on")) for arm in data["arms"]]
    trial = trials.ask_trial(row, arms, garden, person, data["asked"])
    for day in sorted({arm["taken"] for arm in data["arms"]}):
        made = trials.take_arms(trial, uuid4(), garden, person, day)
        if isinstance(made, Refusal):
            raise ValueError(f"the demo's {trial} cannot be: {made}")
    for arm, asked in zip(trial.arms.all(), data["arms"], strict=True):
        if arm.batch:
            written(arm.batch, asked["days"], person)


def _batch(data: dict[str, Any], want: Want, garden: Garden, person: Person) -> Batch:
    taken = Taken(data["taken"], data["count"], data["from"], want.rooting_place, want.growing_place)
    batch = take_batch(want, taken, garden=garden, person=person, today=data["taken"])
    if isinstance(batch, Refusal):
        raise ValueError(f"the demo's {want} cannot be: {batch}")
    written(batch, data.get("days", []), person)
    return batch
