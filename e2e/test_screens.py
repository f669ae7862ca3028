"""Every screen: nothing scrolls sideways, nothing serious for axe, and roles show."""

from __future__ import annotations

import base64
import re
import time

from django_otp.oath import TOTP
from playwright.sync_api import expect

from e2e.axe import violations
from e2e.demo_runs import DRIFT, FOUR, SABLE
from e2e.patience import at_rest, until
from e2e.records import own_motor, own_run
from e2e.within import go

SCREENS = {
    "board": ("/", "Board"),
    "intake": ("/intake", "Intake"),
    "intake parcel": ("/intake/1/parcel", "Intake: Quillmoor"),
    "intake claims": ("/intake/4/claims", "Does it add up?"),
    "intake mass": ("/intake/1/mass", "Sample A on the scale"),
    "intake outside": ("/intake/1/outside", "Intake: Quillmoor"),
    "intake fit": ("/intake/8/fit", "Mounting screws"),
    "intake peers": ("/intake/5/peers", "Peers on the bench"),
    "motor": ("/motors/3", "Ostrel Drift 2206 1900"),
    "teardown": ("/teardown?motor=3", "Teardown: Ostrel Drift"),
    "teardown compare": ("/teardown/compare?samples=1,4,6", "At one scale"),
    "motor with an incident": ("/motors/2", "Quillmoor Sable 2105.5 2650"),
    "rig adapters": ("/rig?look=adapters", "Adapters"),
    "rig propellers": ("/rig?look=propellers", "What accepted runs tell"),
    "rig": ("/rig", "Rig"),
    "people": ("/people", "People"),
    "doubles": ("/doubles", "Doubles"),
    "bench": ("/bench?motor=3", "Bench"),
    "runs": ("/runs", "Runs"),
    "run": (f"/runs/{DRIFT}", f"Run {DRIFT}"),
    "plan": ("/plan", "Plan"),
    "compare": (f"/compare?runs={DRIFT},{FOUR},{SABLE}", "Compare"),
    "compare bench": ("/compare/bench", "Each held against"),
    "compare tests": ("/compare/tests", "At one kV"),
    "compare benches": ("/compare/benches", "held against this bench"),
    "afterwards": ("/afterwards", "in the air and on the stand"),
    "afterwards letters": ("/afterwards?look=letters", "Note what somebody wrote"),
    "compare mass": ("/compare/mass", "What a gram and a price buy"),
    "rank": ("/rank", "What counts"),
    "match": ("/match", "Why the rest fell out"),
    "import": ("/import", "Import"),
    "publish": ("/publish", "Publish"),
    "verdict": ("/publish/verdict/1", "Ostrel Drift 2206 1900"),
    "speaking notes": ("/publish/verdict/1/notes", "spoken"),
}


def open_screen(page, name):
    path, heading = SCREENS[name]
    go(page, path)
    page.get_by_role("heading", name=heading).first.wait_for()
    if name in ("compare", "run", "bench"):
        page.locator("figure svg").first.wait_for()
    at_rest(page)


def beyond_its_edge(page, name):
    """Where a screen is wider than the window."""
    over = page.evaluate(
        "[document.documentElement, ...document.querySelectorAll('.page, .sheet')]"
        ".map(e => e.scrollWidth - e.clientWidth).filter(over => over > 1)"
    )
    width = page.viewport_size["width"]
    return [f"{name} at {width} px: {over} px too wide"] if over else []


def test_nothing_scrolls_sideways_and_axe_finds_nothing_serious(board):
    """Each screen as whoever may do most sees it, opened once: it is asked all of it in one go."""
    page = board("tomas")
    found = []
    for name in SCREENS:
        page.set_viewport_size({"width": 1280, "height": 800})
        open_screen(page, name)
        found += beyond_its_edge(page, name)
        found += violations(page, name)
        page.set_viewport_size({"width": 900, "height": 800})
        at_rest(page, still_s=0.3)
        found += beyond_its_edge(page, name)
    go(page, "/nowhere")
    at_rest(page)
    found += violations(page, "nowhere")
    assert found == [], "\n".join(str(item) for item in found)


def test_axe_on_the_login(demo, page):
    page.goto(f"{demo.address}/login")
    page.get_by_label("Name").wait_for()
    assert violations(page, "login") == []


