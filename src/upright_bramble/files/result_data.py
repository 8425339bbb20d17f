"""A result as the data of result.json: SI, rounded, with the unit in the key."""

from __future__ import annotations

import json
import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from upright_bramble.analysis import Envelope, Forces
from upright_bramble.beam import Beam, Span
from upright_bramble.core.quantities import QUANTITIES, SYSTEMS, UnitSystem, worded
from upright_bramble.files.echo import echoed
from upright_bramble.files.result_file import ResultFile, WorkingOut
from upright_bramble.section.arrays import Array
from upright_bramble.verify import Check, Result, workings
from upright_bramble.verify.result import BarItem
from upright_bramble.version import __version__
from upright_bramble.working import Working


def numbers(values: Array, scale: float, digits: int = 4) -> list[float]:
    """Rounded, without minus zero."""
    return [float(v) for v in np.round(np.asarray(values) * scale, digits) + 0.0]


def _numbers_or_none(values: Array | None) -> list[float] | None:
    return None if values is None else numbers(values, 1.0)


def envelope_data(e: Envelope) -> dict[str, Any]:
    return {
        "moment_max_kNm": numbers(e.moment_max, 1e-6),
        "moment_min_kNm": numbers(e.moment_min, 1e-6),
        "shear_max_kN": numbers(e.shear_max, 1e-3),
        "shear_min_kN": numbers(e.shear_min, 1e-3),
        "torsion_kNm": numbers(e.torsion, 1e-6),
    }


def shown(check: Check) -> tuple[float, float, str]:
    """Demand and resistance in SI, and their unit."""
    quantity = QUANTITIES[check.quantity]
    return check.demand / quantity.size, check.resistance / quantity.size, quantity.key


def _verdict(result: Result) -> dict[str, Any]:
    governing, system = result.governing, SYSTEMS[result.beam.units]
    return {
        "status": result.status,
        "governing": governing.id,
        "ratio": round(governing.ratio, 6),
        "verified": list(result.verified),
        "not_verified": [
            {
                "id": g.id,
                "topic": g.topic,
                "span": g.span,
                "x_mm": round(g.x, 1),
                "reason": worded(g.reason, system),
                "clause": g.clause,
            }
            for g in result.not_verified
        ],
        "waived": [{"topic": topic, "reason": reason} for topic, reason in result.waived],
        "out_of_scope": list(result.out_of_scope),
    }


def _bent_up(item: BarItem) -> dict[str, Any]:
    """Where a bar goes between bottom and top; nothing of one that does not."""
    up = item.bar.bent_up
    if up is None:
        return {}
    inclined = [s for s in item.line if s.rise]
    return {
        "bent_up": {
            "inclined_mm": [[round(s.start, 1), round(s.end, 1)] for s in inclined],
            "left": up.left is not None,
            "height_mm": round(max(abs(s.rise) for s in inclined), 1),
            "layer": up.layer,
            "axis_mm": round(item.top_axis, 2),
        }
    }


def _check(c: Check, system: UnitSystem) -> dict[str, Any]:
    demand, resistance, unit = shown(c)
    return {
        "id": c.id,
        "kind": c.kind.id,
        "place": c.place.data(),
        "beside": c.beside,
        "topic": c.topic,
        "span": c.span,
        "x_mm": round(c.x, 1),
        "demand": round(demand, 6),
        "resistance": round(resistance, 6),
        "unit": unit,
        "quantity": c.quantity,
        "ratio": round(c.ratio, 6),
        "ok": bool(c.ok),
        "severity": c.severity,
        "clause": c.clause,
        "note": worded(c.note, system),
        "combination": c.by,
        **({"level": c.level} if c.level else {}),
    }


