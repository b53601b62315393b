"""What to do with a windfall in the next hour, in the order of the hands."""

from __future__ import annotations

from collections.abc import Iterator

from elder.engine.handbook.model import Method
from elder.engine.plan.material import Material


# What to do in the next hour: (step, does it apply). In the order of the hands.
def next_hour(material: Material, method: Method) -> Iterator[str]:
    """What is done first to what is in the hand, as names; from there on it goes as any cut sheet has it."""
    leafy = method.form in ("softwood tip", "side shoot", "semi-ripe stem", "slip", "vine section")
    table = (
        ("recut_above_damage", material.piece == "broken stem"),
        ("keep_from_drying", leafy and method.dry_days == 0),
        ("revive_in_water", material.state == "wilted" and leafy),
        ("pinch_flowers", material.state == "flowering"),
    )
    return (step for step, applies in table if applies)
