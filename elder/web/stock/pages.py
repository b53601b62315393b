"""A mother plant as her pages show her: what she gives, how she was seen, what was cut from her."""

from __future__ import annotations

from dataclasses import dataclass

from django.core.paginator import Page

from elder.engine.cut.standing import cut_spec
from elder.web.garden.access import GardenRequest
from elder.web.read.batches import BatchToday, cut_from
from elder.web.read.families import family_of
from elder.web.read.mothers import Known
from elder.web.say.batches import counts_words, title_of
from elder.web.say.plants import plant_words
from elder.web.say.words import about
from elder.web.stock.family_pages import FamilyPicture, Traced, family_picture, traced
from elder.web.stock.forms import EndForm, LookForm
from elder.web.stock.models import StockLook, StockPhoto, StockPlant
from elder.web.stock.wording import age_words, gives_words, origin_words, state_words


@dataclass(frozen=True)
class MotherWords:
    """A mother in words: what she gives today, and why no more; how she was last seen and when."""

    mother: Known
    title: str
    strong: str
    rest: str
    state: str
    seen_on: str

    @property
    def origin(self) -> str:
        """Whence she came."""
        return origin_words(self.mother.row)

    @property
    def age(self) -> str:
        """How long she has been here."""
        return age_words(self.mother)


@dataclass(frozen=True)
class StockRow:
    """A mother in the list of them all: what is asked of her, and where that is too much."""

    it: MotherWords
    asked: list[str]
    short: list[str]


@dataclass(frozen=True)
class StockPage:
    """Every mother, a leaf at a time; those that are no more apart, on the first."""

    rows: list[StockRow]
    ended: list[MotherWords]
    leaf: Page[Known]


@dataclass(frozen=True)
class SeenLine:
    """A look at a mother, with the key of its photo if there is one."""

    look: StockLook
    words: str
    photo: int | None


@dataclass(frozen=True)
class CutLine:
    """A batch cut from a mother."""

    batch: BatchToday
    title: str
    counts: str


@dataclass(frozen=True)
class MotherPage:
    """One mother: what she gives, her line, how she was seen, what came of her, and the forms to say more."""

    it: MotherWords
    row: StockPlant
    has_stem: bool
    looks: list[SeenLine]
    look_form: LookForm
    end_form: EndForm
    takes: list[CutLine]
    traced: Traced | None
    family: FamilyPicture


def mother_words(item: Known) -> MotherWords:
    """A mother in words."""
    strong, rest = gives_words(item)
    return MotherWords(
        mother=item,
        title=plant_words(item.plant.name, item.row.variety),
        strong=strong,
        rest=rest,
        state=state_words(item.looks[-1]) if item.looks else "not looked at yet",
        seen_on=about(item.looks[-1].on, item.today) if item.looks else "",
    )


def mother_page(
    request: GardenRequest, item: Known, *, look_form: LookForm | None = None, end_form: EndForm | None = None
) -> MotherPage:
    """A mother's page, with forms as they were sent or fresh ones."""
    start: dict[str, object] = {"growth": item.seen.growth, "health": item.seen.health} if item.looks else {}
    family, key = family_of(request.garden, request.today, plant=item.row.plant), str(item.row.pk)
    photos = {photo.look_id: photo.pk for photo in StockPhoto.objects.filter(look__in=item.looks).only("pk", "look_id")}
    fresh = LookForm(today=request.today, has_pups=item.plant.pups is not None, initial=start)
    return MotherPage(
        it=mother_words(item),
        row=item.row,
        has_stem=any(cut_spec(item.plant, way) for way in item.plant.ways),
        looks=[SeenLine(look, state_words(look), photos.get(look.pk)) for look in reversed(item.looks)],
        look_form=look_form or fresh,
        end_form=end_form or EndForm(today=request.today),
        takes=[
            CutLine(row, title_of(row), counts_words(row)) for row in cut_from(item.row, request.garden, request.today)
        ],
        traced=traced(request, family, key),
        family=family_picture(request, family, focus=key, only_line=True),
    )
