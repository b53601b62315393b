"""Old notes read in: what each column is taken for, each line as a batch or why it is none, kept in one press."""

from __future__ import annotations

from dataclasses import dataclass, field

from django.http import HttpResponse
from django.shortcuts import redirect
from django.views.decorators.http import require_http_methods

from elder.web.formats.old_notes import NotesTable, ReadNotes, read_notes
from elder.web.garden.access import GardenRequest, in_garden
from elder.web.garden.hands import Hands
from elder.web.record.old_notes import OldBatch, keep_notes, old_batches, unkeeping
from elder.web.record.old_notes_forms import COLUMN_WORDS, NotesForm
from elder.web.say.batches import entry_words
from elder.web.say.plants import plant_words
from elder.web.say.words import day_words, plural
from elder.web.ui.pages import show
from elder.web.ui.saved import saved

MOST_SHOWN = 100


@dataclass(frozen=True)
class ColumnAsked:
    """A column: its heading, what stands in it first, what it is taken for."""

    name: str
    head: str
    example: str
    taken: str


@dataclass(frozen=True)
class NoteShown:
    """A line as it would be kept, or why it would not."""

    number: int
    title: str
    told: list[str]
    guessed: tuple[str, ...]
    wrong: str


@dataclass(frozen=True)
class NotesPage:
    """The notes, and, once they were looked at, what they would be."""

    form: NotesForm
    choices: list[tuple[str, str]] = field(default_factory=lambda: list(COLUMN_WORDS.items()))
    columns: list[ColumnAsked] = field(default_factory=list)
    lines: list[NoteShown] = field(default_factory=list)
    answer: str = ""
    unsure: bool = False
    asks_unit: bool = False
    good: int = 0
    more: int = 0


@require_http_methods(["GET", "POST"])
@in_garden("plan")
def old_notes(request: GardenRequest) -> HttpResponse:
    """Paste, look, keep. Nothing is kept until it was looked at."""
    places = list(request.garden.places.all())
    form = NotesForm(request.POST or None, request.FILES or None, places=places, units=request.user.units)
    if request.method == "POST" and not places:
        form.add_error("text", "A batch stands somewhere: describe a place first, under Places.")
    if request.method != "POST" or not form.is_valid() or form.table is None:
        return show(request, "record/old_notes.html", NotesPage(form))
    asked = form.asked(form.table)
    read = read_notes(form.table, asked)
    found = old_batches(read.lines, request.garden, form.frame(), request.today)
    if "keep" in request.POST and any(not one.wrong for one in found):
        made = keep_notes(found, Hands(request.garden, request.user, request.today, form.pressed()))
        undo = unkeeping(made).offered(request.garden)
        saved(request, "old-notes", f"Read in: {plural(len(made), 'batch', 'batches')} of old.", undo=undo)
        return redirect("record", request.garden.pk)
    # What came as a file is typing from now on: it comes back with the page.
    data = request.POST.copy()
    data["text"] = form.cleaned_data["text"]
    form.data = data
    return show(request, "record/old_notes.html", _page(request, form, asked.columns, read, found))


def _page(
    request: GardenRequest, form: NotesForm, columns: tuple[str, ...], read: ReadNotes, found: list[OldBatch]
) -> NotesPage:
    good = sum(not one.wrong for one in found)
    wrong = len(found) - good
    answer = f"{plural(good, 'line is a batch', 'lines are batches')}" + (
        f", {plural(wrong, 'is not', 'are not')} and would be left out." if wrong else "."
    )
    shown = sorted(found, key=lambda one: (not one.wrong, one.line.number))[:MOST_SHOWN]
    return NotesPage(
        form=form,
        columns=_columns(form.table, columns) if form.table else [],
        lines=[_shown(one, request) for one in shown],
        answer=answer,
        unsure=read.unsure,
        asks_unit="root_cm" in columns,
        good=good,
        more=len(found) - len(shown),
    )


def _columns(table: NotesTable, columns: tuple[str, ...]) -> list[ColumnAsked]:
    first = [next((row[i] for _, row in table.lines if row[i]), "") for i in range(len(table.heads))]
    return [
        ColumnAsked(f"column-{i}", head or f"column {i + 1}", example[:40], taken)
        for i, (head, example, taken) in enumerate(zip(table.heads, first, columns, strict=True))
    ]


def _shown(one: OldBatch, request: GardenRequest) -> NoteShown:
    if one.plant is None or one.wrong:
        said = one.line.words.get("plant", "")
        return NoteShown(one.line.number, one.plant.name if one.plant else said[:60], [], one.guessed, one.wrong)
    title = plant_words(one.plant.name, one.line.words.get("variety", "")[:60])
    way = one.method.name if one.method else ""
    at = one.rooting_place.name if one.rooting_place else ""
    told = [f"{day_words(entry.on, request.today, weekday=False)}: {entry_words(entry)}" for entry in one.entries]
    return NoteShown(one.line.number, f"{title}, {way}, {at}, {one.said_from}", told, one.guessed, "")
