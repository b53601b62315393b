"""Trials: asked, cut in one press, counted in one form, judged."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta
from uuid import uuid4

from django.contrib import messages
from django.forms import Form
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from elder.engine.handbook.loading import handbook
from elder.engine.refusal import Refusal
from elder.web.batches.undoing import striking, untaking
from elder.web.garden.access import GardenRequest, in_garden, may
from elder.web.garden.models import Garden
from elder.web.read.handbook import clonable_here
from elder.web.read.records import record_of
from elder.web.record import trial_actions
from elder.web.record.models import Trial
from elder.web.record.trial_forms import ArmCountForm, GrownForm, SplitForm, TrialForm
from elder.web.record.trial_pages import TrialPage, arm_lines, sizes_words, trial_page
from elder.web.say.refusals import refusal_words
from elder.web.say.words import plural
from elder.web.stock.models import StockPlant
from elder.web.ui.pages import show
from elder.web.ui.parsing import sent_key
from elder.web.ui.saved import saved

USUAL_DAYS = 42  # when a trial is judged unless another day is set (assumed)


@dataclass(frozen=True)
class TrialLine:
    """A trial in the list."""

    trial: Trial
    answer: str
    judged: str
    is_early: bool


@dataclass(frozen=True)
class TrialsPage:
    """Every trial."""

    lines: list[TrialLine]


@dataclass(frozen=True)
class NewTrialPage:
    """A question being asked: the form, and how many each would do."""

    form: TrialForm
    sizes: list[str]
    mothers: list[str]


@dataclass(frozen=True)
class OneTrialPage:
    """A trial with its forms."""

    page: TrialPage
    count: ArmCountForm | None
    grown: GrownForm | None
    split: SplitForm | None
    key: str


@require_GET
@in_garden("see")
def trials(request: GardenRequest) -> HttpResponse:
    """Every trial, the newest first."""
    rows = Trial.objects.filter(garden=request.garden).order_by("-pk")
    pages = [trial_page(row, request.today) for row in rows]
    lines = [TrialLine(page.trial, page.answer, page.judged, page.is_early) for page in pages]
    return show(request, "record/trials.html", TrialsPage(lines))


@require_http_methods(["GET", "POST"])
@in_garden("plan")
def new(request: GardenRequest) -> HttpResponse:
    """Ask a question."""
    garden, today = request.garden, request.today
    plants, places = clonable_here(garden), list(garden.places.all())
    data = request.POST if request.method == "POST" else None
    start = {"way": usual_way(garden, today), "judged_on": today + timedelta(days=USUAL_DAYS), "each": 12}
    start |= request.GET.dict()
    form = TrialForm(data, plants=plants.values(), places=places, today=today, initial=start)
    if data is not None and places and form.is_valid():
        row = trial_actions.ask_trial(form.trial(), form.arms(), garden, request.user, today)
        saved(request, "trial-new", "Asked. The lot of every stem is drawn.")
        return redirect("trial", garden.pk, row.pk)
    asked = str(form["way"].value() or next(iter(form.fields["way"].choices))[0])  # type: ignore[attr-defined]
    slug, _, way = asked.partition("/")
    plant = plants.get(slug)
    method = next((one for one in plant.methods if one.slug == way), None) if plant else None
    mothers = StockPlant.objects.filter(garden=garden, ended_on=None).values_list("name", flat=True)
    sizes = sizes_words(method.take.mean) if method else []
    return show(request, "record/trial_new.html", NewTrialPage(form, sizes, list(mothers)))


def usual_way(garden: Garden, today: date) -> str:
    """The way most batches were cut by here."""
    by_way = record_of(garden, today).by_way
    return "/".join(max(by_way.items(), key=lambda item: len(item[1]))[0]) if by_way else ""


def trial_of(request: GardenRequest, trial_id: int) -> Trial:
    """A trial of the garden. Raises Http404 for one that is not there."""
    return get_object_or_404(Trial, pk=trial_id, garden=request.garden)


@require_GET
@in_garden("see")
def trial(request: GardenRequest, trial_id: int) -> HttpResponse:
    """One trial."""
    return _shown(request, trial_of(request, trial_id))


def _shown(request: GardenRequest, row: Trial, wrong: Form | None = None) -> HttpResponse:
    page, today = trial_page(row, request.today), request.today
    tends = may(request.role, "tend")
    count = ArmCountForm(arms=page.arms, today=today) if tends and page.can_count else None
    grown = GrownForm(arms=page.arms) if tends and row.stage == Trial.Stage.GROWN else None
    split = None
    if page.can_split >= 4 and may(request.role, "plan"):
        start: dict[str, object] = {"judged_on": today + timedelta(days=USUAL_DAYS)}
        split = SplitForm(most=page.can_split, today=today, initial=start)
    shown = OneTrialPage(
        page,
        wrong if isinstance(wrong, ArmCountForm) else count,
        wrong if isinstance(wrong, GrownForm) else grown,
        wrong if isinstance(wrong, SplitForm) else split,
        str(uuid4()),
    )
    return show(request, "record/trial.html", shown)


@require_POST
@in_garden("tend")
def take(request: GardenRequest, trial_id: int) -> HttpResponse:
    """Cut every arm whose day has come, in one press."""
    row = trial_of(request, trial_id)
    key = sent_key(request.POST.get("key", "")) or uuid4()
    made = trial_actions.take_arms(row, key, request.garden, request.user, request.today)
    if isinstance(made, Refusal):
        messages.error(request, refusal_words(made, request.today, handbook()[row.plant]))
    elif made:
        said = f"Taken: {plural(len(made), 'arm', 'arms')} of {row.each} each."
        saved(request, "", said, undo=untaking(made, request.garden))
    return redirect("trial", request.garden.pk, row.pk)


@require_POST
@in_garden("tend")
def count(request: GardenRequest, trial_id: int) -> HttpResponse:
    """One look at every arm."""
    row = trial_of(request, trial_id)
    if row.stage == Trial.Stage.GROWN:
        return _count_grown(request, row)
    form = ArmCountForm(request.POST, arms=arm_lines(row), today=request.today)
    if not form.is_valid():
        return _shown(request, row, form)
    key = sent_key(request.POST.get("key", "")) or uuid4()
    on = form.cleaned_data["on"]
    done = trial_actions.count_arms(row, form.counts(), on, key, request.user, request.today)
    if isinstance(done, tuple):
        form.add_error(None, f"Arm {done[0]}: {refusal_words(done[1], request.today)}")
        return _shown(request, row, form)
    undo = striking(done, request.garden, "trial", row.pk)
    saved(request, f"trial-{row.pk}", "Written down: one look at every arm.", undo=undo)
    return redirect("trial", request.garden.pk, row.pk)


def _count_grown(request: GardenRequest, row: Trial) -> HttpResponse:
    form = GrownForm(request.POST, arms=arm_lines(row))
    if not form.is_valid():
        return _shown(request, row, form)
    trial_actions.count_grown(row, form.counts())
    saved(request, f"trial-{row.pk}", "Written down.")
    return redirect("trial", request.garden.pk, row.pk)


@require_POST
@in_garden("plan")
def split(request: GardenRequest, trial_id: int) -> HttpResponse:
    """Split what rooted anew, by lot."""
    row = trial_of(request, trial_id)
    most = trial_page(row, request.today).can_split
    form = SplitForm(request.POST, most=most, today=request.today)
    if not form.is_valid():
        return _shown(request, row, form)
    made = trial_actions.split_rooted(row, form.split(), request.user, request.today)
    saved(request, f"trial-split-{row.pk}", "Split by lot.")
    return redirect("trial", request.garden.pk, made.pk)


@require_GET
@in_garden("see")
def sheet(request: GardenRequest, trial_id: int) -> HttpResponse:
    """Which stem goes into which jar, on one sheet of paper."""
    return show(request, "record/trial_sheet.html", trial_page(trial_of(request, trial_id), request.today))
