"""Bottom bars into supports: a share of the span's steel, and the force at simple ends."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from upright_bramble.beam import Beam
from upright_bramble.codes.parts import EndFacts
from upright_bramble.codes.rules import Place, share_of
from upright_bramble.core.bars import counted
from upright_bramble.verify.facts import Facts
from upright_bramble.verify.result import Check
from upright_bramble.working import record

END = (
    "F_E",
    "F_s",
    "A_s,anchored",
    "l_d,max",
    "l_d",
    "l_end",
    "l_prov",
    "l_bd",
    "p",
)  # what end anchorage comes down to, in the symbols of the codes


def supports(f: Facts) -> list[Check]:
    """Both ends of every span that has sagging."""
    result: list[Check] = []
    for index, span in enumerate(f.beam.spans):
        here = f.at.span == index
        if span.cantilever or f.forces.design.moment_max[here].max() <= 1e3:
            continue
        result += _end(f, index, "left")
        result += _end(f, index, "right")
    return result


def _end(f: Facts, index: int, end: str) -> list[Check]:
    """One end of a span, over its support."""
    beam, placed, span = f.beam, f.placed, f.beam.spans[index]
    face, sign = (beam.clear(index)[0], -1.0) if end == "left" else (beam.clear(index)[1], 1.0)
    s = span.left if end == "left" else span.right
    assert s is not None
    support, i = beam.supports[s], f.nearest_of(index, face)
    provided = _provided(f, index)
    inner = 0 < s < len(beam.supports) - 1 or _cantilever_beyond(beam, s)
    past = f.code.curtailment.into_support(placed.diameter, not inner)
    bottom = [g for g in range(len(placed.bars)) if placed.bottom[g]]
    going = [
        g for g in bottom if _goes_past(placed.bars[g].start, placed.bars[g].end, face, sign, float(past[g]))
    ]
    if inner:
        going = sorted({*going, *(g for g in bottom if _bent_past(f, g, i, face, sign, float(past[g])))})
    else:  # only bars with the least anchorage beyond the face count as carried in
        enough = f.code.bond.minimum_anchorage(placed.basic, placed.diameter, abs(support.x - face))
        going = [g for g in going if placed.reach[i, g] >= enough[g] - 1e-6]
    # a support that the beam is built with is no simple one (ACI 318, 9.7.3.8.2)
    share = f.code.curtailment.bottom_share(not inner and not support.restrains_rotation)
    record("share", share, "", "of the span's bottom steel that goes into the support")
    record("A_s,max", provided, "mm2", "largest bottom steel of the span")
    record("A_s,carried", f.once(going), "mm2", "carried far enough past the face")
    side = "right" if end == "left" else "left"
    result = [
        f.check(
            "support-share.bottom",
            Place(support=support.name, side=side, face="bottom"),
            i,
            share_of(share, provided),
            f.once(going),
        )
    ]
    if not inner and not support.fixed:
        facts = _end_facts(f, going, i, support.x, face, -sign)
        demand, local, quantity = f.code.curtailment.end_anchorage(facts)
        if quantity == "force":
            _record_anchored(f, facts, going, i)
        result.append(
            f.check(
                "anchorage.end",
                Place(support=support.name, face="bottom"),
                i,
                demand,
                local,
                quantity=quantity,
                of=END,
            )
        )
    return result


def _provided(f: Facts, index: int) -> float:
    """Largest bottom steel of a span, anchored or not, mm2; of lapped pieces one counts."""
    placed, own = f.placed, f.at.span == index
    lapped = np.zeros(len(f.at), dtype=bool)
    for lap in placed.laps:
        if placed.bottom[lap.first]:
            lapped |= (f.at.x >= lap.start - 1.0) & (f.at.x <= lap.end + 1.0)
    clear = placed.face_area(True, anchored=False)[own & ~lapped].max(initial=0.0)
    return float(max(clear, placed.face_area(True, anchored=True)[own].max()))


def _record_anchored(f: Facts, end: EndFacts, going: list[int], i: int) -> None:
    """What is there at a simple end where forces are compared; of lengths the code says which."""
    if going:
        _record_length(f, going, i)
    pull = f.code.materials.steel_law(f.beam.bars).yield_stress
    record(
        "A_s,anchored",
        end.force / pull,
        "mm2",
        "bottom bars carried in, as far as they are anchored at the face",
    )
    record("F_s", end.force, "N", "force that they can take at this place")


def _record_length(f: Facts, going: list[int], i: int) -> None:
    """How far the bars are anchored at a face, station `i`, of which the least is."""
    p = f.placed
    g = min(going, key=lambda k: float(p.effective[i, k] / p.area[k]))
    bar, side = p.bars[g], int(f.at.x[i] > 0.5 * (p.bars[g].start + p.bars[g].end))
    around = p.around.at([g])
    for bearing in p.bearings:
        if bearing.side == side and bearing.presses(bar):
            around = replace(around, pressure=bearing.pressure)
            record("p", bearing.pressure, "MPa", "least pressure of the support for strength")
    height, depth = (v[[g]] for v in p.bond)
    bent = bar.ends[side] in ("bend", "hook")
    f.code.bond.anchorage(f.beam.concrete, f.beam.bars, p.diameter[[g]], height, depth, around, bent=bent)
    label = counted(bar.count, f.code.sizes.label(bar.size))
    record("l_prov", float(p.reach[i, g]), "mm", f"{label} beyond the face, anchored least of them")


def _end_facts(f: Facts, going: list[int], i: int, centre: float, face: float, inwards: float) -> EndFacts:
    """At the simple end near station `i`; `going` bars are carried into it."""
    p, s = f.placed, f.strength
    pull = float(p.area[going].sum()) * f.code.materials.steel_law(f.beam.bars).yield_stress
    side = 0 if inwards > 0.0 else 1
    ends = [(p.bars[g].start if side == 0 else p.bars[g].end) for g in going]
    straight = [g for g in going if p.bars[g].ends[side] not in ("bend", "hook")]
    return EndFacts(
        shear=float(f.forces.design.shear[i]),
        d=float(s.d_bottom[i]),
        cot=float(s.shear.cot[i]),
        axial_tension=max(-float(f.forces.design.axial_min[i]), 0.0),
        torsion=_pulled_by_torsion(f, i),
        force=float(p.effective[i, going].sum()) * f.code.materials.steel_law(f.beam.bars).yield_stress,
        development=float(p.anchorage[straight].max(initial=0.0)),
        nominal_moment=f.nominal_moment(pull, i),
        beyond_centre=max(min((inwards * (centre - e) for e in ends), default=0.0), 0.0),
        hooked=not straight,
        phi=float(p.diameter[going].max(initial=0.0)),
        reach=float(p.reach[i, going].min(initial=np.inf)) if going else 0.0,
        within=abs(centre - face),
        direct=min(f.beam.supports, key=lambda v: abs(v.x - centre)).direct,
    )


def _pulled_by_torsion(f: Facts, i: int) -> float:
    """Force of the bottom bars for torsion at a station, N: those of their face, and of the sides up to half
    way to the next bars."""
    w = f.strength.twist
    if w is None or w.bars[i] <= 0.0:
        return 0.0
    width = 0.5 * float(w.around[i]) - float(w.side[i])
    rows = f.placed.side_rows[int(f.at.span[i])]
    area = float(w.bars[i] / w.around[i]) * (width + float(w.side[i]) / (rows + 1.0))
    return area * f.code.materials.steel_law(f.beam.bars).yield_stress


def _cantilever_beyond(beam: Beam, support: int) -> bool:
    first, last = beam.spans[0], beam.spans[-1]
    return (support == 0 and first.left is None) or (support == len(beam.supports) - 1 and last.right is None)


def _bent_past(f: Facts, g: int, i: int, face: float, sign: float, past: float) -> bool:
    """Whether a bar bent up in a support goes on along its leg as far as a straight one has to, its whole
    bend past the face (and no less than its mandrel: EN 1992-1-1, 9.2.1.4(3))."""
    bar, phi = f.placed.bars[g], float(f.placed.diameter[g])
    bend = 2.0 * f.code.detailing.bend_radius(phi) + phi
    bent = bar.ends[0 if sign < 0.0 else 1] in ("bend", "hook")
    return (
        bent
        and _goes_past(bar.start, bar.end, face, sign, bend)
        and bool(f.placed.reach[i, g] >= past - 1e-6)
    )


def _goes_past(start: float, end: float, face: float, sign: float, past: float) -> bool:
    if sign < 0.0:
        return start <= face - past + 1e-6 and end > face
    return end >= face + past - 1e-6 and start < face
