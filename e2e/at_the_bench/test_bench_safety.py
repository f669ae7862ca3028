"""The stop key, pages that go, and a killed agent, on the whole running application."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect

from e2e.application import wait_for
from e2e.bench_steps import arm, arm_and_start, judged, set_up_run
from e2e.forms import tick
from e2e.real_bench import RealBench
from e2e.records import found

SAMPLE = "Ostrel Drift 2206 1900 · A"


def spinning(page, demo):
    """A run that is under way on its long plateau."""
    page.goto(f"{demo.address}/bench")
    page.get_by_label("Dwell on each (s)").fill("30")
    set_up_run(page, sample=SAMPLE, levels="50")
    arm_and_start(page)
    wait_for(lambda: demo.ask_stand()["speed_rpm"] > 10_000, 20, "the prop to spin")


def said_by(place):
    """Each word that a place comes to from now on, though nobody looks while it is there."""
    place.evaluate(
        """place => {
          const said = (window.said = [])
          const note = () => said.push(place.textContent.trim())
          new MutationObserver(note).observe(place, {
            childList: true, characterData: true, subtree: true,
          })
        }"""
    )
    return lambda: place.page.evaluate("said.filter((word, i) => word !== said[i - 1])")


def stopped(demo, after=""):
    """The stand's own word once it is safe: an armed one at rest has zero throttle too."""

    def safe():
        said = demo.ask_stand()
        return said["throttle_pct"] == 0 and not said["armed"] and said

    return wait_for(safe, 10, f"zero throttle and not armed {after}")


def test_space_cuts_the_throttle_and_the_data_is_kept(demo, log_in):
    page = log_in("ilse")
    with judged(page):
        spinning(page, demo)
        words = said_by(page.get_by_role("banner").get_by_role("status"))
        # Even from another screen, with a text field in focus.
        page.get_by_role("link", name="Runs", exact=True).click()
        find = page.get_by_label("Find runs")
        find.focus()
        assert demo.ask_stand()["throttle_pct"] > 0, "It was over before anybody stopped it."
        page.keyboard.press("Space")
        assert stopped(demo)["armed"] is False
        assert find.input_value() == ""
        # Safe is said of what is still, and not before.
        expect(page.get_by_role("banner").get_by_role("status")).to_have_text("Safe")
        assert words()[-2:] == ["Throttle zero, rotor still turning", "Safe"], words()

        page.get_by_role("link", name="Bench", exact=True).click()
        result = page.get_by_label("Result of the last run")
        expect(result.get_by_role("heading")).to_contain_text("Stopped by Ilse Varga.")
        result.get_by_role("link", name="Run ").click()
        expect(page.get_by_text("ended: Stopped by Ilse Varga.")).to_be_visible()
        expect(page.get_by_text("The data up to the cut is kept.")).to_be_visible()
        expect(page.get_by_role("group", name="Trace of run")).to_be_visible()


TAKES_SPACE = (
    ("Bench", "text=Log out", "focus"),
    ("Bench", "text=Start the profile", "focus"),
    ("Teardown", ".reference input", "click"),
    ("Teardown", ".reference input", "ArrowDown"),
    ("Runs", "[aria-label='Day']", "click"),
    ("Runs", "[aria-label='Kind of run']", "ArrowDown"),
    ("Runs", "input[type=checkbox]", "focus"),
    ("Import", ".el-upload", "focus"),
)
"""What would take Space for itself: an open list, a box, a file, a button."""


def test_space_stops_whatever_has_the_focus(demo, log_in):
    page = log_in("ilse")
    page.goto(f"{demo.address}/bench")
    with judged(page):
        for number, (station, focus, how) in enumerate(TAKES_SPACE):
            if number:
                page.get_by_role("link", name="Bench", exact=True).click()
            set_up_run(page, sample=SAMPLE, levels="40")
            arm(page)
            if station == "Import":
                page.get_by_role("link", name="Runs", exact=True).click()
                page.get_by_role("button", name="Import a log").click()
            elif station != "Bench":
                page.get_by_role("link", name=station, exact=True).click()
            target = page.locator(focus).first
            target.focus()
            if how == "click":
                target.click()
            elif how != "focus":
                page.keyboard.press(how)
            assert demo.ask_stand()["armed"], f"not armed before: {station}, {focus}, {how}"
            page.keyboard.press("Space")
            stopped(demo, f"{station}, {focus}, {how}")
            expect(page.get_by_role("button", name="Log out")).to_be_visible()
            assert not demo.ask_stand()["armed"], f"armed again: {station}, {focus}, {how}"


@pytest.fixture
def other(browser):
    """A page of somebody else, closed whatever comes of the test: an open one keeps a run alive."""
    context = browser.new_context(viewport={"width": 900, "height": 700})
    yield context.new_page()
    context.close()


def test_a_reader_stops_what_somebody_else_runs(demo, log_in, other):
    page = log_in("ilse")
    with judged(page):
        spinning(page, demo)
        other.goto(f"{demo.address}/login")
        other.get_by_label("Name").fill("reader")
        other.get_by_label("Password", exact=True).fill(demo.password("reader"))
        other.get_by_role("button", name="Log in").click()
        expect(other.get_by_role("banner").get_by_text("RUNNING")).to_be_visible()
        other.get_by_role("button", name=re.compile("^STOP")).click()
        assert stopped(demo)["last_cut"]["by"] == "Reader"
        result = page.get_by_label("Result of the last run")
        expect(result.get_by_role("heading")).to_contain_text("Stopped by Reader.")


