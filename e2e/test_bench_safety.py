"""The stop key and a killed agent, on the whole running application."""

from __future__ import annotations

import os
import signal

import pytest
from playwright.sync_api import expect

from e2e.application import wait_for
from e2e.bench_steps import MACHINE_STALLS, TRIES, arm_and_start, set_up_run

SAMPLE = "Ostrel Drift 2206 1900 · A"


def spinning(page, demo):
    """A run that is under way on its long plateau; made again when the machine froze."""
    for _ in range(TRIES):
        page.goto(f"{demo.address}/bench")
        page.get_by_label("Dwell, s").fill("30")
        set_up_run(page, sample=SAMPLE, levels="50")
        try:
            arm_and_start(page)
            wait_for(lambda: demo.ask_stand()["speed_rpm"] > 10_000, 20, "the prop to spin")
            return
        except AssertionError:
            # Only a machine that froze may stop it from getting there.
            assert any(stall in page.inner_text("main") for stall in MACHINE_STALLS)
    pytest.fail("the machine froze in every try")


def test_space_cuts_the_throttle_and_the_data_is_kept(demo, log_in):
    page = log_in("ilse")
    spinning(page, demo)
    # Even from another screen, with a text field in focus.
    page.get_by_role("link", name="Runs", exact=True).click()
    find = page.get_by_label("Find runs")
    find.focus()
    page.keyboard.press("Space")
    wait_for(lambda: demo.ask_stand()["throttle_pct"] == 0, 10, "zero throttle")
    assert demo.ask_stand()["armed"] is False
    assert find.input_value() == ""
    expect(page.get_by_role("banner").get_by_role("status")).to_have_text("Safe")

    page.get_by_role("link", name="Bench", exact=True).click()
    result = page.get_by_label("Result of the last run")
    expect(result.get_by_role("heading")).to_contain_text("stopped by reviewer")
    result.get_by_role("link", name="Run ").click()
    expect(page.get_by_text("ended: stopped by reviewer")).to_be_visible()
    expect(page.get_by_text("The data up to the cut is kept.")).to_be_visible()
    expect(page.get_by_role("group", name="Trace of run")).to_be_visible()


def test_escape_disarms(demo, log_in):
    page = log_in("ilse")
    page.goto(f"{demo.address}/bench")
    set_up_run(page, sample=SAMPLE, levels="40")
    hold = page.get_by_role("button", name="Hold to arm")
    hold.hover()
    page.mouse.down()
    expect(page.get_by_role("button", name="Start the profile")).to_be_visible(timeout=15_000)
    page.mouse.up()
    page.keyboard.press("Escape")
    wait_for(lambda: demo.ask_stand()["armed"] is False, 10, "disarmed")
    expect(hold).to_be_visible()
    expect(page.get_by_text("Disarmed: stopped by reviewer")).to_be_visible()
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
    for attempt in range(TRIES):
        spinning(page, demo)
        before = demo.ask_stand()
        os.kill(demo.agent_pid(), signal.SIGKILL)
        after = wait_for(
            lambda: (s := demo.ask_stand())["throttle_pct"] == 0 and s, 5, "zero throttle"
        )
        cut = after["last_cut"]
        assert cut["code"] == "link_lost"
        # In the stand's own time, from just before the kill.
        if cut["t_s"] - before["t_s"] <= 0.5:
            break
        assert attempt < TRIES - 1, f"cut only after {cut['t_s'] - before['t_s']:.2f} s"

    # The launcher starts the agent again; the run comes back as interrupted.
    page.goto(f"{demo.address}/runs")
    row = page.get_by_role("row").filter(has_text="interrupted").first
    expect(async_reload(page, row)).to_be_visible(timeout=40_000)
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
