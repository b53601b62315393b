"""The winter list in words."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date, timedelta
from typing import Final

from elder.engine.chance.counting import chance_at_least
from elder.engine.plan.light_needs import Suited
from elder.engine.round.lifting import at_a_time, weight_limit_kg
from elder.engine.year.winter import LIST_OPENS_DAYS, HowMany, Second, WinterWay
from elder.web.garden.models import Place
from elder.web.read.winter import WinterLine, WinterList
from elder.web.read.winter_cares import CareToday
from elder.web.say.plants import plant_words
from elder.web.say.units import shown_weight, temperature
from elder.web.say.words import about, counted, day_words, odds, plural

DEEDS: Final = {
    WinterWay.POT_IN: "Carry in",
    WinterWay.DUG: "Dig and pot",
    WinterWay.COVERED: "Cover",
    WinterWay.TOPS: "Strike its tops",
    WinterWay.LEFT: "Left where it stands",
    WinterWay.SOWN: "Sown again in spring",
    WinterWay.LOST: "Nothing here keeps it",
}
PAST: Final = {
    "in": "Carried in",
    "dug": "Dug and potted",
    "covered": "Covered",
    "tops": "Tops struck",
}
# How what comes in is kept: common practice.
KEEPING: Final = (
    "Look under every leaf before it comes in, and let it stand apart for three weeks: what crawls comes with it.",
    "Water less: when a finger deep is dry, and never into the crown. No feed until it grows again.",
    "Nothing is sprayed that was cut within the fortnight; pick pests off by hand.",
    "Covers come off on mild days, or what is under them rots.",
)


def named(line: WinterLine) -> str:
    """What stands there: "Rosemary", "6 Tomato ‘Ninepin’"."""
    words = plant_words(line.standing.plant.name, line.standing.variety)
    return words if line.standing.count == 1 else f"{line.standing.count} × {words}"


def list_headline(found: WinterList) -> tuple[str, str]:
    """The list in a line: what comes first, how much there is."""
    today, work = found.today, [line for line in found.work if not line.is_done]
    if not found.work and not found.done:
        return "Nothing need come in.", "Everything that stands here bears its winters where it stands."
    if not work:
        return "Everything is seen to.", "Look it through once a fortnight; the days stand below."
    dated = [line for line in work if line.due]
    if not dated:
        return f"{plural(len(work), 'thing', 'things')} to see to before winter.", ""
    first = dated[0]
    due = first.due or today
    if due - timedelta(days=LIST_OPENS_DAYS) > today:
        opens = about(due - timedelta(days=LIST_OPENS_DAYS), today)
        return (
            f"Not before {opens}.",
            f"As things stand {plural(len(work), 'thing', 'things')} will want seeing to; \
the first is {named(first)}, by {about(due, today)}.",
        )
    late = " Its day has gone by: tonight, if it still lives." if due < today else ""
    said = f"{DEEDS[first.way]} {named(first)} first, by {day_words(due, today)}.{late}"
    return f"{plural(len(work), 'thing', 'things')} to see to.", said


def reason_words(line: WinterLine, units: str) -> str:
    """Why: what it bears, and how cold it gets where it stands."""
    answer = line.answer
    bears, lowest = temperature(answer.bears_c, units), temperature(answer.lowest_c, units)
    if line.way is WinterWay.LEFT:
        if line.standing.place and line.standing.place.standing == Place.Standing.ROOM:
            return f"It stands indoors and bears {bears}."
        return f"It bears {bears} there; in one winter of ten it falls to {lowest}."
    killed = winters_words(answer.bare)
    said = f"It bears {bears}, and it falls to {lowest} there in one winter of ten: {killed} would kill it."
    instead = line.standing.plant.instead
    if instead and line.way in (WinterWay.SOWN, WinterWay.LOST):
        return f"{said} {instead.text}"
    if line.way is WinterWay.COVERED:
        return f"{said} Under a cover {odds(1 - answer.covered)} that it lives."
    return said


def winters_words(share: float) -> str:
    """So many winters: "nearly every winter", "5 winters of 10"."""
    tenths = round(10 * share)
    if tenths >= 10:
        return "nearly every winter"
    return f"{plural(tenths, 'winter', 'winters')} of 10" if tenths else "fewer than one winter of 10"


def where_words(line: WinterLine, places: Mapping[int, Place], units: str) -> str:
    """Where to, and how heavy."""
    parts = []
    if line.shelter and line.way in (WinterWay.POT_IN, WinterWay.DUG):
        parts.append(f"to {places[int(str(line.shelter.key))].name}")
        if line.shelter.light is not Suited.FITS:
            parts.append("which is dim in winter")
        if line.crowded:
            parts.append(f"where {line.crowded} find no room")
    if line.standing.kg and line.way is WinterWay.POT_IN:
        parts.append(lift_line(line.standing.kg, line.standing.count, units))
    return ", ".join(parts)


def lift_line(kg: float, count: int, units: str) -> str:
    """How heavy one pot is, and how many at a time."""
    most = at_a_time(kg, weight_limit_kg())
    weighs = f"about {shown_weight(kg, units)} a pot" if count > 1 else f"about {shown_weight(kg, units)}"
    if not most:
        return f"{weighs}: two people, or slide it"
    return f"{weighs}, {most} at a time" if count > most else weighs


def many_words(many: HowMany, line: WinterLine) -> str:
    """How many to keep for so many in spring."""
    plant = line.standing.plant
    count = line.standing.count
    if many.mothers > count > 1 and line.way is not WinterWay.TOPS:
        return f"The {counted(count)} that stand are too few for {many.wanted} in spring, even if all live."
    if many.kept > count and line.keep and line.way is not WinterWay.TOPS:
        chance = float(chance_at_least(min(many.mothers, count), count, chance_ready=1.0, take=line.keep))
        said = odds(chance)
        comes = "it comes through alone" if count == 1 else f"enough of the {counted(count)} come through"
        return f"{said[:1].upper()}{said[1:]} that {comes}; tops or more of them make it surer."
    kept = f"Keep {many.kept} for {many.wanted} in spring"
    if not many.cut:
        return f"{kept}, 9 times in 10."
    lives = (
        f"{counted(many.mothers)} that lives gives" if many.mothers == 1 else f"{counted(many.mothers)} that live give"
    )
    return f"{kept}: {lives} the {plural(many.cut, plant.cutting_one, plant.cutting_many)} they are cut from."


def tops_words(line: WinterLine, today: date) -> str:
    """How many tops to strike, and when."""
    answer, many = line.answer, line.many
    if answer.tops is None or many is None or answer.tops_from is None or answer.tops_until is None:
        return ""
    plant = line.standing.plant.grown_by(answer.tops)
    count = plural(max(many.tops, 1), plant.cutting_one, plant.cutting_many)
    span = f"from {about(max(answer.tops_from, today), today)} to {about(answer.tops_until, today)}"
    if answer.tops_until < today:
        return f"Its tops could have been struck until {about(answer.tops_until, today)}."
    return f"Strike {count} {span}, {answer.tops.name}."


def worth_words(line: WinterLine) -> str:
    """What spares kept apart are worth."""
    if line.worth is None:
        return ""
    alone, both = line.worth
    return f"The bed alone: {odds(alone)} that there is something to go on from. With spares kept apart: {odds(both)}."


def care_words(one: CareToday, today: date) -> str:
    """What is to be done for what winters."""
    said = [f"{one.alive} live"] if one.alive != one.row.count else [f"{plural(one.alive, 'plant', 'plants')}"]
    if one.apart_until:
        said.append(f"apart from the house plants until {about(one.apart_until, today)}")
    due = "today" if one.next_check <= today else day_words(one.next_check, today)
    said.append(f"look under the leaves {due}")
    return ", ".join(said)


def second_words(one: CareToday, second: Second, today: date) -> str:
    """The second step, from those that really lived."""
    row, plant = one.row, one.plant
    died = max(row.count - (row.lived or 0), 0)
    gone = f"{counted(died).capitalize()} died; " if died else "All lived; " if row.count > 1 else ""
    alive = row.lived or 0
    if not alive:
        return "None lived. Begin again from the bed, or from seed."
    if not second.cut:
        return f"{gone}{alive} live: pot them on, and set them out from {about(row.out_on or today, today)}."
    cut = plural(second.cut, plant.cutting_one, plant.cutting_many)
    if second.sure >= row.wanted:
        return f"{gone}{alive} live: cut {cut} from them for {row.wanted}, {odds(second.chance)}."
    few = f"{odds(second.chance)} for {row.wanted}, 9 in 10 for {second.sure}"
    return f"{gone}{alive} live: {cut} are all they give; {few}."