def test_a_reader_sees_everything_and_changes_nothing(demo, log_in):
    page = log_in("reader")
    page.goto(f"{demo.address}/intake")
    expect(page.get_by_role("heading", name="On the bench")).to_be_visible()
    expect(page.get_by_role("button", name="Take it in")).to_have_count(0)
    go(page, "/intake/1/claims")
    expect(page.get_by_label("Rated current")).to_be_disabled()
    go(page, "/intake/1/mass")
    expect(page.get_by_role("button", name="Note the weighing")).to_have_count(0)
    expect(page.get_by_role("button", name="Strike out")).to_have_count(0)
    go(page, "/teardown/1")
    expect(page.locator(".question .readonly")).to_have_text("none")
    page.keyboard.press("2")
    expect(page.locator(".question .readonly")).to_have_text("none")
    go(page, "/motors/1?look=photos")
    expect(page.get_by_role("img", name="Stator of sample A").first).to_be_visible()
    expect(page.get_by_text("Add a photo")).to_have_count(0)
    go(page, f"/runs/{DRIFT}")
    expect(page.get_by_role("button", name="Take back")).to_have_count(0)
    go(page, "/bench")
    expect(page.get_by_text("Your role may watch the bench")).to_be_visible()
    expect(page.get_by_role("button", name="Hold to arm")).to_have_count(0)


def test_an_editor_freezes_and_a_reviewer_cannot(demo, log_in):
    page = log_in("tomas")
    page.goto(f"{demo.address}/compare?runs={DRIFT},{FOUR}")
    page.get_by_role("button", name="Freeze a copy for publishing").click()
    expect(page.get_by_text("Frozen; see Publish.")).to_be_visible()
    page.get_by_role("link", name="Publish", exact=True).click()
    expect(page.get_by_text("by Tomas Rook").first).to_be_visible()
    page.get_by_role("button", name="Log out").click()
    log_in("ilse")
    page.goto(f"{demo.address}/compare?runs={DRIFT},{FOUR}")
    page.get_by_role("link", name="table (CSV)").wait_for()
    expect(page.get_by_role("button", name="Freeze a copy for publishing")).to_have_count(0)


def test_strangers_are_led_to_the_login_and_back(demo, page):
    page.goto(f"{demo.address}/runs/{DRIFT}")
    page.get_by_label("Name").fill("reader")
    page.get_by_label("Password", exact=True).fill(demo.password("reader"))
    page.get_by_role("button", name="Log in").click()
    expect(page.get_by_role("heading", name=f"Run {DRIFT}")).to_be_visible()


def test_a_wrong_password_is_said_and_the_name_is_kept(demo, page):
    page.goto(f"{demo.address}/login")
    page.get_by_label("Name").fill("ilse")
    page.get_by_label("Password", exact=True).fill("wrong")
    page.get_by_role("button", name="Log in").click()
    expect(page.get_by_role("alert")).to_have_text("Name and password do not match.")
    assert page.get_by_label("Name").input_value() == "ilse"


def test_a_draft_of_the_intake_outlives_a_reload(demo, log_in):
    page = log_in("ilse")
    page.goto(f"{demo.address}/intake")
    page.get_by_label("Maker").fill("Half-typed")
    page.reload()
    expect(page.get_by_label("Maker")).to_have_value("Half-typed")
    page.get_by_label("Maker").fill("")


def test_the_keys_of_a_screen(demo, board):
    page = board("ilse")
    page.keyboard.press("?")
    expect(page.get_by_role("heading", name="Keys of this screen")).to_be_visible()
    page.keyboard.press("]")
    expect(page.get_by_role("heading", name="Intake")).to_be_visible()
    page.keyboard.press("[")
    expect(page.get_by_role("heading", name="Publish")).to_be_visible()


def test_a_session_that_ends_in_mid_work_is_taken_up_in_place(demo, log_in, problems):
    page = log_in("ilse")
    run = own_run(page, demo, own_motor(page, demo))
    page.goto(f"{demo.address}/runs/{run['id']}")
    page.get_by_role("button", name="Accept").click()
    take_back = page.get_by_role("button", name="Take back")
    expect(take_back).to_be_visible()
    page.context.clear_cookies()
    take_back.click()
    dialog = page.get_by_role("dialog", name="Your session has ended")
    expect(dialog).to_be_visible()
    field = dialog.get_by_label(re.compile("^Password of"))
    expect(field).to_be_focused()
    field.fill("wrong")
    page.keyboard.press("Enter")
    expect(dialog.get_by_role("alert")).to_contain_text("do not match")
    field.fill(demo.password("ilse"))
    page.keyboard.press("Enter")
    expect(dialog).to_be_hidden()
    # What was pressed before is done, once, and nothing else was lost.
    expect(page.get_by_role("button", name="Accept")).to_be_visible()
    page.get_by_role("button", name="Accept").click()
    expect(take_back).to_be_visible()
    # The wrong password was refused, and the browser says so.
    problems[:] = [text for text in problems if "403" not in text]


