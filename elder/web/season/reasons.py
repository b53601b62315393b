"""What an answer rests on, in sentences: frost, soil, roots in that place, losses, the plan's own edges."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import timedelta
from typing import TYPE_CHECKING

from elder.engine.mother.gives_today import Mother, takes_from
from elder.engine.place.warmth import GROUND_DEPTH_M
from elder.engine.place.warmth import Place as EnginePlace
from elder.engine.plan.planting_windows import PlantingWindow
from elder.engine.plan.season_plan import CutOption, SeasonPlan
from elder.web.read.mothers import known
from elder.web.say.record import by_words
from elder.web.say.refusals import shut_words
from elder.web.say.routes import onward_words
from elder.web.say.units import shown_depth, temperature
from elder.web.say.words import about, doy_words, in_ten, listed, odds, plural, span_words, sureness, years_words

if TYPE_CHECKING:
    from elder.web.read.wants import Reckoning


MOST_OTHERS = 3  # mothers named besides her
LEAST_KILLED = 0.02  # a share of years below this is not worth a word (assumed)


@dataclass(frozen=True)
class Reason:
    """One thing an answer rests on: a word for it, and the sentence."""

    topic: str
    sentence: str


def reasons(reckoning: Reckoning, place_names: tuple[str, str], units: str) -> list[Reason]:
    """What an answer rests on: frost, soil, roots in that place, losses, the plan's own edges."""
    plan, option = reckoning.plan, reckoning.option
    if not isinstance(plan, SeasonPlan) or option is None:
        return [*_gate_reasons(reckoning, reckoning.windows[0] if reckoning.windows else None, units)]
    return [
        *_gate_reasons(reckoning, plan.window, units),
        _roots_reason(reckoning, option, place_names, units),
        _losses_reason(reckoning, plan, option),
        Reason("Record", by_words(reckoning.plan_by, reckoning.own)),
        *_cold_reason(reckoning, option),
        *_mother_reason(reckoning, plan, option),
        Reason("Then", f"{onward_words(reckoning.method)} {reckoning.method.risk}".strip()),
        *_edge_reason(plan),
        *_spreads_reason(reckoning),
        *_seed_reason(reckoning, option),
    ]


def _seed_reason(reckoning: Reckoning, option: CutOption) -> list[Reason]:
    """Seed as the rival, where the plant comes true from it; a word of warning where it does not."""
    seed, today = reckoning.seed, reckoning.today
    if seed is None or reckoning.want.purpose == "winter":
        return []
    if not seed.comes_true:
        return [Reason("Seed", f"does not come true: {seed.note or 'seedlings differ from the mother'}.")]
    note = f" ({seed.note})" if seed.note else ""
    sow = f"sow by {about(seed.sow_by, today)} for the same day" if seed.sow_by else "too late to sow for the same day"
    if seed.ready is None or option.ready[1] is None:
        return [Reason("Seed", f"{sow}{note}.")]
    ahead = (seed.ready - option.ready[1]).days
    lead = f"{plural(abs(ahead), 'day', 'days')} {'behind' if ahead > 0 else 'ahead of'} the clones"
    return [Reason("Seed", f"{sow}; sown when you cut, ready {about(seed.ready, today)}, {lead}{note}.")]


def _gate_reasons(reckoning: Reckoning, window: PlantingWindow | None, units: str) -> list[Reason]:
    if window is None:
        return []
    plant, today = reckoning.plant, reckoning.today
    limit = temperature(plant.frost_limit_c, units)
    spring = reckoning.climate.frost.spring
    found: list[Reason] = []
    if window.frost_safe:
        mean = f" The last frost averages {doy_words(spring.mean_doy)}." if spring else ""
        risk = sureness(reckoning.want.accepted_risk)
        found.append(
            Reason("Frost", f"hurt at {limit}; the risk falls to {risk} on {about(window.frost_safe, today)}.{mean}")
        )
    elif spring is None:
        found.append(Reason("Frost", "none here."))
    depth = shown_depth(GROUND_DEPTH_M, units)
    least = temperature(plant.least_soil_c, units)
    if window.soil_warm:
        found.append(Reason("Soil", f"ground at {depth} reaches {least} on {about(window.soil_warm, today)}."))
    else:
        found.append(Reason("Soil", f"ground at {depth} stays above {least} all year."))
    if window.shut_by:
        found.append(Reason("Shuts", f"after {about(window.shuts, today)} {shut_words(window, reckoning.plant)}."))
    return found


def _roots_reason(reckoning: Reckoning, option: CutOption, names: tuple[str, str], units: str) -> Reason:
    today = reckoning.today
    where = f"{names[0]} ({warmth_words(reckoning.setting.rooting_place, units)})"
    if option.rooted[0] is None:
        return Reason("Roots", f"none to be expected within a year at {where}.")
    rooted = span_words(option.rooted[0], option.rooted[2] or option.rooted[0] + timedelta(days=120), today)
    if option.ready[0] is None:
        return Reason("Roots", f"likely {rooted} at {where}.")
    ready = span_words(option.ready[0], option.ready[2] or option.ready[0] + timedelta(days=120), today)
    held = f", then about {plural(option.held_days, 'day', 'days')} in the pot" if option.held_days > 1 else ""
    grown = f", grown on at {names[1]}" if names[1] != names[0] else ""
    return Reason("Roots", f"likely {rooted} at {where}; ready {ready}{grown}{held}.")


