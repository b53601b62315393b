"""A promise as its page shows it: pots on a sill, from where it is served, what is asked, how it travels."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date

import numpy as np

from elder.drawing.promised import pots_of, promised_scene
from elder.drawing.scene import Scene
from elder.engine.arrays import Floats
from elder.engine.chance.counting import convolve_counts
from elder.engine.cut.layout import Layout
from elder.engine.cut.standing import cut_spec, dressing
from elder.engine.cut.steps import is_quarantined
from elder.engine.year.parcel import Sent, cut_for, even_stem
from elder.engine.year.road import OnTheWay, bears_days, best_leaving, leavings
from elder.web.cut.layout import LaidOut, drawn
from elder.web.garden.models import Garden
from elder.web.passing.forms import ShootsForm
from elder.web.passing.models import Promise
from elder.web.read.promises import PromiseToday, could_reserve
from elder.web.read.services import way_ahead
from elder.web.say.cautions import variety_cautions
from elder.web.say.promises import (
    LEFT_OUT,
    answers_words,
    leaving_words,
    packing_lines,
    promise_headline,
    promise_title,
    worth_words,
)
from elder.web.say.words import about, counted, day_words, plural, sureness
from elder.web.season.models import Want
from elder.web.stock.models import VarietyAnswer

SHOWN_LEAVINGS = 8


@dataclass(frozen=True)
class PromiseCard:
    """A promise on the board."""

    pk: int
    title: str
    headline: tuple[str, str]
    scene: Scene
    by: str
    worth: str
    word: str


@dataclass(frozen=True)
class SourceLine:
    """A batch that serves it, or could."""

    batch: int
    code: str
    said: str
    lent: bool
    advised: bool = False


@dataclass(frozen=True)
class Road:
    """How it travels."""

    said: str
    days: list[tuple[str, str, bool]]
    packing: list[str]


@dataclass(frozen=True)
class ShootsAnswer:
    """What shoots cut for the parcel give."""

    said: str
    scene: Scene | None


@dataclass(frozen=True)
class PromisePage:
    """One promise."""

    row: Promise
    title: str
    headline: tuple[str, str]
    scene: Scene
    worth: str
    sources: list[SourceLine]
    others: list[SourceLine]
    road: Road | None
    asks_variety: bool
    asks_quarantine: bool
    warned: list[str]
    handed: list[str]
    left_out: str


def card_of(found: PromiseToday) -> PromiseCard:
    """A promise for the board."""
    return PromiseCard(
        pk=found.row.pk,
        title=promise_title(found),
        headline=promise_headline(found),
        scene=pots_scene(found),
        by=about(found.by, found.today),
        worth=worth_words(found),
        word=found.word,
    )


def pots_scene(found: PromiseToday) -> Scene:
    """Its pots on the sill."""
    want, row = found.want, found.row
    counts = _counts(found)
    gone = min(row.handed, want.wanted)
    sure = found.kept.sure + found.own if found.kept and found.kept.sure else 0
    expected = float(counts @ np.arange(len(counts))) if counts is not None else 0.0
    pots = pots_of(want.wanted, found.own, gone=gone, now=found.now, sure=sure, expected=expected)
    said = [f"{pots.gone} handed over"] if pots.gone else []
    said += [f"{pots.now} stand", f"{pots.sure} more are sure to come", f"{pots.maybe} more may"]
    return promised_scene(pots, f"Of {want.wanted + found.own}: {', '.join(said)}.")


def _counts(found: PromiseToday) -> Floats | None:
    reckoning = found.reckoning
    if reckoning is None or not reckoning.batches:
        return None
    return convolve_counts(list(reckoning.pmfs_on(max(found.by, found.today))))


def promise_page(found: PromiseToday, garden: Garden, units: str) -> PromisePage:
    """The page."""
    row, want = found.row, found.want
    said = answer_given(garden, want)
    named = bool(want.variety)
    restricted = is_quarantined(found.plant)
    told = (said.protected, said.quarantine) if said else ("unknown", "unknown")
    cautions = variety_cautions(*told, named=named, quarantined=restricted)
    cautions += [one.text for one in found.plant.cautions if one.at == "share"]
    open_ = row.over_on is None
    return PromisePage(
        row=row,
        title=promise_title(found),
        headline=promise_headline(found),
        scene=pots_scene(found),
        worth=worth_words(found),
        sources=list(_sources(found)),
        others=_others(found, garden) if open_ and not found.is_unrooted else [],
        road=road_of(found, garden, units) if open_ and row.goes == Promise.Goes.PARCEL else None,
        asks_variety=named,
        asks_quarantine=restricted,
        warned=answers_words(found, list(dict.fromkeys(cautions))),
        handed=[_handed(one.count, one.on, one.money, one.swap, found.today) for one in row.handings.all()],
        left_out=LEFT_OUT if found.kept else "",
    )


def answer_given(garden: Garden, want: Want) -> VarietyAnswer | None:
    """What was said of its variety."""
    return VarietyAnswer.objects.filter(garden=garden, plant=want.plant, variety=want.variety).first()


def _handed(count: int, on: date, money: object, swap: str, today: date) -> str:
    had = f", for {money}" if money is not None else ""
    return f"{count} on {about(on, today)}{had}{f', for {swap}' if swap else ''}"


def _sources(found: PromiseToday) -> Iterable[SourceLine]:
    if found.is_unrooted:
        for one in found.mothers:
            yield SourceLine(0, one.row.name, f"gives {one.now} today", lent=False)
        return
    for standing in found.standings:
        batch = standing.batch
        ready = batch.forecast.ready_on(max(found.by, found.today))
        mean = round(float(ready @ np.arange(len(ready))))
        stand = f"{standing.now} can go today" if standing.now else "none can go yet"
        by = max(found.by, found.today)
        sure = standing.surely(by, found.want.confidence)
        said = f"{stand}; about {mean} of its {batch.state.taken} by {about(by, found.today)}"
        said += f", {sureness(found.want.confidence)} that {sure} are for this" if sure else ""
        yield SourceLine(batch.row.pk, batch.row.code, said, lent=standing.lent)


def _others(found: PromiseToday, garden: Garden) -> list[SourceLine]:
    spares, advised = could_reserve(found, garden)
    lines = []
    for batch, spare in spares:
        free = max(round(spare.expected), 1)
        its = (
            f" once its {counted(batch.row.want.claims)} have gone" if batch.row.want and batch.row.want.claims else ""
        )
        said = f"about {free} to spare by then{its}"
        lines.append(SourceLine(batch.row.pk, batch.row.code, said, lent=True, advised=spare.key in advised))
    return sorted(lines, key=lambda one: not one.advised)


def road_of(found: PromiseToday, garden: Garden, units: str) -> Road:
    """How it travels: the days it may leave on, and how it is packed."""
    row, want = found.row, found.want
    stage = want.handed_as or "potted"
    way = way_ahead(garden, found.today, row.far_c)
    days = leavings(
        way,
        found.plant,
        form=found.method.form,
        stage=stage,
        road_days=row.road_days,
        latest=max(found.by, found.today),
    )
    best = best_leaving(days)
    bears = bears_days(found.method.form, stage)
    if row.road_days > bears:
        said = f"It bears {plural(bears, 'day', 'days')} in a parcel, and {row.road_days} are too many."
    elif best:
        day, there = day_words(best.day, found.today), day_words(best.arrives, found.today)
        said = f"Send it on {day}: there {there}, and it fares well."
    elif not way:
        said = "The weather of the way is not to be had just now."
    elif not days or all(one.fares is OnTheWay.UNKNOWN for one in days):
        said = "The weather of those days is not told yet; look again ten days before."
    else:
        said = "No day that is told fares well: wait, or carry it."
    lines = [(*leaving_words(one, found.today, units), one.fares is OnTheWay.WELL) for one in days[-SHOWN_LEAVINGS:]]
    return Road(said, lines, packing_lines(found, units))


def shoots_answer(found: PromiseToday, form: ShootsForm, units: str) -> ShootsAnswer | None:
    """Shoots cut to the parcel's inner length, and what of them is struck again."""
    spec = cut_spec(found.plant, found.method)
    if spec is None or not form.is_valid():
        return None
    data = form.cleaned_data
    stem = even_stem(form.long_cm, data["nodes"])
    sent = cut_for([stem] * data["shoots"], spec, found.row.inner_cm, max(found.row.left, 1))
    return ShootsAnswer(_sent_words(sent, found), _drawn(sent, found, units))


