"""Where the chosen bars begin and end: extra bars of every zone, through bars with their laps."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from upright_bramble.analysis import Forces
from upright_bramble.analysis.flanges import bar_width
from upright_bramble.beam import (
    Bar,
    Beam,
    Span,
    lapped_pairs,
)
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.proportion import curtail, stock
from upright_bramble.proportion.candidates import LEGS, Demand, Run, Zone
from upright_bramble.proportion.choice import Choice
from upright_bramble.proportion.needs import Needs
from upright_bramble.proportion.pieces import tidy
from upright_bramble.proportion.pricing import steps_of
from upright_bramble.section.arrays import Array, Mask

EVEN = 0.1  # of a bar's length: made even-sided where the sides differ by less


@dataclass(frozen=True)
class _Rows:
    """Where the rows of a face lie: axis of the first and second from the face, the other face's bars, the
    gap."""

    first: float
    second: float
    other: float
    gap: float


def _rows_of(beam: Beam, code: DesignCode, face: str, largest: float, tie: float) -> _Rows:
    cover, other = (
        (beam.cover.bottom, beam.cover.top) if face == "bottom" else (beam.cover.top, beam.cover.bottom)
    )
    rise = float(code.detailing.clear_spacing(largest, beam.concrete.aggregate))
    first = cover + tie + 0.5 * largest
    return _Rows(first, first + largest + rise, other + tie + 8.0, max(rise, beam.detailing.clear))


def lengths_of(
    beam: Beam,
    code: DesignCode,
    forces: Forces,
    run: Run,
    demand: Demand,
    choice: Choice,
    tie: float,
    needs: Needs,
) -> list[Bar]:
    """Extra bars of every zone, then the through bars, lapped where there is room beside the extra ones."""
    at, face = forces.stations, run.face
    phi, phi_e = code.sizes[choice.size].diameter, code.sizes[choice.extra_size].diameter
    limits = curtail.run_limits(beam, run.start, run.end)
    ends = (run.face, 0), (run.face, 1)
    left, right = (needs.behind.get(end, 0.0) for end in ends)
    straight = ends[0] in needs.behind_straight, ends[1] in needs.behind_straight
    limits = curtail.behind(limits, left, right, straight)
    if run.face == "bottom":
        limits = _past_inner_ends(beam, code, run, limits, phi, squeezed=demand.least_through > 1.0)
    rows = _rows_of(beam, code, run.face, max(phi, phi_e), tie)
    extra = _extra_bars(beam, code, forces, run, demand, choice, rows, limits, needs)
    if not choice.through:
        return _in_stock(
            beam, code, forces, tidy(beam, extra, limits.farthest(0), limits.farthest(1)), demand.moment
        )
    wide = float(code.bond.lap_clear_distance(phi, beam.concrete.aggregate))
    groups = in_turn(beam, run, choice.through, phi, (rows.gap, wide), tie, face in needs.staggered)
    anchorage = curtail.anchorage_of(beam, code, phi, face)
    n = choice.through
    lap = curtail.lap_of(beam, code, phi, face, max(groups) / n)
    required = curtail.needed_area(
        beam, code, forces, face, demand.moment, np.full(len(at), rows.first), rows.other
    )
    required = np.maximum(np.maximum(required, demand.least), demand.pulled) - demand.held
    share = np.clip(required / (choice.through * code.sizes[choice.size].area), 0.0, 1.0)
    beside, several = np.zeros(len(at)), np.zeros(len(at), dtype=bool)
    for bar in extra:
        reach = 0.5 * lap + 2.0 * beam.detailing.step
        near = (at.x >= bar.start - reach) & (at.x <= bar.end + reach)
        beside += np.where((bar.layer == 1) & near, bar.count, 0)
        several |= (bar.layer > 1) & near
    through: list[Bar] = []
    middles: list[float] = []
    for count in groups:
        taken = (
            (n + count) * phi
            + beside * phi_e
            + (n + beside - 1.0) * rows.gap
            + (count - 1.0) * max(wide - rows.gap, 0.0)
        )
        room = taken <= bar_width(at, face) - 2.0 * (beam.cover.sides + tie)
        room &= ~several | (demand.moment <= 1e3) | (count / n <= code.bond.maximum_lap_share(2, True))
        pieces = stock.through(
            beam, code, forces, limits, face, anchorage, lap, phi, demand.moment, share, room, middles
        )
        if len(pieces) == 1 and count < n:  # nothing is lapped: all bars are alike
            pieces, count = (
                stock.through(
                    beam, code, forces, limits, face, anchorage, lap, phi, demand.moment, share, room
                ),
                n,
            )
        more = max(
            (
                float(beside[_within(at.x, b.start, a.end)].max(initial=0.0))
                for a, b in itertools.pairwise(pieces)
            ),
            default=0.0,
        )
        both = n + max(groups)
        row = curtail.Row(n + more, both * phi + more * phi_e, needs.across.get(face, 0.0), both + more)
        if face not in needs.long_laps:
            lengths = [
                curtail.lap_of(
                    beam,
                    code,
                    phi,
                    face,
                    max(groups) / n,
                    row,
                    1.0 if needs.full_laps else _stress(beam, at.x, share, a, b),
                )
                for a, b in itertools.pairwise(pieces)
            ]
            pieces = _shorter_laps(beam, pieces, lengths)
        through += [
            Bar(
                mark="",
                face=face,
                layer=1,
                count=count,
                size=choice.size,
                start=p.start,
                end=p.end,
                ends=p.ends,
                legs=p.legs,
            )
            for p in pieces
        ]
        if count == n:
            break
        middles += [0.5 * (b.start + a.end) for a, b in itertools.pairwise(pieces)]
    return _in_stock(
        beam, code, forces, tidy(beam, through + extra, limits.farthest(0), limits.farthest(1)), demand.moment
    )


def _in_stock(beam: Beam, code: DesignCode, forces: Forces, bars: list[Bar], pull: Array) -> list[Bar]:
    """Extra bars that are longer than stock in pieces, where the others are not lapped."""
    middles = [0.5 * (bars[i].end + bars[j].start) for i, j in lapped_pairs(bars)]
    result: list[Bar] = []
    for bar in bars:
        pieces = stock.in_stock(beam, code, forces, bar, pull, middles)
        middles += [0.5 * (a.end + b.start) for a, b in itertools.pairwise(pieces)]
        result += pieces
    return result


def _within(x: Array, low: float, high: float) -> Mask:
    """Stations of a stretch, with one before and after it."""
    first, last = int(np.searchsorted(x, low)) - 1, int(np.searchsorted(x, high, side="right"))
    result = np.zeros(len(x), dtype=bool)
    result[max(first, 0) : last + 1] = True
    return result


def _stress(beam: Beam, x: Array, share: Array, a: curtail.Piece, b: curtail.Piece) -> float:
    """Of the yield of bars that run through, for which their lap is made: 1.0, or where laps are wanted for
    their stress the root of the `share` (n,) of them that is needed there. The shorter a lap, the less of its
    bars is anchored over it, and the more of that is used."""
    if beam.detailing.laps_for == "yield":
        return 1.0
    needed = float(share[_within(x, b.start, a.end)].max(initial=0.0))
    return min(math.sqrt(needed) * (1.0 + beam.detailing.reserve), 1.0)


def _shorter_laps(beam: Beam, pieces: list[curtail.Piece], lengths: Sequence[float]) -> list[curtail.Piece]:
    """With laps no longer than they have to be, about their middles as they are."""
    step, result = beam.detailing.step, list(pieces)
    for k, (a, b, length) in enumerate(zip(pieces[:-1], pieces[1:], lengths, strict=True)):
        overlap = math.ceil(length / step) * step
        end = math.ceil((0.5 * (b.start + a.end) + 0.5 * overlap) / step) * step
        if end < a.end:
            result[k] = replace(result[k], end=float(end))
            result[k + 1] = replace(result[k + 1], start=float(end - overlap))
    return result


def in_turn(
    beam: Beam,
    run: Run,
    number: int,
    phi: float,
    gaps: tuple[float, float],
    tie: float,
    staggered: bool = False,
) -> tuple[int, ...]:
    """Bars that run through, in groups that are lapped at places of their own."""
    wish = "together" if beam.detailing.laps_at else beam.detailing.laps
    if run.end - run.start <= beam.detailing.longest_piece - LEGS or number < 2 or wish == "together":
        return (number,)
    room = run.width - 2.0 * (beam.cover.sides + tie)
    fits = 2.0 * number * phi + (number - 1.0) * max(gaps) <= room
    if fits and wish == "auto" and not staggered:
        return (number,)
    if number == 2:  # one at a time is not symmetrical (EN 1992-1-1, 8.7.2(2)): where the user wants that
        return (1, 1) if wish == "staggered" and not fits else (2,)
    pairs = 2 * (number // 4)  # each group symmetrical about the web, one of them with the middle bar
    if pairs and (2.0 * number - pairs) * phi + (number - 1.0) * max(gaps) <= room:
        return (number - pairs, pairs)
    return (*[2] * (number // 2), *[1] * (number % 2))


def _extra_bars(
    beam: Beam,
    code: DesignCode,
    forces: Forces,
    run: Run,
    demand: Demand,
    choice: Choice,
    rows: _Rows,
    limits: curtail.Limits,
    needs: Needs,
) -> list[Bar]:
    """As long as they have to be, and even-sided where that puts none beside another that it did not lie
    beside."""
    result: list[Bar] = []
    homes: list[Zone] = []
    for z, zone in enumerate(run.zones):
        own = _zone_bars(beam, code, forces, run.face, zone, demand, (choice, z), rows, limits, needs)
        result += own
        homes += [zone] * len(own)
    for k, zone in enumerate(homes):
        even = _even_sided(beam, run.face, zone, result[k], limits)
        row = [b for m, b in enumerate(result) if m != k and b.layer == even.layer]
        if not any(_overlap(even, b) and not _overlap(result[k], b) for b in row):
            result[k] = even
    return result


def _overlap(a: Bar, b: Bar) -> bool:
    return a.start < b.end and b.start < a.end


def _zone_bars(
    beam: Beam,
    code: DesignCode,
    forces: Forces,
    face: str,
    zone: Zone,
    demand: Demand,
    chosen: tuple[Choice, int],
    rows: _Rows,
    limits: curtail.Limits,
    needs: Needs,
) -> list[Bar]:
    """The second row stops where the first suffices, the first where the through bars do, half of it perhaps
    earlier; or where the first row has no room beside laps, the first stops before bars of the second that
    stand over those that run through. `chosen`: what was taken of the run, and the number of the zone in
    it."""
    choice, z = chosen
    n_1, n_2 = choice.first_row[z], choice.second_row[z]
    if not n_1 + n_2:
        return []
    at, phi = forces.stations, code.sizes[choice.extra_size].diameter
    area, extra = choice.through * code.sizes[choice.size].area, code.sizes[choice.extra_size].area
    # two pieces of each bar that runs through may lie beside these
    lapped = beam.length > beam.detailing.longest_piece
    number = (1.0 + lapped) * choice.through
    taken = number * code.sizes[choice.size].diameter + n_1 * phi
    row = curtail.Row(choice.through + n_1, taken, needs.across.get(face, 0.0), number + n_1)
    anchorage = curtail.anchorage_of(beam, code, phi, face, row), curtail.anchorage_of(beam, code, phi, face)
    upper = _upper_rows(choice.through + n_1, n_2)
    # where the second row has stopped the bars lie deeper than this mean, so it is safe there
    above = sum(count * (rows.first + (layer - 1) * (rows.second - rows.first)) for layer, _, count in upper)
    mean = (rows.first * (area + n_1 * extra) + above * extra) / (area + (n_1 + n_2) * extra)
    past = min(n_2, choice.through) if (face, zone.index) in needs.above else 0
    if past:
        mean = max(mean, (rows.first * area + rows.second * past * extra) / (area + past * extra))
    needed = curtail.needed_area(beam, code, forces, face, demand.moment, np.full(len(at), mean), rows.other)
    needed = np.maximum(np.maximum(needed, demand.least), demand.pulled) - demand.held
    own, others = (
        curtail.end_share(beam, code, face, p, at.x) for p in (phi, code.sizes[choice.size].diameter)
    )
    long, short = (int(n) for n in steps_of(np.asarray(n_1))) if choice.two_steps[z] else (n_1, 0)
    through = area * others
    groups = [(1, long, through), (1, short, through + long * extra * own)]
    groups += [(layer, count, through + (n_1 + below) * extra * own) for layer, below, count in upper]
    if past:
        groups = _second_row_first(groups, past, n_1, through, through + past * extra * own)
    if beam.detailing.lengths == 1:  # all as long as the longest
        groups = [(layer, count, through) for layer, count, _ in groups]
    result: list[Bar] = []
    for layer, count, local in groups:
        if not count:
            continue
        reach = _reach(beam, at.x, zone, needed, local)
        together = n_1 + n_2 if beam.detailing.lengths == 1 else count
        stressed = _stressed(at.x, zone, needed - local, together * extra, anchorage[0])
        if stressed is None or beam.detailing.cut_off == "none" or zone.index in demand.anchored:
            stressed = reach[0] - anchorage[0], reach[1] + anchorage[0]
        within = limits
        if needs.nested:
            inward = (layer - 1) * (rows.second - rows.first)
            within = curtail.behind(limits, inward, inward)
        piece = curtail.stop(
            beam, code, within, reach, stressed, anchorage, phi, float(at.depth[zone.where].min())
        )
        if layer == 1 and demand.legs and choice.through < demand.legs[z]:
            piece = _along_span(beam, zone, piece)
        if face == "top" and zone.index in needs.onward and local is through:
            piece = _past_inflection(beam, code, forces, zone, piece, demand.moment, phi)
            start = max(piece.start, limits.low) if limits.kinds[0] == "outer" else piece.start
            end = min(piece.end, limits.high) if limits.kinds[1] == "outer" else piece.end
            piece = replace(piece, start=start, end=end)
        result.append(
            Bar(
                mark="",
                face=face,
                layer=layer,
                count=count,
                size=choice.extra_size,
                start=piece.start,
                end=piece.end,
                ends=piece.ends,
                legs=piece.legs,
            )
        )
    return result


def _second_row_first(
    groups: list[tuple[int, int, Array]], past: int, n_1: int, through: Array, beside: Array
) -> list[tuple[int, int, Array]]:
    """Groups (layer, number, area beside them at every place) with `past` bars of the second row as the
    longest, which what runs `through` lies beside; the other `n_1` and those of the second row are alike, and
    these lie `beside` them as well."""
    rest = [
        (layer, count - past if layer == 2 else count, local) for layer, count, local in groups if layer > 1
    ]
    return [
        (2, past, through),
        (1, n_1, beside),
        *((layer, count, beside if layer == 2 else local) for layer, count, local in rest if count),
    ]


def _along_span(beam: Beam, zone: Zone, piece: curtail.Piece) -> curtail.Piece:
    """Bottom bars that hold stirrup legs go from face to face of their span, and a step beyond."""
    (low, high), step = beam.clear(zone.index), beam.detailing.step
    start = math.floor((low - step) / step) * step if piece.start > low - 1.0 else piece.start
    end = math.ceil((high + step) / step) * step if piece.end < high + 1.0 else piece.end
    return replace(piece, start=start, end=end)


def _reach(beam: Beam, x: Array, zone: Zone, needed: Array, local: Array) -> tuple[float, float]:
    """From where to where in a zone bars are needed beside the area `local`: at least at its worst place."""
    inside = x[zone.where]
    if beam.detailing.cut_off == "none":
        return float(inside.min()), float(inside.max())
    middle = float(inside[needed[zone.where].argmax()])
    return curtail.region(x, needed, local, zone.where) or (middle, middle)


def _stressed(
    x: Array, zone: Zone, lacking: Array, area: float, anchorage: float
) -> tuple[float, float] | None:
    """From where to where bars of this `area` (mm2) go in a zone for what each place lacks (n, mm2) to be
    anchored, mm; None where nothing lacks."""
    at = np.flatnonzero((lacking > 1e-6) & zone.where)
    if not len(at):
        return None
    length = np.minimum(lacking[at] / area, 1.0) * anchorage
    return float((x[at] - length).min()), float((x[at] + length).max())


def _past_inflection(
    beam: Beam, code: DesignCode, forces: Forces, zone: Zone, piece: curtail.Piece, moment: Array, phi: float
) -> curtail.Piece:
    """Straight ends of a support bar that go on as far past the points of inflection as the code asks of part
    of the bars."""
    x, step, ends = forces.stations.x, beam.detailing.step, [piece.start, piece.end]
    for side, span in enumerate((_span_before(beam, zone.index), _span_after(beam, zone.index))):
        if span is None or span.cantilever or piece.ends[side] != "straight":
            continue
        low, high = beam.clear(beam.spans.index(span))
        inner = (x > low) & (x < high)
        idle = np.flatnonzero((moment <= 1e3) & inner)
        if not len(idle):
            continue
        past = code.curtailment.beyond_inflection(float(forces.stations.depth[inner].max()), phi, high - low)
        place = float(x[idle[-1]]) - past if side == 0 else float(x[idle[0]]) + past
        ends[side] = (
            min(ends[0], math.floor(place / step) * step)
            if side == 0
            else max(ends[1], math.ceil(place / step) * step)
        )
    return replace(piece, start=ends[0], end=ends[1])


def _span_before(beam: Beam, support: int) -> Span | None:
    return next((s for s in beam.spans if s.right == support), None)


def _span_after(beam: Beam, support: int) -> Span | None:
    return next((s for s in beam.spans if s.left == support), None)


def _upper_rows(first: int, number: int) -> list[tuple[int, int, int]]:
    """Layer, bars in the rows between it and the first, and its own, where each holds no more than the one
    below."""
    result, layer, below = [], 2, 0
    while number > 0:
        own = min(number, max(first, 1))
        result.append((layer, below, own))
        layer, below, number = layer + 1, below + own, number - own
    return result


def _even_sided(beam: Beam, face: str, zone: Zone, bar: Bar, limits: curtail.Limits) -> Bar:
    """As far to one side of its support, or of the middle of its span, as to the other, where that lengthens
    it little."""
    if bar.ends != ("straight", "straight") or beam.detailing.lean:
        return bar
    if face == "top":
        centre = beam.supports[zone.index].x
    else:
        low, high = beam.clear(zone.index)
        centre = 0.5 * (low + high)
    left, right = centre - bar.start, bar.end - centre
    more, step = max(left, right), beam.detailing.step
    start, end = math.floor((centre - more) / step) * step, math.ceil((centre + more) / step) * step
    if (
        abs(left - right) > EVEN * (left + right)
        or min(left, right) <= 0.0
        or start < limits.low
        or end > limits.high
    ):
        return bar
    return replace(bar, start=start, end=end)


def _past_inner_ends(
    beam: Beam, code: DesignCode, run: Run, limits: curtail.Limits, phi: float, *, squeezed: bool
) -> curtail.Limits:
    """A bottom run that ends at an inner support goes past its face by what the code requires, in whole
    steps; further where bars have to be anchored, into the next span unless its soffit is higher: where that
    leaves too little support they are bent up in it. Bars in compression (`squeezed`) are anchored in the
    deeper section past a step of the soffit."""
    low, high, kinds, step = limits.low, limits.high, list(limits.kinds), beam.detailing.step
    beyond = [low, high]
    into = math.ceil(float(code.curtailment.into_support(phi, False)) / step - 1e-9) * step
    for k, s in enumerate(beam.supports):
        for side, edge in enumerate((run.start, run.end)):
            if kinds[side] != "inner" or abs(s.x - edge) > 1e-6:
                continue
            near, away = (s.x + 0.5 * s.width, -1.0) if side == 0 else (s.x - 0.5 * s.width, 1.0)
            past = max(into, 0.5 * s.width)  # at least to the middle: no place of the face is without bars
            if squeezed and _steps_down(beam, k, side):
                anchorage = curtail.anchorage_of(beam, code, phi, "bottom")
                past = max(past, math.ceil(anchorage / step) * step)
            if side == 0:
                low = float(math.floor(near - past))
            else:
                high = float(math.ceil(near + past))
            beyond[side] = s.x + away * 0.4 * _length_past(beam, k, side)
            if not _passes(beam, k, side):  # stopped by the step in the soffit
                beyond[side] = s.x + away * (0.5 * s.width - beam.cover.sides)
            beyond[side] = float(math.ceil(beyond[side]) if side == 0 else math.floor(beyond[side]))
            if past > s.width - beam.cover.sides and not _passes(beam, k, side):
                kinds[side] = "outer"
                low, high = (beyond[0], high) if side == 0 else (low, beyond[1])
    return replace(limits, low=low, high=high, kinds=(kinds[0], kinds[1]), beyond=(beyond[0], beyond[1]))


def _beside(beam: Beam, support: int, side: int) -> tuple[Span, Span]:
    """Spans on this side of a support and past it, for bars that go past it to the left (side 0) or right."""
    left = next(s for s in beam.spans if s.right == support)
    right = next(s for s in beam.spans if s.left == support)
    return (right, left) if side == 0 else (left, right)


def _length_past(beam: Beam, support: int, side: int) -> float:
    return _beside(beam, support, side)[1].length


def _steps_down(beam: Beam, support: int, side: int) -> bool:
    """Whether the section past a support is deeper: bars go straight on into it."""
    own, next_ = _beside(beam, support, side)
    a, b = (0.0, next_.length) if side == 0 else (own.length, 0.0)
    return bool(own.depths(a) < next_.depths(b) - 1.0) and _passes(beam, support, side)


def _passes(beam: Beam, support: int, side: int) -> bool:
    """Whether bottom bars can go on past a support: the section there is as deep and as wide, or more so."""
    own, next_ = _beside(beam, support, side)
    a, b = (0.0, next_.length) if side == 0 else (own.length, 0.0)
    return bool(own.depths(a) <= next_.depths(b) + 1.0 and own.widths(a) <= next_.widths(b) + 1.0)
