"""Who does a thing, when, in which garden, by which press."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date
from uuid import UUID, uuid5

from elder.web.garden.models import Garden, Person


@dataclass(frozen=True)
class Hands:
    """Whose hands they are, and the key by which one press is told from two."""

    garden: Garden
    person: Person
    today: date
    key: UUID

    def own(self, *what: object) -> Hands:
        """The same with a key that only this garden and this thing can have, whatever key was sent."""
        return replace(self, key=uuid5(self.key, f"{self.garden.pk}:{':'.join(map(str, what))}"))
