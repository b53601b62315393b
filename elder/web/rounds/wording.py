"""Sentences of the round: deeds, how they are done, what is to be carried, how a want stands after a look."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Final

from elder.engine.round.care import UNCOVER_STEPS
from elder.engine.round.hardening import SEEDLING_DAYS, hardening_ladder
from elder.engine.round.loads import vessel_now
from elder.engine.round.potting import ladder, potting_of, ready_sign
from elder.engine.shed.containers import potted_in
from elder.web.read.batches import BatchToday
from elder.web.rounds.carry import Carry
from elder.web.rounds.round import Job, Shared
from elder.web.say.batches import name_of
from elder.web.say.care import CAUTIONS, rung_words
from elder.web.say.containers import CONTAINER_WORDS, filled_words, vessel_words
from elder.web.say.light import fit_words
from elder.web.say.routes import pot_on_words
from elder.web.say.units import shown_volume, shown_weight, temperature
from elder.web.say.words import about, counted, days_away, listed, plural

# Each deed: its name before what it is done to, how it is done, and what its button says.
DEED_WORDS: Final = {
    "water": ("Change the water in", "Room temperature, to the same mark.", "Water changed"),
    "top_up": ("Top up", "To the mark, no higher.", "Topped up"),
    "mist": ("Mist", "Leaves, not the mix; early rather than late.", "Misted"),
    "moisten": ("Moisten", "From below, until the top darkens; then let it drain.", "Moistened"),
    "air": ("Air", "Cover off for ten minutes, then back.", "Aired"),
    "uncover": ("Uncover", "", "Uncovered"),
    "feed": ("Feed", "On damp mix. {feed}", "Fed"),
    "feed_water": ("A few drops of feed in", "Only if they must wait there; potting on is better.", "Fed"),
    "soak": ("Keep very wet", "Today and tomorrow: roots from water are tender.", "Soaked"),
    "water_pots": ("Water", "Only those whose top is dry.", "Watered"),
    "water_in": ("Water in", "At the foot, deeply, in the evening.", "Watered in"),
    "pests": ("Look for pests on", "Under the leaves and in the nodes; by hand, before anything else.", "Looked, none"),
    "light": ("Move to more light", "Bright shade until now; six hours of sun from now on.", "Moved"),
    "stake": ("Support", "{support}", "Supported"),
    "recut": ("Recut", "Back to clean green, dried half an hour.", "Recut"),
    "carry_out": ("Carry out again", "The night is mild: back where they stood, or the fleece off.", "Carried out"),
    "fill_up": ("Fill up round", "{fill_up}", "Filling up"),
    "pinch": ("Pinch", "Flower buds, or the tips of herbs, with finger and thumb.", "Pinched"),
    "harden_step": ("Harden", "", "Done for today"),
    "shade": ("Shade", "Too hot there today: full shade, and mist.", "Shaded"),
    "carry_in": ("Carry in", "", "Carried in"),
    "solution": ("Make anew the solution of", "{feed} Rinse the roots in plain water first.", "Made anew"),
    "stick": ("Stick", "The cut has skinned over; its cut sheet says how deep, and when to water.", "Stuck"),
}
JAR_DEEDS: Final = frozenset(("water", "top_up", "feed_water", "air", "moisten", "mist", "uncover", "shade"))


def containers_of(job: Job) -> tuple[str, int]:
    """Which containers a deed is done to, and how many: as the cut sheet filled them."""
    batch = job.batch
    if job.verb not in JAR_DEEDS:
        return batch.method.container, job.task.count
    if not batch.state.count("waiting") + batch.state.count("rooted") and batch.method.grows_in:
        return batch.method.grows_in, sum(one.filled.vessels for one in batch.stands)
    stuck = next((one.filled for one in batch.stands if one.stage == "stuck"), None)
    return (stuck.kind, stuck.vessels) if stuck else (batch.method.container, 1)


def shared_title(shared: Shared) -> str:
    """A shared deed: "Change the water in all four jars"."""
    name = DEED_WORDS[shared.verb][0]
    if shared.verb in JAR_DEEDS:
        kinds: dict[str, int] = {}
        for kind, many in map(containers_of, shared.jobs):
            kinds[kind] = kinds.get(kind, 0) + many
        parts = [_how_many(CONTAINER_WORDS[kind], count, alone=len(kinds) == 1) for kind, count in kinds.items()]
        return f"{name} {listed(parts)}"
    count = sum(job.task.count for job in shared.jobs)
    word = ("pot", "pots") if shared.verb in ("water_pots", "soak") else ("plant", "plants")
    return (
        f"{name}: {plural(count, *word)}" if shared.verb == "light" else f"{name} {_how_many(word, count, alone=True)}"
    )


def _how_many(kind: tuple[str, str], count: int, *, alone: bool) -> str:
    """ "the jar", "both jars", "all four jars"; with others beside it just "four jars"."""
    one, many = kind
    if not alone:
        return f"{counted(count)} {one if count == 1 else many}"
    if count == 1:
        return f"the {one}"
    return f"both {many}" if count == 2 else f"all {counted(count)} {many}"


def shared_about(shared: Shared) -> str:
    """What a shared deed is done to, and how."""
    names = listed(dict.fromkeys(name_of(job.batch) for job in shared.jobs))
    return f"{names}. {how_of(shared.jobs[0])} {_notes(shared)}".strip()


def _notes(shared: Shared) -> str:
    """What air, light and weather add; whose it is, where it is not the same for all."""
    whose: dict[str, list[str]] = {}
    for job in shared.jobs:
        if job.about.said:
            whose.setdefault(job.about.said, []).append(name_of(job.batch))
    if len(whose) < 2:
        return "".join(whose)
    return " ".join(f"{listed(dict.fromkeys(names))}: {said[0].lower()}{said[1:]}" for said, names in whose.items())


def how_of(job: Job) -> str:
    """How a deed is done."""
    potting = potting_of(job.batch.plant, job.batch.method)
    if job.verb == "uncover":
        done = len([day for day in job.batch.state.tended.get("uncover", ()) if day >= _first_root(job)])
        return f"Cover off {UNCOVER_STEPS[min(done, len(UNCOVER_STEPS) - 1)]}: by degrees, now that there are roots."
    if job.verb == "harden_step":
        since = job.batch.state.since("hardening") or job.batch.today
        rungs = hardening_ladder(job.batch.method.harden_days)
        return rung_words(rungs[min((job.batch.today - since).days, len(rungs) - 1)], len(rungs))
    if job.verb == "mist" and job.batch.method.medium == "bark":
        return "Wet them through; three times a day in heat."
    return DEED_WORDS[job.verb][1].format(feed=potting.feed_strength, support=potting.support, fill_up=potting.fill_up)


def _first_root(job: Job) -> date:
    return job.batch.state.rooted_seen[0].since


def ladder_words(days: int) -> str:
    """Why the ladder is so short."""
    low, high = SEEDLING_DAYS
    return f"{days} days will do for clones; seedlings want {low} to {high}."


@dataclass(frozen=True)
class JobWords:
    """A batch's own task: its deed, what it is about, and a caution where one is due."""

    deed: str
    about: str
    caution: str


