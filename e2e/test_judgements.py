"""Who wins and what a craft should carry, as a reviewer asks it: by keyboard, slider and file."""

import re
import struct
from itertools import pairwise
from typing import Any

from PIL import Image
from playwright.sync_api import Route, expect

from e2e.demo_runs import DRIFT, FOUR, LITE
from e2e.forms import choose
from e2e.records import close_campaign
from e2e.within import go

FIVE_INCH = "Five-inch freestyle"


def ranked(page, demo):
    page.goto(f"{demo.address}/rank")
    page.get_by_role("heading", name="Rank", exact=True).wait_for()
    cohort = page.get_by_label("The cohort")
    expect(cohort.get_by_role("row").nth(4)).to_be_visible(timeout=20_000)
    return cohort


def test_a_cohort_is_ranked_a_weight_moved_and_the_certainty_read(demo, log_in):
    page = log_in()
    cohort = ranked(page, demo)
    said = page.get_by_label("What can be said")
    expect(said).to_contain_text(re.compile(r"is really first is\s+\d+ % sure"))
    expect(said).to_contain_text("cannot be told apart")
    # By keyboard alone: mass counts, and the lightest motor comes up.
    slider = page.get_by_role("slider", name="Weight of Mass").first
    slider.focus()
    for _ in range(16):
        page.keyboard.press("ArrowRight")
    expect(page).to_have_url(re.compile(r"mass_g(:|%3A)4"))
    expect(said).to_contain_text(re.compile(r"Sable .* has the highest score"), timeout=20_000)
    first = cohort.get_by_role("row").nth(1)
    expect(first).to_contain_text("Sable")
    # What it rests on is one key away, with samples and runs.
    first.locator(".el-table__expand-icon").click()
    expect(cohort.get_by_text(re.compile(r"\d samples?, \d runs?")).first).to_be_visible()
    # A bound comes before any weight, and says who fell out.
    page.get_by_label("Mass up to").fill("27")
    page.keyboard.press("Enter")
    expect(page.get_by_label("Left out")).to_contain_text("above 27 g")
    page.get_by_label("Mass up to").fill("much")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert").filter(has_text="number").first).to_be_visible()


def test_a_verdict_is_written_in_place_and_a_kept_ranking_tells_who_moved(demo, log_in):
    page = log_in()
    cohort = ranked(page, demo)
    page.get_by_role("button", name="write a verdict: Ostrel Drift Lite 2205 2420").click()
    page.get_by_label("Verdict on Ostrel Drift Lite 2205 2420 in a sentence").fill("Cheap push.")
    page.keyboard.press("Enter")
    expect(cohort).to_contain_text("Cheap push.")
    choose(page, "For", "long range")
    expect(page).to_have_url(re.compile("use=long"))
    kept = page.get_by_label("Rankings that were kept")
    kept.get_by_role("combobox", name="Since the ranking").click()
    page.get_by_role("option", name=re.compile("Five-inch, autumn")).click()
    expect(kept).to_contain_text(re.compile("other criteria or weights|Nobody moved"))


def test_what_would_settle_it_goes_into_the_plan(demo, log_in):
    page = log_in()
    page.goto(f"{demo.address}/rank?weights=max_thrust_gf:1")
    said = page.get_by_label("What can be said")
    # Where the lead is certain, nothing is left to settle; where no run settles it, that is said.
    expect(said).to_contain_text(
        re.compile("would settle most|No one run more would settle|(9[5-9]|>99|100) % sure")
    )
    plan = said.get_by_role("button", name="Put it into the plan")
    if plan.count():
        plan.click()
        page.get_by_role("heading", name="Plan", exact=True).wait_for()
        expect(page.locator(".page")).to_contain_text("Who leads?")
        close_campaign(page, demo, int(page.url.rpartition("campaign=")[2]))
    elif "would settle most" in said.inner_text():
        expect(said).to_contain_text("No such sample is at hand")