def _level(name: str, part: Result) -> dict[str, Any]:
    """Of alike beams one level: its verdict, what governs it, and the greatest ratio of each topic."""
    judged = [c for c in part.checks if c.severity != "advice" and not c.beside]
    ratios = {
        topic: round(max(c.ratio for c in judged if c.topic == topic), 6)
        for topic in dict.fromkeys(c.topic for c in judged)
    }
    governing = part.governing
    return {
        "name": name,
        "mark": part.beam.mark,
        "status": part.status,
        "governing": governing.id,
        "ratio": round(governing.ratio, 6),
        "x_mm": round(governing.x, 1),
        "combination": governing.by,
        "ratios": ratios,
    }


def reactions_data(beam: Beam, forces: Forces) -> list[dict[str, Any]]:
    return [
        {
            "support": s.name,
            "level": level,
            "max_kN": round(float(e.reaction_max[i]) / 1e3, 4) + 0.0,
            "min_kN": round(float(e.reaction_min[i]) / 1e3, 4) + 0.0,
            "moment_max_kNm": round(float(e.moment_reaction_max[i]) / 1e6, 4) + 0.0,
            "moment_min_kNm": round(float(e.moment_reaction_min[i]) / 1e6, 4) + 0.0,
        }
        for level, e in forces.envelopes.items()
        for i, s in enumerate(beam.supports)
    ]


def _section(span: Span, local: float) -> dict[str, Any]:
    return {
        "depth_mm": round(float(span.depths(local)), 2),
        "web_mm": round(float(span.widths(local)), 2),
        "outline_mm": [[round(x, 2), round(y, 2)] for x, y in span.outline(local)],
        "flanged": span.profile.flange is not None,
    }


def beam_data(beam: Beam, code_title: str = "", labels: Mapping[str, str] | None = None) -> dict[str, Any]:
    """The beam, as every output has it."""
    return {
        "title": beam.title,
        "mark": beam.mark,
        "code": beam.code,
        "annex": beam.annex or "recommended",
        "code_title": code_title,
        "units": beam.units,
        "concrete": beam.concrete.grade,
        "steel": beam.bars.grade,
        "labels": dict(labels or {}),
        "about": dict(beam.about),
        "remarks": dict(beam.remarks),
        "cover_mm": {"top": beam.cover.top, "bottom": beam.cover.bottom, "sides": beam.cover.sides},
        "ends_mm": [round(x, 1) for x in beam.ends],
        "length_mm": round(beam.length, 1),
        "quantity": beam.quantity,
        "stock_length_mm": beam.detailing.stock_length,
        "vibrator_gap_mm": round(beam.detailing.vibrator_gap, 1),
        "spans": [
            {
                "name": s.name,
                "start_mm": round(s.start, 1),
                "end_mm": round(s.end, 1),
                "clear_start_mm": round(beam.clear(i)[0], 1),
                "clear_end_mm": round(beam.clear(i)[1], 1),
                "profile": s.profile.name,
                "section_start": _section(s, 0.0),
                "section_end": _section(s, s.length),
                "hinges_mm": [round(s.start + a, 1) for a in s.hinges],
            }
            for i, s in enumerate(beam.spans)
        ],
        "supports": [
            {"name": s.name, "x_mm": round(s.x, 1), "width_mm": round(s.width, 1)} for s in beam.supports
        ],
    }


@dataclass(frozen=True)
class Origin:
    """What a result was made of: the beam file's name, the digest of it (with the tables that it names), that
    of the layout file."""

    beam_file: str
    input_sha256: str
    layout_sha256: str = ""


def result_model(result: Result) -> ResultFile:
    """A result in memory as its file would have it, without derivations: what is presented reads this,
    wherever it comes from."""
    return ResultFile.model_validate(result_data(result, Origin("", ""), derived=False))


