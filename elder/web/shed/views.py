"""The shed: what is there, what the season asks, what to buy; counted, bought and used in a press each."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal
from uuid import uuid4

from django.contrib import messages
from django.core.exceptions import PermissionDenied
from django.http import Http404, HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from elder.engine.shed.uses import GEL, MIX, POWDER, is_kept
from elder.web.garden.access import GardenRequest, in_garden, may
from elder.web.read.shed import ShedToday, shed_today, usual_pack
from elder.web.say.shed import measure_of, so_much, thing_words
from elder.web.say.words import plural
from elder.web.shed import actions
from elder.web.shed.forms import AmountForm, CountForm, SupplyForm
from elder.web.shed.models import MixOrder, ShedEntry
from elder.web.shed.pages import Trip, buy_line, shed_page, soon_of, total_of, trips_of
from elder.web.shed.thing_pages import AskedBy, ThingEntry, WeekLine, asked_by, book_of, weeks_of
from elder.web.ui.pages import show
from elder.web.ui.parsing import sent_key
from elder.web.ui.saved import saved


@dataclass(frozen=True)
class CountPage:
    """How much there is of each thing."""

    form: CountForm


@dataclass(frozen=True)
class ListPage:
    """The shopping list, as it is printed."""

    trips: list[Trip]
    total: Decimal | None


@dataclass(frozen=True)
class ThingPage:
    """One thing: how much there is, its book, how it is bought."""

    what: str
    name: str
    there: str
    form: AmountForm
    supply: SupplyForm
    entries: list[ThingEntry]
    asked: list[AskedBy]
    weeks: list[WeekLine]
    is_jar: bool
    is_kept: bool


def press(request: GardenRequest, sent: object = None) -> actions.Press:
    """Who presses, and the key that tells one press from two."""
    key = sent_key(str(sent or request.POST.get("key") or "")) or uuid4()
    return actions.Press(request.garden, request.user, request.today, key)


@require_GET
@in_garden("see")
def shed(request: GardenRequest) -> HttpResponse:
    """The room."""
    found = shed_today(request.garden, request.today)
    orders = list(MixOrder.objects.filter(garden=request.garden, mixed_on=None))
    return show(request, "shed/shed.html", shed_page(found, orders, request.user.units))


@require_GET
@in_garden("see")
def shopping_list(request: GardenRequest) -> HttpResponse:
    """What to buy, on one sheet of paper."""
    found = shed_today(request.garden, request.today)
    lines = [buy_line(one, found, request.user.units) for one in found.buying]
    return show(request, "shed/list.html", ListPage(trips_of(lines, request.today), total_of(lines)))


@require_http_methods(["GET", "POST"])
@in_garden("tend")
def count(request: GardenRequest) -> HttpResponse:
    """Count what there is, all at once or some of it."""
    found = shed_today(request.garden, request.today)
    units = request.user.units
    things = [what for what in found.things if not what.startswith(MIX)]
    start = {
        f"of-{i}": f"{round(measure_of(what, units).shown(found.held.of(what)), 2):g}"
        for i, what in enumerate(things)
        if what in found.held.since
    }
    data = request.POST if request.method == "POST" else None
    form = CountForm(data, things=things, kit=found.kit, units=units, initial=dict(start))
    if data is not None and form.is_valid():
        changed = {what: amount for what, amount in form.amounts.items() if _is_new(what, amount, found)}
        if changed:
            undo = actions.write(press(request), ShedEntry.Deed.COUNTED, changed)
            said = f"Counted: {plural(len(changed), 'thing', 'things')}."
            saved(request, "shed-count", said, undo=undo.offered(request.garden))
        else:
            saved(request, "shed-count", "As it was.")
        return redirect("shed", request.garden.pk)
    return show(request, "shed/count.html", CountPage(form))


def _is_new(what: str, amount: float, found: ShedToday) -> bool:
    """Whether a count says anything that was not known: what was left as it stood is not counted anew."""
    return what not in found.held.since or abs(found.held.of(what) - amount) > 0.01 * max(amount, 1.0)


@require_POST
@in_garden("tend")
def bought(request: GardenRequest) -> HttpResponse:
    """It is bought, in one press: what the list says, in whole packs."""
    found = shed_today(request.garden, request.today)
    asked = set(request.POST.getlist("what"))
    if "everything" in request.POST:
        every = [buy_line(one, found, request.user.units) for one in found.buying]
        asked |= {line.what for line in soon_of(every, request.today)}
    lines = [one for one in found.buying if one.what in asked]
    if not lines:
        messages.info(request, "That is not on the list any more.")
        return redirect("shed", request.garden.pk)
    amounts = {one.what: one.packs.count * one.packs.size_l for one in lines}
    undo = actions.write(press(request), ShedEntry.Deed.BOUGHT, amounts)
    units = request.user.units
    words = [so_much(what, amount, found.kit, units) for what, amount in amounts.items()]
    said = words[0] if len(words) == 1 else plural(len(words), "thing", "things")
    saved(request, "", f"Bought: {said}.", undo=undo.offered(request.garden))
    return redirect("shed", request.garden.pk)


@require_http_methods(["GET", "POST"])
@in_garden("see")
def thing(request: GardenRequest, what: str) -> HttpResponse:
    """One thing of the shed: count it, say that some was bought or used, say how it is bought."""
    found = shed_today(request.garden, request.today)
    if what not in found.things:
        raise Http404
    units = request.user.units
    form, supply = AmountForm(what=what, units=units), _supply_form(None, what, found, units)
    if request.method == "POST":
        if "pack" in request.POST:
            supply = _supply_form(request.POST.dict(), what, found, units)
            if done := _say_supply(request, what, supply):
                return done
        else:
            form = AmountForm(request.POST, what=what, units=units)
            if done := _write_amount(request, what, form, found):
                return done
    page = ThingPage(
        what=what,
        name=thing_words(what, found.kit, units),
        there=so_much(what, found.there(what), found.kit, units),
        form=form,
        supply=supply,
        entries=book_of(request.garden, what, found, units),
        asked=asked_by(request.garden, what, found, units),
        weeks=weeks_of(what, found, units),
        is_jar=what in (POWDER, GEL),
        is_kept=is_kept(what),
    )
    return show(request, "shed/thing.html", page)


def _supply_form(data: Mapping[str, object] | None, what: str, found: ShedToday, units: str) -> SupplyForm:
    row = found.supplies.get(what)
    pack = measure_of(what, units).shown(row.pack if row else usual_pack(what))
    start: dict[str, object] = {"pack": f"{round(pack, 2):g}"}
    if row:
        start |= {"price": row.price, "opened_on": row.opened_on, "use_by": row.use_by}
    return SupplyForm(data, what=what, units=units, initial=start)


def _say_supply(request: GardenRequest, what: str, supply: SupplyForm) -> HttpResponse | None:
    if not may(request.role, "keep"):
        raise PermissionDenied(f"a {request.role} may not say how things are bought")
    if not supply.is_valid():
        return None
    actions.say_supply(request.garden, what, supply.cleaned_data)
    saved(request, "shed-supply", "Kept.")
    return redirect("shed-thing", request.garden.pk, what)


def _write_amount(request: GardenRequest, what: str, form: AmountForm, found: ShedToday) -> HttpResponse | None:
    if not may(request.role, "tend"):
        raise PermissionDenied(f"a {request.role} may not write in the shed's book")
    if not form.is_valid():
        return None
    kind, amount = ShedEntry.Deed(form.cleaned_data["kind"]), form.cleaned_data["amount"]
    undo = actions.write(press(request, form.cleaned_data["key"]), kind, {what: amount})
    said = f"{kind.label.capitalize()}: {so_much(what, amount, found.kit, request.user.units)}."
    saved(request, "shed-thing", said, undo=undo.offered(request.garden))
    return redirect("shed-thing", request.garden.pk, what)
