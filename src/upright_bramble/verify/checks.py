"""From arrays to checks: the worst place of each span, support and face, each with its clause."""

from __future__ import annotations

import itertools

import numpy as np

from upright_bramble.analysis import Forces
from upright_bramble.analysis.flanges import bar_width, compressed, minimum_width, tension_width, tension_zone
from upright_bramble.analysis.hung import hung_forces
from upright_bramble.analysis.side_bars import side_bar_anchored
from upright_bramble.analysis.twist import side_bar_area
from upright_bramble.beam import Beam
from upright_bramble.beam.geometry import most_in_row
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.codes.parts import EndFacts
from upright_bramble.section.arrays import Array, Index, Mask, nearest
from upright_bramble.section.strength import required_steel
from upright_bramble.text import amount
from upright_bramble.verify.building import impossible
from upright_bramble.verify.facts import Facts, made_by, make, ratio_of, worst_of, zones_of
from upright_bramble.verify.gaps import bracing_limit, unbraced
from upright_bramble.verify.integrity import integrity_checks
from upright_bramble.verify.placement import Lap, row_count
from upright_bramble.verify.quantities import bar_item, cut_step
from upright_bramble.verify.result import MOST_RATIO, Check, Message
from upright_bramble.verify.service_checks import Judged, service_checks, skin
from upright_bramble.verify.strength import Strength, stirrup_positions


def all_checks(f: Facts) -> Judged:
    """Every check of the beam, in the order of the work, and what could not be verified."""
    return [
        *_bending(f), *_ductility(f), *_steel_amounts(f), *_shear(f), *_curtailed(f), *_cut_offs(f),
        *flange_checks(f), *_torsion(f), *skin(f), *_stirrups(f), *hung_checks(f),
        *support_checks(f), *_fit(f), *_rows(f), *_bracing(f), *integrity_checks(f), *_laps(f), *_confined(f),
        *_inside(f), *bend_checks(f), *_legs(f), *impossible(f), *_stock(f), *cover_checks(f), *service_checks(f),
    ]  # fmt: skip


def _bending(f: Facts) -> list[Check]:
    s, found = f.strength, []
    for face, place, where in zones_of(f):
        sense = "sagging" if face == "bottom" else "hogging"
        demand, resistance = (s.moment_max, s.positive) if face == "bottom" else (s.moment_min, s.negative)
        # an axial force may use a section up before any moment does
        design = f.forces.design
        used_up = ((design.axial_min < -1.0) | (design.axial_max > 1.0)) & (resistance.moment <= 0.0)
        ratio = np.where(used_up, MOST_RATIO, ratio_of(demand, resistance.moment))
        i = worst_of(ratio, where)
        if i is None or (demand[where].max(initial=0.0) <= 1e3 and not used_up[where].any()):
            continue
        if used_up[i]:
            note = "the axial force exceeds the axial capacity of the section"
            found.append(make(f, f"bending.{sense}", place, i, max(demand[i], 1.0), 0.0, "moment", note=note))
            continue
        lacking = max(f.required[face][i] - f.placed.face_area(face == "bottom", anchored=True)[i], 0.0)
        short = ratio[i] > 1.0 and 1.0 < lacking < np.inf
        note = f"a further {amount(lacking, 'area')} of anchored reinforcement is required" if short else ""
        if ratio[i] > 1.0 and lacking <= 1.0:
            note = "the area suffices for the ideal section: these bars lie too near its neutral axis, or too many of them are compressed"
        if ratio[i] > 1.0 and not np.isfinite(f.required[face][i]):
            note = "no amount of reinforcement suffices: the section is too small"
        by = made_by(f, i, face)
        found.append(make(f, f"bending.{sense}", place, i, demand[i], resistance.moment[i], "moment", note=note, by=by))
    return found


USED = 0.5  # of the resistance: from there on a section may come to rotate


def _ductility(f: Facts) -> list[Check]:
    """Neutral axis depth wherever the moment may come to use the section up, each section with its own demand."""
    found: list[Check] = []
    design = f.forces.design
    for face, place, where in zones_of(f):
        sense = "sagging" if face == "bottom" else "hogging"
        raw = design.moment_max if face == "bottom" else -design.moment_min
        r = f.strength.positive if face == "bottom" else f.strength.negative
        peak = np.where(where, raw, 0.0).max()
        judged = where & (raw > 1e3) & (r.moment > 0.0) & ((raw >= USED * r.moment) | (raw >= peak * (1.0 - 1e-9)))
        if not judged.any():
            continue
        note = "compression steel, or a deeper or wider section, lowers the neutral axis"
        share = f.code.bending.neutral_axis_ratio(r.x, r.d, r.outer)
        delta = np.ones(len(f.at)) if face == "bottom" else design.delta
        limit = f.code.bending.neutral_axis_limit(f.beam.concrete, f.beam.bars, delta)
        i = worst_of(share / np.maximum(limit, 1e-9), judged)
        assert i is not None
        short = note if share[i] > limit[i] else ""
        found.append(make(f, f"ductility.{sense}", place, i, share[i], float(limit[i]), "number", note=short))
    return [*found, *_redistribution(f)]


def _redistribution(f: Facts) -> list[Check]:
    """How far moments were redistributed, and whether the spans are alike enough for it."""
    found, beam = [], f.beam
    for s in beam.redistribution.supports:
        delta = float(f.forces.delta[s])
        if delta >= 1.0:
            continue
        i = int(np.abs(f.at.x - beam.supports[s].x).argmin())
        least, widest = f.code.analysis.minimum_delta(beam.bars), f.code.analysis.maximum_span_ratio()
        name = beam.supports[s].name
        found.append(make(f, "redistribution.least", name, i, least, delta, "number", topic="ductility"))
        beside = [p.length for p in beam.spans if s in (p.left, p.right) and not p.cantilever]
        if len(beside) == 2 and np.isfinite(widest):
            found.append(make(f, "redistribution.spans", name, i, max(beside) / min(beside), widest, "number", topic="ductility"))
    return found


def _steel_amounts(f: Facts) -> list[Check]:
    """Minimum where the envelope puts a face in tension, maximum everywhere."""
    found, at, beam = [], f.at, f.beam
    design = f.forces.design
    provided = {face: f.placed.face_area(face == "bottom", anchored=False) for face in ("bottom", "top")}
    for face, place, where in zones_of(f):
        raw = design.moment_max if face == "bottom" else -design.moment_min
        d = f.strength.d_bottom if face == "bottom" else f.strength.d_top
        tension = where & (raw > 0.01 * max(raw.max(), 1.0))
        least = f.code.bending.minimum_steel(
            beam.concrete, beam.bars, minimum_width(beam, f.code, at, face), tension_width(at, face), d, f.required[f"{face}_tension"]
        )
        i = worst_of(least / np.maximum(provided[face], 1e-6), tension)
        if i is not None:
            found.append(make(f, f"minimum.{face}", place, i, least[i], provided[face][i], "area"))
        fine = f.code.cracking.minimum_steel(beam.concrete, beam.bars, tension_zone(at, face), at.depth)
        i = worst_of(fine / np.maximum(provided[face], 1e-6), tension)
        if i is not None and fine[i] > 0.0:
            found.append(make(f, f"minimum.cracks-{face}", place, i, fine[i], provided[face][i], "area", topic="minimum"))
    most = f.code.bending.maximum_steel(at.sections.strips.gross()[0])
    for index in range(len(beam.spans)):
        where = f.strength.valid & (at.span == index)
        for face in ("bottom", "top"):
            i = worst_of(provided[face] / most, where)
            if i is not None and provided[face][i] > 0.5 * most[i]:
                note = f"{face} face"
                found.append(make(f, "maximum.steel", f"{face}-{index + 1}", i, provided[face][i], most[i], "area", note=note))
    return found


