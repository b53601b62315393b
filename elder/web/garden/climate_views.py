"""The almanac, and the daily records a garden's climate is counted from."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Unpack

from django import forms
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from elder.drawing.ground import ground_scene
from elder.drawing.soil_line import COMPACT
from elder.engine.climate.freezes import frost_of
from elder.engine.climate.normals import Normals, midsummer
from elder.engine.climate.records import monthly_means
from elder.engine.handbook.loading import clonable
from elder.engine.refusal import Refusal
from elder.web.formats.daily import ReadFile
from elder.web.garden import actions
from elder.web.garden.access import GardenRequest, in_garden
from elder.web.garden.almanac import Almanac
from elder.web.garden.forms import ReadingForm, RecordsForm, TemperatureField
from elder.web.garden.models import Place, Records, RecordsDraft
from elder.web.read.gardens import climate_of, place_of
from elder.web.say.refusals import refusal_words
from elder.web.say.units import shown_temperature, temperature, temperature_sign
from elder.web.say.words import MONTHS, about, days_words, doy_words
from elder.web.ui.fields import Filled, Sent
from elder.web.ui.saved import saved

SHOWN = 12  # rows of a list before the rest is only counted
MOST_THRESHOLD = 15.0


class ThresholdForm(forms.Form):
    """At what temperature a night counts as frost."""

    def __init__(self, data: Sent = None, *, units: str, **rest: Unpack[Filled]) -> None:
        super().__init__(data, **rest)
        self.fields["at"] = TemperatureField(units=units, label=f"Counted at or below, {temperature_sign(units)}")


def almanac_of(request: GardenRequest) -> Almanac:
    """The garden's almanac on this day; the warmest cover it has stands for pots under cover."""
    covers = request.garden.places.filter(standing=Place.Standing.AIR, lift_day_c__gt=0, floor_c=None)
    cover = covers.order_by("-lift_day_c").first()
    return Almanac(
        climate=climate_of(request.garden),
        today=request.today,
        accepted=request.garden.accepted_risk,
        units=request.user.units,
        cover=place_of(cover) if cover else None,
    )


@require_GET
@in_garden("see")
def almanac(request: GardenRequest) -> HttpResponse:
    """The garden's year: warmth, light, frost, wood, and the gate of each plant in use."""
    book = almanac_of(request)
    slugs = request.garden.wants.filter(closed_on=None).values_list("plant", flat=True)
    in_use = [clonable()[slug] for slug in dict.fromkeys(slugs) if slug in clonable()]
    plants = in_use or [clonable()["tomato"], clonable()["mint"]]
    context = {
        "headline": book.headline(),
        "ruler": book.ruler,
        "ground": ground_scene(book.axis, request.today, book.climate, height=COMPACT.height),
        "strips": book.strips(plants[0]),
        "gates": book.gates(plants),
        "in_use": bool(in_use),
        "recorded": Records.objects.filter(garden=request.garden).first(),
    }
    return render(request, "garden/almanac.html", context)


@require_GET
@in_garden("see")
def frost(request: GardenRequest) -> HttpResponse:
    """Frost dates by year, for any threshold."""
    book = almanac_of(request)
    asked = ThresholdForm(request.GET or {"at": shown_temperature(0.0, request.user.units)}, units=request.user.units)
    threshold = book.climate.frost.threshold_c
    if asked.is_valid() and abs(asked.cleaned_data["at"]) <= MOST_THRESHOLD:
        threshold = asked.cleaned_data["at"]
    elif asked.is_valid():
        asked.add_error(
            "at", f"Ask between {temperature(-15, request.user.units)} and {temperature(15, request.user.units)}."
        )
    counted, sheets = book.freezes(threshold)
    years = []
    if counted:
        autumns = {year.year: year for year in counted.autumn_years}
        years = [(year, autumns.get(year.year)) for year in counted.spring_years]
    context = {
        "form": asked,
        "sheets": sheets,
        "counted": counted,
        "years": years,
        "at": temperature(threshold, request.user.units, places=0 if threshold == round(threshold) else 1),
        "recorded": Records.objects.filter(garden=request.garden).first(),
    }
    return render(request, "garden/frost.html", context)


@require_http_methods(["GET", "POST"])
@in_garden("keep")
def records(request: GardenRequest) -> HttpResponse:
    """Send a file of daily readings; it is only looked at until it is accepted."""
    form = RecordsForm(request.POST or None, request.FILES or None)
    if request.method == "POST" and form.is_valid():
        name = getattr(request.FILES["file"], "name", "") or "a file"
        draft = actions.keep_draft(request.garden, request.user, name, form.cleaned_data["file"])
        read = actions.read_draft(draft)
        if not isinstance(read, Refusal):
            return redirect("records-preview", request.garden.pk)
        draft.delete()
        form.add_error("file", refusal_words(read, request.today))
    row = Records.objects.filter(garden=request.garden).first()
    return render(request, "garden/records.html", {"form": form, "recorded": row})


