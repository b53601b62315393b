"""What of a garden's year is a first guess, said wherever its days are."""

from __future__ import annotations

from elder.web.garden.models import Garden
from elder.web.say.words import doy_words


def guess_words(garden: Garden) -> str:
    """What of the year is guessed and how far off it may be; nothing where nothing is."""
    if garden.records_digest:
        return ""
    if garden.months_guessed and garden.frost_guessed:
        return "A first guess of the year, from four figures: its frosts may be two weeks off."
    if garden.frost_guessed:
        return "Its frost dates are guessed from its months, and may be two weeks off."
    return "Its months are a first guess, drawn from four figures." if garden.months_guessed else ""


def frost_words_of(garden: Garden) -> list[str]:
    """Both ends of the frosts as they stand, guessed or told."""
    said = []
    for name, mean, extreme, word in (
        ("Last frost of spring", garden.last_frost_mean, garden.last_frost_late, "after"),
        ("First frost of autumn", garden.first_frost_mean, garden.first_frost_early, "before"),
    ):
        if mean is not None and extreme is not None:
            said.append(f"{name}: {doy_words(mean)} on average, one year in ten {word} {doy_words(extreme)}")
    return said or ["No frost to speak of"]
