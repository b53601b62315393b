"""Forms of the winter: what is done with a line, a look at what winters, the count in spring."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Unpack
from uuid import UUID, uuid4

from django import forms

from elder.engine.handbook.model import Plant
from elder.web.garden.models import Place
from elder.web.ui.fields import Filled, Sent, choosing, count_field


class KeyedForm(forms.Form):
    """A form whose key tells one press from two."""

    key = forms.UUIDField(widget=forms.HiddenInput, initial=uuid4, required=False)

    def pressed(self) -> UUID:
        """The key of the press."""
        key: UUID | None = self.cleaned_data.get("key")
        return key or uuid4()


class SeeToForm(KeyedForm):
    """How many of a line, for how many in spring, where to."""

    count = count_field("How many")
    wanted = count_field("Wanted in spring")
    place = forms.ChoiceField(label="Where to", required=False)
    airs = forms.BooleanField(label="Out on mild days", required=False)

    def __init__(
        self, data: Sent = None, *, most: int, places: Sequence[Place], moves: bool, **rest: Unpack[Filled]
    ) -> None:
        super().__init__(data, **rest)
        self.places = {str(place.pk): place for place in places}
        if most:
            self.fields["count"] = count_field("How many", most=most)
            self.fields["count"].initial = (rest.get("initial") or {}).get("count")
        if moves:
            choosing(self, "place").choices = [(str(place.pk), place.name) for place in places]
        else:
            del self.fields["place"], self.fields["airs"]

    def where(self) -> Place | None:
        """The place chosen."""
        return self.places.get(self.cleaned_data.get("place", ""))


class WinterCheckForm(KeyedForm):
    """How many have died since the last look."""

    lost = count_field("Died since", least=0)
    pests = forms.BooleanField(label="There were pests", required=False)

    def __init__(self, data: Sent = None, *, most: int, **rest: Unpack[Filled]) -> None:
        super().__init__(data, **rest)
        self.fields["lost"] = count_field("Died since", least=0, most=most)
        self.fields["lost"].initial = 0


class LivedForm(KeyedForm):
    """How many see the spring."""

    lived = count_field("Alive in spring", least=0)

    def __init__(self, data: Sent = None, *, most: int, **rest: Unpack[Filled]) -> None:
        super().__init__(data, **rest)
        self.fields["lived"] = count_field("Alive in spring", least=0, most=most)
        self.fields["lived"].initial = most


class AskPlantForm(forms.Form):
    """What would become of another plant."""

    plant = forms.ChoiceField(label="And what of")
    stands = forms.ChoiceField(label="standing", choices=(("bed", "in a bed"), ("pot", "in a pot outdoors")))

    def __init__(self, data: Sent = None, *, plants: Sequence[Plant], **rest: Unpack[Filled]) -> None:
        super().__init__(data, **rest)
        choosing(self, "plant").choices = [(plant.slug, plant.name) for plant in plants]
