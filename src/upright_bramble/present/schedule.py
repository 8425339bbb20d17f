"""The bar schedule: a row a mark, with shape, bending dimensions, cut length, number and mass; totals by
size."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Any

from upright_bramble.core.bars import counted
from upright_bramble.files.result_file import ResultFile
from upright_bramble.files.tables import csv_text
from upright_bramble.present.checks import verdict_line
from upright_bramble.present.palette import BERRY
from upright_bramble.present.terminal import plain

if TYPE_CHECKING:
    from rich.console import Console

KG = 0.45359237
RULES = {
    "metric": (
        "cut lengths: sum of the outer dimensions, less r/2 + ø for each 90° bend; hooks along the axis "
        "(ISO 3766)"
    ),
    "inch": (
        "cut lengths: sum of the outer dimensions, less r/2 + d_b for each 90° bend; hooks along the axis"
    ),
}


@dataclass(frozen=True)
class Line:
    """One mark: `number` alike pieces; lengths in mm, `mass` of all in kg."""

    mark: str
    what: str
    size: str
    number: int
    shape: str
    dimensions: tuple[tuple[str, float], ...]
    cut_length: float
    mass: float
    mandrel: float = 0.0

    @property
    def sides(self) -> dict[str, tuple[float, ...]]:
        """Dimensions by letter, mm: one value, or the first and the last of pieces that vary."""
        known = dict(self.dimensions)
        return {
            k: (v, known[f"{k}_last"]) if f"{k}_last" in known else (v,)
            for k, v in known.items()
            if not k.endswith("_last")
        }


@dataclass(frozen=True)
class Schedule:
    """Lines in the order of fixing, and what the numbers stand in."""

    beam: str
    title: str
    labels: Mapping[str, str]
    inch: bool
    lines: tuple[Line, ...]
    verdict: str = ""

    def label(self, size: str) -> str:
        """Of a bar size, as every output has it."""
        return self.labels.get(size, size)

    @property
    def rule(self) -> str:
        """How cut lengths are found."""
        return RULES["inch" if self.inch else "metric"]

    @property
    def total(self) -> float:
        """kg."""
        return round(sum(v.mass for v in self.lines), 3)

    def by_size(self) -> dict[str, float]:
        """kg by size, the thinnest first."""
        result: dict[str, float] = {}
        for v in sorted(
            self.lines, key=lambda v: (float(v.size) if v.size.replace(".", "").isdigit() else 0.0, v.size)
        ):
            result[v.size] = round(result.get(v.size, 0.0) + v.mass, 3)
        return result

    def length(self, mm: float) -> str:
        """In the schedule's unit: whole mm, or inches to a quarter."""
        if not self.inch:
            return f"{mm:.0f}"
        return f"{round(mm / 25.4 * 4.0) / 4.0:g}"

    def side(self, lengths: Sequence[float]) -> str:
        """A dimension; of pieces that vary 'first to last'."""
        return " to ".join(self.length(v) for v in lengths)

    @property
    def unit(self) -> str:
        return "in" if self.inch else "mm"

    def mass(self, kg: float) -> str:
        return f"{kg / KG:.1f}" if self.inch else f"{kg:.2f}"

    @property
    def mass_unit(self) -> str:
        return "lb" if self.inch else "kg"


def schedule_of(result: ResultFile) -> Schedule:
    """A line a mark, however many places its pieces go to, of all alike beams together; of stirrups the
    closed ones, then links."""
    lines = [
        Line(
            b.mark,
            f"{b.face} {b.layer}" if b.face != "side" else "sides",
            b.size,
            b.count,
            b.shape_code,
            tuple(b.dimensions_mm.items()),
            b.cut_length_mm,
            b.mass_kg,
            b.mandrel_mm,
        )
        for b in sorted(
            result.bars,
            key=lambda b: ({"bottom": 0, "side": 1, "top": 2}[b.face], b.layer, b.start_mm, b.mark),
        )
    ]
    for z in result.stirrups:
        each = z.cut_length_mm + z.links * z.link_length_mm
        closed = round(z.mass_kg * z.cut_length_mm / each, 3) if z.links else z.mass_kg
        sides = tuple(z.dimensions_mm.items())
        lines.append(
            Line(
                z.mark, "stirrup", z.size, z.count, z.shape_code, sides, z.cut_length_mm, closed, z.mandrel_mm
            )
        )
        if z.links:
            sides = (*((k, v) for k, v in sides if k.startswith("A")), ("B", z.dimensions_mm.get("C", 0.0)))
            rest = round(z.mass_kg - closed, 3)
            lines.append(
                Line(
                    f"{z.mark}a",
                    "link",
                    z.size,
                    z.count * z.links,
                    "33",
                    sides,
                    z.link_length_mm,
                    rest,
                    z.mandrel_mm,
                )
            )
    beam = result.beam
    if beam.quantity > 1:
        lines = [
            replace(v, number=v.number * beam.quantity, mass=round(v.mass * beam.quantity, 3)) for v in lines
        ]
    return Schedule(
        beam.mark,
        beam.full_title,
        beam.labels,
        beam.units == "us",
        _by_mark(lines),
        verdict_line(result.verdict),
    )


