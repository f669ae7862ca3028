"""How heavy and how quick readers' pages are: ``.venv/bin/python e2e/measure_readers.py ADDRESS``.

Opens each page of the index in a fresh browser (a cold cache) and tells what came over the wire,
photos apart, and when the page could be used. Budgets: 300 kB before photos, 1 s.
"""

from __future__ import annotations

import sys
from pathlib import Path

from playwright.sync_api import Browser, sync_playwright

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from e2e.application import BROWSER

MOST = 10


def measure(browser: Browser, address: str) -> tuple[float, float, float]:
    """kB without photos, kB of photos, and s until the page could be used."""
    context = browser.new_context()
    page = context.new_page()
    sizes = {"page": 0, "photos": 0}

    def count(response: object) -> None:
        body = response.body()  # type: ignore[attr-defined]
        kind = "photos" if response.url.endswith(".jpg") else "page"  # type: ignore[attr-defined]
        sizes[kind] += len(body)

    page.on("requestfinished", lambda request: count(request.response()))
    page.goto(address, wait_until="load")
    usable = page.evaluate(
        "performance.getEntriesByType('navigation')[0].domContentLoadedEventEnd / 1000"
    )
    context.close()
    return sizes["page"] / 1000, sizes["photos"] / 1000, usable


def main() -> int:
    """Print a line per page."""
    base = sys.argv[1].rstrip("/") + "/"
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(**BROWSER)
        page = browser.new_page()
        page.goto(base)
        links = page.eval_on_selector_all("#list a", "all => all.map(one => one.href)")
        print(f"{'page':60}{'kB':>8}{'photos':>9}{'s':>7}")
        for address in [base, *links[:MOST]]:
            size, photos, usable = measure(browser, address)
            name = address.removeprefix(base) or "index"
            print(f"{name:60}{size:8.0f}{photos:9.0f}{usable:7.2f}")
    return 0


if __name__ == "__main__":
    raise SystemExit(main())
