"""Forms of the bench: taking a batch, a look, a move, a correction."""

from __future__ import annotations

from collections.abc import Sequence
from typing import ClassVar, Unpack

from django import forms

from elder.web.batches.models import Entry
from elder.web.ui.fields import DatedForm, FilledDay, Sent, choosing, count_field, day_field

Stages = Sequence[tuple[str, str]]


class BenchForm(DatedForm):
    """A form that comes to entries in a batch's history."""

    def entries(self) -> list[Entry]:
        """The entries it comes to. Only for a form that is valid."""
        raise NotImplementedError


class MoveForm(BenchForm):
    """Some that go on to the next stage; which of them, where they stand at several (``stages``: key and words)."""

    on = day_field("On")
    count = count_field("How many")
    stage = forms.ChoiceField(label="Which of them", required=False)
    how = forms.ChoiceField(label="To whom or what", required=False, choices=Entry.How)

    kinds: ClassVar = {
        "pot-on": Entry.Kind.POTTED,
        "harden": Entry.Kind.HARDENING,
        "plant-out": Entry.Kind.PLANTED,
        "lift": Entry.Kind.LIFTED,
        "give": Entry.Kind.GIVEN,
        "pot-up": Entry.Kind.POTTED_UP,
    }

    def __init__(self, data: Sent = None, *, stages: Stages = (), **rest: Unpack[FilledDay]) -> None:
        super().__init__(data, **rest)
        choosing(self, "stage").choices = list(stages)
        if len(stages) < 2:
            del self.fields["stage"]
        if self.prefix != "give":
            del self.fields["how"]

    def entries(self) -> list[Entry]:
        """One move. The form's prefix is its verb."""
        data = self.cleaned_data
        kind = self.kinds[str(self.prefix)]
        how = data.get("how", "")
        return [Entry(kind=kind, on=data["on"], count=data["count"], stage=data.get("stage", ""), deed=how)]


class HarvestForm(BenchForm):
    """The first harvest."""

    on = day_field("First harvest on")

    def entries(self) -> list[Entry]:
        """The harvest."""
        return [Entry(kind=Entry.Kind.HARVESTED, on=self.cleaned_data["on"])]


class NoteForm(BenchForm):
    """Something to remember that changes nothing."""

    on = day_field("On")
    note = forms.CharField(
        label="Note",
        max_length=2000,
        widget=forms.Textarea(attrs={"rows": 3}),
        error_messages={"required": "Write the note first."},
    )

    def entries(self) -> list[Entry]:
        """The note."""
        return [Entry(kind=Entry.Kind.NOTE, on=self.cleaned_data["on"], note=self.cleaned_data["note"])]


class CorrectForm(DatedForm):
    """Put an entry right, or strike it."""

    on = day_field("The right day")
    count = count_field("The right number", required=False)
    note = forms.CharField(
        label="Why, if you like", required=False, max_length=2000, widget=forms.Textarea(attrs={"rows": 2})
    )

    def __init__(self, data: Sent = None, *, entry: Entry, **rest: Unpack[FilledDay]) -> None:
        super().__init__(data, **rest)
        self.entry = entry
        self.fields["on"].initial = entry.on
        if entry.count:
            self.fields["count"].initial = entry.count
            self.fields["count"].required = True
        else:
            del self.fields["count"]

    def replacement(self, *, strike: bool) -> Entry:
        """The new entry that strikes the old one, alone or in its place."""
        old, data = self.entry, self.cleaned_data
        if strike:
            return Entry(kind=Entry.Kind.STRUCK, on=old.on, note=data.get("note", ""), strikes=old)
        return Entry(
            kind=old.kind,
            on=data["on"],
            count=data.get("count") or 0,
            stage=old.stage,
            why=old.why,
            deed=old.deed,
            note=data.get("note") or old.note,
            strikes=old,
        )
