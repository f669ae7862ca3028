"""A log that is too large for one request: sent in parts, stopped, gone on with, stored, drawn."""

from __future__ import annotations

import re

import numpy as np
from playwright.sync_api import expect

from e2e.axe import violations
from e2e.forms import choose as pick
from e2e.records import own_motor
from spindle_core.formats.bench_log import write_bench_log

ROWS = 900_000
WITHIN_MS = 90_000


def soak(folder, motor: str, fault_at: int | None = None):
    """Fifteen minutes at 1 kHz as a file of some 40 MB."""
    time = np.arange(ROWS) / 1000.0
    rng = np.random.default_rng(6)
    on = (time > 3) & (time < 880)
    channels = {
        "throttle_pct": np.where(on, 55.0, 0.0),
        "thrust_gf": np.round(np.where(on, 430.0, 0.0) + rng.standard_normal(ROWS), 2),
        "voltage_v": np.round(16 + 0.01 * rng.standard_normal(ROWS), 3),
        "current_a": np.round(np.where(on, 8.2, 0.1) + 0.02 * rng.standard_normal(ROWS), 3),
        "motor_temp_c": np.round(24 + 28 * (1 - np.exp(-time / 200)), 3),
        "ambient_temp_c": np.full(ROWS, 24.0),
    }
    data = write_bench_log({"kind": "soak", "motor": motor}, time, channels)
    if fault_at is not None:
        at = data.index(b"\n%d," % fault_at)
        data = data[: at + 1] + b"nan" + data[at + 1 :]
    path = folder / f"{motor.split()[-1]}-{'bad' if fault_at else 'good'}.csv"
    path.write_bytes(data)
    assert path.stat().st_size > 31_000_000
    return path


def test_a_long_soak_comes_in_parts(demo, log_in, tmp_path):
    page = log_in("ilse")
    motor = own_motor(page, demo)
    name = motor["full_name"]

    def choose(path):
        page.goto(f"{demo.address}/import")
        page.locator("input[type=file]").set_input_files(path)
        expect(page.get_by_role("heading", name=path.name)).to_be_visible()
        if page.get_by_label("Motor and sample").input_value() == "":
            mark = motor["samples"][0]["mark"]
            pick(page, "Motor and sample", f"{name} · {mark}", typed=name)
        pick(page, "Propeller", "Wickett 5.1x4.2x3", typed="5.1x4.2")

    # A fault near the end: none of it becomes a run, and the line is named.
    bad = soak(tmp_path, name, fault_at=890)
    choose(bad)
    assert violations(page, "large file") == []
    page.get_by_role("button", name="Store it as a run").click()
    expect(page.get_by_text(re.compile("MB (sent|stored)"))).to_be_visible()
    fault = page.get_by_role("alert").filter(has_text="line 89")
    expect(fault).to_be_visible(timeout=WITHIN_MS)
    waits = page.get_by_role("region", name="Large files")
    expect(waits).to_contain_text(bad.name)
    waits.get_by_role("button", name=f"Drop {bad.name}").click()
    page.get_by_role("button", name="Drop it").click()
    expect(waits).to_be_hidden()

    # Stopped on its way, and gone on with.
    good = soak(tmp_path, name)
    choose(good)
    page.get_by_role("button", name="Store it as a run").click()
    page.get_by_role("button", name="Stop it").click()
    expect(page.get_by_role("alert").filter(has_text=re.compile("stop"))).to_be_visible(
        timeout=WITHIN_MS
    )
    choose(good)
    page.get_by_role("button", name="Store it as a run").click()
    page.wait_for_url("**/runs/*", timeout=WITHIN_MS)
    expect(page.get_by_text(f"imported from {good.name}")).to_be_visible()

    # All of it from far; its samples from near, by keyboard.
    expect(page.get_by_text("900,000 samples; the lowest and highest")).to_be_visible()
    nearer = page.get_by_role("button", name="Nearer")
    nearer.focus()
    for _ in range(11):
        page.keyboard.press("Enter")
    expect(page.get_by_text("900,000 samples; each of these is drawn")).to_be_visible()
    page.get_by_role("button", name="All of it").click()
    expect(page.get_by_text("900,000 samples; the lowest and highest")).to_be_visible()
