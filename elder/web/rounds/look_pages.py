"""A look and its verdict as their pages show them; and the rules handed to the phone, so that it can answer out of
reach."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from datetime import date
from typing import Final, TypedDict
from uuid import UUID, uuid4

from django.urls import reverse

from elder.drawing.patience import patience_scene
from elder.drawing.scene import Scene
from elder.engine.batch.state import STAGES
from elder.engine.chance.rooting_time import GIVE_UP_BELOW
from elder.engine.round.cold_nights import is_hot
from elder.engine.round.potting import ReadySign, ready_sign
from elder.engine.round.verdicts import ROT_SIGNS, Rule, facts_of, stage_of, table, too_long_cm, verdict
from elder.web.batches.models import Entry, Photo
from elder.web.batches.potting import PottingLines, is_to_be_potted, potting_lines
from elder.web.garden.access import GardenRequest, may
from elder.web.garden.models import Place
from elder.web.read.batches import BatchToday
from elder.web.read.gardens import place_of, places_of
from elder.web.read.ill_lit import ill_lit
from elder.web.read.services import days_ahead
from elder.web.rounds.course import WantCourse, course_of_want
from elder.web.rounds.forms import MOST_ROOT_CM, SignsForm
from elder.web.rounds.round import LOOKS, jobs_in, round_of
from elder.web.say.batches import counts_words, entry_words, hope_words, name_of, title_of
from elder.web.say.routes import stage_words
from elder.web.say.units import length_in, length_sign
from elder.web.say.words import about, day_words, days_away

GRAVE: Final = 3  # from here on a finding is worth a deed at once
LENGTH_FACTS: Final = ("long_enough", "too_short", "too_long")
URGENCY_WORDS: Final = {"now": "now", "today": "today", "week": "this week", "none": ""}
GRAVITY_WORDS: Final = ("good", "a nudge", "soon", "serious", "grave")


class PhoneRule(TypedDict):
    """A rule of the table as the phone reads it; of its facts only those a measured length decides."""

    code: str
    signs: list[str]
    without: list[str]
    facts: list[str]
    knows: list[int]
    gravity: int
    urgency: str
    cause: str
    deed: str
    why: str
    caution: str


class PhoneRules(TypedDict):
    """What the phone needs to answer a look: the rules of each stage, the lengths that matter in the person's unit,
    the words."""

    stages: dict[str, list[PhoneRule]]
    length: dict[str, float]
    urgency: dict[str, str]


@dataclass(frozen=True)
class LookPage:
    """A look about to be made. Signs: key, name, whether tapped; stages: key, words, whether chosen."""

    batch: BatchToday
    title: str
    place: Place
    counts: str
    hope: str
    form: SignsForm
    seen: object
    signs: list[tuple[str, str, bool]]
    stages: list[tuple[str, str, bool]]
    sign: ReadySign
    marks: str
    length_label: str
    waiting: int
    living: int
    rules: PhoneRules
    key: UUID = field(default_factory=uuid4)


@dataclass(frozen=True)
class FindingLine:
    """A finding as the page shows it."""

    rule: Rule
    when: str
    weight: str
    signs: list[tuple[str, str]]


@dataclass(frozen=True)
class VerdictDeed:
    """What may be done at once about what was found: its name, how many it may be done to (the most of it; 0 for one),
    where it is sent, and what goes with it."""

    name: str
    most: int
    url: str
    post: dict[str, str]
    key: UUID = field(default_factory=uuid4)


@dataclass(frozen=True)
class NextLook:
    """The next batch of the round that wants a look."""

    name: str
    url: str


@dataclass(frozen=True)
class VerdictPage:
    """What a look came to: findings with what to do, patience, the want's course and its ways out, potting."""

    batch: BatchToday
    title: str
    counts: str
    entry: Entry
    findings: list[FindingLine]
    look_on: str
    look_away: str
    hope: str
    patience: Scene | None
    course: WantCourse | None
    potting: PottingLines | None
    photo: Photo | None
    since: list[str]
    next: NextLook | None
    seen: int
    deeds: list[VerdictDeed]
    key: UUID = field(default_factory=uuid4)


def _facts(
    batch: BatchToday, request: GardenRequest, stage: str, *, root_cm: float = 0.0, on: date | None = None
) -> frozenset[str]:
    here = places_of(request.garden)[batch.place_id(stage)]
    ahead = days_ahead(request.garden, request.today)
    hot = is_hot(batch.plant, place_of(here), ahead[0] if ahead else None)
    under_way = replace(batch.under_way, today=on or request.today)
    sunny = any(one.fit.why in ("too_sunny", "cooks") for one in ill_lit(batch, request.garden))
    return facts_of(under_way, stage, root_cm=root_cm, hot=hot, sunny=sunny)


