"""Stirrups in zones: tight where shear asks, at the code's widest elsewhere, at spacings that a fixer can
measure."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import partial

import numpy as np

from upright_bramble.analysis import Forces, Stations
from upright_bramble.analysis.near_support import near_forces
from upright_bramble.analysis.support_width import shear_at_d
from upright_bramble.analysis.suspension import Suspension, suspension_forces
from upright_bramble.analysis.twist import strut, twist_of
from upright_bramble.beam import Bar, Beam, StirrupZone
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.codes.parts import Web
from upright_bramble.proportion.curtail import anchorage_of
from upright_bramble.proportion.needs import Needs
from upright_bramble.proportion.pricing import LEAN
from upright_bramble.proportion.zoning import Permitted, Room, Zones, permitted_of, zones_of
from upright_bramble.section.arrays import Array, Mask

TIE = 10.0  # a stirrup's diameter before it is chosen
FIRST = 2.0  # steps from a face to the first stirrup
THINNER = 0.1  # dearer that thinner stirrups may be: bars inside thicker ones lie less deep
LEGS_APART = 600.0  # across the beam, mm: so far where a code sets no limit
TIGHT = (4.0, 3.0, 2.0)  # steps: spacings below which first a larger size is taken, then more legs
INCH = 25.4
LEAST, SPARE = 50.0, 10.0  # between stirrups, and beside the largest aggregate, mm
CUT_OFF = 300.0  # to both sides of the end of a bar, mm


@dataclass(frozen=True)
class Ties:
    """One size and number of legs for the whole beam."""

    size: str
    legs: tuple[int, ...]  # by span


@dataclass(frozen=True)
class Across:
    """A lap from `start` to `end` that needs `number` stirrups in each of its outer thirds, no further
    `apart`; or as many `throughout`, from end to end."""

    start: float
    end: float
    number: int
    throughout: bool = False
    apart: float = math.inf

    def within(self, low: float, high: float) -> list[tuple[float, float]]:
        """Its outer thirds, or all of it, inside a clear span."""
        if self.throughout:
            return [(self.start, self.end)] if self.start < high and self.end > low else []
        third = (self.end - self.start) / 3.0
        parts = ((self.start, self.start + third), (self.end - third, self.end))
        return [(a, b) for a, b in parts if a < high and b > low]


def strut_and_shear(beam: Beam, code: DesignCode, forces: Forces, d: Array) -> tuple[Array, Array]:
    """cot theta and the shear that stirrups are for, (n,)."""
    cot = strut(beam, code, forces, d, TIE)
    return cot, shear_at_d(beam, forces.stations, forces.design.shear, d)


def required(
    beam: Beam, code: DesignCode, forces: Forces, d: Array, needs: Needs
) -> tuple[Array, Array, Array]:
    """Stirrup steel per length at every station, with reserve, at least the minimum, mm2/mm; for each leg
    what torque asks beside it; and the widest spacing that torque allows, mm."""
    at = forces.stations
    cot, demand = strut_and_shear(beam, code, forces, d)
    factor = np.array([needs.shear.get(i, 1.0) for i in range(len(beam.spans))])[at.span]
    demand = demand * factor / (1.0 - beam.detailing.reserve)
    for place, resistance in needs.cut_offs.items():
        demand = np.where(np.abs(at.x - place) <= needs.cut_reach, np.maximum(demand, resistance), demand)
    minimum = code.shear.minimum_stirrups(beam.concrete, beam.stirrups, at.width)
    here = web(forces, d)
    alone = code.shear.state(beam.concrete, beam.stirrups, here, minimum, cot).concrete
    requested = np.where(
        demand > alone, code.shear.stirrups_required(beam.concrete, beam.stirrups, here, demand, cot), 0.0
    )
    requested = _behind_forces(beam, code, forces, d, requested, factor / (1.0 - beam.detailing.reserve))
    close = np.array([needs.spacing.get(i, 1.0) for i in range(len(beam.spans))])[at.span]
    twist = twist_of(beam, code, forces, here, cot, TIE, beam.detailing.reserve)
    if twist is None:
        return np.maximum(requested, close * minimum), np.zeros(len(at)), np.full(len(at), np.inf)
    # where torque cracks the web, its concrete is no longer counted on for shear
    cut = np.where(
        twist.leg > 0.0, code.shear.stirrups_required(beam.concrete, beam.stirrups, here, demand, cot), 0.0
    )
    return np.maximum(np.maximum(requested, cut), close * minimum), factor * twist.leg, twist.spacing


def _behind_forces(
    beam: Beam, code: DesignCode, forces: Forces, d: Array, requested: Array, raised: Array
) -> Array:
    """Less, where the forces near a support ask for less by their own clause: `raised` is the demand's factor
    (n,)."""
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
    design = forces.design
    moment = np.maximum(design.moment_max, -design.moment_min)
    bar_yield = forces.beam.bars.strength
    gross = at.sections.strips.gross()[0]
    return Web(
        b=at.width,
        d=d,
        a_sl=np.zeros(len(at)),
        gross=gross,
        axial=design.axial_min,
        h=at.depth,
        moment=moment,
        shear=design.shear,
        bar_yield=bar_yield,
    )


def choose_ties(beam: Beam, code: DesignCode, forces: Forces, d: Array, needs: Needs) -> Ties:
    """Of the stirrups with the fewest legs that carry the shear at a spacing that can be built the cheapest,
    the thinnest of those that cost about as much: thicker ones take from the depth of all bars."""
    requested, each, _ = required(beam, code, forces, d, needs)
    requested = _with_suspended(beam, code, forces, requested)
    _, shear = strut_and_shear(beam, code, forces, d)
    here = web(forces, d)
    across = np.minimum(code.shear.maximum_leg_spacing(beam.concrete, here, shear), LEGS_APART)
    need = _Need(forces.stations, requested, each, across)
    sizes = sorted(beam.detailing.stirrup_bars, key=lambda s: code.sizes[s].diameter)
    last: Ties | None = None
    for tightest, more in itertools.product(TIGHT, (0, 2, 4)):
        enough: list[Ties] = []
        for size in sizes:
            last, carries = _ties_of(beam, code, need, needs, size, (tightest * beam.detailing.step, more))
            if carries:
                enough.append(last)
        if len(enough) == 1:
            return enough[0]
        if enough:
            costs = [
                _price(beam, code, forces, d, needs, v) * (1.0 + THINNER * k) for k, v in enumerate(enough)
            ]
            return enough[costs.index(min(costs))]
    assert last is not None
    return last  # verification will say that it is not enough, and by how much


@dataclass(frozen=True)
class _Need:
    """At every station (n,): steel that all legs need together and each outer one beside it (mm2/mm), the
    widest spacing across the beam (mm)."""

    at: Stations
    together: Array
    each: Array
    across: Array

    def of(self, beam: Beam, index: int) -> tuple[Array, Mask]:
        """Places of a span's stations, and which of them lie between its faces."""
        x, (low, high) = self.at.x[self.at.of(index)], beam.clear(index)
        return x, np.asarray((x >= low - 1e-6) & (x <= high + 1e-6))


