"""Deflection, cracking and stresses in service against their limits."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from upright_bramble.analysis.twist import skin_of
from upright_bramble.beam import Beam
from upright_bramble.codes.protocol import Slender
from upright_bramble.section.arrays import Array
from upright_bramble.verify.facts import Facts, make, not_done, worst_of, zones_of
from upright_bramble.verify.result import Check

MOST_PRECAMBER = 250.0  # of a span over it, that is counted on (EN 1992-1-1, 7.4.1(4))
AFTER_NOT_DONE = "not done: forces from tables do not tell what was there before the finishes"


def service_checks(f: Facts) -> list[Check]:
    """In the order of the work."""
    return [*_deflection(f), *_rises(f), *_span_depth(f), *_cracking(f), *_stresses(f)]


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
            each = min(f.code.areas[b.size] for b in f.layout.sides)
            found.append(make(f, "skin.area", place, i, area, rows * each, "area", topic="cracking"))
    return found


def _deflection(f: Facts) -> list[Check]:
    """Sag against its limits; movement upwards is told beside it as advice."""
    found, service = [], f.beam.service
    if {f.code.lasting_level, f.code.crack_level} & set(f.forces.missing):
        return [not_done(f, "deflection.total", str(i + 1), f.at.of(i).start) for i in range(len(f.beam.spans))]
    for index, span in enumerate(f.beam.spans):
        rows = f.at.of(index)
        for name, limit, lines, severity in (
            ("total", service.total, f.serviced.long_term, "must"),
            ("after-finishes", service.after_finishes, f.serviced.after_finishes, "must"),
            ("upward", service.total, -f.serviced.long_term, "advice"),
        ):
            if limit is None:
                continue
            if name == "after-finishes" and f.beam.given and "permanent" not in f.beam.given:
                found.append(replace(not_done(f, f"deflection.{name}", str(index + 1), rows.start), note=AFTER_NOT_DONE))
                continue
            part = np.maximum(lines[:, rows] - (_precamber(f, index) if name == "total" else 0.0), 0.0).max(axis=0)
            i = rows.start + int(part.argmax())
            reference = span.length * (service.cantilever if span.cantilever else 1.0)
            allowed = reference / limit[0] if limit[0] else limit[1] or 0.0
            demand = float(part.max())
            if name == "upward" and demand <= 0.5 * allowed:
                continue
            note = ""
            if demand > allowed:
                note = "more tension steel, compression steel or depth would stiffen it"
                if name == "upward":
                    note = "the span behind lifts it; stiffen that span if this matters"
            found.append(make(f, f"deflection.{name}", str(index + 1), i, demand, allowed, "length", severity=severity, note=note))
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


def _precamber(f: Facts, index: int) -> Array:
    """Of a span, at its stations: a parabola with its rise at mid-span, or at the tip of a cantilever."""
    span, rows = f.beam.spans[index], f.at.of(index)
    rise = min(f.beam.service.precamber[index] if f.beam.service.precamber else 0.0, span.length / MOST_PRECAMBER)
    share = f.at.local[rows] / span.length
    if span.cantilever:
        return np.asarray(rise * (share if span.left is not None else 1.0 - share) ** 2)
    return np.asarray(4.0 * rise * share * (1.0 - share))


def _span_depth(f: Facts) -> list[Check]:
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
        demand, limit, quantity = f.code.span_depth(f.beam.concrete, f.beam.bars, facts)
        note = "the quick check asks for a stiffer span; the calculated deflection decides" if demand > limit else ""
        found.append(make(f, "deflection.span-depth", str(index + 1), i, demand, limit, quantity, severity="advice", note=note))
    return found


def _ends_of(beam: Beam, index: int) -> str:
    """How a span goes on: 'cantilever', 'simple', 'end' (at one end), 'interior' (at both)."""
    span = beam.spans[index]
    if span.cantilever:
        return "cantilever"
    held = 0
    for s, beside in ((span.left, index - 1), (span.right, index + 1)):
        assert s is not None
        support = beam.supports[s]
        on = 0 <= beside < len(beam.spans) and not support.hinge and not beam.spans[beside].cantilever
        held += on or support.fixed
    return ("simple", "end", "interior")[held]


def _stresses(f: Facts) -> list[Check]:
    """Bars under the rare level, concrete under the lasting one, where the code limits them."""
    found: list[Check] = []
    lasting, bars = f.code.stress_limits(f.beam.concrete, f.beam.bars)
    if not np.isfinite(bars) or {f.code.rare_level, f.code.lasting_level} & set(f.forces.missing) or f.forces.responses.axial is not None:
        return found
    for face, place, where in zones_of(f):
        stress = f.serviced.stress_bottom if face == "bottom" else f.serviced.stress_top
        i = worst_of(stress.bars, where)
        if i is not None and stress.bars[i] > 0.0:
            note = "more steel lowers it" if stress.bars[i] > bars else ""
            found.append(make(f, f"bar-stress.{face}", place, i, stress.bars[i], bars, "stress", topic="cracking", note=note))
        i = worst_of(stress.concrete, where)
        if i is not None and stress.concrete[i] > lasting:
            note = "creep is more than in proportion to stress here: deflections are larger than found"
            found.append(
                make(
                    f,
                    f"concrete-stress.{face}",
                    place,
                    i,
                    stress.concrete[i],
                    lasting,
                    "stress",
                    severity="advice",
                    topic="cracking",
                    note=note,
                )
            )
    return found


def _cracking(f: Facts) -> list[Check]:
    found = []
    if f.code.crack_level in f.forces.missing:
        zones = [(face, place, worst_of(np.zeros(len(f.at)), where)) for face, place, where in zones_of(f)]
        return [not_done(f, f"cracking.{face}", place, i) for face, place, i in zones if i is not None]
    axial = f.forces.responses.axial
    if axial is not None and (f.forces.factors[f.code.crack_level] @ axial).min() < -1.0:
        for face, place, where in zones_of(f):
            i = worst_of(np.zeros(len(f.at)), where)
            if i is not None:
                untold = "not done: tension in service is not counted in this version"
                found.append(replace(not_done(f, f"cracking.{face}", place, i), note=untold))
        return found
    for face, place, where in zones_of(f):
        c = f.serviced.cracking_bottom if face == "bottom" else f.serviced.cracking_top
        i = worst_of(c.demand / c.limit, where)
        if i is not None:
            note = "more or thinner bars would close the cracks" if c.demand[i] > c.limit[i] else ""
            found.append(make(f, f"cracking.{face}", place, i, c.demand[i], c.limit[i], c.quantity, note=note))
        most = f.beam.detailing.service_stress
        i = worst_of(c.stress, where)
        if most is not None and i is not None:
            note = "your limit of the stress in service: more steel lowers it" if c.stress[i] > most else ""
            found.append(make(f, f"service-stress.{face}", place, i, c.stress[i], most, "stress", topic="cracking", note=note))
    return found
