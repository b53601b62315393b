"""Why something cannot be had, in sentences, each with what could be instead: one for every code there is."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date
from typing import Final

from elder.engine.handbook.loading import handbook
from elder.engine.handbook.model import Plant
from elder.engine.plan.planting_windows import PlantingWindow
from elder.engine.refusal import Refusal, RefusalCode
from elder.web.batches.models import Entry
from elder.web.say.batches import entry_words
from elder.web.say.pieces import not_this_piece
from elder.web.say.routes import STAGE_WORDS
from elder.web.say.words import about, day_words, listed, plural, years_words

THERE: Final = {
    "rooted": ("are waiting to root", "rooted"),
    "potted": ("are rooted and not yet potted", "potted on"),
    "hardening": ("are rooted or potted and not yet hardening", "put out to harden"),
    "planted": ("are rooted and not yet planted", "planted out"),
    "lifted": ("are planted", "lifted"),
    "given": ("are there", "given away"),
}
HOLDS_SHUT: Final = {"frost": "the frost risk", "soil": "cold ground", "heat": "the heat"}


@dataclass(frozen=True)
class _No:
    """A refusal with the day it was given on, and the plant it is about where it is about one."""

    refusal: Refusal
    today: date
    plant: Plant | None

    def __getitem__(self, name: str) -> object:
        """What the refusal says of a name."""
        return self.refusal.params[name]

    def count(self, name: str) -> int:
        """A number it says, whole."""
        number: int = round(self.refusal.params[name])
        return number

    def day(self, name: str) -> str:
        """A day it says, without its weekday; nothing for none."""
        found = self.refusal.params[name]
        return about(found, self.today) if found else ""

    def weekday(self, name: str) -> str:
        """A day it says, with its weekday."""
        return day_words(self.refusal.params[name], self.today)

    @property
    def name(self) -> str:
        """The plant's name within a sentence."""
        return self.plant.name.lower() if self.plant else "it"


def refusal_words(refusal: Refusal, today: date, plant: Plant | None = None) -> str:
    """Why it cannot be, and what could be instead. ``plant``: the one a want is for."""
    words = WORDS[refusal.code]
    return words if isinstance(words, str) else words(_No(refusal, today, plant))


def lead_and_rest(sentences: str) -> tuple[str, str]:
    """The first sentence, to be shown strong, and the rest."""
    lead, _, rest = sentences.partition(". ")
    return (f"{lead}.", rest) if rest else (sentences, "")


def shut_words(window: PlantingWindow, plant: Plant | None) -> str:
    """What shuts a window."""
    words = {
        "crop": f"it would stand in frost before it gave its {plant.harvest_word if plant else 'crop'}",
        "frost": "frost would take young plants",
        "soil": "the ground is too cold for new roots",
        "heat": "it is too hot to plant",
        "winter": "its winters would kill it in open ground",
    }
    return words.get(next(iter(window.shut_by), ""), "the season is over")


def _window_words(window: object, today: date) -> str:
    if isinstance(window, PlantingWindow):
        return f"{about(window.opens, today)} to {about(window.shuts, today)}"
    return about(window, today) if isinstance(window, date) else ""


def _gate_not_open(no: _No) -> str:
    window = no["after"]
    if not isinstance(window, PlantingWindow):
        return f"{no.day('by')} lies outside the season: the next day is {_window_words(window, no.today)}."
    held = listed(HOLDS_SHUT.get(why, why) for why in window.opened_by)
    return (
        f"Not by {no.day('by')}: {held or 'the season'} keeps the gate shut until "
        f"{about(window.opens, no.today)}. Choose a day from then to {about(window.shuts, no.today)}."
    )


def _gate_shut(no: _No) -> str:
    before = no["before"]
    after = f" The next window is {_window_words(no['after'], no.today)}." if no["after"] else ""
    if isinstance(before, PlantingWindow):
        return f"Too late: after {about(before.shuts, no.today)} {shut_words(before, no.plant)}.{after}"
    return f"Too late: after {no.day('before')} the frost takes the mother plant.{after}"


def _too_late(no: _No) -> str:
    if no["soonest"] is None:
        return f"Too late: nothing cut from today is ready by {no.day('by')}, nor later that season."
    return f"Too late for {no.day('by')}: cut from today, the soonest they can be ready is {no.day('soonest')}."


def _only_early(no: _No) -> str:
    fresh = f" Fresh ones can be ready on {no.day('soonest')}." if no["soonest"] else ""
    return (
        f"Not for {no.day('by')}: what can be cut in time would stand more than {no.count('patience')} days in its "
        f"pot.{fresh}"
    )