def _near_bar_ends(f: Facts) -> Mask:
    """The concrete beyond the last bar end at a free tip is cover, not a section without steel."""
    low, high = f.beam.ends
    c = f.beam.cover.sides + 1.0
    return (f.at.x < low + c) | (f.at.x > high - c)


def _sides(f: Facts) -> list[tuple[str, Mask]]:
    """Half spans by the support they go to: B-left lies left of support B. A free half has its cantilever's support."""
    at, found = f.at, []
    for i, support in enumerate(f.beam.supports):
        for index, span in enumerate(f.beam.spans):
            if i not in (span.left, span.right):
                continue
            low, high = f.beam.clear(index)
            clear = (at.span == index) & (at.x >= low - 1e-6) & (at.x <= high + 1e-6)
            half = at.local <= 0.5 * span.length
            if span.left == i:
                found.append((f"{support.name}-right", clear & (half | (span.right is None))))
            if span.right == i:
                found.append((f"{support.name}-left", clear & (~half | (span.left is None))))
    return found


def _shear(f: Facts) -> list[Check]:
    s, found = f.strength, []
    raw = f.forces.design.shear if f.code.shear.crushes_at_face else s.shear_demand
    for place, where in _sides(f):
        close = _carried_straight(f, where)
        i = worst_of(s.shear_demand / np.maximum(s.shear.total, 1e-6), where & ~close)
        found += _near_support(f, place, where & close)
        j = worst_of(raw / np.maximum(s.shear.crushing, 1e-6), where)
        if i is None or j is None:
            continue
        note = ""
        if s.shear_demand[i] > s.shear.total[i]:
            asked = f.code.shear.stirrups_required(f.beam.concrete, f.beam.stirrups, s.web, s.shear_demand, s.shear.cot)[i]
            note = f"asks {amount(asked, 'steel per length')} of stirrups, has {amount(s.ties.asw_s[i], 'steel per length')}"
        found.append(make(f, "shear.stirrups", place, i, s.shear_demand[i], s.shear.total[i], "force", note=note, by=made_by(f, i, "")))
        note = "a wider or deeper section, or stronger concrete, is needed" if raw[j] > s.shear.crushing[j] else ""
        found.append(make(f, "shear.crushing", place, j, raw[j], s.shear.crushing[j], "force", note=note, by=made_by(f, j, "")))
    return found


def _carried_straight(f: Facts, where: Mask) -> Mask:
    """Stations between a support's face and forces near it where stirrups do by the clause for these, and not by the usual one."""
    s, found = f.strength, np.zeros(len(f.at), dtype=bool)
    for near, resistance in s.near:
        here = where & (f.at.span == near.span) & near.between(f.at.x)
        usual = float((s.shear_demand / np.maximum(s.shear.total, 1e-6))[here].max(initial=0.0))
        if usual > 1.0 and near.shear <= resistance:
            found |= here
    return found


def _near_support(f: Facts, place: str, where: Mask) -> list[Check]:
    """Every force that the stations `where` stand behind."""
    found: list[Check] = []
    for near, resistance in f.strength.near:
        here = where & (f.at.span == near.span) & near.between(f.at.x)
        if here.any():
            i = int(np.where(here, f.at.x if near.load > near.face else -f.at.x, -np.inf).argmax())
            note = f"the force {amount(near.a_v, 'length')} from the face counts in part"
            found.append(make(f, "shear.near-support", f"{place}-{len(found) + 1}", i, near.shear, resistance, "force", note=note))
    return found


def flange_checks(f: Facts) -> Judged:
    """Shear between web and flange: compressed by sagging (or hogging below), and in tension where bars lie beside the web."""
    found: Judged = []
    design = f.forces.design
    sagging, hogging = np.maximum(design.moment_max, 0.0), np.maximum(-design.moment_min, 0.0)
    for s, support in enumerate(f.beam.supports):  # what a simple end is given of hogging is no moment that grows along the span
        if design.end_hogging[s] > 0.0:
            hogging = np.where(np.abs(f.at.x - support.x) <= 0.5 * support.width + 1e-6, 0.0, hogging)
    for index, span in enumerate(f.beam.spans):
        flange = span.profile.flange
        if flange is None or span.reach is None:
            continue
        squeezed, pulled = (hogging, sagging) if flange.below else (sagging, hogging)
        found += _flange_shear(f, index, squeezed, False)
        found += _flange_shear(f, index, pulled, True)
    return found


def _flange_shear(f: Facts, index: int, moments: Array, pulled: bool) -> Judged:
    """From where no moment is half way to where it is greatest, on both sides of every peak of a span: 6.2.4(3)."""
    at, span = f.at, f.beam.spans[index]
    flange, rows = span.profile.flange, at.of(index)
    assert flange is not None
    assert span.reach is not None
    x, moment = at.local[rows], moments[rows]
    worst, governing, place_at, steepest = None, (0.0, 0.0, 0.0), 0, 0.0
    for peak, part in _from_peaks(moment):
        i = rows.start + peak
        share = _beside_web(f, i, flange.below) if pulled else max(span.reach[1]) / float(at.sections.flange_width[i])
        d = f.strength.d_bottom if pulled == flange.below else f.strength.d_top
        zero = x[part][moment[part] <= 1e3]
        outwards = part.start < peak
        start = float(zero[-1 if outwards else 0]) if len(zero) else float(x[part][0 if outwards else -1])
        half = 0.5 * (float(x[peak]) - start)
        if abs(half) < 1.0 or share <= 0.0:
            continue
        length = min([abs(half), *_between_loads(f.beam, index)])
        rise = float(np.max(np.abs(np.interp(x[part] + np.sign(half) * length, x, moment) - moment[part])))
        rise = max(rise, _largest_area(x[part], f.forces.design.shear[rows][part], moment[part] > 0.0, length))
        force = rise / (0.9 * float(d[i])) * share
        judged = f.code.shear.flange(f.beam.concrete, f.beam.stirrups, force, flange.thickness, length, pulled)
        if judged is not None and judged.stress > steepest:
            worst, governing, place_at, steepest = judged, (force, flange.thickness, length), i, judged.stress
    if worst is None:
        return []
    f.code.shear.flange(f.beam.concrete, f.beam.stirrups, *governing, pulled)  # the last one recorded is the one that governs
    place, kind = str(index + 1), "-tension" if pulled else ""
    note = "a thicker flange, or stronger concrete" if worst.stress > worst.limit else ""
    found: Judged = [make(f, f"flange.crushing{kind}", place, place_at, worst.stress, worst.limit, "stress", note=note)]
    if worst.steel and flange.cross_steel is None:
        clause = f.code.words.clauses.get(f"flange.steel{kind}", "")
        text = f"{amount(worst.steel, 'steel per length')} of bars across the web are required in the flange of span {place}"
        text += f" ({clause})" if clause else ""
        found.append(Message("warning", f"{text}: the slab must have them; give its 'cross_steel' to have them verified"))
    elif worst.steel:
        there = float(flange.cross_steel or 0.0)
        note = "more bars across the web in the slab" if there < worst.steel else ""
        found.append(make(f, f"flange.steel{kind}", place, place_at, worst.steel, there, "steel per length", note=note))
    return found


