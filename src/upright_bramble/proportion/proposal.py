"""A whole layout for the forces and what earlier rounds asked: bars of both faces, their lengths,
stirrups."""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass, replace

import numpy as np

from upright_bramble.analysis import Forces
from upright_bramble.analysis.flanges import bar_width, compressed, tension_face
from upright_bramble.analysis.side_bars import side_bar_anchored
from upright_bramble.analysis.support_width import shear_at_d, shifted_moments
from upright_bramble.analysis.twist import chord_moment, side_bar_area, side_rows, skin_bars, twist_of
from upright_bramble.beam import (
    KINK,
    Bar,
    Beam,
    Layout,
    SideBars,
    Span,
    StirrupZone,
    lapped_pairs,
    lapped_share,
)
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.codes.parts import Twist
from upright_bramble.proportion import curtail, stirrups
from upright_bramble.proportion.carried import carried_on
from upright_bramble.proportion.choice import LEGS, Choice, Demand, Run, Weighed, Zone, steps_of, weigh
from upright_bramble.proportion.marks import marked
from upright_bramble.proportion.needs import Needs
from upright_bramble.proportion.pieces import alike, ends_apart, tidy
from upright_bramble.proportion.together import Runner, together
from upright_bramble.section.arrays import Array, Mask, greatest_by_group
from upright_bramble.section.strength import required_steel

SIDE = 9.0  # mm: bars along the sides are no thinner
EVEN = 0.1  # of a bar's length: made even-sided where the sides differ by less


@dataclass(frozen=True)
class _Start:
    """What both faces build on: depths, shift, shifted moments with reserve, stirrups; bottom steel `pulled`
    at simple ends."""

    ties: stirrups.Ties
    tie: float
    moments: dict[str, Array]
    shift: Array
    rows: int
    side_area: float
    pulled: Array
    twist: Twist | None = None


@dataclass(frozen=True)
class Proposal:
    """A layout, how many arrangements of the whole beam's bars it is the cheapest of, and those that came
    next."""

    layout: Layout
    weighed: int
    runners: tuple[Runner, ...]


def propose(
    beam: Beam, code: DesignCode, forces: Forces, needs: Needs, held: Layout | None = None
) -> Proposal:
    """Bars and stirrups for the beam around what the user holds.

    Raises NoProposal when no allowed bars fit.
    """
    own = held or Layout((), ())
    carried = carried_on(beam, code, own.bars)
    kept = replace(own, bars=(*own.bars, *carried))  # what carries held bars on is as fixed as they are
    start = _start(beam, code, forces, needs)
    required: list[Demand] = []
    weighed: list[Weighed] = []
    compression = _compression(beam, code, forces, start, needs)
    for face in ("bottom", "top"):
        for run in _runs(beam, forces, face, needs):
            demand = _demand(beam, code, forces, run, start, kept, compression[face])
            # every leg has a bar to hold it, at both faces
            legs = max(
                start.ties.legs[i]
                for i in range(len(beam.spans))
                if (forces.stations.span[run.where] == i).any()
            )
            number = max(needs.number.get(face, 2), beam.detailing.least_bars, legs)
            demand = replace(demand, least_number=number, below=needs.thinner.get(face, math.inf))
            required.append(demand)
            weighed.append(weigh(beam, code, forces, run, demand, start.tie))
    taken = together(beam, code, weighed, frozenset(b.size for b in kept.bars))
    bars: list[Bar] = []
    for w, demand, choice in zip(weighed, required, taken.choices, strict=True):
        bars += _lengths(beam, code, forces, w.run, demand, choice, start.tie, needs)
    bars = [b for face in ("bottom", "top") for b in ends_apart(beam, [v for v in bars if v.face == face])]
    bars = [_with_legs(b, needs.bend_legs.get(b.face, 0.0)) for b in alike(beam, code.sizes, bars)]
    d = _depth(beam, code, forces, bars + list(kept.bars), start.tie)
    laps = _across_laps(beam, code, start, [*bars, *kept.bars])
    spans = stirrups.zones(
        beam, code, forces, d, start.ties, needs, list(kept.stirrups), laps, [*bars, *kept.bars]
    )
    ties = [
        StirrupZone("", start.ties.size, legs, round(float(a), 1), round(float(b), 1), float(s))
        for a, b, s, legs in spans
    ]
    return Proposal(
        marked(beam, [*bars, *carried], ties, own, _sides(beam, code, forces, start, kept)),
        taken.weighed,
        taken.runners,
    )


