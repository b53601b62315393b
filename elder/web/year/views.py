"""The Year room: what runs over a year and more."""

from __future__ import annotations

from dataclasses import dataclass

from django.http import HttpResponse
from django.views.decorators.http import require_GET

from elder.drawing.scene import Scene
from elder.web.garden.access import GardenRequest, in_garden
from elder.web.read.lines import line_today
from elder.web.read.long_crops import long_crops
from elder.web.read.moves import move_today, open_move
from elder.web.read.promises import open_promises
from elder.web.read.winter import winter_list
from elder.web.say.crop_rows import CropLine, crop_lines
from elder.web.say.lines import line_headline, line_title
from elder.web.say.moving import move_headline
from elder.web.say.promises import board_headline
from elder.web.say.winter import list_headline
from elder.web.ui.pages import show
from elder.web.year.line_pages import scene_of
from elder.web.year.models import Multiplying

SMALL = 120  # px
NO_MOVE = ("No move is planned.", "Should one come, Elder says what can be dug, carried, cut or sown again in time.")
SHOWN = 6  # crops on the first page


@dataclass(frozen=True)
class LineCard:
    """A line on the room's first page."""

    pk: int
    title: str
    headline: tuple[str, str]
    scene: Scene


@dataclass(frozen=True)
class YearRoom:
    """The room."""

    lines: list[LineCard]
    winter: tuple[str, str]
    promised: tuple[str, str]
    moving: tuple[str, str]
    came: bool
    crops: list[CropLine]


@require_GET
@in_garden("see")
def year(request: GardenRequest) -> HttpResponse:
    """The room's first page."""
    rows = Multiplying.objects.filter(garden=request.garden, closed_on=None)
    cards = []
    for row in rows.select_related("rooting_place", "growing_place"):
        found = line_today(row, request.garden, request.today)
        cards.append(LineCard(row.pk, line_title(found), line_headline(found), scene_of(found, SMALL)))
    crops = long_crops(request.garden, request.today)
    winter = list_headline(winter_list(request.garden, request.today))
    promised = board_headline(open_promises(request.garden, request.today), request.today)
    move = open_move(request.garden)
    moving = move_headline(move_today(move, request.garden, request.today)) if move else NO_MOVE
    came = request.garden.came_from_id is not None
    page = YearRoom(cards, winter, promised, moving, came, crop_lines(crops, request.today, request.user.units, SHOWN))
    return show(request, "year/year.html", page)
