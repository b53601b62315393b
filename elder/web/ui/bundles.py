"""Styles and scripts put together for sending: many small files to read, few to fetch.

One file of styles, one of what every page does, one of each room that does more, and Alpine, which comes when it is
needed (``shared/wake.js``).
They are made where static files are looked for, from the files in ``static/``, and made anew when one of those changes.
"""

from __future__ import annotations

import os
import re
import tempfile
from collections.abc import Iterable, Iterator
from pathlib import Path
from typing import Final

import rcssmin
import rjsmin
from django.conf import settings
from django.contrib.staticfiles.finders import BaseFinder
from django.core.checks import CheckMessage
from django.core.files.storage import FileSystemStorage

STATIC: Final = Path(__file__).resolve().parent / "static"
SHARED: Final = (
    "shared/wake", "shared/whose", "shared/drafts", "shared/steppers", "shared/keys", "shared/asking", "shed/answers",
    "rounds/presses", "rounds/sending", "rounds/waiting", "rounds/queue", "rounds/reach", "rounds/leaving",
)  # fmt: skip
# Where the styles of a bundle lie their addresses of fonts still hold.
BUNDLES: Final[dict[str, tuple[str, ...]]] = {
    "elder/css/shared/all.css": (
        "vendor/bootstrap/bootstrap.used.css",
        *(f"elder/css/shared/{name}.css" for name in ("tokens", "elements", "frame", "rail", "drawings")),
        *(f"elder/css/rooms/{name}.css" for name in (
            "season", "rounds", "cut", "shed", "places", "record", "year", "passing", "moving", "garden",
        )),
        "elder/css/shared/labels.css",
        "elder/css/shared/hands.css",
    ),
    "elder/js/shared/all.js": tuple(f"elder/js/{name}.js" for name in SHARED),
    "elder/js/season/all.js": ("elder/js/season/answer.js", "elder/js/season/whatif.js"),
    "elder/js/cut/all.js": ("elder/js/cut/windfall.js", "elder/js/cut/sheet.js", "elder/js/cut/layout.js"),
    "elder/js/places/all.js": ("elder/js/places/sky.js", "elder/js/places/walk.js"),
    "elder/js/rounds/all.js": ("elder/js/rounds/findings.js", "elder/js/rounds/signs.js"),
    "elder/js/shared/alpine.js": ("vendor/alpine-ajax/alpine-ajax.min.js", "vendor/alpine/alpine-csp.min.js"),
}  # fmt: skip
ROOM_SCRIPTS: Final = {
    path.split("/")[2]: path for path in BUNDLES if path.endswith(".js") and not path.startswith("elder/js/shared/")
}
MAPS: Final = re.compile(r"(?m)^(//#|/\*#) sourceMappingURL=.*$")  # of a part, which the whole is not


def bundled(path: str) -> str:
    """What a bundle holds, part after part."""
    parts = (_plain(name, MAPS.sub("", (STATIC / name).read_text())) for name in BUNDLES[path])
    return "\n".join(part.strip() + (";" if path.endswith(".js") else "") for part in parts) + "\n"


def _plain(name: str, text: str) -> str:
    """A part without its remarks and margins, but for what came so from others; licences stay."""
    if ".min." in name:
        return text
    small = rjsmin.jsmin if name.endswith(".js") else rcssmin.cssmin
    return str(small(text, keep_bang_comments=True))


def made(path: str) -> Path:
    """A bundle as a file, made anew where a part of it is younger."""
    file: Path = settings.BUNDLED / path
    newest = max((STATIC / name).stat().st_mtime for name in (*BUNDLES[path], "../bundles.py"))
    if not file.exists() or file.stat().st_mtime < newest:
        file.parent.mkdir(parents=True, exist_ok=True)
        handle, beside = tempfile.mkstemp(dir=file.parent)
        with os.fdopen(handle, "w") as out:
            out.write(bundled(path))
        os.replace(beside, file)  # whoever reads it meanwhile has the old one whole
    return file


class BundleFinder(BaseFinder):
    """Finds the bundles among static files."""

    def check(self, **kwargs: object) -> list[CheckMessage]:
        """Nothing to be set."""
        return []

    def find(self, path: str, find_all: bool = False, **kwargs: object) -> object:  # type: ignore[override]
        """A bundle's file. The signature is Django's."""
        found = [str(made(path))] if path in BUNDLES else []
        return found if find_all else next(iter(found), [])

    def list(self, ignore_patterns: Iterable[str] | None) -> Iterator[tuple[str, FileSystemStorage]]:
        """Every bundle, for collecting."""
        for path in BUNDLES:
            made(path)
            yield path, FileSystemStorage(location=settings.BUNDLED)
