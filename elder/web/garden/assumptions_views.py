"""What Elder takes for granted of a garden, seen by everybody and changed by who keeps it."""

from __future__ import annotations

from dataclasses import dataclass

from django.http import HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_http_methods

from elder.web.garden.access import GardenRequest, in_garden, may
from elder.web.garden.assumptions_form import AS_SHIPPED, AssumptionsForm
from elder.web.garden.models import Garden
from elder.web.ui.pages import show
from elder.web.ui.saved import saved


@dataclass(frozen=True)
class AssumptionsPage:
    """The values as they stand; ``changed`` where they are not those that Elder starts with."""

    form: AssumptionsForm
    changed: bool
    may_change: bool


@require_http_methods(["GET", "POST"])
@in_garden("see")
def assumptions(request: GardenRequest) -> HttpResponse:
    """Look at the assumptions; change them, or put back what Elder starts with."""
    row = Garden.objects.get(pk=request.garden.pk)
    may_change = may(request.role, "keep")
    form = AssumptionsForm(request.POST if request.method == "POST" and may_change else None, instance=row)
    if form.is_bound and "reset" in request.POST:
        for name, value in AS_SHIPPED.items():
            setattr(row, name, value)
        row.save(update_fields=list(AS_SHIPPED))
        saved(request, "assumptions", "Back to what Elder starts with. Every plan is reckoned anew.")
        return redirect("assumptions", row.pk)
    if form.is_bound and form.is_valid():
        form.save()
        saved(request, "assumptions", "Kept. Every plan is reckoned anew.")
        return redirect("assumptions", row.pk)
    changed = any(getattr(request.garden, name) != value for name, value in AS_SHIPPED.items())
    return show(request, "garden/assumptions.html", AssumptionsPage(form, changed, may_change))
