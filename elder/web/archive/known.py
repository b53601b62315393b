"""Whether this Elder can make anything of a row: plants and ways it knows, texts that read, histories that begin."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping
from datetime import date
from typing import Final
from zoneinfo import available_timezones

from elder.engine.batch.history import replay
from elder.engine.batch.state import Entry
from elder.engine.handbook.loading import OWN, handbook, load_text
from elder.engine.handbook.model import Method, Plant
from elder.engine.plan.condition import Condition
from elder.engine.refusal import Refusal
from elder.engine.shed.kit import PLAIN
from elder.web.archive.contents import Row, Said
from elder.web.garden.models import Garden
from elder.web.plants.own_forms import read_own
from elder.web.read.kit import kit_of
from elder.web.read.light import light_as_described

Rows = Mapping[str, list[Row]]
UNREAD: Final = (ValueError, TypeError, KeyError, IndexError, ArithmeticError)


class Judge:
    """Looks rows over one after another; what comes and is odd is in ``remarks``."""

    def __init__(self, rows: Rows) -> None:
        self._rows = rows
        self._own: dict[str, Plant] = {}
        self._why_own: dict[int, str] = {}
        for row in rows["own_plants"]:
            self._own_plant(row)
        self._entries = _by_batch(rows["entries"])
        self._kit = PLAIN
        self.remarks: list[str] = []

    def _own_plant(self, row: Mapping[str, Said]) -> None:
        if said := read_own(row["text"]):
            self._why_own[row["n"]] = f"a plant of one’s own does not read: {said[0]}"[:160]
        elif row["relative"] not in handbook():
            self._why_own[row["n"]] = f"this Elder’s handbook has no “{row['relative']}”"
        else:
            self._own[f"{OWN}{row['n']}"] = load_text(row["text"], f"{OWN}archive-{row['n']}")

    def garden(self) -> str:
        """What is wrong with the garden's own row; nothing where all is well."""
        row = self._rows["garden"][0]
        if row["timezone"] not in available_timezones():
            return "garden: its time zone"
        try:
            self._kit = kit_of(Garden(kit=row["kit"]))
        except UNREAD:
            return "garden: its containers and mixes"
        for place in self._rows["places"]:
            try:
                light_as_described(place["light"])
            except UNREAD:
                return f"places, row {place['n']}: its light"
        return ""

    def row(self, table: str, row: Mapping[str, Said]) -> str:
        """Why a row cannot come; nothing where it can."""
        if table == "own_plants":
            return self._why_own.get(row["n"], "")
        if "plant" in row and isinstance(row["plant"], str) and (why := self._unknown(row)):
            return why
        if table == "pots" and self._kit.vessel(row["container"]) is None:
            return f"this Elder knows no container “{row['container']}”"
        return self._batch(row) if table == "batches" else ""

    def _unknown(self, row: Mapping[str, Said]) -> str:
        plant = self._plant(row["plant"])
        if plant is None:
            what = "plant of one’s own" if row["plant"].startswith(OWN) else f"“{row['plant']}”"
            return f"this Elder’s handbook has no {what}"
        if "method" in row and _way(plant, row["method"]) is None:
            return f"this Elder knows no way “{row['method']}” for {plant.name}"
        return ""

    def _plant(self, slug: str) -> Plant | None:
        return self._own.get(slug) if slug.startswith(OWN) else handbook().get(slug)

    def _batch(self, row: Mapping[str, Said]) -> str:
        try:
            Condition.of(row["condition"])
        except UNREAD:
            return "what held its cuttings back cannot be read"
        line = row["plan"].get("forecast", {}).get("line", {})
        if len(line.get("at", ())) != len(line.get("expected", ())):
            return "what was forecast of it cannot be read"
        entries = self._entries.get(row["n"], [])
        if not any(entry.kind == "taken" and entry.count for entry in entries):
            return "its history does not begin with a cut"
        plant = self._plant(row["plant"])
        way = _way(plant, row["method"]) if plant else None
        told = replay(entries, today=max(entry.on for entry in entries), route=way.route) if way else None
        if isinstance(told, Refusal):
            self.remarks.append(f"{row['label']}: its history does not add up everywhere; it comes as it is.")
        return ""


def _way(plant: Plant, slug: str) -> Method | None:
    return next((method for method in plant.methods if method.slug == slug), None)


def _by_batch(rows: Iterable[Mapping[str, Said]]) -> dict[int, list[Entry]]:
    found: dict[int, list[Entry]] = defaultdict(list)
    for row in rows:
        found[row["batch"]].append(_entry(row))
    return found


def _entry(row: Mapping[str, Said]) -> Entry:
    said = row.get
    return Entry(
        key=str(row["n"]), kind=row["kind"], on=_day(row["on"]), count=said("count") or 0, stage=said("stage") or "",
        why=said("why") or "", strikes=str(said("strikes") or ""), deed=said("deed") or "",
        signs=tuple((said("signs") or "").split()), root_cm=said("root_cm") or 0.0, place=str(said("place") or ""),
    )  # fmt: skip


def _day(said: str) -> date:
    return date.fromisoformat(said)
