"""A process settled for serving: what stays for good is no longer gone through each time memory is tidied."""

from __future__ import annotations

import gc
from typing import Final

# Python tidies after every 700 things made, and goes through everything there is at each hundredth time: with the
# handbook and kept answers there that takes a quarter of a second, several times a page. Far fewer times will do.
OFTEN: Final = (200_000, 20, 20)  # of the young, the middle-aged and the old (assumed, tried)


def settle() -> None:
    """Call once everything is imported."""
    gc.collect()
    gc.freeze()
    gc.set_threshold(*OFTEN)
