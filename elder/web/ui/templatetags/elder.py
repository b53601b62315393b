"""The few tags that templates need beyond Django's own."""

from __future__ import annotations

import re
from collections.abc import Sequence
from datetime import date
from functools import lru_cache
from typing import Final

from django import template
from django.template.loader import get_template
from django.utils.safestring import SafeString, mark_safe

from elder.drawing.scene import Scene, number
from elder.engine.handbook.model import Method
from elder.engine.record.looks import Look
from elder.web.say import words
from elder.web.say.glossary import WORDS, Word
from elder.web.say.plants import way_words
from elder.web.say.units import shown_fine_length
from elder.web.say.words import day_words

register = template.Library()
CENTIMETRES: Final = re.compile(r"(\d+(?:\.\d+)?) cm\b")


@register.simple_tag
def scene(drawing: Scene, kind: str = "row", ground: str = "") -> SafeString:
    """A scene as SVG; ``ground`` names the symbol that lies behind it."""
    return _rendered(drawing, kind, ground)


@lru_cache(maxsize=512)
def _rendered(drawing: Scene, kind: str, ground: str) -> SafeString:
    """Scenes are values, so one that was drawn before is not drawn again: 3 ms saved a row."""
    return mark_safe(get_template("ui/scene.html").render({"scene": drawing, "kind": kind, "ground": ground}))  # noqa: S308 - a template escaped it


@register.filter
def day(value: date | None, today: date | None = None) -> str:
    """A day in short local words."""
    return day_words(value, today) if value else ""


@register.filter
def in_ten(share: float) -> str:
    """A share as a table says it: "9 in 10", "19 in 20"."""
    return words.in_ten(share)


@register.filter
def last_waiting(looks: Sequence[Look]) -> int:
    """How many still waited at the last of some looks."""
    return looks[-1].waiting


@register.filter
def unlocalized(value: float) -> str:
    """A number as a script reads it, whatever the language."""
    return number(value)


@register.filter
def way(method: Method) -> str:
    """What is cut and how it is rooted."""
    return way_words(method.form, method.name)


@register.filter
def lengths(text: str, units: str) -> str:
    """A sentence with its lengths in the person's units: "roots of 2 cm" or "roots of ¾ in"."""
    return CENTIMETRES.sub(lambda found: shown_fine_length(float(found[1]), units), text)


@register.filter
def spot_name(words: str) -> str:
    """The place and container of a sentence about room, without its numbers."""
    return words.split(":")[0]


@register.inclusion_tag("ui/what_is.html")
def what_is(anchor: str) -> dict[str, Word]:
    """A small mark beside a word of the trade that opens what it means, in place. Once to a page for each word."""
    return {"word": next(word for word in WORDS if word.anchor == anchor)}
