"""Fit them in: what could change so that every place has room, what it costs, and what was accepted."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from datetime import date, timedelta

from elder.engine.plan.season_plan import SeasonPlan
from elder.engine.space.allocate import Fit, fit_in
from elder.engine.space.alternatives import Asker, Choice, choices_for
from elder.engine.space.floors import on_floors
from elder.engine.space.occupancy import overflows
from elder.web.garden.models import Garden, Place
from elder.web.read.gardens import place_of
from elder.web.read.light import light_of
from elder.web.read.space import LOOKED_AHEAD_DAYS, Stays, all_stays, capacities, crowding, floors_of
from elder.web.read.wants import Reckoning
from elder.web.say.wants import want_words
from elder.web.say.words import about, listed, plural
from elder.web.season.better_place import ill_lit, light_words
from elder.web.season.board import crowd_words


@dataclass(frozen=True)
class Change:
    """One proposed change: the want, what it does now, what it would do, what that costs."""

    reckoning: Reckoning
    choice: Choice
    name: str
    now: str
    then: str
    costs: str
    key: str


@dataclass(frozen=True)
class Proposal:
    """What *fit them in* proposes. ``before`` and ``after`` say where room lacks without and with it; ``dim`` and
    ``still_dim`` what stands without its light."""

    changes: list[Change]
    before: list[str]
    after: list[str]
    dim: list[str]
    still_dim: list[str]
    extra: int
    held: int
    proved: str


PROVED_TO = 0.05  # of a cutting: what a better way could save is not spoken of below this


def propose(reckonings: list[Reckoning], garden: Garden, today: date) -> Proposal:
    """Weigh every want that is still to be cut, and stands where there is too little room, against what room there is.
    One that is in nobody's way stays as it is."""
    places = {place.pk: place for place in garden.places.all()}
    stays = all_stays(reckonings, garden, today)
    in_the_way = {key for over in crowding(stays, places.values(), today) for key in over.who}
    lights = {pk: light_of(place) for pk, place in places.items()}
    open_ones = [
        item for item in reckonings if _may_change(item) and (item.row.pk in in_the_way or ill_lit(item, garden))
    ]
    movable = {item.row.pk for item in open_ones}
    fixed = [stay for key, several in stays.items() if key not in movable for stay in several]
    engine_places = {pk: place_of(place) for pk, place in places.items()}
    askers, floors = [], floors_of(places.values())
    for item in open_ones:
        plan, option = item.planned()
        now = option.day, (item.row.rooting_place_id, item.row.growing_place_id)
        choices = choices_for(plan, item.setting, now, engine_places, kit=item.kit, lights=lights)
        choices = tuple(replace(one, stays=on_floors(one.stays, floors)) for one in choices)
        askers.append(Asker(item.row.pk, choices))
    fit = fit_in(askers, fixed, capacities(places.values()), start=today, days=LOOKED_AHEAD_DAYS)
    return _proposal(open_ones, askers, fit, stays, places, today)


def _may_change(item: Reckoning) -> bool:
    """A want still to be cut, whose day is open, and which is not tied to a number of cuttings."""
    return not item.batches and isinstance(item.plan, SeasonPlan) and item.to_cut > 0 and not item.row.cuttings


def _proposal(
    open_ones: list[Reckoning],
    askers: list[Asker],
    fit: Fit,
    before: Stays,
    places: dict[int, Place],
    today: date,
) -> Proposal:
    changes: list[Change] = []
    dim: list[str] = []
    still_dim: list[str] = []
    stays = dict(before)
    for item, asker in zip(open_ones, askers, strict=True):
        index = fit.chosen[asker.key]
        name = want_words(item.row, item.plant.name)
        if light := light_words(item, item.row.garden):
            dim.append(f"{name}: {light}")
        if asker.choices[index].unsuited:
            still_dim.append(f"{name}: where there is room, the light does not suit.")
        stays[item.row.pk] = asker.choices[index].stays
        if index:
            changes.append(_change(item, asker.choices[0], asker.choices[index], places, today))
    left = overflows(stays, capacities(places.values()), start=today, days=LOOKED_AHEAD_DAYS)
    return Proposal(
        changes=changes,
        before=[crowd_words(over, places, today) for over in crowding(before, places.values(), today)],
        after=[crowd_words(over, places, today) for over in left],
        dim=dim,
        still_dim=still_dim,
        extra=sum(max(change.choice.count - change.reckoning.to_cut, 0) for change in changes),
        held=sum(max(change.choice.held_days - _held(change.reckoning), 0) for change in changes),
        proved=proved_words(fit),
    )


def proved_words(fit: Fit) -> str:
    """What is known of every other way of placing these, beside the one proposed."""
    if fit.gap < PROVED_TO:
        return "Nothing better can be had: every other way that was weighed is ruled out."
    if fit.left_over > fit.least_left_over:
        return (
            f"{plural(fit.left_over, 'cutting finds', 'cuttings find')} no room this way. No other way was found that "
            f"leaves fewer; {_at_least(fit.least_left_over)}."
        )
    cuttings = max(math.ceil(fit.gap - PROVED_TO), 1)
    return f"Of the ways weighed none saves more than {plural(cuttings, 'cutting', 'cuttings')} or its worth."


def _at_least(count: int) -> str:
    return (
        f"at least {count} would be left by any that was weighed"
        if count
        else "whether one would take them all is not known"
    )


def _held(item: Reckoning) -> int:
    return item.option.held_days if item.option else 0


def _change(item: Reckoning, now: Choice, then: Choice, places: dict[int, Place], today: date) -> Change:
    def said(choice: Choice) -> str:
        names = [places[key].name for key in dict.fromkeys(choice.places)]
        return f"cut {choice.count} on {about(choice.day, today)}, {', then '.join(names)}"

    costs = []
    if then.count > now.count:
        costs.append(f"{plural(then.count - now.count, 'cutting', 'cuttings')} more")
    elif then.count < now.count:
        costs.append(f"{plural(now.count - then.count, 'cutting', 'cuttings')} fewer")
    if then.held_days > now.held_days:
        costs.append(f"{plural(then.held_days - now.held_days, 'day', 'days')} longer in the pot")
    moved = (then.day - now.day).days
    if moved:
        costs.append(f"{plural(abs(moved), 'day', 'days')} {'later' if moved > 0 else 'sooner'}")
    return Change(
        reckoning=item,
        choice=then,
        name=want_words(item.row, item.plant.name),
        now=said(now),
        then=said(then),
        costs=listed(costs) or "only the place",
        key=f"{item.row.pk}:{then.day.isoformat()}:{then.places[0]}:{then.places[1]}",
    )


def is_near(day: date, today: date) -> bool:
    """Whether a day lies among those that can be chosen."""
    return today <= day <= today + timedelta(days=3 * 365)
