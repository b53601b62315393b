"""An archive opened with care: bounded before a byte is unpacked, and by what really comes out. Whatever is wrong with
it, it is refused whole."""

from __future__ import annotations

import json
import re
import zipfile
import zlib
from collections.abc import Iterator
from typing import IO, Final

import fastjsonschema

from elder.engine.refusal import Refusal
from elder.web.archive.contents import FORM, NAMED, Archived, Row, Said
from elder.web.archive.shapes import MOST_ROWS, fits
from elder.web.archive.upgrades import upgraded

MOST_BYTES: Final = 300_000_000  # of the file as sent
MOST_WHOLE: Final = 600_000_000  # of all that lies in it, unpacked
MOST_FILES: Final = 50_000
MOST_OF: Final = {"tables": 60_000_000, "photos": 3_000_000, "records": 4_000_000, "readings": 12_000_000}
MOST_MANIFEST: Final = 50_000
# Signs that make values: the longest table has fewer. Counted first, for a short text may ask for much memory.
MOST_OPENED: Final = 2 * MOST_ROWS
MOST_COMMAS: Final = 20 * MOST_ROWS
NAMES: Final = re.compile(
    r"manifest\.json|tables/[a-z_]+\.json|photos/(batch|mother)-[1-9][0-9]{0,6}\.jpg|records/garden\.csv"
    r"|readings/[1-9][0-9]{0,4}\.csv|sheets/[a-z]+\.csv"
)
BROKEN: Final = (zipfile.BadZipFile, zlib.error, EOFError, NotImplementedError, OSError, ValueError, RecursionError)


class BadArchiveError(ValueError):
    """What cannot be in an archive, and where: ``code`` of the refusal, and its words."""

    def __init__(self, code: str = "archive_fault", **params: object) -> None:
        super().__init__(code)
        self.refusal = Refusal(code, "file", params)  # type: ignore[arg-type]  # one of the four below


def _fault(where: str) -> BadArchiveError:
    return BadArchiveError(where=where[:80])


class Opened:
    """An archive that may be read: its form, its manifest, its files one by one. Raises BadArchiveError."""

    def __init__(self, file: IO[bytes]) -> None:
        if file.seek(0, 2) > MOST_BYTES:
            raise BadArchiveError("archive_too_long", most_mb=MOST_BYTES // 1_000_000)
        file.seek(0)
        try:
            self._zip = zipfile.ZipFile(file)
            self._infos = self._known(self._zip.infolist())
        except BadArchiveError:
            raise
        except BROKEN as error:
            raise BadArchiveError("not_an_archive") from error
        self.manifest = self._manifest()
        self.form = int(str(self.manifest["form"]).rsplit(" ", 1)[1])
        if self.form > FORM:
            raise BadArchiveError("newer_archive", form=self.manifest["form"])
        self._used = 0

    @staticmethod
    def _known(infos: list[zipfile.ZipInfo]) -> dict[str, zipfile.ZipInfo]:
        """The files by name: only ours, each once, and not more than there can be."""
        if len(infos) > MOST_FILES or sum(info.file_size for info in infos) > MOST_WHOLE:
            raise BadArchiveError("archive_too_long", most_mb=MOST_WHOLE // 1_000_000)
        found: dict[str, zipfile.ZipInfo] = {}
        for info in infos:
            if not NAMES.fullmatch(info.filename) or info.filename in found or info.flag_bits & 1:
                raise _fault(f"the file “{info.filename[:40]}”")
            found[info.filename] = info
        if "manifest.json" not in found:
            raise BadArchiveError("not_an_archive")
        return found

    def _manifest(self) -> Row:
        said = _parsed(self.read("manifest.json", MOST_MANIFEST), "manifest.json")
        if not isinstance(said, dict) or not str(said.get("form", "")).startswith(NAMED):
            raise BadArchiveError("not_an_archive")
        form = str(said["form"]).rsplit(" ", 1)[-1]
        if form.isdecimal() and len(form) < 6 and int(form) > FORM:
            raise BadArchiveError("newer_archive", form=str(said["form"])[:40])
        _fitting("manifest", said, "manifest.json")
        return said

    def read(self, path: str, most: int = 0) -> bytes:
        """A file's bytes; counted as they come, whatever the archive says of them."""
        most = most or MOST_OF[path.split("/", 1)[0]]
        if path not in self._infos:
            raise _fault(f"{path} is missing")
        try:
            with self._zip.open(self._infos[path]) as file:
                data = file.read(most + 1)
        except BROKEN as error:
            raise _fault(path) from error
        if len(data) > most:
            raise _fault(f"{path} is longer than it can be")
        return data

    def has(self, path: str) -> bool:
        """Whether it holds a file."""
        return path in self._infos

    def names(self, folder: str) -> set[str]:
        """The files of a folder."""
        return {path for path in self._infos if path.startswith(f"{folder}/")}

    def rows(self, table: Archived) -> Iterator[Row]:
        """A table's rows, each looked over: of the published shape, numbered from 1 without a gap. A form from before
        the table was has none."""
        if not self.has(table.path) and self.form < FORM:
            return
        data = self.read(table.path)
        said = upgraded(_parsed(data, table.path), table.name, self.form)
        if not isinstance(said, list) or len(said) > table.most:
            raise _fault(f"{table.name}: more than {table.most} rows, or none")
        if len(said) != self.manifest["counts"].get(table.name, 0):
            raise _fault(f"{table.name}: not as many rows as its manifest says")
        for n, row in enumerate(said, start=1):
            _fitting(table.name, row, f"{table.name}, row {n}")
            if row["n"] != n:
                raise _fault(f"{table.name}, row {n}: its number")
            yield row


def _fitting(name: str, row: object, where: str) -> None:
    try:
        fits(name)(row)
    except fastjsonschema.JsonSchemaValueException as error:
        at = ".".join(str(step) for step in error.path[1:]) or "its shape"
        raise _fault(f"{where}: {at}") from error
    _sayable(row, where)


def _sayable(value: object, where: str) -> None:
    """Text that every database takes: no nought sign, and nothing that is no letter."""
    if isinstance(value, str):
        if "\x00" in value or (not value.isascii() and any("\ud800" <= sign <= "\udfff" for sign in value)):
            raise _fault(f"{where}: a sign that is none")
    elif isinstance(value, dict):
        for name, one in value.items():
            _sayable(name, where)
            _sayable(one, where)
    elif isinstance(value, list):
        for one in value:
            _sayable(one, where)


def _parsed(data: bytes, path: str) -> Said:
    if data.count(b"{") + data.count(b"[") > MOST_OPENED * 3 or data.count(b",") > MOST_COMMAS:
        raise _fault(f"{path}: more rows than there can be")
    try:
        return json.loads(data, parse_constant=_no_number)
    except (ValueError, RecursionError) as error:
        raise _fault(path) from error


def _no_number(said: str) -> float:
    raise ValueError(f"{said} is no number")
