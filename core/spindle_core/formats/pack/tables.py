"""What a pack says as tables: the same rows as CSV, Parquet and sheets of one workbook."""

from __future__ import annotations

import csv
import datetime
import io
import re
import zipfile
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Final

import pyarrow as pa
import pyarrow.parquet as pq
from openpyxl import Workbook
from openpyxl.styles import Font

from spindle_core.formats.pack.writing import EPOCH

Cell = str | float | int | bool | None
Results = Mapping[int, Mapping[str, Any]]
"""Number of a run → what it was reduced to, as JSON data."""


@dataclass(frozen=True, slots=True)
class Table:
    """Rows below named columns; an empty cell is None. A column is of one type throughout."""

    name: str
    what: str
    columns: tuple[tuple[str, type], ...]
    rows: tuple[tuple[Cell, ...], ...]

    @property
    def heads(self) -> tuple[str, ...]:
        """Names of the columns."""
        return tuple(name for name, _ in self.columns)


_PLACE: Final = (("start_s", float), ("used_from_s", float), ("end_s", float), ("settled", bool))


def tables_of(index: Mapping[str, Any], results: Results) -> list[Table]:
    """Every table of a pack, in an order that stays."""
    return [_runs(index), _figures(index, results), _points(index, results), _identified(index),
            _claims(index), _teardown(index)]  # fmt: skip


def _names(index: Mapping[str, Any], of: str) -> dict[str | None, str]:
    key = "full_name" if of != "stands" else "name"
    return {None: "", **{one["key"]: one[key] for one in index[of]}}


def _runs(index: Mapping[str, Any]) -> Table:
    motors, props, stands = (_names(index, of) for of in ("motors", "propellers", "stands"))
    columns = (
        ("run", int), ("on", str), ("kind", str), ("motor", str), ("sample", str),
        ("propeller", str), ("supply", str), ("nominal_voltage_v", float), ("stand", str),
        ("origin", str), ("review", str), ("review_reason", str), ("log", str),
    )  # fmt: skip
    rows = [
        (
            run["number"], run["on"], run["kind"], motors[run["motor"]], run["sample"],
            props[run["propeller"]], run["supply"] or "", run["nominal_voltage_v"],
            stands[run["stand"]], run["origin"], run["review"], run["review_reason"], run["log"],
        )
        for run in index["runs"]
    ]  # fmt: skip
    return Table("runs", "Every run, rejected ones with the reason", columns, tuple(rows))


_FIGURE: Final = (
    ("figure", str), ("value", float), ("u", float), ("n", int), ("origin", str),
    ("u_holds_assumptions", bool), ("absent_because", str),
)  # fmt: skip


def _figure_cells(
    name: str, figure: Mapping[str, Any] | None, absent: str = ""
) -> tuple[Cell, ...]:
    if figure is None or "absent" in figure:
        why = absent or (figure or {}).get("note") or (figure or {}).get("absent", "")
        return (name, None, None, None, "", None, why)
    return (
        name, figure["value"], figure["u"], figure["n"], figure["origin"],
        bool(figure.get("assumed", False)), "",
    )  # fmt: skip


def _figures(index: Mapping[str, Any], results: Results) -> Table:
    rows: list[tuple[Cell, ...]] = []
    for run in index["runs"]:
        result = results[run["number"]]
        for name, figure in result["summary"].items():
            absent = result.get("absent", {}).get(name, {})
            why = absent.get("note") or absent.get("reason", "")
            rows.append((run["number"], *_figure_cells(name, figure, why)))
    columns = (("run", int), *_FIGURE)
    return Table("figures", "What each run was reduced to", columns, tuple(rows))


def _points(index: Mapping[str, Any], results: Results) -> Table:
    places = [name for name, _ in _PLACE]
    names: dict[str, None] = {}
    marks: dict[str, None] = {}
    points = [(run["number"], one) for run in index["runs"]
              for one in results[run["number"]]["points"]]  # fmt: skip
    for _, point in points:
        for name, item in point.items():
            if name in (*places, "absent"):
                continue
            (marks if isinstance(item, bool) else names)[name] = None
    columns: list[tuple[str, type]] = [("run", int), *_PLACE, *((mark, bool) for mark in marks)]
    for name in names:
        columns += [(name, float), (f"u_{name}", float)]
    rows = []
    for number, point in points:
        row: list[Cell] = [number, *(point[name] for name in places)]
        row += [point.get(mark) for mark in marks]
        for name in names:
            figure = point.get(name) or {}
            row += [figure.get("value"), figure.get("u_combined", figure.get("u"))]
        rows.append(tuple(row))
    return Table("points", "Every point of every run", tuple(columns), tuple(rows))