def _too_cold(no: _No) -> str:
    """What it would take of nights, or how many years kill it."""
    lead = f"Not for {no.day('by')}" if no["by"] else "Too cold"
    later = f" The soonest that is kinder is {no.day('soonest')}." if no["soonest"] else ""
    killed, nights = float(no.refusal.params["killed"]), no.count("nights")
    if killed > 0:
        return f"{lead}: frost kills it where it stands {years_words(killed)}. Root it in a pot under cover.{later}"
    return f"{lead}: {plural(nights, 'night', 'nights')} to carry it in; you said {no.count('most')}.{later}"


def _too_hot(no: _No) -> str:
    later = f" Cut later, they can be ready on {no.day('soonest')}." if no["soonest"] else ""
    heat = "it would be cut in a heat that unrooted stems do not bear there; in shade, misted, some do"
    return f"Not for {no.day('by')}: {heat}.{later}"


def _not_even_one(no: _No) -> str:
    cuttings = f"{no['cuttings']} {'cutting does' if no['cuttings'] == 1 else 'cuttings do'}"
    return f"{cuttings} not make even one plant that sure; {no['least']} would. Be less sure, or cut more."


def _more_than_there(no: _No) -> str:
    count, there, kind, on = no["count"], no["there"], str(no["kind"]), no.weekday("on")
    if kind == "lost":
        return f"{count} lost does not add up: on {on} only {there} were {STAGE_WORDS[str(no['stage'])]}."
    state, deed = THERE[kind]
    return f"{count} {deed} does not add up: on {on} only {there} {state}."


def _changed_since(no: _No) -> str:
    """What others wrote down: "helper wrote down 3 newly rooted and 1 lost"."""
    entries: list[Entry] = no.refusal.params["entries"]
    who = listed(dict.fromkeys(entry.by.username if entry.by else "somebody" for entry in entries))
    said = f"{who} wrote down {listed(entry_words(entry) for entry in entries)}"
    return f"Since this page was opened, {said}. Write down only what you saw besides."


def _none_left_to_keep(no: _No) -> str:
    grown = no.count("grown")
    if not grown:
        return "None of this batch has rooted yet."
    return f"All {grown} that live are mothers already." if grown > 1 else "The one that lives is a mother already."


def _not_struck(no: _No) -> str:
    plant = next(plant for plant in handbook().values() if plant.name == no["plant"])
    lead = "Graft instead." if no["way"] == "graft" else "Sow instead."
    return f"{lead} {plant.instead.text}" if plant.instead else lead