def _ties_of(
    beam: Beam, code: DesignCode, need: _Need, needs: Needs, size: str, limits: tuple[float, int]
) -> tuple[Ties, bool]:
    """Stirrups of a size with no more legs than they need, and whether they carry; `limits`: the spacing (mm)
    below which more legs are taken, and how many more at most."""
    (tightest, more), phi = limits, code.sizes[size].diameter
    legs, enough = [], True
    for index in range(len(beam.spans)):
        rows, (_, clear) = need.at.of(index), need.of(beam, index)
        across = float(need.across[rows].min())
        minimum = (
            math.ceil((float(need.at.width[rows].max()) - 2.0 * beam.cover.sides - phi) / across - 1e-9) + 1
        )
        minimum = max(minimum, needs.legs.get(index, 0), beam.detailing.stirrup_legs)
        fewest = count = max(2, minimum + minimum % 2)
        apart = partial(_apart, code.sizes[size].area, need.together[rows][clear], need.each[rows][clear])
        # torsion is for the outer legs: more of them inside do not help it
        while apart(count) < tightest and count < fewest + more and apart(count + 2) > 1.1 * apart(count):
            count += 2
        enough &= apart(count) >= tightest
        legs.append(count)
    return Ties(size, tuple(legs)), enough


def _price(beam: Beam, code: DesignCode, forces: Forces, d: Array, needs: Needs, ties: Ties) -> float:
    """`_cost`, found once for what it depends on: most rounds of a search change nothing of that."""
    wishes, asked = beam.detailing, (needs.shear, needs.spacing, needs.cut_offs, needs.legs)
    key = (
        ties,
        *(tuple(sorted(v.items())) for v in asked),
        needs.cut_reach,
        frozenset(needs.tied),
        (wishes.spacings, wishes.zones, wishes.reserve, wishes.rates, wishes.lean, wishes.main_bars),
    )
    if key not in forces.priced:
        forces.priced[key] = _cost(beam, code, forces, d, needs, ties)
    return forces.priced[key]


