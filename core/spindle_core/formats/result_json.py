"""A reduction as plain JSON data: what the command line prints and the server stores."""

from __future__ import annotations

from typing import Any

from spindle_core.figures.measured import Absent, Figure, Measured, Origin
from spindle_core.figures.outliers import Outlier
from spindle_core.figures.remark import Remark
from spindle_core.reduction.result import Point, Reduction

_PLACES = ("start_s", "used_from_s", "end_s", "settled")


def figure_to_json(figure: Figure) -> dict[str, Any] | None:
    """``{"value", "u", "n", "origin", "components", "assumed"}``; None for an absent figure."""
    if isinstance(figure, Absent):
        return None
    data: dict[str, Any] = {
        "value": figure.value,
        "u": figure.u,
        "n": figure.n,
        "origin": str(figure.origin),
        "components": dict(figure.components),
        "assumed": figure.assumed,
    }
    if figure.samples is not None:
        data["samples"] = figure.samples
    return data


def _point_figure_to_json(figure: Figure) -> dict[str, Any] | None:
    """A point's ``u`` is its within-run scatter; the other components stand beside it.

    ``u_combined`` is all of them together. Calibration and tare are shared by the points of a
    run, so that they do not blur the shape of its curve.
    """
    data = figure_to_json(figure)
    if data is None or isinstance(figure, Absent):
        return None
    own = figure.component("within_run")
    return {**data, "u": own or data["u"], "u_combined": data["u"]}


def reduction_to_json(reduction: Reduction) -> dict[str, Any]:
    """The whole result; absent figures are null and named with their reason in ``absent``."""
    return {
        "kind": reduction.kind,
        "start_rise_k": reduction.start_rise_k,
        "warnings": [{"code": w.code, "message": w.message} for w in reduction.warnings],
        "points": [_point_to_json(point) for point in reduction.points],
        "summary": {name: figure_to_json(figure) for name, figure in reduction.summary.items()},
        "absent": _absent_to_json(reduction.summary),
        "outliers": [
            {"channel": o.channel, "time_s": o.time_s, "value": o.value} for o in reduction.outliers
        ],
    }


def _absent_to_json(figures: Any) -> dict[str, dict[str, str]]:
    return {
        name: {"reason": figure.reason, "note": figure.note}
        for name, figure in figures.items()
        if isinstance(figure, Absent)
    }


def _point_to_json(point: Point) -> dict[str, Any]:
    data: dict[str, Any] = {
        **{name: _point_figure_to_json(figure) for name, figure in point.figures.items()},
        **point.marks,
        "start_s": point.start_s,
        "used_from_s": point.used_from_s,
        "end_s": point.end_s,
        "settled": point.settled,
    }
    absent = _absent_to_json(point.figures)
    return {**data, "absent": absent} if absent else data


def figure_from_json(data: dict[str, Any] | None) -> Figure:
    """The figure that :func:`figure_to_json` wrote."""
    if data is None:
        return Absent("not_stored", "absent when the run was reduced")
    return Measured(
        data["value"],
        data["components"],
        n=data["n"],
        origin=Origin(data.get("origin", "measured")),
        samples=data.get("samples"),
    )


def figures_from_json(rows: dict[str, Any], absent: dict[str, Any]) -> dict[str, Figure]:
    """Figures by name; what is null is absent for the reason that stands in ``absent``."""
    return {
        name: Absent(absent[name]["reason"], absent[name]["note"])
        if item is None and name in absent
        else figure_from_json(item)
        for name, item in rows.items()
    }


def points_from_json(result: dict[str, Any]) -> list[Point]:
    """The points of a stored result, for curves and comparisons."""
    points = []
    for row in result["points"]:
        figures = {
            name: item
            for name, item in row.items()
            if name not in _PLACES and name != "absent" and not isinstance(item, bool)
        }
        marks = {
            name: item
            for name, item in row.items()
            if isinstance(item, bool) and name not in _PLACES
        }
        points.append(
            Point(
                figures_from_json(figures, row.get("absent", {})),
                row["start_s"],
                row["used_from_s"],
                row["end_s"],
                row["settled"],
                marks,
            )
        )
    return points


def warnings_from_json(result: dict[str, Any]) -> list[Remark]:
    """The warnings of a stored result."""
    return [Remark(item["code"], item["message"]) for item in result["warnings"]]


def reduction_from_json(result: dict[str, Any]) -> Reduction:
    """The reduction that :func:`reduction_to_json` wrote, without loss."""
    return Reduction(
        result["kind"],
        tuple(points_from_json(result)),
        figures_from_json(result["summary"], result.get("absent", {})),
        tuple(warnings_from_json(result)),
        tuple(
            Outlier(item["channel"], item["time_s"], item["value"]) for item in result["outliers"]
        ),
        result.get("start_rise_k"),
    )
