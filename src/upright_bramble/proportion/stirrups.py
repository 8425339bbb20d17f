"""Stirrups in zones: tight where shear asks, at the code's widest elsewhere, at spacings that a fixer can measure."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from upright_bramble.analysis import Forces
from upright_bramble.analysis.near_support import near_forces
from upright_bramble.analysis.support_width import shear_at_d
from upright_bramble.analysis.suspension import Suspension, suspension_forces
from upright_bramble.analysis.twist import strut, twist_of
from upright_bramble.beam import Bar, Beam, StirrupZone
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.codes.parts import Web
from upright_bramble.proportion.curtail import anchorage_of
from upright_bramble.proportion.needs import Needs
from upright_bramble.section.arrays import Array, Mask

TIE = 10.0  # a stirrup's diameter before it is chosen
FIRST = 2.0  # steps from a face to the first stirrup
TIGHTEST = 3.0  # steps
LEAST, SPARE = 50.0, 10.0  # between stirrups, and beside the largest aggregate, mm
CUT_OFF = 300.0  # to both sides of the end of a bar, mm


@dataclass(frozen=True)
class Ties:
    """One size and number of legs for the whole beam."""

    size: str
    legs: tuple[int, ...]  # by span


@dataclass(frozen=True)
class Across:
    """A lap from `start` to `end` that needs `number` stirrups in each of its outer thirds, no further `apart`; or, `whole`, a place that
    needs as many from end to end."""

    start: float
    end: float
    number: int
    whole: bool = False
    apart: float = math.inf

    def within(self, low: float, high: float) -> list[tuple[float, float]]:
        """Its outer thirds, or all of it, inside a clear span."""
        if self.whole:
            return [(self.start, self.end)] if self.start < high and self.end > low else []
        third = (self.end - self.start) / 3.0
        parts = ((self.start, self.start + third), (self.end - third, self.end))
        return [(a, b) for a, b in parts if a < high and b > low]


def strut_and_shear(beam: Beam, code: DesignCode, forces: Forces, d: Array) -> tuple[Array, Array]:
    """cot theta and the shear that stirrups are for, (n,)."""
    cot = strut(beam, code, forces, d, TIE)
    return cot, shear_at_d(beam, forces.stations, forces.design.shear, d)


def required(beam: Beam, code: DesignCode, forces: Forces, d: Array, needs: Needs) -> tuple[Array, Array, Array]:
    """Stirrup steel per length at every station, with reserve, at least the minimum, mm2/mm; for each leg what torque asks
    beside it; and the widest spacing that torque allows, mm."""
    at = forces.stations
    cot, demand = strut_and_shear(beam, code, forces, d)
    factor = np.array([needs.shear.get(i, 1.0) for i in range(len(beam.spans))])[at.span]
    demand = demand * factor / (1.0 - beam.detailing.reserve)
    for place, resistance in needs.cut_offs.items():
        demand = np.where(np.abs(at.x - place) <= CUT_OFF, np.maximum(demand, resistance), demand)
    minimum = code.shear.minimum_stirrups(beam.concrete, beam.stirrups, at.width)
    here = web(forces, d)
    alone = code.shear.state(beam.concrete, beam.stirrups, here, minimum, cot).concrete
    requested = np.where(demand > alone, code.shear.stirrups_required(beam.concrete, beam.stirrups, here, demand, cot), 0.0)
    requested = _behind_forces(beam, code, forces, d, requested, factor / (1.0 - beam.detailing.reserve))
    close = np.array([needs.spacing.get(i, 1.0) for i in range(len(beam.spans))])[at.span]
    twist = twist_of(beam, code, forces, here, cot, TIE, beam.detailing.reserve)
    if twist is None:
        return np.maximum(requested, close * minimum), np.zeros(len(at)), np.full(len(at), np.inf)
    # where torque cracks the web, its concrete is no longer counted on for shear
    cut = np.where(twist.leg > 0.0, code.shear.stirrups_required(beam.concrete, beam.stirrups, here, demand, cot), 0.0)
    return np.maximum(np.maximum(requested, cut), close * minimum), factor * twist.leg, twist.spacing


def _behind_forces(beam: Beam, code: DesignCode, forces: Forces, d: Array, requested: Array, raised: Array) -> Array:
    """Less, where the forces near a support ask for less by their own clause: `raised` is the demand's factor (n,)."""
    at, result = forces.stations, requested.copy()
    if forces.design.torsion.any():
        return result
    for near in near_forces(beam, code, forces, d):
        here = (at.span == near.span) & near.between(at.x)
        low, high = near.middle()
        yielding = code.shear.near_support_resistance(beam.stirrups, 1.0)
        # two stirrups fewer than the length has room for may fall into it
        enough = near.shear * raised[here] / yielding / max(high - low - 50.0, 0.3 * near.a_v)
        if float(enough.max()) < float(requested[here].max()):
            result[here] = np.minimum(requested[here], enough)
    return result