def _with_legs(bar: Bar, shortest: float) -> Bar:
    """Bends with legs no shorter than so, in steps of 10 mm."""
    leg = math.ceil(shortest / 10.0 - 1e-9) * 10.0
    legs = [
        max(old, leg) if kind == "bend" and old > 0.0 else old
        for kind, old in zip(bar.ends, bar.legs, strict=True)
    ]
    return replace(bar, legs=(legs[0], legs[1]))


def _across_laps(beam: Beam, code: DesignCode, start: _Start, bars: list[Bar]) -> list[stirrups.Across]:
    """Laps with the number of stirrups that each of their outer thirds needs."""
    result, pairs = [], lapped_pairs(bars)
    for i, j in pairs:
        phi = code.sizes[bars[i].size].diameter
        share = lapped_share(
            bars, pairs, (i, j), 0.65 * curtail.lap_of(beam, code, phi, bars[i].face), code.sizes
        )
        required = code.bond.lap_stirrups(phi, share)
        if required > 0.0:
            number = math.ceil(0.5 * required / code.sizes[start.ties.size].area - 1e-9)
            result.append(
                stirrups.Across(
                    bars[j].start, bars[i].end, number, False, code.bond.lap_stirrup_spacing(phi, share)
                )
            )
    return result


def _sides(beam: Beam, code: DesignCode, forces: Forces, start: _Start, kept: Layout) -> list[SideBars]:
    """Side bars from end to end where torsion or a deep web requires them, lapped at stock length: the fewest
    rows and thinnest bars that are anchored well enough, bent into the end supports where straight ones are
    not. None where the user holds some."""
    if not start.rows or kept.sides:
        return []
    own = beam.detailing.side_bars or beam.detailing.main_bars
    thin = () if beam.detailing.side_bars else tuple(s for s in beam.detailing.stirrup_bars if s not in own)
    best: list[SideBars] = []
    least = math.inf
    # sizes of the stirrups where no main bar develops in the end supports
    for sizes in (own, tuple(s for s in thin if code.sizes[s].diameter >= SIDE)):
        for rows in (start.rows, start.rows + 1, start.rows + 2):
            for size in sorted(sizes, key=lambda s: code.sizes[s].diameter):
                for bent in (False, True):
                    sides = _side_pieces(beam, code, start, rows, size, bent)
                    lacking = _sides_lacking(beam, code, forces, start, sides)
                    if lacking <= 1.0:
                        return sides
                    if lacking < least:
                        best, least = sides, lacking
    return best


def _side_pieces(
    beam: Beam, code: DesignCode, start: _Start, rows: int, size: str, bent: bool
) -> list[SideBars]:
    """From end to end in pieces no longer than stock."""
    c, step = beam.cover.sides, beam.detailing.step
    low, high = math.ceil(beam.ends[0] + c), math.floor(beam.ends[1] - c)
    lap = math.ceil(curtail.lap_of(beam, code, code.sizes[size].diameter, "top") / step) * step
    phi = code.sizes[size].diameter
    outer = [_side_leg(beam, code, start, phi, side) if bent else 0.0 for side in (0, 1)]
    stock, pieces = beam.detailing.longest_piece, 1
    if high - low + sum(outer) > stock:
        pieces = max(math.ceil((high - low - lap) / max(stock - max(outer) - lap, lap)), 2)
    length = math.ceil((high - low + (pieces - 1) * lap) / pieces - 1e-9)  # whole mm: one mark for all
    result = []
    for k in range(pieces):
        legs = (outer[0] if k == 0 else 0.0, outer[1] if k == pieces - 1 else 0.0)
        ends = ("bend" if legs[0] else "straight", "bend" if legs[1] else "straight")
        first = low + k * (length - lap) if k < pieces - 1 else float(high - length)
        result.append(SideBars("", rows, size, first, first + length, False, ends, legs))
    return result