def _cost(beam: Beam, code: DesignCode, forces: Forces, d: Array, needs: Needs, ties: Ties) -> float:
    """What the stirrups of all zones cost, money; without those that laps and held ones ask for."""
    rates, size = beam.detailing.rates, code.sizes[ties.size]
    fixing, result = rates.stirrup * (LEAN if beam.detailing.lean else 1.0), 0.0
    for start, end, spacing, legs in zones(beam, code, forces, d, ties, needs, []):
        span = next(s for s in beam.spans if start < s.end)
        around = legs * span.deepest + 2.0 * span.narrowest
        number = round((end - start) / spacing) + 1
        result += number * (around * size.area * 7850e-9 * rates.steel + fixing)
    return result


def _apart(area: float, total: Array, outer: Array, legs: int) -> float:
    """The least spacing of stirrups with so many legs of an area, for steel of all legs and of each outer
    one, mm2/mm."""
    return float((legs * area / (total + legs * outer)).min())


def _with_suspended(beam: Beam, code: DesignCode, forces: Forces, requested: Array) -> Array:
    """With the steel that hangs up forces from below, spread over the length that it may stand in."""
    at, result = forces.stations, requested.copy()
    for h in suspension_forces(beam, code, forces):
        low, high = h.ends
        near = (at.span == h.span) & (at.x >= low - 1e-6) & (at.x <= high + 1e-6)
        result = np.where(
            near, result + h.steel / (1.0 - beam.detailing.reserve) / max(high - low, 1.0), result
        )
    return result


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
    """(from, to, spacing, legs) of every zone, left to right; spans with held stirrups are left as they are.
    Closer ones stand across laps that need them, and where `bars` develop that stirrups must confine."""
    at = forces.stations
    requested, each, apart = required(beam, code, forces, d, needs)
    _, shear = strut_and_shear(beam, code, forces, d)
    widest_along = code.shear.maximum_spacing(
        beam.concrete, web(forces, d), shear / (1.0 - beam.detailing.reserve)
    )
    result: list[tuple[float, float, float, int]] = []
    suspended = suspension_forces(beam, code, forces)
    for index in range(len(beam.spans)):
        low, high = beam.clear(index)
        rows = at.of(index)
        clear = (at.x[rows] >= low - 1e-6) & (at.x[rows] <= high + 1e-6)
        x, need = at.x[rows][clear], (requested + ties.legs[index] * each)[rows][clear]
        along = np.minimum(widest_along, apart)[rows][clear]
        along = np.minimum(
            along,
            _confining(beam, code, forces, bars, ties.legs[index] * code.sizes[ties.size].area)[rows][clear],
        )
        along = along / needs.spacing.get(index, 1.0)
        if index in needs.tied:
            thin = min(code.sizes[s].diameter for s in beam.detailing.main_bars)
            lowest = np.minimum(at.width, at.depth)[rows][clear]
            along = np.minimum(
                along,
                code.detailing.compression_stirrup_spacing(thin, code.sizes[ties.size].diameter, lowest),
            )
        legs = ties.legs[index]
        area = legs * code.sizes[ties.size].area
        hung = [
            Across(*h.ends, _enough(h, x, need, area, beam.detailing.reserve), True)
            for h in suspended
            if h.span == index
        ]
        local = [a for a in (*laps, *hung) if a.within(low, high)]
        span = _span_zones(
            beam,
            index,
            permitted_of(x, np.minimum(along, area / need)),
            local,
            code.sizes[ties.size].diameter,
        )
        kept = [z for z in held if z.start < high and z.end > low]
        if not kept:
            result += [(*zone, legs) for zone in span]
            continue
        for start, end, spacing in span:
            result += [(*piece, legs) for piece in _around(start, end, spacing, kept)]
    return result


