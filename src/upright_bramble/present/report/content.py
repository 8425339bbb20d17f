"""What a report says, whatever its form: plain text and numbers, already in the units of each beam."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from typing import Any

import numpy as np

from upright_bramble.core.quantities import SYSTEMS, UnitSystem, ratio_text, significant
from upright_bramble.core.topics import TOPICS as TOPICS
from upright_bramble.files.result_file import CheckOut, EnvelopeOut, ResultFile
from upright_bramble.present.checks import amounts, governing, grouped_gaps, place, word_of
from upright_bramble.present.in_spans import bottom_bars, stirrups_of, top_bars
from upright_bramble.present.levels import levels_table
from upright_bramble.present.numbers import Shown, mass, mass_per_volume
from upright_bramble.present.schedule import schedule_of

DEPTHS = ("brief", "normal", "full")
_FEW_MESSAGES, _FEW_SPANS, _FEW_LETTERS = 9, 16, 160  # what a page has room for
_EVERY_PLACE = (
    "bending.",
    "shear.",
    "torsion.",
    "deflection.",
    "cracking.",
    "anchorage.",
    "lap.",
    "hanging.",
    "flange.",
)
_VERDICTS = {
    "pass": "everything that applies was verified and passes",
    "incomplete": "incomplete: not all that applies was verified",
    "fail": "fails",
}


def report_of(results: Sequence[ResultFile], depth: str, without: Collection[str] = ()) -> dict[str, Any]:
    """Everything for the templates. `without`: topics that are left out, which the report says."""
    beams = [_beam(r, depth, without) for r in results]
    about = next((r.beam.about for r in results if r.beam.about), {})
    one = results[0].beam
    return {
        "depth": depth,
        "title": one.title if len(results) == 1 else f"{len(results)} beams",
        "mark": one.mark if len(results) == 1 else ", ".join(r.beam.mark for r in results),
        "about": dict(about),
        "left_out": [TOPICS[t].lower() for t in TOPICS if t in without],
        "beams": beams,
        "tool": results[0].tool_version,
    }


def _beam(r: ResultFile, depth: str, without: Collection[str]) -> dict[str, Any]:
    system = SYSTEMS[r.beam.units]
    checks = [c for c in r.checks if c.topic not in without]
    result: dict[str, Any] = {
        "result": r,
        "mark": r.beam.mark,
        "title": r.beam.full_title,
        "about": dict(r.beam.about),
        "code": r.beam.code_title,
        "materials": f"{r.beam.concrete}, {r.beam.steel}",
        "status": r.verdict.status,
        "verdict": _VERDICTS[r.verdict.status],
        "governing": _row(r, governing(r), system),
        "steel": _steel(r),
        "along": _along(r, system),
        "worst": [_row(r, c, system) for c in _worst(checks)],
        "counts": _counts(r.checks),
        "covered": _covered(r),
        "messages": [
            {"word": m.severity, "text": m.text, "where": m.where}
            for m in r.messages
            if m.topic not in without
        ],
    }
    stated = {f"{c.id}: {c.note}" for c in r.checks}
    if depth == "brief":
        other = [m for m in result["messages"] if m["text"] not in stated]
        result["more_messages"] = max(len(other) - _FEW_MESSAGES, 0)
        result["messages"] = [{**m, "text": _short(m["text"])} for m in other[:_FEW_MESSAGES]]
        result["more_spans"] = max(len(result["along"]) - _FEW_SPANS, 0)
        result["along"] = result["along"][:_FEW_SPANS]
        result["worst"] = [{**row, "remark": _short(row["remark"])} for row in result["worst"]]
        return result
    result |= {
        "topics": _topics(r, checks, system),
        "inputs": _inputs(r),
        "levels": levels_table(r) if r.levels else None,
        "reactions": _reactions(r, system),
        "peaks": _peaks(r, system),
        "areas": _areas(r, system),
        "stages": _stages(r, system),
        "schedule": _schedule(r),
        "quantities": _quantities(r),
    }
    if depth == "full":
        result["workings"] = _workings(r, checks)
    return result


def _covered(r: ResultFile) -> dict[str, Any]:
    """What was verified, what was not, what was waived and why, what is outside the scope."""
    v = r.verdict
    return {
        "verified": [TOPICS.get(t, t).lower() for t in v.verified],
        "not_verified": [
            {"title": TOPICS.get(topic, topic), "reason": reason, "where": where}
            for reason, topic, where in grouped_gaps(v.not_verified)
        ],
        "waived": [{"title": TOPICS.get(w.topic, w.topic), "reason": w.reason} for w in v.waived],
        "out_of_scope": list(v.out_of_scope),
    }


def _short(text: str) -> str:
    return text if len(text) <= _FEW_LETTERS else text[: _FEW_LETTERS - 4] + " ..."


def _row(r: ResultFile, c: CheckOut, system: UnitSystem) -> dict[str, Any]:
    demand, resistance, unit = amounts(c, system)
    note = "" if c.ok and not c.beside else c.note
    return {
        "id": c.id,
        "topic": c.topic,
        "title": TOPICS.get(c.topic, c.topic.capitalize()),
        "word": word_of(c),
        "ratio": ratio_text(c.ratio),
        "number": round(c.ratio, 4),
        "demand": demand,
        "resistance": resistance,
        "unit": unit,
        "at": place(c, system),
        "clause": c.clause,
        "note": note,
        "by": c.combination,
        "remark": _remark(r, c),
        "beside": c.beside,
    }


def _remark(r: ResultFile, c: CheckOut) -> str:
    """What the user noted on the check, by its id or the beginning of it; the longest such beginning
    counts."""
    own = [key for key in r.beam.remarks if c.id == key or c.id.startswith(f"{key}.")]
    return r.beam.remarks[max(own, key=len)] if own else ""


def _worst(checks: Sequence[CheckOut]) -> list[CheckOut]:
    """The highest ratio of each topic, those told beside another left out."""
    result = []
    for topic in dict.fromkeys([*TOPICS, *(c.topic for c in checks)]):
        own = [c for c in checks if c.topic == topic and not c.beside]
        if own:
            result.append(max(own, key=lambda c: (not c.ok, c.ratio)))
    return result


def _counts(checks: Sequence[CheckOut]) -> dict[str, int]:
    deciding = [c for c in checks if not c.beside]
    words = [word_of(c) for c in deciding]
    return {
        "pass": words.count("pass"),
        "warning": words.count("warning") + words.count("waived"),
        "fail": words.count("fail"),
    }


def _topics(r: ResultFile, checks: Sequence[CheckOut], system: UnitSystem) -> list[dict[str, Any]]:
    """Checks by topic, failing ones first, then by ratio."""
    result = []
    for topic in dict.fromkeys([*TOPICS, *(c.topic for c in checks)]):
        own = sorted((c for c in checks if c.topic == topic), key=lambda c: (c.ok, c.beside, -c.ratio))
        if own:
            result.append(
                {
                    "topic": topic,
                    "title": TOPICS.get(topic, topic.capitalize()),
                    "rows": [_row(r, c, system) for c in own],
                }
            )
    return result


def _steel(r: ResultFile) -> str:
    q = r.quantities
    units = Shown(SYSTEMS[r.beam.units])
    steel = f"{mass(q['steel_kg'], units)} of steel, {mass_per_volume(q['steel_kg_per_m3'], units)}"
    return f"{steel}, at most {q['percent_most']:.2f} % at a face"


def _quantities(r: ResultFile) -> list[tuple[str, str]]:
    q, names = (
        r.quantities,
        {"concrete_m3": ("concrete", "m³"), "formwork_m2": ("formwork", "m²"), "steel_kg": ("steel", "kg")},
    )
    result = [(name, f"{significant(q[key], 4)} {unit}") for key, (name, unit) in names.items() if key in q]
    result += [("cost, by the rates", significant(q["cost"], 4))] if "cost" in q else []
    return [*result, ("carbon", f"{significant(q['carbon_kg'], 3)} kg")] if "carbon_kg" in q else result


def _along(r: ResultFile, system: UnitSystem) -> list[dict[str, str]]:
    """What lies in each span: bottom, top from left to right, stirrups."""
    k, unit = system.factor("span"), system.unit("span")
    return [
        {
            "span": span.name,
            "length": f"{significant((span.end_mm - span.start_mm) / k, 4)} {unit}",
            "bottom": bottom_bars(r, span),
            "top": top_bars(r, span),
            "stirrups": stirrups_of(r, span),
        }
        for span in r.beam.spans
    ]


def _inputs(r: ResultFile) -> list[dict[str, Any]]:
    result: dict[str, list[dict[str, Any]]] = {}
    for i in r.inputs:
        value = f"{i.value} (from {i.source})" if i.source else i.value
        result.setdefault(i.topic, []).append({"name": i.name, "value": value, "usual": i.usual})
    return [{"topic": topic, "rows": rows} for topic, rows in result.items()]


def _reactions(r: ResultFile, system: UnitSystem) -> dict[str, Any]:
    levels = list(dict.fromkeys(v.level for v in r.reactions))
    unit, k = system.unit("force"), system.factor("force") / 1e3
    rows = []
    for name in dict.fromkeys(v.support for v in r.reactions):
        own = {v.level: v for v in r.reactions if v.support == name}
        rows.append(
            [name, *(f"{significant(own[n].max_kN / k)} to {significant(own[n].min_kN / k)}" for n in levels)]
        )
    return {"head": ["support", *(f"{v.replace('_', '-')} {unit}" for v in levels)], "rows": rows}


def _peaks(r: ResultFile, system: UnitSystem) -> list[dict[str, Any]]:
    """Forces at the strength level by span: elastic, and after redistribution where there is any."""
    result = [{"title": "Elastic peaks at the strength level", **_peaks_of(r, r.stations.strength, system)}]
    if r.stations.redistributed is not None:
        result.append(
            {"title": "Peaks after redistribution", **_peaks_of(r, r.stations.redistributed, system)}
        )
    return result


def _peaks_of(r: ResultFile, s: EnvelopeOut, system: UnitSystem) -> dict[str, Any]:
    x, spans = np.array(r.stations.x_mm), np.array(r.stations.span)
    rows = []
    moment, force = system.factor("moment") / 1e6, system.factor("force") / 1e3
    for k, span in enumerate(r.beam.spans, start=1):
        here = np.flatnonzero(spans == k)
        cells = [span.name]
        for values, low, size in ((s.moment_max_kNm, False, moment), (s.moment_min_kNm, True, moment)):
            v = np.array(values)[here]
            i = int(v.argmin() if low else v.argmax())
            cells += [
                significant(float(v[i]) / size),
                f"{(x[here][i] - span.start_mm) / system.factor('span'):.2f}",
            ]
        v = np.maximum(np.array(s.shear_max_kN)[here], -np.array(s.shear_min_kN)[here])
        cells.append(significant(float(v.max()) / force))
        rows.append(cells)
    m, unit, at = system.unit("moment"), system.unit("force"), system.unit("span")
    return {"head": ["span", f"M max {m}", f"at {at}", f"M min {m}", f"at {at}", f"V {unit}"], "rows": rows}


def _areas(r: ResultFile, system: UnitSystem) -> dict[str, Any]:
    """Steel of both faces required and provided, and in percent of b d, where most is required: in spans and
    beside supports."""
    s, x, spans = r.stations.steel, np.array(r.stations.x_mm), np.array(r.stations.span)
    area, along = system.factor("area"), system.factor("span")
    rows = []
    for k, span in enumerate(r.beam.spans, start=1):
        here = np.flatnonzero(
            (spans == k) & (x >= span.clear_start_mm - 1e-6) & (x <= span.clear_end_mm + 1e-6)
        )
        middle = 0.5 * (span.clear_start_mm + span.clear_end_mm)
        for name, required, provided, percent, part in (
            ("bottom", s.bottom_required_mm2, s.bottom_provided_mm2, s.bottom_percent, here),
            ("top, left", s.top_required_mm2, s.top_provided_mm2, s.top_percent, here[x[here] <= middle]),
            ("top, right", s.top_required_mm2, s.top_provided_mm2, s.top_percent, here[x[here] >= middle]),
        ):
            i = int(part[np.array(required)[part].argmax()])
            at = f"{(x[i] - span.start_mm) / along:.2f}"
            share = f"{percent[i]:.2f}" if percent is not None else ""
            rows.append(
                [span.name, name, at, *(significant(v[i] / area, 3) for v in (required, provided)), share]
            )
    unit, at = system.unit("area"), system.unit("span")
    return {
        "head": ["span", "face", f"at {at}", f"required {unit}", f"provided {unit}", "% of b d"],
        "rows": rows,
    }


def _stages(r: ResultFile, system: UnitSystem) -> dict[str, Any]:
    unit = system.unit("stress")
    rows = []
    for s in r.stages:
        age = "at the end" if s.age_days is None else f"{s.age_days:g} days"
        stress = [
            significant(v / system.factor("stress"), 4) for v in (s.modulus_MPa, s.tensile_strength_MPa)
        ]
        rows.append([s.name, age, f"{s.creep or 0.0:.2f}", *stress, f"{1e3 * s.shrinkage:.3f}"])
    return {
        "head": ["stage", "age", "creep", f"modulus {unit}", f"tensile strength {unit}", "shrinkage ‰"],
        "rows": rows,
    }


def _schedule(r: ResultFile) -> dict[str, Any]:
    s = schedule_of(r)
    rows = [
        [
            v.mark,
            v.what,
            s.label(v.size),
            str(v.number),
            v.shape,
            " ".join(f"{k} {s.side(lengths)}" for k, lengths in v.sides.items()),
            s.length(v.mandrel) if v.mandrel else "",
            s.length(v.cut_length),
            s.mass(v.mass),
        ]
        for v in s.lines
    ]
    head = [
        "mark",
        "where",
        "size",
        "number",
        "shape",
        f"dimensions {s.unit}",
        f"mandrel {s.unit}",
        f"cut {s.unit}",
        f"mass {s.mass_unit}",
    ]
    return {"head": head, "rows": rows, "total": f"{s.mass(s.total)} {s.mass_unit} in all; {s.rule}"}


def _workings(r: ResultFile, checks: Sequence[CheckOut]) -> list[dict[str, Any]]:
    """Checks whose derivation the full report has, with the numbers of the lines that are shown and the
    symbols of those that are not, since they stand in the same words in an earlier one.

    Of the kinds that carry a beam every place, of the other kinds the worst, and whatever fails.
    """
    worst: dict[str, CheckOut] = {}
    for c in checks:
        if c.kind not in worst or c.ratio > worst[c.kind].ratio:
            worst[c.kind] = c
    wanted = {c.id for c in checks if c.kind.startswith(_EVERY_PLACE) or not c.ok}
    wanted |= {c.id for c in worst.values()} | {r.verdict.governing}
    workings = {w.check: w.lines for w in r.workings}
    result: list[dict[str, Any]] = []
    stated: set[tuple[str, str, float | None]] = set()
    for c in checks:
        lines = workings.get(c.id, [])
        derived = any(v.formula or v.clause for v in lines) or not c.ok or c.id == r.verdict.governing
        if c.id not in wanted or not lines or not derived:
            continue
        keys = [(v.symbol, v.numbers or v.text, v.value) if v.clause else None for v in lines]
        show = [k for k, key in enumerate(keys) if key is None or key not in stated]
        before = list(dict.fromkeys(lines[k].symbol for k in range(len(lines)) if k not in show))
        stated |= {key for key in keys if key is not None}
        result.append({"check": c.id, "show": show, "before": before})
    return result
