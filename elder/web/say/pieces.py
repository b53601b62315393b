"""Pieces of plants in the gardener's words: what each is called, why one makes no plant, what habit tells."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Final

from elder.web.say.words import listed

MOST_INSTEAD: Final = 3  # of what would serve instead, so many are named
# Each piece in the gardener's word, with its article.
PIECE_WORDS: Final = {
    "tip": "a tip", "shoot": "a shoot", "sucker": "a sucker", "heel": "a heel", "stick": "a stick", "joint": "a joint",
    "pruning": "a pruning", "broken stem": "a broken stem", "top": "a top", "crown": "a crown",
    "pup": "a pup or offset", "runner": "a runner", "slip": "a slip", "rooted piece": "a rooted piece",
    "leaf": "a leaf",
}  # fmt: skip
# What can be told of a plant nobody knows, by its habit (common practice).
HABITS: Final = {
    "unknown-soft": "Soft, green and leafy: such stems root from their young tips, in water or under a loose cover.",
    "unknown-woody": "Woody and in leaf: a stem neither soft nor hard roots under a closed cover, and takes its time.",
    "unknown-bare": "Bare wood: it may sleep for months before it shows anything. Keep it damp and do not pull.",
    "unknown-fleshy": "Fleshy or spined: let the cut dry first, and then keep it on the dry side. Gloves.",
    "unknown-clump": "It has roots, or a base of its own: potted as deep as it stood, it mostly lives.",
}
WHY_NOT: Final = {  # why a piece makes no plant (common practice)
    "leaf": "a leaf has no bud to grow on from",
    "top": "it carries no crown that roots, and no stem to strike",
    "crown": "it has no crown that can be parted or twisted off",
    "pup": "it makes no offsets",
    "runner": "it sends out no runners",
    "slip": "it sprouts no slips from a tuber",
    "rooted piece": "it is not parted at the root",
    "heel": "it is not struck with a heel",
    "joint": "it has no joints",
    "stick": "its bare wood is not struck",
    "tip": "its tips do not root",
    "sucker": "it makes no suckers that root",
    "shoot": "its soft shoots do not root",
    "pruning": "what is pruned off it does not root",
    "broken stem": "a stem of it does not root",
}


def _names(found: object) -> list[str]:
    return [str(one) for one in found] if isinstance(found, tuple | list) else []


def not_this_piece(no: Mapping[str, object]) -> str:
    """That a piece makes no plant, why, and the nearest thing that does."""
    plant, piece, instead = str(no["plant"]), str(no["piece"]), _names(no["instead"])
    does = listed(PIECE_WORDS[name] for name in instead[:MOST_INSTEAD]) or "nothing that can be cut"
    if piece in instead:
        return (
            f"Not as it is. {plant} is not struck from {PIECE_WORDS[piece]} that is {no['state']}. What does: {does}."
        )
    return f"Not from that. {plant} is not raised from {PIECE_WORDS[piece]}: {WHY_NOT[piece]}. What does: {does}."