def _from_peaks(moment: Array) -> list[tuple[int, slice]]:
    """Stations from where no moment is to each peak, and on: of an arch one peak, of hogging one at each end."""
    if float(moment.max(initial=0.0)) <= 1e3:
        return []
    peak, last = int(moment.argmax()), len(moment) - 1
    found = [(peak, slice(0, peak + 1)), (peak, slice(peak, last + 1))]
    if moment[0] > 1e3 and peak != 0:
        found.append((0, slice(0, last + 1)))
    if moment[-1] > 1e3 and peak != last:
        found.append((last, slice(0, last + 1)))
    return [(k, p) for k, p in found if p.stop - p.start > 1]


def _beside_web(f: Facts, i: int, below: bool) -> float:
    """Of the tension force in a flange, the share of the bars that lie on one side of the web beside it."""
    p, at = f.placed, f.at
    here = (p.bottom == below) & (p.present[i] > 0.0)
    row = here & (p.layer == 1.0)
    if not row.any():
        return 0.0
    phi = float(p.diameter[row].max())
    gap = float(f.code.detailing.clear_spacing(phi, f.beam.concrete.aggregate))
    inside = most_in_row(float(at.width[i]), f.beam.cover.sides, p.tie, phi, gap)
    number = float((p.present[i, row] / (p.area[row] / np.array([p.bars[g].count for g in np.flatnonzero(row)]))).sum())
    out = max(number - inside, 0.0) / number
    profile = f.beam.spans[int(at.span[i])].profile.flange
    both = profile is not None and profile.left > 0.0 and profile.right > 0.0
    return float(out * p.present[i, row].sum() / p.present[i, here].sum()) * (0.5 if both else 1.0)


def _largest_area(x: Array, shear: Array, where: Mask, length: float) -> float:
    """The most that the moment of any one set of forces can rise over `length` of the sagging part: the envelope of shear there."""
    rise = np.concatenate([[0.0], np.cumsum(0.5 * (shear[1:] * where[1:] + shear[:-1] * where[:-1]) * np.diff(x))])
    return float((np.interp(x + length, x, rise) - rise).max())


def _between_loads(beam: Beam, index: int) -> list[float]:
    """Distances of forces that stand on a span."""
    places = sorted({p.start for a in beam.actions for p in a.loads if p.span == index and p.shape == "point"})
    return [b - a for a, b in itertools.pairwise(places) if b - a > 1.0]


def _torsion(f: Facts) -> list[Check]:
    """Closed stirrups, the section, side bars; bars of both faces are judged with bending."""
    found: list[Check] = []
    w, s, at = f.strength.twist, f.strength, f.at
    if w is None:
        return found
    # where torsion cracks the web its concrete carries no shear: stirrups have all of both (EN 1992-1-1, 6.3.2(5))
    asked = _for_shear(f)
    both = s.ties.legs * w.leg + np.where((w.leg > 0.0) | (s.shear_demand > s.shear.concrete), asked, 0.0)
    each = side_bar_area(w, f.placed.side_rows)
    for index in range(len(f.beam.spans)):
        low, high = f.beam.clear(index)
        where = (at.span == index) & (at.x >= low - 1e-6) & (at.x <= high + 1e-6) & (w.bars > 0.0)
        place = str(index + 1)
        i = worst_of(both / np.maximum(s.ties.asw_s, 1e-9), where)
        if i is None:
            continue
        note = "closer or thicker closed stirrups" if both[i] > s.ties.asw_s[i] else ""
        found.append(make(f, "torsion.stirrups", place, i, both[i], s.ties.asw_s[i], "steel per length", note=note))
        i = int(np.where(where, w.crushing, -1.0).argmax())
        note = "a wider section helps most" if w.crushing[i] > 1.0 else ""
        found.append(make(f, "torsion.crushing", place, i, w.crushing[i], 1.0, "number", note=note))
        i = int(np.where(where, s.ties.gap / w.spacing, -1.0).argmax())
        found.append(make(f, "torsion.spacing", place, i, s.ties.gap[i], w.spacing[i], "length"))
        thin = f.code.torsion.minimum_bar_diameter(s.ties.gap)
        i = worst_of(thin, where)
        if i is not None and thin[i] > 0.0:
            found.append(make(f, "torsion.bar-size", place, i, thin[i], _thinnest(f, i), "length"))
        i = int(np.where(where, w.side, -1.0).argmax())
        apart = w.side[i] / (f.placed.side_rows + 1.0)
        found.append(make(f, "torsion.side-spacing", place, i, apart, w.bar_spacing, "length",
                           note="side bars are needed" if apart > w.bar_spacing else ""))  # fmt: skip
        if f.placed.side_rows:
            there = side_bar_anchored(f.beam, f.code, at, f.layout.sides, f.placed.tie)
            asked_each = np.where(each > 0.0, there.whole if f.code.torsion.develops_bars else each, 0.0)
            i = worst_of(asked_each / np.maximum(there.anchored, 1e-9), where)
            assert i is not None
            note = "longer side bars, bent into the support, or thinner ones" if asked_each[i] > there.anchored[i] else ""
            found.append(make(f, "torsion.sides", place, i, asked_each[i], there.anchored[i], "area", note=note))
    return found


def _thinnest(f: Facts, i: int) -> float:
    """Diameter of the thinnest bar around the section at a station."""
    here = f.placed.diameter[f.placed.present[i] > 0.0].min(initial=np.inf)
    return float(min([here, *(f.code.sizes[b.size].diameter for b in f.layout.sides)]))


def _stirrups(f: Facts) -> list[Check]:
    found, at, beam, ties = [], f.at, f.beam, f.strength.ties
    least = f.code.shear.minimum_stirrups(beam.concrete, beam.stirrups, at.width)
    widest = f.code.shear.maximum_spacing(beam.concrete, f.strength.web, f.strength.shear_demand)
    across = (at.width - 2.0 * beam.cover.sides - f.placed.tie) / np.maximum(ties.legs - 1.0, 1.0)
    most = f.code.shear.maximum_leg_spacing(beam.concrete, f.strength.web, f.strength.shear_demand)
    thin = np.minimum(counted_bars(f, True), counted_bars(f, False))
    for index in range(len(beam.spans)):
        low, high = beam.clear(index)
        where = (at.span == index) & (at.x >= low - 1e-6) & (at.x <= high + 1e-6) & ~_near_bar_ends(f)
        place = str(index + 1)
        for name, asked, there, quantity in (
            ("minimum.stirrups", least, ties.asw_s, "steel per length"),
            ("spacing.stirrups", ties.gap, widest, "length"),
            ("spacing.legs", across, most, "length"),
        ):
            i = worst_of(asked / np.maximum(there, 1e-9), where)
            if i is not None:
                found.append(make(f, name, place, i, asked[i], there[i], quantity, topic="stirrups"))
        compressed = np.isfinite(thin)
        limit = f.code.detailing.compression_stirrup_spacing(np.where(compressed, thin, 1.0), f.placed.tie, np.minimum(at.width, at.depth))
        i = worst_of(ties.gap / limit, where & compressed)
        if i is not None:
            note = "stirrups hold the compression bars that the section counts on"
            found.append(make(f, "spacing.compressed", place, i, ties.gap[i], limit[i], "length", topic="stirrups", note=note))
            asked = f.code.detailing.compression_legs(_pressed_in_row(f))
            j = worst_of(asked / np.maximum(ties.legs, 1e-9), where & compressed)
            if j is not None and asked[j] > 0.0:
                note = "more legs, so that corner bars and every other bar between them are held" if asked[j] > ties.legs[j] else ""
                found.append(make(f, "spacing.compressed-legs", place, j, asked[j], ties.legs[j], "number", topic="stirrups", note=note))
    return found