def web(forces: Forces, d: Array) -> Web:
    """The web before its bars are known: no tension steel is counted on."""
    at = forces.stations
    return Web(at.width, d, np.zeros(len(at)), at.sections.strips.gross()[0], forces.design.axial_min)


def choose_ties(beam: Beam, code: DesignCode, forces: Forces, d: Array, needs: Needs) -> Ties:
    """The thinnest stirrup, then the fewest legs, that carries the shear at a spacing that can be built."""
    at = forces.stations
    requested, each, _ = required(beam, code, forces, d, needs)
    _, shear = strut_and_shear(beam, code, forces, d)
    widest_across = code.shear.maximum_leg_spacing(beam.concrete, web(forces, d), shear)
    sizes = sorted(beam.detailing.stirrup_bars, key=lambda s: code.sizes[s].diameter)
    last: Ties | None = None
    for more in (0, 2, 4):
        for size in sizes:
            phi = code.sizes[size].diameter
            legs, enough = [], True
            for index in range(len(beam.spans)):
                rows = at.of(index)
                across = float(widest_across[rows].min())
                minimum = math.ceil((float(at.width[rows].max()) - 2.0 * beam.cover.sides - phi) / across - 1e-9) + 1
                minimum = max(minimum, needs.legs.get(index, 0))
                count = max(2, minimum + minimum % 2)
                low, high = beam.clear(index)
                clear = (at.x[rows] >= low - 1e-6) & (at.x[rows] <= high + 1e-6)
                tightest = TIGHTEST * beam.detailing.step

                asked_, each_ = requested[rows][clear], each[rows][clear]

                def apart(n: int, asked_: Array = asked_, each_: Array = each_, area: float = code.sizes[size].area) -> float:
                    return float((n * area / (asked_ + n * each_)).min())

                # torque is for the outer legs: more of them inside do not help it
                while apart(count) < tightest and count < max(2, minimum + minimum % 2) + more and apart(count + 2) > 1.1 * apart(count):
                    count += 2
                enough &= apart(count) >= tightest
                legs.append(count)
            last = Ties(size, tuple(legs))
            if enough:
                return last
    assert last is not None
    return last  # verification will say that it is not enough, and by how much


