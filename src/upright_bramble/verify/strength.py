"""Bending and shear along the beam: demand shifted, resistance of the bars as they are anchored."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from upright_bramble.analysis import Forces, Stations
from upright_bramble.analysis.near_support import Near, near_forces
from upright_bramble.analysis.support_width import shear_at_d, shifted_moments
from upright_bramble.analysis.twist import chord_moment, strut, tube_of, twist_of
from upright_bramble.beam import Beam, Layout
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.codes.parts import ActingSets, ShearState, Twist, Web
from upright_bramble.section.arrays import Array, Index, Mask, compact
from upright_bramble.section.strength import Resistance, bending_resistance
from upright_bramble.section.strips import Strips, stacked
from upright_bramble.verify.placement import Placed
from upright_bramble.verify.stops import TIP

LITTLE = 0.02  # of a cantilever's greatest moment: concrete alone carries it at the tip


@dataclass(frozen=True)
class Ties:
    """Stirrups at stations: steel per length that can be counted, and the gap that the station lies in."""

    asw_s: Array
    gap: Array
    legs: Array
    nominal: Array


@dataclass(frozen=True)
class Strength:
    """Demands (n,) and what resists them. `valid` stations are those that sections are verified at."""

    valid: Mask
    d_bottom: Array
    d_top: Array
    d_shear: Array
    shear_demand: Array
    moment_max: Array
    moment_min: Array
    positive: Resistance
    negative: Resistance
    shear: ShearState
    web: Web
    twist: Twist | None
    ties: Ties
    shift: Array
    near: tuple[tuple[Near, float], ...]
    """Forces near supports, and the resistance of the stirrups that count for them (N)."""
    alone: tuple[Array, Array]
    """Resistance to sagging and to hogging without the bars of the other face."""
    spare: Array
    """Stirrups that are left for shear where torsion takes its part, mm2/mm."""
    twisted_web: Web
    """With the greatest forces of all sets: what torsion is verified with."""
    governing_set: Index | None
    """The set of forces behind the shear of each station, of codes whose resistance depends on it: its number
    among the labels."""


def both_faces(at: Stations, placed: Placed) -> tuple[Strips, Array, Array]:
    """Sections for sagging stacked on sections for hogging, depths from each compressed face: (2n, ...)."""
    strips = at.sections.strips
    areas, depths = placed.columns
    over, y = placed.hogging_columns(areas, depths)
    areas, depths = (np.pad(v, ((0, 0), (0, over.shape[1] - v.shape[1]))) for v in (areas, depths))
    return (
        stacked(strips, strips.turned()),
        np.vstack([areas, over]),
        np.vstack([depths, at.depth[:, None] - y]),
    )


def compressed_strips(beam: Beam, code: DesignCode, strips: Strips) -> Strips:
    """As the concrete's law sees them: of less width where they become narrower towards the compressed face
    (EN 1992-1-1, 3.1.7(3))."""
    factor = code.materials.narrowing_factor(beam.concrete)
    narrow = strips.narrows() if factor < 1.0 else np.zeros(len(strips.upper), dtype=bool)
    return strips.scaled(np.where(narrow, factor, 1.0)) if narrow.any() else strips


def verify_strength(beam: Beam, code: DesignCode, forces: Forces, layout: Layout, placed: Placed) -> Strength:
    """Arrays only; `checks` reads them."""
    at, design = forces.stations, forces.design
    n = len(at)
    fallback = 2.0 * placed.tie
    d_bottom = placed.face_depth(True, at.depth - beam.cover.bottom - fallback)
    d_top = at.depth - placed.face_depth(False, np.full(n, beam.cover.top + fallback))
    d = np.minimum(d_bottom, d_top)
    cot = strut(beam, code, forces, d, placed.tie)
    shift = code.shear.shift(d, cot)
    whole = np.maximum(design.shear, forces.envelopes[code.actions.levels[0]].shear)  # chords incline or not
    high, low = (
        near_free_tips(beam, at, moment, whole * shift, moved)
        for moment, moved in zip(
            (design.moment_max, -design.moment_min), shifted_moments(at, design, shift), strict=True
        )
    )

    strips, both, from_face = both_faces(at, placed)
    complete = _resistance(beam, code, forces, strips, both, from_face)
    ties = stirrups_at(beam, code, layout, at)
    moment = np.maximum(design.moment_max, -design.moment_min)
    a_sl, gross = shear_tension_steel(code, placed, forces, d), at.sections.strips.gross()[0]
    twisting = code.torsion.shear_for_strain(tube_of(beam, forces, placed.tie), design.torsion)
    greatest = np.maximum(moment, 0.0)
    web = Web(
        b=at.width,
        d=d,
        a_sl=a_sl,
        gross=gross,
        axial=design.axial_min,
        h=at.depth,
        moment=greatest,
        shear=design.shear,
        twisting=twisting,
        bar_yield=beam.bars.strength,
    )
    twist = twist_of(beam, code, forces, web, cot, placed.tie)
    spare = ties.asw_s
    if twist is not None:
        pull = chord_moment(code, beam, twist, d, np.array(placed.side_rows)[at.span])
        if twist.moment is None:
            high, low = high + pull, low + pull
        else:  # on the face that the moment compresses less what the moment takes off
            high, low = (
                high + pull + np.minimum(design.moment_max, 0.0),
                low + pull + np.minimum(-design.moment_min, 0.0),
            )
            high, low = np.maximum(high, 0.0), np.maximum(low, 0.0)
        spare = np.maximum(
            spare - ties.legs * twist.leg, 0.0
        )  # every leg like the outer one, which torque uses as well
    used, by = code.shear.governing(
        beam.concrete, beam.stirrups, web, spare, lambda: acting_sets(code, forces, placed, d)
    )
    demand = shear_at_d(beam, at, design.shear, d) if by is None else np.asarray(used.shear)
    shear = shear_state(beam, code, used, spare, cot)
    return Strength(
        valid=valid_stations(beam, at),
        d_bottom=d_bottom,
        d_top=d_top,
        d_shear=d,
        shear_demand=demand,
        moment_max=high,
        moment_min=low,
        positive=_part(beam, code, complete, slice(0, n)),
        negative=_part(beam, code, complete, slice(n, 2 * n)),
        shear=shear,
        web=used,
        twist=twist,
        ties=ties,
        shift=shift,
        near=_near(beam, code, forces, layout, placed, d) if twist is None else (),
        alone=_without_compression(beam, code, forces, placed, n),
        spare=spare,
        twisted_web=web,
        governing_set=by,
    )


def near_free_tips(beam: Beam, at: Stations, moment: Array, pull: Array, moved: Array) -> Array:
    """Moments of a sense, `moved` by the shift rule, (n,), N mm: over a cantilever no more than that of the
    place and what its own shear pulls (EN 1992-1-1, 6.2.3(7); `pull` as a moment), since no strut comes from
    beyond the tip. In the last TIP before it as little as concrete alone carries is none."""
    result = moved.copy()
    for index, span in enumerate(beam.spans):
        if not span.cantilever:
            continue
        rows = at.of(index)
        tip = span.start if span.left is None else span.end
        own = np.minimum(moved[rows], np.maximum(moment[rows], 0.0) + pull[rows])
        little = (np.abs(at.x[rows] - tip) < TIP) & (own <= LITTLE * own.max(initial=0.0))
        result[rows] = np.where(little, 0.0, own)
    return result


def acting_sets(code: DesignCode, forces: Forces, placed: Placed, d: Array) -> ActingSets | None:
    """Strength forces that act together, with the bars of the face that each set pulls; None where the
    envelope has none of its own."""
    together = forces.acting_together
    if together is None:
        return None
    moment, shear, torque = together
    bottom, top = anchored_faces(code, placed, d)
    twisting = code.torsion.shear_for_strain(tube_of(forces.beam, forces, placed.tie), np.abs(torque))
    limited = shear_at_d(forces.beam, forces.stations, np.abs(shear), d)
    return ActingSets(
        moment, limited, np.asarray(twisting) + 0.0 * moment, np.where(moment >= 0.0, bottom, top)
    )


def shear_state(beam: Beam, code: DesignCode, web: Web, stirrups: Array, cot: Array) -> ShearState:
    """Resistance to shear of concrete and `stirrups` (mm2/mm)."""
    return code.shear.state(beam.concrete, beam.stirrups, web, stirrups, cot)


def _without_compression(
    beam: Beam, code: DesignCode, forces: Forces, placed: Placed, n: int
) -> tuple[Array, Array]:
    """Resistance to sagging with the bottom bars alone, to hogging with the top bars alone."""
    at = forces.stations
    strips = at.sections.strips
    low, high = placed.bottom, ~placed.bottom
    below = compact(placed.effective[:, low], placed.y[:, low])
    over, y = placed.hogging_columns(placed.effective[:, high], placed.y[:, high])
    above = compact(over, at.depth[:, None] - y)
    maximum = max(below[0].shape[1], above[0].shape[1])
    own, depths = (
        np.concatenate([np.pad(v, ((0, 0), (0, maximum - v.shape[1]))) for v in pair])
        for pair in zip(below, above, strict=True)
    )
    r = _resistance(beam, code, forces, stacked(strips, strips.turned()), own, depths)
    return _part(beam, code, r, slice(0, n)).moment, _part(beam, code, r, slice(n, 2 * n)).moment


def _near(
    beam: Beam, code: DesignCode, forces: Forces, layout: Layout, placed: Placed, d: Array
) -> tuple[tuple[Near, float], ...]:
    """Forces near supports where the tension bars are anchored in full at the face."""
    at, result = forces.stations, []
    place, area, _, _ = stirrup_positions(code, layout)
    for near in near_forces(beam, code, forces, d):
        rows = at.of(near.span)
        i = rows.start + int(np.abs(at.x[rows] - near.face).argmin())
        own = (
            placed.bottom
            if forces.design.moment_min[i] >= -1e3 or near.support in _ends(beam)
            else ~placed.bottom
        )
        anchored = placed.effective[i, own].sum() >= 0.99 * placed.present[i, own].sum() > 0.0
        if anchored:
            low, high = near.middle()
            counted = float(area[(place >= low - 1e-6) & (place <= high + 1e-6)].sum())
            result.append((near, code.shear.near_support_resistance(beam.stirrups, counted)))
    return tuple(result)


def _ends(beam: Beam) -> tuple[int, ...]:
    """Supports with nothing beyond them."""
    return tuple(s for s in (beam.spans[0].left, beam.spans[-1].right) if s is not None)


def _resistance(
    beam: Beam, code: DesignCode, forces: Forces, strips: Strips, areas: Array, depths: Array
) -> Resistance:
    """Without axial force, or the lesser of those with the largest and the smallest; about the gross
    centroid."""
    law, steel, design = (
        code.materials.concrete_law(beam.concrete),
        code.materials.steel_law(beam.bars),
        forces.design,
    )
    strips = compressed_strips(beam, code, strips)
    if not (design.axial_max.any() or design.axial_min.any()):
        return bending_resistance(strips, areas, depths, law, steel)
    off = strips.gross()[1] - 0.5 * strips.height
    result = []
    for n in (design.axial_max, design.axial_min):
        force = np.tile(n, 2) / code.bending.usual_factor
        r = bending_resistance(strips, areas, depths, law, steel, force)
        result.append(replace(r, moment=np.maximum(r.moment + force * off, 0.0)))
    a, b = result
    less = a.moment < b.moment
    return Resistance(
        *(np.where(less, getattr(a, k), getattr(b, k)) for k in ("moment", "x", "d", "steel_strain", "outer"))
    )


def _part(beam: Beam, code: DesignCode, r: Resistance, rows: slice) -> Resistance:
    """One sense of bending, with the code's factor for the strain of the bars."""
    factor = code.bending.resistance_factor(r.steel_strain[rows], beam.bars)
    return Resistance(factor * r.moment[rows], r.x[rows], r.d[rows], r.steel_strain[rows], r.outer[rows])


