"""What came of it: a gardener's own take and days, what was only luck, and whether Elder was right."""

from elder.engine.record.learning import Failing, Learned, Prior, learn
from elder.engine.record.looks import Look, looks_of
from elder.engine.record.scoring import Outcome, bias_of, kept, reliability, scores, wilson
from elder.engine.record.trials import Compared, compare, needed_each, newcombe

__all__ = [
    "Compared",
    "Failing",
    "Learned",
    "Look",
    "Outcome",
    "Prior",
    "bias_of",
    "compare",
    "kept",
    "learn",
    "looks_of",
    "needed_each",
    "newcombe",
    "reliability",
    "scores",
    "wilson",
]
