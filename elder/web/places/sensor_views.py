"""What was read at a place: a sensor switched on, a logger's file brought in, and Elder's open form sent out."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import dataclass, replace
from datetime import datetime, time, timedelta
from zoneinfo import ZoneInfo

import numpy as np
from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.utils.text import slugify
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from elder.engine.place.readings import Reading
from elder.engine.refusal import Refusal
from elder.web.formats.logger import ReadLog, read_log, write_csv, write_json
from elder.web.garden.access import GardenRequest, in_garden
from elder.web.garden.models import Place, PlaceReadings
from elder.web.garden.records_forms import RecordsForm
from elder.web.places.readings import OffWords, forget_readings, keep_readings, off_by_all, read_sensor
from elder.web.read.batches import living
from elder.web.read.bounded import ServiceMissingError, bounded
from elder.web.read.gardens import stood_at
from elder.web.read.services import sensor_of
from elder.web.say.refusals import refusal_words
from elder.web.say.units import temperature
from elder.web.say.words import plural
from elder.web.ui.pages import show
from elder.web.ui.saved import saved

SENT_DAYS = 14


@dataclass(frozen=True)
class ReadingsPage:
    """What was read at a place, and how far off the reckoning is by it; and the form that brings more."""

    place: Place
    form: RecordsForm
    row: PlaceReadings | None = None
    off: OffWords | None = None
    span: str = ""
    humidity: int | None = None
    whole: int | None = None


def _place(request: GardenRequest, place_id: int) -> Place:
    return get_object_or_404(Place, pk=place_id, garden=request.garden)


@require_http_methods(["GET", "POST"])
@in_garden("keep")
def readings(request: GardenRequest, place_id: int) -> HttpResponse:
    """What was read at a place, and a way to bring more."""
    place = _place(request, place_id)
    form = RecordsForm(request.POST or None, request.FILES or None)
    form.fields["file"].label = "A logger’s file: CSV, or Elder’s own JSON"
    if request.method == "POST" and form.is_valid():
        text = form.cleaned_data["file"].decode("utf-8", errors="replace")
        found = read_log(text, request.garden.timezone)
        if isinstance(found, Refusal):
            form.add_error("file", refusal_words(found, request.today))
        else:
            return _keep(request, place, found)
    return _readings_page(request, place, form)


def _keep(request: GardenRequest, place: Place, found: ReadLog) -> HttpResponse:
    now = datetime.combine(request.today + timedelta(days=1), time())
    rows = [row for row in found.readings if row.at < now]
    if not rows:
        messages.error(request, "Every reading in that file is still to come.")
        return redirect("place-readings", request.garden.pk, place.pk)
    name = getattr(request.FILES["file"], "name", "") or "a file"
    kept = keep_readings(place, rows, source=name, person=request.user)
    refused = len(found.refused)
    lines = f" {plural(refused, 'line was', 'lines were')} not: {found.refused[0].why}." if refused else ""
    saved(request, "readings", f"{len(rows)} readings kept; {plural(kept.days, 'day', 'days')} in all.{lines}")
    return redirect("place-readings", request.garden.pk, place.pk)


def _readings_page(request: GardenRequest, place: Place, form: RecordsForm) -> HttpResponse:
    row = PlaceReadings.objects.filter(place=place).first()
    if row is None:
        return show(request, "places/readings.html", ReadingsPage(place, form))
    every = off_by_all(request.garden, living(request.garden, request.today), request.user.units)
    off = next((off for off in every if off.place.pk == place.pk), None)
    return show(request, "places/readings.html", _read_there(ReadingsPage(place, form, row, off), request.user.units))


def _read_there(page: ReadingsPage, units: str) -> ReadingsPage:
    """The page with what the readings come to."""
    found = stood_at(page.place).readings
    if found is None:
        return page
    low, high = float(np.nanmin(found.celsius)), float(np.nanmax(found.celsius))
    return replace(
        page,
        span=f"{temperature(low, units)} to {temperature(high, units)}",
        humidity=round(float(np.nanmean(found.humidity))) if np.isfinite(found.humidity).any() else None,
        whole=int(found.whole.sum()),
    )


@require_POST
@in_garden("keep")
def sensor(request: GardenRequest, place_id: int) -> HttpResponse:
    """Switch a sensor on or off, or read it now."""
    place = _place(request, place_id)
    asked = request.POST.get("sensor")
    if asked is not None:
        if asked not in Place.Sensor.values:
            raise Http404
        place.sensor = asked
        place.save(update_fields=["sensor"])
    try:
        row = read_sensor(place, request.garden, today=request.today)
    except ServiceMissingError:
        messages.error(request, f"The sensor at {place.name} does not answer. What it read before stays.")
        return redirect("place-readings", request.garden.pk, place.pk)
    said = f"Read up to {row.last_day:%-d %b}." if row and place.sensor else "The sensor is off; what it read stays."
    saved(request, "sensor", said)
    return redirect("place-readings", request.garden.pk, place.pk)


@require_POST
@in_garden("keep")
def forget(request: GardenRequest, place_id: int) -> HttpResponse:
    """Forget what was read at a place."""
    place = _place(request, place_id)
    forget_readings(place)
    saved(request, "readings", "Forgotten. Forecasts use the place as you described it.")
    return redirect("place-readings", request.garden.pk, place.pk)


@require_GET
@in_garden("see")
def send(request: GardenRequest, place_id: int, form: str) -> HttpResponse:
    """The last fortnight's readings in Elder's open form: the sensor's own quarter hours, else hours as kept."""
    if form not in ("csv", "json"):
        raise Http404
    place, zone = _place(request, place_id), ZoneInfo(request.garden.timezone)
    rows = _rows(request, place)
    text = write_csv(rows, zone) if form == "csv" else write_json(rows, zone, place.name)
    answer = HttpResponse(text, content_type="text/csv" if form == "csv" else "application/json")
    answer["Content-Disposition"] = f'attachment; filename="{slugify(place.name)}.{form}"'
    return answer


def _rows(request: GardenRequest, place: Place) -> list[Reading]:
    until = datetime.combine(request.today, time())
    since = until - timedelta(days=SENT_DAYS)
    found = sensor_of(place, request.garden)
    if found is not None:
        with suppress(ServiceMissingError):  # what was kept of it is sent then
            return list(bounded(lambda: found.read(since, until), what=f"the sensor at {place.name}"))
    kept = stood_at(place).readings
    if kept is None:
        return []
    rows = []
    for ordinal, celsius, humidity in zip(kept.ordinals, kept.celsius, kept.humidity, strict=True):
        day = datetime.fromordinal(int(ordinal))
        hours = zip(range(24), celsius, humidity, strict=True)
        rows += [
            Reading(day.replace(hour=hour), round(float(c), 1), round(float(h), 1) if np.isfinite(h) else float("nan"))
            for hour, c, h in hours
            if np.isfinite(c) and since <= day < until
        ]
    return rows
