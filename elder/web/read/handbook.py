"""The handbook as a garden has it: what ships, and the household's own plants beside it."""

from __future__ import annotations

from elder.engine.handbook.loading import OWN, clonable, find_own_in, handbook
from elder.engine.handbook.model import Plant
from elder.web.garden.models import Garden
from elder.web.plants.models import OwnPlant


def _text_of(slug: str) -> str | None:
    return OwnPlant.objects.filter(slug=slug).values_list("text", flat=True).first()


find_own_in(_text_of)


def own_here(garden: Garden) -> dict[str, Plant]:
    """A garden's own plants that hold today, by slug, by name."""
    slugs = OwnPlant.objects.filter(garden=garden, current=True).values_list("slug", flat=True)
    return {slug: handbook()[slug] for slug in slugs}


def clonable_here(garden: Garden) -> dict[str, Plant]:
    """Every plant a garden can strike: the handbook's and its own."""
    return {**clonable(), **own_here(garden)}


def plant_here(garden: Garden, slug: str) -> Plant | None:
    """A plant by its slug; one of another household's own is not there."""
    if slug.startswith(OWN) and not OwnPlant.objects.filter(garden=garden, slug=slug).exists():
        return None
    return handbook().get(slug)
