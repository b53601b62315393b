"""A plant from another garden: its file is looked at first, and taken in by a second press."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final, Unpack
from uuid import uuid4

from django import forms
from django.core import signing
from django.http import HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_http_methods, require_POST

from elder.engine.handbook.model import Plant
from elder.engine.refusal import Refusal
from elder.web.batches.models import Batch
from elder.web.formats.plant_file import MOST_BYTES, PlantFile, read_plant, write_plant
from elder.web.garden.access import GardenRequest, in_garden
from elder.web.garden.hands import Hands
from elder.web.garden.models import Garden, Place
from elder.web.passing.bringing import Brought, is_known, own_faults, plant_brought, take_in, unbringing
from elder.web.say.plants import plant_words, way_words
from elder.web.say.refusals import refusal_words
from elder.web.say.slips import line_words
from elder.web.ui.fields import Filled, Sent, choosing
from elder.web.ui.pages import show
from elder.web.ui.saved import saved

if TYPE_CHECKING:
    from elder.web.ui.fields import Files

SALT: Final = "elder.plant-file"
LASTS_S: Final = 3600


class FileForm(forms.Form):
    """A plant's file."""

    file = forms.FileField(
        label="The file that came with it",
        error_messages={"required": "Choose the file.", "empty": "That file is empty."},
        widget=forms.FileInput(attrs={"accept": ".json,application/json"}),
    )

    def __init__(self, data: Sent = None, files: Files = None, **rest: Unpack[Filled]) -> None:
        super().__init__(data, files, **rest)

    def read(self) -> PlantFile | Refusal:
        """The plant, or why it is none. Only for a form that is valid."""
        return read_plant(self.cleaned_data["file"].read(MOST_BYTES + 1))


class TakeInForm(forms.Form):
    """What it is called here and where it goes."""

    of = forms.CharField(widget=forms.HiddenInput, max_length=4 * MOST_BYTES)
    name = forms.CharField(
        label="What you call it", max_length=80,
        error_messages={"required": "Give it a name of your own.", "max_length": "At most 80 letters."},
    )  # fmt: skip
    place = forms.ChoiceField(label="It stands at", error_messages={"required": "Choose a place."})
    method = forms.ChoiceField(label="Struck", required=False)
    key = forms.UUIDField(widget=forms.HiddenInput, initial=uuid4, required=False)

    def __init__(self, data: Sent = None, *, places: list[Place], plant: Plant | None, **rest: Unpack[Filled]) -> None:
        super().__init__(data, **rest)
        self.places = {str(place.pk): place for place in places}
        choosing(self, "place").choices = [(pk, place.name) for pk, place in self.places.items()]
        if plant is None:
            del self.fields["method"]
        else:
            choosing(self, "method").choices = [(way.slug, way_words(way.form, way.name)) for way in plant.ways]

    def brought(self) -> Brought:
        """What is made of it. Only for a form that is valid."""
        data = self.cleaned_data
        return Brought(data["name"].strip(), self.places[data["place"]], data.get("method", ""))


@dataclass(frozen=True)
class BringPage:
    """A file to be chosen; or what it holds, and the second press."""

    form: FileForm
    preview: BroughtPreview | None = None


@dataclass(frozen=True)
class BroughtPreview:
    """What a file holds, and what it would be here."""

    title: str
    latin: str
    said: str
    line: list[str]
    faults: list[str]
    form: TakeInForm | None


@require_http_methods(["GET", "POST"])
@in_garden("plan")
def bring(request: GardenRequest) -> HttpResponse:
    """Choose a file; what it holds is shown, and nothing is kept."""
    form = FileForm(request.POST or None, request.FILES or None)
    if request.method != "POST" or not form.is_valid():
        return show(request, "passing/bring.html", BringPage(form))
    file = form.read()
    if isinstance(file, Refusal):
        form.add_error("file", refusal_words(file, request.today))
        return show(request, "passing/bring.html", BringPage(form))
    return show(request, "passing/bring.html", BringPage(FileForm(), preview_of(file, request.garden)))


def preview_of(file: PlantFile, garden: Garden, wrong: TakeInForm | None = None) -> BroughtPreview:
    """What it would be here."""
    known = is_known(file, garden)
    form = wrong
    if form is None and known:
        form = take_form(file, garden, None, {"of": signing.dumps(_bare(file), salt=SALT, compress=True)})
    count = f"{file.count} cuttings, unrooted" if file.is_unrooted else f"{file.count}, with roots"
    own = "; a plant of the giver’s own, which comes with all its values" if file.own else ""
    faults = own_faults(file)
    if not known and not faults:
        faults = ["Elder here knows no such plant, and the file brings none: ask for it as a plant of their own."]
    return BroughtPreview(
        title=plant_words(file.name, file.variety),
        latin=file.latin,
        said=f"{count}{own}.",
        line=list(line_words(file)),
        faults=faults,
        form=form if known else None,
    )


def _bare(file: PlantFile) -> str:
    return write_plant(file).decode()


def take_form(file: PlantFile, garden: Garden, data: Sent, start: dict[str, object]) -> TakeInForm:
    """The second press's form."""
    places = list(garden.places.all())
    plant = plant_brought(file, garden)
    named = plant_words(file.name, file.variety)
    taken = set(garden.stock_plants.values_list("name", flat=True))
    name = next(one for one in (named, *(f"{named} {i}" for i in range(2, 999))) if one not in taken)
    strikes = plant if file.is_unrooted else None
    start |= {"name": name[:80], "method": file.method}
    return TakeInForm(data, places=places, plant=strikes, initial=start)


@require_POST
@in_garden("plan")
def take(request: GardenRequest) -> HttpResponse:
    """Take it in, as it was shown."""
    garden = request.garden
    try:
        told = signing.loads(request.POST.get("of", ""), salt=SALT, max_age=LASTS_S)
    except signing.BadSignature:
        form = FileForm()
        page = BringPage(form)
        return show(request, "passing/bring.html", page)
    file = read_plant(str(told).encode())
    if isinstance(file, Refusal):
        return redirect("passing-bring", garden.pk)
    form_in = take_form(file, garden, request.POST, {})
    if form_in.is_valid() and is_known(file, garden):
        hands = Hands(garden, request.user, request.today, form_in.cleaned_data.get("key") or uuid4())
        row = take_in(file, form_in.brought(), hands)
        if not isinstance(row, Refusal):
            undo = unbringing(row).offered(garden)
            saved(request, "passing-bring", "It is in the garden, with its family.", undo=undo)
            if isinstance(row, Batch):
                return redirect("batch", garden.pk, row.pk)
            return redirect("stock-plant", garden.pk, row.pk)
        form_in.add_error(row.field or None, refusal_words(row, request.today))
    return show(request, "passing/bring.html", BringPage(FileForm(), preview_of(file, garden, form_in)))
