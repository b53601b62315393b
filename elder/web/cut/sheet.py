"""The cut sheet worked out for a batch: each step with its figure, in the person's units, by the schools chosen."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from typing import Final

from elder.drawing.pot import DrawnCutting, pot_scene
from elder.drawing.scene import Scene
from elder.engine.climate.day_of_year import add_days
from elder.engine.cut.hormone import from_ppm, gel_ml, powder_g, usual_ppm
from elder.engine.cut.layout import lay_out_cuts
from elder.engine.cut.steps import LEAFLESS, Step, Sticking, cut_spec, schools_of, sheet_steps, sticking
from elder.engine.handbook.model import Method, Plant, School
from elder.web.cut.layout import drawn, example_stem, lay_out
from elder.web.say.containers import CONTAINER_WORDS
from elder.web.say.units import shown_fine_length, shown_length, shown_small_volume, shown_small_weight, temperature
from elder.web.say.words import counted, day_words, plural

PART_WORDS: Final = {
    "ready": "Ready the bench", "cut": "Cut", "treat": "Treat", "stick": "Stick", "place": "Place",
}  # fmt: skip
PREFIX: Final = "school-"  # before a question, in forms and addresses
FLAT_FORMS: Final = ("node section",)


@dataclass(frozen=True)
class SheetLine:
    """A step as the sheet shows it: its number, its words filled in, its schools."""

    number: int
    step: Step
    text: str
    figure: str
    why: str
    schools: tuple[School, ...]
    chosen: str
    question: str

    @property
    def others(self) -> tuple[School, ...]:
        """The schools that were not chosen."""
        return tuple(school for school in self.schools if school.school != self.chosen)


@dataclass(frozen=True)
class Facts:
    """What the words are filled with besides the plant and the way."""

    count: int
    wanted: int
    mother: str
    place: str
    warmth: str
    first_look: date | None
    today: date
    cut_on: date
    units: str


@dataclass(frozen=True)
class SheetPart:
    """A part of the work and its steps."""

    name: str
    lines: tuple[SheetLine, ...]


def question_key(question: str) -> str:
    """A question as a parameter's name."""
    return PREFIX + question.replace(" ", "-")


def chosen_from(given: Mapping[str, str], plant: Plant, method: Method) -> dict[str, str]:
    """The schools a form or an address chooses; what is none of the plant's is passed over."""
    found = {}
    for question, ways in schools_of(plant, method).items():
        said = given.get(question_key(question), "")
        found[question] = said if said in {way.school for way in ways} else ways[0].school
    return found


def sheet_of(plant: Plant, method: Method, chosen: Mapping[str, str], facts: Facts) -> list[SheetPart]:
    """The sheet by its parts, steps numbered through."""
    values = _values(plant, method, facts)
    schools, parts, number = schools_of(plant, method), [], 0
    steps = sheet_steps(plant, method, chosen)
    for part, name in PART_WORDS.items():
        lines = []
        for step in (one for one in steps if one.part == part):
            number += 1
            ways = schools.get(step.school, ())
            lines.append(
                SheetLine(
                    number,
                    step,
                    said(step.text, values, facts.units),
                    said(step.figure, values, facts.units),
                    said(step.why, values, facts.units),
                    ways,
                    chosen.get(step.school, ""),
                    question_key(step.school) if len(ways) > 1 else "",
                )
            )
        if lines:
            parts.append(SheetPart(name, tuple(lines)))
    return parts


MEASURE: Final = re.compile(r"\{(cm|c) ([\d.]+)\}")


def said(words: str, values: Mapping[str, str], units: str) -> str:
    """Words with what stands in braces filled in: a value, or a length or temperature such as {cm 2} and {c 28}."""

    def measure(found: re.Match[str]) -> str:
        amount = float(found[2])
        return shown_fine_length(amount, units) if found[1] == "cm" else temperature(amount, units)

    return MEASURE.sub(measure, words).format_map(values)


