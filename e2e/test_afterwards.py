"""After the bench: a flight noted in the field, a letter answered, a point that comes back."""

import re

from playwright.sync_api import expect

from e2e.axe import violations
from e2e.forms import choose


def test_a_flight_is_noted_and_told_against_its_prediction(demo, log_in):
    page = log_in()
    page.goto(f"{demo.address}/afterwards")
    expect(page.get_by_text(re.compile(r"Over \d+ flights it stayed up"))).to_be_visible()
    assert violations(page, "flights") == []
    sheet = page.get_by_role("region", name="Note a flight")
    sheet.get_by_label("Minutes").fill("12,4")
    sheet.get_by_label("Put back").fill("about 1000")
    expect(sheet.get_by_text(re.compile("is no number")).first).to_be_visible()
    expect(sheet.get_by_role("button", name="Note the flight")).to_be_disabled()
    sheet.get_by_label("Put back").fill("1090")
    page.keyboard.press("Enter")
    expect(sheet.get_by_text(re.compile(r"Noted: 12\.4 min"))).to_be_visible()
    flights = page.get_by_role("region", name="Flights", exact=True)
    expect(flights.get_by_role("row").nth(1)).to_contain_text("12.4")
    expect(flights.get_by_role("row").nth(1)).to_contain_text(re.compile(r"from \d runs"))


def test_a_letter_is_answered_and_leaves_the_board(demo, log_in):
    page = log_in()
    page.goto(f"{demo.address}/afterwards?look=letters")
    question = page.get_by_role("listitem").filter(has_text="How hot does it get")
    question.get_by_role("button", name="Answer …").click()
    question.get_by_label("Answer").fill("At 71 °C after two minutes of climb.")
    question.get_by_role("button", name="Keep").click()
    expect(question.get_by_text("At 71 °C after two minutes of climb.")).to_be_visible()
    assert violations(page, "letters") == []
    page.goto(demo.address)
    expect(page.get_by_role("link", name="1 without an answer").first).to_be_visible()


def test_a_point_waits_on_the_motor_file_and_comes_back(demo, log_in):
    page = log_in()
    page.goto(f"{demo.address}/motors/3?look=afterwards")
    expect(page.get_by_text("Hours and starts")).to_be_visible()
    expect(page.get_by_text("counted apart from what was seen here")).to_be_visible()
    points = page.get_by_role("region", name="Points that wait")
    points.get_by_label("To look at again").fill("Screw torque after the winter")
    choose(page, "When", "on a day")
    points.get_by_role("combobox", name="Day", exact=True).fill("2026-10-01")
    page.keyboard.press("Tab")
    points.get_by_role("button", name="Let it wait").click()
    expect(page.get_by_text("Due: Screw torque after the winter")).to_be_visible()
    assert violations(page, "motor afterwards") == []
    page.get_by_role("button", name="Done: Screw torque after the winter").click()
    page.get_by_label(re.compile("^What came of")).fill("tight")
    page.get_by_role("button", name="Done", exact=True).click()
    expect(page.get_by_text(re.compile("done .*: tight"))).to_be_visible()
