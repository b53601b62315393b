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
from elder.engine.cut.hormone import from_ppm, usual_ppm
from elder.engine.cut.standing import LEAFLESS, Sticking, cut_spec, example_nodes, example_stem, sticking
from elder.engine.cut.steps import Step, schools_of, sheet_steps
from elder.engine.handbook.model import Method, Plant, School
from elder.engine.shed.containers import CHOSEN, fitting
from elder.engine.shed.kit import PLAIN, Kit
from elder.engine.shed.uses import gel_ml, powder_g
from elder.web.cut.layout import drawn, lay_out
from elder.web.say.containers import filled_words, vessel_words
from elder.web.say.mixes import mix_words
from elder.web.say.units import shown_fine_length, shown_length, shown_small_volume, shown_small_weight, temperature
from elder.web.say.words import counted, day_words, plural

PART_WORDS: Final = {
    "ready": "Ready the bench", "cut": "Cut", "treat": "Treat", "stick": "Stick", "place": "Place",
}  # fmt: skip
PREFIX: Final = "school-"  # before a question, in forms and addresses
CONTAINER_FIELD: Final = PREFIX + CHOSEN
FLAT_FORMS: Final = ("node section",)
LONGER, SHORTER = 1.5, 0.67  # of a way's own length, by the schools of size (assumed)
KEPT_WHOLE: Final = "kept whole"
FEW_NODES: Final = 20  # of more than these none is pointed at: a cactus joint has areoles all along


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
    seen: frozenset[str] = frozenset()
    kit: Kit = PLAIN


@dataclass(frozen=True)
class SheetPart:
    """A part of the work and its steps."""

    name: str
    lines: tuple[SheetLine, ...]


def question_key(question: str) -> str:
    """A question as a parameter's name."""
    return PREFIX + question.replace(" ", "-")


def chosen_from(given: Mapping[str, str], plant: Plant, method: Method, kit: Kit = PLAIN) -> dict[str, str]:
    """The schools and the container a form or an address chooses; what is none of the plant's is passed over."""
    found = {}
    if given.get(CONTAINER_FIELD, "") in {one.key for one in fitting(method, kit)}:
        found[CHOSEN] = given[CONTAINER_FIELD]
    for question, ways in schools_of(plant, method).items():
        said = given.get(question_key(question), "")
        found[question] = said if said in {way.school for way in ways} else ways[0].school
    return found


def sheet_of(plant: Plant, method: Method, chosen: Mapping[str, str], facts: Facts) -> list[SheetPart]:
    """The sheet by its parts, steps numbered through."""
    values = _values(plant, method, facts, chosen)
    schools, parts, number = schools_of(plant, method), [], 0
    steps = sheet_steps(plant, method, chosen, facts.seen)
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


ABOVE_CUT: Final = {  # how the mother is cut, by how its leaves stand (common practice)
    "alternate": "Cut just above a node, sloping away from its bud",
    "opposite": "Cut straight across, just above a pair of leaves",
}
MEASURE: Final = re.compile(r"\{(cm|c) ([\d.]+)\}")


def said(words: str, values: Mapping[str, str], units: str) -> str:
    """Words with what stands in braces filled in: a value, or a length or temperature such as {cm 2} and {c 28}."""

    def measure(found: re.Match[str]) -> str:
        amount = float(found[2])
        return shown_fine_length(amount, units) if found[1] == "cm" else temperature(amount, units)

    return MEASURE.sub(measure, words).format_map(values)


