"""Makes the pictures in docs/screenshots from a fresh demo: ``./spindle shots``."""

from __future__ import annotations

import datetime
import re
import sys
from pathlib import Path

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from playwright.sync_api import Locator, Page, sync_playwright

from e2e.application import BROWSER, CHECKOUT, Application, running_demo
from e2e.bench_steps import arm_and_start, run_to_the_end, set_up_run
from e2e.demo_runs import DRIFT, FOUR, LITE, LOST_SPEED
from e2e.forms import tick
from e2e.real_bench import RealBench
from spindle_server.demo.strangers import stranger_files

TARGET = CHECKOUT / "docs" / "screenshots"
SAMPLE = "Ostrel Drift 2206 1900 · A"
AS_ON_SCREENS = "--font-render-hinting=none"
"""Letters where they belong, not at whole pixels: the browser without windows places them so."""


def main() -> int:
    """Start a demo, walk the screens, save a PNG of each."""
    TARGET.mkdir(parents=True, exist_ok=True)
    with running_demo("shots") as demo, sync_playwright() as playwright:
        browser = playwright.chromium.launch(
            **{**BROWSER, "args": [*BROWSER["args"], AS_ON_SCREENS]}
        )
        page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
        page.goto(f"{demo.address}/login")
        page.get_by_label("Name").wait_for()
        page.get_by_label("Name").fill("tomas")
        page.get_by_label("Password", exact=True).fill(demo.password("tomas"))
        page.get_by_role("button", name="Log in").click()
        page.get_by_role("heading", name="Board").wait_for()
        walk(page, demo)
        bench(page, demo)
        browser.close()
    return 0


def walk(page: Page, demo: Application) -> None:
    """The screens that stand still."""
    visit(page, demo, "/motors/3", "motor-file")
    visit(page, demo, "/", "board")
    page.goto(f"{demo.address}/intake")
    for label, text in (("Maker", "Tarnwick"), ("Size code", "2207"), ("kV on the label", "1855")):
        page.get_by_label(label).fill(text)
    page.get_by_text("Read as the stator").wait_for()
    save(page, "intake")
    page.goto(f"{demo.address}/teardown?motor=3")
    page.get_by_role("button", name="Inner diameter across the magnets").click()
    page.locator("figure.cutaway svg").wait_for()
    save(page, "teardown")
    visit(page, demo, "/teardown/compare?samples=1,9,14", "teardown-compare")
    visit(page, demo, "/rig?stand=2", "rig")
    page.goto(f"{demo.address}/plan?supply=1")
    page.get_by_role("gridcell").first.click()
    save(page, "plan")
    readings(page, demo)
    visit(page, demo, f"/runs/{LOST_SPEED}", "run", chart=True)
    visit(page, demo, f"/compare?runs={DRIFT},{FOUR},{LITE}", "compare", chart=True)
    page.goto(f"{demo.address}/rank")
    page.get_by_text("sure.").first.wait_for()
    save(page, "rank")
    visit(page, demo, "/match", "match", chart=True)
    page.goto(f"{demo.address}/compare/benches")
    page.get_by_text("Load by load").wait_for()
    save(page, "benches")
    page.goto(f"{demo.address}/afterwards")
    page.get_by_text("School of flight current").wait_for()
    save(page, "afterwards")
    page.goto(f"{demo.address}/import")
    name = "garage-logger-0412.csv"
    page.locator("input[type=file]").set_input_files(
        {"name": name, "mimeType": "text/csv", "buffer": stranger_files()[name]}
    )
    page.get_by_role("combobox", name="Unit of Pull (oz)").wait_for()
    save(page, "import")
    page.goto(f"{demo.address}/publish/verdict/1")
    page.locator(".proposals, .figures").first.wait_for()
    save(page, "verdict")
    page.goto(f"{demo.address}/read/motors/ostrel-drift-2206-1900/")
    save(page, "readers")


SHEET = {
    "sample": 9,
    "propeller": 5,
    "supply": 1,
    "stand": 2,
    "kind": "held",
    "note": "",
    "rows": [
        {"throttle_pct": "0", "scale_g": "-223", "voltage_v": "16.40"},
        {"throttle_pct": "25", "scale_g": "62", "voltage_v": "16.31", "current_a": "3.2"},
        {"throttle_pct": "50", "scale_g": "618", "voltage_v": "16.12", "current_a": "10.4"},
        {"throttle_pct": "75", "scale_g": "1042", "voltage_v": "15.91", "current_a": "~18.7"},
        {"throttle_pct": "100", "scale_g": "1471", "voltage_v": "15.62", "current_a": "25.4"},
        {"throttle_pct": "0", "scale_g": "-222", "voltage_v": "16.38"},
        {},
    ],
}


def readings(page: Page, demo: Application) -> None:
    """A sheet that is being typed, with digits swapped in one of its rows."""
    sheet = {**SHEET, "day": datetime.date.today().isoformat()}
    sheet["rows"] = [dict(row) for row in SHEET["rows"]]  # type: ignore[attr-defined]
    sheet["rows"][2]["scale_g"] = "168"
    page.evaluate("sheet => localStorage.setItem('spindle.readings', JSON.stringify(sheet))", sheet)
    page.goto(f"{demo.address}/readings")
    page.get_by_text("Were it 618 g on the scale").wait_for()
    save(page, "readings")


def bench(page: Page, demo: Application) -> None:
    """The bench before, during and after a run."""
    page.goto(f"{demo.address}/bench?motor=3")
    set_up_run(page, sample=SAMPLE, levels="20 40 60 80 100")
    run_to_the_end(page, sample=SAMPLE, levels="20 40 60 80 100", watch=picture_of_running)
    stop_does_not_arrive(page, demo)


def stop_does_not_arrive(page: Page, demo: Application) -> None:
    """The stand frozen in mid-run: what the page says when a stop is not confirmed."""
    real = RealBench(demo)
    set_up_run(page, sample=SAMPLE, levels="20 40 60 80 100")
    tick(page.get_by_label("Thrust: no limit"))
    tick(page.get_by_label(re.compile("Thrust does not cut this run")))
    arm_and_start(page)
    step_in_hand(page, "2 of 5: 40 %").wait_for(timeout=20_000)
    real.freeze("stand", 6.0)
    page.keyboard.press("Space")
    page.get_by_text("STOP did not arrive").wait_for()
    save(page, "bench-alarm")
    page.get_by_text("The stand has answered").wait_for(timeout=20_000)


def picture_of_running(page: Page) -> None:
    """The console in mid-run, when the fourth plateau has come."""
    fourth = step_in_hand(page, "4 of 5: 80 %")
    ended = page.get_by_label("Result of the last run")
    fourth.or_(ended).first.wait_for(timeout=40_000)
    if fourth.is_visible():
        save(page, "bench-running")


def step_in_hand(page: Page, label: str) -> Locator:
    """The step of the run that is done at the moment."""
    return page.locator("[aria-current=step]").filter(has_text=label)


def visit(page: Page, demo: Application, path: str, name: str, *, chart: bool = False) -> None:
    """Open a screen, wait until it has its data, and save it."""
    page.goto(demo.address + path)
    page.get_by_role("heading").first.wait_for()
    if chart:
        page.locator("figure svg path").first.wait_for(state="attached")
    save(page, name)


def save(page: Page, name: str) -> None:
    """One PNG at the reference size."""
    page.wait_for_timeout(1200)
    page.screenshot(path=TARGET / f"{name}.png")
    print(f"docs/screenshots/{name}.png", flush=True)


if __name__ == "__main__":
    raise SystemExit(main())
