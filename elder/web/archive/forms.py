"""The file of an archive, and what the garden is to be called."""

from __future__ import annotations

from typing import TYPE_CHECKING

from django import forms

from elder.web.archive.opening import MOST_BYTES
from elder.web.garden.models import Household

if TYPE_CHECKING:
    from django.db.models import QuerySet


class ArchiveForm(forms.Form):
    """An archive, and the household it is read into where there are several."""

    file = forms.FileField(
        label="An archive of a garden",
        error_messages={"required": "Choose a file first.", "empty": "That file is empty."},
        widget=forms.FileInput(attrs={"accept": ".zip"}),
    )
    into = forms.ModelChoiceField(
        Household.objects.none(), label="Into which household", required=False, empty_label=None
    )

    def __init__(self, *args: object, owned: QuerySet[Household], **kwargs: object) -> None:
        super().__init__(*args, **kwargs)  # type: ignore[arg-type]  # Django's own
        self.households = list(owned)
        if len(self.households) > 1:
            self.fields["into"].queryset = owned  # type: ignore[attr-defined]
        else:
            del self.fields["into"]

    def clean_file(self) -> object:
        """Not longer than an archive can be."""
        sent = self.cleaned_data["file"]
        if sent.size > MOST_BYTES:
            raise forms.ValidationError(f"That file is larger than {MOST_BYTES // 1_000_000} MB.")
        return sent

    @property
    def household(self) -> Household:
        """The household it is read into."""
        chosen: Household | None = self.cleaned_data.get("into")
        return chosen or self.households[0]


class NamedForm(forms.Form):
    """What the garden is called here."""

    name = forms.CharField(label="What it is called here", max_length=80)
