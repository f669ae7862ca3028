"""From accepted runs to a page that readers get without login, and a correction after it."""

import functools
import http.server
import re
import subprocess
import threading

import pytest
from playwright.sync_api import expect
from pypdf import PdfReader

from e2e.application import CHECKOUT
from e2e.axe import violations
from e2e.demo_runs import LITE
from e2e.forms import choose
from e2e.patience import until

LITE_NAME = "Ostrel Drift Lite 2205 2420"
PHONE_PX = 390
FOLDER = "motors/ostrel-drift-lite-2205-2420"


@pytest.fixture
def elsewhere(browser):
    """A browser of somebody who is not logged in, on a phone."""
    context = browser.new_context(viewport={"width": 390, "height": 844})
    yield context.new_page()
    context.close()


@pytest.fixture
def as_editor(browser, demo):
    """A browser of the editor, closed after the test: while any page is open the bench counts on
    somebody who watches it."""
    context = browser.new_context(viewport={"width": 1280, "height": 800})
    page = context.new_page()
    page.goto(f"{demo.address}/login")
    page.get_by_label("Name").fill("tomas")
    page.get_by_label("Password", exact=True).fill(demo.password("tomas"))
    page.get_by_role("button", name="Log in").click()
    page.get_by_role("heading", name="Board").wait_for()
    yield page
    context.close()


def kept(page):
    expect(page.get_by_text("Kept.", exact=True).first).to_be_visible()


def wide(page):
    """How wide a page is [px], once its style has come: asked before, Chromium lays it out bare."""
    page.wait_for_load_state("load")
    return until(
        lambda: page.evaluate("document.documentElement.scrollWidth"), lambda now: now <= PHONE_PX
    )


def publish(page, address, **words):
    page.goto(address)
    sheet = page.get_by_role("region", name="For readers")
    for label, text in words.items():
        sheet.get_by_label(label.replace("_", " ").capitalize(), exact=True).fill(text)
    if words:
        sheet.get_by_text("A correction: something that was said was wrong").click()
    sheet.get_by_role("button", name=re.compile("Publish")).click()
    expect(sheet.get_by_text(re.compile(r"Edition \d is published"))).to_be_visible()


