"""Rules of ACI 318-19 that other codes do not have: structural integrity, cut-offs in tension, development at
points of inflection, confinement of high-strength bars, bars of flanges in tension, bars for torsion,
averaged stiffness."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING

import numpy as np

from upright_bramble.beam import KINK
from upright_bramble.codes.aci318.bond import BondClauses
from upright_bramble.codes.aci318.curtailment import (
    CurtailmentClauses,
    beyond_inflection,
    cut_off_shear,
    development_limit,
)
from upright_bramble.codes.aci318.detailing import held_bars
from upright_bramble.codes.aci318.expressions import Expressions
from upright_bramble.codes.aci318.torsion import minimum_bar_diameter
from upright_bramble.codes.rules import CheckKind, Place, Rule, if_fails, share_of, worst_of
from upright_bramble.codes.shared_rules import (
    CUT_OFF,
    INFLECTION,
    LEGS,
    TOP_GOES_ON,
    compression_legs,
    cut_offs,
    inflection,
    ratio_of,
    top_past_inflection,
)
from upright_bramble.section.arrays import Array
from upright_bramble.text import amount
from upright_bramble.working import dropped, record

if TYPE_CHECKING:
    from upright_bramble.verify.facts import Facts
    from upright_bramble.verify.result import Check

INTEGRITY = (
    CheckKind(
        "integrity.bottom", "anchorage", "bottom bars that go through", "area", "bottom", lesson="carried in"
    ),
    CheckKind(
        "integrity.number",
        "anchorage",
        "number of bottom bars that go through",
        "number",
        "bottom",
        lesson="carried in",
    ),
    CheckKind(
        "integrity.through",
        "anchorage",
        "bottom bars that run through over a support",
        "area",
        "bottom",
        lesson="carried in",
    ),
    CheckKind(
        "integrity.end-bottom",
        "anchorage",
        "bottom bars developed at the end of a perimeter beam",
        "area",
        "bottom",
        lesson="thinner",
    ),
    CheckKind(
        "integrity.end-top",
        "anchorage",
        "top bars developed at the end of a perimeter beam",
        "area",
        "top",
        lesson="thinner",
    ),
    CheckKind("integrity.top", "anchorage", "top bars that run through", "area", "top", lesson="run through"),
    CheckKind(
        "lateral.bottom",
        "lateral",
        "bottom bars developed at the face of a support of the lateral system",
        "area",
        "bottom",
        lesson="thinner",
    ),
)
CONFINEMENT = CheckKind(
    "confinement.bars",
    "anchorage",
    "stirrups that confine bars where they develop",
    "length",
    lesson="confine",
)
TORSION_BAR = CheckKind(
    "torsion.bar-size", "torsion", "diameter of the bars for torsion", "length", lesson="shear"
)
FLANGE = tuple(
    CheckKind(
        f"tension-flange.{face}",
        "cracking",
        "width that the bars of a flange in tension reach over",
        "length",
        face,
        "advice",
        beside=True,
    )
    for face in ("bottom", "top")
)
AVERAGED = CheckKind(
    "deflection.averaged",
    "deflection",
    "total deflection with one stiffness a span",
    "length",
    "",
    "advice",
    beside=True,
)


def own_rules(x: Expressions, bond: BondClauses, curtailment: CurtailmentClauses) -> tuple[Rule, ...]:
    """With what is needed of the parts."""
    return (
        Rule("cut-offs", 61, CUT_OFF, lambda f: cut_offs(f, cut_off_shear)),
        Rule("size of bars for torsion", 81, (TORSION_BAR,), lambda f: torsion_bars(f, x)),
        Rule("legs for compression bars", 101, (LEGS,), lambda f: compression_legs(f, held_bars)),
        Rule("past inflection", 121, (TOP_GOES_ON,), lambda f: top_past_inflection(f, beyond_inflection)),
        Rule("inflection", 122, (INFLECTION,), lambda f: inflection(f, development_limit)),
        Rule("integrity", 151, INTEGRITY, lambda f: integrity(f, curtailment)),
        Rule("confinement", 161, (CONFINEMENT,), lambda f: confinement(f, bond)),
        Rule("averaged stiffness", 191, (AVERAGED,), averaged_deflection),
        Rule("flanges in tension", 215, FLANGE, tension_flanges),
    )


# ---------------------------------------------------------------- integrity (9.7.7)


def integrity(f: Facts, part: CurtailmentClauses) -> list[Check]:
    """Bottom bars that run through, or are lapped, from end to end; those of perimeter beams and the lateral
    system developed at ends."""
    return [*_within_spans(f, part), *_over_supports(f, part), *_ends(f, part)]


def _within_spans(f: Facts, part: CurtailmentClauses) -> list[Check]:
    """From face to face, since what goes on over supports is judged there; of perimeter beams and those of
    the lateral system up to the axes: no stirrups stand in for their bars where the soffit steps
    (9.7.7.1)."""
    share, minimum = part.continuity.share, part.continuity.number
    result: list[Check] = []
    p, at = f.placed, f.at
    counts = np.array([b.count for b in p.bars], dtype=float)
    for index, span in enumerate(f.beam.spans):
        if span.cantilever:
            continue
        rows, place = at.of(index), Place(span=index, face="bottom")
        low, high = f.beam.clear(index)
        between = (at.x[rows] >= low - 1e-6) & (at.x[rows] <= high + 1e-6)
        between |= f.beam.on_perimeter or bool(f.beam.lateral)
        inside = np.flatnonzero(f.strength.valid[rows] & between) + rows.start
        area = p.face_area(True, anchored=False)
        i = int(inside[area[inside].argmin()])
        number = (counts * ((p.present[inside] > 0.0) & p.bottom)).sum(axis=1)
        maximum = float(area[inside].max())
        _record_share(share, maximum, float(area[i]), "bottom steel of the span")
        result.append(f.check("integrity.bottom", place, i, share_of(share, maximum), float(area[i])))
        if number.min() < minimum:
            j = int(inside[number.argmin()])
            note = f"{minimum} bars at minimum go through"
            result.append(
                f.check("integrity.number", place, j, float(minimum), float(number.min()), note=note)
            )
    return result


def _record_share(share: float, maximum: float, local: float, of: str) -> None:
    record("share", share, "", f"of the {of}")
    record("A_s,max", maximum, "mm2", f"largest {of}")
    record("A_s", local, "mm2", "there at least")


def _over_supports(f: Facts, part: CurtailmentClauses) -> list[Check]:
    """Over inner supports bars that only butt do not run through: what is anchored in full on both sides
    counts. Where the soffit steps bars cannot go on, and the closed stirrups of both spans hold them
    (9.7.7.2(b))."""
    result: list[Check] = []
    share, p, at = part.continuity.share, f.placed, f.at
    area, carried = (p.face_area(True, anchored=v) for v in (False, True))
    for s, support in enumerate(f.beam.supports):
        beside = [
            k for k, span in enumerate(f.beam.spans) if s in (span.left, span.right) and not span.cantilever
        ]
        if len(beside) != 2:
            continue
        a, b = (f.beam.spans[k] for k in beside)
        if (
            abs(float(a.depths(a.length)) - float(b.depths(0.0))) > 1.0
            or abs(float(a.widths(a.length)) - float(b.widths(0.0))) > 1.0
        ):
            continue
        if abs(a.slope - b.slope) > KINK and not (f.beam.on_perimeter or f.beam.lateral):
            continue  # nor do straight bars follow a kink; 9.7.7.1 leaves perimeter beams no stirrups instead
        maximum = min(float(area[at.of(k)][f.strength.valid[at.of(k)]].max(initial=0.0)) for k in beside)
        over = np.flatnonzero(np.abs(at.x - support.x) <= 0.5 * support.width + 1e-6)
        i = int(over[carried[over].argmin()])
        note = if_fails(
            "bars that only butt, or stop beside each other, do not run through: lap them",
            carried[i] < share * maximum,
        )
        _record_share(share, maximum, float(carried[i]), "bottom steel of the span with less")
        place = Place(support=support.name, face="bottom")
        result.append(
            f.check("integrity.through", place, i, share_of(share, maximum), float(carried[i]), note=note)
        )
    return result


def _ends(f: Facts, part: CurtailmentClauses) -> list[Check]:
    """At the ends of a perimeter beam, and at those of a beam of the lateral system, bars develop their yield
    at the support's face."""
    result: list[Check] = []
    beam = f.beam
    for index, span in enumerate(beam.spans):
        if span.cantilever:
            continue
        rows = f.at.of(index)
        bottom = float(
            f.placed.face_area(True, anchored=False)[rows][f.strength.valid[rows]].max(initial=0.0)
        )
        for s, side in ((span.left, "right"), (span.right, "left")):
            assert s is not None
            result += _at_support(f, part, index, s, side, bottom)
        if beam.on_perimeter:  # a sixth of the top steel over its supports, and two bars, run through
            along = f.placed.face_area(False, anchored=False)
            inside = np.flatnonzero(f.strength.valid[rows]) + rows.start
            i = int(inside[along[inside].argmin()])
            share, maximum = part.continuity.perimeter_share, float(along[inside].max())
            _record_share(share, maximum, float(along[i]), "top steel over the supports")
            result.append(
                f.check(
                    "integrity.top",
                    Place(span=index, face="top"),
                    i,
                    share_of(share, maximum),
                    float(along[i]),
                )
            )
    return result


