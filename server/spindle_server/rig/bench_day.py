"""What a day at the bench gives to the runs made on it."""

from __future__ import annotations

import datetime
from typing import Any

from spindle_server.rig.models import BenchDay

INHERITED = ("air_temp_c", "air_pressure_hpa", "air_humidity_pct", "esc", "command_source")
"""Facts of a run that it takes from its day where nobody says otherwise."""

SAYS_NOTHING = (None, "", "unknown")


def day_on(day: datetime.date) -> BenchDay | None:
    """The day's record; None where nobody began one."""
    return BenchDay.objects.select_related("stand", "esc").filter(day=day).first()


def given_by(day: BenchDay | None) -> dict[str, Any]:
    """The day's values by the names of a run's facts; pressure from the height where nobody read
    a barometer."""
    if day is None:
        return {}
    values = {
        "air_temp_c": day.air_temp_c,
        "air_pressure_hpa": day.pressure_hpa,
        "air_humidity_pct": day.air_humidity_pct,
        "esc": day.esc,
        "command_source": day.command_source,
    }
    return {name: value for name, value in values.items() if value not in SAYS_NOTHING}


def completed(own: dict[str, Any], day: BenchDay | None) -> tuple[dict[str, Any], list[str]]:
    """What a run says of itself, completed from its day, and the names of what was taken."""
    given = given_by(day)
    taken = [name for name in INHERITED if own.get(name) in SAYS_NOTHING and name in given]
    return {**own, **{name: given[name] for name in taken}}, taken
