"""Deflection, cracking and stresses in service against their limits."""

from __future__ import annotations

import numpy as np

from upright_bramble.analysis.twist import skin_of
from upright_bramble.beam import Beam
from upright_bramble.codes.parts import Slender
from upright_bramble.section.arrays import Array
from upright_bramble.text import amount
from upright_bramble.verify.facts import Facts, make, unverified, worst_of, zones_of
from upright_bramble.verify.result import Check, Message, Unverified
from upright_bramble.verify.service import goes_on

MOST_PRECAMBER = 250.0  # of a span over it, that is counted on (EN 1992-1-1, 7.4.1(4))
PULLED = "tension along the beam in service is not counted in this version"
CREEPS = "creep is more than in proportion to stress: counted in the deflections (3.1.4(4))"
SPLITS = "cracks along the bars are likely, in this exposure: more depth or compression steel"
UNKNOWN_BEFORE = "the tables give no permanent load before finishes"


Judged = list[Check | Unverified | Message]
"""Checks, what could not be verified, and what is said beside them."""


def service_checks(f: Facts) -> Judged:
    """In the order of the work."""
    return [
        *_deflection(f),
        *_averaged(f),
        *_rises(f),
        *span_depth_checks(f),
        *_cracking(f),
        *_by_table(f),
        *_tension_flanges(f),
        *_stresses(f),
    ]


def skin(f: Facts) -> list[Check]:
    """Side bars of deep webs, against cracks that are wider there than at the bars of the tension face."""
    found: list[Check] = []
    rows = f.placed.side_rows
    for index in range(len(f.beam.spans)):
        apart, area, height = skin_of(f.beam, f.code, index, f.placed.tie)
        if not np.isfinite(apart):
            continue
        i, place = f.at.of(index).start, str(index + 1)
        there = height / (rows + 1.0)
        note = "side bars are needed from end to end" if there > apart else ""
        found.append(make(f, "skin.spacing", place, i, there, apart, "length", topic="cracking", note=note))
        if area > 0.0 and rows:
            each = min(f.code.sizes[b.size].area for b in f.layout.sides)
            found.append(make(f, "skin.area", place, i, area, rows * each, "area", topic="cracking"))
    return found


def _deflection(f: Facts) -> Judged:
    """Sag against its limits; movement upwards is told beside it as advice."""
    service, all_lines = f.beam.service, f.serviced.lines
    found: Judged = []
    known = not f.beam.given or "permanent" in f.beam.given
    if _pulled(f):
        return [unverified(f, "deflection.total", str(i + 1), f.at.of(i).start, PULLED) for i in range(len(f.beam.spans))]
    if {f.code.actions.lasting_level, f.code.cracking.level} & set(f.forces.missing):
        return [unverified(f, "deflection.total", str(i + 1), f.at.of(i).start) for i in range(len(f.beam.spans))]
    for index in range(len(f.beam.spans)):
        rows = f.at.of(index)
        for name, limit, lines, severity in (
            ("total", service.total, all_lines.long_term, "advice" if service.total_advised else "must"),
            ("live", service.live, all_lines.live, "must"),
            ("after-finishes", service.after_finishes, all_lines.after_finishes, "must"),
            ("after-partitions", service.after_partitions, all_lines.after_partitions, "must"),
            ("upward", service.total, -all_lines.long_term, "advice"),
        ):
            if limit is None or lines is None:
                continue
            if name in ("live", "after-finishes", "after-partitions") and not known:
                found.append(unverified(f, f"deflection.{name}", str(index + 1), rows.start, UNKNOWN_BEFORE))
                continue
            if name == "live" and f.code.actions.rare_level in f.forces.missing:
                reason = f"no {f.code.actions.rare_level.replace('_', '-')} forces were given"
                found.append(unverified(f, "deflection.live", str(index + 1), rows.start, reason))
                continue
            part = np.maximum(lines[:, rows] - (_precamber(f, index) if name == "total" else 0.0), 0.0).max(axis=0)
            i = rows.start + int(part.argmax())
            allowed = _allowed(f, index, limit)
            demand = float(part.max())
            if name == "upward" and demand <= 0.5 * allowed:
                continue
            note = ""
            if demand > allowed:
                note = "more tension steel, compression steel or depth would stiffen it"
                if name == "upward":
                    note = "the span behind lifts it; stiffen that span if this matters"
                elif name == "total" and service.total_advised:
                    note = "a target, no limit of the code: give 'total' in 'deflection', or 'total: none'"
            found.append(make(f, f"deflection.{name}", str(index + 1), i, demand, allowed, "length", severity=severity, note=note))
    return found


def _allowed(f: Facts, index: int, limit: tuple[float | None, float | None]) -> float:
    """A limit of deflection for a span, mm."""
    span = f.beam.spans[index]
    reference = span.length * (f.beam.service.cantilever if span.cantilever else 1.0)
    return reference / limit[0] if limit[0] else limit[1] or 0.0


