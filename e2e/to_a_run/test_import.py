"""A log that somebody else recorded."""

from __future__ import annotations

from playwright.sync_api import expect

from e2e.application import Application
from e2e.axe import violations
from e2e.forms import choose as pick
from e2e.records import own_motor, run_of
from spindle_server.demo.strangers import stranger_files


def exported_log(page, demo: Application, run: int) -> bytes:
    return page.request.get(f"{demo.address}/api/v1/runs/{run}/bench-log.csv").body()


def choose(page, name: str, data: bytes) -> None:
    page.locator("input[type=file]").set_input_files(
        {"name": name, "mimeType": "text/csv", "buffer": data}
    )


def run_count(page, demo) -> int:
    return page.request.get(f"{demo.address}/api/v1/runs/").json()["count"]


def test_a_foreign_log_gives_the_same_figures(demo, board):
    page = board("ilse")
    shown = run_of(page, demo, "drift 2206 wickett")["id"]
    log = exported_log(page, demo, shown)
    before = page.request.get(f"{demo.address}/api/v1/runs/{shown}/").json()["result"]
    page.get_by_role("link", name="Runs", exact=True).click()
    page.get_by_role("button", name="Import a log").click()
    choose(page, "from-a-friend.csv", log)
    expect(page.get_by_role("heading", name="Understood of from-a-friend.csv")).to_be_visible()
    expect(page.get_by_role("row", name="thrust_gf Thrust gf")).to_be_visible()
    pick(page, "Stand", "Yard stand")
    page.get_by_role("button", name="Store it as a run").click()
    expect(page.get_by_text("imported from from-a-friend.csv")).to_be_visible()
    run = page.url.rsplit("/", 1)[1]
    after = page.request.get(f"{demo.address}/api/v1/runs/{run}/").json()["result"]
    assert after["points"] == before["points"]
    assert after["summary"] == before["summary"]

    page.goto(f"{demo.address}/import")
    choose(page, "again.csv", log)
    expect(page.get_by_text("This file was imported already: run")).to_contain_text(f"run {run}")


def test_a_bad_file_says_where_and_stores_nothing(demo, log_in):
    page = log_in("ilse")
    count = run_count(page, demo)
    page.goto(f"{demo.address}/import")
    choose(page, "broken.csv", b"time_s,throttle_pct,thrust_gf\n0,0,1\n0.1,10,2O\n")
    fault = page.get_by_role("alert")
    expect(fault).to_contain_text("broken.csv was not imported; nothing was stored")
    expect(fault).to_contain_text("'2O' is not a number")
    expect(fault.locator("dd")).to_have_text(
        ["3", "thrust_gf", "a number with a decimal point, or an empty cell"]
    )
    assert run_count(page, demo) == count


def sure_of_all(page) -> None:
    """Somebody looks at every marked column and says yes."""
    while (yes := page.get_by_role("button", name="That is right")).count():
        before = yes.count()
        yes.first.click()
        expect(yes).to_have_count(before - 1)


def test_a_strangers_log_is_mapped_and_the_next_one_recognised(demo, log_in):
    page = log_in("ilse")
    motor = own_motor(page, demo)
    log = stranger_files()["garage-logger-0412.csv"].replace(
        b"Ostrel Drift 2206 1900", f"{motor['full_name']} of the garage".encode()
    )
    page.goto(f"{demo.address}/import")
    choose(page, "garage.csv", log)
    # Ounces, milliamperes and degrees Fahrenheit by their names; electrical speed asks.
    expect(page.get_by_role("combobox", name="Unit of Pull (oz)")).to_be_visible()
    expect(page.get_by_text("Electrical speed needs the motor's pole count").first).to_be_visible()
    page.get_by_label("Magnets of the motor").fill("14")
    expect(page.get_by_role("heading", name="One run is in it")).to_be_visible()
    expect(page.get_by_role("row", name="eRPM")).to_contain_text("25,8")
    assert violations(page, "import") == []
    expect(page.get_by_role("button", name="Store it as a run")).to_be_disabled()
    sure_of_all(page)
    mark = motor["samples"][0]["mark"]
    called = f"“{motor['full_name'].lower()} of the garage” is"
    pick(page, called, f"{motor['full_name']} · {mark}", typed=motor["full_name"])
    page.get_by_label("Keep this way of reading as").fill(f"Garage logger {motor['id']}")
    page.get_by_role("button", name="Store it as a run").click()
    expect(page.get_by_text("imported from garage.csv")).to_be_visible()
    run = page.url.rsplit("/", 1)[1]
    summary = page.request.get(f"{demo.address}/api/v1/runs/{run}/").json()["result"]["summary"]
    assert abs(summary["max_thrust_gf"]["value"] / (41.6 * 28.3495) - 1) < 0.02
    assert abs(summary["max_current_a"]["value"] / 26.1 - 1) < 0.03

    # The next of its kind needs nobody: columns, motor and propeller are known.
    page.goto(f"{demo.address}/import")
    choose(page, "garage-2.csv", log.replace(b"autumn", b"winter"))
    expect(page.get_by_text(f"read as “Garage logger {motor['id']}”")).to_be_visible()
    expect(page.get_by_role("button", name="That is right")).to_have_count(0)
    page.get_by_role("button", name="Store it as a run").click()
    expect(page.get_by_text("imported from garage-2.csv")).to_be_visible()
    expect(page.get_by_role("link", name=motor["full_name"]).first).to_be_visible()