def test_a_craft_is_matched_upgraded_copied_and_exported(demo, log_in):
    page = log_in()
    page.goto(f"{demo.address}/match")
    choose(page, "Craft", FIVE_INCH)
    picks = page.get_by_label("What to choose")
    expect(picks).to_contain_text(re.compile(r"Choose .+, Wickett"))
    expect(picks).to_contain_text("Instead of Ostrel Drift 2206 1900, Wickett 5.1x4.2x3")
    expect(picks).to_contain_text(re.compile(r"4 motors cost \d+\.\d\d EUR"))
    # By keyboard: another candidate is looked at closer.
    candidates = page.get_by_label("Candidates")
    drift = candidates.get_by_role("button", name=re.compile("Ostrel Drift 2206 1900")).first
    drift.focus()
    page.keyboard.press("Enter")
    closer = page.get_by_label("Closer look")
    expect(closer).to_contain_text("Ostrel Drift 2206 1900")
    expect(closer).to_contain_text("By the craft's own rule of 15 to 25 %")
    closer.get_by_label("Another battery, cells").fill("3")
    expect(closer).to_contain_text("On 3 cells instead of 4")
    for name, begins in (("CSV", b"Motor,"), ("XLSX", b"PK"), ("one page (PDF)", b"%PDF")):
        with page.expect_download() as download:
            page.get_by_role("link", name=name).click()
        assert download.value.path().read_bytes().startswith(begins)
    # The same craft, half a kilogram heavier, under its own name.
    page.get_by_role("button", name="Copy, with something changed").click()
    form = page.get_by_label("A copy, with something changed")
    form.get_by_label("Mass of item 1, g").fill("642")
    form.get_by_role("button", name="Keep the craft").click()
    expect(form).to_be_hidden()
    expect(page.get_by_role("combobox", name="Craft")).to_be_visible()
    expect(picks).to_contain_text(re.compile("Nothing to choose|Choose"))
    expect(page.get_by_label("Why the rest fell out")).to_contain_text("too little thrust")


def test_the_whole_bench_turned_held_against_and_exported(demo, log_in):
    page = log_in()
    page.goto(f"{demo.address}/compare")
    page.get_by_role("link", name="The whole bench").click()
    pivot = page.get_by_label("Motor by propeller")
    expect(pivot).to_contain_text("Thrust, full throttle")
    expect(pivot.get_by_role("row").nth(1)).to_contain_text(re.compile(r"\d ?± ?\d+ ?gf"))
    pivot.get_by_role("button", name="turn the table").focus()
    page.keyboard.press("Enter")
    expect(pivot.get_by_role("rowheader").first).to_contain_text("Sallow")
    # A cell opens to its runs, and is picked there; an empty one goes into the plan.
    cell = pivot.get_by_role("button", name=re.compile(r"runs: Wickett 5.1x4.2x3 on Quillmoor"))
    cell.first.focus()
    page.keyboard.press("Enter")
    opened = page.get_by_role("dialog", name=re.compile("on Wickett 5.1x4.2x3"))
    expect(opened.get_by_role("link", name=re.compile(r"run \d+")).first).to_be_visible()
    opened.get_by_label("Why one would take it").fill("the one to beat")
    opened.get_by_role("button", name="Pick it").click()
    expect(opened).to_be_hidden()
    expect(pivot.get_by_text("picked").first).to_be_visible()
    # The demo keeps the campaigns that other tests read: what is sent is looked at, and refused.
    sent: list[dict[str, Any]] = []

    def refuse(route: Route) -> None:
        sent.append(route.request.post_data_json)
        refusal = {"code": "x", "message": "Not today.", "fields": {}, "where": None}
        route.fulfill(status=400, json=refusal)

    page.route("**/api/v1/campaigns/", refuse)
    pivot.get_by_role("button", name=re.compile("plan it: ")).first.focus()
    page.keyboard.press("Enter")
    expect(pivot.get_by_role("alert")).to_contain_text("Not today.")
    pivot.get_by_role("button", name=re.compile(r"Put the \d+ empty cells")).click()
    expect(pivot.get_by_role("alert")).to_contain_text("Not today.")
    assert [len(one["samples"]) > 1 for one in sent] == [False, True]
    assert all(one["propellers"] and one["supplies"] for one in sent)
    choose(page, "Condition", "equal thrust")
    expect(page.get_by_label("Motor by propeller")).to_contain_text(re.compile(r"at \d+ gf"))
    rows = page.get_by_label("Row by row", exact=True)
    expect(rows).to_contain_text(re.compile("not resolved|no measurable difference"))
    rows.get_by_role("button", name="hold the others against it").nth(2).click()
    expect(rows).to_contain_text("Held against")
    with page.expect_download() as download:
        page.get_by_role("link", name="XLSX").click()
    assert download.value.path().read_bytes().startswith(b"PK")