def _for_shear(f: Facts) -> Array:
    """Stirrups for the whole shear, mm2/mm."""
    s = f.strength
    return np.asarray(f.code.shear.stirrups_required(f.beam.concrete, f.beam.stirrups, s.web, s.shear_demand, s.shear.cot))


def hung_checks(f: Facts) -> list[Check]:
    """Stirrups beside a force that hangs on the beam, less those that shear asks for there."""
    found: list[Check] = []
    place, area, _, _ = stirrup_positions(f.code, f.layout)
    s = f.strength
    asked = _for_shear(f)
    asked = np.where(s.shear_demand > s.shear.concrete, asked, 0.0)
    if s.twist is not None:  # torque has its part of every leg, and takes the concrete's of the shear
        asked = s.ties.legs * s.twist.leg + np.where(s.twist.leg > 0.0, np.maximum(asked, _for_shear(f)), asked)
    for number, hung in enumerate(hung_forces(f.beam, f.code, f.forces), start=1):
        low, high = hung.ends
        here = (f.at.span == hung.span) & (f.at.x >= low) & (f.at.x <= high)
        i = int(np.where(f.at.span == hung.span, np.abs(f.at.x - hung.x), np.inf).argmin())
        inside = (place >= low - 1e-6) & (place <= high + 1e-6)
        there = max(float(area[inside].sum()) - float(asked[here].max(initial=0.0)) * (high - low), 0.0)
        note = "more stirrups beside the force" if there < hung.steel else ""
        found.append(
            make(f, "hanging.stirrups", f"{hung.span + 1}-{number}", i, hung.steel, max(there, 0.0), "area", topic="stirrups", note=note)
        )
    return found


def counted_bars(f: Facts, sagging: bool) -> Array:
    """Diameter of the thinnest bars in compression at stations whose resistance to bending counts on them, (n,); endless elsewhere."""
    s, p = f.strength, f.placed
    demand, r, alone = (s.moment_max, s.positive, s.alone[0]) if sagging else (s.moment_min, s.negative, s.alone[1])
    depth = p.y if sagging else f.at.depth[:, None] - p.y
    pressed = (p.effective > 1.0) & (p.bottom != sagging) & (depth < r.x[:, None])
    counted = (demand > 1e3) & (demand > alone * (1.0 + 1e-6))
    asked = f.required["top_compression" if sagging else "bottom_compression"] > 0.0
    thin = np.where(pressed, p.diameter, np.inf).min(axis=1, initial=np.inf)
    return np.where(counted | asked, thin, np.inf)


def _pressed_in_row(f: Facts) -> Array:
    """Bars in the outermost row of the face that is compressed where its bars count, (n,); lapped ones once."""
    s, p = f.strength, f.placed
    counts = np.array([b.count for b in p.bars], dtype=float)
    share = np.where(p.area > 0.0, p.present / np.maximum(p.area, 1e-9), 0.0) * counts * (p.layer == 1.0)
    top, bottom = (share[:, p.bottom == side].sum(axis=1) for side in (False, True))
    sagging, hogging = s.moment_max > s.alone[0], s.moment_min > s.alone[1]
    return np.maximum(np.where(sagging, top, 0.0), np.where(hogging, bottom, 0.0))


def required_areas(beam: Beam, code: DesignCode, forces: Forces, strength: Strength) -> dict[str, Array]:
    """Tension steel at both faces for the shifted moments, and compression steel asked of the other face, mm2."""
    at = forces.stations
    concrete, steel = code.materials.concrete_law(beam.concrete), code.materials.steel_law(beam.bars)
    found: dict[str, Array] = {}
    for face, other, moment, d, d_other, delta in (
        ("bottom", "top", strength.moment_max, strength.d_bottom, at.depth - strength.d_top, np.ones(len(at))),
        ("top", "bottom", strength.moment_min, strength.d_top, at.depth - strength.d_bottom, forces.design.delta),
    ):
        limit = code.bending.neutral_axis_limit(beam.concrete, beam.bars, delta)
        tension, compression, _ = required_steel(
            moment / code.bending.usual_factor, compressed(at, face), d, d_other, concrete, steel, limit
        )
        raw = forces.design.moment_max if face == "bottom" else -forces.design.moment_min
        wide = minimum_width(beam, code, at, face)
        least = code.bending.minimum_steel(beam.concrete, beam.bars, wide, tension_width(at, face), d, tension)
        found[f"{face}_tension"] = tension
        found[face] = np.where(raw > 0.01 * max(float(raw.max()), 1.0), np.maximum(tension, least), tension)
        found[f"{other}_compression"] = compression
    return found


def support_checks(f: Facts) -> list[Check]:
    """Bottom bars into supports: a share of the span's steel, and the force at simple ends."""
    found: list[Check] = []
    beam, at, placed = f.beam, f.at, f.placed
    bottom = f.placed.face_area(True, anchored=True)  # lapped pieces count once
    counts = np.flatnonzero(placed.bottom).tolist()
    for index, span in enumerate(beam.spans):
        low, high = beam.clear(index)
        here = at.span == index
        if span.cantilever or f.forces.design.moment_max[here].max() <= 1e3:
            continue
        most = bottom[here].max()
        for s, face, sign, side in ((span.left, low, -1.0, "right"), (span.right, high, 1.0, "left")):
            assert s is not None
            i = int(np.flatnonzero(here)[np.abs(at.x[here] - face).argmin()])
            inner = 0 < s < len(beam.supports) - 1 or _cantilever_beyond(beam, s)
            past = f.code.curtailment.into_support(placed.diameter, not inner)
            going = [g for g in counts if _goes_past(placed.bars[g].start, placed.bars[g].end, face, sign, float(past[g]))]
            if not inner:  # only bars with the least anchorage beyond the face count as carried in
                enough = f.code.bond.minimum_anchorage(placed.anchorage, placed.diameter)
                going = [g for g in going if placed.reach[i, g] >= enough[g] - 1e-6]
            area = _once(f, going)
            place = f"{beam.supports[s].name}-{side}"
            # a support that the beam is built with is no simple one (ACI 318, 9.7.3.8.2)
            asked = f.code.curtailment.bottom_share(not inner and not beam.supports[s].restrains_rotation) * most
            found.append(make(f, "support-share.bottom", place, i, asked, area, "area", topic="anchorage"))
            if not inner and not beam.supports[s].fixed:
                demand, there, quantity = f.code.curtailment.end_anchorage(_end_facts(f, going, i, beam.supports[s].x, -sign))
                found.append(make(f, "anchorage.end", beam.supports[s].name, i, demand, there, quantity))
    return [*found, *_past_inflection(f), *inflection_checks(f)]


