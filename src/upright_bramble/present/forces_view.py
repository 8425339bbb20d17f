"""Forces on the terminal: reactions, peaks with what makes them, combinations, and envelopes sketched in
plain characters."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

import numpy as np

from upright_bramble.beam import Beam
from upright_bramble.present.numbers import Shown, shown_for, significant
from upright_bramble.present.palette import BERRY
from upright_bramble.present.terminal import plain

if TYPE_CHECKING:
    from rich.console import Console

    from upright_bramble.analysis import Envelope, Forces
    from upright_bramble.codes import DesignCode
    from upright_bramble.section.arrays import Array


def forces_summary(
    console: Console, beam: Beam, forces: Forces, level: str, action: str | None = None
) -> None:
    """Reactions, peaks with what makes them, and a sketch of the envelopes."""
    from rich.table import Table

    units, e, at = shown_for(beam), forces.envelopes[level], forces.stations
    console.print(plain(console, f"{beam.mark}  {beam.title}"), style="bold")
    both = forces.redistributed is not None and level == "strength" and action is None
    what = f"{level.replace('_', '-')} level, {len(e.labels)} sets of forces" + (
        ", elastic; after redistribution below" if both else ", elastic"
    )
    console.print(
        plain(console, f"     {what if action is None else f'{action} alone, unfactored'}"), style="dim"
    )
    for key, value in beam.code_values.items():
        console.print(plain(console, f"     {key} = {value:g} is yours, not the code's"), style="dim")
    console.print()
    table = Table(box=None, padding=(0, 2, 0, 0), header_style=f"bold {BERRY}", show_edge=False)
    for i, name in enumerate(
        ("support", f"reaction max {units.unit('force')}", "min", f"moment min {units.unit('moment')}")
    ):
        table.add_column(plain(console, name), justify="right" if i else "left")
    for s, support in enumerate(beam.supports):
        near = np.abs(at.x - support.x) < 1e-6
        values = (e.reaction_max[s], e.reaction_min[s])
        table.add_row(
            support.name,
            *(significant(units.value(float(v), "force")) for v in values),
            significant(units.value(float(e.moment_min[near].min()), "moment")),
        )
    console.print(table)
    if beam.given:
        console.print("forces from tables: loads are not known, so reactions cannot be held against them")
    balance = float(np.abs(forces.responses.reaction.sum(axis=1) - forces.responses.load).max())
    total = float(np.abs(forces.responses.load).sum())
    word = "balance" if balance <= 1e-9 * max(total, 1.0) + 1e-6 else "DO NOT balance"
    if not beam.given:
        console.print(f"reactions and loads {word}: {units.text(total, 'force')} of load over all cases")
    console.print()
    _peak_table(console, beam, forces, e, units, "elastic peaks" if both else "")
    if both and forces.redistributed is not None:
        console.print()
        _peak_table(console, beam, forces, forces.redistributed, units, "peaks after redistribution")
    if action is None:
        _governing_sets(console, beam, forces, level)
    console.print()
    twisted = (
        [(f"torsion {units.unit('moment')}", e.torsion_.high, e.torsion_.low)]
        if forces.responses.twisted
        else []
    )
    for title, high_, low_ in (
        (f"moment {units.unit('moment')}, sagging below", -e.moment_min, -e.moment_max),
        (f"shear {units.unit('force')}", e.shear_max, e.shear_min),
        *twisted,
    ):
        console.print(plain(console, title), style=BERRY)
        scale = units.system.factor("force" if title.startswith("shear") else "moment")
        for line in sketch(
            at.x,
            high_ / scale,
            low_ / scale,
            min(console.width, 100),
            -1.0 if title.startswith("moment") else 1.0,
        ):
            console.print(line)
        console.print(_supports_line(beam, at.x, min(console.width, 100)))
        console.print()


def _peak_table(console: Console, beam: Beam, forces: Forces, e: Envelope, units: Shown, title: str) -> None:
    """Greatest moments, shear and torsion of each span."""
    from rich.table import Table

    at = forces.stations
    if title:
        console.print(title, style=f"bold {BERRY}")
    table = Table(box=None, padding=(0, 2, 0, 0), header_style=f"bold {BERRY}", show_edge=False)
    for i, name in enumerate(
        (
            "span",
            f"M max {units.unit('moment')}",
            f"at {units.unit('span')}",
            f"M min {units.unit('moment')}",
            f"at {units.unit('span')}",
            f"V max {units.unit('force')}",
            *([f"T max {units.unit('moment')}"] if forces.responses.twisted else []),
        )
    ):
        table.add_column(plain(console, name), justify="right" if i else "left")
    for index in range(len(beam.spans)):
        rows = at.of(index)
        high, low = int(e.moment_max[rows].argmax()), int(e.moment_min[rows].argmin())
        table.add_row(
            str(index + 1),
            significant(units.value(float(e.moment_max[rows][high]), "moment")),
            f"{units.value(float(at.local[rows][high]), 'span'):.2f}",
            significant(units.value(float(e.moment_min[rows][low]), "moment")),
            f"{units.value(float(at.local[rows][low]), 'span'):.2f}",
            significant(units.value(float(e.shear[rows].max()), "force")),
            *(
                [significant(units.value(float(e.torsion[rows].max()), "moment"))]
                if forces.responses.twisted
                else []
            ),
        )
    console.print(table)


def _governing_sets(console: Console, beam: Beam, forces: Forces, level: str) -> None:
    """Which combination and arrangement makes each peak."""
    e, at = forces.envelopes[level], forces.stations
    console.print()
    for index in range(len(beam.spans)):
        rows = at.of(index)
        if e.moment_max[rows].max() > 1e3:
            i = rows.start + int(e.moment_max[rows].argmax())
            console.print(plain(console, f"M max span {index + 1}: {e.labels[e.moment.high_by[i]]}"))
    for support in beam.supports:
        near = np.flatnonzero(np.abs(at.x - support.x) < 1e-6)
        i = int(near[e.moment_min[near].argmin()])
        if e.moment_min[i] < -1e3:
            console.print(plain(console, f"M min {support.name}: {e.labels[e.moment.low_by[i]]}"))


def combinations_list(console: Console, beam: Beam, forces: Forces, code: DesignCode) -> None:
    """Every combination by level, and the arrangements that each is tried under."""
    console.print(plain(console, f"{beam.mark}  {beam.title}; {code.title}"), style="bold")
    for level in forces.envelopes:
        rows = forces.rows[level]
        names = list(dict.fromkeys(row.combination.name for row in rows))
        console.print()
        console.print(
            f"{level.replace('_', '-')}: {len(names)} combinations, {len(rows)} sets of forces",
            style=f"bold {BERRY}",
        )
        for name in names:
            console.print(plain(console, f"  {name}"))
    arrangements = ", ".join(
        dict.fromkeys(row.arrangement for level in forces.envelopes for row in forces.rows[level])
    )
    console.print()
    worst = beam.arrangements == "every"
    console.print(
        plain(
            console, "each span loaded wherever that is worse" if worst else f"arrangements: {arrangements}"
        )
    )


def sketch(x: Array, high: Array, low: Array, width: int, sign: float = 1.0, rows: int = 11) -> list[str]:
    """An envelope in plain characters: ':' between its two lines, '-' the axis, largest values at the left,
    with `sign` where the picture stands upside down."""
    left = 9
    columns = width - left
    places = np.linspace(x[0], x[-1], columns)
    order = np.argsort(x, kind="stable")
    top = np.maximum(_column_extreme(x[order], high[order], places, np.maximum), 0.0)
    bottom = np.minimum(_column_extreme(x[order], low[order], places, np.minimum), 0.0)
    highest, lowest = float(top.max()), float(bottom.min())
    span = max(highest - lowest, 1e-12)
    edges = highest - span * (np.arange(rows) + 0.5) / rows
    zero = int(np.abs(edges).argmin())
    lines = []
    for r, level in enumerate(edges):
        cells = np.where((level <= top) & (level >= bottom), ":", " ")
        if r == zero:
            cells = np.where(cells == " ", "-", "+")
        label = highest if r == 0 else lowest if r == rows - 1 else 0.0 if r == zero else None
        text = "" if label is None else significant(sign * label)
        lines.append(f"{text:>{left - 1}} " + "".join(cells))
    return lines


def _column_extreme(x: Array, values: Array, places: Array, best: Any) -> Array:
    half = 0.5 * (places[1] - places[0])
    result = np.interp(places, x, values)
    for i, place in enumerate(places):
        inside = values[(x >= place - half) & (x <= place + half)]
        if len(inside):
            result[i] = best(result[i], best.reduce(inside))
    return result


def _supports_line(beam: Beam, x: Array, width: int) -> str:
    columns = width - 9
    cells = [" "] * (columns + 1)
    for s in beam.supports:
        i = round(float((s.x - x[0]) / (x[-1] - x[0])) * (columns - 1))
        for k, letter in enumerate(s.name[:6]):
            if i + k < columns:
                cells[i + k] = letter
    return " " * 9 + "".join(cells).rstrip()
