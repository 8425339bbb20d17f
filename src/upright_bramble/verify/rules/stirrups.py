"""Minimum and spacing of stirrups, those that hold compression bars, those that hang a force up."""

from __future__ import annotations

import numpy as np

from upright_bramble.analysis.suspension import suspension_forces
from upright_bramble.codes.rules import Place
from upright_bramble.section.arrays import Array
from upright_bramble.verify.facts import Facts, if_fails, worst_of
from upright_bramble.verify.result import Check
from upright_bramble.verify.rules.shear import stirrups_for_shear
from upright_bramble.working import record, shared


def stirrups(f: Facts) -> list[Check]:
    """By span: area, spacing along and across."""
    result, at, beam, s = [], f.at, f.beam, f.strength
    ties, code = s.ties, f.code
    record("V", s.shear_demand, "N", "design shear")
    minimum = code.shear.minimum_stirrups(beam.concrete, beam.stirrups, at.width)
    record("a_sw,prov", ties.asw_s, "mm2/mm", "stirrups provided")
    along = code.shear.maximum_spacing(beam.concrete, s.web, s.shear_demand)
    record("s_along", ties.gap, "mm", "largest spacing provided")
    across = (at.width - 2.0 * beam.cover.sides - f.placed.tie) / np.maximum(ties.legs - 1.0, 1.0)
    highest = code.shear.maximum_leg_spacing(beam.concrete, s.web, s.shear_demand)
    record("legs", ties.legs, "", "of the stirrups provided")
    record("s_across", across, "mm", "distance of the legs")
    shared()
    for index in range(len(beam.spans)):
        where = f.with_stirrups(index)
        for kind, demand, limit, of in (
            ("minimum.stirrups", minimum, ties.asw_s, ("a_sw,min", "a_v,min", "a_sw,prov")),
            ("spacing.stirrups", ties.gap, along, ("s_along", "s_max", "s_l,max")),
            ("spacing.legs", across, highest, ("s_across", "s_t,max", "s_w,max", "legs")),
        ):
            i = worst_of(demand / np.maximum(limit, 1e-9), where & np.isfinite(limit))
            if i is not None:
                result.append(f.check(kind, Place(span=index), i, demand[i], limit[i], of=of))
        result += _along_compressed(f, index)
    return result


def _along_compressed(f: Facts, index: int) -> list[Check]:
    """Along bars in compression that the resistance counts on."""
    thin, where = f.thinnest_counted, f.with_stirrups(index)
    compressed = np.isfinite(thin)
    if not (where & compressed).any():
        return []
    at, gap = f.at, f.strength.ties.gap
    phi = np.where(compressed, thin, 1.0)
    limit = f.code.detailing.compression_stirrup_spacing(phi, f.placed.tie, np.minimum(at.width, at.depth))
    i = worst_of(gap / limit, where & compressed)
    assert i is not None
    record("s_along", gap, "mm", "largest spacing provided")
    note = "stirrups hold the compression bars that the section counts on"
    return [
        f.check("spacing.compressed", Place(span=index), i, gap[i], limit[i], note=note, of=("s", "s_along"))
    ]


def suspension(f: Facts) -> list[Check]:
    """Stirrups beside a force that hangs on the beam, less those that shear requires there."""
    result: list[Check] = []
    place, area, _, _ = f.stirrups
    required = _used_by_shear(f)
    for number, hung in enumerate(suspension_forces(f.beam, f.code, f.forces), start=1):
        low, high = hung.ends
        here = (f.at.span == hung.span) & (f.at.x >= low) & (f.at.x <= high)
        i = int(np.where(f.at.span == hung.span, np.abs(f.at.x - hung.x), np.inf).argmin())
        inside = (place >= low - 1e-6) & (place <= high + 1e-6)
        used = float(required[here].max(initial=0.0)) * (high - low)
        local = max(float(area[inside].sum()) - used, 0.0)
        f.code.shear.suspension_steel(f.beam.stirrups, hung.force)
        record("A_sw", float(area[inside].sum()), "mm2", "stirrups beside the force")
        record("A_sw,V", used, "mm2", "of them used by shear and torsion")
        note = if_fails("more stirrups beside the force", local < hung.steel)
        result.append(
            f.check("hanging.stirrups", Place(span=hung.span, number=number), i, hung.steel, local, note=note)
        )
    return result


def _used_by_shear(f: Facts) -> Array:
    """Stirrups that shear and torsion use, mm2/mm."""
    s = f.strength
    required = stirrups_for_shear(f)
    used = np.where(s.shear_demand > s.shear.concrete, required, 0.0)
    if s.twist is not None:  # torsion has its part of every leg, and takes the concrete's of the shear
        used = s.ties.legs * s.twist.leg + np.where(s.twist.leg > 0.0, np.maximum(used, required), used)
    return np.asarray(used)
