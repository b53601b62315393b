"""The air about a cutting in a gardener's words."""

from __future__ import annotations

from typing import Final

from elder.engine.place.air import Air, Stage, advice, under_cover
from elder.web.say.words import counted

COVER_WORDS: Final = {"none": "bare", "loose": "under a loose cap", "closed": "under a closed one"}
TIMES: Final = {1: "once", 2: "twice"}


def times_words(times: int) -> str:
    """So many times a day: "twice a day"."""
    return f"{TIMES.get(times) or f'{counted(times)} times'} a day"


def air_words(air: Air) -> str:
    """The air of a place, by its vapour pressure deficit, and what unrooted stems make of it, bare and covered."""
    read = "read" if air.is_read else "likely"
    bare, loose = (advice(under_cover(cover, air), "unrooted", cover) for cover in ("none", "loose"))
    said = f"{air.deficit_kpa:.1f} kPa at its driest, {read}"
    if bare.standing == "right":
        return f"{said}: right for unrooted stems, bare"
    if bare.standing == "close":
        return f"{said}: damp and close, no cover"
    if loose.standing == "right":
        return f"{said}: unrooted stems wilt bare, and stand well under a loose cap"
    return f"{said}: unrooted stems wilt even under a loose cap; mist {times_words(max(loose.mistings, 1))}"


def dry_words(air: Air) -> str:
    """That a dry day slows hardening; nothing where the air is mild."""
    if advice(air, "hardening", "none").standing != "dry":
        return ""
    return f"Dry air today, {air.deficit_kpa:.1f} kPa: keep to yesterday’s rung, and in shade."


def cover_advice(air: Air, stage: Stage, cover: str) -> str:
    """What to do about the air under the cover that is used; nothing where it is right."""
    under = under_cover(cover, air)
    found = advice(under, stage, cover)
    deficit = f"{under.deficit_kpa:.1f} kPa under it"
    if found.standing == "close":
        return f"Too close, {deficit}: open the cap by day." if found.open_cap else ""
    if found.standing == "dry" and found.mistings:
        where = "as the air is today" if cover == "none" else f"{deficit} today"
        return f"Mist {times_words(found.mistings)}: {where}."
    return ""
