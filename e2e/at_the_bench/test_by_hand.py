"""A throttle in somebody's hand, and a device that only prints: asked, recorded, never cut."""

import contextlib
import json
import os
import random
import re
import threading
import time
import tty

import pytest
from playwright.sync_api import expect

from e2e.application import running, wait_for
from e2e.axe import violations
from e2e.bench_steps import judged, set_up_run
from e2e.forms import choose, tick
from e2e.person import Person
from e2e.records import own_motor
from spindle_bench.driver.printing_device import NAMES, printed
from spindle_bench.states import AT_REST

COLUMNS = {
    "ms": ("time_s", "ms"),
    "Load g": ("thrust_gf", "gf"),
    "I": ("current_a", "A"),
    "rpm": ("speed_rpm", "rpm"),
    "U": ("voltage_v", "V"),
}


def move(page, to):
    """Move the simulated transmitter by keyboard, a per cent a press."""
    slider = page.get_by_role("slider", name="Simulated transmitter")
    slider.focus()
    while (now := int(slider.get_attribute("aria-valuenow"))) != to:
        page.keyboard.press("ArrowRight" if now < to else "ArrowLeft")
        expect(slider).to_have_attribute("aria-valuenow", str(now + (1 if now < to else -1)))


@pytest.fixture
def let_go(demo):
    """Whatever came of a test, and be it that nobody could judge it: no hand stays on the throttle,
    since those that come after it need the bench."""
    yield
    person = Person(demo, "ilse")

    def rests():
        state = person.ask("GET", "bench/")[1]["state"]
        # A record that ended by itself, for a clock that jumped say, leaves the hand where it was.
        person.ask("POST", "bench/hand/", {"pct": 0})
        if state == "watching":
            person.ask("POST", "bench/stop/")
        elif state == "faulted":
            person.ask("POST", "bench/reset/")
        return state in AT_REST and demo.ask_stand()["throttle_pct"] == 0

    wait_for(rests, 60, "the bench to come to rest")


def test_a_run_by_hand_is_asked_for_recorded_and_said_to_be_one(demo, log_in, let_go):
    page = log_in("ilse")
    name = own_motor(page, demo)["full_name"]
    with judged(page):
        page.goto(f"{demo.address}/bench")
        page.get_by_role("radio", name="somebody’s hand").check(force=True)
        choose(page, "Moved with", "A servo tester")
        set_up_run(page, sample=f"{name} · A", levels="20 40")
        for box in page.get_by_role("group", name="Before you arm").get_by_role("checkbox").all():
            tick(box)
        hold = page.get_by_role("button", name="Hold to record")
        expect(hold).to_be_enabled()
        hold.focus()
        page.keyboard.down("Enter")
        hand = page.get_by_role("region", name="The hand on the throttle")
        hand.wait_for(timeout=15_000)
        page.keyboard.up("Enter")
        assert violations(page, "by hand") == []
        expect(page.get_by_role("banner").get_by_text("END RECORD")).to_be_visible()
        # Whoever lingers at 20 % is told that it is further to 40 %.
        for pct, then in ((20, "to 40 %"), (40, "Throttle to zero, slowly.")):
            expect(hand.locator(".says")).to_contain_text(f"to {pct} %")
            move(page, pct)
            expect(hand.locator(".says")).to_contain_text(then)
        move(page, 0)
        result = page.get_by_label("Result of the last run")
        expect(result.get_by_role("heading")).to_contain_text("Every position was held")
        expect(page.get_by_text("unplug before you reach in").first).to_be_visible()
        result.get_by_role("link", name="Run ").click()
        limits = page.get_by_role("region", name="Limits of the run")
        expect(limits).to_contain_text("by hand: a servo tester; nothing here could cut it")
        # Both positions came out as plateaus: a hand that is held up on its way rests there too.
        points = page.locator(".el-table__body").first.locator("tr")
        expect(points).to_have_count(2)
        expect(points.nth(1)).to_contain_text("40")


@contextlib.contextmanager
def printing_device():
    """A cable with a device on its other end that prints a motor at rest."""
    master, slave = os.openpty()
    tty.setraw(slave)
    ended = threading.Event()

    def device():
        begun, rng = time.monotonic(), random.Random(5)  # noqa: S311
        with contextlib.suppress(OSError):
            while not ended.is_set():
                at_s = time.monotonic() - begun
                os.write(master, f"{NAMES}\n{printed(at_s, 0.0, rng)}\n".encode())
                time.sleep(0.1)

    thread = threading.Thread(target=device, daemon=True)
    thread.start()
    try:
        yield os.ttyname(slave)
    finally:
        ended.set()
        os.close(slave)
        os.close(master)
        thread.join(2)


@pytest.fixture
def two_stands(tmp_path):
    said = {name: {"channel": to, "unit": unit} for name, (to, unit) in COLUMNS.items()}
    dialect = {"encoding": "utf-8", "delimiter": ";", "decimal": "."}
    dialect |= {"header_line": 1, "units_line": False}
    mapping = tmp_path / "club.json"
    mapping.write_text(json.dumps({"format": "log-mapping/1", "columns": said, "dialect": dialect}))
    with (
        printing_device() as port,
        running(
            "start", "two", "--stand", "simulated", "--stand", f"printed:{port},{mapping}"
        ) as application,
    ):
        yield application, f"printing device {port}"


def test_a_device_that_prints_is_taken_beside_the_simulated_stand(two_stands, page):
    application, device = two_stands
    page.goto(f"{application.address}/login")
    page.get_by_label("Name").fill("admin")
    page.get_by_label("Password", exact=True).fill(application.password("admin"))
    page.get_by_role("button", name="Log in").click()
    page.get_by_role("heading", name="Board").wait_for()
    page.goto(f"{application.address}/bench")
    banner = page.get_by_role("banner")
    expect(banner.get_by_text("Simulated stand")).to_be_visible()
    expect(page.get_by_role("radio", name="this program")).to_be_enabled()
    choose(page, "Linked to", device)
    expect(banner.get_by_text("Stand linked")).to_be_visible()
    # What it prints is shown; what it cannot do is no choice.
    expect(page.get_by_text("This stand only reads.")).to_be_visible()
    expect(page.get_by_role("radio", name="this program")).to_be_disabled()
    expect(page.locator(".figures > div", has_text="Voltage")).to_contain_text(
        re.compile(r"16\.40\s*V")
    )
    expect(page.locator(".figures > div", has_text="Throttle")).to_contain_text("—")
    # The choice outlives the page; and the way back is the same.
    page.reload()
    expect(page.get_by_text("This stand only reads.")).to_be_visible()
    choose(page, "Linked to", "simulated stand")
    expect(banner.get_by_text("Simulated stand")).to_be_visible()
    expect(page.get_by_role("radio", name="this program")).to_be_enabled()