def _sent_words(sent: Sent, found: PromiseToday) -> str:
    if not sent.sticks:
        return "Such a shoot gives no stick that fits: a longer parcel, or nodes nearer to each other."
    sticks = plural(sent.sticks, "stick", "sticks")
    shoots = "one shoot" if sent.shoots == 1 else f"{counted(sent.shoots)} shoots"
    short = found.row.left - sent.sticks
    said = f"{sticks} for the parcel from {shoots}"
    said += f", {counted(short)} short" if short > 0 else ""
    words = found.plant.cutting_one if sent.struck_again == 1 else found.plant.cutting_many
    again = f"{sent.struck_again} {words} to strike yourself" if sent.struck_again else "nothing to strike"
    return f"{said}; of the trimmings {again}."


def _drawn(sent: Sent, found: PromiseToday, units: str) -> Scene | None:
    cut = sent.cuts[0]
    if not cut.sticks:
        return None
    data = sorted((*cut.sticks, *cut.rest.pieces), key=lambda piece: piece.base_cm)
    stem = cut.stem
    layout = Layout(tuple(data), cut.rest.waste_cm)
    dressings = tuple(dressing(piece, stem, found.plant, found.method) for piece in data)
    return drawn([LaidOut(stem, layout, dressings)], units)[0]


@dataclass(frozen=True)
class NewAnswer:
    """What a promise that is being typed comes to."""

    headline: tuple[str, str]
    reserve: str
    scene: Scene


def new_answer(found: PromiseToday, garden: Garden) -> NewAnswer:
    """What a promise comes to before it is made: from what stands, and what is to be cut."""
    spares, advised = ([], set()) if found.is_unrooted else could_reserve(found, garden)
    chosen = [(batch, spare) for batch, spare in spares if spare.key in advised]
    named = ", ".join(f"{batch.row.code} (about {round(spare.expected)} to spare)" for batch, spare in chosen)
    reserve = f"It will be reserved from {named}." if chosen else ""
    return NewAnswer(promise_headline(found), reserve, pots_scene(found))
