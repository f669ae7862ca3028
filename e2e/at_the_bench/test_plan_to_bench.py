"""From the plan to the bench: the next run by one key, repeats, the guard, other kinds of run."""

import re

from playwright.sync_api import expect

from e2e.bench_steps import arm, arm_and_start, judged
from e2e.forms import choose, tick

RESULT = "Result of the last run"


def confirm_all(page):
    expect(page.locator("fieldset.checklist[aria-busy=false]")).to_be_visible()
    for box in page.get_by_role("group", name="Before you arm").get_by_role("checkbox").all():
        tick(box)


def to_the_end(page, heading="Completed"):
    result = page.get_by_label(RESULT)
    result.get_by_role("link", name="Run ").wait_for(timeout=60_000)
    expect(result.get_by_role("heading")).to_contain_text(heading)
    return result


def known_motor(page):
    choose(page, "Motor and sample", "Ostrel Drift 2206 1900 · A", typed="Ostrel Drift 2206")
    choose(page, "Propeller", "Wickett 5.1x4.2x3", typed="wick 5.1x4.2")
    choose(page, "Supply", "Supply 16 V")


def test_next_run_by_one_key_repeats_that_agree_and_what_was_expected(demo, board):
    page = board()
    proposed = page.get_by_label("Next run")
    expect(proposed).to_contain_text("on Supply 16 V")
    expect(proposed).to_contain_text("Pack 4-1 is on the charger")
    # Said by one key, the pack is full: its run comes first, and waits again when it is charged.
    pack = page.get_by_role("link", name=re.compile("^Pack 4-1: "))
    for key, supply in (("f", "Pack 4-1"), ("c", "Supply 16 V")):
        pack.focus()
        page.keyboard.press(key)
        expect(proposed).to_contain_text(f"on {supply}")
    page.get_by_role("heading", name="Board", exact=True).click()
    page.keyboard.press("b")
    page.get_by_role("heading", name="Bench", exact=True).wait_for()
    assert re.search(r"/bench\?sample=\d+&propeller=\d+&supply=\d+", page.url)
    # What it proposes is chosen; a bench supply repeats better than a pack.
    choose(page, "Supply", "Supply 16 V")
    page.get_by_label("Plateaus, % throttle").fill("30 50")
    choose(page, "Make it", "2 times")
    with judged(page):
        confirm_all(page)
        arm_and_start(page)
        # The picture gets its points while it runs, and the next step is foreseen.
        expect(page.get_by_label("Picture of the run")).to_contain_text("At 30 %", timeout=20_000)
        result = to_the_end(page)
        expect(result.get_by_label("Repeats")).to_contain_text("1 of 2 made")
        page.keyboard.press("r")
        box = page.get_by_role("checkbox", name="Nobody and nothing in the plane of the prop")
        expect(box).to_be_focused()
        # For up to half a second after the run the stand's last word is that it is armed: until
        # then Space is a stop, and ticks nothing.
        expect(page.get_by_role("button", name="STOP")).to_be_disabled()
        page.keyboard.press("Space")
        arm_and_start(page)
        page.get_by_role("banner").get_by_text("Safe").wait_for(timeout=60_000)
        repeats = to_the_end(page).get_by_label("Repeats")
        expect(repeats).to_contain_text("2 of 2 made", timeout=20_000)
        expect(repeats.get_by_role("row").filter(has_text="Largest thrust")).to_contain_text(
            re.compile("agree")
        )
        expect(page.get_by_text(re.compile("highest .* °C"))).to_be_visible()


def test_the_guard_ends_a_run_before_the_step_that_would_pass_a_limit(demo, log_in):
    page = log_in()
    page.goto(f"{demo.address}/bench")
    known_motor(page)
    page.get_by_label("Plateaus, % throttle").fill("40 100")
    page.get_by_label("Current, A").fill("12")
    with judged(page):
        confirm_all(page)
        arm_and_start(page)
        result = to_the_end(page, "Ended before 100 %: current would reach")
        expect(result.get_by_role("heading")).to_contain_text("the limit is 12 A")
    page.get_by_label("Current, A").fill("40")


def test_a_hold_reaches_its_thrust_and_shows_by_how_much_it_misses(demo, log_in):
    page = log_in()
    page.goto(f"{demo.address}/bench")
    known_motor(page)
    choose(page, "Kind of run", "Hold")
    page.get_by_label("Wanted thrusts, gf").fill("250")
    page.get_by_label("Hold each (s)").fill("2")
    with judged(page):
        confirm_all(page)
        arm_and_start(page)
        picture = page.get_by_label("Picture of the run")
        expect(picture).to_contain_text("Wanted 250 gf", timeout=30_000)
        to_the_end(page)


