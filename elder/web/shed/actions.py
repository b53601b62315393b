"""What a person does in the shed: one function a verb. The book is written in lines; each press can be taken back."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from uuid import UUID

from django.db import transaction
from django.shortcuts import get_object_or_404

from elder.engine.shed.mix import mix_for
from elder.engine.shed.uses import MIX, PART
from elder.engine.shed.vessels import Vessel
from elder.web.garden.models import Garden, Person
from elder.web.garden.undo import Asked, Told, Undo, Undone, takes_back
from elder.web.read.kit import kit_of
from elder.web.shed.models import MixOrder, ShedEntry, Supply

OWN_KEY = "own-"


@dataclass(frozen=True)
class Press:
    """Who presses, where, on what day; ``key`` tells one press from the same one sent twice."""

    garden: Garden
    person: Person
    today: date
    key: UUID


@transaction.atomic
def write(press: Press, kind: ShedEntry.Deed, amounts: Mapping[str, float]) -> Undo:
    """Write down what was counted, bought or used: a line for each thing. The same press twice is one."""
    rows = [
        ShedEntry.objects.get_or_create(
            garden=press.garden, key=press.key, what=what,
            defaults={"kind": kind, "amount": amount, "on": press.today, "by": press.person},
        )[0]
        for what, amount in amounts.items()
    ]  # fmt: skip
    return Undo("shed-lines", {"lines": [row.pk for row in rows]})


@takes_back("shed-lines", verb="tend")
def strike(asked: Asked) -> Undone:
    """The lines are as if they had not been written; mix that was made up is parts again."""
    rows = ShedEntry.objects.filter(garden=asked.garden, pk__in=asked.numbers("lines"))
    many, _ = rows.delete()
    MixOrder.objects.filter(garden=asked.garden, pk=asked.number("order")).update(mixed_on=None)
    return Undone("Taken back." if many else "That was taken back already.", "shed")


@transaction.atomic
def order_mix(press: Press, recipe: str, vessel: str, *, count: int, by: date) -> tuple[MixOrder, Undo]:
    """Mix that is to be made by a day goes on the list."""
    row, _ = MixOrder.objects.get_or_create(
        key=press.key, garden=press.garden, defaults={"recipe": recipe, "vessel": vessel, "count": count, "by": by}
    )
    return row, Undo("mix-order", {"order": row.pk})


@takes_back("mix-order", verb="tend")
def forget_order(asked: Asked) -> Undone:
    """It is off the list again."""
    MixOrder.objects.filter(garden=asked.garden, pk=asked.number("order"), mixed_on=None).delete()
    return Undone("Off the list again.", "shed")


@transaction.atomic
def drop_order(order: MixOrder) -> Undo:
    """It is not to be mixed after all."""
    told: dict[str, Told] = {
        "recipe": order.recipe,
        "vessel": order.vessel,
        "count": order.count,
        "by": order.by.isoformat(),
    }
    order.delete()
    return Undo("mix-dropped", told)


@takes_back("mix-dropped", verb="tend")
def bring_back(asked: Asked) -> Undone:
    """It is on the list again."""
    by = asked.day("by") or asked.today
    MixOrder.objects.create(
        garden=asked.garden,
        recipe=asked.text("recipe"),
        vessel=asked.text("vessel"),
        count=asked.number("count"),
        by=by,
    )
    return Undone("On the list again.", "shed")


@transaction.atomic
def mixed(press: Press, order: MixOrder) -> Undo:
    """It is mixed: its parts are used, and so many litres stand ready, to be used before any more is mixed."""
    locked = MixOrder.objects.select_for_update().get(pk=order.pk)
    kit = kit_of(press.garden)
    recipe, vessel = kit.mix(locked.recipe), kit.vessel(locked.vessel)
    if locked.mixed_on or recipe is None or vessel is None:
        return Undo("shed-lines", {"lines": [], "order": 0})
    litres = vessel.filled_l * locked.count
    parts = {PART + part: amount for part, amount in mix_for(recipe.shares, litres).items()}
    used = write(press, ShedEntry.Deed.USED, parts)
    made = write(press, ShedEntry.Deed.MADE, {MIX + recipe.key: litres})
    locked.mixed_on = press.today
    locked.save(update_fields=["mixed_on"])
    lines = [*_lines(used), *_lines(made)]
    return Undo("shed-lines", {"lines": lines, "order": locked.pk})


def _lines(undo: Undo) -> list[int]:
    found = undo.told["lines"]
    return [one for one in found if isinstance(one, int)] if isinstance(found, list) else []


def say_supply(garden: Garden, what: str, given: Mapping[str, object]) -> Supply:
    """How a thing is bought, and the dates on its jar."""
    row, _ = Supply.objects.update_or_create(garden=garden, what=what, defaults=dict(given))
    return row


@transaction.atomic
def keep_container(garden: Garden, raw: Mapping[str, object], key: str = "") -> str:
    """Keep a container of one's own, a new one or one put right; its key. What it is called by never changes."""
    kit = _kit(garden)
    own = _rows(kit, "own")
    if not key:
        key = _next_key(kit)
        own.append({})
    kept = {**raw, "key": key}
    kit["own"] = [kept if not row or row.get("key") == key else row for row in own]
    _keep(garden, kit)
    return key


