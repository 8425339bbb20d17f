"""Depth of the neutral axis, and how far moments were redistributed."""

from __future__ import annotations

import numpy as np

from upright_bramble.codes.rules import Place
from upright_bramble.section.arrays import Array, Mask, compact
from upright_bramble.section.strength import Resistance, bending_resistance
from upright_bramble.verify.facts import Facts, Zone, if_fails, worst_of
from upright_bramble.verify.result import Check
from upright_bramble.verify.strength import compressed_strips
from upright_bramble.working import record

USED = 0.5  # of the resistance: from there on a section may come to rotate


def ductility(f: Facts) -> list[Check]:
    """Neutral axis depth wherever the moment may come to use the section up, each section with its own
    demand."""
    result: list[Check] = []
    bending = f.code.bending
    for zone in f.zones:
        raw = f.pulled(zone.bottom)
        r = f.strength.positive if zone.bottom else f.strength.negative
        peak = np.where(zone.where, raw, 0.0).max()
        greatest = (raw >= peak * (1.0 - 1e-9)) & ~_taken_as_simple(f, zone, raw)
        judged = zone.where & (raw > 1e3) & (r.moment > 0.0) & ((raw >= USED * r.moment) | greatest)
        if not judged.any():
            continue
        highest = np.where(judged, raw, -np.inf)
        most = np.flatnonzero(highest >= highest.max() * (1.0 - 1e-9))  # either side of an axis, or a plateau
        x, d, outer = _with_all_bars(f, zone, r, most.tolist())
        ratio = bending.neutral_axis_ratio(x, d, outer)
        record(
            "x",
            x,
            "mm",
            "neutral axis of the section at its resistance, bars at their full area where the moment is "
            "greatest",
        )
        record(
            "d", x / np.maximum(ratio, 1e-12), "mm", "depth of the bars in tension that the limit refers to"
        )
        record("x/d", ratio, "", "depth of the neutral axis over it")
        delta = np.ones(len(f.at)) if zone.bottom else f.forces.design.delta
        limit = bending.neutral_axis_limit(f.beam.concrete, f.beam.bars, delta)
        i = worst_of(ratio / np.maximum(limit, 1e-9), judged)
        assert i is not None
        cure = "compression steel, or a deeper or wider section, lowers the neutral axis"
        if delta[i] < 1.0 - 1e-9:
            cure += "; less redistribution raises its limit"
        note = if_fails(cure, ratio[i] > limit[i])
        kind = "ductility.sagging" if zone.bottom else "ductility.hogging"
        result.append(f.check(kind, zone.place, i, ratio[i], float(limit[i]), note=note))
    return result


def _taken_as_simple(f: Facts, zone: Zone, raw: Array) -> Mask:
    """Stations (n,) whose hogging is no more than what an end taken as simple is given: bars for the flange's
    least steel resist far more, and nothing rotates there."""
    if zone.bottom:
        return np.zeros(len(raw), dtype=bool)
    given, at = f.forces.design.end_hogging, f.at
    near = np.array([np.abs(at.x - s.x) <= 0.5 * s.width + 1.0 for s in f.beam.supports])
    nominal = near & (given[:, None] > 0.0) & (raw <= given[:, None] * (1.0 + 1e-6))
    return np.asarray(nominal.any(axis=0))


def _with_all_bars(f: Facts, zone: Zone, r: Resistance, most: list[int]) -> tuple[Array, Array, Array]:
    """Neutral axis, effective depth and depth of the outermost bars (n,); at the places `most` of the
    greatest moment with all bars in tension there at their full area: a section is no more ductile for bars
    that are not anchored in full."""
    x, d, outer = r.x.copy(), r.d.copy(), r.outer.copy()
    anchored, there = (f.placed.tension_area(zone.bottom, anchored=v) for v in (True, False))
    for j in most:
        if anchored[j] < 0.999 * there[j]:
            full = _full(f, zone, j)
            if full.moment[0] > 0.0:
                x[j], d[j], outer[j] = full.x[0], full.d[0], full.outer[0]
    return x, d, outer


def _full(f: Facts, zone: Zone, j: int) -> Resistance:
    """The section at a place with all bars in tension there at their full area."""
    p = f.placed
    own = p.bottom == zone.bottom
    strips, h = f.at.sections.strips.at(slice(j, j + 1)), float(f.at.depth[j])
    areas, y = compact(np.where(own, p.present[j], p.effective[j])[None], p.y[j : j + 1])
    if not zone.bottom and p.slab is not None:
        areas, y = (np.column_stack([v, w[j : j + 1]]) for v, w in ((areas, p.slab.present), (y, p.slab.y)))
    strips, depths = (strips, y) if zone.bottom else (strips.turned(), h - y)
    law, steel = f.code.materials.concrete_law(f.beam.concrete), f.code.materials.steel_law(f.beam.bars)
    axial = float(f.forces.design.axial_max[j]) / f.code.bending.usual_factor
    return bending_resistance(compressed_strips(f.beam, f.code, strips), areas, depths, law, steel, axial)


def redistribution(f: Facts) -> list[Check]:
    """How far moments were redistributed, and whether the spans beside the support are alike enough for
    it."""
    result, beam = [], f.beam
    for s in beam.redistribution.supports:
        delta = float(f.forces.delta[s])
        if delta >= 1.0:
            continue
        support = beam.supports[s]
        i, place = f.nearest(support.x), Place(support=support.name)
        minimum = f.code.analysis.minimum_delta(beam.bars)
        record("delta_min", minimum, "", "lowest ratio of redistributed to elastic moment that is permitted")
        record("delta", delta, "", "ratio of redistributed to elastic moment at this support")
        result.append(f.check("redistribution.minimum", place, i, minimum, delta))
        beside = [p.length for p in beam.spans if s in (p.left, p.right) and not p.cantilever]
        maximum = f.code.analysis.maximum_span_ratio()
        if len(beside) == 2 and np.isfinite(maximum):
            record("l_1", max(beside), "mm", "longer of the spans beside this support")
            record("l_2", min(beside), "mm", "shorter of them")
            result.append(f.check("redistribution.spans", place, i, max(beside) / min(beside), maximum))
    return result
