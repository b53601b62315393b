"""Stock: the mother plants, what each can give and when, how it was seen, what came of it."""

from __future__ import annotations

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from elder.web.garden.access import GardenRequest, in_garden
from elder.web.read.demand import asks_here
from elder.web.read.mothers import Known, known
from elder.web.read.wants import reckon_all
from elder.web.say.mothers import troubles
from elder.web.say.words import about, plural
from elder.web.stock import actions
from elder.web.stock.forms import EndForm, LookForm, StockForm
from elder.web.stock.models import StockPhoto, StockPlant
from elder.web.stock.pages import StockPage, StockRow, mother_page, mother_words
from elder.web.stock.wording import state_words
from elder.web.ui.pages import RowForm, leaf_of, show
from elder.web.ui.photos import photo_answer
from elder.web.ui.saved import saved


@require_GET
@in_garden("see")
def stock(request: GardenRequest) -> HttpResponse:
    """Every mother: what it gives today, those that give most first, and what is asked of it."""
    today = request.today
    every = known(request.garden, today)
    asks = asks_here(request.garden, today, every, reckon_all(request.garden, today))
    by_pk = {row.pk: found for row, found in asks.items()}
    leaf = leaf_of([item for item in every if not item.row.ended_on], request.GET.get("page"))
    rows = []
    for item in leaf:
        asked = by_pk[item.row.pk]
        ahead = sorted((ask for ask in asked if not ask.done), key=lambda one: one.day)
        told = [f"{ask.count} on {about(ask.day, today)}" for ask in ahead]
        rows.append(StockRow(mother_words(item), told, troubles(item.row, item.looks, asked, today)))
    ended = [mother_words(item) for item in every if item.row.ended_on and leaf.number == 1]
    return show(request, "stock/stock.html", StockPage(rows, ended, leaf))


@require_http_methods(["GET", "POST"])
@in_garden("plan")
def new_stock(request: GardenRequest) -> HttpResponse:
    """A new mother."""
    return _form(request, None)


@require_http_methods(["GET", "POST"])
@in_garden("plan")
def edit_stock(request: GardenRequest, stock_id: int) -> HttpResponse:
    """Put a mother right, or take it off the list; what was cut from it keeps its name."""
    return _form(request, get_object_or_404(StockPlant, pk=stock_id, garden=request.garden))


def _form(request: GardenRequest, row: StockPlant | None) -> HttpResponse:
    if row and "remove" in request.POST:
        return _remove(request, row)
    form = StockForm(request.POST or None, instance=row, garden=request.garden, today=request.today)
    if request.method == "POST" and form.is_valid():
        kept = form.save()
        adopted = actions.adopt_batches(kept)
        more = f" {plural(adopted, 'batch', 'batches')} of that name {'is' if adopted == 1 else 'are'} its own now."
        saved(request, "stock", f"Kept. Wants can be cut from it now.{more if adopted else ''}")
        return redirect("stock-plant", request.garden.pk, kept.pk)
    return show(request, "stock/stock_form.html", RowForm(form, row))


def _remove(request: GardenRequest, row: StockPlant) -> HttpResponse:
    """Off the list goes only what was put there by mistake: what was looked at or cut has a line to keep."""
    if actions.is_used(row):
        messages.error(request, f"{row.name} has a history, which is kept. Say that it is no more instead.")
        return redirect("stock-plant", request.garden.pk, row.pk)
    row.delete()
    saved(request, "stock", "Taken off the list.")
    return redirect("stock", request.garden.pk)


def _known(request: GardenRequest, stock_id: int) -> Known:
    found = known(request.garden, request.today, only=stock_id)
    if not found:
        raise Http404
    return found[0]


@require_GET
@in_garden("see")
def mother(request: GardenRequest, stock_id: int) -> HttpResponse:
    """One mother: what it gives, how it was seen, its line, what came of it."""
    return show(request, "stock/mother.html", mother_page(request, _known(request, stock_id)))


@require_POST
@in_garden("tend")
def look(request: GardenRequest, stock_id: int) -> HttpResponse:
    """Write down how a mother is seen today."""
    item = _known(request, stock_id)
    form = LookForm(request.POST, request.FILES or None, today=request.today, has_pups=item.plant.pups is not None)
    if not form.is_valid():
        return show(request, "stock/mother.html", mother_page(request, item, look_form=form))
    row = actions.look_at(item.row, form.look, form.cleaned_data["photo"], person=request.user)
    undo = actions.unlooking(row).offered(request.garden)
    saved(request, f"stock-look-{item.row.pk}", f"Written down: {state_words(row)}.", undo=undo)
    return redirect("stock-plant", request.garden.pk, item.row.pk)


@require_POST
@in_garden("plan")
def end(request: GardenRequest, stock_id: int) -> HttpResponse:
    """Say that a mother is no more."""
    item = _known(request, stock_id)
    form = EndForm(request.POST, today=request.today)
    if not form.is_valid():
        return show(request, "stock/mother.html", mother_page(request, item, end_form=form))
    undo = actions.end(item.row, on=form.cleaned_data["on"], why=form.cleaned_data["why"]).offered(request.garden)
    saved(request, f"stock-end-{item.row.pk}", f"{item.row.name} is no more; its line stays.", undo=undo)
    return redirect("stock-plant", request.garden.pk, item.row.pk)


@require_GET
@in_garden("see")
def photo(request: GardenRequest, stock_photo_id: int) -> HttpResponse:
    """A photo of a mother of the garden."""
    row = get_object_or_404(StockPhoto, pk=stock_photo_id, look__mother__garden=request.garden)
    return photo_answer(row.data)