def test_full_throttle_against_the_one_before_and_a_crossing_on_the_torque_chart(demo, log_in):
    page = log_in()
    page.goto(f"{demo.address}/compare?runs={DRIFT},{FOUR},{LITE}")
    table = page.get_by_label("At equal thrust", exact=True)
    expect(table).to_contain_text("baseline")
    choose(page, "Condition", "full throttle")
    full = page.get_by_label("At full throttle", exact=True)
    expect(full).to_contain_text("quoted most")
    choose(page, "Held against", "the one before")
    expect(full.get_by_role("row", name="Thrust gf")).to_contain_text(re.compile(r"[+−]\d"))
    expect(full).not_to_contain_text("baseline")
    # Where the propeller's load meets the motor's line, the full-throttle point is read off.
    torque = page.get_by_label("Torque over speed", exact=True)
    meeting = torque.get_by_role("row").filter(has_text="Wickett 5.1x4.2x3").first
    expect(meeting).to_contain_text(re.compile(r"~2\d,\d{3}"))
    expect(torque.locator("svg").first).to_be_visible()
    feel = page.get_by_label("The feel of the stick", exact=True)
    expect(feel).to_contain_text("of the stick gives")


def test_a_question_is_taken_marked_and_kept_by_name(demo, log_in):
    page = log_in()
    page.goto(f"{demo.address}/compare?runs={DRIFT},{FOUR}")
    page.get_by_label("Compared", exact=True).get_by_text("No. 4 2306").first.wait_for()
    choose(page, "Compare", "propellers on this motor")
    page.get_by_role("button", name="Take these runs").click()
    compared = page.get_by_label("Compared", exact=True)
    expect(compared).to_contain_text("Wickett 5x3.6x3")
    expect(compared).to_contain_text("Wickett 5.1x4.2x3")
    expect(page.get_by_text("The thriftiest of its propellers")).to_be_visible()
    chart = page.locator(".chart-sheet").first
    box = chart.locator("figure svg").first.bounding_box()
    page.mouse.click(box["x"] + box["width"] * 0.4, box["y"] + box["height"] * 0.5)
    chart.get_by_label("Text of the mark").fill("half way")
    chart.get_by_role("button", name="Mark it").click()
    expect(chart.locator("figure svg").first).to_contain_text("half way")
    page.get_by_role("button", name="Keep under a name").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Name", exact=True).fill("Drift over its propellers")
    dialog.get_by_role("button", name="Keep it").click()
    expect(dialog).to_be_hidden()
    # By its address alone, in another tab, it is the same with its mark.
    page.goto(f"{demo.address}/compare")
    page.get_by_label("At equal thrust", exact=True).wait_for()
    choose(page, "Kept comparisons", "Drift over its propellers")
    kept = page.locator(".chart-sheet").first.locator("figure svg").first
    expect(kept).to_contain_text("half way")
    with page.expect_download() as download:
        page.locator(".chart-sheet").first.get_by_role("button", name="16:9 still").click()
    picture = download.value.path().read_bytes()
    assert picture.startswith(b"\x89PNG")
    # Width and height of the picture, in its first chunk.
    assert struct.unpack(">II", picture[16:24]) == (1920, 1080)


def inked(path):
    """Share of a 16:9 still that is not its ground [%]."""
    with Image.open(path) as picture:
        assert picture.size == (1920, 1080)
        grey = picture.convert("L")
        ground = grey.getpixel((2, 2))
        shares = grey.histogram()
        return 100.0 * (1.0 - sum(shares[max(0, ground - 3) : ground + 4]) / (1920 * 1080))


