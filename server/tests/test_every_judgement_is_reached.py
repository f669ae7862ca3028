"""What the core can judge, a reviewer can see: every judgement has a field of the API and a test of
what a screen makes of it."""

import importlib
import inspect
import pkgutil
from pathlib import Path

import pytest

import spindle_core.compare.bench_table
import spindle_core.compare.benches
import spindle_core.compare.envelope
import spindle_core.compare.feel
import spindle_core.compare.kinds_table
import spindle_core.compare.mean_curves
import spindle_core.compare.nominal
import spindle_core.compare.subjects
import spindle_core.compare.wear
import spindle_core.match
import spindle_core.planning.at_one_kv
import spindle_core.planning.torque_lines
import spindle_core.rank

HERE = Path(__file__).parents[2]
SERVER = HERE / "server" / "spindle_server"

SEEN = {
    # Core function: the field of the API that carries what it says.
    "cohort_of": "rows",
    "dominated": "beaten",
    "marginal_price": "price_of_lead",
    "rank_confidence": "places",
    "tied_places": "ties",
    "weight_swaps": "swap",
    "moves": "moved",
    "score_cohort": "total",
    "settlings": "settle",
    "undecided": "left_open",
    "performs_the_same": "families",
    "arm_inertia_kg_mm2": "arm_inertia_kg_mm2",
    "pack_need": "pack",
    "seconds_of_flight": "said",
    "frontier": "on_frontier",
    "match": "thrust_to_weight",
    "pick": "picks",
    "apart_u": "apart",
    "coaxial_pair": "lower_motor",
    "heat_margin_k": "margin_hover_k",
    "measured_seats": "runs",
    "predicted_seats": "predicted",
    "tip_mach_of": "tip_mach",
    "at_other_voltage": "said",
    "change": "upgrade",
    "mass_range": "suits",
    "window": "window",
    "in_flight": "said",
    "bench_table": "cells",
    "between_benches": "offsets",
    "judge": "schools",
    "pairs_of": "pairs",
    "wear": "worn",
    "subjects": "subjects",
    "comparison_rows": "rows",
    "mean_curve": "curves",
    "told_crossings": "crossings",
    "feel_of": "feel",
    "envelope": "envelope",
    "points_at_nominal": "correction",
    "kinds_table": "off_label_pct",
    "against_label": "off_label_pct",
    "listed": "kinds",
    "torque_chart": "meetings",
    "at_one_kv": "design_pct",
    "copper_figure": "km_nm_per_sqrt_w",
    "size_trend": "thrust_over_trend_pct",
    "choosing": "choosing",
    "deltas": "delta",
    "tally": "unresolved",
    "foreseen": "pivot",
}

WITHIN = {
    # Reached through another, or a rule of thumb that others use.
    "loads_of": "the server asks the database",
    "lead_figure": "price_of_lead",
    "tie_words": "words of tied_places",
    "lead_words": "a sentence on a cohort's page and in its proposals",
    "rank": "the command line's way through scoring, confidence and dominance",
    "entries": "the same",
    "candidates": "the command line's candidates; the server's are seats",
    "all_up_mass": "match",
    "needed_thrust_gf": "match",
    "thrust_to_weight": "match",
    "esc_size": "esc_sizes",
    "esc_sizes": "match",
    "endurance_min": "match",
    "kv_at_other_voltage": "at_other_voltage",
    "diameter_for_equal_power_in": "at_other_voltage",
    "trade": "pick",
    "told_first": "change",
    "fits_cells": "measured_seats",
    "usual_voltage": "predicted_seats",
    "usual_level": "bench_table",
    "read_under": "one figure of a run, for tables and subjects",
    "read_ran": "the same, of bursts too",
    "kinds_at": "which runs a table of the bench reads",
    "alone": "the command line's single runs",
    "read_subject": "comparison_rows",
    "spread_between_samples": "mean_curve",
    "common_span": "mean_curve",
    "crossings_of": "told_crossings",
    "largest_of": "mean_curve",
    "at_nominal": "the command line's way; the server corrects every point",
    "motor_line": "torque_chart",
    "load_line": "torque_chart",
    "rewound": "at_one_kv",
    "per": "thrust_per_gram",
    "at_mass": "judge",
    "factors_of": "pairs_of",
}


JUDGING = (
    spindle_core.compare.bench_table,
    spindle_core.compare.benches,
    spindle_core.compare.envelope,
    spindle_core.compare.feel,
    spindle_core.compare.kinds_table,
    spindle_core.compare.mean_curves,
    spindle_core.compare.nominal,
    spindle_core.compare.subjects,
    spindle_core.compare.wear,
    spindle_core.planning.at_one_kv,
    spindle_core.planning.torque_lines,
)


def public_functions():
    modules = [*JUDGING]
    for room in (spindle_core.rank, spindle_core.match):
        names = (one.name for one in pkgutil.iter_modules(room.__path__))
        modules += [importlib.import_module(f"{room.__name__}.{name}") for name in names]
    for module in modules:
        for name, function in inspect.getmembers(module, inspect.isfunction):
            if function.__module__ == module.__name__ and not name.startswith("_"):
                yield name


def test_every_judgement_is_named_here():
    """A new one without a line above fails here."""
    known = set(public_functions())
    assert known - set(SEEN) - set(WITHIN) == set()
    assert set(WITHIN) - known == set()


@pytest.mark.parametrize(("function", "field"), SEEN.items())
def test_it_reaches_the_api_and_a_screen(function, field):
    sources = "\n".join(path.read_text() for path in SERVER.rglob("*.py"))
    assert f"{function}(" in sources, "no app of the server asks for it"
    assert f"        {field}:" in (HERE / "server" / "openapi.yaml").read_text()
    tests = "\n".join(path.read_text() for path in (HERE / "web" / "src" / "tests").glob("*.ts"))
    assert f"{field}:" in tests or f".{field}" in tests, "no test of a screen knows it"
