"""Old notes, pasted or as a file; what each column is; what the table does not say."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, Final, cast
from uuid import UUID, uuid4

from django import forms
from django.core.exceptions import ValidationError

from elder.engine.refusal import Refusal
from elder.web.formats.daily import text_of
from elder.web.formats.dates import DateOrder
from elder.web.formats.old_notes import NotesAsked, NotesTable, names_inches, table_of
from elder.web.garden.clock import today_nowhere
from elder.web.garden.models import Place
from elder.web.garden.records_forms import bytes_of
from elder.web.record.old_notes import BECAME, NotesFrame
from elder.web.say.refusals import refusal_words
from elder.web.ui.fields import Sent, choosing

if TYPE_CHECKING:
    from django.core.files.uploadedfile import UploadedFile
    from django.utils.datastructures import MultiValueDict

    Files = MultiValueDict[str, UploadedFile[bytes]]

MOST_TEXT: Final = 300_000
COLUMN_WORDS: Final = {
    "": "leave it out", "plant": "the plant", "variety": "its variety", "method": "the way", "mother": "cut from",
    "place": "where it stood", "cut_on": "day of the cut", "count": "cuttings", "rooted": "rooted",
    "rooted_on": "day of the roots", "root_cm": "longest root", "lost": "lost", "potted": "potted on",
    "potted_on": "day of potting", "planted": "planted out", "planted_on": "day of planting", "note": "a note",
}  # fmt: skip
ORDERS: Final = (
    ("", "as it fits best"), ("dmy", "day, month, year"), ("mdy", "month, day, year"), ("ymd", "year, month, day")
)  # fmt: skip


class NotesForm(forms.Form):
    """The notes, and what is asked of them."""

    key = forms.UUIDField(widget=forms.HiddenInput, initial=uuid4, required=False)
    text = forms.CharField(
        label="Your old notes, with their headings", max_length=MOST_TEXT, required=False,
        widget=forms.Textarea(attrs={"rows": 8, "spellcheck": "false"}),
        error_messages={"max_length": "Longer than is read at a time: at most 500 lines."},
    )  # fmt: skip
    file = forms.FileField(
        label="or a file", required=False, widget=forms.FileInput(attrs={"accept": ".csv,.tsv,.txt"}),
        error_messages={"empty": "That file is empty."},
    )  # fmt: skip
    order = forms.ChoiceField(label="Dates are written", choices=ORDERS, required=False)
    unit = forms.ChoiceField(
        label="Roots are measured in", choices=[("cm", "centimetres"), ("in", "inches")], required=False
    )
    rooting_place = forms.ChoiceField(label="Rooted at, where none is named", required=False)
    growing_place = forms.ChoiceField(label="Grown on at", required=False)
    became = forms.ChoiceField(
        label="Rooted ones of which no more is said", choices=list(BECAME.items()), required=False
    )

    def __init__(self, data: Sent = None, files: Files | None = None, *, places: Sequence[Place], units: str) -> None:
        super().__init__(data, files)
        self._places = {str(place.pk): place for place in places}
        for name in ("rooting_place", "growing_place"):
            choosing(self, name).choices = [(key, place.name) for key, place in self._places.items()]
        self.fields["unit"].initial = "in" if units == "us" else "cm"
        self.table: NotesTable | None = None

    def clean(self) -> dict[str, object]:
        """The table, from what was pasted or from the file."""
        given = super().clean() or {}
        sent, text = given.get("file"), str(given.get("text") or "")
        if sent:
            try:
                text = text_of(bytes_of(sent))
            except ValidationError as error:
                self.add_error("file", error)
                return given
        if not text.strip():
            if not self.errors:
                self.add_error("text", "Paste your notes, or choose a file.")
            return given
        if len(text) > MOST_TEXT:
            self.add_error("file", "Longer than is read at a time: at most 500 lines.")
            return given
        given["text"] = text
        found = table_of(text)
        if isinstance(found, Refusal):
            self.add_error("text", refusal_words(found, today_nowhere()))
        else:
            self.table = found
        return given

    def asked(self, table: NotesTable) -> NotesAsked:
        """What each column is: as chosen, or as its heading says."""
        chosen = [self.data.get(f"column-{i}") for i in range(len(table.heads))]
        columns = tuple(
            said if said in COLUMN_WORDS else guess for said, guess in zip(chosen, table.guesses, strict=True)
        )
        said = names_inches(table, columns)
        inches = self.cleaned_data.get("unit") == "in" if said is None else said
        return NotesAsked(cast("tuple[str, ...]", columns), cast(DateOrder, self.cleaned_data.get("order", "")), inches)

    def frame(self) -> NotesFrame:
        """What holds for every line."""
        places = list(self._places.values())
        at = [
            self._places.get(self.cleaned_data.get(name, ""), places[0]) for name in ("rooting_place", "growing_place")
        ]
        return NotesFrame(at[0], at[1], self.cleaned_data.get("became") or "planted")

    def pressed(self) -> UUID:
        """The key of the press."""
        key: UUID | None = self.cleaned_data.get("key")
        return key or uuid4()
