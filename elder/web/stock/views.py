"""Stock: the mother plants, what each gives and what is asked of it."""

from __future__ import annotations

from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_GET, require_http_methods

from elder.engine.handbook import handbook
from elder.web.garden.access import GardenRequest, in_garden
from elder.web.season.reckoning import reckon_all
from elder.web.season.wording import plant_words
from elder.web.stock.asked import asks_of_all, short_of, shortage_words
from elder.web.stock.forms import StockForm
from elder.web.stock.models import StockPlant
from elder.web.ui.saved import saved
from elder.web.ui.words import about, plural, stretch_words


@require_GET
@in_garden("see")
def stock(request: GardenRequest) -> HttpResponse:
    """Every mother, with what is asked of it."""
    reckonings, today = reckon_all(request.garden, request.today), request.today
    rows = []
    for mother, asks in asks_of_all(request.garden, reckonings, today).items():
        ahead = [ask for ask in asks if not ask.done]
        rows.append(
            {
                "mother": mother,
                "title": plant_words(handbook()[mother.plant].name, mother.variety),
                "gives": f"{plural(mother.gives, 'cutting', 'cuttings')}, again after "
                f"{stretch_words(mother.again_days, mother.again_days)}",
                "asked": [f"{ask.count} on {about(ask.day, today)}" for ask in sorted(ahead, key=lambda one: one.day)],
                "short": [shortage_words(mother, short, today) for short in short_of(mother, asks, today)],
            }
        )
    return render(request, "stock/stock.html", {"rows": rows})


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
        row.delete()
        saved(request, "stock", "Taken off the list.")
        return redirect("stock", request.garden.pk)
    form = StockForm(request.POST or None, instance=row, garden=request.garden)
    if request.method == "POST" and form.is_valid():
        form.save()
        saved(request, "stock", "Kept. Wants can be cut from it now.")
        return redirect("stock", request.garden.pk)
    return render(request, "stock/stock_form.html", {"form": form, "row": row})
