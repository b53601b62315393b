"""Routes: by which steps a cutting becomes a plant, once it has roots.

Most are potted; a jar-rooted tomato may go straight out, bare wood is lined out and lifted when it rests, a pup
stands in its own pot from the first. History, forecast, sheet and round ask the route, never the way's name. That
each is done is common practice of the trade and has no single source.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Final


@dataclass(frozen=True)
class Route:
    """One route. ``roots_as``: the stage at which one that has roots is found. ``establishes``: whether it grows on in
    a vessel of its own before it may go out. ``grows_in``: what it does that in (a container's name; nothing: it stays
    where it rooted). ``lifted``: dug up again when it next rests, and potted."""

    key: str
    roots_as: str
    establishes: bool
    grows_in: str = ""
    lifted: bool = False

    @property
    def in_ground(self) -> bool:
        """Whether it is struck in the open ground, where it is to stand or until it is lifted."""
        return self.roots_as == "planted"

    @property
    def is_moved(self) -> bool:
        """Whether one that has roots is moved into another vessel by hand."""
        return self.roots_as == "rooted" and self.establishes

    @property
    def stays(self) -> bool:
        """Whether it stands at its rooting place until it goes out."""
        return not self.establishes


POTTED: Final = Route("potted", "rooted", establishes=True, grows_in="pot")
STRAIGHT_OUT: Final = Route("straight out", "rooted", establishes=False)
IN_PLACE: Final = Route("in place", "planted", establishes=False)
LINED_OUT: Final = Route("lined out", "planted", establishes=False, lifted=True)
SOLUTION: Final = Route("solution", "rooted", establishes=True, grows_in="net pot")
WITH_ROOTS: Final = Route("with roots", "potted", establishes=True, grows_in="pot")
ROUTES: Final = {route.key: route for route in (POTTED, STRAIGHT_OUT, IN_PLACE, LINED_OUT, SOLUTION, WITH_ROOTS)}
