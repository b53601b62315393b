"""What to do with a windfall in the next hour, in the order of the hands."""

from __future__ import annotations

from collections.abc import Iterator

from elder.engine.handbook.model import Method
from elder.engine.plan.material import WHOLE, Material


# What to do in the next hour: (step, does it apply). In the order of the hands.
def next_hour(material: Material, method: Method) -> Iterator[str]:
    """Steps for the next hour, as names; the web layer says them."""
    is_stem = material.piece not in WHOLE
    leafy = method.form in ("softwood tip", "side shoot", "semi-ripe stem", "slip", "vine section")
    table = (
        ("recut_above_damage", material.piece == "broken stem"),
        ("keep_from_drying", leafy and method.dry_days == 0),
        ("revive_in_water", material.state == "wilted" and leafy),
        ("pinch_flowers", material.state == "flowering"),
        ("cut_to_length", is_stem and method.form != "dormant stick"),
        ("flat_top_slanted_foot", method.form == "dormant stick"),
        ("clean_off_fruit", method.form == "crown top"),
        ("leaves_off_pup", method.form == "pup"),
        ("strip_lower", leafy),
        ("halve_big_leaves", method.form in ("semi-ripe stem", "side shoot", "vine section")),
        ("dip_if_you_use_it", method.hormone == "optional" and method.form in ("semi-ripe stem", "dormant stick")),
        ("callus", method.dry_days > 0),
        ("into_water", method.medium == "water"),
        ("into_mix", method.medium in ("mix", "stick", "bark")),
        ("into_plug", method.medium == "plug"),
        ("into_clay", method.medium in ("clay", "growbed")),
        ("into_pot", method.medium == "pot"),
        ("into_ground", method.medium == "ground"),
        ("cover_it", method.cover in ("closed", "loose")),
        ("label", True),
    )
    return (step for step, applies in table if applies)