def _once(f: Facts, groups: list[int]) -> float:
    """Area of groups of bars; of two that are lapped with each other one."""
    doubles = {lap.second for lap in f.placed.laps if lap.first != lap.second and lap.first in groups}
    return float(f.placed.area[[g for g in groups if g not in doubles]].sum())


def _end_facts(f: Facts, going: list[int], i: int, centre: float, inwards: float) -> EndFacts:
    """At the simple end near station `i`; `going` bars are carried into it."""
    p, s = f.placed, f.strength
    area = float(p.area[going].sum())
    pull = area * f.code.materials.steel_law(f.beam.bars).yield_stress
    block = pull / max(f.code.materials.concrete_law(f.beam.concrete).stress * float(f.at.sections.flange_width[i]), 1e-9)
    side = 0 if inwards > 0.0 else 1
    ends = [(p.bars[g].start if side == 0 else p.bars[g].end) for g in going]
    straight = [g for g in going if p.bars[g].ends[side] not in ("bend", "hook")]
    return EndFacts(
        shear=float(f.forces.design.shear[i]),
        d=float(s.d_bottom[i]),
        cot=float(s.shear.cot[i]),
        axial_tension=max(-float(f.forces.design.axial_min[i]), 0.0),
        torsion=_pulled_by_torsion(f, i),
        force=float(p.face_area(True, anchored=True)[i]) * f.code.materials.steel_law(f.beam.bars).yield_stress,
        development=float(p.anchorage[straight].max(initial=0.0)),
        nominal_moment=pull * max(float(s.d_bottom[i]) - 0.5 * block, 0.0),
        beyond_centre=max(min((inwards * (centre - e) for e in ends), default=0.0), 0.0),
        hooked=not straight,
        direct=f.beam.supports[_support_near(f.beam, centre)].direct,
    )


def _support_near(beam: Beam, x: float) -> int:
    return min(range(len(beam.supports)), key=lambda s: abs(beam.supports[s].x - x))


def _pulled_by_torsion(f: Facts, i: int) -> float:
    """Force of the bottom bars for torsion at a station, N: those of their face, and of the sides up to half way to the next bars."""
    w = f.strength.twist
    if w is None or w.bars[i] <= 0.0:
        return 0.0
    width = 0.5 * float(w.around[i]) - float(w.side[i])
    area = float(w.bars[i] / w.around[i]) * (width + float(w.side[i]) / (f.placed.side_rows + 1.0))
    return area * f.code.materials.steel_law(f.beam.bars).yield_stress


def _past_inflection(f: Facts) -> list[Check]:
    """Top bars that go on past where hogging ends, by support and side."""
    found: list[Check] = []
    share, p, at = f.code.curtailment.top_share, f.placed, f.at
    if not share:
        return found
    hogging = f.forces.design.moment_min < -1e3
    for index, span in enumerate(f.beam.spans):
        rows = at.of(index)
        low, high = f.beam.clear(index)
        for s, face, sign, side in ((span.left, low, 1.0, "right"), (span.right, high, -1.0, "left")):
            if s is None or span.cantilever or hogging[rows].all():
                continue
            i = int(np.flatnonzero(at.span == index)[np.abs(at.x[rows] - face).argmin()])
            if not hogging[i]:
                continue
            run = np.flatnonzero(~hogging[rows])
            inflection = float(at.x[rows][run[0] if sign > 0.0 else run[-1]])
            here = [g for g in range(len(p.bars)) if not p.bottom[g] and p.bars[g].start <= face <= p.bars[g].end]
            going = []
            for g in here:
                end = p.bars[g].end if sign > 0.0 else p.bars[g].start
                past = f.code.curtailment.beyond_inflection(float(p.diameter[g]), float(f.strength.d_top[i]), high - low)
                carried = p.bars[g].ends[1 if sign > 0.0 else 0] == "lap"
                if sign * (end - inflection) >= past - 1.0 or not low < end < high or carried:
                    going.append(g)
            asked = share * float(p.area[here].sum())
            place = f"{f.beam.supports[s].name}-{side}"
            found.append(make(f, "support-share.top", place, i, asked, float(p.area[going].sum()), "area", topic="anchorage"))
    return found


def _curtailed(f: Facts) -> list[Check]:
    """Every end of a bar inside a span: the shifted demand against the resistance that ramps up over the bar's anchorage there."""
    found: list[Check] = []
    p, at, s = f.placed, f.at, f.strength
    for g, bar in enumerate(p.bars):
        bottom = bool(p.bottom[g])
        demand, resistance = (s.moment_max, s.positive.moment) if bottom else (s.moment_min, s.negative.moment)
        for side, x in ((0, bar.start), (1, bar.end)):
            inside = any(low < x < high for low, high in (f.beam.clear(i) for i in range(len(f.beam.spans))))
            if not inside or bar.ends[side] == "lap":
                continue
            low, high = (x, x + p.anchorage[g]) if side == 0 else (x - p.anchorage[g], x)
            i = worst_of(ratio_of(demand, resistance), s.valid & (at.x >= low - 1e-6) & (at.x <= high + 1e-6))
            if i is not None and demand[i] > 1e3:
                kind, place = f"curtailment.{bar.face}", f"{bar.mark}-{'left' if side == 0 else 'right'}"
                note = "a longer bar, or more steel that goes on" if demand[i] > resistance[i] * (1.0 + 1e-9) else ""
                by = made_by(f, i, bar.face)
                found.append(make(f, kind, place, i, demand[i], resistance[i], "moment", topic="cut-off", note=note, by=by))
    return found


def _bracing(f: Facts) -> list[Check]:
    """Distance of lateral supports: as given, or the span where it is short enough anyway."""
    found: list[Check] = []
    for index in range(len(f.beam.spans)):
        limit = bracing_limit(f, index)
        if limit is None:
            continue
        free = unbraced(f.beam, index)
        if free <= limit + 1e-6 or (f.beam.bracing is not None and limit > 0.0):
            note = "closer lateral supports, or a wider beam" if free > limit else ""
            found.append(make(f, "bracing.span", str(index + 1), f.at.of(index).start, free, limit, "length", note=note))
    return found


