"""Walking the application by keyboard alone: Tab until a control has the focus, never a click."""

from __future__ import annotations

from playwright.sync_api import Locator, Page

MOST_TABS = 130


def tab_to(page: Page, target: Locator) -> None:
    """Press Tab until the target has the focus."""
    target.wait_for()
    handle = target.element_handle()
    for _ in range(MOST_TABS):
        if page.evaluate("element => element === document.activeElement", handle):
            return
        page.keyboard.press("Tab")
    raise AssertionError(f"{MOST_TABS} tabs did not reach {target}")


def type_into(page: Page, label: str, text: str) -> None:
    """Reach a field by its label and type into it, replacing what stands there."""
    tab_to(page, page.get_by_label(label, exact=True))
    page.keyboard.press("Control+a")
    page.keyboard.type(text)


def take_word(page: Page, typed: str) -> None:
    """In a select that has the focus: type what finds a word, Enter takes the first that fits."""
    page.keyboard.type(typed)
    page.get_by_role("option").filter(visible=True).first.wait_for()
    page.wait_for_timeout(150)
    page.keyboard.press("Enter")


def press_on(page: Page, role: str, name: str) -> None:
    """Reach a button or link and press Enter on it."""
    tab_to(page, page.get_by_role(role, name=name).first)
    page.keyboard.press("Enter")
