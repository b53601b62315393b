"""Sentences for batches: where they stand, what comes next, each line of a history."""

from __future__ import annotations

from elder.engine.round.milestones import Task
from elder.engine.round.verdicts import table
from elder.web.batches.models import Entry
from elder.web.read.batches import BatchToday
from elder.web.read.ways import way_of
from elder.web.say.care import DEED_PAST
from elder.web.say.plants import plant_words
from elder.web.say.routes import move_words, stage_words
from elder.web.say.words import about, counted, days_away, listed, of_one, of_them, plural


def next_words(batch: BatchToday) -> str:
    """What comes next for a batch, in a sentence."""
    today, state = batch.today, batch.state
    if state.over:
        return "Over: all of it is planted, given away or lost."
    tasks = batch.tasks
    if not tasks:
        return "Nothing is due; it grows on."
    task = tasks[0]
    late = task.due < today
    by = " by now" if late else f" by {about(task.due, today)}"
    when = "now" if late else days_away(task.due, today)
    said = {
        "first_look": f"First look {when}: {'more than ' if late else ''}1 in 10 are likely rooted{by}.",
        "next_look": f"Look again {when}: {'more than ' if late else ''}another tenth are likely rooted{by}.",
        "give_up": f"Little hope is left for the {task.count} still waiting. Give them up, or let them be.",
        "pot_on": _pot_on_words(task, batch, when),
        "lift": f"Lift and pot {when}, while they rest: {task.count} in the row.",
        "harden": f"Start hardening {when}, for {batch.method.harden_days} days.",
        "plant_out": f"Plant out {when}.",
        "harvest": f"First harvest likely about {about(task.due, today)}.",
    }
    return said[task.verb]


def _pot_on_words(task: Task, batch: BatchToday, when: str) -> str:
    """That those rooted are to be moved on, or, measured too short, when to measure again."""
    those = plural(task.count, "rooted one", "rooted ones")
    if task.due > batch.today:
        return f"Measure the {those} again {when}: they are moved on at {batch.method.ready_sign}."
    name = move_words("pot-on", batch.method.route)
    return f"{name} the {those} ({batch.method.ready_sign})." if name == "Pot on" else f"{name}: {those}."


QUICK, SLOW = 0.87, 1.15  # nearer to the usual than this is not worth a word (assumed)


def hope_words(batch: BatchToday) -> str:
    """Patience, for those still waiting."""
    waiting = batch.state.count("waiting")
    if not waiting:
        return ""
    ahead = batch.forecast
    end = about(ahead.give_up_on, batch.today) if ahead.give_up_on else ""
    # Of a batch of which nothing has shown, it is the batch that is given up; else those left behind.
    # The batch's patience and a piece's are two: with no root at all by then it is the whole batch that failed.
    if batch.state.rooted_ever:
        until = f" Those without roots by {end} are not worth the place."
    elif batch.state.taken == 1:
        until = f" If it shows none by {end}, give it up."
    else:
        until = f" With no root on any by {end}, give the batch up; once some show, the rest get longer."
    until = (until if end else "") + pace_words(batch)
    if ahead.give_up_on and ahead.give_up_on <= batch.today:
        return _spent_words(batch, waiting)
    if waiting == 1:
        return f"The one still waiting {of_one(ahead.hope)} root.{until}"
    return f"Of the {counted(waiting)} still waiting, {of_them(waiting, ahead.hope)} should root.{until}"


def pace_words(batch: BatchToday) -> str:
    """That a batch is quick or slow, where what was seen of it says so."""
    pace = batch.forecast.pace
    if not batch.state.looks or QUICK < pace < SLOW:
        return ""
    share = round(10 * abs(pace - 1))
    kind, way = ("slow", "longer") if pace > 1 else ("quick", "shorter")
    return f" This batch is {kind}: its days run about {share} in 10 {way} than usual."


