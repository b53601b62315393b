"""Sentences for mothers: what one gives and why, where it came from, how it was seen."""

from __future__ import annotations

from elder.web.read.mothers import Known
from elder.web.say.words import about, days_words, listed, month_words, plural
from elder.web.stock.models import StockLook, StockPlant


def gives_words(mother: Known) -> tuple[str, str]:
    """What it gives today in bold, then why and when more."""
    one, many = (
        ("pup", "pups") if mother.seen.pups is not None else (mother.plant.cutting_one, mother.plant.cutting_many)
    )
    strong = f"{plural(mother.now, one, many)} today." if mother.now else f"No {many} today."
    return strong, _why(mother)


def _why(mother: Known) -> str:
    giving, today, why = mother.giving, mother.today, mother.giving.why
    if why == "ended":
        return f"{_ended(mother.row)}."
    if why == "diseased":
        return "It proved diseased: nothing is cloned from it. Below is what came from it."
    if mother.rests and mother.seen.pups is None:
        return f"At rest: its wood is in season from {about(mother.opens, today)}." if mother.opens else "At rest."
    if why in ("pups", "pups_kept"):
        return _pup_words(mother)
    if why == "just_cut":
        again = f"Worth going to again from {about(giving.again_on, today)}; " if giving.again_on else ""
        full = about(giving.full_on, today) if giving.full_on else ""
        lead = f"{again}{giving.full} again by {full}."
        return lead[0].upper() + lead[1:]
    if why == "too_small":
        return f"It has {plural(mother.seen.shoots or 0, 'shoot', 'shoots')}; a third of that is less than one."
    if why == "third":
        return f"A third of its {plural(mother.seen.shoots or 0, 'shoot', 'shoots')}, so that it goes on."
    if why in ("hungry", "pests"):
        reason = "yellow or hungry" if why == "hungry" else "not free of pests"
        return f"Half its usual, since it is {reason}: take with care, or let it recover."
    return f"Again as many {days_words(mother.row.again_days)} after a cut."


def _pup_words(mother: Known) -> str:
    keep, fruited = mother.giving.keep, mother.seen.growth == "fruited"
    if not mother.giving.full:
        return "No pup stands on it yet. Count them at the next look."
    rule = mother.plant.pups
    if rule and rule.kind == "one_when_spent":
        if fruited:
            return f"It is spent, and keeps {keep} of {mother.giving.full} on its old roots, where that grows fastest."
        return "It is still growing, and gives up all of them."
    stalk = "Its fruited stalk dies; the" if fruited else "The"
    return f"{stalk} clump keeps {plural(keep, 'pup', 'pups')}: four stalks at most, one follower at least."


def _ended(row: StockPlant) -> str:
    why = StockPlant.Ended(row.ended_why).label if row.ended_why else "gone"
    return f"{why[0].upper()}{why[1:]}" + (f" in {month_words(row.ended_on)}" if row.ended_on else "")


def origin_words(row: StockPlant) -> str:
    """Where it came from: "own seed", "from batch HAHEWE of ours"."""
    if row.raised_from:
        return f"kept from batch {row.raised_from.code}, cut from {row.raised_from.stock_plant}"
    return StockPlant.Origin(row.origin).label


def age_words(mother: Known) -> str:
    """How old it is here."""
    if mother.row.since is None:
        return ""
    days = ((mother.row.ended_on or mother.today) - mother.row.since).days
    return days_words(max(days, 0))


def state_words(look: StockLook) -> str:
    """A look in a few words: "growing, half ripe, well; 18 shoots"."""
    parts = [StockLook.Growth(look.growth).label]
    if look.wood:
        parts.append(f"wood {StockLook.Wood(look.wood).label}")
    parts.append(StockLook.Health(look.health).label)
    counts = [
        plural(number, one, many)
        for number, one, many in (
            (look.shoots, "shoot", "shoots"), (look.pups, "pup", "pups"), (look.stalks, "stalk", "stalks"),
        )
        if number is not None
    ]  # fmt: skip
    return ", ".join(parts) + (f"; {listed(counts)}" if counts else "")
