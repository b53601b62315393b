"""Families of clones: which plant came from which, forward and back, through the batches between them.

A forest: a mother gives takes (batches), a take leaves plants that become mothers themselves. Nothing is decided
here but who descends from whom; what to draw and what to fold follows from it.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from datetime import date
from typing import Final

OPEN_ROWS: Final = 60  # a drawing of more rows than this begins folded (assumed)


@dataclass(frozen=True)
class Member:
    """A stock plant: when it came, when it ended, the take it was kept from (``None``: from elsewhere)."""

    key: str
    name: str
    since: date
    ended: date | None = None
    from_take: str | None = None
    where: str = ""
    health: str = "well"


@dataclass(frozen=True)
class Took:
    """A batch: cut from ``mother`` on a day; of the ``taken`` so many were lost, given away, and so many live."""

    key: str
    mother: str
    on: date
    taken: int
    lost: int = 0
    given: int = 0
    living: int = 0
    where: str = ""
    name: str = ""


@dataclass(frozen=True)
class FamilyRow:
    """One mother as it is listed: so deep below the first; ``hidden`` mothers folded away beneath it."""

    member: Member
    depth: int
    takes: tuple[Took, ...]
    hidden: int
    children: int


class Family:
    """All the mothers and takes of a garden, by who came from whom.

    Raises ValueError where a plant would descend from itself, or from a take that is not there.
    """

    def __init__(self, members: Iterable[Member], takes: Iterable[Took]) -> None:
        self.members = {member.key: member for member in sorted(members, key=lambda one: (one.since, one.name))}
        self.takes = {take.key: take for take in sorted(takes, key=lambda one: (one.on, one.key))}
        self._of: dict[str, list[Took]] = defaultdict(list)
        self._kept: dict[str, list[Member]] = defaultdict(list)
        for take in self.takes.values():
            self._of[take.mother].append(take)
        for member in self.members.values():
            if member.from_take is not None:
                if member.from_take not in self.takes:
                    raise ValueError(f"{member.name} was kept from a take that is not there")
                self._kept[member.from_take].append(member)
        self.roots = [member for member in self.members.values() if self.parent(member) is None]
        below = {root.key: sum(1 for _ in self.below(root.key)) for root in self.roots}
        if sum(below.values()) + len(self.roots) != len(self.members):
            raise ValueError("a plant would descend from itself")
        self.roots.sort(key=lambda root: -below[root.key])  # the lines that have most to tell first

    def takes_of(self, key: str) -> tuple[Took, ...]:
        """What was cut from a mother, oldest first."""
        return tuple(self._of[key])

    def kept_from(self, take: str) -> tuple[Member, ...]:
        """The mothers that were kept from a take."""
        return tuple(self._kept[take])

    def parent(self, member: Member) -> Member | None:
        """The mother it was cut from; ``None`` for the first of a line."""
        take = self.takes.get(member.from_take or "")
        return self.members.get(take.mother) if take else None

    def children(self, key: str) -> list[Member]:
        """The mothers kept from its takes, in the order of the cuts."""
        return [child for take in self._of[key] for child in self._kept[take.key]]

    def below(self, key: str) -> Iterator[Member]:
        """Every mother that descends from it, nearest lines first."""
        waiting = self.children(key)
        while waiting:
            member = waiting.pop(0)
            yield member
            waiting += self.children(member.key)

    def forward(self, key: str) -> tuple[list[Member], list[Took]]:
        """Everything that comes from a mother: mothers, and all their takes with its own."""
        mothers = list(self.below(key))
        return mothers, [take for mother in (self.members[key], *mothers) for take in self._of[mother.key]]

    def back(self, key: str) -> list[Member]:
        """Its line back to the first, nearest first."""
        line, at = [], self.parent(self.members[key])
        while at is not None:
            line.append(at)
            at = self.parent(at)
        return line

    def generation(self, key: str) -> int:
        """1 for the first of a line, 2 for a clone of it, and on."""
        return len(self.back(key)) + 1

    def line_of(self, key: str) -> set[str]:
        """The keys of its whole line: back to the first, itself, and all below."""
        return {key, *(one.key for one in self.back(key)), *(one.key for one in self.below(key))}

    def search(self, words: str) -> set[str]:
        """The mothers whose name or place holds every word."""
        wanted = words.lower().split()
        said = {key: f"{one.name} {one.where}".lower() for key, one in self.members.items()}
        return {key for key, text in said.items() if wanted and all(word in text for word in wanted)}

    def rows(self, opened: set[str], *, shown: set[str] | None = None) -> list[FamilyRow]:
        """The mothers to list, each line below its mother. Those in ``opened`` show their children; with ``shown``
        only the lines that lead to those."""
        wanted = {key for one in shown for key in (one, *(m.key for m in self.back(one)))} if shown else None
        rows: list[FamilyRow] = []

        def add(member: Member, depth: int) -> None:
            if wanted is not None and member.key not in wanted:
                return
            children = self.children(member.key)
            is_open = member.key in opened or (wanted is not None and any(c.key in wanted for c in children))
            hidden = 0 if is_open else sum(1 for _ in self.below(member.key))
            rows.append(FamilyRow(member, depth, self.takes_of(member.key), hidden, len(children)))
            if is_open:
                for child in children:
                    add(child, depth + 1)

        for root in self.roots:
            add(root, 0)
        return rows

    def begin_with(self, key: str) -> None:
        """List the line of a mother before all others."""
        first = [*self.back(key), self.members[key]]
        self.roots.sort(key=lambda root: root not in first)

    def opened_at_first(self, most: int = OPEN_ROWS) -> set[str]:
        """Whose children to show at first: generation by generation, as many as keep the list readable."""
        opened: set[str] = set()
        count, level = len(self.roots), list(self.roots)
        while level:
            following = [child for member in level for child in self.children(member.key)]
            if count + len(following) > most:
                break
            opened |= {member.key for member in level if self._of[member.key]}
            count, level = count + len(following), following
        return opened