def test_a_table_is_saved_row_by_row_and_one_figure_by_itself(demo, log_in):
    page = log_in()
    cohort = ranked(page, demo)
    names = cohort.locator(".name a").all_inner_texts()
    saved = []
    page.on("download", lambda one: saved.append(one))
    page.get_by_role("button", name="16:9 still of the table").focus()
    page.keyboard.press("Enter")
    asking = page.get_by_role("dialog").or_(page.locator(".el-popover:visible"))
    asking.get_by_text("one row after another").click()
    asking.get_by_role("button", name="Save PNG").click()
    expect(asking).to_be_hidden(timeout=30_000)
    page.wait_for_timeout(500)
    listed = [one.suggested_filename for one in saved]
    assert listed == [f"ranking-16x9-{shown:02d}.png" for shown in range(len(names) + 1)]
    ink = [inked(one.path()) for one in saved]
    # Each picture has a row more than the one before it.
    assert all(after > before + 0.05 for before, after in pairwise(ink)), ink
    # One figure of a motor, large enough to be read at half the size.
    go(page, "/motors/1")
    page.get_by_role("button", name="16:9 still of one figure").first.click()
    one = page.locator(".el-popover:visible")
    one.get_by_role("combobox", name="Which figure").click()
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")
    with page.expect_download() as download:
        one.get_by_role("button", name="Save PNG").click()
    assert re.fullmatch(r"motor-1-[a-z0-9-]+-16x9\.png", download.value.suggested_filename)
    assert 1.0 < inked(download.value.path()) < 40.0


def test_conditions_side_by_side_other_tests_and_money(demo, log_in):
    page = log_in()
    page.goto(f"{demo.address}/compare/bench")
    choose(page, "Another condition beside it", "equal thrust")
    rows = page.get_by_label("Row by row", exact=True)
    expect(rows).to_contain_text(re.compile(r"at \d+ gf"))
    page.get_by_role("link", name="Other tests").click()
    expect(page.get_by_label("Row by row", exact=True)).to_contain_text("Against the label")
    page.get_by_role("button", name="bars of kV", exact=True).click()
    expect(page.get_by_role("listitem").first).to_be_visible()
    expect(page.get_by_label("At one kV", exact=True)).to_contain_text("design")
    page.get_by_role("link", name="Mass and money").click()
    expect(page.get_by_label("Motor by motor", exact=True)).to_contain_text("Thrust per gram")
    expect(page.get_by_label("What a gram and a price buy")).to_contain_text("Choose among")
    with page.expect_download() as download:
        page.get_by_role("link", name="CSV").click()
    assert b"gf per g" in download.value.path().read_bytes()
    page.get_by_role("button", name="16:9 still of the table").first.click()
    with page.expect_download() as download:
        page.get_by_role("button", name="Save PNG").click()
    assert struct.unpack(">II", download.value.path().read_bytes()[16:24]) == (1920, 1080)


def test_an_impossible_craft_keeps_what_was_typed(demo, log_in):
    page = log_in()
    page.goto(f"{demo.address}/match")
    page.get_by_role("button", name="New craft").click()
    form = page.get_by_label("A new craft")
    form.get_by_label("Name", exact=True).fill(FIVE_INCH)
    for number in (1, 2, 3):
        form.get_by_label(f"Mass of item {number}, g").fill("100")
    form.get_by_label("Capacity").fill("1500")
    form.get_by_role("button", name="Keep the craft").click()
    expect(form).to_contain_text(f"There is a craft named {FIVE_INCH} already.")
    expect(form.get_by_label("Mass of item 1, g")).to_have_value("100")


def test_a_reader_looks_and_changes_nothing(demo, log_in):
    page = log_in("reader")
    cohort = ranked(page, demo)
    expect(cohort.get_by_role("button", name=re.compile("verdict"))).to_have_count(0)
    page.goto(f"{demo.address}/match")
    expect(page.get_by_label("What to choose")).to_contain_text("Choose")
    expect(page.get_by_role("button", name="New craft")).to_have_count(0)
