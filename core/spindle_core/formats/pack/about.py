"""The README of a pack, for who opens it without knowing where it comes from."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from spindle_core.figures.quantities import QUANTITIES
from spindle_core.formats.pack.tables import Table


def readme(index: Mapping[str, Any], tables: Sequence[Table]) -> str:
    """What the pack is, what its files are, what its numbers mean; Markdown that reads as text."""
    issued = index["publication"]
    bench = index["bench"]
    lines = [
        f"# {issued['subject']}",
        "",
        f"{issued['sentence'] or 'No sentence was written.'}",
        "",
        f"Measured by {bench['name']}, edition {issued['edition']} of {issued['issued_on']}."
        + (f" Published at {bench['address']}." if bench["address"] else ""),
        "",
        f"Licence: {index['licence'] or 'nobody said under which; ask the bench.'}",
        "",
        f"Evidence: {index['grade']['label']}. {index['grade']['line']}",
        "",
    ]
    if index["disclosure"]:
        lines += ["Disclosure:", "", *(f"- {line}" for line in index["disclosure"]), ""]
    if issued["corrections"]:
        lines += ["## Corrections", ""]
        lines += [
            f"- Edition {one['edition']}, {one['on']}: {one['changed']} {one['why']}".rstrip()
            for one in issued["corrections"]
        ]
        lines.append("")
    lines += [
        "## What is in it",
        "",
        "- `pack.json`: all of it for programs, `bench-pack/1`; its schema lies beside it.",
        "- `logs/`: every sample of every run, as CSV (`bench-log/1`) and as Parquet.",
        "- `results/`: what each run was reduced to, with every part of its uncertainty.",
        *(f"- `{one.name}.csv`, `{one.name}.parquet`: {one.what.lower()}." for one in tables),
        "- `tables.xlsx`: these tables as sheets of one workbook.",
        "- `verdict.txt`, `verdict.json`: what the bench says of it.",
        "- `photos/`: pictures, where there are any.",
        "- `checksums.sha256`: `sha256sum -c checksums.sha256` says whether all is as packed.",
        "",
        "## How to read the numbers",
        "",
        "- u is the standard uncertainty (k = 1), in the unit of its figure, all parts together.",
        "  The part that one run shows by itself stands in `results/` as `u`, all as `u_combined`.",
        "- n counts runs. Two figures whose parts in `results/` have one name share that part: it",
        "  cancels in their difference. Parts that begin with `assumed` nobody declared.",
        "- An empty cell was not measured; `absent_because` says why. It is never 0.",
        "- Rejected runs are in it with the reason and count in nothing.",
        "- A name ends in its unit. gf is gram-force, the weight of a gram at 9.80665 m/s².",
        "",
        "| column | what it is | unit |",
        "|---|---|---|",
    ]
    used = dict.fromkeys(
        cell for table in tables for row in table.rows for cell in row[:3] if cell in QUANTITIES
    )
    heads = dict.fromkeys(head for table in tables for head in table.heads if head in QUANTITIES)
    for name in dict.fromkeys([*heads, *used]):
        quantity = QUANTITIES[str(name)]
        lines.append(f"| `{name}` | {quantity.label} | {quantity.unit or '1'} |")
    return "\n".join([*lines, ""])
