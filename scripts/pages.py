"""Every page of the demo, as each of its people sees it, and what every form on it answers: written out as text.

A change that is to change nothing on screen is held by two runs and a ``diff -r`` between them:

    make pages OUT=before     # before the change
    make pages OUT=after      # after it

Links are followed from the first page of each garden. Each form is sent as it stands, once as a browser sends it and
once as a script does, inside a transaction that is rolled back. Keys and tokens made anew for each page are blanked.
"""

from __future__ import annotations

import argparse
import hashlib
import json
import os
import re
import sys
from collections import deque
from collections.abc import Iterator
from html.parser import HTMLParser
from pathlib import Path
from typing import Any
from urllib.parse import urljoin, urlsplit

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))
os.environ.setdefault("DJANGO_SETTINGS_MODULE", "elder.config.settings.test")
os.environ["TEST_DATABASE"] = "pages.sqlite3"

PEOPLE = ("gardener", "helper", "lodger")
BLANKED = (
    (re.compile(r"[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}"), "KEY"),
    (re.compile(r'(name="csrfmiddlewaretoken" value=")[^"]*'), r"\1TOKEN"),
    (re.compile(r"(calendar/)[\w-]{30,}(\.ics)"), r"\1SECRET\2"),
    (re.compile(r'(data-rendered=")\d+'), r"\1NOW"),
    (re.compile(r"\.?[\w-]+:[\w-]{6}:[\w-]{43}"), "SIGNED"),
)
ASKED = (
    "want/new/?plant=basil&wanted=12&when=safe&confidence=0.9&purpose=bed&stock=usual&rooting_place=1&growing_place=1",
    "want/new/?plant=tomato&wanted=0&when=by",
    "want/new/?plant=tomato&ask=cuttings&cuttings=9&when=safe&confidence=0.9&purpose=bed&stock=usual"
    "&rooting_place=1&growing_place=2",
    "want/new/?plant=tomato&wanted=9&lots=3&apart_days=21&when=safe&confidence=0.9&purpose=bed&stock=usual"
    "&rooting_place=1&growing_place=2",
    "want/new/?plant=scented-pelargonium&wanted=6&when=safe&confidence=0.9&purpose=over&stock=usual"
    "&rooting_place=1&growing_place=1",
    "season/?risk=4&sure=1", "season/?zoom=three&group=place", "season/?zoom=spring&rows=small", "season/?group=plant",
    "hand/?plant=lettuce&piece=shoot&pieces=1&length=20&state=sound",
    "hand/?plant=rosemary&piece=pruning&pieces=4&length=40&state=flowering",
    "hand/?plant=pineapple&piece=top&pieces=1&state=sound",
    "hand/?plant=fig&piece=pruning&pieces=2&length=3&state=woody",
    "cut/layout/?plant=rosemary&length=60&nodes=20&bad=40-47+in+flower&length=30&nodes=frog&bad=",
    "cut/layout/?plant=rosemary&length=60&nodes=20&bad=40-47+in+flower",
    "cut/can/?plant=basil&flower=open", "cut/hormone/?strength=0.1&unit=percent&wanted=2000&volume=100",
    "plants/?q=mint", "plant/banana/?wanted=3", "frost/?at=-2", "frost/?at=99", "nowhere/",
)  # fmt: skip


class Read(HTMLParser):
    """The links of a page, and its forms with what stands in their fields."""

    def __init__(self) -> None:
        super().__init__()
        self.links: list[str] = []
        self.forms: list[dict[str, Any]] = []
        self._choice: tuple[str, bool] | None = None
        self._area = ""

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        """A link, a form, a field."""
        given = {name: value or "" for name, value in attrs}
        if tag == "a" and "href" in given:
            self.links.append(given["href"])
        elif tag == "form":
            method = given.get("method", "get").lower()
            self.forms.append({"action": given.get("action", ""), "method": method, "fields": {}, "buttons": []})
        elif self.forms:
            self._field(tag, given)

    def _field(self, tag: str, given: dict[str, str]) -> None:
        fields, name = self.forms[-1]["fields"], given.get("name", "")
        if tag == "input" and name:
            kind = given.get("type", "text")
            if (kind in ("checkbox", "radio") and "checked" not in given) or kind == "file":
                return
            fields.setdefault(name, []).append(given.get("value", "on"))
        elif tag == "button" and name:
            self.forms[-1]["buttons"].append((name, given.get("value", "")))
        elif tag == "select" and name:
            self._choice = (name, False)
        elif tag == "option" and self._choice:
            chosen, taken = self._choice
            if "selected" in given or not taken:
                fields[chosen] = [given.get("value", "")]
                self._choice = (chosen, True)
        elif tag == "textarea" and name:
            fields[name] = [""]
            self._area = name

    def handle_data(self, data: str) -> None:
        """What a text area holds."""
        if self._area:
            self.forms[-1]["fields"][self._area] = [data]

    def handle_endtag(self, tag: str) -> None:
        """A field ends."""
        if tag == "select":
            self._choice = None
        elif tag == "textarea":
            self._area = ""


