"""A whole intake and a whole teardown by keyboard alone, and two people at one fact."""

from __future__ import annotations

import csv
import io
import re

import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from e2e.axe import violations
from e2e.keyboard import press_on, tab_to, take_word, type_into
from e2e.records import own_motor, token
from e2e.within import go

MOTOR = "Tarnwick Redpoll 2207 1750"

OUTSIDE = {
    "Height over all, shaft included": "33,4",
    "Height of base and bell": "19.2",
    "Outer diameter of the bell": "27.9",
    "Diameter of the base": "24.1",
    "Shaft diameter at the prop": "5",
    "Free shaft above the bell": "14.2",
    "What holds the propeller": "a nut",
    "Height of the prop nut": "4",
    "Washer under the nut": "0.5",
    "Circle of the two prop screws": "",
    "Thread of the two prop screws": "",
    "Circle of the mounting holes": "16",
    "Second circle of the mounting holes": "19",
    "Mounting holes": "4",
    "Thread of the mounting holes": "3",
    "Base thickness at the screws": "2.6",
    "Depth of the mounting threads": "2.5",
    "Clearance from thread to winding": "1.2",
    "Gauge of the leads": "20",
    "Length of the leads as they came": "140",
}

QUESTIONS = 70
"""Of the whole sheet, without the outside."""

INSIDE = {
    "Width of a tooth, where narrowest": "2.00",
    "Depth of the key's socket in the bell screw": "1.50",
    "Thread of the bell screw": "2",
    "Shaft diameter at the prop": "5",
    "Shaft diameter inside the bearings": "4",
    "Outer diameter of a bearing": "9",
    "Height of a bearing": "4",
    "Magnets (poles)": "14",
    "Inner diameter across the magnets": "22.62",
    "Magnet thickness": "1.5",
    "Magnet height": "9",
    "Stator slots": "12",
    "Stator diameter": "22,2",
    "Stator height (iron only)": "7",
    "Length of a tooth": "5",
    "Outer diameter of the bearing tube": "10",
    "Lamination thickness": "0.2",
    "Strands side by side": "1",
    "Diameter of one strand": "0.6",
    "Outer diameter of the bell": "27.9",
    "Thickness of the flux ring": "1.1",
    "Bell past the stator at the bottom": "0.5",
    "Base thickness at the screws": "2.6",
    "Depth of the mounting threads": "2.5",
    "Clearance from thread to winding": "1.2",
}


def test_a_whole_intake_by_keyboard_alone(demo, board):
    page = board("ilse")
    page.keyboard.press("]")
    expect(page.get_by_role("heading", name="A new motor")).to_be_visible()
    for label, text in (("Maker", "Tarnwick"), ("Name", "Redpoll"), ("Size code", "2207")):
        type_into(page, label, text)
    type_into(page, "kV on the label (rpm/V)", "1750")
    expect(page.get_by_text("Read as the stator")).to_be_visible()
    expect(page.get_by_text("Peers on the bench: ")).to_contain_text("Brackwater")
    type_into(page, "Sample marks", "A B")
    press_on(page, "button", "Take it in")
    expect(page.get_by_role("heading", name=f"Intake: {MOTOR}")).to_be_visible()

    the_parcel(page)
    press_on(page, "link", "Next: Claims")
    the_claims(page)
    press_on(page, "link", "Next: Mass")
    the_scale(page)
    press_on(page, "link", "Next: Outside")
    the_outside(page)
    press_on(page, "link", "Next: Fit")
    expect(page.get_by_text("hits winding").first).to_be_visible()
    expect(page.get_by_role("img", name=re.compile("^Wickett .* on the shaft"))).to_be_visible()
    press_on(page, "link", "Next: Peers")
    tab_to(page, page.get_by_label("Expected", exact=True))
    take_word(page, "Highest thrust")
    type_into(page, "Number", "1200")
    page.keyboard.press("Enter")
    expect(page.get_by_text("1,200gf expected")).to_be_visible()
    press_on(page, "link", "Next: take it apart")
    expect(page.get_by_role("heading", name=f"Teardown: {MOTOR}")).to_be_visible()


