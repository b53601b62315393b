"""Places that cannot, or hardly: said at once, with the place that serves."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, replace
from datetime import date, timedelta
from typing import Final

from elder.engine.chance.ready_by import first_day_at, ready_from_cut
from elder.engine.place.warmth import Place as EnginePlace
from elder.engine.plan.cold import nights_below
from elder.engine.plan.light_needs import LightFit, Stage, Suited, fit_on, need_of
from elder.engine.setting import Setting
from elder.web.garden.models import Garden, Place
from elder.web.read.gardens import place_of, places_of
from elder.web.read.light import light_of
from elder.web.read.wants import Reckoning
from elder.web.say.light import fit_words
from elder.web.say.words import plural

SLOW_TIMES: Final = 3  # a place that takes so many times the best one's days is said (assumed)
REACH_DAYS: Final = 300
_NEVER: Final = REACH_DAYS + 1  # what −1 days come to, after every number of them


@dataclass(frozen=True)
class _Stand:
    """One of a want's two places: its words, the stage they are at there, from when to when it stands there, the days
    it takes at any place, and whether cold hurts it there: it does not hurt bare wood without roots."""

    chosen: Place
    lead: str
    stage: Stage
    first: date
    last: date
    days: Callable[[EnginePlace], int]
    is_hurt: bool


def place_words(reckoning: Reckoning, garden: Garden) -> str:
    """That a place falls below what the plant bears, takes three times the days of the best one, or has not its light,
    and which serves; nothing where none is so."""
    if reckoning.batches:
        return ""
    setting = reckoning.want.condition.under(reckoning.setting)
    suited = [one for one in places_of(garden).values() if (one.standing == "ground") == setting.method.direct]
    said: list[str] = []
    for stand in _stands(reckoning, setting):
        found = {place.pk: stand.days(place_of(place)) for place in suited}
        said += [_cold_words(stand, setting, suited, found)]
        if slow := _slow_words(stand, suited, found):
            said += [slow]
            break  # what comes after it is slower for that alone
    return " ".join(one for one in [*said, light_words(reckoning, garden)] if one)


def ill_lit(reckoning: Reckoning, garden: Garden) -> bool:
    """Whether the light of a place of a want that is still to be cut does not suit it."""
    return bool(light_words(reckoning, garden))


def light_words(reckoning: Reckoning, garden: Garden) -> str:
    """Which of a want's places has not the light for its stage there, why, and which has; nothing where both suit."""
    if reckoning.batches:
        return ""
    setting = reckoning.want.condition.under(reckoning.setting)
    suited = [one for one in places_of(garden).values() if (one.standing == "ground") == setting.method.direct]
    return " ".join(said for stand in _stands(reckoning, setting) if (said := _dim_words(stand, setting, suited)))


def _dim_words(stand: _Stand, setting: Setting, suited: Iterable[Place]) -> str:
    need = need_of(setting.plant, setting.method, stand.stage)
    day = stand.first if stand.stage == "unrooted" else stand.first + (stand.last - stand.first) / 2

    def here(place: Place) -> LightFit:
        return fit_on(light_of(place), setting.climate, need, day)

    found = here(stand.chosen)
    if found.standing < Suited.NOT:
        return ""
    serving = [place for place in suited if here(place).standing == Suited.FITS and place.light]
    serves = min(serving, key=lambda place: stand.days(place_of(place)) % _NEVER).name if serving else ""
    other = f"; {serves} suits" if serves else ""
    stage = "before they root" if stand.stage == "unrooted" else "once they are rooted"
    return f"{stand.chosen.name} has {fit_words(found)} {stage}{other}."


