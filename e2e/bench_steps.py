"""Steps at the bench that several paths share. Nothing is tried again: a run that does not come
through is a fault, unless the machine itself is seen to have stood still. What takes a whole run is
waited for and not expected: an expectation that is not met yet writes the page out each time."""

from __future__ import annotations

import contextlib
from collections.abc import Iterator
from urllib.parse import urljoin

import pytest
from playwright.sync_api import Page, TimeoutError, expect

from e2e.canary import Canary
from e2e.forms import choose, tick

PAGE_STALL_S = 1.0
"""The door asks a page twice a second and a run is cut 2 s after its last answer, so one that could
not answer for this long may have had it cut, rightly. On a machine of its own none does."""

STOPWATCH = """() => {
  if (window.stood_ms !== undefined) return
  window.stood_ms = 0
  let last = performance.now()
  setInterval(() => {
    const now = performance.now()
    window.stood_ms = Math.max(window.stood_ms, now - last - 50)
    last = now
  }, 50)
}"""


@contextlib.contextmanager
def judged(page: Page) -> Iterator[None]:
    """What fails in here is a fault; but while machine or page stood still it is not judged."""
    page.add_init_script(f"({STOPWATCH})()")
    page.evaluate(STOPWATCH)
    with Canary() as canary:
        try:
            yield
        except (AssertionError, TimeoutError) as error:
            if canary.disturbed:
                pytest.skip(f"not judged: the machine stood still for {canary.worst_s:.2f} s")
            page_s = 0.0 if page.is_closed() else page.evaluate("window.stood_ms") / 1000
            if page_s > PAGE_STALL_S:
                pytest.skip(f"not judged: the page stood still for {page_s:.2f} s")
            said = page.context.request.get(urljoin(page.url, "/api/v1/bench/")).text()
            error.add_note(f"The page stood still for {page_s:.2f} s. The bench says: {said}")
            raise


def set_up_run(page: Page, *, sample: str, levels: str) -> None:
    """Choose what to run and confirm the checklist."""
    motor, _, mark = sample.rpartition(" · ")
    choose(page, "Motor and sample", f"{motor} · {mark}", typed=motor)
    choose(page, "Propeller", "Wickett 5.1x4.2x3", typed="wick 5.1x4.2")
    choose(page, "Supply", "Supply 16 V")
    page.get_by_label("Plateaus, % throttle").fill(levels)
    # What has to be confirmed depends on what is chosen.
    expect(page.locator("fieldset.checklist[aria-busy=false]")).to_be_visible()
    for box in page.get_by_role("group", name="Before you arm").get_by_role("checkbox").all():
        tick(box)


def arm(page: Page) -> None:
    """Hold Enter on the arm control until the start control has the focus."""
    hold = page.get_by_role("button", name="Hold to arm")
    try:
        expect(hold).to_be_enabled()
    except AssertionError as error:
        why = " ".join(page.locator(".arm, .checklist").all_inner_texts())
        raise AssertionError(f"It cannot be armed: {why}") from error
    hold.focus()
    page.keyboard.down("Enter")
    expect(page.get_by_role("button", name="Start the profile")).to_be_focused(timeout=15_000)
    # From now on it has to answer in time; to load and draw itself it may take long.
    page.evaluate("window.stood_ms = 0")
    page.keyboard.up("Enter")


def arm_and_start(page: Page) -> None:
    """By keyboard alone: hold Enter to arm, let go, Enter to start."""
    arm(page)
    page.keyboard.press("Enter")
    page.get_by_role("banner").get_by_text("RUNNING").wait_for(timeout=15_000)


def run_to_the_end(page: Page, *, sample: str, levels: str, watch=None) -> None:
    """A whole run."""
    with judged(page):
        set_up_run(page, sample=sample, levels=levels)
        arm_and_start(page)
        result = page.get_by_label("Result of the last run")
        if watch is not None:
            watch(page)
        result.get_by_role("link", name="Run ").wait_for(timeout=60_000)
        expect(result.get_by_role("heading")).to_contain_text("Completed")
