"""Steps at the bench that several paths share."""

from __future__ import annotations

from playwright.sync_api import Page, expect

TRIES = 6
MACHINE_STALLS = ("No command for", "No sample for", "link to the stand")


class MachineStalledError(AssertionError):
    """The machine stood still for longer than the stand waits; nothing of ours is at fault."""


def set_up_run(page: Page, *, sample: str, levels: str) -> None:
    """Choose what to run and confirm the checklist."""
    page.get_by_label("Motor and sample", exact=True).select_option(label=sample)
    page.get_by_label("Propeller", exact=True).select_option(label="Wickett 5.1x4.2x3")
    page.get_by_label("Supply", exact=True).select_option(label="Supply 16 V")
    page.get_by_label("Plateaus, % throttle").fill(levels)
    for box in page.get_by_role("group", name="Before you arm").get_by_role("checkbox").all():
        box.check()


def arm_and_start(page: Page) -> None:
    """By keyboard alone: hold Enter to arm, let go, Enter to start.

    :raises MachineStalledError: the machine froze while armed and the stand disarmed itself.
    """
    hold = page.get_by_role("button", name="Hold to arm")
    expect(hold).to_be_enabled()
    hold.focus()
    page.keyboard.down("Enter")
    start = page.get_by_role("button", name="Start the profile")
    running = page.get_by_role("banner").get_by_text("RUNNING")
    try:
        expect(start).to_be_focused(timeout=30_000)
        page.keyboard.up("Enter")
        page.keyboard.press("Enter")
        expect(running).to_be_visible(timeout=15_000)
    except AssertionError as error:
        page.keyboard.up("Enter")
        said = page.inner_text("main")
        if any(stall in said for stall in MACHINE_STALLS):
            raise MachineStalledError(said) from error
        raise


def run_to_the_end(page: Page, *, sample: str, levels: str, watch=None) -> None:
    """A whole run. A machine that froze for longer than the stand's 300 ms of patience makes the
    stand cut, rightly; the run is then made again."""
    said = ""
    for _ in range(TRIES):
        set_up_run(page, sample=sample, levels=levels)
        try:
            arm_and_start(page)
        except MachineStalledError as stall:
            said = str(stall)
            continue
        result = page.get_by_label("Result of the last run")
        if watch is not None:
            watch(page)
        expect(result.get_by_role("link", name="Run ")).to_be_visible(timeout=60_000)
        said = result.get_by_role("heading").inner_text()
        if said.startswith("Completed"):
            return
        assert any(stall in said for stall in MACHINE_STALLS), said
    raise AssertionError(f"no run was completed in {TRIES} tries: {said}")
