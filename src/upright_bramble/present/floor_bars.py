"""One bar schedule for many beams: the lines of all, totals by size, and how the pieces are cut from stock
lengths."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from upright_bramble.files.tables import csv_text
from upright_bramble.present.palette import BERRY
from upright_bramble.present.schedule import Line, Schedule, cells, headings
from upright_bramble.present.terminal import plain

if TYPE_CHECKING:
    from rich.console import Console


@dataclass(frozen=True)
class Pattern:
    """`number` stock bars cut alike: lengths (mm, the longest first) with how many of each one gives."""

    number: int
    pieces: tuple[tuple[float, int], ...]

    @property
    def used(self) -> float:
        """Of one stock bar, mm."""
        return sum(length * count for length, count in self.pieces)


@dataclass(frozen=True)
class Cutting:
    """Stock bars of one size: `stock` length (mm), how they are cut, and what is left over as a share of what
    is delivered."""

    size: str
    stock: float
    patterns: tuple[Pattern, ...]

    @property
    def bars(self) -> int:
        return sum(p.number for p in self.patterns)

    @property
    def waste(self) -> float:
        return (
            1.0 - sum(p.number * p.used for p in self.patterns) / (self.bars * self.stock)
            if self.bars
            else 0.0
        )


def cut(pieces: Sequence[tuple[float, int]], stock: float) -> tuple[Pattern, ...]:
    """Pieces (length, number; mm) cut from stock bars: each bar takes the longest piece that still fits,
    again and again, and the same cut is repeated as long as there are pieces for it. Longer pieces than the
    stock take a bar of their own.

    >>> [(p.number, p.pieces) for p in cut([(5000.0, 3), (2000.0, 4)], 12000.0)]
    [(1, ((5000.0, 2), (2000.0, 1))), (1, ((5000.0, 1), (2000.0, 3)))]
    """
    left: dict[float, int] = {}
    for length, number in pieces:
        if length > 0.0:
            left[length] = left.get(length, 0) + number
    lengths = sorted(left, reverse=True)
    result = []
    while any(left.values()):
        room = stock
        taken: list[tuple[float, int]] = []
        for length in lengths:
            count = max(min(left[length], int((room + 1e-6) // length)), 0)
            if not taken and left[length] and not count:
                count = 1  # longer than the stock
            if count:
                taken.append((length, count))
                room -= count * length
        number = min(left[length] // count for length, count in taken)
        for length, count in taken:
            left[length] -= number * count
        result.append(Pattern(number, tuple(taken)))
    return tuple(result)


@dataclass(frozen=True)
class FloorSchedule:
    """Schedules of beams, in their order; `stock` lengths by beam (mm)."""

    schedules: tuple[Schedule, ...]
    stock: float

    @property
    def shown(self) -> Schedule:
        """One whose units the floor is shown in: metric, unless all are in inches."""
        return next((s for s in self.schedules if not s.inch), self.schedules[0])

    @property
    def total(self) -> float:
        return round(sum(s.total for s in self.schedules), 3)

    def by_size(self) -> dict[str, list[Line]]:
        """Lines by label of their size, the thinnest first."""
        result: dict[str, list[Line]] = {}
        for s in self.schedules:
            for v in s.lines:
                result.setdefault(s.label(v.size), []).append(v)
        return dict(sorted(result.items(), key=lambda item: (_diameter(item[1]), item[0])))

    def cutting(self) -> list[Cutting]:
        """Of every size."""
        return [
            Cutting(label, self.stock, cut([(v.cut_length, v.number) for v in lines], self.stock))
            for label, lines in self.by_size().items()
        ]


def _diameter(lines: Sequence[Line]) -> float:
    """From mass and length: sizes of several catalogues in one order."""
    length = sum(v.number * v.cut_length for v in lines)
    return sum(v.mass for v in lines) / length if length else 0.0


def _head(s: FloorSchedule) -> list[str]:
    return ["beam", *headings(s.shown)]


def _rows(s: FloorSchedule) -> list[tuple[object, ...]]:
    shown = s.shown
    return [(v.beam, *cells(shown, line)) for v in s.schedules for line in v.lines]


def floor_schedule_csv(s: FloorSchedule) -> bytes:
    return csv_text(_head(s), _rows(s)).encode()


def floor_schedule_xlsx(s: FloorSchedule) -> bytes:
    from upright_bramble.present.workbook import workbook

    shown = s.shown
    rows: list[Sequence[object]] = [_head(s), *_rows(s), []]
    rows += [
        [
            "",
            "total",
            label,
            sum(v.number for v in lines),
            *[""] * 9,
            float(shown.mass(sum(v.mass for v in lines))),
        ]
        for label, lines in s.by_size().items()
    ]
    rows += [[], ["", "cutting", "size", "stock bars", "", "each"]]
    for c in s.cutting():
        rows += [["", "", c.size, p.number, "", _pieces(shown, p)] for p in c.patterns]
        rows.append(
            [
                "",
                "",
                c.size,
                c.bars,
                "",
                f"from {shown.length(c.stock)} {shown.unit}, {100 * c.waste:.1f} % left over",
            ]
        )
    return workbook("bars", rows, header=1, widths=(10, 8, 14, 9, 8, 9, 9, 9, 9, 9, 10, 11, 12, 11))


def _pieces(shown: Schedule, p: Pattern) -> str:
    return " + ".join(
        f"{n} x {shown.length(length)}" if n > 1 else shown.length(length) for length, n in p.pieces
    )


def floor_schedule_data(s: FloorSchedule) -> dict[str, Any]:
    """As plain data, mm and kg."""
    return {
        "format": "upright-bramble/floor-schedule",
        "version": 1,
        "total_kg": s.total,
        "bars": [
            {
                "beam": v.beam,
                "mark": line.mark,
                "what": line.what,
                "size": line.size,
                "number": line.number,
                "shape_code": line.shape,
                "dimensions_mm": dict(line.dimensions),
                "mandrel_mm": line.mandrel,
                "cut_length_mm": line.cut_length,
                "mass_kg": line.mass,
            }
            for v in s.schedules
            for line in v.lines
        ],
        "sizes": [_cutting_data(c, s.by_size()[c.size]) for c in s.cutting()],
    }


def _cutting_data(c: Cutting, lines: Sequence[Line]) -> dict[str, Any]:
    cuts = [
        {"bars": p.number, "pieces": [{"length_mm": length, "number": n} for length, n in p.pieces]}
        for p in c.patterns
    ]
    return {
        "size": c.size,
        "mass_kg": round(sum(v.mass for v in lines), 3),
        "stock_length_mm": c.stock,
        "stock_bars": c.bars,
        "left_over": round(c.waste, 4),
        "cutting": cuts,
    }


def floor_schedule_file(s: FloorSchedule, kind: str) -> bytes:
    """As csv, xlsx or json."""
    if kind == "csv":
        return floor_schedule_csv(s)
    if kind == "xlsx":
        return floor_schedule_xlsx(s)
    return (json.dumps(floor_schedule_data(s), indent=1, ensure_ascii=False) + "\n").encode()


def floor_schedule_table(console: Console, s: FloorSchedule) -> None:
    """On the terminal: a line a beam, then sizes with their cutting."""
    from rich.table import Table

    shown = s.shown
    table = Table(box=None, padding=(0, 1, 0, 0), header_style=f"bold {BERRY}", show_edge=False)
    for name, side in (
        ("beam", "left"),
        ("title", "left"),
        ("marks", "right"),
        ("pieces", "right"),
        (shown.mass_unit, "right"),
    ):
        table.add_column(plain(console, name), justify=side, overflow="fold")  # type: ignore[arg-type]
    for v in s.schedules:
        cells_ = (
            v.beam,
            v.title,
            str(len({line.mark for line in v.lines})),
            str(sum(line.number for line in v.lines)),
            shown.mass(v.total),
        )
        table.add_row(*(plain(console, c) for c in cells_))
    console.print(table)
    console.print()
    sizes = Table(box=None, padding=(0, 1, 0, 0), header_style=f"bold {BERRY}", show_edge=False)
    for name in (
        "size",
        "pieces",
        shown.mass_unit,
        f"stock bars of {shown.length(s.stock)} {shown.unit}",
        "left over",
    ):
        sizes.add_column(plain(console, name), justify="left" if name == "size" else "right")
    known = s.by_size()
    for c in s.cutting():
        lines = known[c.size]
        row = (
            c.size,
            str(sum(v.number for v in lines)),
            shown.mass(sum(v.mass for v in lines)),
            str(c.bars),
            f"{100 * c.waste:.1f} %",
        )
        sizes.add_row(*(plain(console, cell) for cell in row))
    console.print(sizes)
    console.print()
    console.print(plain(console, f"total {shown.mass(s.total)} {shown.mass_unit}"))
