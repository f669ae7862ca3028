"""A cohort's ranking as a page shows it, frozen with its edition."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from spindle_core.rank.rank_confidence import lead_words
from spindle_server.verdict.looking import CohortNow


def ranking_content(cohort: CohortNow) -> dict[str, Any]:
    """Places with their certainty, what was weighed, figures by criterion, what is said of it."""
    result = cohort.result
    currency = result["currency"]
    weighed = [one for one in result["measures"] if one["weight"] > 0]
    return {
        "load": cohort.load.words if cohort.load else "",
        "currency": currency,
        "weighed": [
            {
                "name": one["name"],
                "label": one["label"],
                "unit": currency if one["name"] == "price" else one["unit"],
                "weight": one["weight"],
                "lower_is_better": one["lower_is_better"],
                "at": _level(one),
                "motors": one["motors"],
            }
            for one in weighed
        ],
        "rows": [_row(row, [one["name"] for one in weighed]) for row in result["rows"]],
        "unranked": [
            {"name": row["full_name"], "why": row["why_unranked"]}
            for row in result["rows"]
            if not row["place"]
        ],
        "fallen_out": [
            {"name": one["full_name"], "why": one["why"]} for one in result["fallen_out"]
        ],
        "said": _said(result),
        "remarks": result["remarks"],
    }


def _level(measure: Mapping[str, Any]) -> dict[str, Any] | None:
    """At what a criterion was read, where it has to be said."""
    units = {"thrust_gf": "gf", "shaft_power_w": "W"}
    if measure["level"] is None or measure["at"] not in units:
        return None
    return {"value": measure["level"], "unit": units[measure["at"]]}


def _row(row: Mapping[str, Any], names: list[str]) -> dict[str, Any]:
    figures = {one["name"]: one for one in row["figures"]}
    return {
        "motor": row["motor"],
        "name": row["full_name"],
        "verdict": row["verdict"],
        "place": row["place"],
        "score": {"value": row["total"], "u": row["total_u"]},
        "why_unranked": row["why_unranked"],
        "places": row["places"],
        "from": row["place_from"],
        "to": row["place_to"],
        "figures": [_figure(figures.get(name)) for name in names],
        "warnings": row["warnings"],
    }


def _figure(one: Mapping[str, Any] | None) -> dict[str, Any]:
    if one is None:
        return {
            "value": None,
            "u": None,
            "reason": "not measured",
            "runs": None,
            "samples": None,
            "estimated": False,
        }
    figure = one["figure"]
    return {
        "value": figure["value"],
        "u": figure["u"] or None,
        "reason": figure["reason"] or "",
        "runs": one["runs"],
        "samples": one["samples"],
        "estimated": bool(one["filled"]) or figure["origin"] == "estimated",
    }


def _said(result: Mapping[str, Any]) -> list[str]:
    """How sure the order is and what would turn it, in whole sentences."""
    found = [*result["ties"]]
    led = result["leader"]
    if led is not None:
        share = f"it is first in {100 * led['probability']:.0f} % of draws within what is known"
        found.insert(0, f"{lead_words(led['full_name'], led['probability'])} ({share}.)")
    found += [result[name]["sentence"] for name in ("swap", "settle") if result[name]]
    found += [one["sentence"] for one in result["families"]]
    found += [one["sentence"] for one in result["beaten"]]
    return [*found, *([result["price_of_lead"]] if result["price_of_lead"] else [])]
