"""The cut: can it be cut, where, in what steps, with what hormone; and the code of a batch."""

from elder.engine.cut.codes import code_of, number_of, spoken
from elder.engine.cut.hormone import Unit, dilute, from_ppm, to_ppm, usual_ppm
from elder.engine.cut.layout import CutSpec, Layout, Piece, Stem, Unusable, candidates, lay_out_cuts
from elder.engine.cut.standing import LEAFLESS, Dressing, Sticking, cut_spec, dressing, may_be_short, sticking
from elder.engine.cut.steps import (
    Step,
    animal_use,
    is_quarantined,
    kitchen_use,
    prepare_days,
    schools_of,
    sheet_steps,
)
from elder.engine.cut.suitability import LookOver, asks, look_over
from elder.engine.handbook.bench import AT_ONCE

__all__ = [
    "AT_ONCE",
    "LEAFLESS",
    "CutSpec",
    "Dressing",
    "Layout",
    "LookOver",
    "Piece",
    "Stem",
    "Step",
    "Sticking",
    "Unit",
    "Unusable",
    "animal_use",
    "asks",
    "candidates",
    "code_of",
    "cut_spec",
    "dilute",
    "dressing",
    "from_ppm",
    "is_quarantined",
    "kitchen_use",
    "lay_out_cuts",
    "look_over",
    "may_be_short",
    "number_of",
    "prepare_days",
    "schools_of",
    "sheet_steps",
    "spoken",
    "sticking",
    "to_ppm",
    "usual_ppm",
]