def test_a_flywheel_is_not_armed_without_its_guard_or_above_its_rating(demo, log_in):
    page = log_in()
    page.goto(f"{demo.address}/bench")
    known_motor(page)
    choose(page, "Kind of run", "Flywheel")
    page.get_by_label("Inertia of wheel and rotor (kg·mm²)").fill("62")
    page.get_by_label("Wheel rated for (rpm)").fill("24000")
    page.get_by_label("Spin-up time to (rpm)").fill("12000")
    confirm_all(page)
    group = page.get_by_role("group", name="Before you arm")
    guard = group.get_by_role("checkbox", name=re.compile("Wheel balanced"))
    hold = page.get_by_role("button", name="Hold to arm")
    guard.focus()
    page.keyboard.press("Space")
    expect(hold).to_be_disabled()
    tick(guard)
    page.get_by_label("Speed, rpm").fill("30000")
    expect(hold).to_be_enabled()
    hold.focus()
    page.keyboard.down("Enter")
    cut_at = page.get_by_role("group", name="Cut at")
    refused = cut_at.get_by_text("The wheel is rated for 24,000 rpm")
    refused.wait_for(timeout=15_000)
    page.keyboard.up("Enter")
    # At its rating it may be armed.
    page.get_by_label("Speed, rpm").fill("24000")
    with judged(page):
        arm(page)
        page.keyboard.press("Escape")
        expect(page.get_by_role("banner").get_by_text("Safe")).to_be_visible()


def test_a_proposal_is_passed_over_with_its_reason_and_proposed_again(demo, log_in):
    page = log_in()
    page.goto(f"{demo.address}/plan")
    page.get_by_label("Supply", exact=True).get_by_text("Supply 16 V").click()
    sheet = page.get_by_role("region", name="What to run next")
    sentence = sheet.locator("p").filter(has_text="off what is uncertain")
    # The demo has passed over one already.
    expect(sheet).to_contain_text("1 passed over")
    before = sentence.first.inner_text()
    sheet.get_by_role("button", name="Not this one").click()
    sheet.get_by_label("Why not").fill("its screws are on the way")
    page.keyboard.press("Enter")
    expect(sheet).to_contain_text("2 passed over")
    expect(sentence.first).not_to_have_text(before)
    sheet.get_by_text("2 passed over").click()
    mine = sheet.get_by_role("listitem").filter(has_text="its screws are on the way")
    mine.get_by_role("button", name="Propose it again").click()
    expect(sentence.first).to_have_text(before)


def test_how_far_a_motor_may_be_loaded_and_what_readers_ask(demo, log_in):
    page = log_in()
    page.goto(f"{demo.address}/plan")
    choose(page, "Campaign", "How far may the Drift be loaded?")
    limit = page.get_by_role("region", name="How far it may be loaded")
    expect(limit.get_by_role("row")).to_have_count(3)
    expect(limit).to_contain_text("was run")
    asked = page.get_by_role("region", name="Readers ask")
    expect(asked).to_contain_text("7 readers")
    asked.get_by_role("button", name="Show its cell").first.click()
    expect(page.get_by_role("region", name="The cell in hand")).to_contain_text("7 readers ask")


def test_the_run_sheet_is_printed_and_followed_at_the_bench(demo, log_in):
    page = log_in()
    page.goto(f"{demo.address}/plan")
    page.get_by_label("Supply", exact=True).get_by_text("Supply 16 V").click()
    sheet = page.get_by_label("Run sheet", exact=True)
    expect(sheet).to_contain_text("Lay out:")
    page.emulate_media(media="print")
    expect(sheet.get_by_role("table")).to_be_visible()
    expect(page.get_by_role("navigation", name="Stations")).to_be_hidden()
    expect(page.get_by_role("banner")).to_be_hidden()
    page.emulate_media(media="screen")
    with page.expect_download() as waiting:
        sheet.get_by_role("link", name="CSV").click()
    text = waiting.value.path().read_text()
    assert text.startswith("step,starts (min)")
    assert "Reference run" in text
    sheet.get_by_role("button", name="Take it to the bench").click()
    there = page.get_by_role("region", name="Run sheet")
    expect(there).to_contain_text("0 of ")
    first = there.get_by_role("listitem").first
    mounted = first.inner_text()
    page.get_by_role("heading", name="Bench", exact=True).click()
    while not first.inner_text().startswith(("Run ", "Reference")):
        page.keyboard.press("n")
        expect(first).not_to_have_text(mounted)
        mounted = first.inner_text()
    page.keyboard.press("n")
    # What the sheet mounts is chosen; which way it pulls is looked at first.
    expect(page.locator(".el-form.setup")).to_contain_text(re.compile(r"\d · [A-C]Kind of run"))
    page.get_by_role("button", name="Newly mounted? Check its direction").click()
    with judged(page):
        confirm_all(page)
        arm_and_start(page)
        result = to_the_end(page)
        expect(result).to_contain_text("It pulls the right way.")
    # A check is no run of the sheet.
    expect(there).to_contain_text("0 of ")
    page.get_by_role("button", name="Back to").click()
    there.get_by_role("button", name="Put it away").click()
    expect(there).to_be_hidden()