def test_a_limit_that_is_no_number_blocks_arming_beside_its_field(demo, log_in):
    page = log_in("ilse")
    page.goto(f"{demo.address}/bench")
    set_up_run(page, sample=SAMPLE, levels="40")
    hold = page.get_by_role("button", name="Hold to arm")
    expect(hold).to_be_enabled()
    field = page.get_by_label("Motor, °C")
    for text, says in (("9O", "no number"), ("", "choose off"), ("180", "")):
        field.fill(text)
        if says:
            expect(page.get_by_role("alert").filter(has_text=says).first).to_be_visible()
            expect(hold).to_be_disabled()
    # 180 °C is a number; that it protects nothing is said by the bench, beside the field.
    expect(hold).to_be_enabled()
    hold.focus()
    page.keyboard.down("Enter")
    said = page.locator(".number-field", has_text="Motor, °C").get_by_role("alert")
    expect(said).to_contain_text("130 °C")
    page.keyboard.up("Enter")
    field.fill("90,5")
    expect(said).to_have_count(0)
    # Off is a choice, and it is confirmed by name.
    tick(page.get_by_label("Motor: no limit"))
    expect(hold).to_be_disabled()
    tick(page.get_by_label(re.compile("temperature does not cut this run")))
    expect(hold).to_be_enabled()
    assert demo.ask_stand()["armed"] is False


def test_the_stop_control_cannot_be_scrolled_away(demo, log_in):
    page = log_in("ilse")
    for width, height in ((1280, 800), (900, 700), (640, 400)):
        page.set_viewport_size({"width": width, "height": height})
        page.goto(f"{demo.address}/motors/{found(page, demo, 'drift 2206')['id']}")
        page.get_by_role("tab", name="History").click()
        page.get_by_role("heading", name="History of changes").wait_for()
        page.locator("main").evaluate("page => page.scrollTo(0, 1e6)")
        page.evaluate("document.scrollingElement.scrollTo(0, 1e6)")
        page.mouse.move(width / 2, height / 2)
        page.mouse.wheel(0, 100_000)
        page.wait_for_timeout(200)
        box = page.get_by_role("button", name=re.compile("^STOP")).bounding_box()
        assert box is not None
        assert box["y"] >= 0
        assert box["y"] + box["height"] <= 60
        assert box["x"] >= 0
        assert box["x"] + box["width"] <= width
        assert page.evaluate("document.scrollingElement.scrollTop") == 0


def test_a_page_that_is_closed_in_mid_run_is_asked_first_and_then_ends_the_run(demo, log_in):
    page = log_in("ilse")
    with judged(page):
        spinning(page, demo)
        with page.expect_event("dialog") as asked:
            page.close(run_before_unload=True)
        assert asked.value.type == "beforeunload"
        asked.value.accept()
        assert stopped(demo)["last_cut"]["code"] == "stopped"


def test_escape_disarms(demo, log_in):
    page = log_in("ilse")
    page.goto(f"{demo.address}/bench")
    set_up_run(page, sample=SAMPLE, levels="40")
    hold = page.get_by_role("button", name="Hold to arm")
    expect(hold).to_be_enabled()
    with judged(page):
        hold.hover()
        page.mouse.down()
        page.get_by_role("button", name="Start the profile").wait_for(timeout=15_000)
        page.mouse.up()
        page.keyboard.press("Escape")
        wait_for(lambda: demo.ask_stand()["armed"] is False, 10, "disarmed")
        expect(hold).to_be_visible()
        expect(page.get_by_text("Disarmed: Stopped by Ilse Varga.")).to_be_visible()
    # Each arming asks for its own look around.
    expect(hold).to_be_disabled()


def test_letting_go_early_does_not_arm(demo, log_in):
    page = log_in("ilse")
    page.goto(f"{demo.address}/bench")
    set_up_run(page, sample=SAMPLE, levels="40")
    hold = page.get_by_role("button", name="Hold to arm")
    hold.focus()
    page.keyboard.down("Enter")
    page.keyboard.up("Enter")
    expect(hold).to_be_enabled()
    assert demo.ask_stand()["armed"] is False


def test_a_killed_agent_leaves_the_stand_at_zero_and_the_run_recovered(demo, log_in):
    page = log_in("ilse")
    with judged(page):
        real = RealBench(demo)
        spinning(page, demo)
        before = demo.ask_stand()
        real.kill("agent")
        cut = stopped(demo)["last_cut"]
        assert cut["code"] == "link_lost"
        # In the stand's own time, from just before the kill.
        assert cut["t_s"] - before["t_s"] <= 0.5

    # The launcher starts the agent again; the run comes back as interrupted.
    expect(page.get_by_role("banner").get_by_text("INTERRUPTED")).to_be_visible()
    expect(page.get_by_text("Look at the stand before you arm.")).to_be_visible()
    page.goto(f"{demo.address}/runs")
    row = page.get_by_role("row").filter(has_text="interrupted").first
    async_reload(page, row).wait_for(timeout=40_000)
    row.get_by_role("link").first.click()
    expect(page.get_by_text("The bench agent ended in mid-run")).to_have_count(2)
    run = page.url.rsplit("/", 1)[1]
    trace = page.request.get(f"{demo.address}/api/v1/runs/{run}/trace/?points=6000").json()
    lost_s = cut["t_s"] - trace["time_s"][-1]
    assert lost_s <= 1.0
    assert trace["channels"]["speed_rpm"][-1] > 5_000
    expect(page.get_by_role("banner").get_by_text("Simulated stand")).to_be_visible()


def async_reload(page, row):
    """Reload until the recovered run is listed."""
    for _ in range(20):
        if row.count():
            break
        page.wait_for_timeout(1000)
        page.reload()
    return row
