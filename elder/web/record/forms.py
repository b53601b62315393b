"""Forms of the record."""

from __future__ import annotations

from django import forms

from elder.engine.handbook.loading import handbook

MOST_PRICE = 9999


class PriceForm(forms.Form):
    """What one plant costs to buy; left out, it is forgotten."""

    plant = forms.SlugField()
    price = forms.DecimalField(
        required=False,
        min_value=0,
        max_value=MOST_PRICE,
        decimal_places=2,
        error_messages={
            "invalid": "A price is a number, such as 2.40.",
            "min_value": "A price is not below nothing.",
            "max_value": f"A price is {MOST_PRICE} at most.",
            "max_decimal_places": "A price has two places at most, such as 2.40.",
        },
    )

    def clean_plant(self) -> str:
        """Only a plant there is."""
        slug = str(self.cleaned_data["plant"])
        if handbook().get(slug) is None:
            raise forms.ValidationError("That plant is not in the handbook.")
        return slug
