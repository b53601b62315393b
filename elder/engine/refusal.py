"""A "no" that a person can cause is a value, not an exception."""

from __future__ import annotations

import dataclasses
from dataclasses import dataclass
from typing import Any


@dataclass(frozen=True)
class Refusal:
    """Why something cannot be had, as data.

    ``code`` names the reason, ``field`` the input it belongs to (or ``""``), and ``params`` holds
    what a sentence about it needs. The web layer turns it into words.
    """

    code: str
    field: str = ""
    params: dict[str, Any] = dataclasses.field(default_factory=dict)
