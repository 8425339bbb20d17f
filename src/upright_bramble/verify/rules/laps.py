"""Laps: length, stirrups across them, share of the bars lapped at one place."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from upright_bramble.codes.rules import Place
from upright_bramble.verify.facts import Facts, if_fails
from upright_bramble.verify.lapping import Lap
from upright_bramble.verify.result import Check
from upright_bramble.verify.rules.bending import demand_and_resistance
from upright_bramble.working import dropped, is_recording, record, recording


def place_of(f: Facts, lap: Lap) -> tuple[Place, int]:
    """Where a lap is, and the station next to its middle."""
    a, b = f.placed.bars[lap.first], f.placed.bars[lap.second]
    other = f.name(b) if lap.first != lap.second else ""
    return Place(bar=f.name(a), other=other, face=a.face), f.nearest(0.5 * (lap.start + lap.end))


def laps(f: Facts) -> list[Check]:
    """Every pair of bars that carry each other on, and every end marked as lapped that has no partner."""
    result = []
    for lap in f.placed.laps:
        place, i = place_of(f, lap)
        alone = lap.first == lap.second
        _record_length(f, lap)
        note = if_fails("no matching bar continues this lap", alone)
        record("l_0,prov", lap.end - lap.start, "mm", "length of the lap")
        required = lap.required if alone else _required(f, lap)
        result.append(f.check(f"lap.{place.face}", place, i, required, lap.end - lap.start, note=note))
        if not alone:
            result += [*_size(f, lap, place, i), *_transverse(f, lap, place, i), *_share(f, lap, place, i)]
    return result


def _stress(f: Facts, lap: Lap) -> float:
    """Share of their yield that the face's bars are stressed to over a lap, as the user wants laps to be
    judged: by the moments that pull it over its resistance as it is anchored."""
    if f.beam.detailing.laps_for == "yield" or lap.first == lap.second:
        return 1.0
    demand, resistance = demand_and_resistance(f, bool(f.placed.bottom[lap.first]))
    over = np.flatnonzero((f.at.x >= lap.start - 1.0) & (f.at.x <= lap.end + 1.0))
    near = sorted({*over.tolist(), f.nearest(lap.start), f.nearest(lap.end)})
    share = np.maximum(demand[near], 0.0) / np.maximum(resistance.moment[near], 1e-6)
    return float(np.clip(share.max(), 0.0, 1.0))


def _required(f: Facts, lap: Lap) -> float:
    """The longer of the two that the bars require, mm."""
    if f.beam.detailing.laps_for == "yield":
        return lap.required
    with recording():
        return max(_length(f, lap, g) for g in (lap.first, lap.second))


def _size(f: Facts, lap: Lap, place: Place, i: int) -> list[Check]:
    """Sizes that are not lapped at all."""
    phi = float(f.placed.diameter[lap.first])
    if f.code.bond.lap_permitted(phi):
        return []
    note = "bars this thick are not lapped: mechanical splices, or thinner bars"
    return [f.check(f"lap-size.{place.face}", place, i, 1.0, 0.0, note=note)]


def _transverse(f: Facts, lap: Lap, place: Place, i: int) -> list[Check]:
    """Stirrups across the outer thirds of a lap: their area, and their distance."""
    phi = float(f.placed.diameter[lap.first])
    required = float(f.code.bond.lap_stirrups(phi, lap.share))
    if required <= 0.0:
        return []
    local = _across(f, lap.start, lap.end)
    note = if_fails(
        "closer stirrups at both ends of the lap, thinner bars, or staggered laps", local < required
    )
    record("phi", phi, "mm", "diameter of the lapped bars")
    record("share", lap.share, "", "of the bars of this face lapped at one place")
    record("A_st,rqd", required, "mm2", "area of one lapped bar, in the outer thirds of the lap")
    record("A_st", local, "mm2", "legs across the bars at this place, twice those of the third with less")
    result = [f.check(f"lap-stirrups.{place.face}", place, i, required, local, note=note)]
    maximum_spacing = float(f.code.bond.lap_stirrup_spacing(phi, lap.share))
    if np.isfinite(maximum_spacing):
        gap = _gap_over_thirds(f, lap.start, lap.end)
        record("l_0", lap.end - lap.start, "mm", "length of the lap")
        record("s_max", maximum_spacing, "mm", "maximum permitted spacing over its outer thirds")
        record("s", gap, "mm", "largest spacing provided")
        note = if_fails("closer stirrups over the outer thirds of the lap", gap > maximum_spacing)
        result.append(f.check(f"lap-spacing.{place.face}", place, i, gap, maximum_spacing, note=note))
    return result


def _share(f: Facts, lap: Lap, place: Place, i: int) -> list[Check]:
    """Share of a face's bars that are lapped at one place."""
    p = f.placed
    rows = len(set(p.layer[(p.present[i] > 0.0) & (p.bottom == p.bottom[lap.first])].tolist()))
    raw = f.pulled(place.face == "bottom")
    tension = bool(raw[i] > 0.01 * max(float(raw.max()), 1.0))
    limit = f.code.bond.maximum_lap_share(rows, tension)
    if limit >= 1.0:
        return []
    record("rows", rows, "", "of bars at this place, in tension")
    record("share_max", limit, "", "that may be lapped at one place")
    record("share", lap.share, "", "lapped at one place")
    note = if_fails("staggered laps, or one row of bars at this place", lap.share > limit + 1e-9)
    return [f.check(f"lap-share.{place.face}", place, i, lap.share, limit, note=note)]


