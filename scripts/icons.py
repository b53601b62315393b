"""Elder's sign as PNG icons, drawn from elder.svg by the browser: `make icons`. A maskable one has its sign within the
middle eight tenths, on ground to the edges (W3C, Web Application Manifest, safe zone)."""

from __future__ import annotations

from pathlib import Path
from typing import Final

from playwright.sync_api import sync_playwright
from screenshots import CHROMIUM, FLAGS

STATIC: Final = Path(__file__).resolve().parent.parent / "elder/web/ui/static/elder"
INK: Final = "#2E1B33"


def main() -> None:
    """Write every icon."""
    sign = (STATIC / "elder.svg").read_text()
    (STATIC / "icons").mkdir(exist_ok=True)
    with sync_playwright() as play:
        browser = play.chromium.launch(executable_path=str(CHROMIUM), args=FLAGS)
        for size in (180, 192, 512):
            for name, inset in (("", 0), ("-maskable", 10)):
                page = browser.new_page(viewport={"width": size, "height": size})
                back = f"background:{INK};" if name or size == 180 else ""
                whole = sign.replace(
                    "<svg ", f'<svg style="position:absolute;inset:{inset}%;width:{100 - 2 * inset}%" '
                )
                page.set_content(f'<body style="margin:0;{back}">{whole}</body>')
                page.screenshot(path=STATIC / f"icons/elder-{size}{name}.png", omit_background=not back)
                page.close()
        browser.close()
    (STATIC / "icons/elder-180-maskable.png").unlink()


if __name__ == "__main__":
    main()