def _cut_offs(f: Facts) -> list[Check]:
    """Bars that stop where their face is in tension, where the code requires shear to spare: at the cut itself, on both sides of a
    force."""
    found: list[Check] = []
    share, p = f.code.curtailment.cut_off_share, f.placed
    if not share:
        return found
    for g, bar in enumerate(p.bars):
        for x, kind in ((bar.start, bar.ends[0]), (bar.end, bar.ends[1])):
            index = next((i for i in range(len(f.beam.spans)) if f.beam.clear(i)[0] < x < f.beam.clear(i)[1]), None)
            if index is None or kind == "lap" or not beam_sound(f.beam, x):
                continue
            face = "bottom" if bar.face == "bottom" else "top"
            worst: Check | None = None
            for demand, most, i, around in _at_cut(f, index, x):
                design = f.forces.design
                tension = design.moment_max[around] if face == "bottom" else -design.moment_min[around]
                if not (tension > 1e3).any():
                    continue
                staying = p.face_area(face == "bottom", anchored=False)[around] - p.present[around, g]
                twice = bool((staying >= 2.0 * f.required[f"{face}_tension"][around]).all()) and p.diameter[g] <= 36.0
                allowed = (0.75 if twice else share) * most
                note = "closer stirrups, or a longer bar" if demand > allowed else ""
                place = f"{bar.mark}-{'left' if x == bar.start else 'right'}"
                check = make(f, f"cut-off.{face}", place, i, demand, allowed, "force", topic="cut-off", note=note)
                worst = check if worst is None or check.ratio > worst.ratio else worst
            found += [worst] if worst is not None else []
    return found


def beam_sound(beam: Beam, x: float) -> bool:
    """Whether sections are verified at x."""
    low, high = beam.sound
    return low - 1e-6 <= x <= high + 1e-6


def _at_cut(f: Facts, index: int, x: float) -> list[tuple[float, float, int, list[int]]]:
    """Shear, resistance to it, the nearest station and those to both sides, at a place of a span; of a place with a force on it, on both
    of its sides."""
    rows, s = f.at.of(index), f.strength
    places = f.at.x[rows]
    k = int(np.clip(np.searchsorted(places, x), 1, len(places) - 1))
    pairs = [(k - 1, k)]
    if abs(places[k] - x) < 1e-6 and k + 1 < len(places) and places[k + 1] - places[k] < 1e-6:
        pairs.append((k + 1, k + 1))
    found = []
    for a, b in pairs:
        width = places[b] - places[a]
        t = float(np.clip((x - places[a]) / width, 0.0, 1.0)) if width > 1e-6 else 0.0
        demand, most = (float((1.0 - t) * v[rows][a] + t * v[rows][b]) for v in (s.shear_demand, s.shear.total))
        found.append((demand, most, rows.start + (a if t < 0.5 else b), [rows.start + a, rows.start + b]))
    return found


def _cantilever_beyond(beam: Beam, support: int) -> bool:
    first, last = beam.spans[0], beam.spans[-1]
    return (support == 0 and first.left is None) or (support == len(beam.supports) - 1 and last.right is None)


def _goes_past(start: float, end: float, face: float, sign: float, past: float) -> bool:
    if sign < 0.0:
        return start <= face - past + 1e-6 and end > face
    return end >= face + past - 1e-6 and start < face


def _fit(f: Facts) -> list[Check]:
    """Bars of a row side by side inside the stirrup; lapped pieces touch. Past a step of the soffit bars lie at their own level."""
    found, at, placed, beam = [], f.at, f.placed, f.beam
    for face in ("bottom", "top"):
        for layer in (1, 2, 3):
            mine = np.flatnonzero((placed.bottom == (face == "bottom")) & (placed.layer == layer))
            if not len(mine):
                continue
            taken, several = _row_taken(f, mine)
            room = (bar_width(at, face) if layer == 1 else at.width) - 2.0 * (beam.cover.sides + placed.tie)
            for index in range(len(beam.spans)):
                i = worst_of(taken / room, (at.span == index) & (taken > 0.0))
                if i is not None and several[i]:
                    place = f"{index + 1}-row-{layer}"
                    note = "the bars of this row do not fit inside the stirrup" if taken[i] > room[i] else ""
                    found.append(make(f, f"fit.{face}", place, i, taken[i], room[i], "length", note=note))
    return found


def _row_taken(f: Facts, mine: Index) -> tuple[Array, Mask]:
    """Width that the fullest row of groups `mine` takes at each station, and whether it has more than one bar beside another."""
    at, placed = f.at, f.placed
    number = np.array([b.count for b in placed.bars], dtype=float)[mine]
    # bars may meet between stations: where each begins and ends is looked at too
    ends = np.array([x for g in mine.tolist() for x in (placed.bars[g].start, placed.bars[g].end)])
    ends = ends[(ends > at.x[0]) & (ends < at.x[-1])]
    x, station = np.concatenate([at.x, ends]), np.concatenate([np.arange(len(at)), nearest(at.x, ends)])
    phi, y = placed.diameter[mine], placed.y[:, mine][station]
    here = np.stack([(x >= placed.bars[g].start) & (x <= placed.bars[g].end) for g in mine.tolist()], axis=1)
    doubled = np.zeros((len(x), len(mine)))
    column = {g: k for k, g in enumerate(mine.tolist())}
    for lap in placed.laps:
        if (k := column.get(lap.first)) is not None:
            doubled[(x >= lap.start) & (x <= lap.end), k] = number[k]
    most, several = np.zeros(len(x)), np.zeros(len(x), dtype=bool)
    first, last = (np.array([getattr(placed.bars[g], end) for g in mine.tolist()]) for end in ("start", "end"))
    for k in range(len(mine)):  # groups that meet this one, where it is
        part, others = np.flatnonzero(here[:, k]), np.flatnonzero((first <= last[k]) & (last >= first[k]))
        block = np.ix_(part, others)
        apart = np.abs(y[block] - y[part, k][:, None])
        taken, gaps = _side_by_side(f, here[block], apart, doubled[block], phi[others], number[others], float(phi[k]))
        several[part] = np.where(taken > most[part], gaps >= 1.0, several[part])
        most[part] = np.maximum(most[part], taken)
    fullest = most[: len(at)].copy()
    np.maximum.at(fullest, station, most)
    beside = np.zeros(len(at), dtype=bool)
    np.logical_or.at(beside, station[several & (most >= fullest[station] - 1e-6)], True)
    return fullest, beside


def _side_by_side(f: Facts, here: Mask, apart: Array, doubled: Array, phi: Array, number: Array, own: float) -> tuple[Array, Array]:
    """Width that the groups take which lie so near in height to one of diameter `own` that they take room beside it, and the number of
    gaps between their bars. `here`, `apart` in height, `doubled` by laps: (n, g)."""
    aggregate = f.beam.concrete.aggregate
    near = 0.5 * (phi + own) + f.code.detailing.clear_spacing(np.maximum(phi, own), aggregate)
    row = here & (apart < near - 1e-6)
    largest = np.where(row, phi, 0.0).max(axis=1)
    lapped = (row * doubled).sum(axis=1)
    gaps = np.maximum((row * number).sum(axis=1) - 1.0 - lapped, 0.0)
    clear = f.code.detailing.clear_spacing(largest, aggregate)
    # bars without a lap stand between laps, which are adjacent only where these are too few
    wide = np.maximum(lapped - 1.0 - (gaps + 1.0 - lapped), 0.0)
    between = f.code.bond.lap_clear_distance(np.where(row & (doubled > 0.0), phi, 0.0).max(axis=1), aggregate)
    taken = (row * number * phi).sum(axis=1) + (gaps - wide) * clear + wide * np.maximum(between, clear)
    return taken, gaps


