"""Bars along the sides: the cheapest that are anchored well enough."""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass

import numpy as np

from upright_bramble.analysis import Forces
from upright_bramble.analysis.side_bars import room_for_leg, side_bar_anchored
from upright_bramble.analysis.twist import side_bar_area
from upright_bramble.beam import (
    Beam,
    Layout,
    SideBars,
)
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.proportion import curtail
from upright_bramble.proportion.start import Start

SIDE = 9.0  # mm: bars along the sides are no thinner
BETWEEN = 100.0  # mm: rows at the sides are no nearer to each other, but for two more than the fewest


@dataclass(frozen=True)
class Run:
    """Spans in turn with side bars alike: their limits (x, mm), least number of rows, area of each bar that a
    deep web asks for (mm2), and whether the run begins and ends with the beam."""

    spans: range
    low: float
    high: float
    rows: int
    area: float
    outer: tuple[bool, bool]


def side_bars_of(beam: Beam, code: DesignCode, forces: Forces, start: Start, kept: Layout) -> list[SideBars]:
    """Side bars from end to end where torsion or the user asks for them, else along the spans whose webs are
    deep; lapped at stock length. None where the user holds some."""
    if kept.sides:
        return []
    return [s for run in _runs(beam, start) for s in _cheapest(beam, code, forces, start, run)]


def _runs(beam: Beam, start: Start) -> list[Run]:
    """The whole line, or each group of deep spans: from a step before the axis of one support to that of
    another, since a shallower span beside it has no room for their rows."""
    c, step, n = beam.cover.sides, beam.detailing.step, len(beam.spans)
    needed = [max(start.rows, rows) for rows, _ in start.skin]
    runs: list[Run] = []
    for deep, group in itertools.groupby(range(n), key=lambda i: needed[i] > 0):
        if not deep:
            continue
        own = list(group)
        first, last = own[0], own[-1]
        outer = (first == 0, last == n - 1)
        low = beam.ends[0] + c if outer[0] else beam.spans[first].start + step
        high = beam.ends[1] - c if outer[1] else beam.spans[last].end - step
        most = max(own, key=lambda i: needed[i])
        area = max(start.skin[i][1] for i in own)
        runs.append(Run(range(first, last + 1), math.ceil(low), math.floor(high), needed[most], area, outer))
    return runs


def _cheapest(beam: Beam, code: DesignCode, forces: Forces, start: Start, run: Run) -> list[SideBars]:
    """The cheapest that are anchored well enough, bent into the end supports where straight ones are not."""
    own = beam.detailing.side_bars or beam.detailing.main_bars
    thin = () if beam.detailing.side_bars else tuple(s for s in beam.detailing.stirrup_bars if s not in own)
    best: list[SideBars] = []
    least = cheapest = math.inf
    most = int(min(beam.spans[i].shallowest for i in run.spans) / BETWEEN) - 1
    # sizes of the stirrups where no main bar develops in the end supports
    for sizes in (own, tuple(s for s in thin if code.sizes[s].diameter >= SIDE)):
        for rows in range(run.rows, max(run.rows + 3, most + 1)):
            for size in sorted(sizes, key=lambda s: code.sizes[s].diameter):
                for bent in (False, True) if _bends(beam, code, start, size) else (False,):
                    sides = _side_pieces(beam, code, start, run, rows, size, bent)
                    price = _price(beam, code, sides)
                    if price >= cheapest:
                        continue
                    lacking = _sides_lacking(beam, code, forces, start, run, sides)
                    if lacking <= 1.0:
                        best, least, cheapest = sides, lacking, price
                    elif lacking < least:
                        best, least = sides, lacking
        if least <= 1.0:
            break
    return best


def _price(beam: Beam, code: DesignCode, sides: list[SideBars]) -> float:
    """Of steel and fixing, money."""
    rates, mass = beam.detailing.rates, code.sizes[sides[0].size].mass
    lengths = [s.end - s.start + sum(s.legs) for s in sides]
    return sum(2.0 * sides[0].rows * (length * mass * rates.steel + rates.bar) for length in lengths)


def _bends(beam: Beam, code: DesignCode, start: Start, size: str) -> bool:
    """Whether a standard leg lies across the web."""
    room = room_for_leg(beam, min(s.narrowest for s in beam.spans), start.tie)
    return bool(code.detailing.minimum_leg(code.sizes[size].diameter, "bend") <= room)


def _side_pieces(
    beam: Beam, code: DesignCode, start: Start, run: Run, rows: int, size: str, bent: bool
) -> list[SideBars]:
    """From end to end of a run in pieces no longer than stock."""
    step, low, high = beam.detailing.step, run.low, run.high
    lap = math.ceil(curtail.lap_of(beam, code, code.sizes[size].diameter, "top") / step) * step
    phi = code.sizes[size].diameter
    outer = [_side_leg(beam, code, start, phi, side) if bent and run.outer[side] else 0.0 for side in (0, 1)]
    stock, pieces = beam.detailing.longest_piece, 1
    if high - low + sum(outer) > stock:
        pieces = max(math.ceil((high - low - lap) / max(stock - max(outer) - lap, lap)), 2)
    length = math.ceil((high - low + (pieces - 1) * lap) / pieces - 1e-9)  # whole mm: one mark for all
    result = []
    for k in range(pieces):
        legs = (outer[0] if k == 0 else 0.0, outer[1] if k == pieces - 1 else 0.0)
        ends = ("bend" if legs[0] else "straight", "bend" if legs[1] else "straight")
        first = low + k * (length - lap) if k < pieces - 1 else float(high - length)
        result.append(
            SideBars(
                mark="",
                rows=rows,
                size=size,
                start=first,
                end=first + length,
                held=False,
                ends=ends,
                legs=legs,
            )
        )
    return result


def _side_leg(beam: Beam, code: DesignCode, start: Start, phi: float, side: int) -> float:
    """Of side bars bent at an end of the beam, mm; 0 at a free tip."""
    span = beam.spans[-side]
    if (span.left, span.right)[side] is None:
        return 0.0
    room = span.narrowest - 2.0 * (beam.cover.sides + start.tie) - 2.0 * phi
    return max(
        code.detailing.minimum_leg(phi, "bend"),
        math.floor(room / 10.0) * 10.0 if code.bond.bends_count_by_length else 0.0,
    )


def _sides_lacking(
    beam: Beam, code: DesignCode, forces: Forces, start: Start, run: Run, sides: list[SideBars]
) -> float:
    """Worst ratio of what is required to what is provided: of area where a deep web requires it, of anchored
    area where torsion does."""
    deep = run.area / code.sizes[sides[0].size].area
    if start.twist is None:
        return deep - 1e-9
    at = forces.stations
    local = side_bar_anchored(beam, code, at, sides, start.tie)
    each = side_bar_area(start.twist, sides[0].rows)
    required = np.where(
        each > 0.0, local.full if code.torsion.develops_bars else each / (1.0 - beam.detailing.reserve), 0.0
    )
    clear = np.zeros(len(at), dtype=bool)
    for index in run.spans:
        low, high = beam.clear(index)
        clear |= (at.span == index) & (at.x >= low - 1e-6) & (at.x <= high + 1e-6)
    required = np.where(clear, np.maximum(required, each), 0.0)
    ratio = np.where(required > 0.0, (required - 1e-6) / np.maximum(local.anchored, 1e-9), 0.0)
    return max(deep - 1e-9, float(ratio.max(initial=0.0)))