def result_data(result: Result, origin: Origin, *, derived: bool = True) -> dict[str, Any]:
    """The whole result as plain data: numbers in SI, sentences in the units of the beam's file. `derived`:
    with the derivations."""
    beam, forces, curves, at = result.beam, result.forces, result.curves, result.forces.stations
    levels, system = list(forces.envelopes), SYSTEMS[beam.units]
    return {
        "format": "upright-bramble/result",
        "version": 2,
        "tool_version": __version__,
        "beam_file": origin.beam_file,
        "input_sha256": origin.input_sha256,
        "layout_sha256": origin.layout_sha256,
        "derived": derived,
        "beam": beam_data(beam, result.code_title, {size: result.label(size) for size in _sizes(result)}),
        "verdict": _verdict(result),
        "levels": [_level(name, part) for name, part in result.parts],
        "reactions": reactions_data(beam, forces),
        "stations": {
            "x_mm": numbers(at.x, 1.0, 3),
            "span": [int(v) + 1 for v in at.span],
            "strength": envelope_data(forces.envelopes[levels[0]]),
            "redistributed": envelope_data(forces.redistributed)
            if forces.redistributed is not None
            else None,
            "design": {
                "moment_max_kNm": numbers(curves.design_moment_max, 1e-6),
                "moment_min_kNm": numbers(curves.design_moment_min, 1e-6),
                "shear_kN": numbers(curves.design_shear, 1e-3),
            },
            "service": {level: envelope_data(forces.envelopes[level]) for level in levels[1:]},
            "steel": {
                "top_required_mm2": numbers(curves.top_required, 1.0, 2),
                "top_provided_mm2": numbers(curves.top_provided, 1.0, 2),
                "bottom_required_mm2": numbers(curves.bottom_required, 1.0, 2),
                "bottom_provided_mm2": numbers(curves.bottom_provided, 1.0, 2),
                "top_percent": None if curves.top_percent is None else numbers(curves.top_percent, 1.0, 4),
                "bottom_percent": None
                if curves.bottom_percent is None
                else numbers(curves.bottom_percent, 1.0, 4),
            },
            "resistance": {
                "moment_positive_kNm": numbers(curves.moment_positive, 1e-6),
                "moment_negative_kNm": numbers(curves.moment_negative, 1e-6),
                "shear_kN": numbers(curves.shear_total, 1e-3),
                "shear_concrete_kN": numbers(curves.shear_concrete, 1e-3),
            },
            "deflection": {
                "immediate_mm": numbers(curves.deflection_immediate, 1.0),
                "long_term_mm": numbers(curves.deflection_long_term, 1.0),
                "after_finishes_mm": numbers(curves.deflection_after_finishes, 1.0),
                "striking_mm": numbers(curves.deflection_striking, 1.0),
                "live_mm": _numbers_or_none(curves.deflection_live),
                "after_partitions_mm": _numbers_or_none(curves.deflection_after_partitions),
            },
            "crack": {
                "top_mm": numbers(curves.crack_top, 1.0),
                "bottom_mm": numbers(curves.crack_bottom, 1.0),
            },
            "stress": {
                "top_MPa": numbers(curves.stress_top, 1.0),
                "bottom_MPa": numbers(curves.stress_bottom, 1.0),
            },
            "shear": {"strut_cot": numbers(curves.strut_cot, 1.0) if result.has_strut_angle else None},
        },
        "checks": [_check(c, system) for c in result.checks],
        "bars": [
            {
                "mark": i.bar.mark,
                "face": i.bar.face,
                "layer": i.bar.layer,
                "count": i.bar.count,
                "size": i.bar.size,
                "diameter_mm": i.diameter,
                "start_mm": i.bar.start,
                "end_mm": i.bar.end,
                "ends": list(i.bar.ends),
                "legs_mm": list(i.bar.legs),
                "held": i.bar.held,
                "shape_code": i.shape,
                "cut_length_mm": round(i.cut_length, 1),
                "mass_kg": i.mass,
                "axis_mm": round(i.axis, 2),
                "dimensions_mm": dict(i.dimensions),
                "mandrel_mm": round(i.mandrel, 1),
                **_bent_up(i),
            }
            for i in result.bars
        ],
        "stirrups": [
            {
                "mark": i.zone.mark,
                "size": i.zone.size,
                "diameter_mm": i.diameter,
                "legs": i.zone.legs,
                "start_mm": i.zone.start,
                "end_mm": i.zone.end,
                "spacing_mm": i.zone.spacing,
                "count": i.zone.count,
                "held": i.zone.held,
                "shape_code": i.shape,
                "cut_length_mm": round(i.cut_length, 1),
                "mass_kg": i.mass,
                "dimensions_mm": dict(i.dimensions),
                "links": i.links,
                "link_length_mm": round(i.link_length, 1),
                "strut_cot": round(i.strut, 4),
                "shear_model": i.model,
                "mandrel_mm": round(i.mandrel, 1),
            }
            for i in result.stirrups
        ],
        "alternatives": [
            {
                "face": r.face,
                "spans": [r.first_span + 1, r.last_span + 1],
                "through": r.through,
                "extra": r.extra,
                "cost": round(r.cost, 2),
                "extra_cost": round(r.extra_cost, 2),
                "because": {name: round(v, 2) for name, v in r.because},
            }
            for r in result.runners
        ],
        "stages": [
            {
                "name": s.name,
                "age_days": round(s.age, 2) if math.isfinite(s.age) else None,
                "creep": round(s.creep, 4),
                "modulus_MPa": round(s.modulus, 1),
                "tensile_strength_MPa": round(s.tensile_strength, 4),
                "shrinkage": round(s.shrinkage, 9),
            }
            for s in result.stages
        ],
        "inputs": [
            {"topic": t, "name": n, "value": v, "usual": usual, "source": source}
            for t, n, v, usual, source in echoed(beam)
        ],
        "workings": [_working(w) for w in workings(result)] if derived else [],
        "weighed": result.weighed,
        "quantities": {k: round(v, 4) for k, v in result.quantities.items()},
        "messages": [
            {
                "severity": m.severity,
                "text": worded(m.text, system),
                "where": worded(m.where, system),
                "topic": m.topic,
            }
            for m in result.messages
        ],
    }