@dataclass(frozen=True)
class Preview:
    """What a preview shows of a file."""

    read: ReadFile
    units: str

    @property
    def span(self) -> str:
        """From when to when."""
        ends = self.read.records.first, self.read.records.last
        return " to ".join(f"{about(day, None)} {day.year}" for day in ends)

    @property
    def days(self) -> str:
        """How many days were read."""
        return f"{len(self.read.records):,}"

    @property
    def frost(self) -> str:
        """What its frosts average, where it is long enough to have an ordinary year."""
        means = monthly_means(self.read.records)
        if means is None:
            return ""
        frost = frost_of(self.read.records, midsummer(Normals(*means)))
        if frost.spring is None and frost.autumn is None:
            return "By these readings there is no frost."
        parts = [f"the last frost averages {doy_words(frost.spring.mean_doy)}"] if frost.spring else []
        parts += [f"the first {doy_words(frost.autumn.mean_doy)}"] if frost.autumn else []
        return f"By these readings {', '.join(parts)}."

    @property
    def months(self) -> list[tuple[str, str, str]]:
        """The ordinary year these readings make, month by month."""
        means = monthly_means(self.read.records)
        if means is None:
            return []
        rows = zip(MONTHS, *Normals(*means).__dict__.values(), strict=True)
        return [(name, temperature(low, self.units, 1), temperature(high, self.units, 1)) for name, low, high in rows]

    @property
    def refused(self) -> list[tuple[str, int, str]]:
        """Each reason with its number of lines and the first of them."""
        return [
            (why, count, ", ".join(str(row.line) for row in self.read.refused if row.why == why)[:90])
            for why, count in self.read.reasons.items()
        ]

    @property
    def suspects(self) -> list[tuple[int, str, str, str]]:
        """Readings that look wrong: line, day, what it says and what is usual."""
        return [
            (
                row.line,
                f"{row.day.day} {MONTHS[row.day.month - 1]} {row.day.year}",
                f"{'lowest' if row.which == 'low' else 'highest'} {temperature(row.value, self.units, 1)}",
                f"usual then {temperature(row.usual, self.units)}",
            )
            for row in self.read.suspects[:SHOWN]
        ]

    @property
    def gaps(self) -> list[str]:
        """Holes of more than ten days."""
        holes = [(first, last, days_words((last - first).days + 1)) for first, last in self.read.gaps[:SHOWN]]
        return [f"{about(a, None)} {a.year} to {about(b, None)} {b.year}, {long}" for a, b, long in holes]

    @property
    def more(self) -> tuple[int, int]:
        """How many suspects and gaps are not listed."""
        return max(len(self.read.suspects) - SHOWN, 0), max(len(self.read.gaps) - SHOWN, 0)


@require_http_methods(["GET", "POST"])
@in_garden("keep")
def preview(request: GardenRequest) -> HttpResponse:
    """What was understood of a file, what was refused and what looks wrong; accepted, or thrown away."""
    draft = get_object_or_404(RecordsDraft, garden=request.garden, person=request.user)
    if "discard" in request.POST:
        draft.delete()
        saved(request, "records", "Thrown away; nothing was changed.")
        return redirect("records", request.garden.pk)
    form = ReadingForm(request.POST or None, initial=draft.options)
    said = ""
    if request.method == "POST" and form.is_valid():
        draft.options = form.cleaned_data
        draft.save(update_fields=["options"])
        if "accept" in request.POST:
            kept = actions.accept_draft(draft, request.garden, request.user, whole="whole" in request.POST)
            if isinstance(kept, Records):
                saved(request, "records", "Kept. Frosts and the ordinary year are counted from these readings now.")
                return redirect("frost", request.garden.pk)
            said = refusal_words(kept, request.today)
    read = actions.read_draft(draft)
    context: dict[str, Any] = {"form": form, "draft": draft, "said": said}
    if isinstance(read, Refusal):
        context["said"] = refusal_words(read, request.today)
    else:
        context |= {"preview": Preview(read, request.user.units), "read": read}
        context |= {"from_year": actions.counted_from(read.records, whole=False)}
    return render(request, "garden/records_preview.html", context)


@require_POST
@in_garden("keep")
def forget(request: GardenRequest) -> HttpResponse:
    """Take the records away and go back to frost dates by hand."""
    actions.forget_records(request.garden)
    saved(request, "records", "The records are gone. The monthly means stay; give the frost dates by hand.")
    return redirect("garden-edit", request.garden.pk)