def valid_stations(beam: Beam, at: Stations) -> Mask:
    """All but those inside an end support, where the bars are only being anchored, and in the cover of a free
    tip."""
    low, high = beam.design_range
    return np.asarray((at.x >= low - 1e-6) & (at.x <= high + 1e-6))


def stirrups_at(beam: Beam, code: DesignCode, layout: Layout, at: Stations) -> Ties:
    """Stirrups one by one: a station counts on the weaker of its two neighbours over the wider of gap and
    spacing, at its worst up to half way to the next stations."""
    place, area, legs, nominal = stirrup_positions(code, layout)
    asw_s, gap, count, spacing = (np.zeros(len(at)) for _ in range(4))
    for index in range(len(beam.spans)):
        rows = at.of(index)
        low, high = beam.clear(index)
        own = (place >= low - 1e-6) & (place <= high + 1e-6)
        p, a, g, s = place[own], area[own], legs[own], nominal[own]
        if not len(p):
            gap[rows] = high - low
            continue
        # the gap from a face to the first stirrup is bounded by that stirrup alone
        edges = np.concatenate([[low], p, [high]])
        widths = np.diff(edges)
        weaker = np.minimum(np.concatenate([a[:1], a]), np.concatenate([a, a[-1:]]))
        fewer = np.minimum(np.concatenate([g[:1], g]), np.concatenate([g, g[-1:]]))
        wider = np.maximum(np.concatenate([s[:1], s]), np.concatenate([s, s[-1:]]))
        # a gap may lie between two stations: each also answers for the way to its neighbours' half
        x = at.x[rows]
        middle = 0.5 * (x[1:] + x[:-1])
        looked = np.stack([x, np.concatenate([x[:1], middle]), np.concatenate([middle, x[-1:]])])
        which = np.clip(np.searchsorted(edges, looked, side="right") - 1, 0, len(widths) - 1)
        asw_s[rows] = (weaker / np.maximum(widths, wider))[which].min(axis=0)
        gap[rows], count[rows], spacing[rows] = (
            widths[which].max(axis=0),
            fewer[which].min(axis=0),
            wider[which].max(axis=0),
        )
    return Ties(asw_s, gap, count, spacing)


