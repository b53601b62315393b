"""Take docs/screenshots from the demo garden on its first day: `make screenshots`."""

from __future__ import annotations

import os
import socket
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from playwright.sync_api import Browser, Page, sync_playwright

ROOT = Path(__file__).resolve().parent.parent
OUT = ROOT / "docs" / "screenshots"
FLAGS = ["--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking"]
FLAGS += ["--disable-component-update", "--disable-sync"]
HEADLESS = Path("/usr/bin/chromium-headless-shell")
CHROMIUM = HEADLESS if HEADLESS.exists() else Path("/usr/bin/chromium")
LAPTOP, PHONE = {"width": 1280, "height": 800}, {"width": 390, "height": 844}


def serve(folder: str) -> tuple[subprocess.Popen[bytes], str]:
    """The demo, freshly laid out in a folder of its own, on a free port."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    env = os.environ | {
        "DJANGO_SETTINGS_MODULE": "elder.config.settings.demo",
        "DATABASE_URL": f"sqlite:///{folder}/demo.sqlite3",
    }
    manage = [sys.executable, str(ROOT / "manage.py")]
    for command in (["migrate", "-v0"], ["load_demo"], ["collectstatic", "--noinput", "-v0"]):
        subprocess.run([*manage, *command], env=env, check=True)  # noqa: S603 - our own commands
    server = subprocess.Popen([*manage, "serve", "--port", str(port)], env=env, cwd=ROOT)  # noqa: S603
    address = f"http://127.0.0.1:{port}"
    for _ in range(100):
        with socket.socket() as probe:
            if probe.connect_ex(("127.0.0.1", port)) == 0:
                return server, address
        time.sleep(0.2)
    raise RuntimeError("the demo did not come up")


def page_of(browser: Browser, address: str, **options: object) -> Page:
    """A page inside the demo."""
    page = browser.new_context(locale="en-GB", **options).new_page()  # type: ignore[arg-type]
    page.goto(f"{address}/sign-in/")
    page.get_by_role("button", name="Walk into the demo garden").click()
    page.wait_for_url("**/season/")
    return page


def shoot(page: Page, url: str, name: str) -> None:
    """One picture of what fits the window."""
    page.goto(url)
    page.wait_for_timeout(500)
    page.screenshot(path=OUT / f"{name}.png")


def take(browser: Browser, address: str) -> None:
    """Every picture."""
    laptop = page_of(browser, address, viewport=LAPTOP)
    garden = laptop.url.removesuffix("/season/")
    shoot(laptop, f"{garden}/season/", "season")
    shoot(laptop, f"{garden}/hand/", "windfall")
    shoot(laptop, f"{garden}/plant/tomato/", "plant")
    laptop.goto(f"{garden}/batches/")
    laptop.locator("[data-row]", has_text="Tarbrand").first.click()
    laptop.wait_for_url("**/batch/**")
    batch = laptop.url
    shoot(laptop, batch, "batch")
    shoot(laptop, f"{garden}/places/", "places")
    laptop.get_by_role("link", name="its sky at Kitchen sill").click()
    laptop.wait_for_url("**/sky/")
    shoot(laptop, laptop.url, "sky")
    the_shed(laptop, garden)
    the_record(laptop, garden)
    phone = page_of(browser, address, viewport=PHONE, has_touch=True, is_mobile=True)
    the_bench(laptop, garden)
    the_promises(laptop, garden)
    the_round(laptop, phone, garden)
    the_first_hour(laptop, address)
    the_year(laptop, garden)


def the_first_hour(laptop: Page, address: str) -> None:
    """A new garden as it is described, its year drawn beside it. It is not kept."""
    laptop.goto(f"{address}/garden/new/")
    said = {"name": "By the quay", "where": "porthmadog", "cold_night": "1", "cold_day": "7", "warm_night": "12"}
    for field, text in {**said, "warm_day": "21", "last_frost_mean": "mid April"}.items():
        laptop.locator(f"[name={field}]").fill(text)
    laptop.locator("#garden-answer .answer-line", has_text="Things grow").wait_for()
    laptop.wait_for_timeout(600)
    laptop.screenshot(path=OUT / "new-garden.png")


def the_promises(laptop: Page, garden: str) -> None:
    """What is promised; and the neighbour's load."""
    shoot(laptop, f"{garden}/passing/", "promised")
    laptop.goto(garden.rsplit("/", 1)[0] + "/2/moving/")
    laptop.get_by_role("link", name="The load").click()
    laptop.wait_for_url("**/load/")
    shoot(laptop, laptop.url, "load")


def the_bench(laptop: Page, garden: str) -> None:
    """A sheet."""
    laptop.goto(f"{garden}/cut/")
    laptop.get_by_role("link", name="Cut sheet for Tomato ‘Ferry Lamp’").click()
    laptop.wait_for_url("**/cut/want/**")
    shoot(laptop, laptop.url, "cut-sheet")


def the_shed(laptop: Page, garden: str) -> None:
    """What to buy and how it runs down."""
    shoot(laptop, f"{garden}/shed/", "shed")


def the_record(laptop: Page, garden: str) -> None:
    """What is mine, a trial judged, the year."""
    shoot(laptop, f"{garden}/record/", "record")
    laptop.goto(f"{garden}/record/trials/")
    laptop.get_by_role("link", name="Rosemary, in January or in April?").click()
    laptop.wait_for_url("**/record/trial/**")
    shoot(laptop, laptop.url, "trial")
    shoot(laptop, f"{garden}/record/year/", "year")


def the_round(laptop: Page, phone: Page, garden: str) -> None:
    """The round on a laptop and a phone, a look as it is answered."""
    shoot(laptop, f"{garden}/round/", "round")
    shoot(phone, f"{garden}/round/", "phone-round")
    phone.get_by_role("link", name="I see something: Sweet potato ‘Low Tide’").click()
    for sign in ("wilted", "soggy", "moss"):
        phone.locator("label.sign-button", has_text=sign).click()
    phone.locator(".look-signs").scroll_into_view_if_needed()
    phone.screenshot(path=OUT / "phone-look.png")


def the_year(laptop: Page, garden: str) -> None:
    """A line multiplied; and, one press of the clock later, the winter list."""
    laptop.goto(f"{garden}/year/")
    laptop.get_by_role("link", name="Scented pelargonium").first.click()
    laptop.wait_for_url("**/year/line/**")
    shoot(laptop, laptop.url, "multiply")
    laptop.get_by_role("button", name="to autumn").click()
    laptop.wait_for_url("**/season/")
    shoot(laptop, f"{garden}/year/winter/", "winter")


if __name__ == "__main__":
    OUT.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as play:
        server, address = serve(folder)
        try:
            browser = play.chromium.launch(executable_path=str(CHROMIUM), args=FLAGS)
            take(browser, address)
        finally:
            server.terminate()