def _span_zones(beam: Beam, index: int, permitted: Permitted, across: Sequence[Across], phi: float) -> Zones:
    """Zones of a span: three, or five where a heavy point load or stirrups across a lap ask for more inside
    it."""
    low, high = beam.clear(index)
    span, nearest = beam.spans[index], minimum_spacing(beam, phi)
    step, tip = beam.detailing.step, beam.cover.sides + beam.detailing.step
    first, last = (FIRST * step if end is not None else tip for end in (span.left, span.right))
    room = Room(
        math.ceil(low + first),
        math.floor(high - last),
        tuple(s for s in spacings_of(beam) if s >= nearest - 1e-6) or (nearest,),
        nearest,
        0.5 * INCH if step == INCH else 5.0,  # at a free tip the last one closes the cage
    )
    for a in across:
        for start, end in a.within(low, high):
            inside = min(end, room.last) - max(start, room.first)
            if inside > 1.0:
                permitted = permitted.limited(
                    start, end, max(min(inside / a.number if a.number else math.inf, a.apart), nearest)
                )
    points = any(
        load.span == index and load.shape == "point" for action in beam.actions for load in action.loads
    )
    return zones_of(permitted, room, beam.detailing.zones or (5 if points or across else 3))


def spacings_of(beam: Beam) -> tuple[float, ...]:
    """Spacings that are set out, ascending, mm."""
    if beam.detailing.spacings:
        return beam.detailing.spacings
    if beam.detailing.step == INCH:
        return tuple(INCH * v for v in (2, 3, 4, 5, 6, 7, 8, 9, 10, 12, 14, 16, 18))
    return (50.0, 75.0, 100.0, 125.0, 150.0, 175.0, 200.0, 225.0, 250.0, 275.0, 300.0, 350.0, 400.0)


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
            row = sum(
                b.count
                for b in bars
                if (b.face, b.layer) == (bar.face, bar.layer) and b.start <= middle <= b.end
            )
            near = (x >= low - CUT_OFF) & (x <= high + CUT_OFF)
            result = np.where(
                near,
                np.minimum(result, code.bond.confining_spacing(beam.bars, phi, area, float(row))),
                result,
            )
    return result


def _enough(hung: Suspension, x: Array, need: Array, area: float, reserve: float) -> int:
    """Stirrups beside a hung force, those for shear with them."""
    low, high = hung.ends
    shear = float(need[(x >= low) & (x <= high)].max(initial=0.0)) * (high - low)
    return math.ceil((hung.steel / (1.0 - reserve) + shear) / area - 1e-9)


def _around(
    start: float, end: float, spacing: float, held: list[StirrupZone]
) -> list[tuple[float, float, float]]:
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


def minimum_spacing(beam: Beam, phi: float) -> float:
    """What concrete can pass between stirrups, a multiple of the step, mm."""
    step = beam.detailing.step
    return math.ceil(max(LEAST, beam.concrete.aggregate + SPARE + phi) / step - 1e-3) * step
