"""What a person does with a trial: ask it, cut it in one press, count it in one form, split what rooted by lot."""

from __future__ import annotations

import random
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from uuid import UUID, uuid5

from django.db import transaction

from elder.engine.handbook.loading import handbook
from elder.engine.refusal import Refusal
from elder.web.batches import actions
from elder.web.batches.models import Batch, Entry
from elder.web.garden.models import Garden, Person, Place
from elder.web.record.models import ARM_LETTERS, Trial, TrialArm
from elder.web.season.models import Want
from elder.web.season.taking import Taken, take_batch, want_spoken_for

LOTS = random.SystemRandom()  # which stem goes into which jar: nobody's hand chooses


@dataclass(frozen=True)
class ArmAsked:
    """An arm as it is asked for: what is done, where it roots, on which day it is cut (``None``: with the others)."""

    name: str
    place: Place
    cut_on: date | None = None


@transaction.atomic
def ask_trial(trial: Trial, arms: Sequence[ArmAsked], garden: Garden, person: Person, today: date) -> Trial:
    """Keep a question with its arms, and draw the lot of every stem."""
    trial.garden, trial.made_by, trial.made_on = garden, person, today
    trial.draw = drawn(len(arms), trial.each)
    trial.save()
    for letter, arm in zip(ARM_LETTERS, arms, strict=False):
        TrialArm.objects.create(trial=trial, letter=letter, name=arm.name, place=arm.place, cut_on=arm.cut_on)
    return trial


def drawn(arms: int, each: int) -> str:
    """The letter of the arm that each stem falls to, in the order they are cut: so many of each, by lot."""
    letters = list(ARM_LETTERS[:arms] * each)
    LOTS.shuffle(letters)
    return "".join(letters)


@transaction.atomic
def take_arms(trial: Trial, key: UUID, garden: Garden, person: Person, today: date) -> list[Batch] | Refusal:
    """Cut every arm whose day has come, in one press: a batch of each, of one trial. The same press twice makes them
    once."""
    made: list[Batch] = []
    arms = Trial.objects.select_for_update().get(pk=trial.pk).arms.select_related("place")
    for arm in arms.filter(batch=None):
        if arm.cut_on and arm.cut_on > today:
            continue
        batch = take_batch(
            _want_of(trial, arm, person, today),
            _taken_of(trial, arm, uuid5(key, arm.letter), today),
            garden=garden,
            person=person,
            today=today,
        )
        if isinstance(batch, Refusal):
            transaction.set_rollback(True)
            return batch
        arm.batch = batch
        arm.save()
        made.append(batch)
    return made


def _want_of(trial: Trial, arm: TrialArm, person: Person, today: date) -> Want:
    """The want an arm is raised for: its plants are plants all the same."""
    take = handbook()[trial.plant].method(trial.method).take.mean
    return want_spoken_for(
        trial.garden,
        person,
        today,
        plant=trial.plant,
        variety=trial.variety,
        method=trial.method,
        wanted=max(round(trial.each * take), 1),
        purpose=Want.Purpose.SPARE,
        rooting_place=arm.place,
        growing_place=arm.place,
    )


def _taken_of(trial: Trial, arm: TrialArm, key: UUID, today: date) -> Taken:
    return Taken(
        on=today,
        count=trial.each,
        stock_plant=trial.stock_plant,
        rooting_place=arm.place,
        growing_place=arm.place,
        key=key,
        treatment={trial.differs.lower(): arm.name},
    )


@dataclass(frozen=True)
class ArmCount:
    """What one look at an arm found: newly rooted, newly lost."""

    rooted: int = 0
    lost: int = 0
    why: str = "unknown"


@transaction.atomic
def count_arms(
    trial: Trial, counts: Mapping[int, ArmCount], on: date, key: UUID, person: Person, today: date
) -> list[Entry] | tuple[str, Refusal]:
    """Write down one look at every arm; all or none. Of a refusal, the letter of its arm too."""
    written: list[Entry] = []
    for arm in trial.arms.exclude(batch=None).select_related("batch"):
        if arm.batch is None:
            continue
        count = counts.get(arm.pk, ArmCount())
        new = _entries_of(count, on, uuid5(key, arm.letter))
        done = actions.add_entries(arm.batch, new, today=today, person=person)
        if isinstance(done, Refusal):
            transaction.set_rollback(True)
            return arm.letter, done
        written += new
    return written


def _entries_of(count: ArmCount, on: date, key: UUID) -> list[Entry]:
    found = []
    if count.rooted:
        found.append(Entry(kind=Entry.Kind.ROOTED, on=on, count=count.rooted, key=key))
    if count.lost:
        found.append(
            Entry(kind=Entry.Kind.LOST, on=on, count=count.lost, stage="waiting", why=count.why, key=uuid5(key, "lost"))
        )
    return found or [Entry(kind=Entry.Kind.LOOKED, on=on, key=key)]


@dataclass(frozen=True)
class Split:
    """So many rooted ones that are split between treatments, and the day that is judged on."""

    names: tuple[str, ...]
    begun: int
    judged_on: date


@transaction.atomic
def split_rooted(parent: Trial, split: Split, person: Person, today: date) -> Trial:
    """Split what rooted in a trial anew, by lot, between other treatments: what is judged then is whether they grow."""
    names, begun = split.names, split.begun
    each, over = divmod(begun, len(names))
    trial = Trial.objects.create(
        garden=parent.garden,
        question=f"{parent.question}: and then?"[:120],
        plant=parent.plant,
        variety=parent.variety,
        method=parent.method,
        stock_plant=parent.stock_plant,
        differs="what they grow on in",
        alike=parent.alike,
        each=max(each, 2),
        judged_on=split.judged_on,
        stage=Trial.Stage.GROWN,
        of=parent,
        made_by=person,
        made_on=today,
    )
    letters = [letter for i, letter in enumerate(ARM_LETTERS[: len(names)]) for _ in range(each + (i < over))]
    LOTS.shuffle(letters)
    trial.draw = "".join(letters)
    trial.save()
    place = parent.arms.select_related("place")[0].place
    for letter, name in zip(ARM_LETTERS, names, strict=False):
        TrialArm.objects.create(trial=trial, letter=letter, name=name, place=place, begun=letters.count(letter))
    return trial


@transaction.atomic
def count_grown(trial: Trial, counts: Mapping[int, tuple[int, int]]) -> None:
    """Write down how many of each arm have grown into plants and how many have failed, so far and in all."""
    for arm in trial.arms.all():
        if arm.pk in counts:
            arm.grown, arm.failed = counts[arm.pk]
            arm.save()
