"""The record: one's own take and days in every plan, Elder judged, what became of them, losses, the year."""

from __future__ import annotations

import csv
import io
from datetime import date, timedelta
from typing import Any

import numpy as np
import pytest
from django.test import Client

from elder.engine.chance.counting import Take
from elder.engine.handbook.loading import handbook
from elder.engine.record import Look, Prior, learn
from elder.engine.record.knowing import prior_of
from elder.engine.record.standing import AfterRoots
from elder.web.batches import actions
from elder.web.batches.models import Batch, Entry
from elder.web.garden.models import Garden
from elder.web.read.histories import all_histories
from elder.web.read.mine import GardenRecord
from elder.web.read.records import record_of
from elder.web.read.wants import reckon
from elder.web.record.figures import coming, figures
from elder.web.record.loss_pages import loss_page, season_of
from elder.web.record.models import PlantPrice
from elder.web.record.right_pages import right_page
from elder.web.record.year_pages import year_page
from tests.factories import PlaceFactory, WantFactory, take
from tests.web.presses import TODAY, at, page, take_back, text, undo_on

LONG_AGO = date(2026, 6, 1)


def lived(want: Any, on: date, *lines: tuple[int, str, int, str, str], count: int = 12) -> Batch:
    """A batch and what was written of it: days from the cut, kind, count, stage, why (or how)."""
    made = take(want, on=on, count=count)
    entries = []
    for day, kind, number, stage, why in lines:
        deed, reason = (why, "") if kind == "given" else ("", why)
        entries.append(Entry(kind=kind, on=on + timedelta(days=day), count=number, stage=stage, why=reason, deed=deed))
    last = max((entry.on for entry in entries), default=on)
    done = actions.add_entries(made, entries, today=max(last, on), person=None)  # type: ignore[arg-type]
    assert not hasattr(done, "code"), done
    return made


def known(garden: Any, today: date = TODAY) -> GardenRecord:
    """The record, read anew."""
    return record_of(Garden.objects.get(pk=garden.pk), today)


POOR = ((90, "rooted", 6, "", ""), (90, "lost", 6, "waiting", "rot"))


def test_a_plan_goes_by_what_ones_own_did(owner: Client, garden: Any, want: Any) -> None:
    """Twelve of last year, of which six rooted, seen once when all was over: the next plan's take is the handbook's
    Beta(18, 2) for the mean with those twelve, as ``learn`` alone has it."""
    jar = handbook()["tomato"].method("jar")
    before = reckon(want, garden, TODAY)
    assert "Planned by the handbook: none of your own has told yet." in text(page(owner, "want", garden, want.pk))
    lived(WantFactory(garden=garden, rooting_place=want.rooting_place), LONG_AGO, *POOR)
    after = reckon(want, Garden.objects.get(pk=garden.pk), TODAY)
    prior = prior_of(jar, handbook()["tomato"].cardinals, 0.2)
    assert prior == Prior(Take(0.9, 20), prior.rooting)
    late = 0.7731 * 91  # units in a room of 20 and 17 °C, as the worked example has it
    alone = learn(prior, [(Look(0, 0, 0, 12), Look(late, 6, 6, 0))])
    roots = after.plan.roots  # type: ignore[union-attr]
    assert (roots.mean, roots.weight) == (
        pytest.approx(alone.take.mean, abs=2e-3),
        pytest.approx(alone.take.weight, rel=0.02),
    )
    assert after.to_cut > before.to_cut
    said = text(page(owner, "want", garden, want.pk))
    assert "Planned by your own batches and the handbook: 6 of 12 took in one batch:" in said
    assert after.setting.assumptions.speed_sd == pytest.approx(float(np.hypot(0.2, alone.median_log_sd)), abs=2e-3)


def test_by_what_is_planned_can_be_chosen_and_taken_back(owner: Client, garden: Any, want: Any) -> None:
    lived(WantFactory(garden=garden, rooting_place=want.rooting_place), LONG_AGO, *POOR)
    mixed = reckon(want, Garden.objects.get(pk=garden.pk), TODAY).plan.roots.mean  # type: ignore[union-attr]
    answer = owner.post(f"/g/{garden.pk}/record/plan-by/", {"by": "handbook"}, follow=True)
    book = reckon(want, Garden.objects.get(pk=garden.pk), TODAY).plan  # type: ignore[union-attr]
    assert book.roots == Take(0.9, 20)  # type: ignore[union-attr]
    assert "Planned by the handbook alone, as you chose." in text(page(owner, "want", garden, want.pk))
    undo = undo_on(answer.content.decode())
    owner.post(f"/g/{garden.pk}/record/plan-by/", {"by": "mine"})
    mine = reckon(want, Garden.objects.get(pk=garden.pk), TODAY).plan.roots.mean  # type: ignore[union-attr]
    assert mine == pytest.approx(0.5, abs=1e-3)  # six of twelve, and nothing of the handbook
    assert 0.5 < mixed < 0.9
    take_back(owner, garden, undo)
    assert Garden.objects.get(pk=garden.pk).plan_by == "both"
    assert "Choose the handbook" in text(
        owner.post(f"/g/{garden.pk}/record/plan-by/", {"by": "luck"}, follow=True).content.decode()
    )


