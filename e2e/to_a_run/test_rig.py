"""A kitchen scale becomes a stand that can be trusted: geometry, masses, a day, all by hand."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from e2e.axe import violations
from e2e.forms import choose

SCALE = "Scale of the porch"


def add_stand(page: Page) -> None:
    """A name and a kind are enough."""
    page.get_by_role("link", name="Rig", exact=True).click()
    page.get_by_role("button", name="Another stand").click()
    new = page.locator("form", has=page.get_by_role("button", name="Add", exact=True))
    new.get_by_label("Name", exact=True).fill(SCALE)
    choose(page, "Kind", "Lever arm on a scale", within=new)
    new.get_by_role("button", name="Add", exact=True).click()
    expect(page.get_by_role("heading", name=f"{SCALE} as declared")).to_be_visible()
    expect(page.get_by_role("row", name=SCALE)).to_contain_text("assumed")


def declare_geometry(page: Page) -> None:
    page.get_by_role("button", name="Changed since a day").click()
    page.get_by_label("Arm of the motor (mm)").fill("168")
    page.get_by_label("Arm of the scale (mm)").fill("112")
    page.get_by_label("Weight", exact=True).fill("plate")
    page.get_by_label("Weighs (g)").fill("131")
    page.get_by_role("button", name="One more weight").click()
    page.get_by_label("Their sum, if you added it up (g)").fill("113")
    expect(page.get_by_role("alert")).to_contain_text("The weights make 131.0 g, not 113 g.")
    page.get_by_label("Their sum, if you added it up (g)").fill("")
    page.get_by_role("button", name="Keep this geometry").click()
    expect(page.get_by_text("thrust = (reading + 131 g (plate)) × 112 mm ÷ 168 mm")).to_be_visible()


def calibrate(page: Page) -> None:
    """Masses by keyboard alone: number, Tab, number, Enter."""
    page.get_by_role("button", name="Calibrate").click()
    page.get_by_label("Mass (g)", exact=True).last.focus()
    for mass, reading in ((0, -131), (500, 622), (1000, 1372), (500, 623), (0, -130)):
        page.keyboard.type(str(mass))
        page.keyboard.press("Tab")
        page.keyboard.type(str(reading))
        page.keyboard.press("Enter")
        expect(page.get_by_label("Mass (g)", exact=True).last).to_be_focused()
    expect(page.get_by_text("The masses are taken to be good to 0.2 %")).to_be_visible()
    page.get_by_role("button", name="Keep as the stand's u").click()
    expect(page.get_by_role("row", name=SCALE)).to_contain_text("calibrated")


def check(page: Page, reading: str, says: str) -> None:
    page.get_by_label("Mass (g)", exact=True).first.fill("500")
    page.get_by_label("The scale shows (g)").first.fill(reading)
    page.keyboard.press("Enter")
    expect(page.get_by_role("status").filter(has_text="500 g shows as")).to_contain_text(says)


def test_a_kitchen_scale_becomes_a_stand(demo, board):
    page = board("ilse")
    add_stand(page)
    declare_geometry(page)
    calibrate(page)
    check(page, "621", "as its uncertainty allows")
    check(page, "652", "look for what rubs or moved")
    expect(page.get_by_role("row", name=SCALE)).to_contain_text("has moved")
    assert violations(page, "rig") == []

    # The day takes the stand; the Board says what is in doubt of it.
    page.get_by_role("link", name="Board", exact=True).click()
    page.get_by_role("button", name=re.compile("the day$")).click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("People").fill("Ilse")
    dialog.get_by_label("Air (°C)").fill("66 °F")
    dialog.get_by_label("or height (m)").fill("520")
    choose(page, "Stand", SCALE, within=dialog)
    dialog.get_by_role("button", name=re.compile("^(Begin the day|Keep)$")).click()
    expect(dialog).to_be_hidden()
    bench = page.get_by_label("The bench now")
    expect(bench).to_contain_text("Ilse · 18.9 °C, ~952 hPa")
    expect(bench).to_contain_text(f"{SCALE} has moved since its calibration")

    # Nothing is thrown away: a stand that runs may refer to is retired, and can come back.
    page.get_by_role("link", name="Look at it").last.click()
    page.get_by_role("row", name=SCALE).get_by_role("button", name=SCALE).click()
    page.get_by_role("button", name="Retire", exact=True).last.click()
    expect(page.get_by_role("row", name=SCALE)).to_contain_text("retired")