def test_from_a_run_to_a_page_on_a_phone_and_a_correction(demo, log_in, as_editor, elsewhere):
    page = log_in()
    page.goto(f"{demo.address}/publish")
    choose(page, "On a motor", LITE_NAME)
    page.get_by_role("button", name="Write it", exact=True).click()
    page.get_by_role("heading", name=LITE_NAME).wait_for()
    verdict = page.url
    # What the data would say is taken, and somebody writes on by hand.
    whom = page.get_by_role("region", name="For whom")
    propellers = page.get_by_role("region", name="Propellers")
    propellers.get_by_role("button", name=re.compile("^Take: On 16 V")).first.click()
    expect(propellers.locator(".quoted").first).to_contain_text(re.compile(r"\d ± \d"))
    whom.get_by_role("textbox").click()
    page.keyboard.type("For light craft.")
    page.keyboard.press("Tab")
    kept(page)
    sentence = page.get_by_label("In one sentence, without figures: they stand below")
    sentence.fill("Cheap push for a light craft.")
    page.keyboard.press("Enter")
    kept(page)
    choose(page, "Links on the page", "no link pays")
    choose(page, "From how it turns out", "nobody gains")
    disclosure = page.get_by_role("region", name="Disclosure")
    disclosure.get_by_role("button", name="Keep", exact=True).click()
    expect(page.get_by_text("Nothing stands in the way.")).to_be_visible()
    assert violations(page, "verdict") == []
    # Nothing was lost by a reload.
    page.reload()
    expect(page.get_by_role("region", name="For whom")).to_contain_text("For light craft.")
    sheet = page.get_by_role("region", name="For readers")
    sheet.get_by_role("button", name="Propose it").click()
    expect(sheet.get_by_text("Ilse Varga proposed it")).to_be_visible()
    assert elsewhere.goto(f"{demo.address}/read/{FOLDER}/").status == 404

    publish(as_editor, verdict)
    elsewhere.goto(f"{demo.address}/read/")
    elsewhere.get_by_label("Find a motor, a comparison or a ranking").fill("light craft lite")
    expect(elsewhere.get_by_text("1 found")).to_be_visible()
    elsewhere.get_by_role("link", name=LITE_NAME).click()
    expect(elsewhere.get_by_role("heading", name=LITE_NAME)).to_be_visible()
    expect(elsewhere.locator(".disclosure.matters")).to_contain_text("paid for by a sponsor")
    assert wide(elsewhere) <= PHONE_PX
    assert violations(elsewhere, "readers' page") == []
    # A chart is read off with the keys, and thrust is told in newtons.
    chart = elsewhere.locator("[data-chart=thrust]")
    chart.locator("svg").focus()
    elsewhere.keyboard.press("ArrowRight")
    expect(chart.locator(".reading")).to_contain_text(re.compile(r"at 5[01](\.\d)? %.*± .* gf"))
    elsewhere.get_by_label("thrust in newtons").check()
    expect(elsewhere.locator("#propellers")).to_contain_text(re.compile(r"± [\d.]+\sN"))

    # A run is rejected after it was published: the verdict says so, the page stands as it was.
    page.goto(f"{demo.address}/runs/{LITE}")
    back = page.get_by_role("button", name="Take back", exact=True)
    reason = page.get_by_label("Reason to reject")
    expect(back.or_(reason)).to_be_visible()
    if back.is_visible():
        back.click()
    reason.fill("the screw was loose")
    page.get_by_role("button", name="Reject", exact=True).click()
    expect(page.get_by_text("the screw was loose").first).to_be_visible()
    page.goto(verdict)
    expect(page.get_by_text(re.compile(r"figures? ha(s|ve) moved since"))).to_be_visible()
    stale = page.locator(".figures .stale")
    while stale.count():
        before = stale.count()
        stale.first.get_by_role("button", name=re.compile("^(Take|Let it stand)")).first.click()
        expect(stale).not_to_have_count(before)
    whom = page.get_by_role("region", name="For whom")
    whom.get_by_role("textbox").click()
    page.keyboard.press("Control+End")
    page.keyboard.type(" One run was taken back.")
    page.keyboard.press("Tab")
    kept(page)
    blocked = page.get_by_role("region", name="Before it can be published")
    if blocked.locator(".blocking li").count():
        # Under this load nothing is left: the paragraph goes with its figures.
        propellers = page.get_by_role("region", name="Propellers")
        propellers.get_by_role("textbox").click()
        page.keyboard.press("Control+a")
        page.keyboard.press("Delete")
        page.keyboard.press("Tab")
        kept(page)
    expect(page.get_by_text("Nothing stands in the way.")).to_be_visible()
    sheet.get_by_role("button", name="Propose it").click()
    expect(sheet.get_by_text("Ilse Varga proposed it")).to_be_visible()
    publish(as_editor, verdict, what_changed="A run was rejected.", why="Its screw was loose.")
    elsewhere.goto(f"{demo.address}/read/{FOLDER}/")
    expect(elsewhere.locator("#corrections")).to_contain_text("A run was rejected.")
    expect(elsewhere.get_by_role("main")).to_contain_text("One run was taken back.")
    elsewhere.get_by_role("link", name="Every run on one sheet").click()
    expect(elsewhere.locator("tr.rejected")).to_contain_text("the screw was loose")


class Quiet(http.server.SimpleHTTPRequestHandler):
    def log_message(self, *args):
        """Nothing."""


@pytest.fixture
def plain_server(demo, tmp_path_factory):
    """The pages as files, behind a server that knows nothing but files."""
    folder = tmp_path_factory.mktemp("pages") / "pages"
    command = [
        str(CHECKOUT / "spindle"),
        "publish",
        "--to",
        str(folder),
        "--pdf",
        "--folder",
        str(demo.folder),
    ]
    done = subprocess.run(command, capture_output=True, text=True, timeout=300, check=False)
    assert done.returncode == 0, done.stdout + done.stderr
    handler = functools.partial(Quiet, directory=str(folder))
    server = http.server.ThreadingHTTPServer(("127.0.0.1", 0), handler)
    thread = threading.Thread(target=server.serve_forever, daemon=True)
    thread.start()
    yield folder, f"http://127.0.0.1:{server.server_address[1]}"
    server.shutdown()
    thread.join()


