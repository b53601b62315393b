"""What the demo has promised to others."""

from __future__ import annotations

from collections.abc import Mapping
from decimal import Decimal
from typing import Any
from uuid import uuid4

from elder.engine.handbook.loading import handbook
from elder.web.batches.models import Batch
from elder.web.garden.hands import Hands
from elder.web.garden.models import Garden, Person, Place
from elder.web.passing.actions import answer, make_promise
from elder.web.passing.models import Promise
from elder.web.season.models import Want

PLAIN = ("who", "how", "swap", "goes", "road_days", "inner_cm", "far_c")


def demo_promise(data: Mapping[str, Any], garden: Garden, places: Mapping[str, Place], person: Person) -> None:
    """A promise as it was made, with the batches of its plant that were reserved for it."""
    sold = data["how"] in (Promise.PassedAs.ORDER, Promise.PassedAs.SALE)
    want = Want(
        plant=data["plant"],
        variety=data.get("variety", ""),
        method=data.get("method", handbook()[data["plant"]].methods[0].slug),
        wanted=data["wanted"],
        spares=data.get("kept", 0),
        by=data["by"],
        purpose=Want.Purpose.SALE if sold else Want.Purpose.GIFT,
        handed_as=data.get("as", ""),
        rooting_place=places[data["root_at"]],
        growing_place=places[data["grow_at"]],
    )
    row = Promise(**{name: data[name] for name in PLAIN if name in data})
    row.price = Decimal(str(data["price"])) if "price" in data else None
    reserved = Batch.objects.filter(garden=garden, plant=want.plant, variety=want.variety, over_on=None)
    hands = Hands(garden, person, data["made"], uuid4())
    kept = make_promise(row, want, reserved if data.get("reserve") else [], hands)
    if "answered" in data:
        answer(kept, border="no", soil="yes", on=data["answered"])
