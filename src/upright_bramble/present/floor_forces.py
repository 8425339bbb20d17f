"""Envelopes of many beams in one table: the greatest moments, shear and reaction of each."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np

from upright_bramble.analysis import Forces
from upright_bramble.beam import Beam
from upright_bramble.core.quantities import SYSTEMS, significant
from upright_bramble.present.palette import BERRY
from upright_bramble.present.terminal import plain

if TYPE_CHECKING:
    from rich.console import Console


@dataclass(frozen=True)
class ForceRow:
    """The extremes of a beam at one level, N and mm, each with its place; the greatest reaction with its
    support."""

    mark: str
    units: str
    sagging: tuple[float, float]
    hogging: tuple[float, float]
    shear: tuple[float, float]
    torsion: float
    reaction: tuple[float, str]


def force_row(beam: Beam, forces: Forces, level: str) -> ForceRow:
    e, at = forces.envelopes[level], forces.stations
    top, low, cut = int(e.moment_max.argmax()), int(e.moment_min.argmin()), int(e.shear.argmax())
    support = int(np.argmax(e.reaction_max))
    return ForceRow(
        beam.mark,
        beam.units,
        (float(e.moment_max[top]), float(at.x[top])),
        (float(e.moment_min[low]), float(at.x[low])),
        (float(e.shear[cut]), float(at.x[cut])),
        float(e.torsion.max(initial=0.0)),
        (float(e.reaction_max[support]), beam.supports[support].name),
    )


def force_rows_data(rows: Sequence[ForceRow]) -> list[dict[str, Any]]:
    """In kN, kNm and mm."""
    return [
        {
            "mark": r.mark,
            "sagging_kNm": round(r.sagging[0] / 1e6, 4),
            "sagging_x_mm": round(r.sagging[1], 1),
            "hogging_kNm": round(r.hogging[0] / 1e6, 4),
            "hogging_x_mm": round(r.hogging[1], 1),
            "shear_kN": round(r.shear[0] / 1e3, 4),
            "shear_x_mm": round(r.shear[1], 1),
            "torsion_kNm": round(r.torsion / 1e6, 4),
            "reaction_kN": round(r.reaction[0] / 1e3, 4),
            "reaction_support": r.reaction[1],
        }
        for r in rows
    ]


def force_rows_table(console: Console, rows: Sequence[ForceRow], level: str) -> None:
    """On the terminal; each beam in the units of its file."""
    from rich.table import Table

    alike = len({r.units for r in rows}) == 1
    system = SYSTEMS[rows[0].units]
    twisted = any(r.torsion for r in rows)
    m, v = (f" {system.unit(q)}" if alike else "" for q in ("moment", "force"))
    table = Table(box=None, padding=(0, 1, 0, 0), header_style=f"bold {BERRY}", show_edge=False)
    heads = [
        "mark",
        f"sagging{m}",
        "at",
        f"hogging{m}",
        "at",
        f"shear{v}",
        "at",
        *([f"torsion{m}"] * twisted),
        f"reaction{v}",
        "",
    ]
    for name in heads:
        table.add_column(plain(console, name), justify="left" if name in ("mark", "") else "right")
    for r in rows:
        own = SYSTEMS[r.units]

        def shown(value: float, quantity: str, own: Any = own) -> str:
            return significant(value / own.factor(quantity)) + ("" if alike else f" {own.unit(quantity)}")

        def place(x: float, own: Any = own) -> str:
            return f"{x / own.factor('span'):.2f} {own.unit('span')}"

        cells = [
            r.mark,
            shown(r.sagging[0], "moment"),
            place(r.sagging[1]),
            shown(r.hogging[0], "moment"),
            place(r.hogging[1]),
        ]
        cells += [shown(r.shear[0], "force"), place(r.shear[1]), *([shown(r.torsion, "moment")] * twisted)]
        table.add_row(*(plain(console, c) for c in (*cells, shown(r.reaction[0], "force"), r.reaction[1])))
    console.print(table)
    console.print()
    console.print(plain(console, f"{len(rows)} beams, {level.replace('_', '-')} level, elastic"), style="dim")
