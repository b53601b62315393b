"""The cut sheet of a want, and what is done after the cut."""

from __future__ import annotations

from datetime import date
from typing import Any
from uuid import uuid4, uuid5

from django.contrib import messages
from django.core.exceptions import PermissionDenied
from django.http import Http404, HttpResponse, HttpResponseRedirect
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from elder.engine.batch.drying import is_drying
from elder.engine.climate.day_of_year import add_days
from elder.engine.cut.codes import spoken
from elder.engine.cut.steps import AT_ONCE, cut_spec, is_quarantined, prepare_days, schools_of
from elder.engine.handbook.model import Plant
from elder.engine.refusal import Refusal
from elder.web.batches.actions import add_entries
from elder.web.batches.models import Entry
from elder.web.batches.undoing import striking, untaking
from elder.web.cut import actions
from elder.web.cut.forms import VarietyForm
from elder.web.cut.room_views import fitting
from elder.web.cut.sheet import Facts, chosen_from, cutting_picture, pot_picture, sheet_of
from elder.web.cut.subject import want_reckoned
from elder.web.cut.trimming import fates
from elder.web.garden.access import GardenRequest, in_garden, may
from elder.web.garden.models import Place
from elder.web.read.batches import BatchToday, batch_of
from elder.web.read.gardens import climate_of, place_of
from elder.web.read.mothers import Known, known
from elder.web.read.wants import Reckoning
from elder.web.say.batches import entry_words, title_of
from elder.web.say.cautions import variety_cautions
from elder.web.say.plants import plant_words
from elder.web.say.refusals import refusal_words
from elder.web.say.units import temperature
from elder.web.say.words import about, day_words, days_away, plural
from elder.web.season.models import Want
from elder.web.season.take_form import TakeForm
from elder.web.season.taking import Taken, advised, take_batch
from elder.web.stock.actions import answer_for_variety
from elder.web.stock.models import StockLook, VarietyAnswer
from elder.web.ui.fields import MOST_TAKEN
from elder.web.ui.parsing import sent_key, whole
from elder.web.ui.saved import saved

AFTER_PARTS = ("Treat", "Stick", "Place")


@require_http_methods(["GET", "POST"])
@in_garden("see")
def sheet(request: GardenRequest, want_id: int) -> HttpResponse:
    """The cut sheet of a want: every step, by the schools chosen; then one press that they are cut."""
    item = want_reckoned(request, want_id)
    if item is None:
        raise Http404
    given = request.POST if request.method == "POST" else request.GET
    chosen = chosen_from({key: given[key] for key in given}, item.plant, item.method)
    form = TakeForm(
        request.POST if request.method == "POST" else None,
        initial=_start(item, request), garden=request.garden, today=request.today,
    )  # fmt: skip
    if request.method == "POST" and not may(request.role, "tend"):
        raise PermissionDenied(f"a {request.role} may not take cuttings here")
    if request.method == "POST" and form.is_valid():
        done = _take(request, item, form, chosen)
        if done:
            return done
    return render(request, "cut/sheet.html", _sheet_context(request, item, chosen, form))


def _start(item: Reckoning, request: GardenRequest) -> dict[str, Any]:
    asked = whole(request.GET.get("count"))
    count = asked if 0 < asked <= MOST_TAKEN else advised(item)
    best = next((one["name"] for one in _mothers(request, item)), "")
    mother = item.row.mother.name if item.row.mother else best
    return {
        "count": count,
        "rooting_place": item.row.rooting_place_id,
        "growing_place": item.row.growing_place_id,
        "stock_plant": request.GET.get("mother_name") or (item.batches[-1].row.stock_plant if item.batches else mother),
    }


def _take(
    request: GardenRequest, item: Reckoning, form: TakeForm, chosen: dict[str, str]
) -> HttpResponseRedirect | None:
    taken = Taken(**form.cleaned_data, treatment=chosen)
    made = take_batch(item.row, taken, garden=request.garden, person=request.user, today=request.today)
    if isinstance(made, Refusal):
        said = refusal_words(made, request.today, item.plant)
        form.add_error(made.field if made.field in form.fields else None, said)
        return None
    undo = untaking(made, request.garden)
    saved(request, "sheet", f"Taken: {taken.count}. Its code is {spoken(made.code)}.", undo=undo)
    return redirect("cut-after", request.garden.pk, made.pk)


