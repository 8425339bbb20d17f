"""Alike beams that share a design: a row of ratios for each level."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from upright_bramble.core.quantities import SYSTEMS, ratio_text
from upright_bramble.files.result_file import ResultFile
from upright_bramble.present.palette import BERRY, THORN
from upright_bramble.present.terminal import plain

if TYPE_CHECKING:
    from rich.console import Console

TOPICS = {
    "bending": "bending",
    "shear": "shear",
    "torsion": "torsion",
    "deflection": "deflection",
    "cracking": "cracking",
}


def levels_table(r: ResultFile) -> dict[str, Any]:
    """Head and rows: level, verdict, greatest ratio of each topic, and what governs it where and under which
    combination."""
    topics = [t for t in TOPICS if any(t in level.ratios or _under(level.ratios, t) for level in r.levels)]
    system = SYSTEMS[r.beam.units]
    rows = [
        [
            level.name,
            level.status,
            *(ratio_text(v) if (v := _under(level.ratios, t)) is not None else "" for t in topics),
            level.governing,
            (f"{level.x_mm / system.factor('span'):.2f} {system.unit('span')}"),
            level.combination,
        ]
        for level in r.levels
    ]
    return {
        "head": ["level", "verdict", *(TOPICS[t] for t in topics), "governs", "at", "combination"],
        "rows": rows,
    }


def _under(ratios: dict[str, float], topic: str) -> float | None:
    """Stirrups count with shear."""
    own = [ratios[t] for t in ((topic, "stirrups") if topic == "shear" else (topic,)) if t in ratios]
    return max(own, default=None)


def levels_list(console: Console, r: ResultFile) -> None:
    """On the terminal, without the combinations."""
    from rich.table import Table

    content = levels_table(r)
    table = Table(box=None, padding=(0, 1, 0, 0), header_style=f"bold {BERRY}", show_edge=False)
    for name in content["head"][:-1]:
        words = name not in ("level", "verdict", "governs")
        table.add_column(
            plain(console, name),
            justify="right" if words else "left",
            no_wrap=name != "governs",
            overflow="fold",
        )
    for row in content["rows"]:
        table.add_row(*(plain(console, cell) for cell in row[:-1]), style=THORN if row[1] == "fail" else "")
    console.print(table)
    console.print()
