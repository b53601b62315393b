"""Lists to choose from, beside what Django's own templates make of them."""

from __future__ import annotations

import pytest
from django import forms
from django.forms.renderers import DjangoTemplates

from elder.web.ui.options import Renderer

CHOICES = [("", "nobody <yet>"), (1, 'the "old" one & more'), ("Beds", [("b1", "terrace"), (2.5, "cellar")])]


@pytest.mark.parametrize(
    ("attrs", "value"),
    [
        ({}, ""),
        ({"class": "form-select", "required": True, "disabled": False}, 1),
        ({"data-said": 'a "quoted" & <b>'}, "b1"),
        ({"aria-describedby": None, "tabindex": 0}, 2.5),
    ],
)
def test_a_list_is_drawn_as_django_draws_it(attrs: dict[str, object], value: object) -> None:
    widget = forms.Select(attrs, CHOICES)
    mine = widget.render("mother", value, renderer=Renderer())
    theirs = widget.render("mother", value, renderer=DjangoTemplates())
    assert mine == theirs


def test_several_may_be_chosen_and_other_widgets_are_left_alone() -> None:
    several = forms.SelectMultiple({}, CHOICES)
    assert several.render("of", ["1", "b1"], renderer=Renderer()) == several.render(
        "of", ["1", "b1"], renderer=DjangoTemplates()
    )
    radio = forms.RadioSelect({}, CHOICES[:2])
    assert radio.render("of", 1, renderer=Renderer()) == radio.render("of", 1, renderer=DjangoTemplates())
    assert "selected" in several.render("of", ["1"], renderer=Renderer())
