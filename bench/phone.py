"""What a phone fetches and how soon it shows: the first load of a page and the next, at 390 px, its processor four
times slower; beside the bare sign-in page.

``python -m bench.phone`` serves the demo for it and needs Debian's chromium.
"""

from __future__ import annotations

import sys
import tempfile
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Final

sys.path.insert(0, str(Path(__file__).resolve().parent.parent / "scripts"))

SLOWER: Final = 4
LONG_MS: Final = 50
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

    requests: int
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


def main() -> None:
    """Print them."""
    from playwright.sync_api import sync_playwright
    from screenshots import CHROMIUM, FLAGS, PHONE, serve

    with tempfile.TemporaryDirectory() as folder:
        server, address = serve(folder)
        try:
            with sync_playwright() as play:
                browser = play.chromium.launch(executable_path=str(CHROMIUM), args=FLAGS)
                print(f"{'page':12} {'':6} requests     kB    LCP  over the sign-in page's    TBT    CLS")
                bare: dict[str, float] = {}  # of the sign-in page, which is asked first
                for name, path in (("sign-in", "/sign-in/"), ("round", "/g/1/round/"), ("season", "/g/1/season/")):
                    context = browser.new_context(viewport=PHONE, has_touch=True, is_mobile=True)
                    cookies: list[Any] = []
                    if name != "sign-in":
                        door = context.new_page()
                        door.goto(f"{address}/sign-in/")
                        door.get_by_role("button", name="Walk into the demo garden").click()
                        door.wait_for_url("**/season/")
                        cookies = context.cookies()
                        context.close()
                        context = browser.new_context(viewport=PHONE, has_touch=True, is_mobile=True)
                        context.add_cookies(cookies)
                    page = context.new_page()
                    page.add_init_script(WATCH)
                    session = context.new_cdp_session(page)
                    session.send("Network.enable")
                    session.send("Emulation.setCPUThrottlingRate", {"rate": SLOWER})
                    for when in ("first", "again"):
                        one = loaded(page, session, address + path)
                        over = one.lcp - bare.setdefault(when, one.lcp)
                        line = (
                            f"{one.requests:8} {one.kb:6.0f} {one.lcp:6.0f} {over:+24.0f} {one.tbt:6.0f} {one.cls:6.3f}"
                        )
                        print(f"{name:12} {when:6} {line}")
                    context.close()
        finally:
            server.terminate()


if __name__ == "__main__":
    main()