def _values(plant: Plant, method: Method, facts: Facts) -> dict[str, str]:
    stick, units = sticking(plant, method, facts.count), facts.units
    spec = cut_spec(plant, method)
    one, many = CONTAINER_WORDS[method.container]
    nodes = f"{spec.nodes_least} to {spec.nodes_most} nodes" if spec and spec.nodes_most < 20 else "whole"
    stick_on = day_words(add_days(facts.cut_on, method.dry_days), facts.today)
    if facts.cut_on > facts.today:
        stick_on += f", if cut on {day_words(facts.cut_on, facts.today)}"
    return {
        "count": str(facts.count),
        "wanted": str(facts.wanted),
        "lost": str(max(facts.count - facts.wanted, 0)),
        "mother": facts.mother or "a sound mother",
        "cuttings": plant.cutting_one if facts.count == 1 else plant.cutting_many,
        "pots": plural(stick.containers, one, many),
        "per_pot": str(min(stick.each, facts.count)),
        "labels": plural(stick.containers, "label", "labels"),
        "depth": shown_fine_length(stick.depth_cm, units),
        "spacing": shown_fine_length(stick.spacing_cm, units),
        "row": shown_length(stick.row_cm, units),
        "length": shown_length(method.length_cm, units),
        "nodes": nodes,
        "buried": f"{counted(spec.nodes_buried)} {'node' if spec.nodes_buried == 1 else 'nodes'} under" if spec else "",
        "buried_nodes": plural(spec.nodes_buried, "node", "nodes") if spec else "",
        "below": shown_fine_length(spec.below_cm, units) if spec else "",
        "above": shown_fine_length(spec.above_cm, units) if spec else "",
        "powder": shown_small_weight(powder_g(facts.count), units),
        "gel": shown_small_volume(gel_ml(facts.count), units),
        "strength": strength_words(method),
        "dry_days": plural(method.dry_days, "day", "days"),
        "stick_on": stick_on,
        "place": facts.place,
        "warmth": facts.warmth,
        "day_warmth": facts.warmth.split(" by day")[0],
        "best": temperature(plant.cardinals.t_opt, units),
        "first_look": day_words(facts.first_look, facts.today) if facts.first_look else "when Rounds says",
    }


def strength_words(method: Method) -> str:
    """How strong growers start, in the three ways labels say it."""
    usual = usual_ppm(method.form)
    if usual is None:
        return ""
    said = " to ".join(f"{from_ppm(ppm, 'percent'):g}" for ppm in usual)
    ppm = "–".join(f"{value:,.0f}" for value in usual)
    per_g = "–".join(f"{from_ppm(value, 'mg_g'):g}" for value in usual)
    return f"Growers start with {said} % for such wood: {ppm} ppm, or {per_g} mg/g."


def cutting_picture(plant: Plant, method: Method, units: str) -> Scene | None:
    """One cutting, drawn to scale on its stem; nothing for what is taken whole."""
    spec = cut_spec(plant, method)
    if spec is None:
        return None
    laid = lay_out([example_stem(spec, method)], spec, plant, method)
    return drawn(laid, units)[0] if laid[0].layout.pieces else None


def pot_picture(plant: Plant, method: Method, count: int, units: str) -> tuple[Scene, Sticking]:
    """The container to scale with the cuttings in it."""
    stick, spec = sticking(plant, method, count), cut_spec(plant, method)
    nodes = 0
    if spec and spec.nodes_most < 20:
        nodes = lay_out_cuts(example_stem(spec, method), spec).pieces[0].nodes
    depth = shown_fine_length(stick.depth_cm, units)
    lays_flat, leafy = method.form in FLAT_FORMS, method.form not in LEAFLESS
    scene = pot_scene(
        stick,
        DrawnCutting(method.length_cm, nodes, spec.nodes_buried if spec else 0, lays_flat, leafy),
        kind="water" if method.medium == "water" else "mix",
        depth_words=f"{depth} under",
        words=f"A {CONTAINER_WORDS[stick.container][0]} with {min(stick.each, count)} in it, {depth} deep, to scale.",
        length_words=lambda cm: shown_length(cm, units),
    )
    return scene, stick