def job_words(job: Job, units: str) -> JobWords:
    """A task of one batch."""
    batch, count = job.batch, job.task.count
    sign = ready_sign(batch.method)
    deeds = {
        "first_look": ("First look", f"{plural(count, 'cutting', 'cuttings')}: 1 in 10 likely rooted. {sign.look}"),
        "next_look": ("Look again", f"{count} waiting, another tenth likely rooted. {sign.look}"),
        "tug": ("A light tug", f"{count} waiting, another tenth likely rooted. One that holds has roots."),
        "give_up": ("Go on, or give up?", f"{count} still waiting, with little hope left."),
        "pot_on": (
            pot_on_words(batch.method.route, count),
            f"{sign.words.capitalize()}: their sign. {potting_words(batch, units)}",
        ),
        "harden": (f"Put out {count} to harden", ladder_words(batch.method.harden_days)),
        "plant_out": (f"Plant out {count}", "Hardened, and the gate is open."),
        "harvest": ("Look for a first harvest", f"{plural(count, 'plant', 'plants')} in the ground."),
        "lift": (f"Lift and pot {count}", f"They rest now, in their row. {potting_words(batch, units)}"),
        "pot_up": (f"Pot up {count}", _pot_up_words(batch, units)),
        "stick": (f"Stick {count}", DEED_WORDS["stick"][1]),
    }
    if job.verb == "relight":
        return _relight_words(job)
    deed, said = deeds[job.verb]
    return JobWords(deed, f"{said} {job.about.said}".strip(), CAUTIONS.get(job.verb, ""))


