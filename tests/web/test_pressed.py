"""Pages pressed small on their way, and what is never pressed; styles and scripts in few files."""

from __future__ import annotations

import gzip
import re
from pathlib import Path
from typing import Any

import brotli
import pytest
from django.contrib.staticfiles import finders
from django.test import Client
from django.urls import reverse

from elder.web.ui.bundles import BUNDLES, STATIC, bundled

ROOT = Path(__file__).resolve().parents[2]


def raw(client: Client, garden: Any, name: str, takes: str, **headers: str) -> Any:
    """A page as it comes over the wire; the tests' own reading of white space leaves what is pressed alone."""
    return client.get(reverse(name, args=[garden.pk]), headers={"Accept-Encoding": takes, **headers})


@pytest.mark.parametrize(("takes", "way"), [("gzip, deflate, br", "br"), ("gzip;q=0.8", "gzip"), ("identity", "")])
def test_a_page_is_pressed_as_the_browser_takes_it(
    owner: Client, garden: Any, takes: str, way: str, unread: None
) -> None:
    answer = raw(owner, garden, "plants", takes)
    assert answer.headers.get("Content-Encoding", "") == way
    plain = {"br": brotli.decompress, "gzip": gzip.decompress, "": bytes}[way](answer.content)
    assert b"<h1>Plants</h1>" in plain
    assert answer["Vary"].split(", ").count("Accept-Encoding") == 1
    if way:
        assert answer["Content-Length"] == str(len(answer.content))
        assert len(answer.content) < len(plain) / 3


def test_how_long_a_pressed_page_is_tells_nothing(owner: Client, garden: Any, unread: None) -> None:
    lengths = {len(raw(owner, garden, "plants", "br")["X-Stretch"]) for _ in range(30)}
    assert len(lengths) > 10
    assert max(lengths) < 160


def test_what_opens_a_door_is_not_pressed(owner: Client, garden: Any, unread: None) -> None:
    for address in (reverse("calendar"), reverse("garden", args=[garden.pk])):
        answer = owner.get(address, headers={"Accept-Encoding": "br"})
        assert answer.status_code == 200
        assert not answer.has_header("Content-Encoding"), address


def test_a_first_load_asks_for_few_files(owner: Client, garden: Any) -> None:
    said = owner.get(reverse("round", args=[garden.pk])).content.decode()
    fetched = re.findall(r'(?:src|href)="(/static/[^"]+\.(?:css|js|woff2))"', said)
    assert fetched == [
        "/static/vendor/atkinson/atkinson-hyperlegible-next-latin-wght-normal-plain.woff2",
        "/static/vendor/bitter/bitter-latin-wght-normal-plain.woff2",
        "/static/elder/css/shared/all.css",
        "/static/elder/js/shared/theme.js",
        "/static/elder/js/shared/all.js",
        "/static/elder/js/rounds/all.js",
    ]
    assert all(finders.find(name.removeprefix("/static/")) for name in fetched)


def bare(text: str) -> str:
    """Styles or scripts without remarks, blanks and needless semicolons: what a browser reads of them."""
    text = re.sub(r"(?m)^(//#|/\*#) sourceMappingURL=.*$|^\s*//.*$|(?<=[;{},)]) //.*$", "", text)
    text = re.sub(r"/\*[^!].*?\*/", "", text, flags=re.DOTALL)
    return re.sub(r";+(?=[;}])", "", re.sub(r"\s", "", text))


def test_a_bundle_has_no_remarks_and_keeps_every_licence() -> None:
    styles, scripts = (Path(str(finders.find(path))).read_text() for path in list(BUNDLES)[:2])
    assert re.findall(r"/\*[^!]", styles) == []
    assert re.findall(r"(?m)^\s*//", scripts) == []
    assert "Licensed under MIT" in styles
    assert len(styles) < 140_000 < sum((STATIC / part).stat().st_size for part in BUNDLES["elder/css/shared/all.css"])


def test_a_bundle_holds_each_of_its_parts_whole_and_once() -> None:
    shared = [path for path in BUNDLES if path.startswith(("elder/css", "elder/js/shared"))]
    parts = [part for path in BUNDLES for part in BUNDLES[path]]
    assert len(parts) == len(set(parts))
    for path in shared:
        whole = Path(str(finders.find(path))).read_text()
        assert whole == bundled(path)
        for part in BUNDLES[path]:
            assert bare((STATIC / part).read_text()) in bare(whole), part
    ours = {str(file.relative_to(STATIC)) for file in (STATIC / "elder").rglob("*") if file.suffix in (".css", ".js")}
    assert ours - set(parts) == {"elder/js/shared/theme.js"}  # that one runs before anything is drawn


def test_a_bundle_is_made_anew_when_a_part_changes(
    tmp_path: Path, settings: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    settings.BUNDLED = tmp_path
    file = Path(str(finders.find("elder/js/cut/all.js")))
    file.write_text("older")
    assert Path(str(finders.find("elder/js/cut/all.js"))).read_text() == "older"  # nothing is younger
    import os

    os.utime(file, (1, 1))
    assert "hand" in Path(str(finders.find("elder/js/cut/all.js"))).read_text()


def test_every_style_of_bootstraps_that_a_page_names_ships() -> None:
    """Of Bootstrap the styles in use are shipped: a class that a page begins to use wants `make vendor`."""
    whole = (ROOT / "tests/vendor/bootstrap.min.css").read_text()
    used = (STATIC / "vendor/bootstrap/bootstrap.used.css").read_text()

    def classes(css: str) -> set[str]:
        return set(re.findall(r"\.([a-z][a-z0-9-]*)(?=[^{}]*\{)", css))

    named = set()
    for file in (ROOT / "elder/web").rglob("*.html"):
        for attribute in re.findall(r'class="([^"]*)"', file.read_text()):
            named |= set(re.findall(r"[a-z][a-z0-9-]*", attribute))
    assert named & classes(whole) <= classes(used)
    assert len(used) < len(whole) / 4


@pytest.fixture
def unread(monkeypatch: pytest.MonkeyPatch) -> None:
    """The tests' own reading of pages collapses white space, which would break what is pressed."""
    monkeypatch.undo()
