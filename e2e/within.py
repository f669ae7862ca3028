"""Going on within a page that is open, as one who presses a link: it is not loaded anew."""

from __future__ import annotations

from playwright.sync_api import Page

GO = """path => {
  history.pushState({}, '', path)
  dispatchEvent(new PopStateEvent('popstate', { state: null }))
}"""


def go(page: Page, path: str) -> None:
    """To another address of the application. What was asked a moment ago may be shown as it was
    then: a test that changed something past the page loads it anew.
    """
    page.evaluate(GO, path)
