"""Stirrups in zones: tight where shear asks, at the code's widest elsewhere, at spacings that a fixer can measure."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from upright_bramble.analysis import Forces
from upright_bramble.analysis.support_width import half_span_peak, shear_at_d
from upright_bramble.beam import Beam, StirrupZone
from upright_bramble.beam.geometry import bar_area
from upright_bramble.codes.protocol import DesignCode
from upright_bramble.proportion.needs import Needs
from upright_bramble.section.arrays import Array

FIRST = 50.0
STEP = 25.0
TIGHTEST = 75.0


@dataclass(frozen=True)
class Ties:
    """One size and number of legs for the whole beam."""

    size: str
    legs: tuple[int, ...]  # by span


def strut_and_shear(beam: Beam, code: DesignCode, forces: Forces, d: Array) -> tuple[Array, Array]:
    """cot theta and the shear that stirrups are for, (n,)."""
    at, shear = forces.stations, forces.design.shear
    cot = code.strut(beam.concrete, at.width, d, half_span_peak(beam, at, shear), beam.detailing.reserve)
    return cot, shear_at_d(beam, at, shear, d)


def required(beam: Beam, code: DesignCode, forces: Forces, d: Array, needs: Needs) -> Array:
    """Stirrup steel per length at every station, with reserve, at least the minimum; mm2/mm."""
    at = forces.stations
    cot, demand = strut_and_shear(beam, code, forces, d)
    factor = np.array([needs.shear.get(i, 1.0) for i in range(len(beam.spans))])[at.span]
    demand = demand * factor / (1.0 - beam.detailing.reserve)
    nothing = np.zeros(len(at))
    alone = code.shear(beam.concrete, beam.stirrups, at.width, d, nothing, nothing, cot).concrete
    asked = np.where(demand > alone, code.stirrups_required(beam.stirrups, demand, d, cot), 0.0)
    close = np.array([needs.spacing.get(i, 1.0) for i in range(len(beam.spans))])[at.span]
    return np.maximum(asked, close * code.least_stirrups(beam.concrete, beam.stirrups, at.width))


def choose_ties(beam: Beam, code: DesignCode, forces: Forces, d: Array, needs: Needs) -> Ties:
    """The thinnest stirrup, then the fewest legs, that carries the shear at a spacing that can be built."""
    at = forces.stations
    asked = required(beam, code, forces, d, needs)
    sizes = sorted(beam.detailing.stirrup_bars, key=lambda s: code.catalogue[s])
    last: Ties | None = None
    for more in (0, 2, 4):
        for size in sizes:
            phi = code.catalogue[size]
            legs, enough = [], True
            for index in range(len(beam.spans)):
                rows = at.of(index)
                across = float(code.widest_leg_spacing(d[rows]).min())
                least = math.ceil((float(at.width[rows].max()) - 2.0 * beam.cover.sides - phi) / across - 1e-9) + 1
                count = max(2, least + least % 2)
                low, high = beam.clear(index)
                clear = (at.x[rows] >= low - 1e-6) & (at.x[rows] <= high + 1e-6)
                most = float(asked[rows][clear].max())
                while count * bar_area(phi) / most < TIGHTEST and count < max(2, least + least % 2) + more:
                    count += 2
                enough &= count * bar_area(phi) / most >= TIGHTEST
                legs.append(count)
            last = Ties(size, tuple(legs))
            if enough:
                return last
    assert last is not None
    return last  # verification will say that it is not enough, and by how much


def zones(
    beam: Beam, code: DesignCode, forces: Forces, d: Array, ties: Ties, needs: Needs, held: list[StirrupZone]
) -> list[tuple[float, float, float, int]]:
    """(from, to, spacing, legs) of every zone, left to right; spans with held stirrups are left as they are."""
    at = forces.stations
    asked = required(beam, code, forces, d, needs)
    phi = code.catalogue[ties.size]
    found: list[tuple[float, float, float, int]] = []
    for index in range(len(beam.spans)):
        low, high = beam.clear(index)
        rows = at.of(index)
        clear = (at.x[rows] >= low - 1e-6) & (at.x[rows] <= high + 1e-6)
        x, need = at.x[rows][clear], asked[rows][clear]
        widest = float(code.widest_spacing(d[rows][clear]).min())
        widest /= needs.spacing.get(index, 1.0)
        if index in needs.tied:
            thin = min(code.catalogue[s] for s in beam.detailing.main_bars)
            widest = min(widest, float(code.compressed_bar_spacing(thin)))
        legs = ties.legs[index]
        span = _span_zones(beam, index, x, need, legs * bar_area(phi), widest, low, high)
        kept = [z for z in held if z.start < high and z.end > low]
        if not kept:
            found += [(*zone, legs) for zone in span]
            continue
        for start, end, spacing in span:
            found += [(*piece, legs) for piece in _around(start, end, spacing, kept)]
    return found


def _around(start: float, end: float, spacing: float, held: list[StirrupZone]) -> list[tuple[float, float, float]]:
    """What is left of a zone outside held ones."""
    pieces = [(start, end)]
    for zone in held:
        low, high = zone.start - spacing, zone.end + spacing
        cut: list[tuple[float, float]] = []
        for a, b in pieces:
            if b <= low or a >= high:
                cut.append((a, b))
                continue
            if a <= low:
                cut.append((a, a + math.floor((low - a) / spacing) * spacing))
            if b >= high:
                cut.append((b - math.floor((b - high) / spacing) * spacing, b))
        pieces = cut
    return [(a, b, spacing) for a, b in pieces if b >= a]


def _span_zones(
    beam: Beam, index: int, x: Array, need: Array, area: float, widest: float, low: float, high: float
) -> list[tuple[float, float, float]]:
    """Tight zones from the faces inwards and one between them."""
    span = beam.spans[index]
    tip = beam.cover.sides + 25.0
    first = math.ceil(low + (FIRST if span.left is not None else tip))
    last = math.floor(high - (FIRST if span.right is not None else tip))
    least = float(need.min())
    middle = max(_down(min(widest, area / least)), STEP)
    half = 0.5 * (low + high)
    if span.cantilever:
        half = high if span.right is None else low
    left, right = x <= half + 1e-6, x >= half - 1e-6
    k_left, s_left = _tight(x[left] - first, need[left], area, middle)
    k_right, s_right = _tight(last - x[right], need[right], area, middle)
    length = last - first
    if k_left * s_left + k_right * s_right + middle >= length:  # the tight zones meet: one zone
        s = min(s_left if k_left else middle, s_right if k_right else middle)
        return [_run(first, last, s)]
    found: list[tuple[float, float, float]] = []
    start, end = float(first), float(last)
    if k_left:
        found.append((first, first + k_left * s_left, s_left))
        start = first + k_left * s_left + middle
    if not k_left and not k_right:
        return [_run(first, last, middle)]
    if not k_right:
        return [*found, _run(start, end, middle)]
    tight = last - k_right * s_right
    if tight - start > 0.0:  # as few as leave no gap wider than the spacing
        count = max(math.ceil((tight - middle - start) / middle - 1e-9), 0)
        found.append((start, start + count * middle, middle))
    found.append((tight, float(last), s_right))
    return found


def _run(first: float, last: float, spacing: float) -> tuple[float, float, float]:
    """A zone over a whole length, at the widest buildable spacing whose last stirrup stays within it of the face."""
    length = last - first
    while True:
        count = math.floor(length / spacing + 1e-9)
        if length - count * spacing + FIRST <= spacing or spacing <= STEP:
            return first, first + count * spacing, spacing
        spacing = max(spacing - STEP, STEP)


def _tight(distance: Array, need: Array, area: float, middle: float) -> tuple[int, float]:
    """How many spaces of which spacing from a face, where `middle` would not do; `distance` inwards from the first."""
    lacking = need > area / middle * (1.0 + 1e-9)
    if not lacking.any():
        return 0, middle
    spacing = max(_down(area / float(need.max())), STEP)
    if spacing >= middle:
        return 0, middle
    reach = float(distance[lacking].max())
    # up to the next station: between them need is at most that of the last lacking one
    more = distance[~lacking]
    beyond = more[more > reach]
    reach = float(beyond.min()) if len(beyond) else reach
    return max(math.ceil(reach / spacing), 1), spacing


def _down(spacing: float) -> float:
    return math.floor(spacing / STEP + 1e-9) * STEP