def the_parcel(page: Page) -> None:
    tab_to(page, page.get_by_label("How it was obtained"))
    take_word(page, "Spon")
    type_into(page, "From whom", "the maker")
    tab_to(page, page.get_by_label("Arrived on"))
    page.keyboard.press("Control+a")
    page.keyboard.type("2026-10-01")
    page.keyboard.press("Enter")
    type_into(page, "Price", "79,60")
    type_into(page, "Currency", "EUR")
    tab_to(page, page.get_by_label("for", exact=True))
    take_word(page, "a set")
    type_into(page, "Motors in it", "4")
    page.keyboard.press("Enter")
    expect(page.get_by_text("19.90")).to_be_visible()
    type_into(page, "Count", "8")
    type_into(page, "Length (mm)", "8")
    page.keyboard.press("Enter")
    expect(page.get_by_text("8 mounting screws needed")).to_contain_text("no spare")


def the_claims(page: Page) -> None:
    for label, text in (("Mass", "28"), ("Rated current", "30"), ("Rated power", "900")):
        type_into(page, label, text)
        page.keyboard.press("Enter")
    expect(page.get_by_label("Fewest cells")).to_be_focused()
    type_into(page, "Most cells", "4")
    page.keyboard.press("Enter")
    expect(page.get_by_text("implies 30.00 V, outside")).to_be_visible()
    type_into(page, "Magnets", "N52H")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Magnets N52H hold to about 120")).to_be_visible()


def the_scale(page: Page) -> None:
    type_into(page, "Mass (g)", "28000")
    expect(page.get_by_text("Did you mean 28 g?")).to_be_visible()
    for mass, leads in (("28,60", "140"), ("26.35", "40")):
        type_into(page, "Mass (g)", mass)
        type_into(page, "Leads (mm)", leads)
        page.keyboard.press("Enter")
        expect(page.get_by_role("row", name=re.compile(f"{leads}mm"))).to_be_visible()
    expect(page.get_by_role("row", name=re.compile("^A 26.80"))).to_contain_text("two weighings")


def the_outside(page: Page) -> None:
    """Enter goes from one dimension to the next, from the first to the last."""
    tab_to(page, page.get_by_label(next(iter(OUTSIDE)), exact=True))
    for label, text in OUTSIDE.items():
        expect(page.get_by_label(label, exact=True)).to_be_focused()
        page.keyboard.type(text)
        page.keyboard.press("Enter")
    expect(page.locator(".callout.open")).to_have_count(0)
    expect(page.locator(".callout", has_text="33.4")).to_be_visible()


def test_a_whole_teardown_by_keyboard_alone(demo, log_in):
    """Every question of the sheet with one key or one number; then the second sample beside it."""
    page = log_in("ilse")
    made = own_motor(page, demo, sample_marks=["A", "B"])
    first, second = (sample["id"] for sample in made["samples"])
    page.goto(f"{demo.address}/teardown/{first}")
    place = page.locator(".question > p").first
    expect(place).to_contain_text(f"1 of {QUESTIONS}")
    for number in range(1, QUESTIONS + 1):
        expect(place).to_contain_text(f" {number} of {QUESTIONS}")
        label = page.locator(".question h2").inner_text()
        if label in INSIDE:
            expect(page.locator(".measured-field .number input")).to_be_focused()
            page.keyboard.type(INSIDE[label])
            page.keyboard.press("Enter")
        else:
            page.keyboard.press("1")
    expect(page.locator(".questions .soft", has_text="not looked at")).to_have_count(0)
    findings = page.locator("dl.findings")
    expect(findings).to_contain_text("0.21mm")
    expect(findings).to_contain_text("0.933")
    expect(page.locator("figure.cutaway")).to_contain_text("Dashed is not measured: bell top")

    page.goto(f"{demo.address}/teardown/{second}")
    expect(place).to_contain_text(f"1 of {QUESTIONS}")
    expect(page.get_by_role("button", name="same as sample A").first).to_be_enabled()
    keys = (("s", "none (same as"), ("<", "less play beside"), ("u", "could not tell"))
    for number, (key, says) in enumerate(keys, start=1):
        page.keyboard.press(key)
        expect(page.locator(".questions strong", has_text=says)).to_be_visible()
        expect(place).to_contain_text(f" {number + 1} of {QUESTIONS}")
    page.keyboard.press("ArrowUp")
    page.keyboard.press("n")
    page.keyboard.type("looked twice")
    press_on(page, "button", "Keep the note alone")
    expect(page.locator(".questions strong[title='looked twice']")).to_have_count(1)