WORDS: Final[dict[RefusalCode, str | Callable[[_No], str]]] = {
    "gate_not_open": _gate_not_open,
    "gate_shut": _gate_shut,
    "too_late": _too_late,
    "only_early": _only_early,
    "too_cold": _too_cold,
    "too_hot": _too_hot,
    "too_many": lambda no: (
        f"{no['wanted']} plants would want more than {no['most']} cuttings at that surety. "
        "Ask for fewer, or be less sure."
    ),
    "by_past": lambda no: f"{no.weekday('by')} is not after today. Choose a later day.",
    "by_too_far": lambda no: f"That is too far ahead to reckon. Choose a day up to {no.day('latest')}.",
    "no_window": lambda no: (
        f"{no['plant']} has no planting season here: the ground or the frost-free time falls short. "
        "Ask for it in a pot, to stand there for good."
    ),
    "rarely_a_plant": lambda no: f"Not offered: {no['caveat'] or 'it roots and hardly ever makes a plant'}.",
    "needs_ground": lambda no: (
        f"“{no['method']}” is struck where it is to stand: choose a place in the ground to root it."
    ),
    "no_want": "Nothing was wanted of this batch any more: begin the trimmings from what is in your hand.",
    "stands_in_no_pot": lambda no: (
        f"“{no['method']}” goes straight into the ground: for plants that stand in pots, choose a way that pots them."
    ),
    "too_cold_to_keep": lambda no: (
        f"Too cold to keep {no.name} over winter where it grows on: nights there fall to "
        f"{no.count('least')} °C and it wants {no.count('keep')} °C. Choose a warmer place."
    ),
    "no_winter": lambda no: f"{no['plant']} need not be carried through: no frost takes it here.",
    "not_even_one": _not_even_one,
    "never_ready": lambda no: (
        "Nothing cut in the next two years would be ready in time at the places chosen. "
        f"Try a warmer place for {no.name}."
    ),
    "more_than_there": _more_than_there,
    "future": lambda no: f"{no.weekday('on')} is still to come. Today is {day_words(no.today)}.",
    "before_taken": lambda no: f"That is before the cuttings were cut, on {no.weekday('taken_on')}.",
    "count_not_positive": "How many? At least one.",
    "nothing_planted": "Nothing of this batch was planted out by then.",
    "nothing_potted": "Nothing of this batch was potted on by then.",
    "already_struck": "That entry is struck out already.",
    "cannot_strike_taken": "A batch keeps its first entry; put its day or number right instead.",
    "not_taken": "A batch begins with a cut.",
    "taken_twice": "A batch is cut once.",
    "changed_since": _changed_since,
    "sent_elsewhere": "This page was sent once already, for something else. Open it anew and press again.",
    "taken_back": "It was taken back before it came.",
    "none_left_to_keep": _none_left_to_keep,
    "not_struck": _not_struck,
    "not_this_piece": lambda no: not_this_piece(no.refusal.params),
    "too_short": lambda no: f"Too short. There is not one cutting of {str(no['plant']).lower()} in that. Compost it.",
    "no_place": (
        "No place for it. Add a place where it could root: a sill, a pot outdoors, or a bed for what is struck in the "
        "ground."
    ),
    "not_positive": "More than nothing, please.",
    "more_than_all": "More than all of it? A label says at most 100 %.",
    "cannot_strengthen": "That is stronger than what you have; water only makes it weaker.",
    "not_understood": lambda no: (
        "No date with a lowest and a highest temperature was found in it. It wants a heading that names them, "
        f"or a GHCN-Daily file. It begins: {no['first'] or 'with nothing'}"
    ),
    "no_months": (
        "Elder finds no lowest and highest of twelve months in it. One line a month, or one line of twelve lows and "
        "one of twelve highs, as a climate table has them; more columns do no harm where they have headings."
    ),
    "months_crossed": "Some month’s lowest lies above its highest. Are the right two columns named low and high?",
    "no_days": lambda no: f"Not one day of it could be used; {no['refused']} lines were refused.",
    "too_long": lambda no: (
        f"{no.count('lines'):,} lines is more than one station has. Send at most {no.count('most'):,}."
    ),
    "too_few": lambda no: (
        f"{no.count('days'):,} days are too few to say what each month is like: at least three of every month are "
        "wanted. Send a longer record, or give the means and the frost dates by hand."
    ),
    "no_time_and_temperature": lambda no: f"No line names a time and a temperature. The file begins: “{no['first']}”.",
    "no_readings": lambda no: f"Not one line could be read: {no['refused']} were refused.",
    "too_many_readings": lambda no: f"That file has {no['lines']} lines; at most {no['most']} are read at a time.",
    "not_so_many": lambda no: f"No more than {no['stands']} stand there to be handed over.",
    "plant_file_too_long": lambda no: f"That file is longer than any plant’s: at most {no['most_kb']} kB.",
    "not_a_plant_file": lambda no: (
        "That is no plant passed on by Elder: its file ends in .json and begins with its form."
    ),
    "newer_plant_file": lambda no: f"That file says “{no['form']}”, too new for this Elder.",
    "alone_in_it": lambda no: "Nobody else is in this household: delete its gardens, or your account, instead.",
    "invitation_over": lambda no: "That link was used already, or has lapsed.",
    "only_owner": lambda no: "Somebody must own the household: make another owner first.",
    "notes_no_lines": lambda no: "A line a batch is wanted, under a heading over each column.",
    "notes_too_many": lambda no: f"That is {no['lines']} lines; at most {no['most']} are read at a time.",
    "archive_fault": lambda no: f"Something in that archive cannot be: {no['where']}. Nothing of it was taken.",
    "archive_too_long": lambda no: f"That archive is larger than any garden’s: at most {no['most_mb']} MB.",
    "newer_archive": lambda no: (
        f"That archive says “{no['form']}”, too new for this Elder: bring Elder up to date first."
    ),
    "not_an_archive": lambda no: "That is not a garden’s archive as Elder writes it.",
    "plant_file_fault": lambda no: f"Something in that file cannot be: {no['where']}. Ask for it anew.",
    "name_taken": lambda no: f"{no['name']} is the name of another mother here; give this one another.",
    "not_json": lambda no: f"That is not Elder’s JSON: {no['why']}.",
}