def _rows(f: Facts) -> list[Check]:
    """Rows of the two faces stay clear of each other."""
    found, p = [], f.placed
    for index in range(len(f.beam.spans)):
        rows = f.at.of(index)
        here = p.present[rows] > 0.0
        low = np.where(here & ~p.bottom, p.y[rows] + 0.5 * p.diameter, -np.inf).max(axis=1)
        high = np.where(here & p.bottom, p.y[rows] - 0.5 * p.diameter, np.inf).min(axis=1)
        clear = high - low
        i = int(clear.argmin())
        if np.isfinite(clear[i]):
            asked = float(f.code.detailing.clear_spacing(float(p.diameter.max()), f.beam.concrete.aggregate))
            found.append(make(f, "fit.rows", str(index + 1), rows.start + i, asked, float(clear[i]), "length"))
    return found


def _laps(f: Facts) -> list[Check]:
    found = []
    for lap in f.placed.laps:
        a, b = f.placed.bars[lap.first], f.placed.bars[lap.second]
        i = int(np.abs(f.at.x - 0.5 * (lap.start + lap.end)).argmin())
        place = f"{a.mark}-{b.mark}" if lap.first != lap.second else a.mark
        note = "" if lap.first != lap.second else "no like bar with an end marked 'lap' goes on beside it"
        found.append(make(f, f"lap.{a.face}", place, i, lap.required, lap.end - lap.start, "length", note=note))
        if lap.first != lap.second and not f.code.bond.lap_permitted(float(f.placed.diameter[lap.first])):
            note = "bars this thick are not lapped: mechanical splices, or thinner bars"
            found.append(make(f, f"lap-size.{a.face}", place, i, 1.0, 0.0, "number", topic="lap", note=note))
        asked = float(f.code.bond.lap_stirrups(f.placed.diameter[lap.first], lap.share)) if lap.first != lap.second else 0.0
        if asked > 0.0:
            there = _across(f, lap.start, lap.end)
            note = "closer stirrups at both ends of the lap, thinner bars, or staggered laps" if there < asked else ""
            found.append(make(f, f"lap-stirrups.{a.face}", place, i, asked, there, "area", topic="lap", note=note))
            widest = float(f.code.bond.lap_stirrup_spacing(f.placed.diameter[lap.first], lap.share))
            gap = _gap_over_thirds(f, lap.start, lap.end)
            if np.isfinite(widest):
                note = "closer stirrups over the outer thirds of the lap" if gap > widest else ""
                found.append(make(f, f"lap-spacing.{a.face}", place, i, gap, widest, "length", topic="lap", note=note))
        limit = f.code.bond.maximum_lap_share(_rows_at(f, lap, i), _pulled_at(f, a.face, i)) if lap.first != lap.second else 1.0
        if limit < 1.0:
            note = "staggered laps, or one row of bars there" if lap.share > limit + 1e-9 else ""
            found.append(make(f, f"lap-share.{a.face}", place, i, lap.share, limit, "number", topic="lap", note=note))
    return found


def _confined(f: Facts) -> list[Check]:
    """Stirrups across bars where these develop or are lapped, where the code requires them to confine the bars."""
    found: list[Check] = []
    p, beam = f.placed, f.beam
    place, area, _, _ = stirrup_positions(f.code, f.layout)
    if f.code.bond.confining_spacing(beam.bars, 10.0, 1.0, 1.0) == np.inf or not len(place):
        return found
    for g, bar in enumerate(p.bars):
        phi, worst = float(p.diameter[g]), None
        for x, sign in ((bar.start, 1.0), (bar.end, -1.0)):
            low, high = sorted((x, x + sign * min(float(p.anchorage[g]), bar.end - bar.start)))
            inside = [
                (max(low, a), min(high, b)) for a, b in (beam.clear(k) for k in range(len(beam.spans))) if min(high, b) - max(low, a) > 1.0
            ]
            if not inside:
                continue
            i = int(np.abs(f.at.x - 0.5 * (low + high)).argmin())
            number = row_count(p, i, g)
            apart = (float(f.at.width[i]) - 2.0 * (beam.cover.sides + p.tie) - phi) / max(number - 1.0, 1.0)
            gap = max(_widest_gap(f, place, a, b) for a, b in inside)
            asked, there = f.code.bond.confinement(beam.bars, phi, apart, float(area.min()), gap, number)
            if asked > 0.0:
                note = "closer stirrups along the development of the bar" if there < asked else ""
                side = "left" if sign > 0.0 else "right"
                check = make(f, "confinement.bars", f"{bar.mark}-{side}", i, asked, there, "length", topic="anchorage", note=note)
                worst = check if worst is None or check.ratio > worst.ratio else worst
        found += [worst] if worst is not None else []
    return found


def _widest_gap(f: Facts, place: Array, low: float, high: float) -> float:
    """Between stirrups from x `low` to `high` of a clear span, mm."""
    index = next(k for k in range(len(f.beam.spans)) if f.beam.clear(k)[0] - 1.0 <= low and high <= f.beam.clear(k)[1] + 1.0)
    left, right = f.beam.clear(index)
    edges = np.concatenate([[left], place[(place >= left) & (place <= right)], [right]])
    over = (edges[1:] > low + 1.0) & (edges[:-1] < high - 1.0)
    return float(np.diff(edges)[over].max(initial=0.0))


def inflection_checks(f: Facts) -> list[Check]:
    """Bottom bars developed within what the shear lets their tension grow over, from each point of inflection of a span."""
    found: list[Check] = []
    if not f.code.curtailment.checks_inflection:
        return found
    p, at, design = f.placed, f.at, f.forces.design
    for index, span in enumerate(f.beam.spans):
        rows = at.of(index)
        sagging = np.flatnonzero(design.moment_max[rows] > 1e3)
        if span.cantilever or not len(sagging):
            continue
        low, high = f.beam.clear(index)
        for k, inwards, side in ((sagging[0], 1.0, "left"), (sagging[-1], -1.0, "right")):
            i = rows.start + int(k)
            x = float(at.x[i])
            if not low + 1.0 < x < high - 1.0 or at.local[i] < 1.0 or at.local[i] > span.length - 1.0:
                continue  # a simple end, which has a check of its own
            going = [g for g in np.flatnonzero(p.bottom).tolist() if p.bars[g].start <= x <= p.bars[g].end and p.present[i, g] > 0.0]
            far = [(x - p.bars[g].start if inwards > 0.0 else p.bars[g].end - x) for g in going]
            pull = _once(f, going) * f.code.materials.steel_law(f.beam.bars).yield_stress
            block = pull / max(f.code.materials.concrete_law(f.beam.concrete).stress * float(at.sections.flange_width[i]), 1e-9)
            d, phi = float(f.strength.d_bottom[i]), float(max((p.diameter[g] for g in going), default=0.0))
            end = EndFacts(
                float(design.shear[i]), d, 1.0, 0.0, 0.0, 0.0, float(max((p.anchorage[g] for g in going), default=0.0)),
                pull * max(d - 0.5 * block, 0.0), min(max(d, 12.0 * phi), max(min(far, default=0.0), 0.0)), False, False,
            )  # fmt: skip
            demand, limit, quantity = f.code.curtailment.end_anchorage(end)
            note = "thinner bars" if demand > limit else ""
            found.append(make(f, "anchorage.inflection", f"{index + 1}-{side}", i, demand, limit, quantity, note=note))
    return found


