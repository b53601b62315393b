"""Can this be cut? The stem looked over, and what it would cost the forecast."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

from django.forms import BoundField
from django.http import HttpResponse
from django.views.decorators.http import require_GET

from elder.engine.chance.counting import cuttings_needed
from elder.engine.cut.suitability import LookOver, asked_of, look_over
from elder.engine.plan.condition import Condition
from elder.engine.plan.search import plan_want
from elder.engine.plan.season_plan import CutOption, SeasonPlan
from elder.web.cut.forms import CanForm
from elder.web.cut.subject import Subject, subject_of
from elder.web.garden.access import GardenRequest, in_garden
from elder.web.read.handbook import clonable_here
from elder.web.read.what_if import seen_text
from elder.web.say.plants import plant_words, way_words
from elder.web.say.words import about, in_ten, plural, sureness
from elder.web.ui.pages import show
from elder.web.ui.replies import wants_fragment

GRADE_WORDS = {"ok": "Suitable", "care": "With care", "no": "Not this one"}
SIGN_OF = {"ok": "on-course", "care": "tight", "no": "refused"}
SURE = 0.9
USUAL_WANT = 8  # plants, where no want says how many


@dataclass(frozen=True)
class Effect:
    """What a stem like this does to the sums: before and after, in words."""

    name: str
    before: str
    after: str


@dataclass(frozen=True)
class LookedOver:
    """What a stem came to: its grade in a word and a sign, what was found, and what that does to the sums."""

    over: LookOver
    grade: str
    sign: str
    effects: list[Effect]
    seen: str


@dataclass(frozen=True)
class CanPage:
    """A stem looked over, and what that means once everything is answered."""

    form: CanForm
    subject: Subject
    asked: list[BoundField]
    names: str
    answer: LookedOver | None


@require_GET
@in_garden("see")
def can_be_cut(request: GardenRequest) -> HttpResponse:
    """Look the stem over: suitable, with care, or not; why, what it costs, and what to do instead."""
    subject = subject_of(request)
    ways = [(way.slug, way_words(way.form, way.name)) for way in subject.plant.ways]
    asked = asked_of(subject.method)
    given = {ask.key: request.GET.get(ask.key) or ask.ways[_usual(ask.key, subject)][0] for ask in asked}
    plants = clonable_here(request.garden).values()
    form = CanForm(
        {"plant": subject.plant.slug, "method": subject.method.slug, **given}, ways=ways, asked=asked, plants=plants
    )
    page = CanPage(
        form=form,
        subject=subject,
        asked=[form[ask.key] for ask in asked],
        names=plant_words(subject.plant.name, subject.variety),
        answer=_answer(subject, look_over(form.answers, subject.method)) if form.is_valid() else None,
    )
    return show(request, "cut/can_answer.html" if wants_fragment(request) else "cut/can.html", page)


def _usual(key: str, subject: Subject) -> int:
    """Which answer to begin with: as it should be for what this way wants."""
    if key != "softness":
        return 0
    return {"semi-ripe stem": 3, "dormant stick": 4, "node section": 4, "stem joint": 4}.get(subject.method.form, 2)


def _answer(subject: Subject, over: LookOver) -> LookedOver:
    effects = list(_effects(subject, over)) if over.found else []
    return LookedOver(over, GRADE_WORDS[over.grade], SIGN_OF[over.grade], effects, seen_text(over.condition))


def _effects(subject: Subject, over: LookOver) -> Iterator[Effect]:
    method, changed = subject.method, over.changed(subject.method)
    yield Effect("Take", in_ten(method.take.mean), in_ten(changed.take.mean))
    was, now = method.rooting, changed.rooting
    yield Effect("Rooted in", f"{was.early}–{was.late} days", f"{now.early}–{now.late} days at {now.at_c:g} °C")
    plans = _plans(subject, over)
    if plans:
        yield from _plan_effects(subject, *plans)
        return
    wanted = subject.wanted or USUAL_WANT
    counts = [
        cuttings_needed(wanted, chance_ready=1.0, take=way.plant_take, confidence=SURE) for way in (method, changed)
    ]
    yield Effect(f"For {plural(wanted, 'plant', 'plants')}, {sureness(SURE)} sure", *map(_many, counts))


def _plans(subject: Subject, over: LookOver) -> tuple[CutOption, CutOption | None] | None:
    """What the want's cut day is worth with an ordinary stem, and with this one; nothing where no plan stands."""
    item = subject.want
    if item is None or item.batches or item.option is None or item.method.slug != subject.method.slug:
        return None
    condition = Condition.of([*item.want.condition.reasons, *over.condition.reasons])
    plan = plan_want(replace(item.want, condition=condition), item.setting)
    day = item.option.day
    inside = isinstance(plan, SeasonPlan) and plan.start <= day and plan.index(day) < len(plan)
    return item.option, plan.option(day) if isinstance(plan, SeasonPlan) and inside else None


def _plan_effects(subject: Subject, before: CutOption, after: CutOption | None) -> Iterator[Effect]:
    item = subject.want
    assert item is not None  # noqa: S101 - only asked where a want was planned
    name = f"Cut on {about(before.day, item.today)}"
    if after is None or not after.count:
        yield Effect(name, _many(before.count), "too late for this want")
        return
    yield Effect(name, _many(before.count), _many(after.count))
    if before.ready[1] and after.ready[1]:
        yield Effect("Half are ready", about(before.ready[1], item.today), about(after.ready[1], item.today))


def _many(count: int | None) -> str:
    return f"{count} cuttings" if count else "more than 500 cuttings"
