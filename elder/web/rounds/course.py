"""On course? A want after a look, and where it runs short the ways out with their numbers."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

from django.urls import reverse

from elder.engine.batch.remedies import Warmer, fewer, later, warmer
from elder.engine.chance.counting import chance_of
from elder.engine.plan.light_needs import Suited, fit_on
from elder.engine.plan.seed_rival import seed_rival
from elder.web.garden.models import Garden, Place
from elder.web.read.batches import BatchToday, forecast_if_moved
from elder.web.read.gardens import places_of
from elder.web.read.ill_lit import ill_lit, lit_needs
from elder.web.read.light import light_of
from elder.web.read.want_rows import batches_of, want_row
from elder.web.read.wants import Reckoning, reckon
from elder.web.say.light import fit_words
from elder.web.say.more import does_until
from elder.web.say.wants import headline
from elder.web.say.words import about, odds, plural, so_many_are
from elder.web.season.models import Want

MOST_WARMER = 2


@dataclass(frozen=True)
class WayOut:
    """One way out: what it is, what it comes to, and the form or page that takes it."""

    name: str
    said: str
    url: str
    post: dict[str, str] = field(default_factory=dict)
    button: str = ""


@dataclass(frozen=True)
class WantCourse:
    """How a want stands: its word (on-course, tight, short, done), a sentence, and the ways out."""

    want: Want
    word: str
    said: str
    ways: tuple[WayOut, ...]


def course_of_want(
    batch: BatchToday, garden: Garden, *, may_plan: bool = False, ways: bool = True
) -> WantCourse | None:
    """The course of the want a batch serves first; nothing where it serves none."""
    if batch.row.want_id is None:
        return None
    row = want_row(garden, batch.row.want_id)
    whole = reckon(row, garden, batch.today, batches=batches_of(row))
    is_short = whole.standing_word in ("tight", "short")
    found = _ways(batch, whole, garden, may_plan=may_plan) if ways and is_short else ()
    return WantCourse(row, whole.standing_word, headline(whole, way_out=not found).plain, found)


def _ways(batch: BatchToday, whole: Reckoning, garden: Garden, *, may_plan: bool) -> tuple[WayOut, ...]:
    found = [_cut_more(whole, garden), *_warmer(batch, whole, garden), *_lighter(batch, garden)]
    if may_plan:
        found += [_fewer(whole, garden), _later(whole, garden)]
    return tuple(way for way in [*found, _sow(batch, whole)] if way)


def _cut_more(whole: Reckoning, garden: Garden) -> WayOut | None:
    more, today = whole.shortfall, whole.today
    if more is None:
        return None
    cut = plural(more.count, whole.plant.cutting_one, whole.plant.cutting_many)
    when = "today" if more.day == today else f"on {about(more.day, today)}"
    url = reverse("take", args=[garden.pk, whole.row.pk])
    return WayOut(f"Cut {more.count} more", f"{cut} {when}; {does_until(more, today)}.", url)


def _warmer(batch: BatchToday, whole: Reckoning, garden: Garden) -> list[WayOut]:
    """Carry those waiting to a warmer place: what it gains over where they stand."""
    if not batch.state.count("waiting") or whole.target is None or batch.method.direct:
        return []
    here, found = places_of(garden)[batch.place_id("waiting")], []
    day = max(whole.target, whole.today)
    for place in places_of(garden).values():
        if not _may_stand(place, here, batch):
            continue
        there = forecast_if_moved(batch, garden, place)
        chance = chance_of(whole.pmfs_on(day, {batch.row.pk: there}), whole.needed)
        gain = warmer(batch.forecast, there, chance=chance)
        if gain:
            found.append((gain, place))
    found.sort(key=lambda pair: (-pair[0].days, pair[1].pk))
    return [_warmer_way(gain, place, here, batch, whole, garden) for gain, place in found[:MOST_WARMER]]


def _may_stand(place: Place, here: Place, batch: BatchToday) -> bool:
    holds = place.capacity.get(batch.method.container) if place.capacity else None
    is_possible = holds is None if not place.capacity else bool(holds)
    if is_possible and any(
        fit_on(light_of(place), batch.climate, need, batch.today).standing >= Suited.NOT
        for kind, _, _, need in lit_needs(batch)
        if kind == "waiting"
    ):
        return False  # warmer, and not the light for it
    return place.pk != here.pk and place.standing != Place.Standing.GROUND and is_possible


def _warmer_way(gain: Warmer, place: Place, here: Place, batch: BatchToday, whole: Reckoning, garden: Garden) -> WayOut:
    then = f"{odds(gain.chance)} that {so_many_are(whole.needed)} ready in time"
    return WayOut(
        f"Move them to {place.name}",
        f"Roots {plural(gain.days, 'day', 'days')} sooner than at {here.name}: {then}.",
        reverse("round-move", args=[garden.pk, batch.row.pk]),
        {"place": str(place.pk), "stage": "waiting"},
        "Moved there",
    )


def _lighter(batch: BatchToday, garden: Garden) -> list[WayOut]:
    """Carry what stands in the wrong light to where it has its own. No chance moves by it, until a record shows that it
    should."""
    return [
        WayOut(
            f"Move them to {one.there.name} for its light",
            f"{one.here.name} has {fit_words(one.fit)}. The odds do not know of it.",
            reverse("round-move", args=[garden.pk, batch.row.pk]),
            {"place": str(one.there.pk), "stage": one.kind},
            "Moved there",
        )
        for one in ill_lit(batch, garden)
        if one.there
    ]


def _fewer(whole: Reckoning, garden: Garden) -> WayOut | None:
    count = fewer(whole.pmfs_on(max(whole.target or whole.today, whole.today)), whole.want.confidence)
    if not 0 < count < whole.needed:
        return None
    url = reverse("round-settle", args=[garden.pk, whole.row.pk])
    return WayOut(
        "Accept fewer", f"{count} are as sure as you asked for.", url, {"count": str(count)}, f"{count} will do"
    )


def _later(whole: Reckoning, garden: Garden) -> WayOut | None:
    if whole.target is None:
        return None
    shuts = next((window.shuts for window in whole.windows if window.opens <= whole.target <= window.shuts), None)
    target = max(whole.target, whole.today)
    day = later(whole.pmfs_on, whole.needed, whole.want.confidence, target=target, shuts=shuts)
    if day is None:
        return None
    url = reverse("round-settle", args=[garden.pk, whole.row.pk])
    said = f"All {whole.needed} by {about(day, whole.today)} instead of {about(whole.target, whole.today)}."
    return WayOut("Accept later", said, url, {"by": day.isoformat()}, f"{about(day, whole.today)} will do")


def _sow(batch: BatchToday, whole: Reckoning) -> WayOut | None:
    """Seed, where it would still be in time or nearly so."""
    if whole.target is None or whole.target <= whole.today:
        return None
    today = whole.today
    setting = replace(whole.setting, plant=batch.plant, method=batch.method)
    seed = seed_rival(setting, cut_on=today, target=whole.target)
    if seed is None or seed.ready is None:
        return None
    true = "" if seed.comes_true else " It does not come true."
    note = f" {seed.note.capitalize()}." if seed.note and seed.comes_true else ""
    late = "" if seed.sow_by else f", later than {about(whole.target, today)}"
    return WayOut("Sow", f"Sown today, ready about {about(seed.ready, today)}{late}.{true}{note}", "")
