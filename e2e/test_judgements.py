"""Who wins and what a craft should carry, as a reviewer asks it: by keyboard, slider and file."""

import re

from playwright.sync_api import expect

from e2e.forms import choose

FIVE_INCH = "Five-inch freestyle"


def ranked(page, demo):
    page.goto(f"{demo.address}/rank")
    page.get_by_role("heading", name="Rank", exact=True).wait_for()
    cohort = page.get_by_label("The cohort")
    expect(cohort.get_by_role("row").nth(5)).to_be_visible(timeout=20_000)
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
    # Where the lead is certain, nothing is left to settle.
    expect(said).to_contain_text(re.compile("would settle most|(9[5-9]|>99|100) % sure"))
    plan = said.get_by_role("button", name="Put it into the plan")
    if plan.count():
        plan.click()
        page.get_by_role("heading", name="Plan", exact=True).wait_for()
        expect(page.locator(".page")).to_contain_text("Who leads?")
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
    expect(pivot.get_by_role("row").nth(1)).to_contain_text(re.compile(r"\d ± \d+ ?gf|—"))
    pivot.get_by_role("button", name="turn the table").focus()
    page.keyboard.press("Enter")
    expect(pivot.get_by_role("rowheader").first).to_contain_text("Sallow")
    choose(page, "Condition", "equal thrust")
    expect(page.get_by_label("Motor by propeller")).to_contain_text("equal thrust")
    rows = page.get_by_label("Row by row")
    expect(rows).to_contain_text(re.compile("not resolved|no measurable difference"))
    rows.get_by_role("button", name="hold the others against it").nth(2).click()
    expect(rows).to_contain_text("Held against")
    with page.expect_download() as download:
        page.get_by_role("link", name="XLSX").click()
    assert download.value.path().read_bytes().startswith(b"PK")


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
