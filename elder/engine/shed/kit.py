"""What a household has and uses, where that is not what Elder would take: its own containers and recipes."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Final

from elder.engine.shed.recipes import Recipe, recipes
from elder.engine.shed.vessels import Vessel, shipped


@dataclass(frozen=True)
class Kit:
    """What a household has: containers of its own, and those it uses where Elder would use another (``usual``: the key
    of Elder's to that of its own choice), and recipes likewise (``mixes`` its own)."""

    own: tuple[Vessel, ...] = ()
    usual: Mapping[str, str] = field(default_factory=dict, hash=False)
    mixes: tuple[Recipe, ...] = ()

    def vessel(self, key: str) -> Vessel | None:
        """The container of a key: a household's own, else a shipped one; nothing where there is none."""
        return next((one for one in self.own if one.key == key), None) or shipped().get(key)

    def used(self, key: str) -> Vessel:
        """What this household uses where Elder says the container of a key."""
        return self.vessel(self.usual.get(key, key)) or shipped()[key]

    def mix(self, key: str) -> Recipe | None:
        """The recipe of a key: a household's own, else the handbook's; nothing where there is none."""
        return next((one for one in self.mixes if one.key == key), None) or recipes().get(key)

    def mixed(self, key: str) -> Recipe:
        """What this household mixes where Elder says the recipe of a key."""
        return self.mix(self.usual.get(key, key)) or recipes()[key]

    def every_mix(self) -> tuple[Recipe, ...]:
        """Every recipe, a household's own first."""
        return (*self.mixes, *recipes().values())

    def every(self) -> tuple[Vessel, ...]:
        """Every container that may be chosen, a household's own first."""
        return (*(one for one in self.own if not one.gone), *shipped().values())


PLAIN: Final = Kit()


@dataclass(frozen=True)
class AsTreated:
    """How a batch is treated: what was chosen for it (schools by question, and its container), what its household has,
    and whether its plants are to stand in their pots for good."""

    chosen: Mapping[str, str] = field(default_factory=dict, hash=False)
    kit: Kit = PLAIN
    for_good: bool = False


USUAL: Final = AsTreated()