def _by_mark(lines: list[Line]) -> tuple[Line, ...]:
    """Pieces of one mark and shape together; what a mark means is said once."""
    together: dict[tuple[object, ...], list[Line]] = {}
    for v in lines:
        together.setdefault((v.mark, v.size, v.shape, v.dimensions, v.cut_length, v.mandrel), []).append(v)
    result = []
    for alike in together.values():
        what = ", ".join(dict.fromkeys(v.what for v in alike))
        result.append(
            replace(
                alike[0],
                what=what,
                number=sum(v.number for v in alike),
                mass=round(sum(v.mass for v in alike), 3),
            )
        )
    return tuple(result)


LETTERS = "ABCD"
"""Dimensions that every schedule has a column for; bent-up bars have more."""


def letters(s: Schedule) -> str:
    """Of the dimensions that its pieces have, a column each."""
    more = {k for v in s.lines for k in v.sides if k not in LETTERS}
    return LETTERS + "".join(sorted(more))


def header(s: Schedule) -> tuple[str, ...]:
    return (
        "mark",
        "what",
        "size",
        "number",
        "shape",
        *letters(s),
        "mandrel",
        "cut length",
        "total length",
        "mass",
    )


def cells(s: Schedule, v: Line) -> tuple[object, ...]:
    """Numbers as numbers, in the schedule's units."""
    known = v.sides
    factor = 25.4 if s.inch else 1.0

    def number(mm: float) -> float:
        return round(mm / factor, 2)

    sides = [
        "" if k not in known else number(known[k][0]) if len(known[k]) == 1 else s.side(known[k])
        for k in letters(s)
    ]
    bent = number(v.mandrel) if v.mandrel else ""
    total = round(v.number * v.cut_length / (304.8 if s.inch else 1e3), 3)
    mass = round(v.mass / KG, 3) if s.inch else v.mass
    return (v.mark, v.what, v.size, v.number, v.shape, *sides, bent, number(v.cut_length), total, mass)


def headings(s: Schedule) -> list[str]:
    """Heads of the columns with their units."""
    units = {
        **dict.fromkeys(letters(s), s.unit),
        "mandrel": s.unit,
        "cut length": s.unit,
        "total length": "ft" if s.inch else "m",
        "mass": s.mass_unit,
    }
    return [f"{name} [{units[name]}]" if name in units else name for name in header(s)]


def schedule_csv(s: Schedule) -> str:
    return csv_text(headings(s), [cells(s, v) for v in s.lines])


def schedule_data(s: Schedule) -> dict[str, Any]:
    """As plain data, mm and kg."""
    return {
        "mark": s.beam,
        "verdict": s.verdict,
        "cut_length_rule": s.rule,
        "bars": [
            {
                "mark": v.mark,
                "what": v.what,
                "size": v.size,
                "number": v.number,
                "shape_code": v.shape,
                "dimensions_mm": dict(v.dimensions),
                "mandrel_mm": v.mandrel,
                "cut_length_mm": v.cut_length,
                "mass_kg": v.mass,
            }
            for v in s.lines
        ],
        "by_size_kg": s.by_size(),
        "total_kg": s.total,
    }


def schedule_xlsx(s: Schedule) -> bytes:
    """A workbook of one sheet; texts are texts whatever they begin with, and the same input gives the same
    bytes."""
    from upright_bramble.present.workbook import workbook

    rows: list[Sequence[object]] = [(f"{s.beam}  {s.title}",), (s.rule,), (s.verdict,), tuple(headings(s))]
    rows += [cells(s, v) for v in s.lines]
    sides = len(letters(s))
    empty = [""] * (sides + 5)
    rows += [(), *(("", "total", size, *empty, _in_unit(s, kg)) for size, kg in s.by_size().items())]
    rows.append(("", "total", "", *empty, _in_unit(s, s.total)))
    return workbook("bars", rows, header=4, widths=(8, 14, 7, 8, 7, *[9] * sides, 9, 11, 12, 11))


def _in_unit(s: Schedule, kg: float) -> float:
    return round(kg / KG, 3) if s.inch else kg


def schedule_table(console: Console, s: Schedule) -> None:
    """On the terminal."""
    from rich.table import Table

    console.print(plain(console, f"{s.beam}  {s.title}"), style="bold")
    console.print(plain(console, f"     {s.rule}; lengths in {s.unit}"), style="dim")
    console.print(plain(console, f"     {s.verdict}"), style="dim")
    console.print()
    table = Table(box=None, padding=(0, 1, 0, 0), header_style=f"bold {BERRY}", show_edge=False)
    for name, justify in (
        ("mark", "left"),
        ("what", "left"),
        ("bars", "right"),
        ("shape", "left"),
        ("dimensions", "left"),
        ("mandrel", "right"),
        ("cut", "right"),
        (s.mass_unit, "right"),
    ):
        table.add_column(name, justify=justify, no_wrap=name != "what")  # type: ignore[arg-type]
    for v in s.lines:
        sides = " ".join(f"{k} {s.side(lengths)}" for k, lengths in v.sides.items())
        bars = counted(v.number, s.label(v.size))
        bent = s.length(v.mandrel) if v.mandrel else ""
        table.add_row(
            *(
                plain(console, t)
                for t in (v.mark, v.what, bars, v.shape, sides, bent, s.length(v.cut_length), s.mass(v.mass))
            )
        )
    console.print(table)
    console.print()
    sizes = ", ".join(f"{s.label(size)} {s.mass(kg)}" for size, kg in s.by_size().items())
    console.print(plain(console, f"total {s.mass(s.total)} {s.mass_unit}: {sizes}"))
