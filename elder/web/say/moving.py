"""Moving house, in words."""

from __future__ import annotations

import math
from dataclasses import dataclass
from datetime import date
from typing import Final

from elder.engine.cut.steps import is_quarantined
from elder.engine.shed.vessels import shipped
from elder.engine.year.load import LoadPlan
from elder.engine.year.moving import MoveAnswer, MoveWay
from elder.engine.year.root_ball import Ball
from elder.web.read.moved_here import Watered
from elder.web.read.moves import Coming, MoveToday
from elder.web.say.plants import plant_words
from elder.web.say.refusals import refusal_words
from elder.web.say.units import shown_fine_length, shown_volume, shown_weight
from elder.web.say.words import about, counted, day_words, listed, plural, span_words

DEEDS: Final = {
    MoveWay.POT: "In its pot",
    MoveWay.DIG: "Dug",
    MoveWay.CUTTINGS: "As cuttings",
    MoveWay.SEED: "As seed",
    MoveWay.LEAVE: "Left",
}
WHY: Final = {
    "in_pot": "It stands in a pot.",
    "too_heavy_full": "Full it is more than two people lift: knock it out and empty the pot.",
    "one_summer": "It crops in one summer.",
    "comes_true": "Its seed comes true.",
    "not_true": "No seed of it gives the same again.",
    "no_wood": "Nothing of it can be struck before the move.",
    "clump": "A rooted piece of it does: it is divided anyway.",
    "too_big": "Its ball would be more than two people lift.",
    "no_cool_day": "No cool day is left before the move, and nothing is dug in the heat without need.",
    "roots_easily": "Cuttings root soon and bear as soon: less to dig and carry.",
    "years_to_bear": "It takes years to bear again from a cutting.",
    "small_enough": "It is small enough to dig.",
    "tender_there": "Winters there are colder than it bears in open ground: keep it in a pot.",
}
DIGGING: Final = (
    "Dig after rain, or water the evening before. Take a third of the foliage off first.",
    "Cut woody roots clean with sharp secateurs or a saw; torn ones rot. Away from you, and mind your feet.",
    "Lift the ball on a cloth, never by the stem. Bend your knees; two people where it says so.",
    "Pot it at once in its own soil, water it, and stand it in shade. In a pot it may ask for water every day.",
)
LOADING: Final = (
    "Heavy pots first, low and in front of the axle; light crates behind. Nothing stands on a plant.",
    "Tie every pot, lay tall ones with the ball to the front, and cover the load: wind on the road dries and breaks.",
    "What the vehicle and the road allow is the law’s to say, and the maker’s plate: look before you load.",
)
LEFT_OUT: Final = (
    "Balls, their weights and how often they are watered are common practice, not measured; sizes are guessed by kind "
    "until you measure. What stands in jars and trays and is not potted yet is not on the list."
)


@dataclass(frozen=True)
class MoveQuestion:
    """Something that is asked before a move and never decided: of what, and whom to ask."""

    key: str
    ask: str
    whom: str


def questions(found: MoveToday) -> list[MoveQuestion]:
    """What is asked of this move. First what belongs to the sale."""
    names = listed(sorted({one.standing.plant.name for one in found.along if is_quarantined(one.standing.plant)}))
    spread = listed(sorted({one.standing.plant.name for one in found.along if one.standing.plant.spreads}))
    asked = [
        MoveQuestion(
            "sale",
            "What is planted may belong to the house. Is it settled in writing what you take?",
            "The buyer or the landlord, before the house is on the market",
        ),
        MoveQuestion("soil", "May soil go with them?", "The plant-health authority, where a border lies between"),
        MoveQuestion("pests", "Is either place in a pest’s or a disease’s area?", "The plant-health authority"),
    ]
    if names:
        asked.append(MoveQuestion("hosts", f"May {names} be moved there?", "The plant-health authority of both places"))
    if spread:
        asked.append(MoveQuestion("weeds", f"Is any of these a declared weed there: {spread}?", "The council there"))
    return asked


def move_title(found: MoveToday) -> str:
    """Where to and when."""
    to = found.row.to.name if found.row.to else "a garden not described yet"
    return f"{found.garden.name} to {to}, {about(found.row.day, found.today)}"