def test_too_few_are_words_and_the_handbooks_plan(owner: Client, garden: Any, want: Any) -> None:
    other = WantFactory(garden=garden, rooting_place=want.rooting_place)
    lived(other, LONG_AGO, (90, "rooted", 2, "", ""), (90, "lost", 2, "waiting", "rot"), count=7)
    assert reckon(want, Garden.objects.get(pk=garden.pk), TODAY).plan.roots == Take(0.9, 20)  # type: ignore[union-attr]
    assert "Planned by the handbook: only four of your own have told." in text(page(owner, "want", garden, want.pk))
    said = text(page(owner, "record", garden))
    assert "Too few to go by yet" in said
    assert "2 of 4 took in one batch" in said


def test_a_batch_is_not_forecast_by_its_own_looks(garden: Any, want: Any) -> None:
    """They are in its forecast already; nor by those of its mother's fortnight, which it shares its luck with."""
    other = WantFactory(garden=garden, rooting_place=want.rooting_place)
    one = lived(other, LONG_AGO, *POOR)
    two = lived(other, LONG_AGO + timedelta(days=9), *POOR)
    three = lived(other, LONG_AGO + timedelta(days=60), *POOR)
    record, tomato = known(garden), handbook()["tomato"]
    jar = tomato.method("jar")
    assert record.luck[one.pk] == record.luck[two.pk] != record.luck[three.pk]
    own = record.planned_with(tomato, jar, luck=record.luck[one.pk])
    assert own is not None
    assert (own.tally.batches, own.tally.settled) == (1, 12)
    whole = record.planned_with(tomato, jar)
    assert whole is not None
    assert whole.tally.settled == 36
    assert whole.learned.mean_take.mean < own.learned.mean_take.mean


def test_accidents_and_what_was_cut_in_a_poor_state_never_teach(garden: Any, want: Any) -> None:
    other = WantFactory(garden=garden, rooting_place=want.rooting_place)
    lived(other, LONG_AGO, (30, "rooted", 8, "", ""), (30, "lost", 4, "waiting", "accident"))
    record = known(garden)
    own = record.own(handbook()["tomato"], handbook()["tomato"].method("jar"))
    assert own is not None
    assert (own.tally.rooted, own.tally.lost, own.tally.left) == (8, 0, 4)
    assert own.learned.mean_take.mean > 0.9
    poor = lived(other, LONG_AGO, *POOR)
    Batch.objects.filter(pk=poor.pk).update(condition=["wilted"])
    assert known(garden).own(handbook()["tomato"], handbook()["tomato"].method("jar")).tally == own.tally  # type: ignore[union-attr]


def test_after_roots_is_learned_and_stands_in_every_forecast(garden: Any, want: Any) -> None:
    """Ten potted last summer, four lost in their pots and six planted out: Beta(19, 1) becomes Beta(25, 5)."""
    other = WantFactory(garden=garden, rooting_place=want.rooting_place)
    lines = [(15, "rooted", 10, "", ""), (15, "potted", 10, "", ""), (20, "lost", 4, "potted", "pests")]
    lived(other, LONG_AGO, *lines, (40, "hardening", 6, "", ""), (48, "planted", 6, "", ""), count=12)
    record = known(garden)
    assert [one.after for one in record.told] == [AfterRoots(6, 4)]
    assert record.after_roots("tomato") == Take(25 / 30, 30.0)
    assert record.after_roots("mint") == Take(25 / 30, 20.0)  # the garden's others, worth twenty at the most
    assumed = reckon(want, Garden.objects.get(pk=garden.pk), TODAY).setting.assumptions
    assert (assumed.stand_share, assumed.stand_weight) == (25 / 30, 30.0)
    Garden.objects.filter(pk=garden.pk).update(plan_by="handbook")
    assert known(garden).after_roots("tomato") == Take(0.95, 20)


