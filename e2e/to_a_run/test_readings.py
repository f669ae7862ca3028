"""A review with a scale and a watt meter: a sheet, typed and pasted, becomes runs to compare."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from e2e.axe import violations
from e2e.forms import choose
from e2e.records import own_motor

PASTE = "50\t519\t16.1\t9.0\n75\t760\t15.9\t14.2\n100\t1050\t15.6\t20.4\n0\t1\t16.4\n"


def cell(page: Page, row: int, label: str):
    return page.get_by_label(f"Row {row}: {label}", exact=True)


def paste(page: Page, row: int, label: str, text: str) -> None:
    """As the keyboard would: the cell is told what stands on the clipboard."""
    cell(page, row, label).evaluate(
        """(field, text) => {
            const data = new DataTransfer()
            data.setData('text', text)
            const how = { clipboardData: data, bubbles: true, cancelable: true }
            field.dispatchEvent(new ClipboardEvent('paste', how))
        }""",
        text,
    )


def test_a_sheet_of_readings_becomes_a_run(demo, log_in):
    page = log_in("ilse")
    motor = own_motor(page, demo)
    page.goto(f"{demo.address}/readings?sample={motor['samples'][0]['id']}")
    expect(page.get_by_text(motor["full_name"]).first).to_be_visible()
    choose(page, "Propeller", "Wickett 5.1x4.2x3", typed="5.1x4.2x3")
    choose(page, "Stand", "Scale on the bench")

    # Typed by keyboard alone: down with Enter, on with Tab.
    cell(page, 1, "Scale shows, g").focus()
    page.keyboard.type("0")
    page.keyboard.press("Tab")
    page.keyboard.type("16.4")
    page.keyboard.press("Enter")
    expect(cell(page, 2, "Voltage, V")).to_be_focused()
    paste(page, 2, "Throttle, %", PASTE)
    expect(cell(page, 4, "Current, A")).to_have_value("20.4")
    expect(page.get_by_text("checked", exact=True)).to_be_visible()
    expect(page.locator(".meant").filter(has_text="1,050")).to_be_visible()

    # A slip is said beside its row, and stays as it was typed until somebody mends it.
    cell(page, 3, "Scale shows, g").fill("1760")
    expect(
        page.get_by_role("alert").filter(has_text="the rows beside it make about")
    ).to_be_visible()
    expect(cell(page, 3, "Scale shows, g")).to_have_value("1760")
    assert violations(page, "readings") == []
    page.reload()
    expect(cell(page, 3, "Scale shows, g")).to_have_value("1760")
    cell(page, 3, "Scale shows, g").fill("760")
    expect(page.get_by_role("alert")).to_have_count(0)

    page.get_by_role("button", name="Keep as a run").click()
    expect(page.get_by_role("heading", name="Points")).to_be_visible()
    expect(page.locator(".points tbody tr")).to_have_count(3)
    expect(page.get_by_text("kitchen scale").first).to_be_visible()


def test_an_evening_with_two_propellers_is_compared(demo, log_in):
    """Blocks, cells that say less than a number, a clip: kept together, filled in, compared."""
    page = log_in("ilse")
    motor = own_motor(page, demo)
    page.goto(f"{demo.address}/readings?sample={motor['samples'][0]['id']}")
    choose(page, "Propeller", "Wickett 5.1x4.2x3", typed="5.1x4.2x3")
    choose(page, "Stand", "Scale on the bench")
    cell(page, 1, "Scale shows, g").fill("0")
    paste(page, 2, "Throttle, %", PASTE.replace("20.4", "~20.4"))
    page.get_by_role("button", name="Next propeller, motor or supply").click()
    second = page.get_by_label("Block 2", exact=True)
    choose(page, "Propeller", "Wickett 5x3.6x3", typed="5x3.6x3", within=second)
    first = "Block 2, row 2: Throttle, %"
    page.get_by_label("Block 2, row 1: Scale shows, g", exact=True).fill("0")
    page.get_by_label(first, exact=True).evaluate(
        """(field, text) => {
            const data = new DataTransfer()
            data.setData('text', text)
            const how = { clipboardData: data, bubbles: true, cancelable: true }
            field.dispatchEvent(new ClipboardEvent('paste', how))
        }""",
        PASTE.replace("1050", "980").replace("760", "705"),
    )
    page.get_by_label("Block 2, row 4: Speed, rpm", exact=True).fill("? clip 3 04:12")
    expect(page.get_by_text("checked", exact=True).first).to_be_visible()
    assert violations(page, "readings") == []
    page.get_by_role("button", name="Keep as 2 runs").click()
    page.wait_for_url("**/runs?state=waiting")
    listed = page.request.get(
        f"{demo.address}/api/v1/runs/?motor={motor['id']}&ordering=number"
    ).json()["results"]
    assert len(listed) == 2

    # The cell that waits for its clip is on the Board and at the run, and is filled in there.
    later = max(listed, key=lambda run: run["id"])["id"]
    page.goto(f"{demo.address}/runs/{later}")
    waiting = page.get_by_label("To read from footage")
    expect(waiting).to_contain_text("clip 3 at 04:12")
    waiting.get_by_role("textbox").fill("21800")
    waiting.get_by_role("button", name="Read").click()
    expect(page.get_by_role("cell", name="21,800").first).to_be_visible()
    expect(page.get_by_label("To read from footage")).to_have_count(0)

    ids = ",".join(str(run["id"]) for run in listed)
    page.goto(f"{demo.address}/compare?runs={ids}")
    expect(page.get_by_role("heading", name="At equal thrust")).to_be_visible()
    for run in listed:
        expect(page.get_by_text(str(run["id"]), exact=False).first).to_be_visible()