def test_a_motor_nobody_has_touched_asks_for_what_is_missing(demo, log_in):
    """Empty and half-filled: every step says what it needs instead of showing nothing or 0."""
    page = log_in("ilse")
    made = own_motor(page, demo, size_code="8x20", kind="brushed", kv_label_rpm_per_v=None)
    steps = f"/intake/{made['id']}"
    page.goto(f"{demo.address}{steps}/parcel")
    expect(page.get_by_text("no price on record").first).to_be_visible()
    expect(page.get_by_text("Nothing noted of the box yet.")).to_be_visible()
    expect(page.get_by_text("the size code measures the case").last).to_be_visible()
    go(page, f"{steps}/claims")
    expect(page.get_by_text("Not written down: rated current")).to_be_visible()
    go(page, f"{steps}/mass")
    expect(page.get_by_text("Not weighed yet.")).to_be_visible()
    expect(page.get_by_text("A spread needs two weighed samples.")).to_be_visible()
    go(page, f"{steps}/fit")
    expect(page.get_by_text("The drawing needs the thread's depth")).to_be_visible()
    expect(page.get_by_text("Measure the shaft and its free length.").first).to_be_visible()
    go(page, f"{steps}/peers")
    expect(page.get_by_text("No motor on the bench is near")).to_be_visible()
    go(page, f"/teardown/{made['samples'][0]['id']}")
    expect(page.get_by_text("questions do not apply: a brushed can has no bell")).to_be_visible()
    expect(page.get_by_text("A brushed can is not drawn")).to_be_visible()
    go(page, f"/motors/{made['id']}?look=photos")
    expect(page.get_by_text("No sample was weighed.")).to_be_visible()
    expect(page.get_by_text("No photo yet.")).to_be_visible()


def test_answers_survive_a_lost_server(demo, log_in, problems):
    page = log_in("ilse")
    sample = own_motor(page, demo)["samples"][0]["id"]
    page.goto(f"{demo.address}/teardown/{sample}")
    page.get_by_role("button", name="Thread-lock on it").click()
    page.context.set_offline(True)
    page.keyboard.press("1")
    expect(page.get_by_text("1 answer waits here for the server")).to_be_visible()
    assert violations(page, "waiting") == []
    expect(page.get_by_role("button", name="Thread-lock on it yes")).to_contain_text("not sent")
    page.context.set_offline(False)
    expect(page.get_by_text("waits here for the server")).to_have_count(0)
    page.reload()
    expect(page.get_by_role("button", name="Thread-lock on it yes")).to_be_visible()
    problems[:] = [text for text in problems if "ERR_INTERNET_DISCONNECTED" not in text]


def test_a_weighing_whose_answer_is_lost_is_sent_again_and_is_one(demo, log_in, problems):
    """The server wrote it, the network swallowed the answer; who sees "try again" does."""
    page = log_in("ilse")
    motor = own_motor(page, demo)
    sample = motor["samples"][0]["id"]
    page.goto(f"{demo.address}/intake/{motor['id']}/mass")
    lost = []

    def swallow(route):
        if route.request.method != "POST":
            route.fallback()
            return
        lost.append(route.fetch().status)
        route.abort()

    page.route(f"**/api/v1/samples/{sample}/weighings/", swallow, times=1)
    page.locator("#w-mass").first.fill("26.4")
    keep = page.get_by_role("button", name="Note the weighing").first
    keep.click()
    expect(page.get_by_role("alert").first).to_contain_text("What you typed is still here; try")
    assert lost == [201]
    keep.click()
    expect(page.get_by_text("Not weighed yet.")).to_have_count(0)
    found = page.request.get(f"{demo.address}/api/v1/motors/{motor['id']}/").json()
    weighed = [row["mass_g"] for one in found["masses"]["samples"] for row in one["weighings"]]
    assert weighed == [26.4]
    problems[:] = [text for text in problems if "ERR_FAILED" not in text]


