"""Resistance to bending, and where bars stop inside spans."""

from __future__ import annotations

import numpy as np

from upright_bramble.codes.rules import Place
from upright_bramble.section.arrays import Array
from upright_bramble.section.strength import Resistance
from upright_bramble.text import amount
from upright_bramble.verify.facts import Facts, if_fails, ratio_of, worst_of
from upright_bramble.verify.result import MAXIMUM_RATIO, Check
from upright_bramble.verify.rules.balance import record_balance
from upright_bramble.verify.stops import PAST
from upright_bramble.working import record

IDEAL = (
    "the area suffices for the ideal section: these bars lie too near its neutral axis, or too many of them "
    "are compressed"
)


def bending(f: Facts) -> list[Check]:
    """The worst place of each span for sagging, of each support for hogging."""
    result = []
    design = f.forces.design
    for zone in f.zones:
        kind = "bending.sagging" if zone.bottom else "bending.hogging"
        demand, resistance = demand_and_resistance(f, zone.bottom)
        # an axial force may use a section up before any moment does
        used_up = ((design.axial_min < -1.0) | (design.axial_max > 1.0)) & (resistance.moment <= 0.0)
        ratio = np.where(used_up, MAXIMUM_RATIO, ratio_of(demand, resistance.moment, f.at.span))
        i = worst_of(ratio, zone.where)
        if i is None or (ratio[i] <= 0.0 and not used_up[zone.where].any()):
            continue
        if used_up[i]:
            note = "the axial force exceeds the axial capacity of the section"
            result.append(f.check(kind, zone.place, i, max(demand[i], 1.0), 0.0, note=note))
            continue
        note = if_fails(_lacking(f, zone.face, i), ratio[i] > 1.0)
        result.append(
            f.check(
                kind,
                zone.place,
                i,
                demand[i],
                resistance.moment[i],
                note=note,
                by=f.origin(i, zone.face),
                detail=lambda i=i, bottom=zone.bottom: record_bending(f, i, bottom),  # type: ignore[misc]
            )
        )
    return result


def demand_and_resistance(f: Facts, bottom: bool) -> tuple[Array, Resistance]:
    """Moments that pull a face as they are designed for, and what resists them."""
    s = f.strength
    return (s.moment_max, s.positive) if bottom else (s.moment_min, s.negative)


def _lacking(f: Facts, face: str, i: int) -> str:
    """What would make a section resist."""
    required = float(f.required[face][i])
    if not np.isfinite(required):
        return "no amount of reinforcement suffices: the section is too small"
    lacking = max(required - float(f.placed.tension_area(face == "bottom", anchored=True)[i]), 0.0)
    return (
        f"a further {amount(lacking, 'area')} of anchored reinforcement is required"
        if lacking > 1.0
        else IDEAL
    )


def record_bending(f: Facts, i: int, bottom: bool) -> None:
    """From the envelope to the design moment, and the balance of forces behind the resistance."""
    s, words = f.strength, f.code.words
    raw = float(f.pulled(bottom)[i])
    e = f.forces.redistributed or f.forces.envelopes[f.code.actions.levels[0]]
    label = e.labels[int((e.moment.high_by if bottom else e.moment.low_by)[i])]
    minimum = _end_hogging(f, i, bottom, raw)
    record(
        "M",
        max(raw, 0.0),
        "N mm",
        f"design envelope at this place; {label}"
        if not minimum
        else "of the end taken as simple: the minimum hogging moment",
    )
    f.code.shear.shift(s.d_shear[i : i + 1], s.shear.cot[i : i + 1])
    moved = (
        "the envelope's greatest within a_l to either side"
        if s.shift[i] > 0.0
        else "the moment to design for"
    )
    twisted = ", and tension due to torsion" if s.twist is not None else ""
    demand, resistance = demand_and_resistance(f, bottom)
    record(words.symbol("M_Ed"), float(demand[i]), "N mm", moved + twisted)
    record_balance(f, i, bottom, resistance)


def _end_hogging(f: Facts, i: int, bottom: bool, raw: float) -> bool:
    """Whether the hogging at a station is that which an end taken as simple is designed for; then how it
    follows from the span's moment."""
    if bottom or raw <= 1e3:
        return False
    design, at = f.forces.design, f.at
    for s, support in enumerate(f.beam.supports):
        given = float(design.end_hogging[s])
        if (
            given > 0.0
            and abs(at.x[i] - support.x) <= 0.5 * support.width + 1.0
            and abs(given - raw) <= 1e-6 * given
        ):
            index = next(k for k, span in enumerate(f.beam.spans) if s in (span.left, span.right))
            f.code.analysis.end_hogging(np.array([max(float(design.moment_max[at.of(index)].max()), 0.0)]))
            return True
    return False


def curtailment(f: Facts) -> list[Check]:
    """Every end of a bar inside a span: the shifted demand against the resistance that ramps up over the
    bar's anchorage there."""
    result: list[Check] = []
    p, at, valid = f.placed, f.at, f.strength.valid
    for g, bar in enumerate(p.bars):
        bottom = bool(p.bottom[g])
        demand, resisting = demand_and_resistance(f, bottom)
        resistance = resisting.moment
        for k, (side, x) in enumerate((("left", bar.start), ("right", bar.end))):
            inside = any(low < x < high for low, high in (f.beam.clear(i) for i in range(len(f.beam.spans))))
            if not inside or bar.ends[k] == "lap":
                continue
            reach = max(float(p.anchorage[g]), float(p.unused[g, k]))
            low, high = (x - PAST, x + reach) if side == "left" else (x - reach, x + PAST)
            ratio = ratio_of(demand, resistance, f.at.span)
            i = worst_of(ratio, valid & (at.x >= low - 1e-6) & (at.x <= high + 1e-6))
            if i is None or ratio[i] <= 0.0:
                continue
            note = if_fails(
                "a longer bar, or more reinforcement that continues", demand[i] > resistance[i] * (1.0 + 1e-9)
            )
            result.append(
                f.check(
                    f"curtailment.{bar.face}",
                    Place(bar=f.name(bar), side=side, face=bar.face),
                    i,
                    demand[i],
                    resistance[i],
                    note=note,
                    by=f.origin(i, bar.face),
                    detail=lambda i=i, bottom=bottom: record_bending(f, i, bottom),  # type: ignore[misc]
                )
            )
    return result
