"""One motor, from parcel to comparison, as a newcomer walks it."""

from __future__ import annotations

import csv
import io
import re

from playwright.sync_api import Page, expect

from e2e.bench_steps import run_to_the_end
from e2e.demo_runs import DRIFT

MOTOR = "Tarnwick Plover 2207 1855"


def take_in(page: Page) -> None:
    page.get_by_role("link", name="Intake", exact=True).click()
    page.get_by_label("Maker").fill("Tarnwick")
    page.get_by_label("Name", exact=True).fill("Plover")
    page.get_by_label("Size code").fill("2207")
    page.get_by_label("kV on the label").fill("1855")
    expect(page.get_by_text("Read as the stator")).to_be_visible()
    page.get_by_role("button", name="Take it in").click()
    expect(page.get_by_role("heading", name=f"Intake: {MOTOR}")).to_be_visible()


def note_claim(page: Page) -> None:
    page.get_by_role("link", name="2 Claims").click()
    page.get_by_label("Rated current").fill("34")
    page.keyboard.press("Enter")
    page.get_by_role("link", name="Motor file").click()
    expect(page.get_by_role("row", name="Rated current box label 34")).to_be_visible()


def look_inside(page: Page) -> None:
    """Two observations by keyboard alone: a choice and a number."""
    page.get_by_label("Of this motor").get_by_role("link", name="Teardown").click()
    heading = page.locator(".question").get_by_role("heading")
    expect(heading.first).to_have_text("Play when the bell is pushed sideways")
    page.keyboard.press("2")
    expect(heading.first).to_have_text("Play when the bell is pulled")
    page.get_by_role("button", name="Stator diameter").click()
    field = page.get_by_label("Value")
    expect(field).to_be_focused()
    field.fill("22,2")
    page.get_by_label("± u").fill("0.01")
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Stator diameter 22.2 mm")).to_be_visible()
    expect(page.get_by_role("button", name="sideways slight")).to_be_visible()


def see_live_figures(page: Page) -> None:
    thrust = page.locator("dl.figures > div", has_text="Thrust").locator("dd").first
    ended = page.get_by_label("Result of the last run")
    expect(thrust.filter(has_text=re.compile(r"^[1-9]\d{2}")).or_(ended)).to_be_visible(
        timeout=30_000
    )


def test_from_parcel_to_comparison(demo, board, tmp_path):
    page = board("ilse")
    take_in(page)
    note_claim(page)
    look_inside(page)

    page.get_by_role("link", name="Bench", exact=True).click()
    run_to_the_end(page, sample=f"{MOTOR} · A", levels="30 60 90", watch=see_live_figures)
    result = page.get_by_label("Result of the last run")
    result.get_by_role("button", name="Accept").click()
    expect(result.get_by_text("accepted")).to_be_visible()
    result.get_by_role("link", name="Run ").click()

    points = page.locator(".points tbody")
    expect(points.get_by_role("row")).to_have_count(3)
    expect(points.get_by_role("row").nth(2)).to_contain_text("±")
    run = page.url.rsplit("/", 1)[1]
    with page.expect_download() as download:
        page.get_by_role("link", name="points (CSV)").click()
    rows = list(csv.DictReader(io.StringIO(download.value.path().read_text())))
    assert [float(row["throttle_pct"]) for row in rows] == [30, 60, 90]
    assert float(rows[2]["thrust_gf"]) > float(rows[1]["thrust_gf"]) > 200

    page.get_by_role("link", name="Compare", exact=True).click()
    page.get_by_role("combobox", name="Add a run").wait_for()
    page.goto(f"{demo.address}/compare?runs={run},{DRIFT}")
    expect(page.get_by_role("table").first).to_contain_text("baseline")
    outcome = page.get_by_text(re.compile("^(different|no measurable difference|not resolved)$"))
    expect(outcome.first).to_be_visible()
    expect(page.get_by_text("not reached").first).to_be_visible()
    expect(page.get_by_role("heading", name="Like with like?")).to_be_visible()

    with page.expect_download() as download:
        page.get_by_role("link", name="table (CSV)").click()
    table = list(csv.DictReader(io.StringIO(download.value.path().read_text())))
    assert {row["runs"] for row in table} == {run, str(DRIFT)}
    assert "not_reached" in {row["absent"] for row in table}
    chart = page.get_by_role("group", name="thrust_gf over throttle_pct of what is compared")
    for kind, start in (("SVG", b"<svg"), ("PNG", b"\x89PNG"), ("CSV", b"runs,motor")):
        with page.expect_download() as download:
            chart.get_by_role("button", name=kind).click()
        assert download.value.path().read_bytes().startswith(start)


def test_the_motor_file_brings_it_together(demo, board):
    page = board("ilse")
    page.get_by_role("link", name="Ostrel Drift Lite 2205 2420").first.click()
    expect(page.get_by_text("Sample B: dry or rough bearing.")).to_be_visible()
    expect(page.get_by_role("row", name="Rated current box label 32")).to_contain_text(
        "of the rating reached"
    )
    kv = page.get_by_role("row", name="kV label 2,420")
    # One sample's own resistance is known; the other's is taken from it, and that is said.
    expect(kv).to_contain_text("2 samples, 2 runs, corrected for I·R with an assumed R")
    expect(kv).to_contain_text("differs")
    expect(page.get_by_role("row", name="Air gap")).to_contain_text("±")
    expect(page.get_by_role("row", name="Air gap")).to_contain_text("derived")
    page.get_by_role("tab", name="History").click()
    expect(page.get_by_role("heading", name="History of changes")).to_be_visible()