def _side_leg(beam: Beam, code: DesignCode, start: _Start, phi: float, side: int) -> float:
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
    beam: Beam, code: DesignCode, forces: Forces, start: _Start, sides: list[SideBars]
) -> float:
    """Worst ratio of what is required to what is provided: of area where a deep web requires it, of anchored
    area where torsion does."""
    deep = start.side_area / code.sizes[sides[0].size].area
    if start.twist is None:
        return deep - 1e-9
    at = forces.stations
    local = side_bar_anchored(beam, code, at, sides, start.tie)
    each = side_bar_area(start.twist, sides[0].rows)
    required = np.where(
        each > 0.0, local.full if code.torsion.develops_bars else each / (1.0 - beam.detailing.reserve), 0.0
    )
    clear = np.zeros(len(at), dtype=bool)
    for index in range(len(beam.spans)):
        low, high = beam.clear(index)
        clear |= (at.span == index) & (at.x >= low - 1e-6) & (at.x <= high + 1e-6)
    required = np.where(clear, np.maximum(required, each), 0.0)
    ratio = np.where(required > 0.0, (required - 1e-6) / np.maximum(local.anchored, 1e-9), 0.0)
    return max(deep - 1e-9, float(ratio.max(initial=0.0)))


def _start(beam: Beam, code: DesignCode, forces: Forces, needs: Needs) -> _Start:
    at, design = forces.stations, forces.design
    guess = at.depth - max(beam.cover.top, beam.cover.bottom) - 20.0
    ties = stirrups.choose_ties(beam, code, forces, guess - 25.0, needs)
    tie = code.sizes[ties.size].diameter
    cot, _ = stirrups.strut_and_shear(beam, code, forces, guess)
    shift = code.shear.shift(guess, cot)
    keep = 1.0 - beam.detailing.reserve
    sagging, hogging = shifted_moments(at, design, shift)
    sagging, hogging = _with_chords(beam, code, forces, guess, sagging, hogging)
    twist = twist_of(beam, code, forces, stirrups.web(forces, guess), cot, tie)
    rows = side_rows(twist) if twist is not None else 0
    if twist is not None:
        pull = chord_moment(code, beam, twist, guess, rows)
        sagging, hogging = sagging + pull, hogging + pull
    moments = {"bottom": sagging / keep, "top": hogging / keep}
    # tension pulls at both faces; compression is left to verification, which counts it
    pull = 0.5 * np.maximum(-design.axial_min, 0.0) * 0.9 * guess
    moments = {face: m + pull / keep for face, m in moments.items()}
    for face, zones in (("bottom", at.span), ("top", _nearest(beam, at.x))):
        factors = np.array([needs.bending.get((face, i), 1.0) for i in range(int(zones.max()) + 1)])
        moments[face] = moments[face] * factors[zones] * needs.relief.get(face, 1.0)
    skin, each = skin_bars(beam, code, tie)
    start = _Start(
        ties, tie, moments, shift, max(rows, skin, beam.detailing.side_rows), each, np.zeros(len(at)), twist
    )
    return replace(start, pulled=_end_force(beam, code, forces, start))


