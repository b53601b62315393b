"""Lists to choose from, drawn without a template for each of their options.

Django draws a template for every option of a list: 590 of them, mothers and places, took two thirds of a page that asks
for a want. What comes out is the same to the letter.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

from django.forms.renderers import DjangoTemplates
from django.http import HttpRequest
from django.utils.html import escape
from django.utils.safestring import SafeString, mark_safe

SELECT = "django/forms/widgets/select.html"
OPTION = "django/forms/widgets/select_option.html"


class Renderer(DjangoTemplates):
    """Django's own, but for lists to choose from."""

    def render(self, template_name: str, context: dict[str, Any], request: HttpRequest | None = None) -> str:
        """A widget in HTML."""
        if template_name == SELECT:
            return _select(context["widget"])
        return super().render(template_name, context, request)


def _select(widget: Mapping[str, Any]) -> SafeString:
    parts = [f'<select name="{escape(widget["name"])}"{_attributes(widget["attrs"])}>']
    for group, options, _ in widget["optgroups"]:
        parts.append(f'\n  <optgroup label="{escape(group)}">' if group else "")
        parts += _options(options)
        parts.append("\n  </optgroup>" if group else "")
    return mark_safe("".join([*parts, "\n</select>"]))  # noqa: S308  # each part is escaped where it is put in


def _options(options: Iterable[Mapping[str, Any]]) -> Iterable[str]:
    for option in options:
        value, label = escape(str(option["value"])), escape(option["label"])
        yield f'\n  <option value="{value}"{_attributes(option["attrs"])}>{label}</option>\n'


def _attributes(attrs: Mapping[str, Any]) -> str:
    parts = []
    for name, value in attrs.items():
        if value is not False:
            parts.append(f" {escape(name)}" if value is True else f' {escape(name)}="{escape(str(value))}"')
    return "".join(parts)