def warmth_words(place: EnginePlace, units: str) -> str:
    """How warm a place is, shortly."""
    if place.standing == "room":
        return f"{temperature(place.day_c, units)} by day, {temperature(place.night_c, units)} by night"
    floor = f", never under {temperature(place.floor_c, units)}" if place.floor_c is not None else ""
    base = "open ground" if place.standing == "ground" else "outdoor air"
    return f"{base}{', under cover' if place.lift_day_c else ''}{floor}"


def _losses_reason(reckoning: Reckoning, plan: SeasonPlan, option: CutOption) -> Reason:
    take = f"{in_ten(plan.roots.mean)} take, and {in_ten(plan.take.mean / plan.roots.mean)} of those come to stand"
    wanted = reckoning.needed
    if reckoning.row.cuttings and option.count:
        sure = sureness(reckoning.want.confidence)
        return Reason("Losses", f"{take}; with {sure}, {reckoning.to_cut} cut give {wanted} or more.")
    if not option.count:
        return Reason("Losses", f"{take}; even {plan.table.most} cuttings would not do that day.")
    more = "" if option.count <= plan.fewest else f" {plan.fewest} would do with more time."
    return Reason("Losses", f"{take}; {option.count} cut gives {wanted} with a chance of {odds(option.chance)}.{more}")


def _cold_reason(reckoning: Reckoning, option: CutOption) -> list[Reason]:
    """Nights on which its pots come in, or years that kill it in the ground, where there are any."""
    if option.killed >= LEAST_KILLED:
        return [Reason("Cold", f"frost kills it where it stands in the ground {years_words(option.killed)}.")]
    nights = round(option.nights)
    if not nights:
        return []
    most = reckoning.setting.assumptions.carry_nights
    return [Reason("Cold", f"about {plural(nights, 'night', 'nights')} to carry the pots in; you said {most}.")]


def _spreads_reason(reckoning: Reckoning) -> list[Reason]:
    """That it spreads, where it goes into the ground: a corner of weeds it may hold, and everything beside it too."""
    plant = reckoning.plant
    if not plant.spreads or reckoning.want.purpose != "bed":
        return []
    return [Reason("Spreads", f"{plant.spreads_note or 'it runs'}. Never plant out what is declared a weed there.")]


def _mother_reason(reckoning: Reckoning, plan: SeasonPlan, option: CutOption) -> list[Reason]:
    """That its mother gives too few, in what takes she does give them, and who could give the rest."""
    mother, wanted = reckoning.row.mother, reckoning.to_cut
    if mother is None or not wanted or reckoning.batches:
        return []
    one = next(iter(known(reckoning.row.garden, option.day, only=mother.pk)), None)
    if one is None or one.giving.now >= wanted:
        return []
    stock = Mother(one.row.gives, one.row.again_days, one.plant.pups, one.row.ended_on)
    takes = takes_from(stock, one.giving, wanted, start=option.day, until=plan.open_until)
    said = f"{mother.name} gives {one.giving.now} of the {wanted} that day"
    if len(takes) > 1 and sum(count for _, count in takes) >= wanted:
        parts = listed(f"{count} on {about(day, reckoning.today)}" for day, count in takes)
        return [Reason("Mother", f"{said}; taken as she gives: {parts}. Each take is forecast by its own day.")]
    every = known(reckoning.row.garden, option.day, hold=False)
    others = [item for item in every if item.row.plant == reckoning.row.plant and item.row.pk != mother.pk and item.now]
    more = listed(f"{item.row.name} {item.now}" for item in others[:MOST_OTHERS])
    return [Reason("Mother", f"{said}{f'; besides her, {more}' if more else ', and no other is on the list'}.")]


def _edge_reason(plan: SeasonPlan) -> list[Reason]:
    span = plan.comfortable
    if span is None:
        counts = plan.counts[plan.index(plan.recommended) :]
        rises = int(counts[counts > 0].max()) > plan.option(plan.recommended).count
        later = "later days cost more cuttings" if rises else "no day costs more than another"
        return [Reason("Days", f"no comfortable day is left; {later}, until {about(plan.open_until, plan.today)}.")]
    left = {
        "patience": f"earlier, they would stand over {plan.plant.patience_days} days in their pots",
        "wood": "earlier, the wood is not in season",
        "time": "earlier days are no better",
        "today": "",
    }[plan.edges[0]]
    right = (
        "later, more cuttings must make up for the days"
        if plan.edges[1] == "time"
        else "later, the wood is out of season"
    )
    last = f"until {about(plan.open_until, plan.today)}, then it is too late" if plan.open_until > span[1] else ""
    sentence = "; ".join(part for part in (left, f"{right} {last}".strip()) if part)
    return [Reason("Days", f"{sentence}.")]
