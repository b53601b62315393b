"""The crops that stand for years, as their pages show them."""

from __future__ import annotations

from dataclasses import dataclass

from elder.drawing.scene import Scene
from elder.drawing.years_row import LARGE
from elder.engine.handbook.model import Caution
from elder.web.read.long_crops import LongCrop
from elder.web.say.crop_rows import coming_steps, row_of, years_of
from elder.web.say.long_crops import (
    crop_headline,
    crop_title,
    fruit_words,
    pups_words,
    step_words,
    winter_words,
)
from elder.web.say.words import about, day_words


@dataclass(frozen=True)
class PotLine:
    """A pot of the ladder."""

    when: str
    said: str
    done: bool
    due: bool


@dataclass(frozen=True)
class CropPage:
    """One crop."""

    key: str
    title: str
    name: str
    headline: tuple[str, str]
    scene: Scene
    steps: list[PotLine]
    repot: tuple[str, ...]
    guessed: bool
    feed: str
    ph: str
    winters: str
    pups: str
    follows: str
    signs: str
    fruit: str
    seen: list[str]
    stock: int | None
    batch: int | None
    cautions: list[Caution]
    left_out: str


LEFT_OUT = (
    "Taken to stand there all year, fed and watered; what a winter indoors adds, or a check costs, is not in it. Days "
    "to fruit are the handbook’s, moved by the warmth of its place."
)


def crop_page(crop: LongCrop, units: str) -> CropPage:
    """The page of one crop."""
    potting, ph = crop.potting, crop.ph
    return CropPage(
        key=crop.key,
        title=crop_title(crop),
        name=crop.name,
        headline=crop_headline(crop, units),
        scene=row_of(crop, years_of([crop], crop.today), units, height=LARGE),
        steps=[
            PotLine(
                when=day_words(step.on, crop.today, weekday=False),
                said=step_words(step, crop, units),
                done=step.done,
                due=not step.done and step.on <= crop.today,
            )
            for step in coming_steps(crop)
        ],
        repot=potting.repot,
        guessed=crop.guessed,
        feed=potting.feed,
        ph=f"pH {ph[0]:g} to {ph[1]:g}" if ph and "pH" not in potting.feed else "",
        winters=winter_words(crop),
        pups=pups_words(crop),
        follows=crop.facts.follows if not crop.has_ended else "",
        signs=crop.facts.signs,
        fruit=fruit_words(crop) if crop.bears and not crop.has_ended else "",
        seen=seen_lines(crop),
        stock=crop.stock.pk if crop.stock else None,
        batch=crop.batch,
        cautions=[one for one in crop.plant.cautions if one.at in ("pot", "cut")],
        left_out=LEFT_OUT,
    )


def seen_lines(crop: LongCrop) -> list[str]:
    """What was seen of it, the newest first."""
    said = []
    for look in reversed(crop.looks[-6:]):
        parts = [look.get_growth_display()]
        parts += [f"{look.pups} pups"] if look.pups is not None else []
        parts += [f"{look.stalks} stalks"] if look.stalks is not None else []
        parts += [look.note] if look.note else []
        said.append(f"{about(look.on, crop.today)}: {', '.join(parts)}")
    return said
