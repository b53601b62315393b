"""A crop that stands for years, in words."""

from __future__ import annotations

from datetime import date

from elder.engine.year.long_crop import FruitDate, PotStep
from elder.web.read.long_crops import LongCrop
from elder.web.say.mixes import part_name
from elder.web.say.plants import plant_words
from elder.web.say.units import shown_volume
from elder.web.say.words import about, counted, days_words, month_words, plural, years_words


def crop_title(crop: LongCrop) -> str:
    """What it is."""
    return plant_words(crop.plant.name, crop.variety)


def crop_headline(crop: LongCrop, units: str) -> tuple[str, str]:
    """What it comes to, in a line; and what it is next wanted for."""
    if crop.has_ended:
        return "It has fruited, and ends.", follower_words(crop)
    return fruit_words(crop) if crop.bears else "It gives as it grows.", pot_words(crop, units)


def fruit_words(crop: LongCrop) -> str:
    """When its fruit comes: "First fruit about Jul 2029, likely between Mar 2029 and Jan 2030"."""
    fruit, word = crop.fruit, _capital(crop.plant.harvest_word)
    if crop.growth == "fruiting":
        return "It is in fruit."
    if crop.has_fruited and not fruit.seen:
        return "It has fruited, and does again in its season."
    if fruit.overdue:
        return f"{word} any year: nearly all such plants have fruited by its age."
    if fruit.early is None:
        return "No fruit in twelve years where it stands: it is too cool there."
    if fruit.likely is None:
        return f"{word} not before {month_words(fruit.early)}, and as likely not within twelve years."
    late = month_words(fruit.late) if fruit.late else "twelve years from now"
    seen = ", from the flower that was seen" if fruit.seen else ""
    return f"{word} about {month_words(fruit.likely)}{seen}; 8 in 10 between {month_words(fruit.early)} and {late}."


def _capital(words: str) -> str:
    return words[:1].upper() + words[1:]


def follower_words(crop: LongCrop) -> str:
    """Who goes on once it has ended."""
    follows, when = crop.facts.follows, crop.follower
    if when is None or when.likely is None:
        return follows
    return f"{follows} Its own fruit about {month_words(when.likely)}."


def pot_words(crop: LongCrop, units: str) -> str:
    """The next pot."""
    step = crop.next_pot
    if step is None:
        return "" if crop.in_pot else "It stands in the ground."
    day = "now" if step.on <= crop.today else f"about {about(step.on, crop.today)}"
    if step.renewed:
        return f"Fresh mix {day}."
    return f"Into {shown_volume(step.vessel.volume_l, units)} {day}."


def step_words(step: PotStep, crop: LongCrop, units: str) -> str:
    """A pot of the ladder: its size, and what goes into it."""
    parts = ", ".join(
        f"{shown_volume(_halves(litres), units)} {part_name(part).lower()}"
        for part, litres in step.parts.items()
        if litres
    )
    if step.done and step.renewed:
        return f"{shown_volume(step.vessel.volume_l, units)}, its mix renewed"
    if step.done:
        return f"{shown_volume(step.vessel.volume_l, units)}"
    verb = "Fresh mix round the ball" if step.renewed else f"{shown_volume(step.vessel.volume_l, units)}"
    return f"{verb}: pour {parts}"


def _halves(litres: float) -> float:
    """Litres to the half: nobody pours finer."""
    return max(round(2 * litres) / 2, 0.5)


def winter_words(crop: LongCrop) -> str:
    """In how many winters it must come in, and for how long."""
    found = crop.winters
    if not found.share:
        return "It need not come in from where it stands in any winter."
    verb = "has to come inside" if crop.in_pot else "would be hurt where it stands"
    first = about(found.first, None) if found.first else ""
    last = about(found.last, None) if found.last else ""
    span = f"from {first} to {last}, {days_words(found.days)}" if found.days > 1 else f"for a night about {first}"
    return f"It {verb} {years_words(found.share)}: in the middle one {span}."


def pups_words(crop: LongCrop) -> str:
    """Its pups: how many stay and how many may be taken."""
    rule, giving = crop.plant.pups, crop.giving
    if rule is None:
        return ""
    if giving is None or giving.why not in ("pups", "pups_kept"):
        if rule.kind == "clump":
            return f"Keep {counted(rule.keep)} stalks to a clump at most; count its pups when they show."
        return "Pups come when it fruits; a plant still growing gives up all of hers. Count them when they show."
    there = plural(giving.full, "pup", "pups")
    if not giving.now:
        return f"{there}, and all stay: {_why_stay(crop)}"
    stay = f"keep {counted(giving.keep)}" if giving.keep else "none need stay"
    return f"{there}: take {counted(giving.now)}, {stay}. {_why_stay(crop) if giving.keep else ''}".strip()


def _why_stay(crop: LongCrop) -> str:
    rule = crop.plant.pups
    if rule is None:
        return ""
    if rule.kind == "clump":
        return f"No more than {counted(rule.keep)} stalks to a clump, and a follower for each that has fruited."
    return "The one left on the old roots grows faster than those taken off."


def fruit_span(fruit: FruitDate) -> tuple[date | None, date | None, date | None]:
    """Its three days."""
    return fruit.early, fruit.likely, fruit.late