def _sizes(result: Result) -> list[str]:
    """Sizes of bars and stirrups that the result has, thinnest first."""
    collected = {i.bar.size: i.diameter for i in result.bars} | {
        i.zone.size: i.diameter for i in result.stirrups
    }
    return sorted(collected, key=lambda size: (collected[size], size))


def working_out(w: Working) -> WorkingOut:
    """A derivation as results hold it."""
    return WorkingOut.model_validate(_working(w))


def _working(w: Working) -> dict[str, Any]:
    """Empty parts are left out."""
    lines = []
    for line in w.lines:
        parts = {
            "symbol": line.symbol,
            "value": float(f"{line.value:.9g}") if math.isfinite(line.value) else None,
            "unit": line.unit,
        }
        texts = {key: getattr(line, key) for key in ("text", "formula", "numbers", "clause", "condition")}
        lines.append(parts | {key: text for key, text in texts.items() if text})
    return {"check": w.check, "sought": w.sought, "lines": lines}


def to_json(data: Any) -> str:
    """Readable and compact: an object a line for lists of objects, one line for lists of numbers."""
    return _pretty(data, 0) + "\n"


def _pretty(data: Any, depth: int) -> str:
    pad = " " * (depth + 1)
    if isinstance(data, dict) and depth < 4 and data:
        inner = ",\n".join(f"{pad}{json.dumps(k)}: {_pretty(v, depth + 1)}" for k, v in data.items())
        return "{\n" + inner + "\n" + " " * depth + "}"
    if isinstance(data, list) and data and isinstance(data[0], dict):
        return (
            "[\n"
            + ",\n".join(pad + json.dumps(v, ensure_ascii=False, allow_nan=False) for v in data)
            + "\n"
            + " " * depth
            + "]"
        )
    return json.dumps(data, ensure_ascii=False, allow_nan=False)
