"""The data behind a page: taken without login, checked by whoever has it, quoted by a bench."""

import io
import re
import zipfile

import pytest
from playwright.sync_api import expect

from e2e.axe import violations
from e2e.patience import until
from spindle_core.formats.pack.quoting import quoted_runs
from spindle_core.formats.pack.reading import read_pack

PAGE = "/read/motors/quillmoor-sable-21055-1950/"


@pytest.fixture
def stranger(browser):
    """A browser of somebody who is not logged in."""
    context = browser.new_context()
    yield context.new_page()
    context.close()


def test_a_stranger_takes_the_data_and_another_bench_quotes_them(demo, log_in, stranger, tmp_path):
    link = stranger.get_by_role("link", name="all data")

    def made():
        stranger.goto(demo.address + PAGE)
        return link.count()

    # A demo that has just started is still making it.
    until(made, bool)
    with stranger.expect_download() as download:
        link.click()
    data = download.value.path().read_bytes()
    pack = read_pack(data)
    assert pack.index["licence"] == "CC BY 4.0"
    # Whoever has the file gets the same figures from its logs.
    runs = list(quoted_runs(pack, "elsewhere"))
    assert len(runs) > 5
    assert [run.remarks for run in runs if run.remarks] == []
    with zipfile.ZipFile(io.BytesIO(data)) as packed:
        assert any(name.startswith("photos/") for name in packed.namelist())

    page = log_in()
    page.goto(f"{demo.address}/compare/benches")
    expect(page.get_by_text(re.compile(r"Their scale shows \d"))).to_be_visible()
    assert violations(page, "other benches") == []
    path = tmp_path / "sable.zip"
    path.write_bytes(data)
    page.locator("input[type=file]").set_input_files(path)
    looked = page.get_by_role("region", name=re.compile("^Gannet Yard Bench: Quillmoor Sable"))
    expect(looked.get_by_text("Licence: CC BY 4.0")).to_be_visible()
    expect(looked.get_by_text("Quillmoor Sable 2105.5 1950", exact=True).first).to_be_visible()
    looked.get_by_role("button", name="Quote it").click()
    expect(page.get_by_text(re.compile(r"^Quoted: Quillmoor Sable"))).to_be_visible(timeout=60_000)
    # A bench held against itself agrees with itself.
    sheet = page.get_by_role("region", name="Gannet Yard Bench held against this bench")
    expect(sheet.get_by_text(re.compile(r"\b0 ± \d")).first).to_be_visible()
    page.get_by_role("button", name="Put it aside …").click()
    page.get_by_label("Why it is put aside").fill("It is our own.")
    page.get_by_role("button", name="Put it aside", exact=True).click()
    expect(page.get_by_text("Put aside: It is our own.")).to_be_visible()
    expect(page.get_by_text("No load that both ran.")).to_be_visible()


def test_what_is_no_pack_is_refused_in_words(demo, log_in):
    page = log_in()
    page.goto(f"{demo.address}/compare/benches")
    page.locator("input[type=file]").set_input_files(
        {"name": "log.zip", "mimeType": "application/zip", "buffer": b"time_s\n0\n"}
    )
    expect(page.get_by_role("alert")).to_contain_text("log.zip: this is no ZIP archive")


def test_quoted_evidence_stands_apart_on_the_motor_file(demo, log_in):
    page = log_in()
    page.goto(f"{demo.address}/motors/3?look=quoted")
    expect(page.get_by_role("link", name="Saltpan Loft Bench")).to_be_visible()
    expect(page.get_by_text("At full throttle, quoted")).to_be_visible()
    assert violations(page, "quoted evidence") == []