def _with_chords(
    beam: Beam, code: DesignCode, forces: Forces, d: Array, sagging: Array, hogging: Array
) -> tuple[Array, Array]:
    """With what shear pulls in the bars of both faces; of top bars not nearer to a direct support than d."""
    at, design, web = forces.stations, forces.design, stirrups.web(forces, d)

    def pulled(signed: Array, sign: float) -> Array:
        def acting() -> tuple[Array, Array]:
            """Shear of every set that acts, and its moment, as far as support widths leave it: (sets, n)."""
            together = forces.acting_together
            if together is None:
                return shear_at_d(beam, at, design.shear, d)[None], signed[None]
            return shear_at_d(beam, at, np.abs(together[1]), d), np.minimum(sign * together[0], signed)

        return code.shear.chord_moment(
            beam.concrete, beam.stirrups, web, acting, signed, greatest_by_group(signed, at.span)
        )

    faces = np.array([s.x - sign * 0.5 * s.width for s in beam.supports if s.direct for sign in (-1.0, 1.0)])
    away = np.abs(at.x[:, None] - faces).min(axis=1, initial=np.inf) >= d
    return np.maximum(sagging, pulled(design.moment_max, 1.0)), np.where(
        away, np.maximum(hogging, pulled(-design.moment_min, -1.0)), hogging
    )


def _nearest(beam: Beam, x: Array) -> np.ndarray:
    return np.asarray(np.abs(x[:, None] - np.array([s.x for s in beam.supports])).argmin(axis=1))


def _inside_ends(beam: Beam, x: Array) -> Mask:
    """Stations where sections are not designed: bars are only being anchored there."""
    low, high = beam.design_range
    return np.asarray((x < low - 1e-6) | (x > high + 1e-6))


def _runs(beam: Beam, forces: Forces, face: str, needs: Needs) -> list[Run]:
    """Bottom bars stop in every support, past its face by what the code requires; those that have to be
    continuous go through spans of one profile. Top bars go through all of the line, in its narrowest
    width."""
    at = forces.stations
    outside = _inside_ends(beam, at.x)
    groups: list[list[int]] = []
    for i, span in enumerate(beam.spans):
        joined = i > 0 and (face == "top" or (needs.continuous and _alike(beam.spans[i - 1], span)))
        if joined:
            groups[-1].append(i)
        else:
            groups.append([i])
    near, wide = _nearest(beam, at.x), bar_width(at, face)
    result = []
    for group in groups:
        where = np.isin(at.span, group) & ~outside
        if face == "bottom":
            zones = [
                Zone(i, where & (at.span == i), float(wide[at.of(i)].min()), needs.crowded.get((face, i), 0))
                for i in group
            ]
        else:
            zones = [
                Zone(
                    s,
                    where & (near == s),
                    float(wide[where & (near == s)].min()),
                    needs.crowded.get((face, s), 0),
                )
                for s in range(len(beam.supports))
                if (where & (near == s)).any()
            ]
        width = min(float(wide[at.of(i)].min()) for i in group)
        result.append(
            Run(face, where, tuple(zones), beam.spans[group[0]].start, beam.spans[group[-1]].end, width)
        )
    return result


def _alike(before: Span, after: Span) -> bool:
    """Whether bottom bars can go on from one span into the next: no step in soffit or width, and no kink."""
    a, b = before.length, 0.0
    return bool(
        abs(before.widths(a) - after.widths(b)) < 1.0
        and abs(before.depths(a) - after.depths(b)) < 1.0
        and abs(before.slope - after.slope) < KINK
    )


def _compression(
    beam: Beam, code: DesignCode, forces: Forces, start: _Start, needs: Needs
) -> dict[str, float]:
    """Compression steel that the other face's moment asks of each face, through the whole run (the simple
    way)."""
    at = forces.stations
    result = {}
    for face, other in (("bottom", "top"), ("top", "bottom")):
        cover = beam.cover.bottom if other == "bottom" else beam.cover.top
        own = beam.cover.bottom if face == "bottom" else beam.cover.top
        d = at.depth - cover - start.tie - 20.0
        d_2 = np.full(len(at), own + start.tie + 12.0)
        _, required, _ = required_steel(
            np.where(_inside_ends(beam, at.x), 0.0, start.moments[other]) / code.bending.usual_factor,
            compressed(at, other), d, d_2,
            code.materials.concrete_law(beam.concrete), code.materials.steel_law(beam.bars),
            code.bending.neutral_axis_limit(beam.concrete, beam.bars,
            forces.design.delta if other == "top" else 1.0),
        )  # fmt: skip
        finite = required[np.isfinite(required)]
        result[face] = float(finite.max(initial=0.0)) + needs.through.get(face, 0.0)
    return result


