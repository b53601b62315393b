"""A look in two taps, the verdict on it, and the photo."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date
from typing import Any
from uuid import uuid4

from django.http import HttpResponse
from django.shortcuts import get_object_or_404, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_http_methods

from elder.drawing.patience import patience_scene
from elder.drawing.scene import Scene
from elder.engine.batch.history import STAGES
from elder.engine.chance.rooting_time import GIVE_UP_BELOW
from elder.engine.refusal import Refusal
from elder.engine.round.cold_nights import is_hot
from elder.engine.round.potting import ready_sign
from elder.engine.round.verdicts import Rule, facts_of, stage_of, table, too_long_cm, verdict
from elder.web.batches.models import Entry, Photo
from elder.web.batches.potting import potting_lines
from elder.web.batches.undoing import striking
from elder.web.garden.access import GardenRequest, in_garden, may
from elder.web.read.batches import BatchToday, batch_of
from elder.web.read.gardens import place_of, places_of
from elder.web.read.services import days_ahead
from elder.web.rounds import actions
from elder.web.rounds.course import course_of_want
from elder.web.rounds.forms import MOST_ROOT_CM, SignsForm
from elder.web.rounds.round import LOOKS, jobs_in, round_of
from elder.web.say.batches import STAGE_WORDS, counts_words, entry_words, hope_words, name_of, title_of
from elder.web.say.refusals import refusal_words
from elder.web.say.words import about, day_words, days_away
from elder.web.ui.photos import photo_answer
from elder.web.ui.replies import kept, refused, wants_json
from elder.web.ui.saved import saved

LENGTH_FACTS = ("long_enough", "too_short", "too_long")
URGENCY_WORDS = {"now": "now", "today": "today", "week": "this week", "none": ""}
GRAVITY_WORDS = ("good", "a nudge", "soon", "serious", "grave")


def _facts(
    batch: BatchToday, request: GardenRequest, stage: str, *, root_cm: float = 0.0, on: date | None = None
) -> frozenset[str]:
    here = places_of(request.garden)[batch.place_id(stage)]
    ahead = days_ahead(request.garden, request.today)
    hot = is_hot(batch.plant, place_of(here), ahead[0] if ahead else None)
    under_way = replace(batch.under_way, today=on or request.today)
    return facts_of(under_way, stage, root_cm=root_cm, hot=hot)


def _stages(batch: BatchToday) -> list[tuple[str, str]]:
    found = [
        (stage, f"{batch.state.count(stage)} {STAGE_WORDS[stage]}") for stage in STAGES if batch.state.count(stage)
    ]
    return found or [("planted", "planted out")]


@require_http_methods(["GET", "POST"])
@in_garden("tend")
def look(request: GardenRequest, batch_id: int) -> HttpResponse:
    """Look at a batch: as it should be, or what is to be seen, how many rooted, how many lost."""
    batch = batch_of(request.garden, batch_id, request.today)
    data = request.POST if request.method == "POST" else None
    last = batch.history.last
    start = {"seen": last, "stage": stage_of(batch.state)}
    form = SignsForm(data, request.FILES or None, today=request.today, stages=_stages(batch), initial=start)
    if data is None:
        return _look_page(request, batch, form)
    if not form.is_valid():
        if wants_json(request):
            return refused(" ".join(str(error) for errors in form.errors.values() for error in errors))
        return _look_page(request, batch, form)
    return _write_look(request, batch, form, last)


def _write_look(request: GardenRequest, batch: BatchToday, form: SignsForm, last: int) -> HttpResponse:
    data, new = form.cleaned_data, form.entries()
    new[0].key = data["key"] or new[0].key
    done = actions.look(batch.row, new, data["photo"], seen=data["seen"], today=request.today, person=request.user)
    if isinstance(done, Refusal):
        said = refusal_words(done, request.today)
        if wants_json(request):
            return refused(said, seen=last if done.code == "changed_since" else None)
        where = done.params.get("kind", "")
        form.add_error(where if where in form.fields else None, said)
        return _look_page(request, batch, form, seen=last)
    written = [entry.pk for entry in new if entry.pk]
    undo = striking(new, request.garden)
    words = ", ".join(entry_words(entry) for entry in new)
    no_verdict = "well" in request.POST or "then" in request.POST
    course = _course_words(request, batch.row.pk) if no_verdict else ""
    saved(request, f"signs-{batch.row.pk}", f"Written down for {name_of(batch)}: {words}.{course}", undo=undo)
    if request.POST.get("then") == "batch":
        return kept(request, reverse("batch", args=[request.garden.pk, batch.row.pk]))
    if "well" in request.POST or request.POST.get("then") == "round" or not written:
        return kept(request, reverse("round", args=[request.garden.pk]))
    return kept(request, reverse("round-verdict", args=[request.garden.pk, batch.row.pk, written[0]]))


def _course_words(request: GardenRequest, batch_id: int) -> str:
    """How the want stands after a look that has no verdict of its own to say it."""
    course = course_of_want(batch_of(request.garden, batch_id, request.today), request.garden, ways=False)
    return f" {course.said}" if course else ""


def _look_page(request: GardenRequest, batch: BatchToday, form: SignsForm, *, seen: int | None = None) -> HttpResponse:
    sign = ready_sign(batch.method)
    chosen = set(form["signs"].value() or [])
    stages = [stage for stage, _ in _stages(batch)]
    context = {
        "batch": batch,
        "title": title_of(batch),
        "place": places_of(request.garden)[batch.place_id(stage_of(batch.state))],
        "counts": counts_words(batch),
        "hope": hope_words(batch),
        "form": form,
        "key": uuid4(),
        "seen": seen if seen is not None else form["seen"].value(),
        "signs": [(key, name, key in chosen) for key, name in table().signs],
        "stages": [(stage, words, stage == form["stage"].value()) for stage, words in _stages(batch)],
        "sign": sign,
        "marks": " ".join(f"job-{verb}-batch-{batch.row.pk}" for verb in LOOKS),
        "length_label": "Longest shoot, cm" if sign.kind == "shoot" else "Longest root, cm",
        "waiting": batch.state.count("waiting"),
        "living": batch.state.living,
        "rules": {
            "stages": {stage: _rules(batch, request, stage) for stage in stages},
            "length": {"wanted": sign.cm, "long": min(too_long_cm(sign), MOST_ROOT_CM + 1)},
            "urgency": URGENCY_WORDS,
        },
    }
    return render(request, "rounds/look.html", context)


def _rules(batch: BatchToday, request: GardenRequest, stage: str) -> list[dict[str, Any]]:
    return rules_for(stage, _facts(batch, request, stage))


def rules_for(stage: str, facts: frozenset[str]) -> list[dict[str, Any]]:
    """Every rule that could hold at a stage with these facts, so that the phone can answer at once and out of reach.

    A length may still be measured, so what depends on one is among them, and the script asks it.
    """
    known = facts | set(LENGTH_FACTS)
    return [_rule_json(rule) for rule in [*table().rules, table().well[stage]] if rule.may_hold(stage, known)]


def _rule_json(rule: Rule) -> dict[str, Any]:
    return {
        "code": rule.code,
        "signs": sorted(rule.signs),
        "without": sorted(rule.without),
        "facts": sorted(rule.facts & set(LENGTH_FACTS)),
        "knows": list(rule.knows),
        "gravity": rule.gravity,
        "urgency": rule.urgency,
        "cause": rule.cause,
        "deed": rule.deed,
        "why": rule.why,
        "caution": rule.caution,
    }


@dataclass(frozen=True)
class FindingLine:
    """A finding as the page shows it."""

    rule: Rule
    when: str
    weight: str
    signs: list[tuple[str, str]]


@require_GET
@in_garden("see")
def verdict_page(request: GardenRequest, batch_id: int, entry_id: int) -> HttpResponse:
    """What a look came to: findings with what to do, patience, the want's course and its ways out, potting."""
    batch = batch_of(request.garden, batch_id, request.today)
    entry = get_object_or_404(Entry, pk=entry_id, batch=batch.row)
    stage = entry.stage if entry.stage in STAGES and batch.state.count(entry.stage) else stage_of(batch.state)
    facts = _facts(batch, request, stage, root_cm=entry.root_cm, on=entry.on)
    found = verdict(entry.signs.split(), stage, facts, batch.forecast, today=request.today)
    names = table().names
    findings = [
        FindingLine(
            rule,
            URGENCY_WORDS[rule.urgency],
            GRAVITY_WORDS[rule.gravity],
            [(key, name) for key, name in names.items() if key in rule.signs],
        )
        for rule in found.findings
    ]
    after = [other for other in batch.entries if other.pk > entry.pk and other.by_id != entry.by_id]
    context = {
        "batch": batch,
        "title": title_of(batch),
        "counts": counts_words(batch),
        "entry": entry,
        "findings": findings,
        "look_on": day_words(found.look_on, request.today),
        "look_away": days_away(found.look_on, request.today),
        "hope": hope_words(batch),
        "patience": patience_of(batch, request),
        "course": course_of_want(batch, request.garden, may_plan=may(request.role, "plan")),
        "potting": potting_lines(batch, request.user.units) if batch.state.count("rooted") else None,
        "photo": Photo.objects.filter(entry=entry).only("pk", "width_px", "height_px").first(),
        "since": [f"{other.by}: {entry_words(other)}" for other in after],
        "next": _next_look(request, batch),
        "key": uuid4(),
        "seen": batch.history.last,
    }
    return render(request, "rounds/verdict.html", context)


