"""What a question is asked under: the plant, the way, the climate, the places, the day, and what is assumed."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date

from elder.engine.assumptions import USUAL, Assumptions
from elder.engine.chance.counting import Take
from elder.engine.chance.ready_by import Raising
from elder.engine.climate.climate import Climate
from elder.engine.handbook.model import Method, Plant
from elder.engine.place.warmth import Place


@dataclass(frozen=True)
class Setting:
    """Everything a plan or a forecast is asked under, beside the want or the batch itself. ``shaded``: what roots
    stands in shade at its place."""

    plant: Plant
    method: Method
    climate: Climate
    rooting_place: Place
    growing_place: Place
    today: date
    assumptions: Assumptions = USUAL
    shaded: bool = False

    @property
    def grown(self) -> Setting:
        """The same with the plant as its method grows it: a pup crops sooner than a top."""
        return replace(self, plant=self.plant.grown_by(self.method))

    @property
    def stands_at(self) -> Place:
        """Where rooted ones stand until they go out: what goes out from where it rooted stays there."""
        return self.rooting_place if self.method.route.stays else self.growing_place

    def asked_on(self, day: date) -> Setting:
        """The same on another day."""
        return replace(self, today=day)

    @property
    def after_roots(self) -> Take:
        """Of those that have roots, the share that comes to stand ready."""
        return Take(self.assumptions.stand_share, self.assumptions.stand_weight)

    def raising(self, *, harden: bool = True) -> Raising:
        """What becomes of a cutting here, without the day it is asked on."""
        method = self.method
        return Raising(
            cardinals=self.plant.cardinals,
            rooting=method.rooting,
            establish=method.grown_on,
            dry_days=method.dry_days,
            harden_days=method.harden_days if harden else 0,
            climate=self.climate,
            rooting_place=self.rooting_place,
            growing_place=self.stands_at,
            assumptions=self.assumptions,
        )