def _gap_over_thirds(f: Facts, start: float, end: float) -> float:
    """Widest gap between stirrups over the outer thirds of a lap, mm; over the width of a support there need
    be none."""
    third, worst = (end - start) / 3.0, 0.0
    for low, high in ((start, start + third), (end - third, end)):
        for index in range(len(f.beam.spans)):
            left, right = f.beam.clear(index)
            a, b = max(low, left), min(high, right)
            if b - a >= 1.0:
                worst = max(worst, f.maximum_gap(left, right, a, b))
    return worst


def _across(f: Facts, start: float, end: float) -> float:
    """Area of the stirrup legs across the bars in the outer thirds of a lap, twice that of the third with
    less."""
    third = (end - start) / 3.0
    place = f.stirrups[0]
    leg = min(f.code.sizes[z.size].area for z in f.layout.stirrups) if f.layout.stirrups else 0.0
    counts = [int(((place >= a - 1e-6) & (place <= a + third + 1e-6)).sum()) for a in (start, end - third)]
    return 2.0 * min(counts) * leg


def _record_length(f: Facts, lap: Lap) -> None:
    """The longer of the two that the bars require, found once more."""
    if not is_recording():
        return
    p, longest, which = f.placed, -1.0, lap.first
    for g in dict.fromkeys((lap.first, lap.second)):
        with recording():
            length = float(_length(f, lap, g))
        if length > longest:
            longest, which = length, g
    dropped()
    record("share", lap.share, "", "of the bars of this face lapped at one place")
    record("phi", float(p.diameter[which]), "mm", "diameter")
    if f.beam.detailing.laps_for == "stress":
        record("stress", _stress(f, lap), "", "of the bars at the lap, as a share of yield")
    _length(f, lap, which)


def _length(f: Facts, lap: Lap, g: int) -> float:
    p = f.placed
    height, depth = (v[g : g + 1] for v in p.bond)
    crossing = None if lap.crossing is None else lap.crossing.at([g])
    around = replace(
        p.around.at([g]), beside=np.array([lap.beside]), above=np.array([lap.above]), crossing=crossing
    )
    own, stress = p.diameter[g : g + 1], _stress(f, lap)
    lengths = f.code.bond.lap(f.beam.concrete, f.beam.bars, own, height, depth, lap.share, around, stress)
    return float(lengths[0])