def _averaged(f: Facts) -> list[Check]:
    """Total deflection with the stiffness that may stand for a whole span, beside that with the stiffness of every section."""
    lines, total = f.serviced.averaged, f.beam.service.total
    if lines is None or total is None or {f.code.actions.lasting_level, f.code.cracking.level} & set(f.forces.missing):
        return []
    found = []
    for index in range(len(f.beam.spans)):
        rows = f.at.of(index)
        part = np.maximum(lines[:, rows] - _precamber(f, index), 0.0).max(axis=0)
        i = rows.start + int(part.argmax())
        note = "with one stiffness a span; the one found section by section decides"
        limit = _allowed(f, index, total)
        found.append(make(f, "deflection.averaged", str(index + 1), i, float(part.max()), limit, "length", severity="advice", note=note))
    return found


def _rises(f: Facts) -> list[Check]:
    """Precamber against what is counted on of it."""
    found = []
    for index, rise in enumerate(f.beam.service.precamber):
        most = f.beam.spans[index].length / MOST_PRECAMBER
        note = "no more than that is taken off the deflection" if rise > most else ""
        i = f.at.of(index).start
        found.append(make(f, "deflection.precamber", str(index + 1), i, rise, most, "length", severity="advice", note=note))
    return found


def precamber_at(f: Facts, index: int, i: int) -> float:
    """Of a span at one of its stations, mm."""
    return float(_precamber(f, index)[i - f.at.of(index).start])


def _precamber(f: Facts, index: int) -> Array:
    """Of a span, at its stations: a parabola with its rise at mid-span, or at the tip of a cantilever."""
    span, rows = f.beam.spans[index], f.at.of(index)
    rise = min(f.beam.service.precamber[index] if f.beam.service.precamber else 0.0, span.length / MOST_PRECAMBER)
    share = f.at.local[rows] / span.length
    if span.cantilever:
        return np.asarray(rise * (share if span.left is not None else 1.0 - share) ** 2)
    return np.asarray(4.0 * rise * share * (1.0 - share))


def span_depth_checks(f: Facts) -> list[Check]:
    """The quick check of every span, told beside the calculated deflection, which alone decides."""
    found: list[Check] = []
    s, at = f.strength, f.at
    for index, span in enumerate(f.beam.spans):
        rows = at.of(index)
        x = 0.5 * span.length if not span.cantilever else (0.0 if span.left is not None else span.length)
        here = np.where(f.strength.valid[rows], np.abs(at.local[rows] - x), np.inf)
        i = rows.start + int(here.argmin())
        face, other = ("bottom", False) if not span.cantilever else ("top", True)
        d = float((s.d_bottom if face == "bottom" else s.d_top)[i])
        asked = float(f.required[f"{face}_tension"][i])
        if not np.isfinite(asked) or asked <= 0.0:
            continue
        block = float(at.sections.flange_width[i]) if face == "bottom" and not at.sections.below[i] else float(at.width[i])
        provided = float(f.placed.face_area(face == "bottom", anchored=True)[i])
        facts = Slender(
            span.length, d, float(at.depth[i]), _ends_of(f.beam, index), asked / (block * d),
            float(f.placed.face_area(other, anchored=True)[i]) / (block * d), provided / asked, block / float(at.width[i]),
        )  # fmt: skip
        demand, limit, quantity = f.code.deflection.span_depth(f.beam.concrete, f.beam.bars, facts)
        note = "the quick check asks for a stiffer span; the calculated deflection decides" if demand > limit else ""
        found.append(make(f, "deflection.span-depth", str(index + 1), i, demand, limit, quantity, severity="advice", note=note))
    return found


def _ends_of(beam: Beam, index: int) -> str:
    """How a span goes on: 'cantilever', 'simple', 'end' (at one end), 'interior' (at both)."""
    span = beam.spans[index]
    if span.cantilever:
        return "cantilever"
    held = 0
    for s in (span.left, span.right):
        assert s is not None
        held += goes_on(beam, index, s)
    return ("simple", "end", "interior")[held]


def _stresses(f: Facts) -> Judged:
    """Bars under the rare level, concrete under the lasting one, where the code limits them."""
    found: Judged = []
    lasting, bars, rare = f.code.service.stress_limits(f.beam.concrete, f.beam.bars, f.beam.service.exposure)
    if not np.isfinite(bars) or {f.code.actions.rare_level, f.code.actions.lasting_level} & set(f.forces.missing):
        return found
    for face, place, where in zones_of(f):
        if _pulled(f):
            i = worst_of(np.zeros(len(f.at)), where)
            found += [unverified(f, f"bar-stress.{face}", place, i, PULLED, topic="cracking")] if i is not None else []
            continue
        stress = f.serviced.stress_bottom if face == "bottom" else f.serviced.stress_top
        i = worst_of(stress.bars, where)
        if i is not None and stress.bars[i] > 0.0:
            note = "more steel lowers it" if stress.bars[i] > bars else ""
            found.append(make(f, f"bar-stress.{face}", place, i, stress.bars[i], bars, "stress", topic="cracking", note=note))
        for name, values, most, note in (
            ("concrete-stress", stress.concrete, lasting, CREEPS),
            ("concrete-stress-rare", stress.concrete_rare, rare, SPLITS),
        ):
            i = worst_of(values, where)
            squeezed = f.forces.responses.axial is not None  # then more than bending presses on the concrete: not found here
            if i is not None and values[i] > most and not squeezed:
                found.append(make(f, f"{name}.{face}", place, i, values[i], most, "stress", severity="advice", topic="cracking", note=note))
    return found