def _demand(
    beam: Beam, code: DesignCode, forces: Forces, run: Run, start: _Start, kept: Layout, compression: float
) -> Demand:
    at, design = forces.stations, forces.design
    raw = design.moment_max if run.face == "bottom" else -design.moment_min
    cover = (beam.cover.bottom if run.face == "bottom" else beam.cover.top) + start.tie + 5.0
    d = at.depth - cover
    required = curtail.needed_area(
        beam, code, forces, run.face, start.moments[run.face], np.full(len(at), cover + 5.0), 50.0
    )
    minimum = code.bending.minimum_steel(
        beam.concrete, beam.bars, tension_face(beam, code, at, run.face, d), required
    )
    minimum = np.maximum(minimum, beam.detailing.minimum_area(at.width, d))
    tension = (raw > 0.01 * max(float(raw.max()), 1.0)) & run.where
    held, in_row, throughout = _held(beam, code, forces, run, kept)
    # the minimum over a support or in a span is met there: it does not have to run on through the beam
    least_through = compression - float(held[run.where].min())
    return Demand(
        np.where(run.where, start.moments[run.face], 0.0),
        np.where(tension, minimum, 0.0),
        np.where(run.where & (run.face == "bottom"), start.pulled, 0.0),
        held,
        in_row,
        throughout,
        least_through,
    )


def _end_force(beam: Beam, code: DesignCode, forces: Forces, start: _Start) -> Array:
    """Bottom steel that the force at simple ends asks for at the face, with reserve, (n,) and 0 elsewhere."""
    at = forces.stations
    result = np.zeros(len(at))
    d = at.depth - beam.cover.bottom - start.tie - 10.0
    cot, _ = stirrups.strut_and_shear(beam, code, forces, d)
    force = code.curtailment.end_force(forces.design.shear, d, cot) + np.maximum(
        -forces.design.axial_min, 0.0
    )
    if start.twist is not None:
        width = 0.5 * start.twist.around - start.twist.side
        area = start.twist.bars / start.twist.around * (width + start.twist.side / (start.rows + 1.0))
        force = force + area * code.materials.steel_law(beam.bars).yield_stress
    yielding = code.materials.steel_law(beam.bars).yield_stress * (1.0 - beam.detailing.reserve)
    for s, span, face in (
        (0, beam.spans[0].left, beam.design_range[0]),
        (-1, beam.spans[-1].right, beam.design_range[1]),
    ):
        if span is None or beam.supports[s].fixed:
            continue
        near = np.abs(at.x - face) < 1e-3
        result[near] = force[near] / yielding
    return result


def _held(beam: Beam, code: DesignCode, forces: Forces, run: Run, kept: Layout) -> tuple[Array, Array, bool]:
    """Area of held bars of this face (anchored share), their number in the first row, and whether they run
    through."""
    x = forces.stations.x
    area, row, throughout = np.zeros(len(x)), np.zeros(len(x)), False
    for bar in kept.bars:
        if bar.face != run.face:
            continue
        phi = code.sizes[bar.size].diameter
        anchorage = curtail.anchorage_of(beam, code, phi, run.face)
        share = np.clip(
            np.minimum(
                (x - bar.start) / anchorage + (bar.ends[0] != "straight"),
                (bar.end - x) / anchorage + (bar.ends[1] != "straight"),
            ),
            0.0,
            1.0,
        )
        area += np.where(
            (x >= bar.start) & (x <= bar.end), bar.count * code.sizes[bar.size].area * share, 0.0
        )
        row += np.where((x >= bar.start) & (x <= bar.end) & (bar.layer == 1), bar.count, 0)
    some = [b for b in kept.bars if b.face == run.face and b.layer == 1 and b.count >= 2]
    if some:
        inner = x[run.where]
        covered = np.zeros(len(inner), dtype=bool)
        for bar in some:
            covered |= (inner >= bar.start - 1e-6) & (inner <= bar.end + 1e-6)
        tip = beam.cover.sides + 1.0
        throughout = bool(covered[(inner > beam.ends[0] + tip) & (inner < beam.ends[1] - tip)].all())
    return area, row, throughout


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


