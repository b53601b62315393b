"""Fitting 40 wants into 8 places: the programme beside taking the cheapest choice one want after another."""

from __future__ import annotations

from datetime import date

from bench.curve import CLIMATE
from bench.table import Line, timed
from elder.engine.handbook.loading import clonable
from elder.engine.place.warmth import Place
from elder.engine.plan.search import plan_want
from elder.engine.plan.season_plan import SeasonPlan
from elder.engine.plan.want import Want
from elder.engine.setting import Setting
from elder.engine.space.allocate import fit_in
from elder.engine.space.alternatives import Asker, Choice, choices_for
from elder.engine.space.occupancy import Spot, overflows
from elder.engine.space.programme import COST_OVER

TODAY = date(2027, 4, 6)
DAYS = 400
WANTS = 40
PLACES = {
    "sill": Place("room", day_c=20, night_c=17),
    "shelf": Place("room", day_c=17, night_c=14),
    "spare room": Place("room", day_c=18, night_c=15),
    "glasshouse": Place("air", lift_day_c=7, lift_night_c=2),
    "heat mat": Place("air", lift_day_c=7, lift_night_c=2, floor_c=21),
    "cold frame": Place("air", lift_day_c=5, lift_night_c=1.5),
    "rack": Place("air"),
    "bed": Place("ground"),
}
ROOM: dict[Spot, int] = {
    ("sill", "jar"): 80, ("sill", "pot"): 80, ("sill", "tray"): 50, ("shelf", "jar"): 40, ("shelf", "pot"): 60,
    ("spare room", "pot"): 60, ("glasshouse", "pot"): 120, ("glasshouse", "tray"): 80, ("heat mat", "tray"): 60,
    ("heat mat", "pot"): 40, ("cold frame", "pot"): 100, ("rack", "pot"): 90, ("bed", "row"): 80,
}  # fmt: skip


def _plans() -> list[tuple[SeasonPlan, tuple[str, str]]]:
    ways = [(plant, way) for plant in clonable().values() for way in plant.ways if not way.direct]
    found: list[tuple[SeasonPlan, tuple[str, str]]] = []
    for i, (plant, way) in enumerate(ways):
        pair = (("sill", "sill"), ("heat mat", "sill"), ("glasshouse", "glasshouse"))[i % 3]
        places = PLACES[pair[0]], PLACES[pair[1]]
        plan = plan_want(Want(3 + i % 9), Setting(plant, way, CLIMATE, *places, TODAY))
        if isinstance(plan, SeasonPlan):
            found.append((plan, pair))
        if len(found) == WANTS:
            return found
    raise RuntimeError("there are not forty wants to be had")


def _setting(plan: SeasonPlan, pair: tuple[str, str]) -> Setting:
    return Setting(plan.plant, plan.method, CLIMATE, PLACES[pair[0]], PLACES[pair[1]], TODAY)


def _askers(plans: list[tuple[SeasonPlan, tuple[str, str]]]) -> list[Asker]:
    return [
        Asker(i, choices_for(plan, _setting(plan, pair), (plan.recommended, pair), PLACES))
        for i, (plan, pair) in enumerate(plans)
    ]


def _one_by_one(askers: list[Asker]) -> tuple[float, int]:
    """Each want in turn takes the choice that costs least with what the ones before it took."""
    taken: list[Choice] = []
    for asker in askers:
        taken.append(min(asker.choices, key=lambda choice: choice.cost + COST_OVER * _lacking([*taken, choice])))
    return sum(choice.cost for choice in taken), _lacking(taken)


def _lacking(choices: list[Choice]) -> int:
    worst: dict[tuple[object, str], int] = {}
    for over in overflows({i: choice.stays for i, choice in enumerate(choices)}, ROOM, start=TODAY, days=DAYS):
        spot = over.place, over.container
        worst[spot] = max(worst.get(spot, 0), over.most - over.holds)
    return sum(worst.values())


def lines() -> list[Line]:
    """The times of weighing and choosing, and both ways' costs."""
    plans = _plans()
    weigh_s, askers = timed(lambda: _askers(plans), 1)
    before = _lacking([asker.choices[0] for asker in askers])
    milp_s, fit = timed(lambda: fit_in(askers, [], ROOM, start=TODAY, days=DAYS), 3)
    greedy_s, (cost, left) = timed(lambda: _one_by_one(askers), 1)
    after = _lacking([asker.choices[fit.chosen[asker.key]] for asker in askers])
    count = sum(len(asker.choices) for asker in askers)
    whole, greedy = fit.cost + COST_OVER * after, cost + COST_OVER * left
    worth = f"costs {greedy / whole:.2f} × ours" if whole else "costs nothing either"
    note = f"{before} too many before, {after} after; the rival leaves {left} and {worth}"
    rival = "one want after another"
    whole_note = f"{count:,} choices; aim: under 5 s"
    return [
        Line("fit in", f"{WANTS} wants, {len(PLACES)} places: choosing", milp_s, rival, greedy_s, note),
        Line("fit in", "weighing and choosing", weigh_s + milp_s, "choosing alone", milp_s, whole_note),
    ]