def zones(
    beam: Beam,
    code: DesignCode,
    forces: Forces,
    d: Array,
    ties: Ties,
    needs: Needs,
    held: list[StirrupZone],
    laps: Sequence[Across] = (),
    bars: Sequence[Bar] = (),
) -> list[tuple[float, float, float, int]]:
    """(from, to, spacing, legs) of every zone, left to right; spans with held stirrups are left as they are. Closer ones stand across
    laps that need them, and where `bars` develop that stirrups must confine."""
    at = forces.stations
    requested, each, apart = required(beam, code, forces, d, needs)
    _, shear = strut_and_shear(beam, code, forces, d)
    widest_along = code.shear.maximum_spacing(beam.concrete, web(forces, d), shear / (1.0 - beam.detailing.reserve))
    result: list[tuple[float, float, float, int]] = []
    for index in range(len(beam.spans)):
        low, high = beam.clear(index)
        rows = at.of(index)
        clear = (at.x[rows] >= low - 1e-6) & (at.x[rows] <= high + 1e-6)
        x, need = at.x[rows][clear], (requested + ties.legs[index] * each)[rows][clear]
        along = np.minimum(widest_along, apart)[rows][clear]
        along = np.minimum(along, _confining(beam, code, forces, bars, ties.legs[index] * code.sizes[ties.size].area)[rows][clear])
        along = along / needs.spacing.get(index, 1.0)
        if index in needs.tied:
            thin = min(code.sizes[s].diameter for s in beam.detailing.main_bars)
            lowest = np.minimum(at.width, at.depth)[rows][clear]
            along = np.minimum(along, code.detailing.compression_stirrup_spacing(thin, code.sizes[ties.size].diameter, lowest))
        legs = ties.legs[index]
        nearest = minimum_spacing(beam, code.sizes[ties.size].diameter)
        span = _span_zones(beam, index, x, need, legs * code.sizes[ties.size].area, along, low, high, nearest)
        area = legs * code.sizes[ties.size].area
        hung = [
            Across(h.x - h.reach, h.x + h.reach, _enough(h, x, need, area, beam.detailing.reserve), True)
            for h in suspension_forces(beam, code, forces)
            if h.span == index
        ]
        span = _across(span, [*laps, *hung], low, high, beam.detailing.step, nearest)
        kept = [z for z in held if z.start < high and z.end > low]
        if not kept:
            result += [(*zone, legs) for zone in span]
            continue
        for start, end, spacing in span:
            result += [(*piece, legs) for piece in _around(start, end, spacing, kept)]
    return result


def _confining(beam: Beam, code: DesignCode, forces: Forces, bars: Sequence[Bar], area: float) -> Array:
    """Widest spacing of stirrups where bars develop or are lapped, (n,)."""
    x = forces.stations.x
    result = np.full(len(x), np.inf)
    for bar in bars:
        phi = code.sizes[bar.size].diameter
        if not np.isfinite(code.bond.confining_spacing(beam.bars, phi, area, 1.0)):
            return result
        length = anchorage_of(beam, code, phi, bar.face)
        for low, high in ((bar.start, bar.start + length), (bar.end - length, bar.end)):
            middle = 0.5 * (low + high)
            row = sum(b.count for b in bars if (b.face, b.layer) == (bar.face, bar.layer) and b.start <= middle <= b.end)
            near = (x >= low - CUT_OFF) & (x <= high + CUT_OFF)
            result = np.where(near, np.minimum(result, code.bond.confining_spacing(beam.bars, phi, area, float(row))), result)
    return result


def _enough(hung: Suspension, x: Array, need: Array, area: float, reserve: float) -> int:
    """Stirrups beside a hung force, those for shear with them."""
    low, high = hung.ends
    shear = float(need[(x >= low) & (x <= high)].max(initial=0.0)) * (high - low)
    return math.ceil((hung.steel / (1.0 - reserve) + shear) / area - 1e-9)


Zones = list[tuple[float, float, float]]