def _spent_words(batch: BatchToday, waiting: int) -> str:
    """Where patience has run out, or would have if anybody had looked."""
    hope = batch.forecast.hope
    if batch.state.last_look == batch.today:
        if waiting == 1:
            return f"The one still waiting {of_one(hope)} root now, and is no longer worth the place."
        likely = of_them(waiting, hope)
        return f"Of the {counted(waiting)} still waiting, {likely} should root now; they are no longer worth the place."
    lead = "By the last look" if batch.state.looks else "Nobody has looked yet; by their days"
    if waiting == 1:
        lead = lead.replace("their", "its")
        return f"{lead}, the one waiting {of_one(hope)} root; if nothing shows by now, give it up."
    likely = f"{of_them(waiting, hope)} of the {counted(waiting)} waiting"
    return f"{lead}, {likely} should root; if none shows by now, give them up."


def counts_words(batch: BatchToday) -> str:
    """Where all of them are: the sum that adds up."""
    state = batch.state
    words = stage_words(batch.method.route)
    parts = [f"{state.count(stage)} {word}" for stage, word in words.items() if state.count(stage)]
    parts += [f"{state.given} given away"] if state.given else []
    parts += [f"{state.lost} lost"] if state.lost else []
    return f"{state.taken} cut: {listed(parts)}"


def entry_words(entry: Entry) -> str:
    """One line of a history."""
    kind, count = Entry.Kind(entry.kind), entry.count
    if kind == Entry.Kind.LOST:
        why = f", {Entry.Why(entry.why).label}" if entry.why else ""
        return f"{count} lost{why}" + (f" ({signs_words(entry)})" if entry.signs else "")
    if kind == Entry.Kind.LOOKED:
        return f"looked: {signs_words(entry)}" if entry.signs else "looked: as it should be"
    if kind == Entry.Kind.TENDED:
        return f"{count} {DEED_PAST[entry.deed]}" if count else DEED_PAST.get(entry.deed, entry.deed)
    if kind == Entry.Kind.TRIMMED:
        return trimmings_words(entry.deed, count) + (f": {entry.note}" if entry.deed == "used" else "")
    if kind == Entry.Kind.MOVED:
        return f"moved to {entry.place.name if entry.place else 'another place'}"
    saw = f" ({signs_words(entry)})" if entry.signs else ""
    plain = {
        Entry.Kind.TAKEN: f"{count} cut",
        Entry.Kind.ROOTED: f"{count} newly rooted{saw}",
        Entry.Kind.POTTED_UP: "potted up a size",
        Entry.Kind.NOTE: "note",
        Entry.Kind.POTTED: f"{count} {potted_words(entry) if kind == Entry.Kind.POTTED else ''}",
        Entry.Kind.LIFTED: f"{count} lifted and potted",
        Entry.Kind.HARDENING: f"{count} put out to harden",
        Entry.Kind.PLANTED: f"{count} planted out",
        Entry.Kind.GIVEN: f"{count} given away" + (", unrooted" if entry.stage == "waiting" else ""),
        Entry.Kind.HARVESTED: "first harvest",
        Entry.Kind.STRUCK: "struck out an entry",
    }
    return plain[kind]


def potted_words(entry: Entry) -> str:
    """What potting came to on the batch's route."""
    if not entry.batch_id:  # sent twice, and so not written again
        return "potted on"
    words = stage_words(way_of(entry.batch)[1].route)
    return words["potted"] if words["potted"] in ("in solution", "lifted and potted") else "potted on"


FATES = {
    "struck": "struck as well",
    "kitchen": "to the kitchen",
    "animals": "to the animals",
    "used": "put to use",
    "compost": "composted",
}


def trimmings_words(fate: str, count: int) -> str:
    """What became of what was cut off: "trimmings composted", "3 more cuttings from the trimmings"."""
    if fate == "struck":
        return f"{plural(count, 'more cutting', 'more cuttings')} from the trimmings"
    return f"trimmings {FATES.get(fate, fate)}"


def signs_words(entry: Entry) -> str:
    """The signs of a look, with the length of the longest root where it was measured."""
    names = table().names
    said = [names.get(sign, sign) for sign in entry.signs.split() if sign != "root_length"]
    return listed([*said, f"roots of {entry.root_cm:g} cm"] if entry.root_cm else said)


def title_of(batch: BatchToday) -> str:
    """What a batch is called: its number and plant."""
    return f"{batch.state.taken} {plant_words(batch.plant.name, batch.row.variety)}"


def name_of(batch: BatchToday) -> str:
    """A batch in a line with others: its plant and variety."""
    return plant_words(batch.plant.name, batch.row.variety)