def test_runs_are_ordered_filtered_and_taken_by_keyboard(demo, log_in):
    page = log_in("ilse")
    page.goto(f"{demo.address}/runs?kind=steps")
    head = page.get_by_role("button", name=re.compile("^Largest thrust"))
    head.focus()
    page.keyboard.press("Enter")
    expect(page).to_have_url(re.compile("order=-max_thrust_gf"))
    values = page.locator("tbody tr td:nth-child(5) .figure")
    expect(values.nth(5)).to_be_visible()

    def first_six():
        texts = values.all_inner_texts()[:6]
        return [float(text.split("±")[0].replace(",", "")) for text in texts]

    # The address says it at once; the list comes when the server has answered.
    seen = until(first_six, lambda now: now == sorted(now, reverse=True))
    assert seen == sorted(seen, reverse=True)
    page.get_by_label("Find runs").fill("hollin")
    expect(page.get_by_text(re.compile(r"^\d+ found$"))).to_be_visible()
    box = page.get_by_role("checkbox").nth(1)
    box.focus()
    page.keyboard.press("Space")
    expect(page.get_by_role("button", name="Compare 1")).to_be_enabled()


def test_somebody_is_let_in_and_changes_their_password(demo, log_in, browser):
    boss = log_in("admin")
    boss.goto(f"{demo.address}/people")
    form = boss.get_by_role("form", name="Let somebody in")
    form.get_by_label("Name", exact=True).fill("Mira Lund")
    form.get_by_label("Logs in as").fill("mira")
    form.get_by_role("button", name="Let in").click()
    told = boss.get_by_text("The password of Mira Lund is")
    password = told.locator("code").text_content()
    assert violations(boss, "people") == []
    context = browser.new_context()
    mira = context.new_page()
    mira.goto(f"{demo.address}/login")
    mira.get_by_label("Name").fill("mira")
    mira.get_by_label("Password", exact=True).fill(password)
    mira.keyboard.press("Enter")
    mira.get_by_role("link", name="Mira Lund").click()
    mira.get_by_label("Your password so far").fill(password)
    mira.get_by_label("A new one, ten signs or more").fill("two-copper-bells-77")
    mira.get_by_label("The new one again").fill("two-copper-bells-77")
    mira.keyboard.press("Enter")
    expect(mira.get_by_text("Changed.")).to_be_visible()
    # Who is let in no longer is out with the next thing they do, and with the live bench at once.
    row = boss.get_by_role("row").filter(has_text="Mira Lund")
    row.get_by_role("button", name="Let in no longer").click()
    expect(row.get_by_role("button", name="Let in again")).to_be_visible()
    mira.goto(f"{demo.address}/runs")
    expect(mira.get_by_label("Password", exact=True)).to_be_visible()
    context.close()


def digits_of(secret: str) -> str:
    """What a telephone shows that has read the secret."""
    made = TOTP(base64.b32decode(secret))
    made.time = time.time()
    return f"{made.token():06d}"


def test_a_second_factor_is_set_up_asked_for_and_ended(demo, log_in, problems):
    page = log_in("reader")
    page.goto(f"{demo.address}/people")
    own = page.get_by_role("region", name="Second factor")
    own.get_by_label("Your password").fill(demo.password("reader"))
    page.keyboard.press("Enter")
    secret = own.locator("code").inner_text()
    own.get_by_label("The six digits that it shows now").fill(digits_of(secret))
    page.keyboard.press("Enter")
    codes = own.locator(".codes li")
    expect(codes).to_have_count(10)
    code = codes.nth(4).inner_text()
    assert violations(page, "second factor") == []
    page.get_by_role("button", name="Log out", exact=True).click()
    page.get_by_label("Name").fill("reader")
    page.get_by_label("Password", exact=True).fill(demo.password("reader"))
    page.keyboard.press("Enter")
    asked = page.get_by_label("Six digits of your telephone, or a code on paper")
    # The field has the focus: whoever reads the digits types them.
    expect(asked).to_be_focused()
    page.keyboard.type("wrong-codes")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("does not match")
    page.wait_for_timeout(1500)
    asked.fill(code)
    page.keyboard.press("Enter")
    page.get_by_role("heading", name="Board").wait_for()
    page.goto(f"{demo.address}/people")
    expect(own).to_contain_text("one of 9 codes on paper")
    own.get_by_label("Your password").fill(demo.password("reader"))
    own.get_by_role("button", name="End it").click()
    expect(own).to_contain_text("None.")
    problems[:] = [text for text in problems if "status of 403" not in text]


def test_the_installation_says_how_it_stands(demo, board):
    page = board("admin")
    tag = page.get_by_role("link", name=re.compile("^upkeep: [0-9]+ to do"))
    tag.click()
    page.get_by_role("heading", name="Upkeep").wait_for()
    expect(page.get_by_label("What is amiss")).to_contain_text("Nothing was ever backed up")
    parts = page.get_by_role("region", name="Parts")
    expect(parts.get_by_role("row")).to_have_count(7)
    expect(parts.get_by_text("answers", exact=True)).to_have_count(5)
    expect(page.get_by_role("region", name="Room")).to_contain_text(re.compile("GB of .+ are free"))
    assert violations(page, "upkeep") == []
    page.set_viewport_size({"width": 900, "height": 800})
    assert page.evaluate("document.documentElement.scrollWidth") <= 900
