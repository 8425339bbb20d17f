"""Whether bars fit: side by side, above each other, inside the concrete, with their bends and legs."""

from __future__ import annotations

import numpy as np

from upright_bramble.analysis.flanges import bar_width
from upright_bramble.beam import Bar, SideBars
from upright_bramble.codes.rules import Place
from upright_bramble.section.arrays import Array, Index, Mask, nearest
from upright_bramble.verify.bends import mandrels_of
from upright_bramble.verify.facts import Facts, if_fails, worst_of
from upright_bramble.verify.quantities import bar_items
from upright_bramble.verify.result import Check
from upright_bramble.working import dropped, record

BUTT = 1.0  # mm that a bar may overlap one that carries on in its place


def rows_of_bars(f: Facts) -> list[Check]:
    """Bars of a row side by side inside the stirrup; lapped pieces touch. Past a step of the soffit bars lie
    at their own level."""
    result, at, placed, beam = [], f.at, f.placed, f.beam
    for face in ("bottom", "top"):
        for layer in sorted({b.layer for b in f.placed.bars}):
            own = np.flatnonzero((placed.bottom == (face == "bottom")) & (placed.layer == layer))
            if not len(own):
                continue
            taken, several = _row_taken(f, own)
            dropped()
            width = bar_width(at, face) if layer == 1 else at.width
            room = width - 2.0 * (beam.cover.sides + placed.tie)
            for index in range(len(beam.spans)):
                i = worst_of(taken / room, (at.span == index) & (taken > 0.0))
                if i is None or not several[i]:
                    continue
                where = "of the web" if width[i] <= at.width[i] else "for bars of this face, flange and web"
                record("b", float(width[i]), "mm", f"width {where}")
                _record_row(f, own, i, float(taken[i]), float(room[i]))
                note = if_fails("the bars of this row do not fit inside the stirrup", taken[i] > room[i])
                result.append(
                    f.check(
                        f"fit.{face}",
                        Place(span=index, row=layer, face=face),
                        i,
                        taken[i],
                        room[i],
                        note=note,
                    )
                )
    return result


def _record_row(f: Facts, own: Index, i: int, taken: float, room: float) -> None:
    """Bars and gaps of a row at a station, after its width."""
    p = f.placed
    here = [g for g in own.tolist() if p.present[i, g] > 0.0]
    phi = float(max((p.diameter[g] for g in here), default=0.0))
    record("cover", f.beam.cover.sides, "mm", "to the stirrup at both sides")
    record("phi_w", p.tie, "mm", "diameter of the stirrup")
    record(
        "n",
        sum(p.bars[g].count for g in here),
        "",
        "bars of this row: " + ", ".join(p.bars[g].mark for g in here),
    )
    f.code.detailing.clear_spacing(phi, f.beam.concrete.aggregate)
    record("taken", taken, "mm", "width that the bars and the clear distances between them take")
    record("room", room, "mm", "width inside the stirrup")


def _row_taken(f: Facts, own: Index) -> tuple[Array, Mask]:
    """Width that the fullest row of groups `own` takes at each station, and whether it has more than one bar
    beside another."""
    at, placed = f.at, f.placed
    number = np.array([b.count for b in placed.bars], dtype=float)[own]
    # bars may meet between stations: where each begins and ends is looked at too
    ends = np.array([x for g in own.tolist() for x in (placed.bars[g].start, placed.bars[g].end)])
    ends = ends[(ends > at.x[0]) & (ends < at.x[-1])]
    x, station = np.concatenate([at.x, ends]), np.concatenate([np.arange(len(at)), nearest(at.x, ends)])
    phi, y = placed.diameter[own], placed.y[:, own][station]
    # a bar that ends where another begins does not lie beside it
    here = np.stack(
        [(x >= placed.bars[g].start) & (x <= placed.bars[g].end - BUTT) for g in own.tolist()], axis=1
    )
    doubled = np.zeros((len(x), len(own)))
    column = {g: k for k, g in enumerate(own.tolist())}
    for lap in placed.laps:
        if (k := column.get(lap.first)) is not None:
            doubled[(x >= lap.start) & (x <= lap.end), k] = number[k]
    highest, several = np.zeros(len(x)), np.zeros(len(x), dtype=bool)
    first, last = (np.array([getattr(placed.bars[g], end) for g in own.tolist()]) for end in ("start", "end"))
    for k in range(len(own)):  # groups that meet this one, where it is
        part, others = np.flatnonzero(here[:, k]), np.flatnonzero((first <= last[k]) & (last >= first[k]))
        block = np.ix_(part, others)
        apart = np.abs(y[block] - y[part, k][:, None])
        taken, gaps = _side_by_side(
            f, here[block], apart, doubled[block], phi[others], number[others], float(phi[k])
        )
        several[part] = np.where(taken > highest[part], gaps >= 1.0, several[part])
        highest[part] = np.maximum(highest[part], taken)
    fullest = highest[: len(at)].copy()
    np.maximum.at(fullest, station, highest)
    beside = np.zeros(len(at), dtype=bool)
    np.logical_or.at(beside, station[several & (highest >= fullest[station] - 1e-6)], True)
    return fullest, beside


