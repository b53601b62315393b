"""The shed: containers, what a batch fills, mix by parts, room on a shelf, what will be wanted, what to buy."""

from elder.engine.shed.containers import Counts, Filling, fitting, potted_in, stands_in, stuck_in
from elder.engine.shed.kit import PLAIN, Kit
from elder.engine.shed.mix import Packs, mix_for, usual_recipe, whole_packs
from elder.engine.shed.recipes import Part, Recipe, mix_parts, recipes
from elder.engine.shed.shapes import Box, Cylinder, Frustum, SquareFrustum
from elder.engine.shed.vessels import Vessel, shipped, vessel_of

__all__ = [
    "PLAIN",
    "Box",
    "Counts",
    "Cylinder",
    "Filling",
    "Frustum",
    "Kit",
    "Packs",
    "Part",
    "Recipe",
    "SquareFrustum",
    "Vessel",
    "fitting",
    "mix_for",
    "mix_parts",
    "potted_in",
    "recipes",
    "shipped",
    "stands_in",
    "stuck_in",
    "usual_recipe",
    "vessel_of",
    "whole_packs",
]
