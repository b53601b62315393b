"""Trials: asked, drawn by lot, cut in one press, counted in one form, judged, split anew."""

from __future__ import annotations

from datetime import date
from typing import Any
from uuid import uuid4

import pytest
from django.test import Client

from elder.engine.refusal import Refusal
from elder.web.batches.models import Batch
from elder.web.read.wants import reckon
from elder.web.record.models import Trial
from elder.web.record.trial_actions import ArmCount, Split, count_arms, drawn, split_rooted, take_arms
from elder.web.record.trial_pages import trial_page
from elder.web.season.models import Want
from tests.factories import PersonFactory
from tests.web.conftest import asked_trial
from tests.web.presses import TODAY, page, take_back, text, undo_on

JUDGED = date(2027, 5, 1)


@pytest.fixture
def trial(garden: Any) -> Trial:
    return asked_trial(garden, each=24)


def cut(trial: Trial) -> list[Batch]:
    made = take_arms(trial, uuid4(), trial.garden, trial.made_by, TODAY)  # type: ignore[arg-type]
    assert not isinstance(made, Refusal)
    return made


def counted(trial: Trial, *counts: tuple[int, int], on: date = TODAY, today: date = TODAY) -> Any:
    """Newly rooted and lost of each arm."""
    by_arm = {arm.pk: ArmCount(*count) for arm, count in zip(trial.arms.all(), counts, strict=True)}
    return count_arms(trial, by_arm, on, uuid4(), trial.made_by, today)  # type: ignore[arg-type]


def test_every_stem_has_its_lot() -> None:
    draw = drawn(3, 20)
    assert {letter: draw.count(letter) for letter in "ABC"} == {"A": 20, "B": 20, "C": 20}
    assert drawn(3, 20) != draw  # one in 577 million million million


def test_arms_are_cut_in_one_press_and_once(garden: Any, trial: Trial) -> None:
    key = uuid4()
    made = take_arms(trial, key, garden, trial.made_by, TODAY)  # type: ignore[arg-type]
    assert isinstance(made, list)
    assert [batch.treatment for batch in made] == [
        {"foot": "clean"},
        {"foot": "dipped"},
    ]
    assert [batch.entries.get().count for batch in made] == [24, 24]
    assert take_arms(trial, key, garden, trial.made_by, TODAY) == []  # type: ignore[arg-type]
    assert Batch.objects.count() == 2
    assert set(Want.objects.values_list("closed_on", flat=True)) == {TODAY}  # no trial stands on the season's board


def test_an_arm_for_later_waits_for_its_day(garden: Any) -> None:
    trial = asked_trial(garden)
    later = trial.arms.get(letter="B")
    later.cut_on = date(2027, 4, 20)
    later.save()
    assert len(cut(trial)) == 1
    shown = trial_page(trial, TODAY)
    assert shown.answer == "clean: 0 of 6 rooted so far; dipped is cut on 20 Apr."
    made = take_arms(trial, uuid4(), garden, trial.made_by, date(2027, 4, 20))  # type: ignore[arg-type]
    assert len(made) == 1  # type: ignore[arg-type]


def test_from_too_few_to_clear_and_never_clear_before_its_day(trial: Trial) -> None:
    cut(trial)
    assert trial_page(trial, TODAY).answer.startswith("Looked at early: it is judged on 1 May. Too few to tell")
    counted(trial, (20, 0), (8, 0))
    early = trial_page(trial, TODAY)
    assert early.pairs[0].verdict == "leaning"
    assert "Leaning to clean (clean 20 of 24, dipped 8 of 24)" in early.answer
    done = trial_page(trial, JUDGED)
    assert done.answer == "Clear: clean did better (clean 20 of 24, dipped 8 of 24)."
    (pair,) = done.pairs
    # Newcombe's interval of 20/24 − 8/24 from both Wilson intervals: 0.5 − √(0.1922² + 0.1996²) and
    # 0.5 + √(0.0998² + 0.1536²); how many would settle it is tried in full in tests/engine/test_trials.py.
    assert pair.difference == "+0.50 (+0.22 to +0.68)"
    assert pair.needed == "18"


def test_an_accident_is_taken_out_of_the_count(trial: Trial) -> None:
    one, _ = cut(trial)
    counted(trial, (12, 0), (12, 0))
    from elder.web.batches import actions
    from elder.web.batches.models import Entry

    dropped = Entry(kind="lost", on=TODAY, count=4, stage="waiting", why="accident")
    actions.add_entries(one, [dropped], today=TODAY, person=None)  # type: ignore[arg-type]
    first, second = trial_page(trial, TODAY).arms
    assert (first.total, first.rooted, first.lost, first.waiting, first.left) == (20, 12, 0, 8, 4)
    assert (second.total, second.waiting) == (24, 12)


def test_more_than_were_there_is_said_beside_its_field_and_nothing_is_written(
    owner: Client, garden: Any, trial: Trial
) -> None:
    cut(trial)
    a, b = trial.arms.all()
    url = f"/g/{garden.pk}/record/trial/{trial.pk}/count/"
    data = {
        "on": "2027-03-20",
        "why": "rot",
        f"rooted{a.pk}": 5,
        f"lost{a.pk}": 0,
        f"rooted{b.pk}": 20,
        f"lost{b.pk}": 9,
    }
    said = text(owner.post(url, data).content.decode())
    assert "Only 24 were waiting there." in said
    assert all(line.rooted == 0 for line in trial_page(trial, TODAY).arms)
    answer = owner.post(url, {**data, f"rooted{b.pk}": 3, f"lost{b.pk}": 2, "key": uuid4()}, follow=True)
    assert [(line.rooted, line.lost) for line in trial_page(trial, TODAY).arms] == [(5, 0), (3, 2)]
    take_back(owner, garden, undo_on(answer.content.decode()))
    assert [(line.rooted, line.lost) for line in trial_page(trial, TODAY).arms] == [(0, 0), (0, 0)]


