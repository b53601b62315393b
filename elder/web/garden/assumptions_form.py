"""What Elder takes for granted, as a form: every value with what it means, changed for one garden."""

from __future__ import annotations

from typing import ClassVar, Unpack

from django import forms
from django.core.validators import BaseValidator

from elder.engine.assumptions import USUAL
from elder.web.garden.models import Garden
from elder.web.ui.fields import FilledRow, Sent
from elder.web.ui.widgets import Stepper

# Of each: the field, what Elder starts with, what it asks and what that does to an answer.
AS_SHIPPED: dict[str, float] = {
    "look_every_days": USUAL.look_every_days,
    "carry_nights": USUAL.carry_nights or 0,
    "slack_days": USUAL.slack_days,
    "dear_share": USUAL.dear_share,
    "speed_sd": USUAL.speed_sd,
    "stand_share": USUAL.stand_share,
    "possible_years": USUAL.years,
}
SPEEDS = ((0.0, "all alike"), (0.1, "much alike"), (0.2, "as most are"), (0.3, "very unlike"), (0.4, "wildly unlike"))
DEAR = (
    (0.0, "one more"),
    (0.1, "a tenth more"),
    (0.2, "a fifth more"),
    (0.35, "a third more"),
    (0.5, "half again"),
)
STANDS = (
    (1.0, "all of them"),
    (0.98, "all but one in fifty"),
    (0.95, "19 in 20"),
    (0.9, "9 in 10"),
    (0.8, "8 in 10"),
    (0.6, "6 in 10"),
)
MEANS = {
    "look_every_days": "What has rooted waits in its jar until somebody looks. Rarer looks mean earlier cuts.",
    "carry_nights": "A pot comes in when a night falls below what the plant bears. More of them close a cut day.",
    "slack_days": "The recommended day lies so long before the last good one: rain, visitors and flu are allowed for.",
    "dear_share": "A day may cost so many cuttings more than the best day and still count as comfortable.",
    "speed_sd": "Two jars on one sill root at different speeds: the mother, the weather at the cut, the knife.",
    "stand_share": "Roots are not a plant yet: some sulk, damp off or meet a slug. Your own batches move this.",
    "possible_years": "A chance is counted over so many possible years of this garden, warm and cold, early and late.",
}


class AssumptionsForm(forms.ModelForm):  # type: ignore[type-arg]
    """The seven values of a garden."""

    class Meta:
        model = Garden
        fields: ClassVar = list(AS_SHIPPED)
        labels: ClassVar = {
            "look_every_days": "Days between looks",
            "carry_nights": "Nights you would carry pots in",
            "slack_days": "Days kept in hand",
            "possible_years": "Possible years counted",
        }
        widgets: ClassVar = dict.fromkeys(("look_every_days", "carry_nights", "slack_days", "possible_years"), Stepper)

    dear_share = forms.TypedChoiceField(label="What a better day may cost", coerce=float, choices=DEAR)
    speed_sd = forms.TypedChoiceField(label="How unlike batches are", coerce=float, choices=SPEEDS)
    stand_share = forms.TypedChoiceField(
        label="Of those with roots, so many come to stand", coerce=float, choices=STANDS
    )

    def __init__(self, data: Sent = None, **rest: Unpack[FilledRow]) -> None:
        super().__init__(data, **rest)
        for name, most in (("look_every_days", 21), ("carry_nights", 200), ("slack_days", 60), ("possible_years", 40)):
            field = self.fields[name]
            least = 10 if name == "possible_years" else 1 if name == "look_every_days" else 0
            said = f"A whole number from {least} to {most}, please."
            field.error_messages |= {"required": said, "invalid": said, "min_value": said, "max_value": said}
            for check in field.validators:
                if isinstance(check, BaseValidator):
                    check.message = said
        for name, said in MEANS.items():
            self.fields[name].help_text = said
