"""The Season board's page: the board, what is due, where room or wood lacks, and what the two dials try."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from elder.web.garden.access import GardenRequest
from elder.web.garden.guesses import guess_words
from elder.web.garden.models import Garden
from elder.web.logbook.standing import once_looking
from elder.web.read.demand import asks_here
from elder.web.read.long_crops import long_crops
from elder.web.read.mothers import Known, known
from elder.web.read.wants import Reckoning, reckon_all
from elder.web.read.what_if import WhatIf
from elder.web.say.crop_rows import CropLine, crop_lines
from elder.web.say.mothers import troubles
from elder.web.say.numbers import Numbers, season_numbers
from elder.web.say.words import sureness
from elder.web.season.board import GROUPS, ZOOMS, Board, View, board_of
from elder.web.season.forms import SURE
from elder.web.season.models import Want
from elder.web.season.starters import Starter, starters
from elder.web.season.today import todays_list
from elder.web.season.wording import Due

RISKS = (0.02, 0.05, 0.10, 0.20, 0.30, 0.50)
ROWS = 6  # of years; the others stand in the Year room
SURES = tuple(value for value, _ in SURE)


@dataclass(frozen=True)
class Dial:
    """A slider over a few steps: the step it stands at, in words, and the number of the last one."""

    at: int
    words: str
    top: int


@dataclass(frozen=True)
class SeasonPage:
    """The board: every open want on one time axis. Starters stand in a season with nothing in it."""

    board: Board
    short_mothers: list[str]
    due: list[Due]
    what_if: WhatIf
    risk: Dial
    sure: Dial
    zooms: list[tuple[str, str, bool]]
    groupings: list[tuple[str, str, bool]]
    other_size: str
    view: View
    away: int
    starters: list[Starter]
    has_places: bool
    crops: list[CropLine]
    guess: str
    numbers: Numbers


def season_page(request: GardenRequest) -> SeasonPage:
    """The board as the address asks to look at it."""
    today, garden = request.today, request.garden
    what_if = _what_if(request)
    reckonings = reckon_all(garden, today, what_if)
    view = View.of(request.GET)
    risk, mothers = what_if.risk or garden.accepted_risk, known(garden, today)
    return SeasonPage(
        board=board_of(reckonings, garden, today, view),
        short_mothers=_short_mothers(garden, mothers, reckonings, today),
        due=todays_list(reckonings, garden, today, request.user.units, mothers),
        what_if=what_if,
        risk=Dial(_nearest(RISKS, risk), sureness(risk), len(RISKS) - 1),
        sure=_sure_dial(what_if, reckonings),
        zooms=[(name, view.address(zoom=key), key == view.zoom) for key, name in ZOOMS.items()],
        groupings=[(name, view.address(group=key), key == view.group) for key, name in GROUPS.items()],
        other_size=view.address(rows="large" if view.rows == "small" else "small"),
        view=view,
        away=once_looking(garden, "away", lambda: Want.objects.filter(garden=garden, closed_on__isnull=False).count()),
        starters=[] if reckonings else starters(garden, today),
        has_places=bool(reckonings) or garden.places.exists(),
        crops=crop_lines(long_crops(garden, today, mothers), today, request.user.units, ROWS),
        guess=guess_words(garden),
        numbers=season_numbers(reckonings, today),
    )


def risk_asked(text: str | None) -> float | None:
    """The frost risk a dial stands at, or nothing."""
    return _step(text, RISKS)


def _what_if(request: GardenRequest) -> WhatIf:
    """What the two sliders say, where they say anything other than as it is."""
    risk, sure = risk_asked(request.GET.get("risk")), _step(request.GET.get("sure"), SURES)
    return WhatIf(risk=None if risk == request.garden.accepted_risk else risk, sure=sure)


def _step(text: str | None, steps: tuple[float, ...]) -> float | None:
    """One of a few steps by its number, or nothing."""
    return steps[int(text)] if text and text.isdecimal() and len(text) < 4 and int(text) < len(steps) else None


def _nearest(steps: tuple[float, ...], value: float) -> int:
    return min(range(len(steps)), key=lambda i: abs(steps[i] - value))


def _sure_dial(what_if: WhatIf, reckonings: list[Reckoning]) -> Dial:
    """How sure: what is tried, else what most wants ask for."""
    asked = [item.row.confidence for item in reckonings]
    usual = max(set(asked), key=asked.count) if asked else 0.9
    value = what_if.sure or usual
    mixed = what_if.sure is None and len(set(asked)) > 1
    return Dial(_nearest(SURES, value), sureness(value) + (", mostly" if mixed else ""), len(SURES) - 1)


def _short_mothers(garden: Garden, mothers: list[Known], reckonings: list[Reckoning], today: date) -> list[str]:
    """Where a mother shared by several wants is asked for more than it has."""
    looks = {one.row.pk: one.looks for one in mothers}
    return [
        said
        for mother, asks in asks_here(garden, today, mothers, reckonings).items()
        for said in troubles(mother, looks[mother.pk], asks, today)
    ]