def _sheet_context(request: GardenRequest, item: Reckoning, chosen: dict[str, str], form: TakeForm) -> dict[str, Any]:
    plant, method, units = item.plant, item.method, request.user.units
    asked = whole(form["count"].value())
    count = asked if 0 < asked <= MOST_TAKEN else max(advised(item), 1)
    mother = str(form["stock_plant"].value() or "")
    first = item.option.rooted[0] if item.option else None
    facts = Facts(
        count=count,
        wanted=item.needed,
        mother=mother,
        place=item.row.rooting_place.name,
        warmth=warmth_words(item.row.rooting_place, request, request.today),
        first_look=first if first and first > request.today else None,
        today=request.today,
        units=units,
    )
    pot, _ = pot_picture(plant, method, count, units)
    return {
        "item": item,
        "row": item.row,
        "title": plant_words(plant.name, item.row.variety),
        "parts": sheet_of(plant, method, chosen, facts),
        "chosen": chosen,
        "stem_schools": schools_of(plant, method).get("stem", ()),
        "count": count,
        "cuttings": plant.cutting_one if count == 1 else plant.cutting_many,
        "mother": mother,
        "when": _when(item, request.today),
        "form": form,
        "cutting": cutting_picture(plant, method, units),
        "pot": pot,
        "has_layout": cut_spec(plant, method) is not None,
        "mothers": _mothers(request, item),
        "prepare": _prepare(item, request.today),
        "cautions": [one.text for one in plant.cautions if one.at in ("cut", "stick", "share")],
        **variety_context(request, plant, item.row.variety),
    }


def warmth_words(place: Place, request: GardenRequest, today: date) -> str:
    """How warm a place is: a room by day and night, elsewhere what the climate gives it this day."""
    units = request.user.units
    if place.standing == "room":
        day, night = temperature(place.day_c, units), temperature(place.night_c, units)
        return day if day == night else f"{day} by day, {night} by night"
    engine, climate = place_of(place), climate_of(request.garden)
    low, high = climate.normals.t_min[today.month - 1], climate.normals.t_max[today.month - 1]
    low, high = low + engine.lift_night_c, high + engine.lift_day_c
    if engine.floor_c is not None:
        low, high = max(low, engine.floor_c), max(high, engine.floor_c)
    return f"{temperature(high, units)} by day, {temperature(low, units)} by night"


def _when(item: Reckoning, today: date) -> str:
    if item.batches:
        return "to make up what is short" if item.shortfall else "enough is cut already"
    if item.option is None:
        return "not to be had as asked"
    return f"{days_away(item.option.day, today)}, {about(item.option.day, today)}"


def _mothers(request: GardenRequest, item: Reckoning) -> list[dict[str, str]]:
    """The garden's own mothers of that plant, with what each gives today."""
    found = fitting(known(request.garden, request.today), item.row.plant, item.row.variety, item.row.mother_id)
    return [{"name": one.row.name, "gives": _gives(one), "url": str(one.row.pk)} for one in found]


def _gives(mother: Known) -> str:
    if mother.rests and mother.seen.pups is None:
        return f"at rest until {about(mother.opens, mother.today)}" if mother.opens else "at rest"
    again, growth, health = mother.giving.again_on, mother.seen.growth, mother.seen.health
    said = [f"{mother.now} today"]
    said += [f"more from {about(again, mother.today)}"] if again else []
    said += [StockLook.Growth(growth).label] if growth in ("flowering", "fruiting") else []
    said += [StockLook.Health(health).label] if health != "well" else []
    return ", ".join(said)


def _prepare(item: Reckoning, today: date) -> dict[str, Any] | None:
    """The branch got ready days ahead, where that is worth it."""
    days = prepare_days(item.plant, item.method)
    if not days or item.option is None or not item.to_cut or item.batches:
        return None
    day = add_days(item.option.day, -days)
    done = item.row.prepared_on
    return {"done": day_words(done, today) if done else "", "day": days_away(day, today) if day > today else "today"}


def variety_context(request: GardenRequest, plant: Plant, variety: str) -> dict[str, Any]:
    """What was said of a variety, or that it is still to be asked: once, and then remembered."""
    if not variety and not is_quarantined(plant):
        return {}
    said = VarietyAnswer.objects.filter(garden=request.garden, plant=plant.slug, variety=variety).first()
    restricted = is_quarantined(plant)
    named = bool(variety)
    warned = variety_cautions(said.protected, said.quarantine, named=named, quarantined=restricted) if said else []
    answer = {"answer": said, "quarantined": restricted, "name": variety, "plant": plant, "cautions": warned}
    return {"variety": answer}