def _by_table(f: Facts) -> list[Check]:
    """Cracks by the code's tables, beside the calculated width: bars thin enough, or near enough to each other."""
    found: list[Check] = []
    if f.code.cracking.level in f.forces.missing or _pulled(f):
        return found
    for face, place, where in zones_of(f):
        c, t = (
            (f.serviced.cracking_bottom, f.serviced.table_bottom) if face == "bottom" else (f.serviced.cracking_top, f.serviced.table_top)
        )
        if t is None:
            continue
        thin, near = (a / np.maximum(most, 1e-6) for a, most in ((t.phi, t.most_phi), (t.spacing, t.most_spacing)))
        i = worst_of(np.where(c.demand > 0.0, np.minimum(thin, near), 0.0), where)
        if i is None or c.demand[i] <= 0.0:
            continue
        pair = (t.phi[i], t.most_phi[i]) if thin[i] <= near[i] else (t.spacing[i], t.most_spacing[i])
        note = "the tables ask for thinner bars or nearer ones; the calculated width decides" if min(thin[i], near[i]) > 1.0 else ""
        found.append(make(f, f"crack-table.{face}", place, i, *pair, "length", severity="advice", topic="cracking", note=note))
    return found


def _tension_flanges(f: Facts) -> list[Check]:
    """Whether the bars reach over as much of a flange in tension as the code has them spread over."""
    found: list[Check] = []
    s = f.at.sections
    for face, place, where in zones_of(f):
        c = f.serviced.cracking_bottom if face == "bottom" else f.serviced.cracking_top
        i = worst_of(np.where(s.below == (face == "bottom"), c.stress, 0.0), where & (s.flange_depth > 0.0))
        if i is None or c.stress[i] <= 0.0 or s.below[i] != (face == "bottom"):
            continue
        low, high = f.beam.clear(int(f.at.span[i]))
        wanted = f.code.cracking.tension_flange(float(s.flange_width[i]), high - low)
        if wanted <= float(f.at.width[i]) + 1e-6:
            continue
        mine = (f.placed.bottom == (face == "bottom")) & (f.placed.layer == 1.0)
        count = sum(b.count for b, here in zip(f.placed.bars, mine & (f.placed.present[i] > 0.0), strict=True) if here)
        reach = max(count - 1, 0) * float(c.demand[i]) + float(c.limit[i])
        note = f"slab bars beside the web must carry on to a width of {amount(wanted, 'length')}; they are not designed here"
        note = note if wanted > reach else ""
        found.append(make(f, f"tension-flange.{face}", place, i, wanted, reach, "length", severity="advice", topic="cracking", note=note))
    return found


def _pulled(f: Facts) -> bool:
    """Whether the beam is in tension along its axis in service."""
    axial = f.forces.responses.axial
    levels = {f.code.cracking.level, f.code.actions.rare_level, f.code.actions.lasting_level}
    return axial is not None and any(bool((f.forces.factors[level] @ axial).min() < -1.0) for level in levels)


def _cracking(f: Facts) -> Judged:
    found: Judged = []
    if f.code.cracking.level in f.forces.missing:
        zones = [(face, place, worst_of(np.zeros(len(f.at)), where)) for face, place, where in zones_of(f)]
        return [unverified(f, f"cracking.{face}", place, i) for face, place, i in zones if i is not None]
    if _pulled(f):
        for face, place, where in zones_of(f):
            i = worst_of(np.zeros(len(f.at)), where)
            if i is not None:
                found.append(unverified(f, f"cracking.{face}", place, i, PULLED))
        return found
    for face, place, where in zones_of(f):
        c = f.serviced.cracking_bottom if face == "bottom" else f.serviced.cracking_top
        i = worst_of(c.demand / c.limit, where)
        if i is not None and (c.quantity == "crack" or c.demand[i] > 0.0):  # bars without tension may stand any distance apart
            note = "more or thinner bars would close the cracks" if c.demand[i] > c.limit[i] else ""
            e = f.forces.envelopes[f.code.cracking.level]
            by = e.labels[int((e.moment.high_by if face == "bottom" else e.moment.low_by)[i])]
            found.append(make(f, f"cracking.{face}", place, i, c.demand[i], c.limit[i], c.quantity, note=note, by=by))
        most = f.beam.detailing.service_stress
        i = worst_of(c.stress, where)
        if most is not None and i is not None:
            note = "your limit of the stress in service: more steel lowers it" if c.stress[i] > most else ""
            found.append(make(f, f"service-stress.{face}", place, i, c.stress[i], most, "stress", topic="cracking", note=note))
    return found