def _at_support(
    f: Facts, part: CurtailmentClauses, index: int, s: int, side: str, bottom: float
) -> list[Check]:
    """One end of a span, on a `side` of its support."""
    result: list[Check] = []
    beam, support, rule = f.beam, f.beam.supports[s], part.continuity
    face, sign = (beam.clear(index)[0], -1.0) if side == "right" else (beam.clear(index)[1], 1.0)
    end = s in (0, len(beam.supports) - 1) and sum(s in (v.left, v.right) for v in beam.spans) == 1
    i, place = f.nearest_of(index, face), Place(support=support.name, side=side, face="bottom")
    area, number = f.developed(face, sign, True)
    if beam.lateral:
        share = part.bottom_share(not support.restrains_rotation and end)
        _record_share(share, bottom, area, "bottom steel of the span")
        note = if_fails(
            "bottom bars that develop their yield at the face of the support", area < share * bottom
        )
        result.append(f.check("lateral.bottom", place, i, share_of(share, bottom), area, note=note))
    if (
        not beam.on_perimeter
        or not end
        or not (support.restrains_rotation or beam.perimeter)
        or support.fixed
    ):
        return result
    required = max(rule.share * bottom, 0.0)
    note = if_fails(
        "bottom bars bent into the support, thinner ones, or a wider support",
        area < required or number < rule.number,
    )
    local = area if number >= rule.number else min(area, required * number / rule.number)
    _record_share(rule.share, bottom, local, "bottom steel of the span")
    result.append(f.check("integrity.end-bottom", place, i, required, local, note=note))
    top = float(f.placed.face_area(False, anchored=False)[i])
    above, count = f.developed(face, sign, False)
    required = rule.perimeter_share * top
    local = above if count >= rule.number else min(above, required * count / rule.number)
    _record_share(rule.perimeter_share, top, local, "top steel there")
    note = if_fails("top bars that develop their yield at the face", local < required)
    place = Place(support=support.name, side=side, face="top")
    return [*result, f.check("integrity.end-top", place, i, required, local, note=note)]


