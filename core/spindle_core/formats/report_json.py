"""A report as JSON data and as the sheets of a workbook."""

from __future__ import annotations

import io
from collections.abc import Sequence
from typing import Any

from openpyxl import Workbook
from openpyxl.styles import Font

from spindle_core.compare.equal_conditions import EqualConditions
from spindle_core.figures.measured import Absent, Figure, Measured
from spindle_core.formats.plain import plain
from spindle_core.publish.report import Report
from spindle_core.rank.ranking import Ranking


def report_to_json(report: Report) -> dict[str, Any]:
    """Everything but the points, which ``reduce`` gives."""
    return {
        "runs": [
            {
                "file": run.name,
                "kind": run.trace.kind,
                "motor": run.trace.facts.motor_key,
                "propeller": run.trace.facts.propeller,
                "voltage": run.voltage,
                "summary": plain(run.reduction.summary),
                "at_nominal": plain(report.nominal.get(run.name, {})),
                "warnings": plain(run.reduction.warnings),
            }
            for run in report.runs
        ],
        "repeats": [
            {
                "kind": row.kind,
                "motor": row.motor,
                "propeller": row.propeller,
                "voltage": row.voltage,
                "figure": row.figure,
                "runs": list(row.runs),
                "mean": row.spread.mean.value,
                "s": row.spread.s,
                "u": row.spread.mean.u,
                "n": row.spread.mean.n,
                "exceeds_repeatability": row.spread.exceeds,
            }
            for row in report.repeats
        ],
        "labels": plain(report.labels),
        "label_conflicts": plain(report.conflicts),
        "comparisons": [_comparison(table) for table in report.compared],
        "factor_table": _factor_table(report),
        "ranking": _ranking(report.ranking),
        "statements": list(report.statements),
    }


def _comparison(table: EqualConditions) -> dict[str, Any]:
    return {
        "propeller": table.propeller,
        "voltage": table.voltage,
        "baseline": table.baseline,
        "motors": list(table.motors),
        "repeatability_pct": 100.0 * table.repeatability,
        "repeatability_from": table.repeatability_from,
        "rows": [
            {
                "condition": row.condition,
                "at": row.at,
                "figure": row.name,
                "motors": {
                    name: {
                        **_short(cell.figure),
                        **(
                            {}
                            if cell.delta is None
                            else {
                                "delta_pct": cell.delta.delta_pct,
                                "u_delta_pct": cell.delta.u_pct,
                                "outcome": str(cell.delta.outcome),
                            }
                        ),
                    }
                    for name, cell in row.cells.items()
                },
            }
            for row in table.rows
        ],
        "performs_the_same": [list(group) for group in table.groups.groups],
        "pairs": plain(table.groups.pairs),
        "crossings": [
            {
                "motors": [first, second],
                "thrust_gf": cross.at,
                "from_gf": cross.low,
                "to_gf": cross.high,
            }
            for first, second, cross in table.crossings
        ],
        "like_with_like": plain(table.factors),
        "not_corrected": list(table.not_corrected),
        "confounded": list(table.confounded),
    }


def _short(figure: Figure) -> dict[str, Any]:
    if isinstance(figure, Absent):
        return {"absent": figure.reason, "note": figure.note}
    return {"value": figure.value, "u": figure.u, "n": figure.n}


def _factor_table(report: Report) -> Any:
    table = report.factors
    if isinstance(table, Absent):
        return plain(table)
    return {
        "motor_effect_pct": plain(table.motor_effect_pct),
        "propeller_effect_pct": plain(table.propeller_effect_pct),
        "predicted_max_thrust_gf": [
            {"motor": motor, "propeller": propeller, **_short(figure), "origin": "estimated"}
            for (motor, propeller), figure in table.predicted.items()
        ],
        "interaction_pct": table.interaction_pct,
    }


