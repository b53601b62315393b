"""What one cutting must be, how it is dressed, and how it stands: how deep by its own nodes, how many to a vessel.

Depth and nodes are reckoned together, so that what is said to be under is under: a share of the cutting's length,
moved until the least number of nodes is below the surface and one is above; or by a node itself.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, Final

from elder.engine.cut.layout import CutSpec, Piece, Stem, lay_out_cuts
from elder.engine.cut.steps import sheet_steps
from elder.engine.handbook.bench import bench_facts, bench_table, first_that_fits
from elder.engine.handbook.model import Method, Plant
from elder.engine.shed.containers import Filling, stuck_in
from elder.engine.shed.kit import PLAIN, Kit

SHORTEST_SHARE: Final = 0.6  # of a way's own length (assumed)
LONGEST_SHARE: Final = 1.5
KEEPS: Final = 0.8  # of the pot's radius: how far out cuttings stand, one in each corner (assumed)
CLEAR_CM: Final = 0.5  # a node that is to be under, or to show, by so much at the least (assumed)
LEAFLESS: Final = ("dormant stick", "stem joint", "node section")  # bare by nature, or no leaves to speak of
SPARE_CM: Final = 3.0  # of stem drawn below an example cutting, so that its lowest cut is seen


@dataclass(frozen=True)
class Sticking:
    """How cuttings stand: so deep (cm), so many nodes of each under, in what, of that size (cm); ``laid_cm`` of its
    length lies under where it is laid, not stood; ``spacing_cm`` between neighbours, ``row_cm`` of row where they stand
    in the ground."""

    depth_cm: float
    under: int
    laid_cm: float
    filled: Filling
    width_cm: float
    height_cm: float
    spacing_cm: float
    row_cm: float

    @property
    def each(self) -> int:
        """How many stand in one, as many as there are."""
        return min(self.filled.each, self.filled.plants)

    @property
    def container(self) -> str:
        """What places count it by."""
        return self.filled.kind

    @property
    def containers(self) -> int:
        """How many are filled."""
        return self.filled.vessels


@dataclass(frozen=True)
class Dressing:
    """What is done to one cutting: its cuts, and by node (as counted on the stem) what becomes of its leaves."""

    base_cut: str
    top_cut: str
    buried: tuple[int, ...]
    strip: tuple[int, ...]
    halve: tuple[int, ...]
    keep: tuple[int, ...]


def cut_spec(plant: Plant, method: Method, *, short: bool = False) -> CutSpec | None:
    """What one cutting must be, with ``short`` where material is scarce; ``None`` for what is taken whole."""
    raw = _spec_row(plant, method)
    if raw is None:
        return None
    least, most = raw["nodes"]
    few = bench_table()["short_by_plant"].get(plant.kin, {}).get(method.form)
    if short and few:
        least = few
    own = method.length_cm
    shortest = min(raw.get("shortest", SHORTEST_SHARE * own), own)
    return CutSpec(
        nodes_least=least,
        nodes_most=most,
        nodes_buried=min(raw["buried"], least),
        below_cm=raw["below"],
        above_cm=raw["above"],
        length_least_cm=shortest / 2 if short else shortest,
        length_most_cm=max(raw.get("longest", LONGEST_SHARE * own), own),
        keep_tip=raw["tip"],
    )


def _spec_row(plant: Plant, method: Method) -> dict[str, Any] | None:
    table = bench_table()
    row: dict[str, Any] | None = table["specs_by_plant"].get(plant.kin, {}).get(method.form)
    return row or table["specs"].get(method.form)


def may_be_short(plant: Plant, method: Method) -> bool:
    """Whether fewer nodes will do where material is scarce."""
    return method.form in bench_table()["short_by_plant"].get(plant.kin, {})


def example_stem(spec: CutSpec, method: Method) -> Stem:
    """A stem that gives one cutting of the way's own length, to show what one looks like."""
    nodes = max(min(spec.nodes_least + 1, spec.nodes_most), spec.nodes_least)
    if method.form == "stem joint":
        nodes = 1
    length = min(max(method.length_cm, spec.length_least_cm), spec.length_most_cm)
    inside = length - spec.below_cm - (0 if spec.keep_tip else spec.above_cm)
    gap = inside / max(nodes - (0 if spec.keep_tip else 1), 1)
    base = SPARE_CM + spec.below_cm
    places = tuple(base + gap * i for i in range(nodes))
    end = places[-1] + (gap if spec.keep_tip else spec.above_cm)
    # One spare node below and, where the tip goes, one above, so that both cuts are seen.
    return Stem(end if spec.keep_tip else end + 4.0, places)


def nodes_from_foot(piece: Piece, stem: Stem) -> tuple[float, ...]:
    """Where the nodes of a piece lie, cm from its own foot."""
    return tuple(cm - piece.base_cm for cm in stem.nodes_cm[piece.first_node : piece.last_node + 1])


