"""Rules that several codes have in their detailing: bars that stop in tension, legs that hold bars in
compression."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import TYPE_CHECKING, TypeAlias

import numpy as np

from upright_bramble.beam import CRANKED
from upright_bramble.codes.rules import CheckKind, Place, if_fails, share_of, worst_of
from upright_bramble.section.arrays import Array
from upright_bramble.working import record

if TYPE_CHECKING:
    from upright_bramble.verify.facts import Facts
    from upright_bramble.verify.result import Check

CUT_OFF = tuple(
    CheckKind(
        f"cut-off.{face}",
        "cut-off",
        f"shear where a {face} bar stops in tension",
        "force",
        face,
        lesson="cut-off",
        factor=1.5,
    )
    for face in ("bottom", "top")
)
LEGS = CheckKind(
    "spacing.compressed-legs", "stirrups", "legs that hold compression bars", "number", lesson="legs"
)

TOP_SHARE = 1.0 / 3.0  # of the top steel over a support that goes on past the point of inflection
TOP_GOES_ON = CheckKind(
    "support-share.top",
    "anchorage",
    "top bars that go on past the point of inflection",
    "area",
    "top",
    lesson="more top bars",
)
INFLECTION = CheckKind(
    "anchorage.inflection",
    "anchorage",
    "development of the bottom bars at a point of inflection",
    "length",
    "bottom",
    lesson="thinner",
)

Permitted: TypeAlias = Callable[[float, bool], float]
Excused: TypeAlias = "Callable[[Facts, int, str], bool]"
Past: TypeAlias = Callable[[float, float, float], float]
DevelopmentLimit: TypeAlias = Callable[[float, float, float, float], Array]


def cut_offs(f: Facts, permitted: Permitted, excused: Excused | None = None) -> list[Check]:
    """Bars that stop where their face is in tension have shear to spare at the cut itself, on both sides of a
    force: `permitted` shear for the resistance there and for whether twice the required steel continues (bars
    up to 36 mm); bars that are `excused` need none, nor do those that are bent up: they do not stop."""
    result: list[Check] = []
    p = f.placed
    for g, bar in enumerate(p.bars):
        for side, x, kind in (("left", bar.start, bar.ends[0]), ("right", bar.end, bar.ends[1])):
            index = next(
                (i for i in range(len(f.beam.spans)) if f.beam.clear(i)[0] < x < f.beam.clear(i)[1]), None
            )
            low, high = f.beam.design_range
            if index is None or kind in ("lap", CRANKED) or not low - 1e-6 <= x <= high + 1e-6:
                continue
            if excused is not None and excused(f, g, side):
                continue
            worst: tuple[float, float, int] | None = None
            for demand, maximum, i, around in _at_cut(f, index, x):
                if not (f.pulled(bool(p.bottom[g]))[around] > 1e3).any():
                    continue
                allowed = permitted(maximum, _twice_as_much(f, g, around))
                if worst is None or ratio_of(demand, allowed) > ratio_of(worst[0], worst[1]):
                    worst = demand, allowed, i
            if worst is None:
                continue
            demand, allowed, i = worst
            record(f.code.words.formula_symbol("V_Ed"), demand, "N", "shear at the cut")
            note = if_fails("closer stirrups, or a longer bar", demand > allowed)
            face = "bottom" if bar.face == "bottom" else "top"
            result.append(
                f.check(
                    f"cut-off.{face}",
                    Place(bar=f.name(bar), side=side, face=face),
                    i,
                    demand,
                    allowed,
                    note=note,
                )
            )
    return result


def ratio_of(demand: float, resistance: float) -> float:
    """Of a demand to a resistance; endless where there is none.

    >>> ratio_of(30.0, 40.0)
    0.75
    """
    return 0.0 if demand <= 0.0 else demand / resistance if resistance > 0.0 else math.inf


def _twice_as_much(f: Facts, g: int, around: list[int]) -> bool:
    """Bars up to 36 mm beside twice the steel that is required."""
    p, bottom = f.placed, bool(f.placed.bottom[g])
    staying = p.face_area(bottom, anchored=False)[around] - p.present[around, g]
    requested = f.required["bottom_tension" if bottom else "top_tension"][around]
    return bool((staying >= 2.0 * requested).all()) and bool(p.diameter[g] <= 36.0)


def _at_cut(f: Facts, index: int, x: float) -> list[tuple[float, float, int, list[int]]]:
    """Shear, resistance to it, the nearest station and those to both sides, at a place of a span; of a place
    with a force on it, on both of its sides."""
    rows, s = f.at.of(index), f.strength
    places = f.at.x[rows]
    k = int(np.clip(np.searchsorted(places, x), 1, len(places) - 1))
    pairs = [(k - 1, k)]
    if abs(places[k] - x) < 1e-6 and k + 1 < len(places) and places[k + 1] - places[k] < 1e-6:
        pairs.append((k + 1, k + 1))
    result = []
    for a, b in pairs:
        width = places[b] - places[a]
        t = float(np.clip((x - places[a]) / width, 0.0, 1.0)) if width > 1e-6 else 0.0
        demand = float((1.0 - t) * s.shear_demand[rows][a] + t * s.shear_demand[rows][b])
        # at a station itself those on both sides of it
        beside = (
            [v for v in (b - 1, b, b + 1) if 0 <= v < len(places)] if abs(places[b] - x) < 1e-6 else [a, b]
        )
        around = [rows.start + v for v in sorted({a, *beside})]
        maximum = float(
            s.shear.total[around].min()
        )  # just before the cut the bars are there, with their depth
        result.append((demand, maximum, rows.start + (a if t < 0.5 else b), around))
    return result


def not_required_within(f: Facts, g: int, side: str, length: float) -> bool:
    """Whether the other bars of the face suffice everywhere within a `length` (mm) from an end of bar group
    `g`."""
    p, bar = f.placed, f.placed.bars[g]
    bottom = bool(p.bottom[g])
    end = bar.start if side == "left" else bar.end
    low, high = (end, end + length) if side == "left" else (end - length, end)
    near = f.strength.valid & (f.at.x >= low - 1e-6) & (f.at.x <= high + 1e-6)
    staying = p.face_area(bottom, anchored=True) - np.where(p.present[:, g] > 0.0, p.effective[:, g], 0.0)
    requested = f.required["bottom_tension" if bottom else "top_tension"]
    return bool((staying[near] >= requested[near] - 1e-6).all())


def compression_legs(f: Facts, held_bars: Callable[[Array], Array]) -> list[Check]:
    """Corner bars in compression that the resistance counts on, and as many between them as `held_bars` says,
    are held."""
    result: list[Check] = []
    legs = f.strength.ties.legs
    required = held_bars(f.pressed_in_row)
    record("legs", legs, "", "of the stirrups provided")
    for index in range(len(f.beam.spans)):
        where = f.with_stirrups(index) & np.isfinite(f.thinnest_counted)
        i = worst_of(required / np.maximum(legs, 1e-9), where)
        if i is None or required[i] <= 0.0:
            continue
        record("n", float(f.pressed_in_row[i]), "", "bars of the row in compression")
        note = if_fails(
            "more legs, so that corner bars and every other bar between them are held", required[i] > legs[i]
        )
        result.append(
            f.check("spacing.compressed-legs", Place(span=index), i, required[i], legs[i], note=note)
        )
    return result


def top_past_inflection(f: Facts, past: Past) -> list[Check]:
    """A third of the top bars goes on past where hogging ends, by support and side: by d, the bar's diameter
    and the clear span."""
    result: list[Check] = []
    at = f.at
    hogging = f.forces.design.moment_min < -1e3
    for index, span in enumerate(f.beam.spans):
        rows = at.of(index)
        low, high = f.beam.clear(index)
        for s, face, sign, side in ((span.left, low, 1.0, "right"), (span.right, high, -1.0, "left")):
            if s is None or span.cantilever or hogging[rows].all():
                continue
            i = f.nearest_of(index, face)
            if not hogging[i]:
                continue
            run = np.flatnonzero(~hogging[rows])
            inflection_at = float(at.x[rows][run[0] if sign > 0.0 else run[-1]])
            complete, going = _going_on(f, i, (low, high), face, sign, inflection_at, past)
            record("A_s,max", complete, "mm2", "top steel over the support")
            record("A_s,on", going, "mm2", "of it that goes on far enough past the point of inflection")
            place = Place(support=f.beam.supports[s].name, side=side, face="top")
            result.append(f.check("support-share.top", place, i, share_of(TOP_SHARE, complete), going))
    return result


def _going_on(
    f: Facts, i: int, clear: tuple[float, float], face: float, sign: float, inflection_at: float, past: Past
) -> tuple[float, float]:
    """Area of the top bars over a support, and of those that go on far enough, mm2."""
    p, (low, high) = f.placed, clear
    here = [g for g in range(len(p.bars)) if not p.bottom[g] and p.bars[g].start <= face <= p.bars[g].end]
    going = []
    for g in here:
        end = p.bars[g].end if sign > 0.0 else p.bars[g].start
        required = past(float(f.strength.d_top[i]), float(p.diameter[g]), high - low)
        carried = p.bars[g].ends[1 if sign > 0.0 else 0] == "lap"
        if sign * (end - inflection_at) >= required - 1.0 or not low < end < high or carried:
            going.append(g)
    return float(p.area[here].sum()), float(p.area[going].sum())


def inflection(f: Facts, limit_of: DevelopmentLimit) -> list[Check]:
    """Bottom bars developed within what the shear lets their tension grow over, from each point of inflection
    of a span."""
    result: list[Check] = []
    at, design = f.at, f.forces.design
    for index, span in enumerate(f.beam.spans):
        rows = at.of(index)
        sagging = np.flatnonzero(design.moment_max[rows] > 1e3)
        if span.cantilever or not len(sagging):
            continue
        low, high = f.beam.clear(index)
        for k, side in ((sagging[0], "left"), (sagging[-1], "right")):
            i = rows.start + int(k)
            x = float(at.x[i])
            if not low + 1.0 < x < high - 1.0 or at.local[i] < 1.0 or at.local[i] > span.length - 1.0:
                continue  # a simple end, which has a check of its own
            demand, limit = _developed_at(f, i, x, side, limit_of)
            note = if_fails("thinner bars", demand > limit)
            result.append(
                f.check(
                    "anchorage.inflection",
                    Place(span=index, side=side, face="bottom"),
                    i,
                    demand,
                    limit,
                    note=note,
                )
            )
    return result


def _developed_at(f: Facts, i: int, x: float, side: str, limit_of: DevelopmentLimit) -> tuple[float, float]:
    """Development of the bars at a point of inflection, and the most that it may be, mm."""
    p, design = f.placed, f.forces.design
    bottom = np.flatnonzero(p.bottom).tolist()
    going = [g for g in bottom if p.bars[g].start <= x <= p.bars[g].end and p.present[i, g] > 0.0]
    far = [(x - p.bars[g].start if side == "left" else p.bars[g].end - x) for g in going]
    pull = f.once(going) * f.code.materials.steel_law(f.beam.bars).yield_stress
    d, phi = float(f.strength.d_bottom[i]), float(max((p.diameter[g] for g in going), default=0.0))
    development = float(max((p.anchorage[g] for g in going), default=0.0))
    shear = float(design.shear[i])
    if shear <= 1.0:
        return 0.0, 1.0
    record(f.code.words.symbol("l_d"), development, "mm", "development of the bottom bars at this place")
    beyond = min(max(d, 12.0 * phi), max(min(far, default=0.0), 0.0))
    return development, float(limit_of(f.nominal_moment(pull, i), shear, beyond, 1.0))