def _values(plant: Plant, method: Method, facts: Facts, chosen: Mapping[str, str]) -> dict[str, str]:
    stick, units = sticking(plant, method, facts.count, chosen=chosen, kit=facts.kit), facts.units
    spec = cut_spec(plant, method)
    nodes = f"{spec.nodes_least} to {spec.nodes_most} nodes" if spec and spec.nodes_most < FEW_NODES else "whole"
    stick_on = day_words(add_days(facts.cut_on, method.dry_days), facts.today)
    if facts.cut_on > facts.today:
        stick_on += f", if cut on {day_words(facts.cut_on, facts.today)}"
    return {
        "count": str(facts.count),
        "wanted": str(facts.wanted),
        "lost": str(max(facts.count - facts.wanted, 0)),
        "mother": facts.mother or "a sound mother",
        "cuttings": plant.cutting_one if facts.count == 1 else plant.cutting_many,
        "pots": filled_words(stick.filled, units),
        "mix": mix_words(plant, method, stick.filled, chosen, facts.kit, units),
        "per_pot": str(stick.each),
        "plugs": plural(facts.count, "plug", "plugs"),
        "labels": plural(stick.containers, "label", "labels"),
        "depth": shown_fine_length(stick.depth_cm, units),
        "laid": shown_fine_length(stick.laid_cm, units),
        "spacing": shown_fine_length(stick.spacing_cm, units),
        "row": shown_length(stick.row_cm, units),
        "length": shown_length(method.length_cm, units),
        "long_length": shown_length(LONGER * method.length_cm, units),
        "short_length": shown_length(SHORTER * method.length_cm, units),
        "nodes": nodes,
        "buried": f"{counted(stick.under)} {'node' if stick.under == 1 else 'nodes'} under" if spec else "",
        "buried_nodes": plural(stick.under, "node", "nodes") if spec else "",
        "above_cut": ABOVE_CUT.get(plant.leaves, ABOVE_CUT["alternate"]),
        "above_why": "" if plant.leaves == "opposite" else ", and water runs off the slope",
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
    usual = usual_ppm(method.form, method.take.mean)
    if usual is None:
        return ""
    if not usual[0]:
        most = usual[1]
        return (
            f"An easy rooter: none, or at most {from_ppm(most, 'percent'):g} % ({most:,.0f} ppm, "
            f"{from_ppm(most, 'mg_g'):g} mg/g). The label goes first."
        )
    said = " to ".join(f"{from_ppm(ppm, 'percent'):g}" for ppm in usual)
    ppm = "–".join(f"{value:,.0f}" for value in usual)
    per_g = "–".join(f"{from_ppm(value, 'mg_g'):g}" for value in usual)
    return f"Growers start with {said} % for such wood: {ppm} ppm, or {per_g} mg/g. The label goes first."


def cutting_picture(plant: Plant, method: Method, units: str, chosen: Mapping[str, str] | None = None) -> Scene | None:
    """One cutting, drawn to scale on its stem; nothing for what is taken, or kept, whole."""
    spec = cut_spec(plant, method)
    if spec is None or (chosen or {}).get("size") == KEPT_WHOLE:
        return None
    laid = lay_out([example_stem(spec, method)], spec, plant, method)
    return drawn(laid, units)[0] if laid[0].layout.pieces else None


def pot_picture(
    plant: Plant, method: Method, count: int, units: str, chosen: Mapping[str, str] | None = None, kit: Kit = PLAIN
) -> tuple[Scene, Sticking]:
    """The container to scale with the cuttings in it."""
    stick = sticking(plant, method, count, chosen=chosen, kit=kit)
    spec = cut_spec(plant, method)
    nodes = example_nodes(plant, method) if spec and spec.nodes_most < FEW_NODES else ()
    depth = shown_fine_length(stick.depth_cm, units)
    lays_flat, leafy = method.form in FLAT_FORMS, method.form not in LEAFLESS
    scene = pot_scene(
        stick,
        DrawnCutting(method.length_cm, nodes, lays_flat, leafy),
        kind="water" if method.medium == "water" else "mix",
        depth_words=f"{depth} under",
        words=f"A {vessel_words(stick.filled.vessel, 1, units)} with {stick.each} in it, {depth} deep, to scale.",
        length_words=lambda cm: shown_length(cm, units),
    )
    return scene, stick
