"""Tables that users bring: CSV by comma, semicolon or tab, decimal points or commas, or the first sheet of an
XLSX; rows of text."""

from __future__ import annotations

import csv
import io
import re
import zipfile
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path

from upright_bramble.errors import Fault
from upright_bramble.files.reading import Unreadable, read_bytes, utf8

MAXIMUM_BYTES = 32 * 1024 * 1024
UNPACKED = 256 * 1024 * 1024  # bytes of a workbook when it is unpacked
MAXIMUM_ROWS, MAXIMUM_COLUMNS = 1_000_000, 500
_SEPARATORS = (";", "\t", ",")
_COMMA = re.compile(r"[+-]?\d*,\d+(?:[eE][+-]?\d+)?")
_POINT = re.compile(r"[+-]?\d*\.\d+(?:[eE][+-]?\d+)?")


@dataclass(frozen=True)
class Rows:
    """The rows of a table that hold something, each with its number (from 1); `decimal` is the mark of
    decimals."""

    name: str
    rows: tuple[tuple[int, tuple[str, ...]], ...]
    decimal: str = "."

    def number(self, cell: str) -> float:
        """Raises ValueError for what is no number in this table: thousands marks, underscores, another
        decimal mark."""
        text = cell.strip()
        if "_" in text or ("," in text and self.decimal != ","):
            raise ValueError(text)
        return float(text.replace(",", ".") if self.decimal == "," else text)


def read_rows(path: Path) -> tuple[Rows | None, list[Fault]]:
    """The rows of a table, or why it is none."""
    try:
        data = read_bytes(path, MAXIMUM_BYTES, "table")
        return _rows(path.name, data), []
    except Unreadable as error:
        return None, [Fault(path.name, 0, "", str(error))]
    except _NoTable as error:
        return None, [Fault(path.name, error.line, "", str(error))]


class _NoTable(Exception):
    def __init__(self, text: str, line: int = 0) -> None:
        super().__init__(text)
        self.line = line


@lru_cache(maxsize=8)
def _rows(name: str, data: bytes) -> Rows:
    """Several actions and beams read one table: it is taken apart once."""
    if name.lower().endswith(".xlsx") or data[:4] == b"PK\x03\x04":
        return _workbook(name, data)
    text = utf8(data)
    first = next((line for line in text.splitlines() if line.strip()), "")
    separator = max(_SEPARATORS, key=first.count) if any(c in first for c in _SEPARATORS) else ","
    reader = csv.reader(
        io.StringIO(text, newline=None), delimiter=separator
    )  # a line may end as on any system
    try:
        rows = tuple((reader.line_num, tuple(row)) for row in reader if any(c.strip() for c in row))
    except csv.Error as error:
        raise _NoTable(f"is no table: {error}", reader.line_num) from None
    return Rows(name, rows, _decimal(rows, separator))


def _decimal(rows: tuple[tuple[int, tuple[str, ...]], ...], separator: str) -> str:
    """A comma, where cells have decimal commas and none has a point: '1,234' beside '5.6' is a thousand or a
    mistake."""
    if separator == ",":
        return "."
    cells = [c.strip() for _, row in rows[1:] for c in row]
    return (
        ","
        if any(_COMMA.fullmatch(c) for c in cells) and not any(_POINT.fullmatch(c) for c in cells)
        else "."
    )


def _workbook(name: str, data: bytes) -> Rows:
    """The first sheet, with the values that formulas had when it was saved."""
    import openpyxl

    try:
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            if sum(part.file_size for part in packed.infolist()) > UNPACKED:
                raise _NoTable(f"is larger than {UNPACKED // 2**20} MiB when unpacked, which no table is")
        book = openpyxl.load_workbook(io.BytesIO(data), read_only=True, data_only=True, keep_links=False)
        sheet = book.worksheets[0]
        rows = []
        for number, row in enumerate(sheet.iter_rows(values_only=True, max_col=MAXIMUM_COLUMNS), 1):
            if number > MAXIMUM_ROWS:
                raise _NoTable(f"has more than {MAXIMUM_ROWS:,} rows")
            cells = tuple(_cell(v) for v in row)
            if any(c.strip() for c in cells):
                rows.append((number, cells))
        return Rows(name, tuple(rows))
    except _NoTable:
        raise
    except Exception as error:  # a damaged workbook fails in many ways inside the library
        raise _NoTable(
            f"is no workbook that can be read: {str(error)[:80] or type(error).__name__}"
        ) from None


def _cell(value: object) -> str:
    if value is None:
        return ""
    if isinstance(value, float):
        return str(int(value)) if value.is_integer() and abs(value) < 1e15 else repr(value)
    return str(value)
