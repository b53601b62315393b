"""A plant of one's own as a form: a name, and beside each value of its relative what it is here and why."""

from __future__ import annotations

import copy
from dataclasses import dataclass

from django import forms
from django.forms import BoundField
from django.utils.text import slugify

from elder.engine.handbook.loading import load_text
from elder.engine.handbook.own import (
    OURS,
    Raw,
    ValueRow,
    changed,
    out_of_bounds,
    out_of_order,
    raw_of,
    rows_of,
    unsafe,
    value_at,
    written,
)
from elder.engine.handbook.tables import HandbookError
from elder.web.ui.fields import Sent, choosing

MOST_TEXT = 60_000


@dataclass(frozen=True)
class FormRow:
    """One value: what it is called, its relative's, and the fields for ours and why."""

    row: ValueRow
    value: BoundField
    why: BoundField


class OwnForm(forms.Form):
    """Names and values. ``raw``: the file the form begins from."""

    name = forms.CharField(label="What it is called", max_length=60)
    latin = forms.RegexField(
        r"^[A-Z][a-z]+ .+", label="Its botanical name", max_length=80,
        error_messages={"invalid": "Two words, the first with a capital: Mentha spicata."},
    )  # fmt: skip
    like = forms.ChoiceField(label="One more way, begun from", required=False)
    called = forms.CharField(label="called", max_length=50, required=False)

    def __init__(self, data: Sent = None, *, raw: Raw) -> None:
        super().__init__(data)
        self.raw = raw
        self.fields["name"].initial, self.fields["latin"].initial = raw["name"], raw["latin"]
        ways = [(way["slug"], way["name"]) for way in raw["methods"]]
        choosing(self, "like").choices = [("", "no other way"), *ways]
        for slug, called in ways:
            self.fields[f"keep-{slug}"] = forms.BooleanField(label=called, required=False, initial=True)
        for row in rows_of(raw):
            source = str(value_at(raw, row.path[:-1]).get("source", ""))
            self.fields[row.key] = forms.FloatField(
                label=row.name, initial=value_at(raw, row.path), min_value=row.least, max_value=row.most,
                widget=forms.NumberInput(attrs={"inputmode": "decimal", "step": "any"}),
                error_messages={
                    "required": "A number, please.", "invalid": "A number, please.",
                    "min_value": f"At least {row.least:g}.", "max_value": f"At most {row.most:g}.",
                },
            )  # fmt: skip
            self.fields[f"{row.key}-why"] = forms.CharField(
                label=f"Why, for {row.name}", max_length=120, required=False, initial=source.removeprefix(OURS)
                if source.startswith(OURS) else "",
            )  # fmt: skip

    def rows(self, way: int | None) -> list[FormRow]:
        """The rows of the plant itself, or of one of its ways."""
        of = [row for row in rows_of(self.raw) if (row.path[1] if row.path[0] == "methods" else None) == way]
        return [FormRow(row, self[row.key], self[f"{row.key}-why"]) for row in of]

    def clean(self) -> dict[str, object]:
        """What was changed has its reason, rises where it must, and reads as a plant."""
        data = super().clean() or {}
        made = copy.deepcopy(self.raw)
        for row in rows_of(self.raw):
            self._changed(made, row)
        made |= {"name": data.get("name", made["name"]), "latin": data.get("latin", made["latin"])}
        for path, said in out_of_order(made):
            key = "-".join(str(step) for step in path)
            if key in self.fields and key not in self.errors:
                self.add_error(key, said)
        kept = [way for way in made["methods"] if data.get(f"keep-{way['slug']}")]
        if not kept:
            self.add_error(None, "At least one way is kept: a plant that nothing is struck of is none here.")
        made["methods"] = [*kept, *self._one_more(made)]
        if not self.errors:
            self._read(made)
        data["raw"] = made
        return data

    def _changed(self, made: Raw, row: ValueRow) -> None:
        value, why = self.cleaned_data.get(row.key), str(self.cleaned_data.get(f"{row.key}-why") or "").strip()
        if value is None or value == value_at(self.raw, row.path):
            return
        if not why:
            self.add_error(f"{row.key}-why", "Why? It is shown beside the value.")
        changed(made, row.path, value, why)

    def _one_more(self, made: Raw) -> list[Raw]:
        like, called = self.cleaned_data.get("like"), str(self.cleaned_data.get("called") or "").strip()
        if not like:
            return []
        slug = slugify(called)[:30]
        if not slug or slug in {way["slug"] for way in made["methods"]}:
            self.add_error("called", "Say what it is called: a name no other way has.")
            return []
        way = next(way for way in made["methods"] if way["slug"] == like)
        return [{**copy.deepcopy(way), "slug": slug, "name": called}]

    def _read(self, made: Raw) -> None:
        try:
            load_text(written(made), made["slug"])
        except HandbookError as error:
            self.add_error(None, f"It does not read as a plant: {str(error).splitlines()[0].partition(': ')[2]}.")


def read_own(text: str) -> list[str]:
    """What cannot be in a plant's text, in sentences; nothing where it reads."""
    if why := unsafe(text):
        return [why]
    try:
        load_text(text, "own-read-in")
    except HandbookError as error:
        return [f"Line {str(error).partition(':')[2]}"]
    raw = raw_of(text)
    return [*out_of_bounds(raw), *(words for _, words in out_of_order(raw))]


class ReadInForm(forms.Form):
    """A plant written out as YAML, read in."""

    text = forms.CharField(
        label="A plant as it was written out", max_length=MOST_TEXT,
        widget=forms.Textarea(attrs={"rows": 12, "spellcheck": "false"}),
        error_messages={"required": "Paste the whole text.", "max_length": "Longer than any plant is."},
    )  # fmt: skip

    def clean_text(self) -> str:
        """The text, if it reads as a plant."""
        text = str(self.cleaned_data["text"])
        if said := read_own(text):
            raise forms.ValidationError(said)
        return text
