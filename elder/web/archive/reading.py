"""What an archive holds, looked over before anything is written: what comes, what is left out and why."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import IO, Final

from django.db.models import UniqueConstraint

from elder.engine.climate.records import DailyRecords
from elder.engine.place.readings import Readings
from elder.engine.refusal import Refusal
from elder.web.archive.columns import OF, STANDING, columns_of, read_plain
from elder.web.archive.contents import TABLES, Archived, Row, Said
from elder.web.archive.known import Judge
from elder.web.archive.measured import read_readings, read_records
from elder.web.archive.opening import BadArchiveError, Opened
from elder.web.archive.writing import PHOTOS

# References that must belong to the same row of another table: what strikes a line is of its batch.
ALIKE: Final = (("entries", "strikes", "batch"), ("photos", "entry", "batch"))
IN_TABLE: Final = {"entries": "entries", "photos": "entries"}


@dataclass
class Looked:
    """An archive looked over. ``left_out``: by table and row, why it does not come; ``remarks``: what comes and is not
    as it should be."""

    manifest: Mapping[str, Said]
    rows: dict[str, list[Row]] = field(default_factory=dict)
    left_out: dict[str, dict[int, str]] = field(default_factory=lambda: defaultdict(dict))
    remarks: list[str] = field(default_factory=list)
    records: DailyRecords | None = None
    readings: dict[int, Readings] = field(default_factory=dict)

    @property
    def name(self) -> str:
        """What the garden is called."""
        return str(self.rows["garden"][0]["name"])

    def coming(self, table: str) -> Iterator[Row]:
        """The rows of a table that come."""
        gone = self.left_out.get(table, {})
        return (row for row in self.rows[table] if row["n"] not in gone)

    def count(self, table: str) -> int:
        """How many rows of a table come."""
        return len(self.rows[table]) - len(self.left_out.get(table, {}))


def look_over(file: IO[bytes]) -> Looked | Refusal:
    """Look an archive over: what would come of it, or why it is refused whole. Nothing is written."""
    try:
        opened = Opened(file)
        found = Looked(opened.manifest)
        for table in TABLES:
            found.rows[table.name] = list(opened.rows(table))
        if len(found.rows["garden"]) != 1:
            raise BadArchiveError(where="garden: not one row")
        for table in TABLES:
            _refers(table, found)
            _once(table, found)
        _alike(found)
        _measured(opened, found)
        _pictured(opened, found)
        _judged(found)
    except BadArchiveError as error:
        return error.refusal
    return found


def _fault(table: str, row: Row, name: str) -> BadArchiveError:
    return BadArchiveError(where=f"{table}, row {row['n']}: {name}")


def _refers(table: Archived, found: Looked) -> None:
    """Every value can be read, and every reference leads to a row that is there; within a table, to an earlier one."""
    for column in columns_of(table):
        most = len(found.rows[column.to]) if column.to else 0
        for row in found.rows[table.name]:
            said = row.get(column.name)
            if column.kind == "standing":
                _stands(table, row, str(said), found)
            elif column.kind in ("ref", "refs"):
                own = row["n"] - 1 if column.to == table.name else most
                wrong = [one for one in (said if isinstance(said, list) else [said]) if one is not None and one > own]
                if wrong:
                    raise _fault(table.name, row, column.name)
            else:
                try:
                    read_plain(column, said)
                except ValueError as error:
                    raise _fault(table.name, row, column.name) from error


def _stands(table: Archived, row: Row, said: str, found: Looked) -> None:
    """What stands at a move is a mother or a batch of the archive, at a place of it (0: at none)."""
    match = STANDING.fullmatch(said)
    if match is None or int(match[2]) > len(found.rows[OF[match[1]]]) or int(match[4]) > len(found.rows["places"]):
        raise _fault(table.name, row, "what")


def _once(table: Archived, found: Looked) -> None:
    """What can be there once is there once."""
    here = {column.name for column in columns_of(table)}
    keys: list[tuple[str, ...]] = [(column.name,) for column in columns_of(table) if column.field.unique]
    for rule in table.model._meta.constraints:
        if isinstance(rule, UniqueConstraint):
            keys.append(tuple(name for name in rule.fields if name != "garden"))
    for key in keys:
        if not here.issuperset(key):
            continue
        seen: set[tuple[Said, ...]] = set()
        for row in found.rows[table.name]:
            value = tuple(row.get(name) for name in key)
            if None not in value and value in seen:
                raise _fault(table.name, row, " and ".join(key))
            seen.add(value)


def _alike(found: Looked) -> None:
    for table, name, shared in ALIKE:
        others = found.rows[IN_TABLE[table]]
        for row in found.rows[table]:
            at = row.get(name)
            if at is not None and others[at - 1][shared] != row[shared]:
                raise _fault(table, row, name)


def _measured(opened: Opened, found: Looked) -> None:
    """Readings lie beside their rows, and nowhere else."""
    wanted = {"records": {"records/garden.csv"} if found.rows["records"] else set()}
    wanted["readings"] = {f"readings/{row['n']}.csv" for row in found.rows["readings"]}
    for folder, paths in wanted.items():
        if opened.names(folder) != paths:
            raise BadArchiveError(where=f"the files in {folder}")
        for path in sorted(paths):
            data = opened.read(path)
            try:
                if folder == "records":
                    found.records = read_records(data)
                else:
                    found.readings[int(path[len("readings/") : -len(".csv")])] = read_readings(data)
            except (ValueError, OverflowError) as error:
                raise BadArchiveError(where=path) from error
    if found.records and found.rows["records"][0]["counted_from"] > found.records.last.year:
        raise _fault("records", found.rows["records"][0], "counted_from")


def _pictured(opened: Opened, found: Looked) -> None:
    """Each photo's row has its file, and the other way round. Whether it can be seen is looked at when it comes."""
    paths = {f"{PHOTOS[table]}-{row['n']}.jpg" for table in PHOTOS for row in found.rows[table]}
    if opened.names("photos") != paths:
        raise BadArchiveError(where="the files in photos")


def _judged(found: Looked) -> None:
    """Rows that cannot be understood here are left out, with those that cannot be without them."""
    judge = Judge(found.rows)
    if said := judge.garden():
        raise BadArchiveError(where=said)
    for table in TABLES:
        gone = found.left_out[table.name]
        for row in found.rows[table.name]:
            why = judge.row(table.name, row) or _belongs(table, row, found.left_out)
            if why:
                gone[row["n"]] = why
    found.remarks += judge.remarks


def _belongs(table: Archived, row: Row, left_out: Mapping[str, Mapping[int, str]]) -> str:
    """That a row belongs to one that is left out and cannot be without it."""
    for column in columns_of(table):
        if column.kind == "ref" and not column.field.null and column.name not in table.later:
            why = left_out.get(column.to, {}).get(row[column.name])
            if why:
                return why
    return ""


def whys(left_out: Mapping[int, str]) -> Sequence[tuple[str, int]]:
    """Why rows are left out, and how many for each reason; the commonest first."""
    counts: dict[str, int] = defaultdict(int)
    for why in left_out.values():
        counts[why] += 1
    return sorted(counts.items(), key=lambda one: -one[1])
