"""Many results in one table: a row a beam, for the terminal and as CSV, XLSX, JSON or a page."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import asdict, dataclass, replace
from typing import TYPE_CHECKING, Any

from upright_bramble.core.quantities import SYSTEMS, ratio_text, significant
from upright_bramble.files.result_file import ResultFile
from upright_bramble.present.checks import governing
from upright_bramble.present.palette import BERRY, LEAF, STRAW, THORN
from upright_bramble.present.terminal import plain

if TYPE_CHECKING:
    from rich.console import Console

FORMATS = ("csv", "xlsx", "json", "html")
SORTS = ("file", "mark", "verdict", "ratio", "steel", "cost", "time")
_WORST = {"fail": 0, "incomplete": 1, "pass": 2}


@dataclass(frozen=True)
class Row:
    """A beam in a table: `quantity` alike ones are built, quantities are of one. `place` and `combination` of
    what governs; `change` of its bars, where there were some before. `seconds` is shown, and never written:
    the same input gives the same bytes."""

    mark: str
    title: str
    file: str
    status: str
    check: str = ""
    ratio: float = 0.0
    place: str = ""
    combination: str = ""
    steel_kg: float = 0.0
    steel_kg_per_m3: float = 0.0
    percent: float = 0.0
    concrete_m3: float = 0.0
    cost: float = 0.0
    carbon_kg: float = 0.0
    quantity: int = 1
    change: str = ""
    reason: str = ""
    suggestions: tuple[str, ...] = ()
    units: str = "si"
    seconds: float = 0.0
    current: bool = False
    thumbnail: str = ""


def row_of(r: ResultFile, file: str = "", *, thumbnail: bool = False) -> Row:
    """A result as a row."""
    first, system, q = governing(r), SYSTEMS[r.beam.units], r.quantities
    span, k = system.unit("span"), system.factor("span")
    return Row(
        r.beam.mark,
        r.beam.title,
        file or r.beam_file,
        r.verdict.status,
        first.id,
        first.ratio,
        f"{first.x_mm / k:.2f} {span}",
        first.combination,
        round(q["steel_kg"], 3),
        round(q["steel_kg_per_m3"], 2),
        round(q["percent_most"], 3),
        round(q["concrete_m3"], 4),
        round(q["cost"], 2),
        round(q["carbon_kg"], 2),
        r.beam.quantity,
        "",
        "; ".join(dict.fromkeys(g.topic for g in r.verdict.not_verified)),
        tuple(m.text for m in r.messages if m.text.startswith("suggestion: ")),
        r.beam.units,
        thumbnail=_thumbnail(r) if thumbnail else "",
    )


def _inch_pound(rows: Sequence[Row]) -> bool:
    """Whether all beams speak inches and pounds; of a mixed floor the table is metric."""
    return bool(rows) and all(r.units == "us" for r in rows)


def sorted_rows(rows: Sequence[Row], by: str) -> list[Row]:
    """In the order asked for: verdicts from the worst on, numbers from the greatest on; equals stay as they
    came."""
    keys: dict[str, Any] = {
        "mark": lambda r: r.mark,
        "verdict": lambda r: (_WORST.get(r.status, 3), -r.ratio),
        "ratio": lambda r: -r.ratio,
        "steel": lambda r: -r.steel_kg * r.quantity,
        "cost": lambda r: -r.cost * r.quantity,
        "time": lambda r: -r.seconds,
    }
    return list(rows) if by == "file" else sorted(rows, key=keys[by])


def totals(rows: Sequence[Row]) -> dict[str, Any]:
    """Numbers of beams by verdict, and quantities of all that are built."""
    built = [r for r in rows if r.steel_kg]
    concrete = sum(r.concrete_m3 * r.quantity for r in built)
    steel = sum(r.steel_kg * r.quantity for r in built)
    return {
        "files": len(rows),
        "beams": sum(r.quantity for r in rows),
        **{s: sum(r.status == s for r in rows) for s in _WORST},
        "steel_kg": round(steel, 1),
        "concrete_m3": round(concrete, 2),
        "steel_kg_per_m3": round(steel / concrete, 1) if concrete else 0.0,
        "cost": round(sum(r.cost * r.quantity for r in built), 2),
        "carbon_kg": round(sum(r.carbon_kg * r.quantity for r in built), 1),
    }


# ---------------------------------------------------------------- terminal


def floor_table(
    console: Console, rows: Sequence[Row], seconds: float | None = None, of: int | None = None
) -> None:
    """The table with its totals; combinations where there is room for them. `of` how many beams they were
    chosen, where some are not shown."""
    from rich.table import Table

    if not rows:
        console.print(plain(console, f"none of {of or 0} beams has such a verdict"))
        return

    wide, us = console.width >= 120, _inch_pound(rows)
    table = Table(box=None, padding=(0, 1, 0, 0), header_style=f"bold {BERRY}", show_edge=False)
    columns = [
        ("mark", "left"),
        ("verdict", "left"),
        ("governs", "left"),
        ("ratio", "right"),
        ("at", "right"),
    ]
    columns += [("combination", "left")] * wide + [
        ("lb" if us else "kg", "right"),
        ("lb/yd³" if us else "kg/m³", "right"),
        ("%", "right"),
    ]
    columns += [("cost", "right"), ("carbon kg", "right")] * wide + [("s", "right")]
    for name, side in columns:
        table.add_column(
            plain(console, name),
            justify=side,  # type: ignore[arg-type]
            no_wrap=name not in ("governs", "combination"),
            overflow="fold",
        )
    for r in rows:
        table.add_row(
            *_cells(console, r, wide, us), style={"fail": THORN, "incomplete": STRAW}.get(r.status, "")
        )
    console.print(table)
    console.print()
    for line in _notes(rows):
        console.print(plain(console, line), style="dim")
    style = f"bold {LEAF if all(r.status == 'pass' for r in rows) else THORN}"
    first, rest = _total_line(rows, us, seconds).split("; ", 1)  # verdicts, then quantities
    shown = f"{first} (shown of {of})" if of is not None and of != len(rows) else first
    for line in (shown, rest):
        console.print(plain(console, line), style=style)


def _cells(console: Console, r: Row, wide: bool, us: bool) -> list[str]:
    word = {"fail": "FAIL"}.get(r.status, r.status)
    name = f"{r.mark} x {r.quantity}" if r.quantity > 1 else r.mark
    if not r.steel_kg:
        cells = [name, word, r.reason, "", "", *([""] * wide), "", "", "", *(["", ""] * wide), ""]
    else:
        weight, rate = _in_units(r.steel_kg, r.steel_kg_per_m3, us)
        cells = [
            name,
            word,
            r.check,
            ratio_text(r.ratio),
            r.place,
            *([r.combination] * wide),
            f"{weight:.0f}",
            f"{rate:.0f}",
        ]
        cells += [f"{r.percent:.2f}", *([f"{r.cost:.0f}", f"{r.carbon_kg:.0f}"] * wide)]
        cells += ["-" if r.current else f"{r.seconds:.1f}"]
    return [plain(console, c) for c in cells]


def _in_units(kg: float, kg_per_m3: float, us: bool) -> tuple[float, float]:
    """Steel, and steel by concrete, in the units that are shown."""
    system = SYSTEMS["us" if us else "si"]
    return system.value(kg, "mass"), system.value(kg_per_m3, "mass per volume")


def _notes(rows: Sequence[Row]) -> list[str]:
    """What is not in the columns: beams without bars, what was not verified, what changed."""
    lines = [f"{r.mark}: not verified: {r.reason}" for r in rows if r.status == "incomplete" and r.reason]
    lines += [f"{r.mark}: {text}" for r in rows for text in r.suggestions]
    lines += [f"{r.mark}: bars {r.change}" for r in rows if r.change]
    current = [r.mark for r in rows if r.current]
    if current:
        lines.append(f"up to date, not done again: {_listed(current)} (--again does them anew)")
    return lines


def _listed(marks: Sequence[str], most: int = 8) -> str:
    return ", ".join(marks[:most]) + (f" and {len(marks) - most} more" if len(marks) > most else "")


def _total_line(rows: Sequence[Row], us: bool, seconds: float | None) -> str:
    t = totals(rows)
    parts = [f"{t[s]} {s}" for s in ("pass", "fail", "incomplete") if t[s]]
    beams = f"{t['files']} beam file{'s' * (t['files'] != 1)}" + (
        f", {t['beams']} beams" if t["beams"] != t["files"] else ""
    )
    steel, rate = _in_units(t["steel_kg"], t["steel_kg_per_m3"], us)
    concrete = SYSTEMS["us" if us else "si"].text(t["concrete_m3"], "volume", 4)
    words = (
        f"{beams}: {', '.join(parts)}; steel {significant(steel, 4)} {'lb' if us else 'kg'}, {rate:.0f} "
        f"{'lb/yd³' if us else 'kg/m³'}"
    )
    return f"{words}; concrete {concrete}; cost {t['cost']:.0f}" + (
        f"; {seconds:.1f} s" if seconds is not None else ""
    )


# ---------------------------------------------------------------- files

_COLUMNS = (
    "mark", "title", "file", "quantity", "status", "check", "ratio", "place", "combination", "steel_kg",
    "steel_kg_per_m3", "percent",
    "concrete_m3", "cost", "carbon_kg", "change", "reason",
)  # fmt: skip
_HEADS = {"status": "verdict", "check": "governs", "percent": "steel_percent", "reason": "not_verified"}


def floor_file(rows: Sequence[Row], kind: str, tool: str) -> bytes:
    """A table as a file: csv, xlsx, json or html. The time that a beam took is left out, so that the same
    input gives the same bytes."""
    if kind == "json":
        beams = [
            {
                _HEADS.get(c, c): v
                for c, v in asdict(replace(r, ratio=round(r.ratio, 4))).items()
                if c in _COLUMNS
            }
            for r in rows
        ]
        data = {"format": "upright-bramble/summary", "version": 1, "totals": totals(rows), "beams": beams}
        return (json.dumps(data, indent=1, ensure_ascii=False, allow_nan=False) + "\n").encode()
    head = [_HEADS.get(c, c) for c in _COLUMNS]
    table = [[round(getattr(r, c), 4) if c == "ratio" else getattr(r, c) for c in _COLUMNS] for r in rows]
    if kind == "csv":
        from upright_bramble.files.tables import csv_text

        return csv_text(head, table).encode()
    if kind == "xlsx":
        from upright_bramble.present.workbook import workbook

        return workbook(
            "beams",
            [head, *table, [], *([k, v] for k, v in totals(rows).items())],
            header=1,
            widths=(10, 28, 30),
        )
    return _page(rows, tool)


def _page(rows: Sequence[Row], tool: str) -> bytes:
    from upright_bramble.present.pages import page

    us = _inch_pound(rows)
    shown = [
        {
            **asdict(r),
            "word": r.status,
            "ratio_text": ratio_text(r.ratio) if r.steel_kg else "",
            "steel": f"{_in_units(r.steel_kg, 0.0, us)[0]:.0f}" if r.steel_kg else "",
            "rate": f"{_in_units(0.0, r.steel_kg_per_m3, us)[1]:.0f}" if r.steel_kg else "",
        }
        for r in rows
    ]
    unit = ("lb", "lb/yd³") if us else ("kg", "kg/m³")
    return page("floor.html.j2", rows=shown, total=_total_line(rows, us, None), unit=unit, tool=tool).encode()


def _thumbnail(r: ResultFile) -> str:
    """Demand and resistance in bending along the beam, in a small picture: sagging below the axis."""
    s, width, height = r.stations, 180.0, 44.0
    x = s.x_mm
    step = max(len(x) // 90, 1)
    low, length = x[0], max(x[-1] - x[0], 1.0)
    lines = {
        "d": (s.design.moment_max_kNm, s.design.moment_min_kNm),
        "r": (s.resistance.moment_positive_kNm, s.resistance.moment_negative_kNm),
    }
    size = max(1e-9, *(abs(v) for pair in lines.values() for values in pair for v in values))

    def points(values: Sequence[float]) -> str:
        places = [*range(0, len(x), step), len(x) - 1]
        return " ".join(
            f"{(x[i] - low) / length * width:.1f},{height / 2 + values[i] / size * (height / 2 - 1):.1f}"
            for i in places
        )

    drawn = "".join(
        f'<polyline class="{name}" points="{points(values)}"/>'
        for name, pair in lines.items()
        for values in pair
    )
    axis = f'<line class="a" x1="0" y1="{height / 2:g}" x2="{width:g}" y2="{height / 2:g}"/>'
    return (
        f'<svg viewBox="0 0 {width:g} {height:g}" role="img" aria-label="moment and '
        f'resistance">{axis}{drawn}</svg>'
    )
