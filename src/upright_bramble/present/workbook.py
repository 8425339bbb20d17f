"""A table as a workbook: texts are texts whatever they begin with, and the same input gives the same
bytes."""

from __future__ import annotations

import io
import re
from collections.abc import Sequence


def workbook(title: str, rows: Sequence[Sequence[object]], *, header: int, widths: Sequence[float]) -> bytes:
    """One sheet. Row `header` (from 1) has the heads of the columns and stays in view; the first cell is
    bold; `widths` of the columns."""
    import datetime
    import zipfile

    from openpyxl import Workbook
    from openpyxl.styles import Alignment, Font
    from openpyxl.utils import get_column_letter

    book = Workbook()
    fixed = datetime.datetime(2000, 1, 1)
    book.properties.created = book.properties.modified = fixed
    sheet = book.active
    assert sheet is not None
    sheet.title = title
    for r, row in enumerate(rows, start=1):
        for c, value in enumerate(row, start=1):
            if value == "":
                continue
            cell = sheet.cell(r, c)
            cell.value = value  # type: ignore[assignment]
            if isinstance(value, str):
                cell.data_type = "s"  # never a formula
                cell.quotePrefix = value[:1] in ("=", "+", "-", "@")
    for cell in sheet[header]:
        cell.font = Font(bold=True)
        cell.alignment = Alignment(wrap_text=True)
    sheet["A1"].font = Font(bold=True)
    for number, width in enumerate(widths, start=1):
        sheet.column_dimensions[get_column_letter(number)].width = width
    sheet.freeze_panes = f"A{header + 1}"
    out = io.BytesIO()
    book.save(out)
    again = io.BytesIO()  # packed anew without the time of day
    with zipfile.ZipFile(out) as old, zipfile.ZipFile(again, "w", zipfile.ZIP_DEFLATED) as new:
        for name in sorted(old.namelist()):
            data = old.read(name)
            if name == "docProps/core.xml":
                data = re.sub(rb"(<dcterms:modified[^>]*>)[^<]*", rb"\g<1>2000-01-01T00:00:00Z", data)
            new.writestr(zipfile.ZipInfo(name, (1980, 1, 1, 0, 0, 0)), data, zipfile.ZIP_DEFLATED)
    return again.getvalue()