def patience_of(batch: BatchToday, request: GardenRequest) -> Scene | None:
    """Hope drawn until it is no longer worth the place; nothing where none waits or no end is in sight."""
    ahead, today = batch.forecast, request.today
    if not batch.state.count("waiting") or ahead.give_up_on is None or ahead.give_up_on <= today:
        return None
    return patience_scene(
        [float(hope) for hope in ahead.hopes],
        ahead.hopes_from,
        today,
        until=ahead.give_up_on,
        give_up_below=GIVE_UP_BELOW,
        words=f"Hope of one still waiting, falling to 1 in 10 on {about(ahead.give_up_on, today)}.",
        day_words=lambda day: about(day, today),
    )


def _next_look(request: GardenRequest, batch: BatchToday) -> dict[str, str] | None:
    """The next batch of the round that wants a look."""
    jobs = [job for job in jobs_in(round_of(request.garden, request.today).now) if job.verb in LOOKS]
    after = next((job for job in jobs if job.batch.row.pk != batch.row.pk), None)
    if after is None:
        return None
    url = reverse("round-look", args=[request.garden.pk, after.batch.row.pk])
    return {"name": name_of(after.batch), "url": url}


@require_GET
@in_garden("see")
def photo(request: GardenRequest, photo_id: int) -> HttpResponse:
    """A photo of a batch of the garden."""
    row = get_object_or_404(Photo, pk=photo_id, batch__garden=request.garden)
    return photo_answer(row.data)