def asking(garden: Any, **more: Any) -> dict[str, Any]:
    place = garden.places.first().pk
    return {
        "question": "Heel or clean?", "way": "rosemary/gritty", "stock_plant": "By the shed", "differs": "foot",
        "alike": "day", "each": 12, "difference": 0.4, "judged_on": "2027-06-01", "arm0": "with a heel",
        "place0": place, "arm1": "clean", "place1": place, "place2": place, "place3": place, **more,
    }  # fmt: skip


def test_a_question_is_asked(owner: Client, garden: Any) -> None:
    said = text(page(owner, "trial-new", garden))
    assert "How many it takes" in said
    answer = owner.post(f"/g/{garden.pk}/record/trials/new/", asking(garden), follow=True)
    row = Trial.objects.get()
    assert [(arm.letter, arm.name) for arm in row.arms.all()] == [("A", "with a heel"), ("B", "clean")]
    assert (row.plant, row.method, len(row.draw)) == ("rosemary", "gritty", 24)
    assert "Nothing is cut yet: 12 stems to each of 2 arms, by lot." in text(answer.content.decode())
    sheet = text(page(owner, "trial-sheet", garden, row.pk))
    assert f"24 {row.draw[-1]}" in sheet
    answer = owner.post(f"/g/{garden.pk}/record/trial/{row.pk}/take/", {"key": uuid4()}, follow=True)
    assert Batch.objects.filter(plant="rosemary").count() == 2
    take_back(owner, garden, undo_on(answer.content.decode()))
    assert not Batch.objects.filter(plant="rosemary").exists()
    assert "Heel or clean?" in text(page(owner, "trials", garden))


@pytest.mark.parametrize(
    ("wrong", "said"),
    [
        ({"question": ""}, "Ask the question first."),
        ({"arm1": "With a heel"}, "Another arm is called that."),
        ({"arm1": ""}, "Say what is done to this arm."),
        ({"judged_on": "2027-03-20"}, "Judge it after the last arm is cut."),
        ({"cut1": "2027-03-01"}, "That day is past; leave it blank for today."),
        ({"cut1": "2027-07-01"}, "Judge it after the last arm is cut."),
    ],
)
def test_what_is_wrong_with_a_question_is_said(owner: Client, garden: Any, wrong: dict[str, Any], said: str) -> None:
    answer = owner.post(f"/g/{garden.pk}/record/trials/new/", asking(garden, **wrong))
    html = answer.content.decode()
    assert said in text(html)
    assert "By the shed" in html
    assert not Trial.objects.exists()


def test_what_rooted_is_split_anew_and_judged_by_what_grew(owner: Client, garden: Any, trial: Trial) -> None:
    cut(trial)
    counted(trial, (20, 0), (9, 0))
    url = f"/g/{garden.pk}/record/trial/{trial.pk}/split/"
    data = {"begun": 40, "judged_on": "2027-06-01", "arm0": "mix", "arm1": "solution"}
    assert "Only 29 have rooted." in text(owner.post(url, data).content.decode())
    owner.post(url, {**data, "begun": 29})
    second = Trial.objects.get(of=trial)
    assert sorted(arm.begun for arm in second.arms.all()) == [14, 15]
    assert len(second.draw) == 29
    a, b = second.arms.all()
    count = f"/g/{garden.pk}/record/trial/{second.pk}/count/"
    many = {f"grown{a.pk}": 9, f"failed{a.pk}": 9, f"grown{b.pk}": 1, f"failed{b.pk}": 1}
    assert f"Only {a.begun} were begun with." in text(owner.post(count, many).content.decode())
    owner.post(count, {**many, f"grown{a.pk}": 13, f"failed{a.pk}": 1, f"grown{b.pk}": 3, f"failed{b.pk}": 11})
    shown = trial_page(second, date(2027, 6, 1))
    assert shown.answer.startswith("Clear: mix did better (mix 13 of ")
    assert trial_page(trial, TODAY).splits == [second]


def test_labels_say_which_arm(owner: Client, trial: Trial, rf: Any) -> None:
    from elder.web.cut.label_views import label_of

    one, two = cut(trial)
    texts = [label_of(Batch.objects.get(pk=batch.pk), rf.get("/")).text for batch in (one, two)]
    assert ["A: clean" in repr(texts[0]), "B: dipped" in repr(texts[1])] == [True, True]


def test_a_split_of_a_few_still_draws_each_its_share(trial: Trial) -> None:
    cut(trial)
    counted(trial, (3, 0), (2, 0))
    made = split_rooted(trial, Split(("mix", "solution", "sand"), 5, JUDGED), PersonFactory(), TODAY)
    assert sorted(arm.begun for arm in made.arms.all()) == [1, 2, 2]


def test_a_leaf_that_is_hardly_ever_a_plant_asks_for_no_more_cuttings(garden: Any) -> None:
    """Of leaves one in a hundred makes a plant: five hundred more would not do, and nobody is told to cut them."""
    trial = asked_trial(garden, method="leaf", each=8)
    one, _ = cut(trial)
    row = Want.objects.get(pk=one.want_id)
    found = reckon(row, garden, TODAY, batches=[one])
    assert found.standing_word == "short"
    assert found.shortfall is None
