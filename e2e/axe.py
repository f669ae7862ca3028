"""What axe-core finds serious on a page."""

from __future__ import annotations

from typing import Any

from playwright.sync_api import Page

from e2e.application import CHECKOUT

AXE = CHECKOUT / "web" / "node_modules" / "axe-core" / "axe.min.js"

ASKED = """axe.run(document, {
  runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'],
  resultTypes: ['violations'],
})"""
"""What is passed is not written out: that is most of the work."""


def violations(page: Page, name: str) -> list[tuple[Any, ...]]:
    """Serious and critical violations of WCAG 2.2 AA, at most three places of each."""
    if not page.evaluate("'axe' in window"):
        page.evaluate(AXE.read_text())
    result = page.evaluate(ASKED)
    return [
        (name, v["id"], node["target"], node.get("failureSummary", "")[:200])
        for v in result["violations"]
        if v["impact"] in ("serious", "critical")
        for node in v["nodes"][:3]
    ]
