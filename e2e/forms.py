"""Fields of the component library, used as a person uses them."""

from __future__ import annotations

from playwright.sync_api import Locator, Page, expect


def choose(
    page: Page, field: str, option: str, *, typed: str | None = None, within: Locator | None = None
) -> None:
    """Take a word of a select: by typing what finds it, then by Enter, or by pressing it.

    ``within``: the part of the page that holds the field. ``option``: the whole word. ``typed``:
    what is typed to find it; the word itself by default.
    """
    box = (within or page).get_by_role("combobox", name=field, exact=True)
    box.click()
    box.fill(option if typed is None else typed)
    page.get_by_role("option", name=option, exact=True).click()
    expect(page.get_by_role("option", name=option, exact=True)).to_be_hidden()


def tick(box: Locator) -> None:
    """Tick a box by keyboard; what is seen of it is drawn over a control of no size."""
    if not box.is_checked():
        box.focus()
        box.page.keyboard.press("Space")
    expect(box).to_be_checked()