def test_two_people_at_one_parcel_merge_field_by_field(demo, log_in, browser):
    page = log_in("ilse")
    motor = own_motor(page, demo)["id"]
    page.goto(f"{demo.address}/intake/{motor}/parcel")
    sheet = page.locator("section.sheet", has=page.get_by_role("heading", name="Parcel"))
    sheet.get_by_label("Note").fill("dented corner")
    sheet.get_by_label("From whom").fill("a reader")
    parcel = page.request.get(f"{demo.address}/api/v1/motors/{motor}/").json()["parcels"][0][
        "parcel"
    ]
    changed = page.request.patch(
        f"{demo.address}/api/v1/parcels/{parcel['id']}/",
        data={"version": parcel["version"], "note": "box opened", "availability": "scarce"},
        headers={"X-CSRFToken": token(page)},
    )
    assert changed.ok
    page.reload()
    expect(sheet.get_by_label("Note")).to_have_value("dented corner")
    sheet.get_by_role("button", name="Keep the parcel").click()
    merge = page.get_by_role("alertdialog", name="Two versions")
    expect(merge.get_by_role("button", name="Keep these")).to_be_disabled()
    row = merge.get_by_role("row", name=re.compile("^note"))
    expect(row).to_contain_text("box opened")
    assert violations(page, "merge") == []
    row.get_by_label("dented corner").check(force=True)
    merge.get_by_role("button", name="Keep these").click()
    expect(page.get_by_text("On record.")).to_be_visible()
    now = page.request.get(f"{demo.address}/api/v1/motors/{motor}/").json()["parcels"][0]["parcel"]
    assert (now["note"], now["obtained_from"], now["availability"]) == (
        "dented corner",
        "a reader",
        "scarce",
    )


def picture() -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (640, 480), (180, 110, 60)).save(out, "JPEG")
    return out.getvalue()


def test_photos_come_in_and_what_is_none_is_refused(demo, log_in):
    page = log_in("ilse")
    page.goto(f"{demo.address}/motors/{own_motor(page, demo)['id']}?look=photos")
    strip = page.get_by_role("region", name="Photos of sample A")
    expect(strip.get_by_text("No photo yet.")).to_be_visible()
    strip.get_by_label("Caption").fill("Base, from below")
    strip.locator("input[type=file]").set_input_files(
        {"name": "base.jpg", "mimeType": "image/jpeg", "buffer": picture()}
    )
    expect(strip.get_by_role("img", name="Base, from below")).to_be_visible()
    strip.get_by_role("button", name="Base, from below").click()
    expect(strip.get_by_role("button", name="Take it off")).to_be_visible()
    assert violations(page, "photo") == []
    strip.get_by_role("button", name="Close").click()
    strip.locator("input[type=file]").set_input_files(
        {"name": "base.jpg", "mimeType": "image/jpeg", "buffer": b"not a picture at all"}
    )
    expect(strip.get_by_role("alert")).to_contain_text("not a picture")


@pytest.mark.parametrize("samples", ["1,4", "1,4,6,11"])
def test_teardown_compare_exports(demo, log_in, samples):
    page = log_in("reader")
    page.goto(f"{demo.address}/teardown/compare?samples={samples}")
    expect(page.get_by_role("heading", name="At one scale")).to_be_visible()
    count = len(samples.split(","))
    expect(page.get_by_role("img", name=re.compile("at one scale$")).locator("text")).to_have_count(
        count + 1
    )
    with page.expect_download() as download:
        page.get_by_role("link", name="table (CSV)").click()
    rows = list(csv.DictReader(io.StringIO(download.value.path().read_text())))
    assert {row["outcome"] for row in rows if row["step"] != "Claimed"} == {"different"}
    assert sum(key.endswith(": value") for key in rows[0]) == count
    with page.expect_download() as download:
        page.get_by_role("button", name="SVG").click()
    drawing = download.value.path().read_text()
    assert drawing.startswith("<svg")
    assert "rgb(" in drawing
    with page.expect_download() as download:
        page.get_by_role("button", name="PNG").click()
    with Image.open(download.value.path()) as image:
        assert image.width == 2800
        assert len(image.convert("RGB").getcolors(1_000_000) or []) > 20
