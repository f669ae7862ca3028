"""What leaves the house as a file: tables as CSV and XLSX, a page as PDF.

A name that a spreadsheet would take for a formula is none. A page is set with the fonts that ship
with the application, and nothing is fetched for it.
"""

from __future__ import annotations

import csv
import io
import logging
from collections.abc import Sequence
from pathlib import Path
from typing import Any

from django.conf import settings
from openpyxl import Workbook
from openpyxl.styles import Font
from openpyxl.utils import get_column_letter

from spindle_core.formats.pack.tables import inert

WIDEST = 46

Table = Sequence[Sequence[Any]]


def table_csv(rows: Table) -> str:
    """Rows, the heads first, as CSV; None is an empty cell."""
    out = io.StringIO()
    writer = csv.writer(out)
    for row in rows:
        writer.writerow(["" if cell is None else inert(cell) for cell in row])
    return out.getvalue()


def table_xlsx(title: str, rows: Table) -> bytes:
    """Rows, the heads first, as a workbook of one sheet."""
    book = Workbook()
    sheet = book.active
    assert sheet is not None
    sheet.title = title[:31]
    for row in rows:
        sheet.append([inert(cell) for cell in row])
    for cell in sheet[1]:
        cell.font = Font(bold=True)
    sheet.freeze_panes = "B2"
    for number, column in enumerate(zip(*rows, strict=False), start=1):
        longest = max((len(str(cell)) for cell in column if cell is not None), default=8)
        sheet.column_dimensions[get_column_letter(number)].width = min(WIDEST, longest + 2)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def _faces() -> str:
    """The fonts of the application, where it was built; the system's where it was not."""
    found = []
    for style, weight in (("normal", 400), ("normal", 700), ("italic", 400)):
        pattern = f"assets/b612-latin-{weight}-{style}-*.woff2"
        for path in sorted(Path(settings.WEB_BUILD).glob(pattern))[:1]:
            found.append(
                f"@font-face {{ font-family: B612; font-weight: {weight}; font-style: {style}; "
                f"src: url({path.as_uri()}) }}"
            )
    return "\n".join(found)


STYLE = """
@page { size: A4; margin: 14mm 14mm 16mm;
  @bottom-right { content: counter(page) ' / ' counter(pages); font: 8pt B612, sans-serif } }
body { font: 9pt/1.4 B612, 'DejaVu Sans', sans-serif; color: #1c2a2f }
h1 { font-size: 16pt; margin: 0 0 2mm } h2 { font-size: 11pt; margin: 4mm 0 1mm }
p { margin: 0 0 1.5mm } ul { margin: 0; padding-left: 5mm }
table { width: 100%; border-collapse: collapse; margin: 1mm 0 }
th { text-align: left; font-weight: 400; color: #4d5c62; border-bottom: .4pt solid #4d5c62 }
td, th { padding: .6mm 2mm .6mm 0; vertical-align: baseline }
td { border-bottom: .3pt solid #e8e3d8 }
.num { text-align: right } .soft { color: #4d5c62 } .est { font-style: italic }
.pick { border-left: 2pt solid #a6501f; padding-left: 3mm; margin: 1mm 0 }
"""


def page_pdf(body: str) -> bytes:
    """An HTML body as PDF. ``body`` is ours: what people wrote in it has been escaped."""
    # The library is only loaded where a page is set: it takes its time.
    from weasyprint import HTML
    from weasyprint.urls import URLFetcher

    for noisy in ("weasyprint", "fontTools"):
        logging.getLogger(noisy).setLevel(logging.ERROR)
    html = f"<html><head><style>{_faces()}{STYLE}</style></head><body>{body}</body></html>"
    only_files = URLFetcher(allowed_protocols={"file"})
    pdf: bytes = HTML(string=html, url_fetcher=only_files).write_pdf()
    return pdf