def move_headline(found: MoveToday) -> tuple[str, str]:
    """The move in a line, and what comes next."""
    row, today = found.row, found.today
    if row.moved_on:
        return f"Moved on {about(row.moved_on, today)}.", "What came along is watered at the new place."
    weeks = max(found.days_left // 7, 0)
    when = f"In {plural(weeks, 'week', 'weeks')}" if weeks else f"In {plural(max(found.days_left, 0), 'day', 'days')}"
    when = "Today" if not found.days_left else when
    lead = f"{when}: {len(found.along)} of {len(found.coming)} come along."
    return lead, next_step(found)


def next_step(found: MoveToday) -> str:
    """What is to be done next."""
    today = found.today
    if found.row.asks.get("sale", {}).get("said") != "yes":
        return "First settle in writing what may be taken: what is planted may belong to the house."
    steps = sorted(step for one in found.coming if not one.is_done and (step := _step(one)))
    if not steps:
        return "Everything is dug and struck that has to be. Load heavy pots first."
    day, words = steps[0]
    if day < today:
        return f"{words}: it was to be by {about(day, today)}. Today, then."
    return f"{words} {'today' if day == today else f'by {day_words(day, today)}'}."


def _step(one: Coming) -> tuple[date, str] | None:
    name = plant_words(one.standing.plant.name, one.standing.variety)
    if one.way is MoveWay.DIG and one.answer.dig:
        return one.answer.dig[1], f"Dig {one.standing.name}"
    found = one.reckoning
    if one.way is MoveWay.CUTTINGS and found and found.option and found.to_cut:
        words = found.plant.cutting_one if found.to_cut == 1 else found.plant.cutting_many
        return found.option.day, f"Cut {found.to_cut} {words} of {name}"
    return None


def why_words(one: Coming) -> str:
    """Why that becomes of it."""
    said = " ".join(WHY[code] for code in one.answer.why)
    return f"You chose this; Elder would: {DEEDS[one.answer.way].lower()}. {said}" if one.is_chosen else said


def how_words(one: Coming, today: date, units: str) -> str:
    """What its part is, with days, counts and weights."""
    answer, way = one.answer, one.way
    if one.is_done and one.row and one.row.done_on:
        return f"Done {about(one.row.done_on, today)}."
    if way is MoveWay.DIG:
        return _dig_words(answer, today, units)
    if way is MoveWay.CUTTINGS:
        return _cutting_words(one, today)
    if way is MoveWay.POT:
        kg = one.standing.kg
        many = (
            f"{one.standing.count} pots of {shown_weight(kg, units)}"
            if one.standing.count > 1
            else shown_weight(kg, units)
        )
        return f"{many}{_people(answer.people, emptied=answer.emptied)}."
    if way is MoveWay.SEED:
        return "Gather it ripe and dry, in paper, named and dated."
    return "It stays. Say so to whoever comes." if not answer.cut else "It stays; cuttings of it could come."


def _dig_words(answer: MoveAnswer, today: date, units: str) -> str:
    if answer.ball is None or answer.dig is None:
        return "No day is left that is cool enough; measure it, or choose another way."
    ball = f"a ball of {shown_fine_length(round(answer.ball.across_cm), units)}{_pot_words(answer.ball, units)}"
    days = span_words(*answer.dig, today) if answer.dig[0] < answer.dig[1] else about(answer.dig[0], today)
    growth = ", in growth because it must be: in the evening, and into shade" if answer.must else ", after rain"
    return f"{days}{growth}; {ball}, {shown_weight(answer.ball.kg, units)}{_people(answer.people)}."


def _pot_words(ball: Ball, units: str) -> str:
    """The smallest pot it goes into; a sack where none is so wide."""
    pots = [one for one in shipped().values() if one.kind == "pot" and not one.cells and one.is_round]
    wide = [one for one in pots if one.foot_cm[0] >= ball.across_cm and one.volume_l >= ball.litres / 2]
    if not wide:
        return " into a sack or a tub"
    return f" into a pot of {shown_volume(math.ceil(min(one.volume_l for one in wide) - 0.2), units)}"


def _people(people: int, *, emptied: bool = False) -> str:
    if emptied:
        return ", emptied"
    return ", two people" if people == 2 else ""


def _cutting_words(one: Coming, today: date) -> str:
    found = one.reckoning
    if found is None:
        return "Nothing of it can be struck here before the move."
    if found.batches:
        ready = round(
            sum(float(batch.forecast.expected[batch.forecast.index(found.target or today)]) for batch in found.batches)
        )
        return f"Struck: about {ready} in pots by the move, of {one.wanted} wanted."
    if found.refusal:
        said = refusal_words(found.refusal, today, found.plant)
        return f"Not rooted by the move: {said} Cut it on the last day, and strike it there."
    if found.option is None or not found.to_cut:
        return "No day from today brings them in time."
    words = found.plant.cutting_one if found.to_cut == 1 else found.plant.cutting_many
    day = "today" if found.option.day == today else f"by {day_words(found.option.day, today)}"
    trays = _tray_words(found.to_cut) if one.row and one.row.hedge_m else ""
    return f"Cut {found.to_cut} {words} {day} for {counted(one.wanted)} in pots{trays}."


def _tray_words(count: int) -> str:
    """A hedge's cuttings stand in trays of cells."""
    tray = shipped()["hundred" if count > shipped()["tray"].cells else "tray"]
    many = -(-count // tray.cells)
    return f", in {counted(many)} {tray.one if many == 1 else tray.many}"


def load_headline(plan: LoadPlan, carries_kg: float, units: str) -> tuple[str, str]:
    """The load in a line."""
    if not plan.journeys and not plan.left:
        return "Nothing to load.", ""
    trips = "One journey" if len(plan.journeys) == 1 else f"{counted(len(plan.journeys)).capitalize()} journeys"
    heaviest = max((one.kg for one in plan.journeys), default=0.0)
    said = (
        f"The heaviest load is {shown_weight(heaviest, units)} of the {shown_weight(carries_kg, units)} it may carry."
    )
    if plan.emptied:
        said += f" Emptied first: {listed(one.thing.name for one in plan.emptied)}."
    laid = [one.thing.name for journey in plan.journeys for one in journey.stowed if one.lies]
    if laid:
        said += f" Laid: {listed(laid)}."
    if plan.left:
        said += f" Too big or too heavy for it: {listed(one.name for one in plan.left)}."
    return f"{trips}.", said


def water_words(one: Watered, today: date, units: str) -> str:
    """The next deep watering of something planted."""
    litres = shown_volume(one.row.water_l, units)
    if one.next_day is None:
        return f"Its three months are over; {one.done} waterings of {one.all}. Now it looks after itself."
    when = "today" if one.next_day <= today else about(one.next_day, today)
    return f"{litres} {when}, slowly, over the whole ball; not in a week of much rain."