def _across(zones: Zones, laps: Sequence[Across], low: float, high: float, step: float, minimum: float) -> Zones:
    """With a zone of its own over each lap whose thirds have too few stirrups. It begins and ends where stirrups stood, so that no gap
    beside it is wider than before or narrower than `minimum`."""
    edges = (low + FIRST * step, high - FIRST * step)
    made: list[tuple[tuple[float, float, float], list[Across]]] = []
    for lap in sorted(laps, key=lambda v: v.start):
        thirds = lap.within(low, high)
        if not thirds or _enough_across(zones, lap, thirds):
            continue
        places = sorted(a + k * s for a, b, s in zones for k in range(round((b - a) / s) + 1))
        begin, finish = max(thirds[0][0], edges[0]), min(thirds[-1][1], edges[1])
        if finish <= begin:
            continue
        start = max((p for p in places if p <= begin + 1e-6), default=float(math.ceil(edges[0])))
        if not _enough_in(start, finish, minimum, lap, thirds, edges[1]):
            start = float(math.ceil(begin))  # from where it is needed on
        spacing = minimum
        for n in range(math.ceil(minimum / step - 1e-9), 41):
            if n * step > lap.apart + 1e-6 or not _enough_in(start, finish, n * step, lap, thirds, edges[1]):
                break
            spacing = n * step
        own, sharing = (start, finish, spacing), [lap]
        for other in [m for m in made if m[0][0] < finish + minimum and m[0][1] > start - minimum]:  # laps that overlap share one zone
            own = (min(own[0], other[0][0]), max(own[1], other[0][1]), min(own[2], other[0][2]))
            sharing += other[1]
            made.remove(other)
        start, finish, spacing = own
        while spacing - step >= minimum and not all(_enough_in(start, finish, spacing, s, s.within(low, high), edges[1]) for s in sharing):
            spacing -= step
        count = max(math.ceil((finish - start) / spacing - 1e-9), 1)
        while start + count * spacing > edges[1] + 1e-6 and count > 1:
            count -= 1
        ahead = [p for p in places if p > start + count * spacing + 1e-6]
        while ahead and ahead[0] - (start + count * spacing) < minimum - 1e-6 and start + (count + 1) * spacing <= edges[1] + 1e-6:
            count += 1
            ahead = [p for p in ahead if p > start + count * spacing + 1e-6]
        own = (float(start), float(start + count * spacing), spacing)
        made.append((own, sharing))
        zones = sorted([*(piece for zone in zones for piece in _beside(zone, own, minimum)), own])
    return zones


def _enough_across(zones: Zones, lap: Across, thirds: list[tuple[float, float]]) -> bool:
    """Whether the stirrups that there are do for a lap."""
    places = sorted(a + k * s for a, b, s in zones for k in range(round((b - a) / s) + 1))
    if not all(sum(a - 1e-6 <= p <= b + 1e-6 for p in places) >= lap.number for a, b in thirds):
        return False
    gaps = [q - p for p, q in itertools.pairwise(places) if any(q > a + 1.0 and p < b - 1.0 for a, b in thirds)]
    return max(gaps, default=0.0) <= lap.apart + 1e-6


def _enough_in(start: float, finish: float, spacing: float, lap: Across, thirds: list[tuple[float, float]], maximum: float) -> bool:
    """Whether a zone of its own does for a lap, no stirrup of it beyond `maximum`."""
    own = [start + k * spacing for k in range(math.ceil((finish - start) / spacing - 1e-9) + 1) if start + k * spacing <= maximum + 1e-6]
    return all(sum(a - 1e-6 <= p <= b + 1e-6 for p in own) >= lap.number for a, b in thirds)


def _beside(zone: tuple[float, float, float], other: tuple[float, float, float], minimum: float) -> Zones:
    """What is left of a zone beside another one, no nearer to it than `minimum`."""
    (a, b, s), (low, high, _) = zone, other
    if b < low - minimum + 1e-6 or a > high + minimum - 1e-6:
        return [zone]
    result: Zones = []
    before = math.floor((low - minimum - a) / s + 1e-9)
    if before >= 0:
        result.append((a, a + before * s, s))
    after = math.floor((b - high - minimum) / s + 1e-9)
    if after >= 0:
        result.append((b - after * s, b, s))
    return result


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
    beam: Beam, index: int, x: Array, need: Array, area: float, along: Array, low: float, high: float, minimum: float
) -> list[tuple[float, float, float]]:
    """Tight zones from the faces inwards and one between them, with as few stirrups as any spacing of the middle one allows; nowhere
    wider than `along`, nowhere nearer than `minimum`."""
    span, step = beam.spans[index], beam.detailing.step
    tip = beam.cover.sides + step
    first = math.ceil(low + (FIRST * step if span.left is not None else tip))
    last = math.floor(high - (FIRST * step if span.right is not None else tip))
    need = np.maximum(need, area / along)
    maximum_spacing = max(_down(area / float(need.min()), step), minimum)
    half = 0.5 * (low + high)
    if span.cantilever:
        half = high if span.right is None else low
    left, right = x <= half + 1e-6, x >= half - 1e-6
    enough = max(_down(area / float(need.max()), step), minimum)
    best: list[tuple[float, float, float]] = []
    fewest = math.inf
    for n in range(round((maximum_spacing - enough) / step) + 1):
        result = _three_zones(first, last, x, need, area, (left, right), maximum_spacing - n * step, step, minimum)
        crowded = sum(b[0] - a[1] < minimum - 1e-6 for a, b in itertools.pairwise(result))
        count = sum(round((b - a) / s) + 1 for a, b, s in result) + len(result) + 1000 * crowded
        if count < fewest:
            best, fewest = result, count
    return best


