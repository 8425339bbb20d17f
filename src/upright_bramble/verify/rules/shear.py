"""Shear: stirrups, crushing, forces near supports."""

from __future__ import annotations

import numpy as np

from upright_bramble.codes.rules import Place
from upright_bramble.section.arrays import Array, Mask
from upright_bramble.text import amount
from upright_bramble.verify.facts import Facts, if_fails, worst_of
from upright_bramble.verify.result import Check
from upright_bramble.verify.strength import shear_state
from upright_bramble.working import is_recording, record, shared


def half_spans(f: Facts) -> list[tuple[Place, Mask]]:
    """Half spans by the support they go to: B-left lies left of support B; the middle belongs to both. A free
    half has its cantilever's support."""
    at, result = f.at, []
    for i, support in enumerate(f.beam.supports):
        for index, span in enumerate(f.beam.spans):
            if i not in (span.left, span.right):
                continue
            clear = f.clear_span(index)
            middle = 0.5 * span.length
            if span.left == i:
                result.append(
                    (
                        Place(support=support.name, side="right"),
                        clear & ((at.local <= middle + 1e-6) | (span.right is None)),
                    )
                )
            if span.right == i:
                result.append(
                    (
                        Place(support=support.name, side="left"),
                        clear & ((at.local >= middle - 1e-6) | (span.left is None)),
                    )
                )
    return result


def shear(f: Facts) -> list[Check]:
    """The worst place of each half span, of the stirrups and of crushing."""
    s, result = f.strength, []
    at_face = f.forces.design.shear if f.code.shear.crushes_at_face else s.shear_demand
    _record_state(f)
    for place, where in half_spans(f):
        close = _carried_straight(f, where)
        i = worst_of(s.shear_demand / np.maximum(s.shear.total, 1e-6), where & ~close)
        result += _near_support(f, place, where & close)
        j = worst_of(at_face / np.maximum(s.shear.crushing, 1e-6), where)
        if i is None or j is None:
            continue
        demand = f.code.words.symbol("V_Ed")
        record(
            demand,
            s.shear_demand[i],
            "N",
            f"at this place, or at d from the face of the support where that is taken; {f.origin(i, '')}",
        )
        note = if_fails(_required(f, i), s.shear_demand[i] > s.shear.total[i])
        resistance = f.code.words.formula_symbol("V_R")
        result.append(
            f.check(
                "shear.stirrups",
                place,
                i,
                s.shear_demand[i],
                s.shear.total[i],
                note=note,
                by=f.origin(i, ""),
                of=(demand, resistance),
            )
        )
        record(demand, at_face[j], "N", f"at this place; {f.origin(j, '')}")
        note = if_fails(
            "a wider or deeper section, or stronger concrete, is needed", at_face[j] > s.shear.crushing[j]
        )
        crushing = f.code.words.formula_symbol("V_R,max")
        result.append(
            f.check(
                "shear.crushing",
                place,
                j,
                at_face[j],
                s.shear.crushing[j],
                note=note,
                by=f.origin(j, ""),
                of=(demand, crushing),
            )
        )
    return result


def _required(f: Facts, i: int) -> str:
    """Where there are fewer than the least, that: the concrete may carry less than is counted on."""
    s, part, provided = f.strength, f.code.shear, float(f.strength.ties.asw_s[i])
    required = part.stirrups_required(f.beam.concrete, f.beam.stirrups, s.web, s.shear_demand, s.shear.cot)[i]
    least = part.minimum_stirrups(f.beam.concrete, f.beam.stirrups, f.at.width)[i]
    text = (
        f"stirrups required {amount(max(required, least if provided < least else 0.0), 'steel per length')}, "
        f"provided {amount(provided, 'steel per length')}"
    )
    twisted = provided - float(s.spare[i])
    return text + (
        f", of which torsion takes {amount(twisted, 'steel per length')}" if twisted > 1e-6 else ""
    )


def _record_state(f: Facts) -> None:
    """What the resistance is made of, and the resistance found once more."""
    if not is_recording():
        return
    s, words = f.strength, f.code.words
    torsion = ", less what torsion takes" if s.twist is not None else ""
    record(words.symbol("a_sw"), s.spare, "mm2/mm", f"stirrups there, per length{torsion}")
    record("legs", s.ties.legs, "", "of the stirrups provided")
    record(words.symbol("A_sl"), s.web.a_sl, "mm2", "tension bars that go on far enough to count")
    record("b_w", s.web.b, "mm", "width of the web")
    record("d", s.web.d, "mm", "effective depth")
    if words.symbol("cot_theta"):
        record(
            "cot_theta", s.shear.cot, "", "flattest struts that the greatest shear of this half span allows"
        )
    shear_state(f.beam, f.code, s.web, s.spare, s.shear.cot)
    shared()


def _carried_straight(f: Facts, where: Mask) -> Mask:
    """Stations between a support's face and forces near it where stirrups do by the clause for these, and not
    by the usual one."""
    s, result = f.strength, np.zeros(len(f.at), dtype=bool)
    for near, resistance in s.near:
        here = where & (f.at.span == near.span) & near.between(f.at.x)
        usual = float((s.shear_demand / np.maximum(s.shear.total, 1e-6))[here].max(initial=0.0))
        if usual > 1.0 and near.shear <= resistance:
            result |= here
    return result


def _near_support(f: Facts, place: Place, where: Mask) -> list[Check]:
    """Every force that the stations `where` stand behind."""
    result: list[Check] = []
    for near, resistance in f.strength.near:
        here = where & (f.at.span == near.span) & near.between(f.at.x)
        if not here.any():
            continue
        i = int(np.where(here, f.at.x if near.load > near.face else -f.at.x, -np.inf).argmax())
        record("a_v", near.a_v, "mm", "distance of the force from the face")
        f.code.shear.near_support_factor(np.array([near.a_v]), float(f.strength.web.d[i]))
        f.code.shear.near_support_resistance(f.beam.stirrups, near_area(f, near.middle()))
        numbered = Place(support=place.support, side=place.side, number=len(result) + 1)
        note = f"load near the support reduced (a_v = {amount(near.a_v, 'length')})"
        result.append(f.check("shear.near-support", numbered, i, near.shear, resistance, note=note))
    return result


def near_area(f: Facts, middle: tuple[float, float]) -> float:
    """Area of the stirrups within the middle part of the way from a face to a force, mm2."""
    place, area, _, _ = f.stirrups
    return float(area[(place >= middle[0] - 1e-6) & (place <= middle[1] + 1e-6)].sum())


def stirrups_for_shear(f: Facts) -> Array:
    """Stirrups for the full shear, mm2/mm."""
    s = f.strength
    return np.asarray(
        f.code.shear.stirrups_required(f.beam.concrete, f.beam.stirrups, s.web, s.shear_demand, s.shear.cot)
    )
