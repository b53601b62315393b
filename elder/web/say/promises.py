"""What is promised, in words."""

from __future__ import annotations

from datetime import date
from typing import Final

from elder.engine.year.road import Leaving, OnTheWay
from elder.web.read.promises import PromiseToday
from elder.web.say.more import does_until
from elder.web.say.plants import plant_words
from elder.web.say.refusals import refusal_words
from elder.web.say.units import shown_fine_length, shown_lift, temperature_sign
from elder.web.say.words import about, counted, day_words, days_away, listed, odds, plural, sureness
from elder.web.season.models import Want

AS: Final = {
    Want.HandedAs.PLANTS: "in pots",
    Want.HandedAs.ROOTED: "rooted",
    Want.HandedAs.UNROOTED: "unrooted",
}
LEFT_OUT: Final = (
    "Batches of one mother and fortnight share their luck in this chance. What is lent by a batch of another want has "
    "that want served first. Plants that break on the way are not in it."
)


def thing_words(found: PromiseToday, count: int | None = None) -> str:
    """How many of what: "32 Mint", "6 unrooted Fig"."""
    want = found.want
    name = plant_words(found.plant.name, want.variety)
    many = want.wanted if count is None else count
    stage = f"{AS[Want.HandedAs(want.handed_as)]} " if want.handed_as else ""
    return f"{many} {stage}{name}"


def promise_title(found: PromiseToday) -> str:
    """A promise's name: "32 Mint for the school fair"."""
    return f"{thing_words(found)} for {found.row.who}"


def promise_headline(found: PromiseToday) -> tuple[str, str]:
    """How a promise stands, and what to do."""
    row, word, today = found.row, found.word, found.today
    day = about(found.by, today)
    if word == "done":
        return ("Handed over.", _own_left(found)) if row.handed else ("Called off.", "")
    if word == "ready":
        late = f", which was {days_away(found.by, today)}" if found.by < today else ""
        said = f"{row.left} can go today; promised for {day}{late}."
        if found.is_unrooted:
            return _cut_when_they_go(found)
        return "They stand there.", f"{said} {_own_left(found)}".strip()
    if found.is_unrooted:
        return _unrooted(found)
    if word == "refused" and found.reckoning and found.reckoning.refusal:
        return "Not from here:", refusal_words(found.reckoning.refusal, today, found.plant)
    if word == "to-cut":
        return _to_cut(found)
    return _under_way(found)


def _cut_when_they_go(found: PromiseToday) -> tuple[str, str]:
    """What is to go unrooted, of which there is enough today."""
    from_whom = listed(f"{one.now} from {one.row.name}" for one in found.mothers)
    if found.by > found.today:
        return (
            "Cut them the day they go.",
            f"There are enough today, {from_whom}; promised for {about(found.by, found.today)}.",
        )
    return f"Cut {found.row.left} today.", f"There are {from_whom}."


def _unrooted(found: PromiseToday) -> tuple[str, str]:
    day = about(found.by, found.today)
    if not found.mothers:
        return "No mother gives any now.", f"{found.row.left} are promised for {day}; look again nearer the day."
    from_whom = listed(f"{one.now} from {one.row.name}" for one in found.mothers)
    if found.by > found.today:
        return f"Cut them on {day}.", f"Today they would give {found.now} of {found.row.left}: {from_whom}."
    return f"{plural(found.short, 'cutting', 'cuttings')} short.", f"Today there are {from_whom}."


def _to_cut(found: PromiseToday) -> tuple[str, str]:
    cut = found.cut_by
    if cut is None:
        return "Nothing is cut for it.", "No day from today brings them in time."
    count, day = cut
    when = "today" if day == found.today else f"by {day_words(day, found.today)}"
    words = found.plant.cutting_one if count == 1 else found.plant.cutting_many
    own = f", {found.own} of them for yourself" if found.own else ""
    return f"Cut {count} {words} {when}.", f"Then {odds(found.chance)} of {found.want.total} plants{own}."


def _under_way(found: PromiseToday) -> tuple[str, str]:
    chance, day = odds(found.chance), about(found.by, found.today)
    promised = found.want.wanted
    all_of = f"all {promised}" + (f" and your own {counted(found.own)}" if found.own else "")
    if found.word == "on-course":
        return "On course:", f"{chance} of {all_of} by {day}."
    sure = found.kept.sure if found.kept else 0
    lead = f"{found.short} short." if found.short else "Tight:"
    said = f"{chance[0].upper()}{chance[1:]} of {all_of} by {day}"
    said += f"; {sureness(found.want.confidence)} of {sure}." if sure else "."
    if found.kept and found.kept.helps and found.own:
        said += f" Keeping none yourself: {odds(found.kept.bare)}."
    return lead, f"{said} {_way_out(found)}".strip()