def _side_by_side(
    f: Facts, here: Mask, apart: Array, doubled: Array, phi: Array, number: Array, own: float
) -> tuple[Array, Array]:
    """Width that the groups take which lie so near in height to one of diameter `own` that they take room
    beside it, and the number of gaps between their bars. `here`, `apart` in height, `doubled` by laps: (n,
    g)."""
    aggregate = f.beam.concrete.aggregate
    near = 0.5 * (phi + own) + f.code.detailing.clear_spacing(np.maximum(phi, own), aggregate)
    row = here & (apart < near - 1e-6)
    largest = np.where(row, phi, 0.0).max(axis=1)
    lapped = (row * doubled).sum(axis=1)
    gaps = np.maximum((row * number).sum(axis=1) - 1.0 - lapped, 0.0)
    clear = f.code.detailing.clear_spacing(largest, aggregate)
    # laps count as adjacent whatever stands between them: who fixes them may put them side by side
    wide = np.minimum(np.maximum(lapped - 1.0, 0.0), gaps)
    between = f.code.bond.lap_clear_distance(np.where(row & (doubled > 0.0), phi, 0.0).max(axis=1), aggregate)
    taken = (row * number * phi).sum(axis=1) + (gaps - wide) * clear + wide * np.maximum(between, clear)
    return taken, gaps


def rows_of_faces(f: Facts) -> list[Check]:
    """Rows of the two faces stay clear of each other."""
    result, p = [], f.placed
    for index in range(len(f.beam.spans)):
        rows = f.at.of(index)
        here = p.present[rows] > 0.0
        low = np.where(here & ~p.bottom, p.y[rows] + 0.5 * p.diameter, -np.inf).max(axis=1)
        high = np.where(here & p.bottom, p.y[rows] - 0.5 * p.diameter, np.inf).min(axis=1)
        clear = high - low
        i = int(clear.argmin())
        if np.isfinite(clear[i]):
            required = float(
                f.code.detailing.clear_spacing(float(p.diameter.max()), f.beam.concrete.aggregate)
            )
            record(
                "y_bottom", float(high[i]), "mm", "top of the highest bottom bars, from the top of the beam"
            )
            record("y_top", float(low[i]), "mm", "underside of the lowest top bars")
            record("clear", float(clear[i]), "mm", "between them")
            result.append(f.check("fit.rows", Place(span=index), rows.start + i, required, float(clear[i])))
    return result


def inside(f: Facts) -> list[Check]:
    """Legs stand in the depth at their end of the bar, inside both covers; bars in the concrete."""
    result = []
    for g, bar in enumerate(f.placed.bars):
        phi = float(f.placed.diameter[g])
        for side, x in enumerate((bar.start, bar.end)):
            i = f.nearest(x)
            room = _leg_room(f, g, i)
            taken = (
                bar.legs[side]
                if bar.ends[side] == "bend"
                else 2.0 * (f.code.detailing.bend_radius(phi) + phi)
            )
            if bar.ends[side] in ("bend", "hook") and taken > room:
                note = f"the leg of bar {bar.mark} is longer than the beam is deep"
                record("leg", taken, "mm", "of the bar")
                record("room", room, "mm", "depth of the beam inside both covers")
                result.append(
                    f.check("inside.bars", Place(bar=f.name(bar), part="leg"), i, taken, room, note=note)
                )
        if not f.placed.inside[g]:
            note = f"bar {bar.mark} leaves the concrete or its cover"
            i = f.nearest(0.5 * (bar.start + bar.end))
            result.append(
                f.check("inside.bars", Place(bar=f.name(bar)), i, 1.0, 0.0, quantity="number", note=note)
            )
    return result


def _leg_room(f: Facts, g: int, i: int) -> float:
    """From the level of a bar, at its own soffit where this steps, to the cover of the other face, mm."""
    bar, cover, tie = f.placed.bars[g], f.beam.cover, f.placed.tie
    axis, half = float(f.placed.y[i, g]), 0.5 * float(f.placed.diameter[g])
    if bar.face == "bottom":
        return axis + half + tie - cover.top
    # over a support the concrete is as deep as the deeper of its spans
    x = f.at.x[i]
    over = [s for s in f.beam.supports if abs(s.x - x) <= 0.5 * s.width + 1.0]
    near = np.abs(f.at.x - over[0].x) <= 0.5 * over[0].width + 1.0 if over else f.at.x == x
    return float(f.at.depth[near].max(initial=float(f.at.depth[i]))) - cover.bottom - (axis - half - tie)