# ---------------------------------------------------------------- stirrups


def confinement(f: Facts, part: BondClauses) -> list[Check]:
    """9.7.1.4, 25.4.2.2: stirrups across bars where these develop or are lapped, where the code requires them
    to confine the bars: the widest gap with the bars at the middle, and with its own every place where a bar
    of the row begins or ends."""
    result: list[Check] = []
    p, beam = f.placed, f.beam
    place, area, _, _ = f.stirrups
    if not part.confines(beam.bars) or not len(place):
        return result
    for g, bar in enumerate(p.bars):
        phi, worst = float(p.diameter[g]), None
        for side, x, sign in (("left", bar.start, 1.0), ("right", bar.end, -1.0)):
            low, high = sorted((x, x + sign * min(float(p.anchorage[g]), bar.end - bar.start)))
            clear = [beam.clear(k) for k in range(len(beam.spans))]
            inside = [(max(low, a), min(high, b), a, b) for a, b in clear if min(high, b) - max(low, a) > 1.0]
            if not inside:
                continue
            widest = max(f.maximum_gap(left, right, a, b) for a, b, left, right in inside)
            places = [(0.5 * (low + high), widest)]
            for a, b, left, right in inside:
                ends = {x for v in p.bars for x in (v.start + 1.0, v.end - 1.0)}
                places += [
                    (x, f.maximum_gap(left, right, x - 1.5, x + 1.5))
                    for x in sorted({a + 1.0, b - 1.0, *ends})
                    if a < x < b
                ]
            for x, gap in places:
                i, number = f.nearest(x), _in_row(f, g, x)
                room = float(f.at.width[i]) - 2.0 * (beam.cover.sides + p.tie) - phi
                asked = (phi, room / max(number - 1.0, 1.0), float(area.min()), gap, number)
                required, local = part.confinement(beam.bars, *asked)
                if required > 0.0 and (worst is None or ratio_of(required, local) > worst[0]):
                    worst = ratio_of(required, local), asked, side, i
        dropped()
        if worst is not None:
            _, asked, side, i = worst
            required, local = part.confinement(beam.bars, *asked)
            note = if_fails("closer stirrups along the development of the bar", local < required)
            result.append(
                f.check("confinement.bars", Place(bar=f.name(bar), side=side), i, required, local, note=note)
            )
    return result