def test_the_pages_stand_on_a_plain_file_server(plain_server, elsewhere):
    folder, address = plain_server
    failed = []
    elsewhere.on("response", lambda answer: answer.status < 400 or failed.append(answer.url))
    elsewhere.goto(f"{address}/index.html")
    elsewhere.get_by_label("Find a motor, a comparison or a ranking").fill("no. 4")
    elsewhere.get_by_role("link", name="Brackwater No. 4 2306 1800").click()
    expect(elsewhere.get_by_role("heading", name="Brackwater No. 4 2306 1800")).to_be_visible()
    elsewhere.get_by_role("link", name="Every run on one sheet").click()
    expect(elsewhere.get_by_role("heading", name="Every run")).to_be_visible()
    assert failed == []
    text = "\n".join(
        one.extract_text()
        for one in PdfReader(folder / "motors/ostrel-drift-2206-1900/page.pdf").pages
    )
    assert "Ostrel Drift 2206 1900" in text
    assert "Corrections" in text
    assert re.search(r"1 / \d", text)


def test_without_script_a_page_says_all_of_it(browser, demo):
    context = browser.new_context(java_script_enabled=False)
    page = context.new_page()
    page.goto(f"{demo.address}/read/motors/ostrel-drift-2206-1900/")
    expect(page.locator("[data-chart=thrust] svg")).to_be_visible()
    expect(page.locator(".cutaway svg")).to_be_visible()
    page.get_by_label("thrust in newtons").check()
    expect(page.locator("#propellers .newton").first).to_be_visible()
    context.close()


def test_a_ranking_is_read_without_login_on_a_phone(browser, demo):
    context = browser.new_context(viewport={"width": 390, "height": 844})
    page = context.new_page()
    page.goto(f"{demo.address}/read/")
    page.get_by_label("motors", exact=True).uncheck()
    page.get_by_label("comparisons", exact=True).uncheck()
    expect(page.get_by_role("link", name="Ostrel Drift 2206 1900")).to_be_hidden()
    page.get_by_role("link", name="Five-inch, autumn").click()
    ranking = page.get_by_role("region", name="The ranking")
    expect(ranking.get_by_role("row")).to_have_count(5)
    expect(page.get_by_text("cannot be told apart").first).to_be_visible()
    # Wide tables scroll in themselves; the page does not.
    assert wide(page) <= PHONE_PX
    assert violations(page, "a ranking for readers") == []
    ranking.get_by_role("link", name="Ostrel Drift 2206 1900").click()
    expect(page.get_by_role("heading", name="Ostrel Drift 2206 1900")).to_be_visible()
    context.close()


def test_a_ranking_is_written_on_and_seen_as_a_draft(demo, log_in):
    page = log_in()
    page.goto(f"{demo.address}/publish")
    listed = page.get_by_role("region", name="Verdicts", exact=True)
    listed.get_by_role("link", name="Five-inch, autumn", exact=True).click()
    expect(page.get_by_role("region", name="Who stands where")).to_be_visible()
    with page.expect_popup() as opened:
        page.get_by_role("link", name="the page as it would be").click()
    draft = opened.value
    expect(draft.get_by_text("only this bench sees it")).to_be_visible()
    expect(draft.get_by_role("heading", name="The places")).to_be_visible()
    draft.close()
    page.get_by_role("link", name="the ranking").click()
    expect(page).to_have_url(re.compile(r"/rank\?.*use=equal"))


def test_speaking_notes_and_a_comparison(demo, log_in):
    page = log_in()
    page.goto(f"{demo.address}/publish")
    listed = page.get_by_role("region", name="Verdicts", exact=True)
    listed.get_by_role("link", name="The Drift against the No. 4", exact=True).click()
    page.get_by_role("heading", name="The Drift against the No. 4").wait_for()
    expect(page.get_by_role("region", name="What differs")).to_be_visible()
    page.get_by_role("link", name="speaking notes").click()
    expect(page.get_by_text("at an easy pace")).to_be_visible()
    assert violations(page, "speaking notes") == []