def bends(f: Facts) -> list[Check]:
    """Bends at the ends of the beam stand within the width of their supports."""
    result: list[Check] = []
    low, high = f.beam.ends
    outer = (
        ("left", low, f.beam.spans[0].left, f.beam.supports[0]),
        ("right", high, f.beam.spans[-1].right, f.beam.supports[-1]),
    )
    for g, bar in enumerate(f.placed.bars):
        phi = float(f.placed.diameter[g])
        for side, end, span, support in outer:
            x, kind = (bar.start, bar.ends[0]) if side == "left" else (bar.end, bar.ends[1])
            if kind not in ("bend", "hook") or span is None or abs(x - end) > support.width or support.fixed:
                continue
            room = support.width - abs(x - end)
            required = f.code.detailing.bend_radius(phi) + phi
            record("r", f.code.detailing.bend_radius(phi), "mm", "inner radius of the bend")
            record("phi", phi, "mm", "diameter")
            record("room", room, "mm", "from the end of the bar to the face of the support")
            note = if_fails(
                "the support is too narrow for the bend: thinner bars, or a wider support", required > room
            )
            result.append(
                f.check(
                    "bend.support", Place(bar=f.name(bar), side=side), f.nearest(x), required, room, note=note
                )
            )
    return result


def legs(f: Facts) -> list[Check]:
    """Legs long enough for the bend and the straight piece that the standard requires beyond it."""
    result: list[Check] = []
    p, sizes = f.placed, f.code.sizes
    bent = mandrels_of(f.beam, f.code, p)
    entries: list[tuple[Bar | SideBars, float, float]] = [
        (b, float(d), size) for b, d, size in zip(p.bars, p.diameter, bent, strict=True)
    ]
    entries += [(b, sizes[b.size].diameter, 0.0) for b in f.layout.sides]
    for bar, phi, mandrel in entries:
        mark, ends, lengths, x = f.name(bar), bar.ends, bar.legs, 0.5 * (bar.start + bar.end)
        for side, kind, leg in zip(("left", "right"), ends, lengths, strict=True):
            if kind not in ("bend", "hook") or leg == 0.0:
                continue
            required = f.code.detailing.minimum_leg(phi, kind, mandrel)
            note = if_fails("a longer leg, or 0 for the shortest that is permitted", leg < required - 0.5)
            record("phi", phi, "mm", "diameter")
            if mandrel > 2.0 * f.code.detailing.bend_radius(phi):
                record("phi_m", mandrel, "mm", "mandrel that spares the concrete inside the bend")
            record("leg_min", required, "mm", "shortest leg: the curve and the straight piece beyond it")
            record("leg", leg, "mm", "of the bar")
            demand = required if note else min(required, leg)
            result.append(
                f.check("bend.leg", Place(bar=mark, side=side), f.nearest(x), demand, leg, note=note)
            )
    return result


def stock(f: Facts) -> list[Check]:
    """Bars longer than stock: they have to be ordered, or lapped."""
    result, maximum = [], f.beam.detailing.stock_length
    for item in bar_items(f.code, f.beam, f.placed):
        bar, length = item.bar, item.cut_length
        if length > maximum + 1e-6:
            note = f"bar {bar.mark} is longer than stock: lap it, or give a longer stock_length"
            i = f.nearest(0.5 * (bar.start + bar.end))
            result.append(f.check("stock.bars", Place(bar=f.name(bar)), i, length, maximum, note=note))
    return result


def cover(f: Facts) -> list[Check]:
    """Cover was chosen before the bars were known: it is looked at again for the thickest of each face."""
    result, p = [], f.placed
    for face, given in (("bottom", f.beam.cover.bottom), ("top", f.beam.cover.top)):
        own = np.flatnonzero((p.bottom == (face == "bottom")) & (p.layer == 1.0))
        if not len(own):
            continue
        g = int(own[p.diameter[own].argmax()])
        bar = p.bars[g]
        local = min(given, f.beam.cover.sides) + p.tie
        required = float(f.code.cover.minimum_for_bar(p.diameter[g], f.beam.concrete.aggregate))
        record("phi", float(p.diameter[g]), "mm", f"thickest bar of the face, {bar.mark}")
        record(
            "cover",
            min(given, f.beam.cover.sides),
            "mm",
            "to the stirrup, the lesser of this face and the sides",
        )
        record("phi_w", p.tie, "mm", "diameter of the stirrup")
        result.append(
            f.check("cover.bars", Place(face=face), f.nearest(0.5 * (bar.start + bar.end)), required, local)
        )
    return result
