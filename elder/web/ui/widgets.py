"""Widgets that know how they look."""

from __future__ import annotations

from django import forms


class Stepper(forms.NumberInput):
    """A number between a minus and a plus, each wide enough for a wet thumb."""

    template_name = "ui/stepper.html"

    def __init__(self, attrs: dict[str, object] | None = None) -> None:
        super().__init__({"inputmode": "numeric", "autocomplete": "off", **(attrs or {})})