def blanked(text: str) -> str:
    """A page without what is new in each; a line to a tag, so that where a template's lines break says nothing."""
    for pattern, instead in BLANKED:
        text = pattern.sub(instead, text)
    return re.sub(r"\s*(</?[a-z][^>]*>)\s*", r"\n\1\n", re.sub(r"\s+", " ", text)).replace("\n\n", "\n")


def digest(text: str) -> str:
    """A text told apart from another, and nothing secret about it."""
    return hashlib.md5(text.encode(), usedforsecurity=False).hexdigest()


def sent(client: Any, page: str, form: dict[str, Any], button: tuple[str, str] | None) -> Iterator[str]:
    """What a form answers, to a browser and to a script."""
    from django.db import transaction

    data = {**form["fields"], **({button[0]: [button[1]]} if button else {})}
    data.pop("csrfmiddlewaretoken", None)
    for accept in ("text/html", "application/json"):
        with transaction.atomic():
            answer = client.post(urljoin(page, form["action"]), data, HTTP_ACCEPT=accept)
            kept = client.session.get("kept")
            transaction.set_rollback(True)
        body = "" if answer.status_code in (301, 302) else answer.content.decode(errors="replace")
        where = urljoin(page, form["action"])
        yield blanked(
            f"{accept} POST {where} {button or ''}: {answer.status_code} {answer.headers.get('Location', '')}"
        )
        yield blanked(json.dumps(kept, sort_keys=True))
        yield (
            blanked(body)
            if "json" in answer.headers.get("Content-Type", "")
            else hashlib.md5(blanked(body).encode(), usedforsecurity=False).hexdigest()
        )


def crawl(client: Any, starts: list[str], out: Path, most: int) -> int:
    """Follow every link from some pages, and write each page with its forms' answers."""
    waiting, seen = deque(starts), set(starts)
    while waiting:
        url = waiting.popleft()
        alpine = {"HTTP_X_ALPINE_REQUEST": "true"} if url.endswith("#live") else {}
        answer = client.get(url.removesuffix("#live"), **alpine)
        kind = answer.headers.get("Content-Type", "")
        text = answer.content.decode(errors="replace") if "text" in kind or "json" in kind else str(len(answer.content))
        lines = [f"{answer.status_code} {kind} {answer.headers.get('Location', '')}", blanked(text)]
        if "html" in kind and not alpine:
            page = Read()
            page.feed(text)
            for link in page.links:
                to = urljoin(url, link).split("#")[0]
                if urlsplit(to).netloc == "" and to not in seen and len(seen) < most:
                    seen.add(to)
                    waiting.append(to)
            for form in page.forms:
                if form["method"] == "post" and "sign-out" not in form["action"]:
                    for button in form["buttons"] or [None]:
                        lines += sent(client, url, form, button)
        name = re.sub(r"[^\w=-]+", "_", url).strip("_")[:90] or "home"
        (out / f"{name}.{digest(url)[:6]}.txt").write_text("\n".join(lines), encoding="utf-8")
    return len(seen)


def main() -> None:
    """Lay the demo out, crawl it as everybody."""
    import django

    django.setup()
    from django.conf import settings
    from django.test import Client
    from django.test.utils import get_runner, setup_test_environment

    words = argparse.ArgumentParser(description=(__doc__ or "").splitlines()[0])
    words.add_argument("out", type=Path)
    words.add_argument("--most", type=int, default=900, help="pages to a person")
    asked = words.parse_args()
    setup_test_environment()
    settings.DEMO = True
    get_runner(settings)(verbosity=0, interactive=False).setup_databases()
    from demo.loader import load

    load(must_be_demo=False)
    from elder.web.garden.models import Garden, Person

    for name in PEOPLE:
        client = Client(raise_request_exception=False)
        client.force_login(Person.objects.get(username=name), backend="django.contrib.auth.backends.ModelBackend")
        folder = asked.out / name
        folder.mkdir(parents=True, exist_ok=True)
        starts = []
        for garden in Garden.objects.order_by("pk"):
            base = f"/g/{garden.pk}/"
            starts += [base + page for page in ("season/", *ASKED)]
            live = [base + page + "#live" for page in ASKED if "?" in page]
            starts += live if garden == Garden.objects.order_by("pk").first() else []
        count = crawl(client, [*starts, "/habits/", "/calendar/", "/password/"], folder, asked.most)
        sys.stdout.write(f"{name}: {count} pages\n")


if __name__ == "__main__":
    main()