def _ranking(ranking: Ranking | Absent) -> Any:
    if isinstance(ranking, Absent):
        return plain(ranking)
    confidence = ranking.confidence
    return {
        "criteria": plain(ranking.snapshot.criteria),
        "motors": [
            {
                **{key: value for key, value in plain(item).items() if key != "losses"},
                **(
                    {"place_interval": list(confidence.interval[confidence.names.index(item.name)])}
                    if confidence is not None and item.name in confidence.names
                    else {}
                ),
            }
            for item in ranking.snapshot.scored
        ],
        "place_probability": None
        if confidence is None
        else {
            name: [float(p) for p in confidence.probability[i]]
            for i, name in enumerate(confidence.names)
        },
        "weight_swaps": [{**plain(s), "change_pct": plain(s.change_pct)} for s in ranking.swaps],
        "dominance": plain(ranking.dominance),
    }


def report_to_xlsx(report: Report) -> bytes:
    """Sheets ``runs``, ``repeats``, ``comparison``, ``ranking`` and ``statements``."""
    book = Workbook()
    book.remove(book.active)
    _sheet(
        book,
        "runs",
        (
            "file",
            "kind",
            "motor",
            "propeller",
            "voltage",
            "figure",
            "value",
            "u (k = 1)",
            "absent because",
        ),
        [
            [
                run.name,
                run.trace.kind,
                run.trace.facts.motor_key,
                run.trace.facts.propeller,
                run.voltage,
                name,
                *_cells(figure),
            ]
            for run in report.runs
            for name, figure in run.reduction.summary.items()
        ],
    )
    _sheet(
        book,
        "repeats",
        (
            "kind",
            "motor",
            "propeller",
            "voltage",
            "figure",
            "n",
            "mean",
            "s",
            "u of the mean",
            "beyond the stand's repeatability",
        ),
        [
            [
                row.kind,
                row.motor,
                row.propeller,
                row.voltage,
                row.figure,
                row.spread.mean.n,
                row.spread.mean.value,
                row.spread.s,
                row.spread.mean.u,
                row.spread.exceeds,
            ]
            for row in report.repeats
        ],
    )
    _sheet(
        book,
        "comparison",
        (
            "propeller",
            "voltage",
            "condition",
            "at",
            "figure",
            "motor",
            "value",
            "u (k = 1)",
            "absent because",
            "baseline",
            "delta %",
            "u of delta %",
            "outcome",
        ),
        [
            [
                table.propeller,
                table.voltage,
                row.condition,
                row.at,
                row.name,
                name,
                *_cells(cell.figure),
                table.baseline,
                *(
                    [None] * 3
                    if cell.delta is None
                    else [cell.delta.delta_pct, cell.delta.u_pct, str(cell.delta.outcome)]
                ),
            ]
            for table in report.compared
            for row in table.rows
            for name, cell in row.cells.items()
        ],
    )
    _sheet(
        book,
        "ranking",
        ("place", "motor", "total", "missing"),
        [
            [
                item.place,
                item.name,
                None if isinstance(item.total, Absent) else item.total,
                ", ".join(item.missing),
            ]
            for item in (
                [] if isinstance(report.ranking, Absent) else report.ranking.snapshot.scored
            )
        ],
    )
    _sheet(book, "statements", ("statement",), [[text] for text in report.statements])
    sink = io.BytesIO()
    book.save(sink)
    return sink.getvalue()


def _cells(figure: Figure) -> list[Any]:
    if isinstance(figure, Measured):
        return [figure.value, figure.u, None]
    return [None, None, figure.note or figure.reason]


def _sheet(book: Workbook, name: str, heads: Sequence[str], rows: Sequence[Sequence[Any]]) -> None:
    sheet = book.create_sheet(name)
    sheet.append(list(heads))
    for cell in sheet[1]:
        cell.font = Font(bold=True)
    for row in rows:
        sheet.append(list(row))
    sheet.freeze_panes = "A2"
