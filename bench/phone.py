"""What a phone fetches and how soon it shows: the first load of a page and the next, at 390 px, its processor four
times slower; beside the bare sign-in page.

``python -m bench.phone`` serves the demo for it and needs Debian's chromium.
"""

from __future__ import annotations

import sys
import tempfile
from collections.abc import Sequence
from dataclasses import dataclass, fields
from pathlib import Path
from statistics import median
from typing import Any, Final

from playwright.sync_api import sync_playwright

sys.path.insert(0, str(Path(__file__).resolve().parent.parent / "scripts"))
from screenshots import CHROMIUM, FLAGS, PHONE, serve

SLOWER: Final = 4
TIMES: Final = 5  # of which the middle one counts
PAGES: Final = {"sign-in": "/sign-in/", "round": "/g/1/round/", "season": "/g/1/season/"}
WATCH: Final = """
window.seen = {lcp: 0, tbt: 0, cls: 0};
new PerformanceObserver((list) => { for (const one of list.getEntries()) window.seen.lcp = one.startTime; })
  .observe({type: "largest-contentful-paint", buffered: true});
new PerformanceObserver((list) => { for (const one of list.getEntries()) {
  window.seen.tbt += Math.max(one.duration - 50, 0); } }).observe({type: "longtask", buffered: true});
new PerformanceObserver((list) => { for (const one of list.getEntries()) {
  if (!one.hadRecentInput) window.seen.cls += one.value; } }).observe({type: "layout-shift", buffered: true});
"""


@dataclass(frozen=True)
class Load:
    """One load: requests, bytes over the wire, LCP and blocked ms, layout shift."""

    requests: float
    kb: float
    lcp: float
    tbt: float
    cls: float


def loaded(page: Any, session: Any, url: str) -> Load:
    """A page loaded once, until nothing is fetched any more."""
    got: dict[str, float] = {}
    session.on("Network.loadingFinished", lambda one: got.__setitem__(one["requestId"], one["encodedDataLength"]))
    page.goto(url)
    page.wait_for_timeout(2500)
    seen = page.evaluate("window.seen")
    paid = [size for size in got.values() if size]
    return Load(len(paid), sum(paid) / 1000, seen["lcp"], seen["tbt"], seen["cls"])


def phone(browser: Any) -> Any:
    """A phone that has nothing yet."""
    return browser.new_context(viewport=PHONE, has_touch=True, is_mobile=True)


def signed_in(browser: Any, address: str, path: str) -> list[Any]:
    """What a phone has to show to be let in; who let it in has looked at the page, so that the server has reckoned it,
    as ``warm`` does of a morning: what is measured is the phone."""
    context = phone(browser)
    door = context.new_page()
    door.goto(f"{address}/sign-in/")
    door.get_by_role("button", name="Walk into the demo garden").click()
    door.wait_for_url("**/season/")
    door.goto(address + path)
    cookies: list[Any] = context.cookies()
    context.close()
    return cookies


def loads(browser: Any, url: str, cookies: list[Any]) -> tuple[Load, Load]:
    """A page loaded by a phone that has nothing, and by the same again."""
    context = phone(browser)
    context.add_cookies(cookies)
    page = context.new_page()
    page.add_init_script(WATCH)
    session = context.new_cdp_session(page)
    session.send("Network.enable")
    session.send("Emulation.setCPUThrottlingRate", {"rate": SLOWER})
    both = loaded(page, session, url), loaded(page, session, url)
    context.close()
    return both


def middle(found: Sequence[Load]) -> Load:
    """Of each figure the middle one."""
    return Load(*(median(getattr(one, field.name) for one in found) for field in fields(Load)))


def main() -> None:
    """Print them."""
    with tempfile.TemporaryDirectory() as folder:
        server, address = serve(folder)
        try:
            with sync_playwright() as play:
                browser = play.chromium.launch(executable_path=str(CHROMIUM), args=FLAGS)
                print(f"{'page':12} {'':6} requests     kB    LCP  over the sign-in page's    TBT    CLS")
                bare: dict[str, float] = {}  # of the sign-in page, which is asked first
                for name, path in PAGES.items():
                    cookies = [] if name == "sign-in" else signed_in(browser, address, path)
                    found = [loads(browser, address + path, cookies) for _ in range(TIMES)]
                    for when, one in zip(("first", "again"), map(middle, zip(*found, strict=True)), strict=True):
                        over = one.lcp - bare.setdefault(when, one.lcp)
                        line = f"{one.requests:8.0f} {one.kb:6.0f} {one.lcp:6.0f} {over:+24.0f}"
                        print(f"{name:12} {when:6} {line} {one.tbt:6.0f} {one.cls:6.3f}")
        finally:
            server.terminate()


if __name__ == "__main__":
    main()