def _rows_at(f: Facts, lap: Lap, i: int) -> int:
    """Rows of bars of a lap's face at a station."""
    p = f.placed
    here = (p.present[i] > 0.0) & (p.bottom == p.bottom[lap.first])
    return len(set(p.layer[here].tolist()))


def _pulled_at(f: Facts, face: str, i: int) -> bool:
    """Whether the strength envelope puts a face in tension at a station."""
    design = f.forces.design
    raw = design.moment_max if face == "bottom" else -design.moment_min
    return bool(raw[i] > 0.01 * max(float(raw.max()), 1.0))


def _gap_over_thirds(f: Facts, start: float, end: float) -> float:
    """Widest gap between stirrups over the outer thirds of a lap, mm; over the width of a support there need be none."""
    third = (end - start) / 3.0
    place, _, _, _ = stirrup_positions(f.code, f.layout)
    worst = 0.0
    for low, high in ((start, start + third), (end - third, end)):
        for index in range(len(f.beam.spans)):
            left, right = f.beam.clear(index)
            a, b = max(low, left), min(high, right)
            if b - a < 1.0:
                continue
            mine = place[(place >= left - 1e-6) & (place <= right + 1e-6)]
            edges = np.concatenate([[left], mine, [right]])
            over = (edges[1:] > a + 1.0) & (edges[:-1] < b - 1.0)
            worst = max(worst, float(np.diff(edges)[over].max(initial=0.0)))
    return worst


def _across(f: Facts, start: float, end: float) -> float:
    """Area of the stirrup legs across the bars in the outer thirds of a lap, twice that of the third with less."""
    third = (end - start) / 3.0
    place, _, _, _ = stirrup_positions(f.code, f.layout)
    leg = min(f.code.sizes[z.size].area for z in f.layout.stirrups) if f.layout.stirrups else 0.0
    counts = [int(((place >= a - 1e-6) & (place <= a + third + 1e-6)).sum()) for a in (start, end - third)]
    return 2.0 * min(counts) * leg


def _inside(f: Facts) -> list[Check]:
    found = []
    for g, bar in enumerate(f.placed.bars):
        # legs stand in the depth at their end of the bar, inside both covers
        for side, x in enumerate((bar.start, bar.end)):
            i = int(np.abs(f.at.x - x).argmin())
            room = float(f.at.depth[i]) - f.beam.cover.top - f.beam.cover.bottom
            phi = float(f.placed.diameter[g])
            taken = bar.legs[side] if bar.ends[side] == "bend" else 2.0 * (f.code.detailing.bend_radius(phi) + phi)
            if bar.ends[side] in ("bend", "hook") and taken > room:
                note = f"the leg of bar {bar.mark} is longer than the beam is deep"
                place = f"{bar.mark}-leg"
                found.append(make(f, "inside.bars", place, i, taken, room, "length", note=note, topic="fit"))
        if not f.placed.inside[g]:
            i = int(np.abs(f.at.x - 0.5 * (bar.start + bar.end)).argmin())
            note = f"bar {bar.mark} leaves the concrete or its cover"
            found.append(make(f, "inside.bars", bar.mark, i, 1.0, 0.0, "number", note=note, topic="fit"))
    return found


def _legs(f: Facts) -> list[Check]:
    """Legs long enough for the bend and the straight piece that the standard requires beyond it."""
    found: list[Check] = []
    entries = [
        (b.mark, float(phi), b.ends, b.legs, 0.5 * (b.start + b.end)) for b, phi in zip(f.placed.bars, f.placed.diameter, strict=True)
    ]
    entries += [(b.mark, f.code.sizes[b.size].diameter, b.ends, b.legs, 0.5 * (b.start + b.end)) for b in f.layout.sides]
    for mark, phi, ends, legs, x in entries:
        for side, kind in enumerate(ends):
            if kind not in ("bend", "hook") or legs[side] == 0.0:
                continue
            asked = f.code.detailing.minimum_leg(phi, kind)
            i = int(np.abs(f.at.x - x).argmin())
            note = "a longer leg, or 0 for the shortest that is permitted" if legs[side] < asked - 0.5 else ""
            place = f"{mark}-{'left' if side == 0 else 'right'}"
            found.append(
                make(f, "bend.leg", place, i, min(asked, legs[side]) if not note else asked, legs[side], "length", topic="fit", note=note)
            )
    return found


def bend_checks(f: Facts) -> list[Check]:
    """Bends at the ends of the beam stand within the width of their supports."""
    found: list[Check] = []
    low, high = f.beam.ends
    for g, bar in enumerate(f.placed.bars):
        phi = float(f.placed.diameter[g])
        for side, (x, end, span, support) in enumerate((
            (bar.start, low, f.beam.spans[0].left, f.beam.supports[0]), (bar.end, high, f.beam.spans[-1].right, f.beam.supports[-1]),
        )):  # fmt: skip
            if bar.ends[side] not in ("bend", "hook") or span is None or abs(x - end) > support.width or support.fixed:
                continue
            i = int(np.abs(f.at.x - x).argmin())
            room = support.width - abs(x - end)
            asked = f.code.detailing.bend_radius(phi) + phi
            note = "the support is too narrow for the bend: thinner bars, or a wider support" if asked > room else ""
            place = f"{bar.mark}-{'left' if side == 0 else 'right'}"
            found.append(make(f, "bend.support", place, i, asked, room, "length", topic="fit", note=note))
    return found


def _stock(f: Facts) -> list[Check]:
    """Bars longer than stock are told: they have to be ordered, or lapped."""
    found, stock = [], f.beam.detailing.stock_length
    for g, bar in enumerate(f.placed.bars):
        length = bar_item(f.code, bar, float(f.placed.diameter[g]), cut_step(f.beam)).cut_length
        if length > stock + 1e-6:
            i = int(np.abs(f.at.x - 0.5 * (bar.start + bar.end)).argmin())
            note = f"bar {bar.mark} is longer than stock: lap it, or give a longer stock_length"
            found.append(make(f, "stock.bars", bar.mark, i, length, stock, "length", severity="advice", note=note, topic="fit"))
    return found


def cover_checks(f: Facts) -> list[Check]:
    """Cover was chosen before the bars were known: it is looked at again for the thickest of each face."""
    found = []
    for face, cover in (("bottom", f.beam.cover.bottom), ("top", f.beam.cover.top)):
        mine = np.flatnonzero((f.placed.bottom == (face == "bottom")) & (f.placed.layer == 1.0))
        if not len(mine):
            continue
        g = int(mine[f.placed.diameter[mine].argmax()])
        bar = f.placed.bars[g]
        i = int(np.abs(f.at.x - 0.5 * (bar.start + bar.end)).argmin())
        there = min(cover, f.beam.cover.sides) + f.placed.tie
        found.append(
            make(
                f,
                "cover.bars",
                face,
                i,
                float(f.code.cover.minimum_for_bar(f.placed.diameter[g], f.beam.concrete.aggregate)),
                there,
                "length",
            )
        )
    exposure = f.beam.service.exposure
    least = f.code.cover.minimum_strength(exposure) if exposure else 0.0
    if least > 0.0:
        strength = f.beam.concrete.strength
        note = f"stronger concrete is usual in {exposure}" if strength < least else ""
        found.append(make(f, "cover.concrete", "beam", 0, least, strength, "stress", severity="advice", note=note))
    return found