def stages_of(batch: BatchToday) -> list[tuple[str, str]]:
    words = stage_words(batch.method.route)
    found = [(stage, f"{batch.state.count(stage)} {words[stage]}") for stage in STAGES if batch.state.count(stage)]
    return found or [("planted", "planted out")]


def look_page(request: GardenRequest, batch: BatchToday, form: SignsForm, *, seen: int | None = None) -> LookPage:
    """A look, with the form as it stands; ``seen``: the last entry the person is told of."""
    sign, units = ready_sign(batch.method), request.user.units
    chosen = set(form["signs"].value() or [])
    return LookPage(
        batch=batch,
        title=title_of(batch),
        place=places_of(request.garden)[batch.place_id(stage_of(batch.state))],
        counts=counts_words(batch),
        hope=hope_words(batch),
        form=form,
        seen=seen if seen is not None else form["seen"].value(),
        signs=[(key, name, key in chosen) for key, name in table().signs],
        stages=[(stage, words, stage == form["stage"].value()) for stage, words in stages_of(batch)],
        sign=sign,
        marks=" ".join(f"job-{verb}-batch-{batch.row.pk}" for verb in LOOKS),
        length_label=f"Longest {'shoot' if sign.kind == 'shoot' else 'root'}, {length_sign(units)}",
        waiting=batch.state.count("waiting"),
        living=batch.state.living,
        rules=PhoneRules(
            stages={stage: rules_for(stage, _facts(batch, request, stage)) for stage, _ in stages_of(batch)},
            length={
                "wanted": length_in(sign.cm, units),
                "long": length_in(min(too_long_cm(sign), MOST_ROOT_CM + 1), units),
            },
            urgency=URGENCY_WORDS,
        ),
    )


def rules_for(stage: str, facts: frozenset[str]) -> list[PhoneRule]:
    """Every rule that could hold at a stage with these facts, so that the phone can answer at once and out of reach.

    A length may still be measured, so what depends on one is among them, and the script asks it.
    """
    known = facts | set(LENGTH_FACTS)
    return [_rule_json(rule) for rule in [*table().rules, table().well[stage]] if rule.may_hold(stage, known)]


def _rule_json(rule: Rule) -> PhoneRule:
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


def verdict_of(request: GardenRequest, batch: BatchToday, entry: Entry) -> VerdictPage:
    """What a look that was written down comes to, with what is known today."""
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
    return VerdictPage(
        batch=batch,
        title=title_of(batch),
        counts=counts_words(batch),
        entry=entry,
        findings=findings,
        look_on=day_words(found.look_on, request.today),
        look_away=days_away(found.look_on, request.today),
        hope=hope_words(batch),
        patience=patience_of(batch, request),
        course=course_of_want(batch, request.garden, may_plan=may(request.role, "plan")),
        potting=potting_lines(batch, request.user.units) if is_to_be_potted(batch) else None,
        photo=Photo.objects.filter(entry=entry).only("pk", "width_px", "height_px").first(),
        since=[f"{other.by}: {entry_words(other)}" for other in after],
        next=_next_look(request, batch),
        seen=batch.history.last,
        deeds=_deeds(batch, request, found.findings, stage),
    )


def _deeds(batch: BatchToday, request: GardenRequest, found: tuple[Rule, ...], stage: str) -> list[VerdictDeed]:
    """What the findings come to with the hands: so many lost, so many cut back to sound wood, or one given up."""
    there = batch.state.count(stage)
    if not there or not any(rule.gravity >= GRAVE for rule in found):
        return []
    look = reverse("round-look", args=[request.garden.pk, batch.row.pk])
    rotten = any(rule.signs & ROT_SIGNS for rule in found)
    lost = {"stage": stage, "then": "batch"}
    deeds = [VerdictDeed("Lose", there, look, {**lost, "why": Entry.Why.ROT if rotten else Entry.Why.UNKNOWN})]
    if rotten and stage in ("waiting", "rooted") and not batch.method.direct:
        recut = reverse("round-recut", args=[request.garden.pk, batch.row.pk])
        deeds.insert(0, VerdictDeed("Recut", there, recut, {"stage": stage}))
    if any(rule.discard for rule in found):
        deeds.append(VerdictDeed("Give this one up", 0, look, {**lost, "why": Entry.Why.GAVE_UP, "lost": "1"}))
    return deeds


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


def _next_look(request: GardenRequest, batch: BatchToday) -> NextLook | None:
    """The next batch of the round that wants a look."""
    jobs = [job for job in jobs_in(round_of(request.garden, request.today).now) if job.verb in LOOKS]
    after = next((job for job in jobs if job.batch.row.pk != batch.row.pk), None)
    if after is None:
        return None
    url = reverse("round-look", args=[request.garden.pk, after.batch.row.pk])
    return NextLook(name_of(after.batch), url)