@require_POST
@in_garden("tend")
def prepared(request: GardenRequest, want_id: int) -> HttpResponse:
    """The branch has been got ready."""
    row = get_object_or_404(Want, pk=want_id, garden=request.garden)
    undo = actions.prepare(row, request.today).offered(request.garden)
    saved(request, "", "The branch is ready. Cut on its day.", undo=undo)
    return redirect("cut-sheet", request.garden.pk, row.pk)


@require_POST
@in_garden("tend")
def say_variety(request: GardenRequest) -> HttpResponse:
    """Remember what was said of a variety, and go back to the sheet."""
    form = VarietyForm(request.POST)
    want = get_object_or_404(Want, pk=whole(request.POST.get("want")), garden=request.garden)
    if form.is_valid():
        data = form.cleaned_data
        unknown = VarietyAnswer.Said.UNKNOWN
        answer_for_variety(
            request.garden, data["plant"], data["variety"], protected=data["protected"] or unknown,
            quarantine=data["quarantine"] or unknown, on=request.today, person=request.user,
        )  # fmt: skip
        saved(request, "variety", "Remembered. You will not be asked again; it can be changed here.")
    else:
        messages.error(request, "That answer could not be read. Here is the question again.")
    return redirect("cut-sheet", request.garden.pk, want.pk)


@require_GET
@in_garden("see")
def after(request: GardenRequest, batch_id: int) -> HttpResponse:
    """After the cut: how they are treated and stuck, labels, trimmings, and the day they are stuck if they dry."""
    item = batch_of(request.garden, batch_id, request.today)
    plant, method, units = item.plant, item.method, request.user.units
    chosen = {**chosen_from({}, plant, method), **item.row.treatment}
    facts = Facts(
        count=item.state.taken,
        wanted=int(item.row.plan.get("wanted", item.state.taken)),
        mother=item.row.stock_plant,
        place=item.row.rooting_place.name,
        warmth=warmth_words(item.row.rooting_place, request, request.today),
        first_look=next((task.due for task in item.tasks if task.verb == "first_look"), None),
        today=item.state.taken_on,
        units=units,
    )
    pot, stick = pot_picture(plant, method, item.state.taken, units)
    until = add_days(item.state.taken_on, method.dry_days)
    drying = is_drying(item.state, method) and chosen.get("callus") != AT_ONCE
    trimmed = [one for one in _standing(item) if one.kind == Entry.Kind.TRIMMED]
    context = {
        "batch": item,
        "title": title_of(item),
        "code": spoken(item.row.code),
        "parts": [part for part in sheet_of(plant, method, chosen, facts) if part.name in AFTER_PARTS],
        "pot": pot,
        "labels": plural(stick.containers, "label", "labels"),
        "drying": {"until": day_words(until, request.today), "due": until <= request.today} if drying else None,
        "key": uuid4(),
        "fates": fates(plant, item.row.treatment, units),
        "trimmed": [entry_words(one) for one in trimmed],
        "treatment": sorted(item.row.treatment.items()),
        "cautions": [one.text for one in plant.cautions if one.at in ("stick", "share")],
    }
    return render(request, "cut/after.html", context)


def _standing(item: BatchToday) -> list[Entry]:
    struck = {one.strikes_id for one in item.entries}
    return [one for one in item.entries if one.pk not in struck]


@require_POST
@in_garden("tend")
def trim(request: GardenRequest, batch_id: int) -> HttpResponse:
    """What became of the trimmings, in one press."""
    item = batch_of(request.garden, batch_id, request.today)
    offered = {fate.key: fate for fate in fates(item.plant, item.row.treatment, request.user.units) if not fate.refused}
    fate = offered.get(request.POST.get("fate", ""))
    if fate is None:
        messages.error(request, "That is not offered for this plant.")
        return redirect("cut-after", request.garden.pk, item.row.pk)
    count = min(whole(request.POST.get("count")), MOST_TAKEN) if fate.key == "struck" else 0
    entry = Entry(kind=Entry.Kind.TRIMMED, on=request.today, deed=fate.key, count=count)
    sent = sent_key(request.POST.get("key"))
    if sent:  # one key a page: the same press twice is one, another fate is another
        entry.key = uuid5(sent, fate.key)
    done = add_entries(item.row, [entry], today=request.today, person=request.user)
    if isinstance(done, Refusal):
        messages.error(request, refusal_words(done, request.today))
    elif entry.pk:
        undo = striking([entry], request.garden, "cut-after", item.row.pk)
        saved(request, "", f"Written down: {entry_words(entry)}.", undo=undo)
    return redirect("cut-after", request.garden.pk, item.row.pk)
