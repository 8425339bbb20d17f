"""Every value of a result at one place along the beam."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np

from upright_bramble.core.bars import counted
from upright_bramble.core.quantities import SYSTEMS, UnitSystem, parse, significant
from upright_bramble.errors import BrambleError, UnitError
from upright_bramble.files.result_file import BarOut, ResultFile, StirrupOut
from upright_bramble.present.along import in_faces
from upright_bramble.present.checks import verdict_line
from upright_bramble.present.palette import BERRY, STRAW
from upright_bramble.present.terminal import plain

if TYPE_CHECKING:
    from rich.console import Console

_UNITS = {"kNm": ("moment", 1e6), "kN": ("force", 1e3), "mm2": ("area", 1.0), "mm": ("section", 1.0),
    "MPa": ("stress", 1.0),
          "cot": ("number", 1.0), "percent": ("number", 1.0)}  # fmt: skip
_GROUPS = (("strength", "forces, strength, elastic"), ("redistributed", "forces, strength, redistributed"),
           ("design", "forces to design for"), ("steel", "steel"), ("resistance", "resistance"),
           ("shear", "struts, cot theta"), ("deflection", "deflection"), ("crack", "crack width"),
           ("stress", "stress of bars in service"))  # fmt: skip


class NoPlace(BrambleError):
    """A place that the beam does not have."""


@dataclass(frozen=True)
class Place:
    """At x (mm) in span `span` (from 1): values by heading and name with their quantity ('moment', 'force',
    'area', 'section'), in N and mm; the bars and stirrups there."""

    x: float
    span: int
    values: tuple[tuple[str, str, float, str], ...]
    bars: tuple[BarOut, ...]
    stirrups: tuple[StirrupOut, ...]
    unjudged: str = ""
    """Why sections are not judged here; '': they are."""


def places_of(result: ResultFile, text: str) -> list[Place]:
    """'3.25m', a bare number in span units, a support's name (both sides of it), or '2:0.5', a share of a
    span. Raises NoPlace."""
    beam = result.beam
    share = re.fullmatch(r"\s*(\d+)\s*:\s*(\d*\.?\d+)\s*", text)
    for support in beam.supports:
        if text.strip() == support.name:
            return [
                _at(result, support.x_mm, k)
                for k, s in enumerate(beam.spans)
                if support.x_mm in (s.start_mm, s.end_mm)
            ]
    if share:
        number, part = int(share.group(1)), float(share.group(2))
        if not 1 <= number <= len(beam.spans) or part > 1.0:
            raise NoPlace(
                f"'{text}' is not a valid place (valid: spans 1 to {len(beam.spans)}, shares 0 to 1)"
            )
        span = beam.spans[number - 1]
        return [_at(result, span.start_mm + part * (span.end_mm - span.start_mm), number - 1)]
    try:
        x = parse(
            float(text) if re.fullmatch(r"\s*-?\d*\.?\d+\s*", text) else text, "span", SYSTEMS[beam.units]
        )
    except (UnitError, ValueError):
        names = ", ".join(s.name for s in beam.supports)
        raise NoPlace(
            f"'{text[:40]}' is not a valid place (valid: '3.25 m', a support ({names}), 2:0.5)"
        ) from None
    collected = [k for k, s in enumerate(beam.spans) if s.start_mm - 1e-6 <= x <= s.end_mm + 1e-6]
    if not collected:
        raise NoPlace(f"'{text}' lies outside the beam, which is {beam.length_mm / 1e3:g} m long")
    return [_at(result, x, k) for k in collected]


def _at(result: ResultFile, x: float, index: int) -> Place:
    s = result.stations
    own = np.array(s.span) == index + 1
    along = np.array(s.x_mm)[own]
    collected: list[tuple[str, str, float, str]] = []

    def read(group: Any, heading: str) -> None:
        for key, values in (group.model_dump() if group is not None else {}).items():
            if values is None:
                continue
            name, unit = key.rsplit("_", 1)
            quantity, size = _UNITS[unit]
            name += ", % of b d" if unit == "percent" else ""
            collected.append(
                (
                    heading,
                    name.replace("_", " "),
                    float(np.interp(x, along, np.array(values)[own])) * size,
                    quantity,
                )
            )

    for key, heading in _GROUPS:
        read(getattr(s, key), heading)
        if key == "strength":
            for level, forces in s.service.items():
                read(forces, f"forces, {level.replace('_', '-')}")
    bars = tuple(b for b in in_faces(result.bars) if b.start_mm <= x <= b.end_mm)
    ties = tuple(z for z in result.stirrups if z.start_mm - z.spacing_mm <= x <= z.end_mm + z.spacing_mm)
    return Place(x, index + 1, tuple(collected), bars, ties, _unjudged(result, x))


def _unjudged(result: ResultFile, x: float) -> str:
    """Inside end supports bars are only being anchored; the cover of a free tip has none."""
    spans, supports = result.beam.spans, result.beam.supports
    for edge, sign, ends in (
        (spans[0].clear_start_mm, -1.0, spans[0].start_mm),
        (spans[-1].clear_end_mm, 1.0, spans[-1].end_mm),
    ):
        held = any(abs(s.x_mm - ends) < 1.0 for s in supports)
        if held and sign * (x - edge) > 1e-6:
            return "not judged: inside an end support, where bars are anchored"
        if not held and sign * (x - edge) > -result.beam.cover_mm.sides - 1.0:
            return "not judged: in the cover of a free tip"
    return ""


def place_data(p: Place) -> dict[str, Any]:
    """As plain data, N and mm."""
    values = [
        {"heading": h, "what": name, "value": round(v, 6) + 0.0, "quantity": q} for h, name, v, q in p.values
    ]
    return {
        "x_mm": round(p.x, 3),
        "span": p.span,
        "judged": not p.unjudged,
        "values": values,
        "bars": [b.mark for b in p.bars],
        "stirrups": [z.mark for z in p.stirrups],
    }


def place_table(console: Console, result: ResultFile, p: Place) -> None:
    """On the terminal, heading by heading."""
    from itertools import groupby

    from rich.table import Table

    beam, system = result.beam, SYSTEMS[result.beam.units]
    where = f"x = {p.x / system.factor('span'):.3f} {system.unit('span')}, span {p.span}"
    console.print(plain(console, f"{beam.mark}  {beam.title}: {where}"), style="bold")
    console.print(plain(console, f"     {verdict_line(result.verdict)}"), style="dim")
    if p.unjudged:
        console.print(plain(console, f"     {p.unjudged}"), style=f"bold {STRAW}")
    for heading, rows in groupby(p.values, key=lambda v: v[0]):
        console.print()
        console.print(plain(console, heading), style=f"bold {BERRY}")
        table = Table(box=None, padding=(0, 2, 0, 0), show_edge=False, show_header=False)
        for side in ("left", "right", "left"):
            table.add_column(justify=side, no_wrap=True)
        for _, name, value, quantity in rows:
            number, unit = _in_units(value, quantity, system)
            table.add_row(*(plain(console, t) for t in (f"  {name}", significant(number, 4), unit)))
        console.print(table)
    console.print()
    bars = ", ".join(f"{counted(b.count, beam.label(b.size))} ({b.mark}, {b.face})" for b in p.bars) or "none"
    console.print(plain(console, f"bars: {bars}"))
    ties = ", ".join(
        f"{beam.label(z.size)}, {z.legs} legs at {z.spacing_mm / system.factor('section'):g} ({z.mark})"
        for z in p.stirrups
    )
    console.print(plain(console, f"stirrups: {ties or 'none'}"))


def _in_units(value: float, quantity: str, system: UnitSystem) -> tuple[float, str]:
    if quantity == "area":
        return value / system.factor("section") ** 2, system.unit("section") + "²"
    if quantity == "number":
        return value, ""
    return value / system.factor(quantity), system.unit(quantity)