def best_places(asked: Setting, places: Iterable[Place]) -> tuple[Place, Place] | None:
    """Where a plant's cuttings are best rooted and grown on here, from today: soonest, not where more nights are too
    cold than one would carry them in, and where the light does not suit only if it does nowhere; grown on where they
    rooted, unless elsewhere is a tenth sooner. Nothing where no place suits the way. Of the setting the two places
    are not read."""
    suited = [one for one in places if (one.standing == "ground") == asked.method.direct]
    if not suited:
        return None
    most = asked.assumptions.carry_nights

    def days_at(place: Place, rooting: Place | None) -> tuple[bool, Suited, int]:
        spot = place_of(place)
        there = replace(asked, rooting_place=place_of(rooting) if rooting else spot, growing_place=spot)
        days = _days(there, asked.today, "ready" if rooting else "rooted")
        cold = nights_below(there, spot, asked.today, _after(asked.today, days))
        need = need_of(asked.plant, asked.method, "rooted" if rooting else "unrooted")
        light = fit_on(light_of(place), asked.climate, need, asked.today).standing
        never = days < 0 or (most is not None and round(cold) > most)
        # Borderline light is no reason to wait; light that does not suit comes last.
        return never, max(light, Suited.BORDERLINE), days if days >= 0 else REACH_DAYS

    rooting = min(suited, key=lambda place: days_at(place, None))
    if asked.method.direct:
        return rooting, rooting
    found = {place.pk: days_at(place, rooting) for place in suited}
    growing = min(suited, key=lambda place: found[place.pk])
    stays = found[rooting.pk][:2] == found[growing.pk][:2] and found[rooting.pk][2] <= 1.1 * found[growing.pk][2]
    return rooting, rooting if stays else growing


def _stands(reckoning: Reckoning, setting: Setting) -> Iterator[_Stand]:
    """Where it roots, and where it grows on if that is another stage."""
    row, day = reckoning.row, reckoning.option.day if reckoning.option else reckoning.today

    def to_root(spot: EnginePlace) -> int:
        return _days(replace(setting, rooting_place=spot), day, "rooted")

    def to_be_ready(spot: EnginePlace) -> int:
        return _days(replace(setting, growing_place=spot), day, "ready")

    rooted = _after(day, to_root(setting.rooting_place))
    yield _Stand(row.rooting_place, "To root", "unrooted", day, rooted, to_root, setting.method.wood != "dormant")
    if not setting.method.direct:
        out = reckoning.target or _after(day, to_be_ready(setting.growing_place))
        yield _Stand(row.growing_place, "To be ready", "rooted", rooted, max(out, rooted), to_be_ready, True)


def _after(day: date, days: int) -> date:
    return day + timedelta(days=days if days >= 0 else REACH_DAYS)


def _cold_words(stand: _Stand, setting: Setting, suited: Iterable[Place], days: dict[int, int]) -> str:
    """On how many nights the chosen place falls below what the plant bears, and the quickest place that does not."""
    if setting.method.direct or not stand.is_hurt or setting.assumptions.carry_nights is None:
        return ""  # what frost does in open ground is a risk of its own, said elsewhere

    def nights(place: Place) -> int:
        return round(nights_below(setting, place_of(place), stand.first, stand.last))

    many = nights(stand.chosen)
    if not many:
        return ""
    serving = [place for place in suited if days.get(place.pk, -1) >= 0 and not nights(place)]
    serves = min(serving, key=lambda place: days[place.pk]).name if serving else ""
    other = f"; {serves} does not" if serves else ""
    return f"{stand.chosen.name} falls below what they bear on about {plural(many, 'night', 'nights')}{other}."


def _slow_words(stand: _Stand, suited: Iterable[Place], days: dict[int, int]) -> str:
    """Both places with their days, where the chosen one is that much slower; −1 days are more than are reckoned."""
    names = {place.pk: place.name for place in suited}
    in_time = {pk: many for pk, many in days.items() if many >= 0}
    here = days.get(stand.chosen.pk, -1)
    if not in_time:
        return ""
    best = min(in_time, key=lambda pk: in_time[pk])
    if 0 <= here < SLOW_TIMES * in_time[best]:
        return ""
    slow = plural(here, "day", "days") if here >= 0 else f"more than {REACH_DAYS} days"
    return f"{stand.lead}: {slow} at {stand.chosen.name}, {in_time[best]} at {names[best]}."


def _days(setting: Setting, day: date, stage: str) -> int:
    """Days until half of those cut on a day have rooted, or are ready, in the year of the normals; −1 for too many."""
    followed = ready_from_cut(setting.raising(harden=False).usual, day, REACH_DAYS)
    return int(first_day_at(followed.mean_rooted if stage == "rooted" else followed.mean_ready, 0.5))