def example_nodes(plant: Plant, method: Method) -> tuple[float, ...]:
    """Those of a way's ordinary cutting; none for what is taken whole."""
    spec = cut_spec(plant, method)
    if spec is None:
        return ()
    stem = example_stem(spec, method)
    pieces = lay_out_cuts(stem, spec).pieces
    return nodes_from_foot(pieces[0], stem) if pieces else ()


def dressing(piece: Piece, stem: Stem, plant: Plant, method: Method) -> Dressing:
    """What is done to a piece of a stem: nodes that go under are stripped, the top leaves stay whole, those between
    are halved where they are big. Every node is under or shows, once."""
    places = nodes_from_foot(piece, stem)
    _, under = depth_and_under(plant, method, places, piece.length_cm)
    nodes = range(piece.first_node, piece.last_node + 1)
    buried, shown = tuple(nodes[:under]), nodes[under:]
    if method.form in LEAFLESS:
        return Dressing("pared" if method.form == "stem joint" else "slanted", "flat", buried, (), (), ())
    whole = (_spec_row(plant, method) or {}).get("kept", 1)
    halves = any(step.key == "halve" for step in sheet_steps(plant, method))
    keep = tuple(shown[-whole:] if halves and whole else shown)
    halve = tuple(node for node in shown if node not in keep)
    top = "tip" if piece.has_tip else "flat"
    return Dressing("straight" if piece.has_tip else "slanted", top, buried, buried, halve, keep)


def depth_and_under(
    plant: Plant, method: Method, nodes_cm: tuple[float, ...], length_cm: float, height_cm: float = math.inf
) -> tuple[float, int]:
    """How deep a cutting stands, cm, and how many of its nodes (cm from its foot) are under then; ``height_cm`` is
    what its container allows."""
    spec = cut_spec(plant, method)
    least = min(spec.nodes_buried, len(nodes_cm)) if spec else 0
    row = first_that_fits(bench_table()["depths"], bench_facts(plant, method)) or {"share": 0.5}
    if "at_node" in row and len(nodes_cm) >= row["at_node"]:  # this node stands at the surface
        depth = nodes_cm[row["at_node"] - 1]
        return depth, sum(cm < depth - 1e-9 for cm in nodes_cm)
    if "nodes_under" in row and nodes_cm:  # laid, so that these are under whatever their spacing
        return float(row["cm"]), min(row["nodes_under"], len(nodes_cm))
    if "cm" in row:
        depth = float(row["cm"])
    elif "of_container" in row:
        depth = float(row["of_container"] * min(height_cm, length_cm))
    else:
        depth = float(min(row.get("share", 0.5) * length_cm, height_cm))
    if not nodes_cm or method.form == "node section":  # laid flat, all of it under
        return depth, len(nodes_cm)
    if "cm" not in row:
        top = nodes_cm[-1] - CLEAR_CM if len(nodes_cm) > least else length_cm
        depth = max(min(depth, top), nodes_cm[least - 1] + CLEAR_CM if least else 0.0)
    return depth, max(sum(cm < depth for cm in nodes_cm), least)


def sticking(
    plant: Plant,
    method: Method,
    count: int,
    length_cm: float | None = None,
    chosen: Mapping[str, str] | None = None,
    kit: Kit = PLAIN,
) -> Sticking:
    """How so many stand; ``length_cm`` the cuttings' own where it is known, ``chosen`` the schools by question, ``kit``
    what the household has. Raises ValueError for none."""
    if count < 1:
        raise ValueError("at least one cutting is stuck")
    filled = stuck_in(plant, method, count, chosen, kit)
    vessel, each = filled.vessel, min(filled.each, count)
    width = 0.0 if vessel.spacing_cm else vessel.shape.top_cm
    places = example_nodes(plant, method)
    height = vessel.shape.height_cm
    depth, under = depth_and_under(plant, method, places, length_cm or method.length_cm, height)
    laid = first_that_fits(bench_table()["depths"], bench_facts(plant, method)) or {}
    return Sticking(
        depth_cm=depth,
        under=under,
        laid_cm=places[under - 1] + CLEAR_CM if "nodes_under" in laid and under else 0.0,
        filled=filled,
        width_cm=width,
        height_cm=height,
        spacing_cm=vessel.spacing_cm or (width if vessel.cells else _apart(width, each)),
        row_cm=vessel.spacing_cm * count if filled.kind == "row" else 0.0,
    )


def _apart(width_cm: float, count: int) -> float:
    """Between neighbours round the rim of a pot, cm; the pot's width where one stands alone."""
    if count < 2:
        return width_cm
    return width_cm * KEEPS * math.sin(math.pi / count)