def _way_out(found: PromiseToday) -> str:
    more = found.reckoning.shortfall if found.reckoning else None
    if more is None:
        return f"No cut from today would be in time: tell {found.row.who} now."
    words = found.plant.cutting_one if more.count == 1 else found.plant.cutting_many
    when = "now" if more.day == found.today else f"on {about(more.day, found.today)}"
    return f"Cut {more.count} {words} more {when}; {does_until(more, found.today)}."


def _own_left(found: PromiseToday) -> str:
    """What of one's own share is left once the promise is kept."""
    if not found.own:
        return ""
    spare = found.now - found.row.left
    if spare >= found.own:
        return f"Your own {counted(found.own)} stay."
    return f"Of your own {counted(found.own)} that leaves {counted(max(spare, 0))}."


def worth_words(found: PromiseToday) -> str:
    """What is had for it: "a sale, 48.00", "a swap for seed potatoes"."""
    row = found.row
    said = row.get_how_display()
    if row.price is not None:
        said += f", {row.price:.2f}"
    return f"{said} for {row.swap}" if row.swap else said


def board_headline(found: list[PromiseToday], today: date) -> tuple[str, str]:
    """All that is promised, in a line: the shortest first."""
    if not found:
        return "Nothing is promised.", "A promise says for whom, how many and by when; Elder says whether it holds."
    many = sum(one.row.left for one in found)
    short = [one for one in found if one.short]
    lead = f"{plural(many, 'plant is', 'plants are')} promised."
    if short:
        worst = max(short, key=lambda one: one.short)
        return (
            lead,
            f"{worst.short} short of {promise_title(worst)}, {about(worst.by, today)}: say so now, or cut more.",
        )
    ready = [one for one in found if one.word == "ready"]
    if ready:
        return lead, f"{promise_title(ready[0])} can go today."
    soonest = found[0]
    return lead, f"The first is {promise_title(soonest)}, by {about(soonest.by, today)}."


FARES: Final = {
    OnTheWay.WELL: "fares well",
    OnTheWay.COLD: "too cold on the way",
    OnTheWay.HOT: "too hot on the way",
    OnTheWay.LONG: "longer than it bears a parcel",
    OnTheWay.UNKNOWN: "weather not told yet",
}


def leaving_words(one: Leaving, today: date, units: str) -> tuple[str, str]:
    """A day to send on: the day with its arrival, and how it fares."""
    over = ""
    if one.over_c:
        by = shown_lift(one.over_c, units)
        over = f", by {by:.0f} {temperature_sign(units)}" if by >= 1 else ", if only just"
    return f"{day_words(one.day, today)}, there {day_words(one.arrives, today)}", f"{FARES[one.fares]}{over}"


def packing_lines(found: PromiseToday, units: str) -> list[str]:
    """How it is packed, by what it is: common practice."""
    row, want = found.row, found.want
    if row.goes == row.Goes.HAND:
        return []
    lines = []
    soil = row.soil != row.Answered.YES
    if want.handed_as == Want.HandedAs.PLANTS:
        lines.append(
            "No soil may travel, or nobody has said it may: knock the mix off, rinse the roots, and wrap them in damp "
            "paper." if soil else "Watered the evening before, each pot tied into a bag, so that nothing falls out."
        )  # fmt: skip
    elif want.handed_as == Want.HandedAs.ROOTED:
        lines.append("Roots rinsed and laid in damp paper, tops dry; no soil with them.")
    else:
        inner = shown_fine_length(row.inner_cm, units)
        lines.append(f"Feet in damp paper, tops dry, bundles of ten laid head by foot in {inner}.")
    lines.append("Nothing wet and closed: a bag with holes, and paper round it.")
    lines.append("Write on it which way up, and that plants are inside.")
    return lines


def answers_words(found: PromiseToday, cautions: list[str]) -> list[str]:
    """What the answers come to."""
    row = found.row
    lines = list(cautions)
    if row.border == row.Answered.YES:
        lines.append(
            "It crosses a border: plants and soil want papers there. Ask the plant-health authority of both sides."
        )
    elif row.border == row.Answered.UNKNOWN:
        lines.append("Whether it crosses a border, or the edge of a pest’s area, is not said yet.")
    if row.soil == row.Answered.NO:
        lines.append("No soil goes with it: bare roots, rinsed.")
    return lines