@transaction.atomic
def retire_container(garden: Garden, key: str) -> Undo:
    """A container is had no more; batches that stand in it are told of it still."""
    _mark(garden, key, gone=True)
    return Undo("container-gone", {"container": key})


@takes_back("container-gone", verb="keep")
def have_again(asked: Asked) -> Undone:
    """It may be chosen again."""
    with transaction.atomic():
        _mark(asked.garden, asked.text("container"), gone=False)
    return Undone("It is there again.", "shed-containers")


def _mark(garden: Garden, key: str, *, gone: bool) -> None:
    kit = _kit(garden)
    kit["own"] = [{**row, "gone": gone} if row.get("key") == key else row for row in _rows(kit, "own")]
    usual = {mine: theirs for mine, theirs in dict(kit.get("usual", {})).items() if theirs != key}  # type: ignore[call-overload]
    kit["usual"] = usual
    _keep(garden, kit)


@transaction.atomic
def keep_recipe(garden: Garden, name: str, parts: Mapping[str, float], *, wet_kg: float) -> str:
    """Keep a recipe of one's own; its key."""
    kit = _kit(garden)
    key = _next_key(kit)
    kit["mixes"] = [*_rows(kit, "mixes"), {"key": key, "name": name, "parts": dict(parts), "wet_kg": wet_kg}]
    _keep(garden, kit)
    return key


@transaction.atomic
def use_instead(garden: Garden, theirs: str, mine: str) -> None:
    """Where Elder would take one container or recipe, take another from now on; the same again takes Elder's."""
    kit = _kit(garden)
    usual = dict(kit.get("usual", {}))  # type: ignore[call-overload]
    usual.pop(theirs, None)
    if mine != theirs:
        usual[theirs] = mine
    kit["usual"] = usual
    _keep(garden, kit)


def _kit(garden: Garden) -> dict[str, object]:
    """A garden's kit as it is kept now, locked until it is kept anew."""
    locked = Garden.objects.select_for_update().get(pk=garden.pk)
    return dict(locked.kit)


def _keep(garden: Garden, kit: dict[str, object]) -> None:
    garden.kit = kit
    garden.save(update_fields=["kit"])


def _rows(kit: Mapping[str, object], name: str) -> list[dict[str, object]]:
    found = kit.get(name, [])
    return list(found) if isinstance(found, list) else []


def _next_key(kit: dict[str, object]) -> str:
    number = int(str(kit.get("made", 0))) + 1
    kit["made"] = number
    return f"{OWN_KEY}{number}"


def own_vessel(garden: Garden, key: str) -> Vessel | None:
    """A container of this garden's own; nothing where there is none of that key."""
    return next((one for one in kit_of(garden).own if one.key == key), None)


def order_of(garden: Garden, order_id: int) -> MixOrder:
    """An order of the garden. Raises Http404 for one that is not there."""
    return get_object_or_404(MixOrder, pk=order_id, garden=garden)