def stirrup_positions(code: DesignCode, layout: Layout) -> tuple[Array, Array, Array, Array]:
    """Every stirrup, sorted: place, area of its legs, number of legs, nominal spacing of its zone."""
    place: list[float] = []
    area: list[float] = []
    legs: list[float] = []
    nominal: list[float] = []
    for zone in layout.stirrups:
        places = [zone.start + i * zone.spacing for i in range(zone.count)]
        place += places
        area += [zone.legs * code.sizes[zone.size].area] * len(places)
        legs += [float(zone.legs)] * len(places)
        nominal += [zone.spacing] * len(places)
    order = np.argsort(np.array(place), kind="stable")
    return tuple(np.array(v)[order] for v in (place, area, legs, nominal))  # type: ignore[return-value]


def shear_tension_steel(code: DesignCode, placed: Placed, forces: Forces, d: Array) -> Array:
    """Tension steel that goes on long enough to count for the concrete's shear resistance, (n,).

    Where the envelope puts either face in tension the smaller of the two counts.
    """
    bottom, top = anchored_faces(code, placed, d)
    design = forces.design
    sagging, hogging = design.moment_max > 0.0, design.moment_min < 0.0
    both = np.minimum(bottom, top)
    return np.asarray(
        np.where(sagging & hogging, both, np.where(sagging, bottom, np.where(hogging, top, both)))
    )


def anchored_faces(code: DesignCode, placed: Placed, d: Array) -> tuple[Array, Array]:
    """Bars of the bottom and of the top that go on long enough to count for the concrete's shear resistance,
    (n,) each, mm2."""
    sums = []
    for own in (placed.bottom, ~placed.bottom):
        enough = placed.reach[:, own] >= code.shear.anchored_beyond(placed.anchorage[None, own], d[:, None])
        sums.append(np.where(enough, placed.present[:, own], 0.0).sum(axis=1))
    return sums[0], sums[1]
