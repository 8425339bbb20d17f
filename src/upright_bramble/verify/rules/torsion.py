"""Torsion: closed stirrups, the section, side bars; bars of both faces are judged with bending."""

from __future__ import annotations

import numpy as np

from upright_bramble.analysis.side_bars import side_bar_anchored
from upright_bramble.analysis.twist import side_bar_area, tube_of
from upright_bramble.codes.rules import Place
from upright_bramble.section.arrays import Mask
from upright_bramble.verify.facts import Facts, if_fails, worst_of
from upright_bramble.verify.result import Check
from upright_bramble.verify.rules.shear import stirrups_for_shear
from upright_bramble.working import is_recording, record, shared


def where_twisted(f: Facts, index: int) -> Mask:
    """Stations of a clear span that reinforcement for torsion is required at."""
    w = f.strength.twist
    assert w is not None
    return np.asarray(f.clear_span(index) & (w.bars > 0.0))


def torsion(f: Facts) -> list[Check]:
    """By span."""
    result: list[Check] = []
    w, s = f.strength.twist, f.strength
    if w is None:
        return result
    _record_required(f)
    # where torsion cracks the web its concrete carries no shear: stirrups have all of both (EN 1992-1-1,
    # 6.3.2(5))
    for_shear = np.where((w.leg > 0.0) | (s.shear_demand > s.shear.concrete), stirrups_for_shear(f), 0.0)
    both = s.ties.legs * w.leg + for_shear
    record("a_sw,T", w.leg, "mm2/mm", "for torsion, one leg")
    record("legs", s.ties.legs, "", "of the stirrups provided")
    record("a_sw,V", for_shear, "mm2/mm", "for the full shear")
    record("a_sw,rqd", both, "mm2/mm", "legs of torsion and stirrups of shear together")
    record("a_sw", s.ties.asw_s, "mm2/mm", "stirrups provided")
    shared()
    for index in range(len(f.beam.spans)):
        where = where_twisted(f, index)
        place = Place(span=index)
        i = worst_of(both / np.maximum(s.ties.asw_s, 1e-9), where)
        if i is None:
            continue
        note = if_fails("closer or thicker closed stirrups", both[i] > s.ties.asw_s[i])
        result.append(
            f.check(
                "torsion.stirrups",
                place,
                i,
                both[i],
                s.ties.asw_s[i],
                note=note,
                of=("a_sw,rqd", "a_sw", "a_sw,T", "a_sw,V", "legs", "a_sw,leg", "a_t"),
            )
        )
        i = int(np.where(where, w.crushing, -1.0).argmax())
        note = if_fails("a wider section helps most", w.crushing[i] > 1.0)
        result.append(f.check("torsion.crushing", place, i, w.crushing[i], 1.0, note=note, of=("share",)))
        i = int(np.where(where, s.ties.gap / w.spacing, -1.0).argmax())
        record("s_prov", s.ties.gap[i], "mm", "largest spacing provided")
        result.append(f.check("torsion.spacing", place, i, s.ties.gap[i], w.spacing[i], of=("s", "s_prov")))
        result += _sides(f, index)
    return result


def _record_required(f: Facts) -> None:
    """What torsion requires, found once more."""
    if not is_recording():
        return
    s, design, beam = f.strength, f.forces.design, f.beam
    record(
        "T_Ed" if f.code.words.symbol("V_Ed") == "V_Ed" else "T_u",
        design.torsion,
        "N mm",
        "torsion, beside the shear",
    )
    record(f.code.words.symbol("V_Ed"), design.shear, "N", "shear")
    steels = (beam.bars, beam.stirrups)
    tube = tube_of(beam, f.forces, f.placed.tie)
    f.code.torsion.required(
        beam.concrete,
        steels,
        s.twisted_web,
        tube,
        design.shear,
        design.torsion,
        s.shear.cot,
        beam.compatible_torsion,
    )


def _sides(f: Facts, index: int) -> list[Check]:
    """Bars around the section between those of both faces."""
    w, p = f.strength.twist, f.placed
    assert w is not None
    where, place, rows = where_twisted(f, index), Place(span=index), p.side_rows[index]
    i = int(np.where(where, w.side, -1.0).argmax())
    apart = w.side[i] / (rows + 1.0)
    note = if_fails("side bars are needed", apart > w.bar_spacing)
    record("side", w.side[i], "mm", "height between the corner bars")
    record("rows", rows, "", "of side bars provided")
    result = [f.check("torsion.side-spacing", place, i, apart, w.bar_spacing, note=note, of=("side", "rows"))]
    if not rows:
        return result
    each = side_bar_area(w, rows)
    local = side_bar_anchored(f.beam, f.code, f.at, f.layout.sides, p.tie)
    required = np.where(each > 0.0, local.full if f.code.torsion.develops_bars else each, 0.0)
    j = worst_of(required / np.maximum(local.anchored, 1e-9), where)
    assert j is not None
    note = if_fails(
        "longer side bars, bent into the support, or thinner ones", required[j] > local.anchored[j]
    )
    record("A_l,each", float(required[j]), "mm2", "of each side bar required")
    record("A_l", float(local.anchored[j]), "mm2", "of it anchored at this place")
    of = ("A_l,each", "A_l", "A_sl", "A_l,min")
    return [*result, f.check("torsion.sides", place, j, required[j], local.anchored[j], note=note, of=of)]