def test_what_is_newly_written_is_read_and_what_is_gone_is_not(garden: Any, want: Any) -> None:
    batch = take(want, on=date(2027, 3, 6))
    assert len(all_histories(garden.pk)[batch.pk].entries) == 1
    actions.add_entries(batch, [Entry(kind="rooted", on=date(2027, 3, 18), count=3)], today=TODAY, person=None)  # type: ignore[arg-type]
    assert [entry.kind for entry in all_histories(garden.pk)[batch.pk].entries] == ["taken", "rooted"]
    assert known(garden).told[0].state.rooted_ever == 3
    assert known(garden, date(2027, 3, 17)).told[0].state.rooted_ever == 0  # as it stood on a day before
    other = take(want, on=date(2027, 3, 8))
    all_histories(garden.pk)
    other.delete()
    assert list(all_histories(garden.pk)) == [batch.pk]


@pytest.fixture
def judged(garden: Any, want: Any) -> tuple[Batch, Batch]:
    """Two of last year, cut for eight: one gave nine in time, the other three."""
    other = WantFactory(garden=garden, rooting_place=want.rooting_place)
    good = lived(
        other, date(2026, 4, 2), (12, "rooted", 9, "", ""), (12, "lost", 2, "waiting", "rot"),
        (12, "potted", 9, "", ""), (40, "hardening", 9, "", ""), (47, "planted", 9, "", ""), count=11,
    )  # fmt: skip
    bad = lived(
        WantFactory(garden=garden, rooting_place=want.rooting_place), date(2026, 6, 9), (12, "rooted", 3, "", ""),
        (12, "lost", 8, "waiting", "rot"), (12, "potted", 3, "", ""), (40, "given", 3, "", "sale"), count=11,
    )  # fmt: skip
    return good, bad


def test_what_was_forecast_beside_what_came(garden: Any, judged: tuple[Batch, Batch]) -> None:
    """The plan keeps the whole distribution, the handbook's beside it; it falls due a week after its day."""
    good, bad = judged
    kept = good.plan["forecast"]
    assert len(kept["counts"]) == len(kept["handbook"]) == 12
    assert sum(kept["counts"]) == pytest.approx(1, abs=1e-3)
    assert kept["counts"] == pytest.approx(kept["handbook"], abs=1e-4)  # nothing was known of its own then
    assert bad.plan["forecast"]["by"] == "both"  # by June the April batch had told
    record = known(garden)
    outcomes = [one.outcome for one in record.due]
    assert [(out.came, out.wanted) for out in outcomes if out] == [(9, 8), (3, 8)]
    low, high = outcomes[0].range  # type: ignore[union-attr]
    below = np.cumsum(kept["counts"])
    assert (low, high) == (int((below < 0.1 - 1e-9).sum()), int((below < 0.9 - 1e-9).sum()))
    assert [out.in_range for out in outcomes if out] == [True, False]
    target = date.fromisoformat(good.plan["target"])
    assert len(known(garden, target + timedelta(days=6)).due) == 0
    assert len(known(garden, target + timedelta(days=7)).due) == 1
    shown = right_page(record, garden)
    assert shown.answer.startswith("Of 2 ranges 1 came true (1.")
    assert [line.is_outside for line in shown.lines] == [True, False]
    assert "Fewer than 10 forecasts have fallen due" in shown.bias


def test_a_batchs_page_shows_what_was_said_then(owner: Client, garden: Any, judged: tuple[Batch, Batch]) -> None:
    said = page(owner, "batch", garden, judged[0].pk)
    assert "ready-stated" in said
    low, high = known(garden).due[0].outcome.range  # type: ignore[union-attr]
    assert f"{low}–{high} of 11 by" in text(said)


def test_a_plain_bias_is_corrected_for_and_said_since_when(garden: Any, want: Any) -> None:
    """Ten wants in spring, each for eight of eleven, of which four came each time: fewer than any forecast allows."""
    mothers = iter("abcdefghijkl")
    for week in range(12):
        row = WantFactory(garden=garden, rooting_place=want.rooting_place)
        on = date(2026, 3, 1) + timedelta(days=week)
        made = lived(
            row, on, (12, "rooted", 9, "", ""), (12, "potted", 9, "", ""), (60, "planted", 4, "", ""), count=11
        )
        Batch.objects.filter(pk=made.pk).update(stock_plant=next(mothers))
    record = known(garden)
    assert record.bias.of == 12
    expected = sum(one.outcome.expected for one in record.due if one.outcome)
    assert record.bias.share == pytest.approx((48 + 20) / (expected + 20))
    assert record.bias.corrects
    assert record.corrects_since == record.due[9].due_on  # from the tenth that fell due
    tomato = handbook()["tomato"]
    own = record.planned_with(tomato, tomato.method("jar"))
    assert own is not None
    way = record.way_here(tomato, tomato.method("jar"))
    assert way.take.mean == pytest.approx(own.learned.take.mean * record.bias.share)
    assert "Elder is too hopeful here, and corrects for it since" in right_page(record, garden).bias
    Garden.objects.filter(pk=garden.pk).update(plan_by="handbook")
    assert known(garden).correction == 1.0


