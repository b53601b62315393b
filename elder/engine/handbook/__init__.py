"""The handbook in the engine: plants, ways and bench tables, read from YAML and checked."""

from elder.engine.handbook.loading import clonable, handbook
from elder.engine.handbook.model import Method, Plant, PupRule, School, Wood
from elder.engine.handbook.tables import HandbookError, read_bench

__all__ = [
    "HandbookError",
    "Method",
    "Plant",
    "PupRule",
    "School",
    "Wood",
    "clonable",
    "handbook",
    "read_bench",
]