def _lengths(
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
    if run.face == "bottom":
        limits = _past_inner_ends(beam, code, run, limits, phi)
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
        pieces = curtail.through(
            beam, code, forces, limits, face, anchorage, lap, phi, demand.moment, share, room, middles
        )
        if len(pieces) == 1 and count < n:  # nothing is lapped: all bars are alike
            pieces, count = (
                curtail.through(
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
        row = curtail.Row(n + more, (n + max(groups)) * phi + more * phi_e)
        if face not in needs.long_laps:
            pieces = _shorter_laps(beam, pieces, curtail.lap_of(beam, code, phi, face, max(groups) / n, row))
        through += [Bar("", face, 1, count, choice.size, p.start, p.end, p.ends, p.legs) for p in pieces]
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
        pieces = curtail.in_stock(beam, code, forces, bar, pull, middles)
        middles += [0.5 * (a.end + b.start) for a, b in itertools.pairwise(pieces)]
        result += pieces
    return result


def _within(x: Array, low: float, high: float) -> Mask:
    """Stations of a stretch, with one before and after it."""
    first, last = int(np.searchsorted(x, low)) - 1, int(np.searchsorted(x, high, side="right"))
    result = np.zeros(len(x), dtype=bool)
    result[max(first, 0) : last + 1] = True
    return result


def _shorter_laps(beam: Beam, pieces: list[curtail.Piece], length: float) -> list[curtail.Piece]:
    """With laps no longer than they have to be, about their middles as they are."""
    step, result = beam.detailing.step, list(pieces)
    overlap = math.ceil(length / step) * step
    for k, (a, b) in enumerate(itertools.pairwise(pieces)):
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
    if number == 2:  # one at a time is not symmetrical: where they do not fit else
        return (2,) if fits else (1, 1)
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
    earlier. `chosen`: what was taken of the run, and the number of the zone in it."""
    choice, z = chosen
    n_1, n_2 = choice.first_row[z], choice.second_row[z]
    if not n_1 + n_2:
        return []
    at, phi = forces.stations, code.sizes[choice.extra_size].diameter
    area, extra = choice.through * code.sizes[choice.size].area, code.sizes[choice.extra_size].area
    lapped = (
        beam.length > beam.detailing.longest_piece
    )  # two pieces of each bar that runs through may lie beside these
    row = curtail.Row(
        choice.through + n_1, (1.0 + lapped) * choice.through * code.sizes[choice.size].diameter + n_1 * phi
    )
    anchorage = curtail.anchorage_of(beam, code, phi, face, row), curtail.anchorage_of(beam, code, phi, face)
    upper = _upper_rows(choice.through + n_1, n_2)
    # where the second row has stopped the bars lie deeper than this mean, so it is safe there
    above = sum(count * (rows.first + (layer - 1) * (rows.second - rows.first)) for layer, _, count in upper)
    mean = (rows.first * (area + n_1 * extra) + above * extra) / (area + (n_1 + n_2) * extra)
    needed = curtail.needed_area(beam, code, forces, face, demand.moment, np.full(len(at), mean), rows.other)
    needed = np.where(
        np.isfinite(needed), np.maximum(np.maximum(needed, demand.least), demand.pulled) - demand.held, 0.0
    )
    own, others = (
        curtail.end_share(beam, code, face, p, at.x) for p in (phi, code.sizes[choice.size].diameter)
    )
    long, short = (int(n) for n in steps_of(np.asarray(n_1))) if choice.two_steps[z] else (n_1, 0)
    through = area * others
    groups = [(1, long, through), (1, short, through + long * extra * own)]
    groups += [(layer, count, through + (n_1 + below) * extra * own) for layer, below, count in upper]
    if beam.detailing.lengths == 1:  # all as long as the longest
        groups = [(layer, count, through) for layer, count, _ in groups]
    result: list[Bar] = []
    for layer, count, local in groups:
        if not count:
            continue
        piece = curtail.stop(
            beam,
            code,
            limits,
            _reach(beam, at.x, zone, needed, local),
            anchorage,
            phi,
            float(at.depth[zone.where].min()),
        )
        if face == "top" and zone.index in needs.onward and local is through:
            piece = _past_inflection(beam, code, forces, zone, piece, demand.moment, phi)
        result.append(
            Bar("", face, layer, count, choice.extra_size, piece.start, piece.end, piece.ends, piece.legs)
        )
    return result


def _reach(beam: Beam, x: Array, zone: Zone, needed: Array, local: Array) -> tuple[float, float]:
    """From where to where in a zone bars are needed beside the area `local`: at least at its worst place."""
    inside = x[zone.where]
    if beam.detailing.cut_off == "none":
        return float(inside.min()), float(inside.max())
    middle = float(inside[needed[zone.where].argmax()])
    return curtail.region(x, needed, local, zone.where) or (middle, middle)


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
    more = max(left, right)
    start, end = centre - more, centre + more
    if (
        abs(left - right) > EVEN * (left + right)
        or min(left, right) <= 0.0
        or start < limits.low
        or end > limits.high
    ):
        return bar
    step = beam.detailing.step
    return replace(bar, start=math.floor(start / step) * step, end=math.ceil(end / step) * step)


def _past_inner_ends(
    beam: Beam, code: DesignCode, run: Run, limits: curtail.Limits, phi: float
) -> curtail.Limits:
    """A bottom run that ends at an inner support goes past its face by what the code requires, in whole
    steps; further where bars have to be anchored, into the next span unless its soffit is higher: where that
    leaves too little support they are bent up in it."""
    low, high, kinds, step = limits.low, limits.high, list(limits.kinds), beam.detailing.step
    beyond = [low, high]
    into = math.ceil(float(code.curtailment.into_support(phi, False)) / step - 1e-9) * step
    for k, s in enumerate(beam.supports):
        for side, edge in enumerate((run.start, run.end)):
            if kinds[side] != "inner" or abs(s.x - edge) > 1e-6:
                continue
            near, away = (s.x + 0.5 * s.width, -1.0) if side == 0 else (s.x - 0.5 * s.width, 1.0)
            past = max(into, 0.5 * s.width)  # at least to the middle: no place of the face is without bars
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


def _passes(beam: Beam, support: int, side: int) -> bool:
    """Whether bottom bars can go on past a support: the section there is as deep and as wide, or more so."""
    own, next_ = _beside(beam, support, side)
    a, b = (0.0, next_.length) if side == 0 else (own.length, 0.0)
    return bool(own.depths(a) <= next_.depths(b) + 1.0 and own.widths(a) <= next_.widths(b) + 1.0)


def _depth(beam: Beam, code: DesignCode, forces: Forces, bars: list[Bar], tie: float) -> Array:
    """The smaller effective depth of both faces where second rows count wherever they are, (n,)."""
    at = forces.stations
    worst = np.zeros(len(at))
    for face, cover in (("bottom", beam.cover.bottom), ("top", beam.cover.top)):
        own = [b for b in bars if b.face == face]
        largest = max((code.sizes[b.size].diameter for b in own), default=16.0)
        gap = float(code.detailing.clear_spacing(largest, beam.concrete.aggregate))
        total, moment = np.zeros(len(at)), np.zeros(len(at))
        for b in own:
            here = (at.x >= b.start) & (at.x <= b.end)
            axis = cover + tie + 0.5 * largest + (b.layer - 1) * (largest + gap)
            total += here * b.count * code.sizes[b.size].area
            moment += here * b.count * code.sizes[b.size].area * axis
        mean = np.where(total > 0.0, moment / np.where(total > 0.0, total, 1.0), cover + tie + 0.5 * largest)
        worst = np.maximum(worst, mean)
    return at.depth - worst
