"""What keeps a beam up should a support be lost, and what resists sideways loads: bars that run through, and that end developed."""

from __future__ import annotations

import numpy as np

from upright_bramble.verify.facts import Facts, make
from upright_bramble.verify.placement import developed
from upright_bramble.verify.result import Check


def integrity_checks(f: Facts) -> list[Check]:
    """Bottom bars that run through, or are lapped, from end to end; those of perimeter beams and of the lateral system developed
    at ends."""
    if not f.code.curtailment.integrity[0]:
        return []
    return [*_within_spans(f), *_over_supports(f), *_ends(f)]


def _within_spans(f: Facts) -> list[Check]:
    share, least = f.code.curtailment.integrity
    found: list[Check] = []
    p, at = f.placed, f.at
    counts = np.array([b.count for b in p.bars], dtype=float)
    for index, span in enumerate(f.beam.spans):
        if span.cantilever:
            continue
        rows = at.of(index)
        inside = np.flatnonzero(f.strength.valid[rows]) + rows.start
        area = p.face_area(True, anchored=False)
        i = int(inside[area[inside].argmin()])
        number = (counts * ((p.present[inside] > 0.0) & p.bottom)).sum(axis=1)
        asked = share * float(area[inside].max())
        found.append(make(f, "integrity.bottom", str(index + 1), i, asked, float(area[i]), "area", topic="anchorage"))
        if number.min() < least:
            note = f"{least} bars at least go through"
            j = int(inside[number.argmin()])
            place = str(index + 1)
            found.append(make(f, "integrity.number", place, j, float(least), float(number.min()), "number", topic="anchorage", note=note))
    return found


def _over_supports(f: Facts) -> list[Check]:
    """Over inner supports bars that only butt do not run through: what is anchored in full on both sides counts. Where the soffit steps
    bars cannot go on, and the closed stirrups of both spans hold them (9.7.7.2(b))."""
    found: list[Check] = []
    share, _ = f.code.curtailment.integrity
    p, at = f.placed, f.at
    area = p.face_area(True, anchored=False)
    carried = p.face_area(True, anchored=True)
    for s, support in enumerate(f.beam.supports):
        beside = [k for k, span in enumerate(f.beam.spans) if s in (span.left, span.right) and not span.cantilever]
        if len(beside) != 2:
            continue
        a, b = (f.beam.spans[k] for k in beside)
        if abs(float(a.depths(a.length)) - float(b.depths(0.0))) > 1.0 or abs(float(a.widths(a.length)) - float(b.widths(0.0))) > 1.0:
            continue
        most = min(float(area[at.of(k)][f.strength.valid[at.of(k)]].max(initial=0.0)) for k in beside)
        over = np.flatnonzero(np.abs(at.x - support.x) <= 0.5 * support.width + 1e-6)
        i = int(over[carried[over].argmin()])
        note = "bars that only butt, or stop beside each other, do not run through: lap them" if carried[i] < share * most else ""
        found.append(make(f, "integrity.through", support.name, i, share * most, float(carried[i]), "area", topic="anchorage", note=note))
    return found


def _ends(f: Facts) -> list[Check]:
    """At the ends of a perimeter beam, and at those of a beam of the lateral system, bars develop their yield at the support's face."""
    found: list[Check] = []
    share, least = f.code.curtailment.integrity
    p, beam, at = f.placed, f.beam, f.at
    edge = f.beam.on_perimeter
    for index, span in enumerate(beam.spans):
        if span.cantilever:
            continue
        low, high = beam.clear(index)
        rows = at.of(index)
        bottom = float(p.face_area(True, anchored=False)[rows][f.strength.valid[rows]].max(initial=0.0))
        for s, face, sign, side in ((span.left, low, -1.0, "right"), (span.right, high, 1.0, "left")):
            assert s is not None
            support = beam.supports[s]
            end = s in (0, len(beam.supports) - 1) and sum(s in (v.left, v.right) for v in beam.spans) == 1
            i = rows.start + int(np.abs(at.x[rows] - face).argmin())
            mine = f"{support.name}-{side}"
            area, number = developed(p, face, sign, True)
            if beam.lateral:
                asked = (f.code.curtailment.bottom_share(not support.restrains_rotation and end)) * bottom
                note = "bottom bars that develop their yield at the face of the support" if area < asked else ""
                found.append(make(f, "lateral.bottom", mine, i, asked, area, "area", topic="lateral", note=note))
            if not edge or not end or not (support.restrains_rotation or beam.perimeter) or support.fixed:
                continue
            asked = max(share * bottom, 0.0)
            note = "bottom bars bent into the support, thinner ones, or a wider support" if area < asked or number < least else ""
            there = area if number >= least else min(area, asked * number / least)
            found.append(make(f, "integrity.end-bottom", mine, i, asked, there, "area", topic="anchorage", note=note))
            top = float(p.face_area(False, anchored=False)[i])
            above, count = developed(p, face, sign, False)
            there = above if count >= least else min(above, f.code.curtailment.perimeter_share * top * count / least)
            note = "top bars that develop their yield at the face" if there < f.code.curtailment.perimeter_share * top else ""
            found.append(
                make(f, "integrity.end-top", mine, i, f.code.curtailment.perimeter_share * top, there, "area", topic="anchorage", note=note)
            )
        if edge:  # a sixth of the top steel over its supports, and two bars, run through
            along = p.face_area(False, anchored=False)
            inside = np.flatnonzero(f.strength.valid[rows]) + rows.start
            i = int(inside[along[inside].argmin()])
            asked = f.code.curtailment.perimeter_share * float(along[inside].max())
            found.append(make(f, "integrity.top", str(index + 1), i, asked, float(along[i]), "area", topic="anchorage"))
    return found
