"""The few tags that templates need beyond Django's own."""

from __future__ import annotations

from datetime import date
from typing import Any

from django import template

from elder.drawing.scene import Scene
from elder.web.ui.words import day_words

register = template.Library()


@register.inclusion_tag("ui/scene.html")
def scene(drawing: Scene, kind: str = "row", ground: str = "") -> dict[str, Any]:
    """A scene as SVG; ``ground`` names the symbol that lies behind it."""
    return {"scene": drawing, "kind": kind, "ground": ground}


@register.filter
def day(value: date | None, today: date | None = None) -> str:
    """A day in short local words."""
    return day_words(value, today) if value else ""