def _relight_words(job: Job) -> JobWords:
    """What stands in the wrong light: why, and where it would have it."""
    found = job.about.light
    if found is None:
        raise ValueError("what is moved for light says why")
    deed = f"Move {found.count} to more light" if found.is_dark else f"Move {found.count} out of the sun"
    stage = "unrooted" if found.stage == "unrooted" else "rooted"
    there = f"; {found.there.name} suits" if found.there else "; no place described here suits"
    return JobWords(deed, f"{found.here.name} has {fit_words(found.fit)}, and they are {stage}{there}.", "")


def _pot_up_words(batch: BatchToday, units: str) -> str:
    first = batch.state.since("potted") or batch.today
    rungs = ladder(batch.plant, batch.method, first, batch.treated.chosen, batch.treated.kit)
    at = min(len(batch.state.potted_up) + 1, len(rungs) - 1)
    potting = potting_of(batch.plant, batch.method)
    now = shown_volume(vessel_now(batch.state, batch.plant, batch.method, batch.treated).volume_l, units)
    return f"From {now} into {shown_volume(rungs[at].litres, units)}. {' '.join(potting.repot)}"


def potting_words(batch: BatchToday, units: str) -> str:
    """The pot in a word: "A pot of 1 litre each."."""
    if batch.method.grows_in in ("net pot", "grow bed"):
        return "A net pot each." if batch.method.grows_in == "net pot" else "They stay in the grow bed."
    into = potted_in(batch.plant, batch.method, max(batch.state.count("rooted"), 1), batch.treated)
    if into.each > 1:
        return f"{filled_words(into, units).capitalize()}, {into.each} to each."
    return f"A {vessel_words(into.vessel, 1, units)} each."


def when_words(job: Job) -> str:
    """When a task is due, where that is not today. Of one whose day has gone by it is said what is worth doing now; of
    a care, when it was last written down: more often it was done and not written than left."""
    late = (job.batch.today - job.task.due).days
    if late == 0:
        return ""
    if late > 0 and job.verb in DEED_WORDS:
        last = job.batch.state.last_tended(job.verb)
        return f"last written down {about(last, job.batch.today)}" if last else "not written down yet"
    if late < 0:
        return f"due {days_away(job.task.due, job.batch.today)}"
    return "worth a look now" if job.is_look else f"ready since {about(job.task.due, job.batch.today)}"


def carry_words(carry: Carry, units: str) -> str:
    """What to carry in, or cover: "6 pots from Cold frame, about 1.3 kg each"."""
    if carry.load is None:
        return f"Cover {plural(carry.plants, 'plant', 'plants')} in the bed with fleece"
    kind = CONTAINER_WORDS[carry.load.container]
    where = f" from {carry.place.name}" if carry.place else ""
    each = " each" if carry.load.containers > 1 else ""
    return f"{plural(carry.load.containers, *kind)}{where}, about {shown_weight(carry.load.each_kg, units)}{each}"


def cold_words(carry: Carry, units: str) -> str:
    """How cold it will be there, and what it bears."""
    worst, today = carry.worst, carry.batch.today
    night = "tonight" if worst.night == today else f"on the night of {about(worst.night, today)}"
    low, bears = temperature(worst.low_c, units), temperature(worst.bears_c, units)
    soft = "" if carry.stage in ("hardening", "planted") else ", soft as they are"
    return f"{low} there {night}; they bear {bears}{soft}"


def lift_words(carry: Carry, units: str) -> str:
    """The lifting caution, where there is anything to lift."""
    if carry.load is None:
        return ""
    if carry.at_a_time == 0:
        each = shown_weight(carry.load.each_kg, units)
        return f"{each} is more than one should lift from the floor: two people, or slide it."
    if carry.load.containers > carry.at_a_time:
        return f"No more than {carry.at_a_time} at a time."
    return ""