def test_what_became_of_them(owner: Client, garden: Any, judged: tuple[Batch, Batch]) -> None:
    said = text(page(owner, "record-became", garden))
    assert "12 plants of 22 cuttings in 2 batches: 9 planted out and 3 sold." in said
    assert "Say what a plant would cost you to buy" in said
    answer = owner.post(f"/g/{garden.pk}/record/price/", {"plant": "tomato", "price": "2.50"}, follow=True)
    said = text(answer.content.decode())
    assert "12 plants with a price would have cost 30.00" in said
    take_back(owner, garden, undo_on(answer.content.decode()))
    assert not PlantPrice.objects.exists()
    wrong = owner.post(f"/g/{garden.pk}/record/price/", {"plant": "tomato", "price": "dear"}, follow=True)
    assert "A price is a number, such as 2.40." in text(wrong.content.decode())
    wrong = owner.post(f"/g/{garden.pk}/record/price/", {"plant": "gold", "price": "2"}, follow=True)
    assert "That plant is not in the handbook." in text(wrong.content.decode())


def test_what_is_still_to_come_is_said(owner: Client, garden: Any, judged: tuple[Batch, Batch], want: Any) -> None:
    """Twenty wait: nine in ten root, 19 in 20 of those come to stand: 17.1."""
    take(want, on=date(2027, 3, 18), count=20)
    assert "Of the 20 still waiting about 17 more are to come." in text(page(owner, "record-became", garden))


def test_a_mothers_line_counts_her_daughters(owner: Client, garden: Any, want: Any) -> None:
    from elder.web.stock.models import StockPlant

    old = StockPlant.objects.create(garden=garden, name="Ferry Lamp 1", plant="tomato", gives=40, again_days=7)
    other = WantFactory(garden=garden, rooting_place=want.rooting_place)
    lines = ((12, "rooted", 9, "", ""), (12, "potted", 9, "", ""), (40, "planted", 9, "", ""))
    first = lived(other, date(2025, 4, 2), *lines)
    young = StockPlant.objects.create(
        garden=garden, name="Her daughter", plant="tomato", gives=9, again_days=9, raised_from=first
    )
    second = lived(other, date(2026, 4, 2), (12, "rooted", 5, "", ""), (12, "given", 5, "rooted", "gift"))
    Batch.objects.filter(pk=second.pk).update(mother=young)
    assert Batch.objects.get(pk=first.pk).mother == old
    said = text(page(owner, "record-became", garden))
    assert "Ferry Lamp 1 ’s line: 14 plants of 24 cuttings in 2 years, 1 daughter among them kept as a mother." in said
    assert "Her daughter ’s line: 5 plants of 12 cuttings in 1 year." in said


def test_how_a_plant_went_is_asked_and_kept(owner: Client, garden: Any, want: Any) -> None:
    batch = lived(want, date(2027, 2, 1), (12, "rooted", 6, "", ""), (12, "potted", 6, "", ""), count=6)
    url = at("move", garden, batch.pk, "give")
    assert "To whom or what" in page(owner, "batch", garden, batch.pk)
    owner.post(url, {"give-on": "2027-03-19", "give-count": 2, "give-how": "order"})
    owner.post(url, {"give-on": "2027-03-19", "give-count": 1, "give-how": "eaten"})
    entry = batch.entries.get(kind="given", count=2)
    assert entry.deed == "order"
    (told,) = known(garden).told
    assert dict(figures([told]).given) == {"order": 2, "eaten": 1}
    assert figures([told]).standing == 3
    assert coming(told) == 0.0