def _in_row(f: Facts, g: int, x: float) -> float:
    """Bars of the row of group `g` at a place; lapped ones once."""
    p = f.placed
    row = [k for k in range(len(p.bars)) if p.bottom[k] == p.bottom[g] and p.layer[k] == p.layer[g]]
    number = sum(p.bars[k].count for k in row if p.bars[k].start <= x <= p.bars[k].end)
    return float(
        number
        - sum(
            p.bars[lap.second].count
            for lap in p.laps
            if lap.first != lap.second and lap.second in row and lap.start <= x <= lap.end
        )
    )


def torsion_bars(f: Facts, x: Expressions) -> list[Check]:
    """9.7.5.2: the thinnest bar around the section, for the distance of the stirrups."""
    result: list[Check] = []
    w, gap = f.strength.twist, f.strength.ties.gap
    if w is None:
        return result
    minimum = minimum_bar_diameter(gap, x)
    for index in range(len(f.beam.spans)):
        i = worst_of(minimum, f.clear_span(index) & (w.bars > 0.0))
        if i is not None and minimum[i] > 0.0:
            here = f.placed.diameter[f.placed.present[i] > 0.0].min(initial=np.inf)
            thinnest = float(min([here, *(f.code.sizes[b.size].diameter for b in f.layout.sides)]))
            record("d_b,there", thinnest, "mm", "thinnest bar around the section")
            result.append(f.check("torsion.bar-size", Place(span=index), i, minimum[i], thinnest))
    return result


# ---------------------------------------------------------------- service


def tension_flanges(f: Facts) -> list[Check]:
    """24.3.4: whether the bars reach over as much of a flange in tension as they are to be spread over: its
    effective width, no wider than a tenth of the clear span."""
    result: list[Check] = []
    s = f.at.sections
    for zone in f.zones:
        c = f.cracks(zone.bottom)
        stress = np.where((s.below == zone.bottom) & zone.where & (s.flange_depth > 0.0), c.stress, 0.0)
        # on both sides of a support stresses are alike, and widths are not: the wider one counts
        i = worst_of(s.flange_width, (stress > 0.0) & (stress >= stress.max() * (1.0 - 1e-6)))
        if i is None:
            continue
        low, high = f.beam.clear(int(f.at.span[i]))
        wanted = min(float(s.flange_width[i]), (high - low) / 10.0)
        if wanted <= float(f.at.width[i]) + 1e-6:
            continue
        own = (f.placed.bottom == zone.bottom) & (f.placed.layer == 1.0)
        count = sum(
            b.count for b, here in zip(f.placed.bars, own & (f.placed.present[i] > 0.0), strict=True) if here
        )
        reach = max(count - 1, 0) * float(c.demand[i]) + float(c.limit[i])
        record("b_eff", float(s.flange_width[i]), "mm", "effective width of the flange")
        record("l_n", high - low, "mm", "clear span")
        record("n", count, "", "bars of the row")
        record("s", float(c.demand[i]), "mm", "their distance")
        note = (
            f"slab bars beside the web must carry on to a width of {amount(wanted, 'length')}; they are not "
            "designed"
        )
        place = zone.place
        result.append(
            f.check(
                f"tension-flange.{zone.face}", place, i, wanted, reach, note=if_fails(note, wanted > reach)
            )
        )
    return result


def averaged_deflection(f: Facts) -> list[Check]:
    """24.2.3.6: total deflection with the stiffness that may stand for a whole span, beside that with the
    stiffness of every section."""
    if (
        f.beam.service.total is None
        or f.tension_along
        or f.missing(f.code.actions.lasting_level, f.code.cracking.level)
    ):
        return []
    if any(s.becomes for s in f.beam.spans):
        return []
    ask: Callable[..., Array] = partial(f.serviced.ask, averaged=True)
    lines = f.code.deflection.lines(ask, f.beam.service, f.compression_ratio).long_term
    dropped()
    result = []
    for index in range(len(f.beam.spans)):
        i, demand, limit = f.total_deflection(lines, index)
        record("a_averaged", demand, "mm", "long-term deflection with one stiffness for the span")
        note = "with one stiffness a span; the one section by section decides"
        result.append(f.check("deflection.averaged", Place(span=index), i, demand, limit, note=note))
    return result