def _identified(index: Mapping[str, Any]) -> Table:
    rows: list[tuple[Cell, ...]] = []
    for motor in index["motors"]:
        for name, figure in motor["figures"].items():
            rows.append((motor["full_name"], "", *_figure_cells(name, figure)))
        for sample in motor["samples"]:
            for name, figure in sample["figures"].items():
                rows.append((motor["full_name"], sample["mark"], *_figure_cells(name, figure)))
    for propeller in index["propellers"]:
        for name, figure in propeller["figures"].items():
            rows.append((propeller["full_name"], "", *_figure_cells(name, figure)))
    columns = (("of", str), ("sample", str), *_FIGURE)
    return Table("identified", "Constants of motors and propellers", columns, tuple(rows))


def _claims(index: Mapping[str, Any]) -> Table:
    columns = (("motor", str), ("quantity", str), ("value", float), ("words", str), ("source", str))
    rows = [
        (motor["full_name"], one["quantity"], one["value"], one["words"], one["source"])
        for motor in index["motors"]
        for one in motor["claims"]
    ]
    return Table("claims", "What is claimed of the motors, and by whom", columns, tuple(rows))


def _teardown(index: Mapping[str, Any]) -> Table:
    motors = _names(index, "motors")
    columns = (("motor", str), ("sample", str), ("attribute", str), ("label", str), ("said", str),
               ("value", float), ("u", float), ("unit", str))  # fmt: skip
    rows = [
        (motors[one["motor"]], *(one[name] for name, _ in columns[1:])) for one in index["teardown"]
    ]
    return Table("teardown", "What was seen and measured inside", columns, tuple(rows))


FORMULA: Final = ("=", "+", "-", "@", "\t", "\r")


def inert(cell: Any) -> Any:
    """Text that a spreadsheet would take for a formula is made inert."""
    return f"'{cell}" if isinstance(cell, str) and cell.startswith(FORMULA) else cell


def table_csv(table: Table) -> bytes:
    """As CSV, UTF-8; what is absent is an empty cell."""
    out = io.StringIO(newline="")
    writer = csv.writer(out)
    writer.writerow(table.heads)
    for row in table.rows:
        writer.writerow(["" if cell is None else inert(cell) for cell in row])
    return out.getvalue().encode()


_ARROW: Final = {str: pa.string(), float: pa.float64(), int: pa.int64(), bool: pa.bool_()}


def table_parquet(table: Table) -> bytes:
    """As Parquet; what is absent is null."""
    columns = list(zip(*table.rows, strict=True)) or [()] * len(table.columns)
    made = pa.table(
        [
            pa.array([None if cell is None else of(cell) for cell in cells], _ARROW[of])
            for (_, of), cells in zip(table.columns, columns, strict=True)
        ],
        names=list(table.heads),
    )
    sink = io.BytesIO()
    pq.write_table(made, sink, compression="zstd")
    return sink.getvalue()


def workbook(tables: Sequence[Table]) -> bytes:
    """Every table as a sheet of one XLSX workbook; the same tables give the same bytes."""
    book = Workbook(write_only=True)
    day = datetime.datetime(EPOCH[0], 1, 1)
    book.properties.created = day
    for table in tables:
        sheet = book.create_sheet(table.name)
        sheet.freeze_panes = "A2"
        sheet.append([_bold(sheet, head) for head in table.heads])
        for row in table.rows:
            sheet.append([inert(cell) for cell in row])
    sink = io.BytesIO()
    book.save(sink)
    return _undated(sink.getvalue(), day)


def _bold(sheet: Any, text: str) -> Any:
    from openpyxl.cell import WriteOnlyCell

    cell = WriteOnlyCell(sheet, text)
    cell.font = Font(bold=True)
    return cell


def _undated(data: bytes, day: datetime.datetime) -> bytes:
    """The workbook without the time at which it was written, in its files and in what it says."""
    sink = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as old, zipfile.ZipFile(sink, "w") as new:
        for name, part in _files(old):
            if name == "docProps/core.xml":
                stamp = day.strftime("%Y-%m-%dT%H:%M:%SZ").encode()
                part = re.sub(rb"(<dcterms:modified[^>]*>)[^<]*", rb"\g<1>" + stamp, part)
            info = zipfile.ZipInfo(name, EPOCH)
            info.compress_type = zipfile.ZIP_DEFLATED
            info.create_system = 3
            new.writestr(info, part)
    return sink.getvalue()


def _files(packed: zipfile.ZipFile) -> Iterator[tuple[str, bytes]]:
    for info in packed.infolist():
        yield info.filename, packed.read(info)