def test_losses_and_what_they_have_in_common(garden: Any, want: Any) -> None:
    """Nine rots under a cap and two in water, of sixty cuttings: that stands out; fewer than eight say nothing."""
    shelf = PlaceFactory(garden=garden, name="Dark shelf")
    dome = WantFactory(garden=garden, rooting_place=shelf, plant="chilli", method="dome")
    jar = WantFactory(garden=garden, rooting_place=want.rooting_place)
    lived(dome, LONG_AGO, (20, "rooted", 3, "", ""), (20, "lost", 9, "waiting", "rot"))
    lived(
        jar,
        LONG_AGO,
        (20, "rooted", 44, "", ""),
        (20, "lost", 2, "waiting", "rot"),
        (21, "lost", 2, "waiting", "dry"),
        count=48,
    )
    shown = loss_page(known(garden), garden)
    assert shown.answer == "13 of 60 cuttings were lost, most of them to rot (11)."
    rot, dry = shown.causes
    assert (rot.count, rot.before, rot.after) == (11, 11, 0)
    assert rot.common.startswith("9 of 11 ")
    assert rot.common.endswith("of all cuttings 2 in 10 did")
    assert dry.common == ""
    assert {line.name: (line.lost, line.cut, line.said) for line in shown.places} == {
        "Dark shelf": (9, 12, "8 in 10"), "Kitchen sill": (4, 48, "1 in 10"),
    }  # fmt: skip
    assert [season_of(month, south=False) for month in (1, 4, 7, 10)] == ["winter", "spring", "summer", "autumn"]
    assert [season_of(month, south=True) for month in (1, 4, 7, 10)] == ["summer", "autumn", "winter", "spring"]


def test_the_year_in_cuttings(owner: Client, garden: Any, judged: tuple[Batch, Batch]) -> None:
    shown = year_page(known(garden), garden, 2026, "metric")
    assert shown.answer == "22 cuttings in 2 batches: 12 of the 22 that have told took, 12 plants came of them."
    assert [(line.name, line.cut, line.took, line.said, line.warmth) for line in shown.months] == [
        ("Apr", 11, "9 of 11", "8 in 10", "9 °C"), ("Jun", 11, "3 of 11", "3 in 10", "15 °C"),
    ]  # fmt: skip
    assert shown.sentences[0] == "What worked best: Tomato, side shoot, jar of water, 12 of 22 took."
    assert "10 were lost; 10 to rot, the commonest cause." in shown.sentences
    assert any(
        line.startswith("To try: tomato cut in Apr (9 of 11) rather than cut in Jun (3 of 11)")
        for line in shown.sentences
    )
    said = text(page(owner, "record-year-of", garden, 2026))
    assert "2026 in cuttings" in said
    assert owner.get(f"/g/{garden.pk}/record/year/1999/").status_code == 404


def test_one_way_by_mother_place_and_month(owner: Client, garden: Any, judged: tuple[Batch, Batch]) -> None:
    said = text(page(owner, "record-way", garden, "tomato", "jar"))
    assert "12 of 22 took in two batches" in said
    assert "Apr" in said
    assert "9 of 11 took in one batch:" in said
    assert owner.get(f"/g/{garden.pk}/record/way/tomato/mix/").status_code == 404
    assert owner.get(f"/g/{garden.pk}/record/way/tomato/none/").status_code == 404
    assert owner.get(f"/g/{garden.pk}/record/way/gold/jar/").status_code == 404


@pytest.mark.parametrize(
    ("what", "row"),
    [
        ("ways", ["tomato", "jar", "2", "22", "12", "10", "0", "0", "0"]),
        ("became", ["tomato", "2", "22", "12", "9", "0", "3"]),
        ("losses", None),
        ("looks", None),
        ("batches", None),
    ],
)
def test_tables_to_carry_away(
    owner: Client, garden: Any, judged: tuple[Batch, Batch], what: str, row: list[str] | None
) -> None:
    answer = owner.get(f"/g/{garden.pk}/record/{what}.csv")
    assert answer["Content-Type"] == "text/csv; charset=utf-8"
    rows = list(csv.reader(io.StringIO(answer.content.decode())))
    assert len({len(line) for line in rows}) == 1
    assert len(rows) >= 2
    if row:
        assert rows[1][: len(row)] == row
    assert owner.get(f"/g/{garden.pk}/record/gold.csv").status_code == 404


def test_an_empty_record_says_what_fills_it(owner: Client, garden: Any) -> None:
    assert "Nothing is on record yet." in text(page(owner, "record", garden))
    assert "Nothing has fallen due yet." in text(page(owner, "record-right", garden))
    assert "Nothing was lost yet." in text(page(owner, "record-losses", garden))
    assert "Nothing has come to stand yet." in text(page(owner, "record-became", garden))
    assert "Nothing was cut in 2027." in text(page(owner, "record-year", garden))
