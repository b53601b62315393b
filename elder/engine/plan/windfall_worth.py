"""What a windfall is worth: plants this season, plants that stand until the next, a winter to be kept through, or too
late."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date
from enum import IntEnum
from functools import partial
from typing import Final

from elder.engine.arrays import Floats
from elder.engine.chance.ready_by import first_day_at
from elder.engine.climate.climate import Climate
from elder.engine.climate.day_of_year import YEAR_DAYS, add_days, doy0
from elder.engine.climate.normals import midwinter
from elder.engine.handbook.model import Plant
from elder.engine.keeping import cached_property
from elder.engine.place.warmth import Place
from elder.engine.plan.cold import cold_of
from elder.engine.plan.planting_windows import PlantingWindow, planting_windows
from elder.engine.plan.wintering import keeps_at
from elder.engine.setting import Setting

REACH_DAYS: Final = 480  # how far ahead a windfall is followed
SETTLED: Final = 0.8  # plants go out once this share of those that will be are ready (assumed)
THIS_YEAR_DAYS: Final = 200  # a planting window that opens later than this belongs to another year (assumed)


class Worth(IntEnum):
    """What a way is worth, best first."""

    THIS_YEAR = 0
    STANDS = 1
    KEPT = 2
    TOO_LATE = 3


# A plant next year is worth less than one this year, and one to nurse through winter less again (assumed).
WORTH_WEIGHT: Final[dict[Worth, float]] = {
    Worth.THIS_YEAR: 1.0,
    Worth.STANDS: 0.7,
    Worth.KEPT: 0.5,
    Worth.TOO_LATE: 0.01,
}


@dataclass(frozen=True, eq=False)
class Season:
    """The year ahead of a garden, as far as it says what becomes of cuttings taken today."""

    climate: Climate
    today: date
    accepted_risk: float

    def worth(self, setting: Setting, ready: Floats) -> tuple[Worth, date | None]:
        """What the way is worth, and the day its plants go out, if they ever do."""
        comes = ready, int(first_day_at(ready, SETTLED)), int(first_day_at(ready, 0.5))
        kept = self.keeps(setting.plant, setting.growing_place)
        return self.judged(setting, comes, partial(self.is_too_cold, setting), kept=kept)

    def judged(
        self, setting: Setting, comes: tuple[Floats, int, int], too_cold: Callable[[date], bool], *, kept: bool
    ) -> tuple[Worth, date | None]:
        """The same; of the setting the places are not read. ``comes``: the chance of being ready by each day, and the
        days to most being ready and to half of them, −1 for never; ``too_cold``: whether it is too cold for it until a
        day; ``kept``: whether it comes through the winter where it grows on."""
        plant, method, (ready, settled, half) = setting.plant, setting.method, comes
        for window in self.windows(plant):
            out = self._day_out(window, settled, ready)
            if out is None:
                continue
            if too_cold(out):
                return Worth.TOO_LATE, None
            waits = (out - self.today).days - half
            soon = (window.opens - self.today).days <= THIS_YEAR_DAYS
            through_winter = soon is False or self._winter_before(out)
            if through_winter and not (kept or method.wood == "dormant"):  # bare wood bears far more
                return Worth.TOO_LATE, None
            if waits <= plant.patience_days or method.direct:
                return (Worth.STANDS if through_winter else Worth.THIS_YEAR), out
            return Worth.KEPT, out
        return (Worth.KEPT if kept and settled >= 0 else Worth.TOO_LATE), None

    def is_too_cold(self, setting: Setting, out: date) -> bool:
        """Whether it would have to be carried in on more nights than one would, or is killed where it stands."""
        cold, most = cold_of(setting, self.today, 1, out), setting.assumptions.carry_nights
        too_many = most is not None and round(float(cold.nights[0])) > most
        return too_many or float(cold.killed[0]) > self.accepted_risk

    def windows(self, plant: Plant) -> list[PlantingWindow]:
        """When its plants could go out, asked once a plant."""
        if plant not in self._windows:
            self._windows[plant] = planting_windows(
                plant, self.climate, accepted_risk=self.accepted_risk, start=self.today, days=REACH_DAYS
            )
        return self._windows[plant]

    def keeps(self, plant: Plant, place: Place) -> bool:
        """Whether it comes through the winter at a place, asked once of each."""
        asked = plant, place
        if asked not in self._keeps:
            self._keeps[asked] = keeps_at(plant, place, self.climate, self.accepted_risk)
        return self._keeps[asked]

    @cached_property
    def _windows(self) -> dict[Plant, list[PlantingWindow]]:
        return {}

    @cached_property
    def _keeps(self) -> dict[tuple[Plant, Place], bool]:
        return {}

    @cached_property
    def _midwinter(self) -> int:
        """Days to the next midwinter."""
        return (midwinter(self.climate.normals) - doy0(self.today)) % YEAR_DAYS

    def _day_out(self, window: PlantingWindow, settled: int, ready: Floats) -> date | None:
        """The first day of a window on which most are ready; its last day where half are by then."""
        if settled >= 0:
            day = max(window.opens, add_days(self.today, settled))
            if day <= window.shuts:
                return day
        last = (window.shuts - self.today).days
        return window.shuts if 0 <= last < REACH_DAYS and ready[last] >= 0.5 else None

    def _winter_before(self, out: date) -> bool:
        """Whether a night that this plant does not bear lies between today and the day out."""
        return self.climate.frost.autumn is not None and (out - self.today).days > self._midwinter


def day_at(today: date, index: int) -> date | None:
    """So many days from today; ``None`` for −1."""
    return add_days(today, index) if index >= 0 else None
