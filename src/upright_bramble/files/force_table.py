"""Forces found elsewhere: tables whose header names quantity and unit, as envelopes or by combination and
station."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

import numpy as np

from upright_bramble.beam import ForceLine
from upright_bramble.core.quantities import SYSTEMS, along, parse
from upright_bramble.errors import Fault, UnitError
from upright_bramble.files.table_rows import MAXIMUM_BYTES as MAXIMUM_BYTES
from upright_bramble.files.table_rows import Rows, read_rows
from upright_bramble.files.yaml_source import nearest
from upright_bramble.text import hidden

MAXIMUM_LINES, MAXIMUM_STATIONS = 4_000, 4_000  # combinations of a table, stations of a span in one of them
HEADER = re.compile(r"^\s*([A-Za-z_]+)\s*(?:[\[(]\s*([^\])]+?)\s*[\])])?\s*$")
_QUANTITY = {"x": "span", "M": "moment", "M_max": "moment", "M_min": "moment", "V": "force", "V_max": "force",
    "V_min": "force",
             "T": "moment", "N": "force"}  # fmt: skip
_ENVELOPE = ("span", "x", "M_max", "M_min", "V_max", "V_min")
_LINES = ("combination", "span", "x", "M", "V")


@dataclass(frozen=True)
class SpanOf:
    """What a table must cover: names of spans and their lengths (mm)."""

    names: dict[str, int]
    lengths: tuple[float, ...]


def read_table(path: Path, spans: SpanOf, several: bool = False) -> tuple[list[ForceLine], list[Fault]]:
    """The lines of one table, or its faults. An envelope gives two lines, which are not in equilibrium by
    themselves.

    `several`: tables are laid over one another, and each line says which one it is of.
    """
    table, faults = read_rows(path)
    if table is None:
        return [], faults
    if len(table.rows) < 2:
        return [], [Fault(path.name, 1, "", "has no numbers: a header and a row a station are needed")]
    return _Table(table, spans, several).read(table.rows)


class _Table:
    def __init__(self, table: Rows, spans: SpanOf, several: bool = False) -> None:
        self.table, self.name, self.spans, self.several = table, table.name, spans, several
        self.faults: list[Fault] = []

    def wrong(self, line: int, key: str, text: str) -> None:
        if len(self.faults) < 50:
            self.faults.append(Fault(self.name, line, key, text))

    def read(self, rows: Sequence[tuple[int, Sequence[str]]]) -> tuple[list[ForceLine], list[Fault]]:
        columns = self._header(*rows[0])
        if self.faults:
            return [], self.faults
        by_line = "combination" in columns
        result: dict[str, dict[int, list[tuple[float, ...]]]] = {}
        more: list[str] = [k for k in ("T", "N") if k in columns]
        wanted = (*(("M", "V") if by_line else ("M_max", "M_min", "V_max", "V_min")), *more)
        for line, row in rows[1:]:
            strange = next(filter(None, map(hidden, row)), None)
            if strange is not None:
                self.wrong(line, "", f"holds the character {strange}, which is not text; take it out")
                continue
            values = self._row(line, row, columns, wanted)
            if values is None:
                continue
            label, span, numbers = values
            if not by_line and (numbers[1] < numbers[2] or numbers[3] < numbers[4]):
                name = "M" if numbers[1] < numbers[2] else "V"
                self.wrong(line, f"{name}_max", f"is less than {name}_min")
            stations = result.setdefault(label, {}).setdefault(span, [])
            if stations and numbers[0] < stations[-1][0] - 1e-6:
                self.wrong(
                    line,
                    "x",
                    f"jumps back from {along(stations[-1][0])} to {along(numbers[0])}; list each span from "
                    "left to right",
                )
            stations.append(numbers)
        self._covered(result)
        if self.faults:
            return [], self.faults
        lines: list[ForceLine] = []
        for label, spans in result.items():
            parts = [np.array(spans[k]).T for k in range(len(self.spans.lengths))]
            if by_line:
                label = f"{label}; {self.name}" if self.several else label
                lines.append(_line(label, parts, 1, 2, {k: 3 + i for i, k in enumerate(more)}, True))
            else:
                rest = {k: 5 + i for i, k in enumerate(more)}
                lines += [
                    _line(f"largest of {self.name}", parts, 1, 3, rest, False),
                    _line(f"smallest of {self.name}", parts, 2, 4, rest, False),
                ]
        return lines, []

    def _header(self, line: int, cells: Sequence[str]) -> dict[str, tuple[int, float]]:
        """Column number and size of its unit, by quantity."""
        columns: dict[str, tuple[int, float]] = {}
        known = [*_ENVELOPE, "combination", "M", "V", "T", "N"]
        for number, cell in enumerate(cells):
            match = HEADER.match(cell)
            name = match.group(1) if match else ""
            if name not in known:
                self.wrong(line, cell.strip()[:30], "is not a valid column" + nearest(name, known))
                continue
            if name in columns:
                self.wrong(line, name, "is given twice")
            quantity = _QUANTITY.get(name)
            unit = match.group(2) if match else None
            size = 1.0
            if quantity is not None and unit is None:
                self.wrong(line, name, f"has no unit; such as '{name} [{SYSTEMS['si'].unit(quantity)}]'")
            elif quantity is not None:
                try:
                    size = parse(f"1 {unit}", quantity, SYSTEMS["si"])
                except UnitError as error:
                    self.wrong(line, name, str(error))
            columns[name] = (number, size)
        wanted = _LINES if "combination" in columns else _ENVELOPE
        for name in wanted:
            if name not in columns:
                self.wrong(line, name, "is missing; a table has " + ", ".join(wanted))
        return columns

    def _row(
        self, line: int, row: Sequence[str], columns: dict[str, tuple[int, float]], wanted: tuple[str, ...]
    ) -> tuple[str, int, tuple[float, ...]] | None:
        def cell(name: str) -> str:
            number = columns[name][0]
            return row[number].strip() if number < len(row) else ""

        span = self.spans.names.get(cell("span"))
        if span is None:
            name = cell("span")[:30]
            self.wrong(
                line,
                "span",
                f"'{name}' is not a valid span (valid: {', '.join(list(self.spans.names)[:12])})",
            )
            return None
        numbers = []
        for name in ("x", *wanted):
            try:
                value = self.table.number(cell(name)) * columns[name][1]
            except ValueError:
                self.wrong(line, name, f"'{cell(name)[:30]}' is not a number")
                return None
            if not np.isfinite(value) or abs(value) > 1e15:
                self.wrong(line, name, f"'{cell(name)[:30]}' is not a usable number")
                return None
            numbers.append(value)
        if not -0.5 <= numbers[0] <= self.spans.lengths[span] + 0.5:
            self.wrong(
                line,
                "x",
                f"{along(numbers[0])} lies outside the span, which is {along(self.spans.lengths[span])} long",
            )
            return None
        return cell("combination") if "combination" in columns else "", span, tuple(numbers)

    def _covered(self, result: dict[str, dict[int, list[tuple[float, ...]]]]) -> None:
        """Every line covers every span from end to end."""
        if len(result) > MAXIMUM_LINES:
            self.wrong(
                0,
                "combination",
                f"{len(result):,} of them are given; {MAXIMUM_LINES:,} are read: give extremes, or fewer",
            )
            return
        for label, spans in result.items():
            of = f" of '{label[:40]}'" if label else ""
            for k, length in enumerate(self.spans.lengths):
                stations = spans.get(k, [])
                if len(stations) > MAXIMUM_STATIONS:
                    self.wrong(
                        0,
                        f"span {k + 1}",
                        f"has {len(stations):,} stations{of}; {MAXIMUM_STATIONS:,} are read",
                    )
                    continue
                if len(stations) < 3 or stations[0][0] > 1.0 or stations[-1][0] < length - 1.0:
                    covered = (
                        f"{along(stations[0][0])} to {along(stations[-1][0])}" if stations else "nothing"
                    )
                    self.wrong(
                        0,
                        f"span {k + 1}",
                        f"{covered}{of} is given; stations from 0 to {along(length)} are needed",
                    )


def _line(
    label: str, parts: list[np.ndarray], moment: int, shear: int, more: dict[str, int], together: bool
) -> ForceLine:
    """A line from columns of numbers; `more`: columns of torsion and axial force, where there are any."""

    def column(number: int) -> tuple[np.ndarray, ...]:
        return tuple(np.asarray(p[number]) for p in parts)

    torsion, axial = (column(more[k]) if k in more else () for k in ("T", "N"))
    return ForceLine(label, column(0), column(moment), column(shear), together, torsion, axial)