def _three_zones(
    first: int, last: int, x: Array, need: Array, area: float, halves: tuple[Mask, Mask], middle: float, step: float, minimum: float
) -> list[tuple[float, float, float]]:
    """With the spacing of the middle zone given."""
    left, right = halves
    k_left, s_left = _tight(x[left] - first, need[left], area, middle, step, minimum)
    k_right, s_right = _tight(last - x[right], need[right], area, middle, step, minimum)
    length = last - first
    if k_left * s_left + k_right * s_right + middle >= length:  # the tight zones meet: one zone
        s = min(s_left if k_left else middle, s_right if k_right else middle)
        return _run(first, last, s, step, minimum)
    result: list[tuple[float, float, float]] = []
    start, end = float(first), float(last)
    if k_left:
        result.append((first, first + k_left * s_left, s_left))
        start = first + k_left * s_left + middle
    if not k_left and not k_right:
        return _run(first, last, middle, step, minimum)
    if not k_right:
        return [*result, *_run(start, end, middle, step, minimum)]
    tight = last - k_right * s_right
    if tight - start > 0.0:  # as few as leave no gap wider than the spacing
        count = max(math.ceil((tight - middle - start) / middle - 1e-9), 0)
        result.append((start, start + count * middle, middle))
    result.append((tight, float(last), s_right))
    return result


def _run(first: float, last: float, spacing: float, step: float, minimum: float) -> list[tuple[float, float, float]]:
    """Zones over a whole length at the widest spacings that can be built, the last stirrup within that of the face: where the length is no
    whole number of spacings the last ones stand a step nearer together."""
    length, room = last - first, FIRST * step
    count = math.floor(length / spacing + 1e-9)
    if length - count * spacing + room <= spacing or spacing <= minimum:
        return [(first, first + count * spacing, spacing)]
    closer = max(spacing - step, minimum)
    for few in range(2, count + 2):
        whole = count + 1 - few
        over = length - whole * spacing - few * closer
        if over >= -1e-6 and over + room <= spacing + 1e-6:
            if whole < 1:
                break
            turn = first + whole * spacing
            return [(first, turn, spacing), (turn + closer, turn + few * closer, closer)]
    return _run(first, last, closer, step, minimum)


def _tight(distance: Array, need: Array, area: float, middle: float, step: float, minimum: float) -> tuple[int, float]:
    """How many spaces of which spacing from a face, where `middle` would not do; `distance` inwards from the first."""
    lacking = need > area / middle * (1.0 + 1e-9)
    if not lacking.any():
        return 0, middle
    spacing = max(_down(area / float(need.max()), step), minimum)
    if spacing >= middle:
        return 0, middle
    reach = float(distance[lacking].max())
    # up to the next station: between them need is at most that of the last lacking one
    more = distance[~lacking]
    beyond = more[more > reach]
    reach = float(beyond.min()) if len(beyond) else reach
    return max(math.ceil(reach / spacing), 1), spacing


def _down(spacing: float, step: float) -> float:
    return math.floor(spacing / step + 1e-9) * step


def minimum_spacing(beam: Beam, phi: float) -> float:
    """What concrete can pass between stirrups, a multiple of the step, mm."""
    step = beam.detailing.step
    return math.ceil(max(LEAST, beam.concrete.aggregate + SPARE + phi) / step - 1e-3) * step
