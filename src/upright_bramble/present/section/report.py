"""The calculation report of one cross-section: what it says, and its three forms."""

from __future__ import annotations

import functools
import io
import json
from importlib.resources import files
from typing import TYPE_CHECKING, Any

import numpy as np

from upright_bramble.beam import Steel
from upright_bramble.codes import DesignCode
from upright_bramble.core.quantities import SYSTEMS, UnitSystem, ratio_text, significant, worded
from upright_bramble.core.topics import TOPICS
from upright_bramble.files.result_data import working_out
from upright_bramble.files.result_file import LineOut
from upright_bramble.present import mathematics as maths
from upright_bramble.present.glyphs import MONO, all_drawable
from upright_bramble.present.section.figure import section_drawing, section_figure
from upright_bramble.present.section.view import (
    arrangement,
    axis_of,
    governing_set,
    name_of,
    ordered,
    said,
    set_table,
    shown,
    values_of,
    verdict_of,
    word_of,
)
from upright_bramble.present.working_view import has_numbers, md, value_text
from upright_bramble.verify.derive import Workings
from upright_bramble.verify.result import Check
from upright_bramble.verify.sections.by_hand import Line
from upright_bramble.verify.sections.judge import Verdict
from upright_bramble.verify.sections.model import CrossSection
from upright_bramble.verify.sections.values import set_lines

if TYPE_CHECKING:
    from jinja2 import Template
    from matplotlib.figure import Figure


def section_report(
    section: CrossSection, code: DesignCode, units: str, verdict: Verdict, depth: str, tool: str
) -> dict[str, Any]:
    """Everything for the templates: plain text and numbers in the file's units."""
    system = SYSTEMS[units]
    values = values_of(section, code, verdict)
    if depth == "full":
        values += [
            v
            for s in section.forces
            if s is not governing_set(section, verdict)
            for v in _of_set(section, code, s, verdict)
        ]
    result: dict[str, Any] = {
        "depth": depth,
        "title": section.title,
        "about": dict(section.about),
        "code": code.title,
        "tool": tool,
        "axis": axis_of(section),
        "status": verdict.status if section.bars else "",
        "verdict": verdict_of(section, verdict),
        "inputs": _inputs(section, code, system),
        "checks": [_row(section, c, system) for c in ordered(verdict)],
        "gaps": [
            {"topic": TOPICS.get(g.topic, g.topic), "by": g.by, "reason": worded(g.reason, system)}
            for g in verdict.gaps
        ],
        "waived": [{"topic": TOPICS.get(k, k), "reason": v} for k, v in section.waive.items()],
        "values": _grouped(values, system),
        "workings": _workings(section, verdict) if depth == "full" else [],
    }
    head, rows = set_table(section, verdict, system)
    result["sets"] = {"head": head, "rows": rows} if section.forces else None
    return result


def _of_set(section: CrossSection, code: DesignCode, forces: Any, verdict: Verdict) -> list[Line]:
    from dataclasses import replace

    lines = set_lines(section, code, forces, verdict)
    return [
        replace(v, heading=f"{v.heading}, {forces.name}", symbol=code.words.symbols.get(v.symbol, v.symbol))
        for v in lines
    ]


def _inputs(section: CrossSection, code: DesignCode, system: UnitSystem) -> list[tuple[str, str]]:
    k, unit = system.factor("section"), system.unit("section")
    c, w, covers = section.concrete, section.wanted, section.cover
    each = zip(("top", "bottom", "sides"), (covers.top, covers.bottom, covers.sides), strict=True)
    cover = ", ".join(f"{name} {significant(v / k)}" for name, v in each)

    def steel(s: Steel) -> str:
        return (
            s.grade
            or f"{significant(s.strength / system.factor('steel stress'))} {system.unit('steel stress')}"
        )

    result = [
        (
            "concrete",
            f"{c.grade or significant(c.strength)}; aggregate {significant(c.aggregate / k)} {unit}; "
            f"{c.diagram} diagram",
        ),
        ("bars", f"{steel(section.bars_steel)}; {section.bars_steel.branch} branch"),
        ("stirrups", steel(section.stirrups_steel)),
        ("cover to the stirrup", f"{cover} {unit}"),
        ("reinforcement", arrangement(section, code, system) or "none given"),
        ("concrete behind compressed bars", "deducted" if section.displaced else "counted"),
    ]
    if section.delta < 1.0:
        result.append(("redistribution", f"{section.delta:g} of the elastic moment"))
    if section.ultimate_strain is not None:
        result.append(("ultimate strain of the concrete", f"{1e3 * section.ultimate_strain:g} ‰, user value"))
    if section.service:
        exposure = f", exposure {w.exposure}" if w.exposure else ""
        result.append(
            ("in service", f"humidity {w.humidity:g} %, loaded at {w.age_at_loading:g} days{exposure}")
        )
    return result


def _row(section: CrossSection, c: Check, system: UnitSystem) -> dict[str, Any]:
    demand, limit, unit = said(c, system)
    many = len(section.forces) > 1 or len(section.service) > 1
    note = "" if c.ok else worded(c.note, system)
    return {
        "word": word_of(c),
        "name": name_of(c),
        "by": c.by if many else "",
        "demand": demand,
        "limit": limit,
        "unit": unit,
        "ratio": ratio_text(c.ratio),
        "number": round(min(c.ratio, 1.0), 4),
        "clause": c.clause,
        "note": note,
    }


def _grouped(lines: list[Line], system: UnitSystem) -> list[dict[str, Any]]:
    groups: dict[str, list[dict[str, str]]] = {}
    for v in lines:
        value, unit = shown(v, system)
        number = "none suffices" if not np.isfinite(value) else significant(value, 4)
        groups.setdefault(v.heading, []).append(
            {
                "what": worded(v.what, system),
                "symbol": v.symbol,
                "value": number,
                "unit": unit,
                "clause": v.clause,
            }
        )
    return [{"heading": h, "rows": rows} for h, rows in groups.items()]


def _workings(section: CrossSection, verdict: Verdict) -> list[dict[str, Any]]:
    """Derivations of the checks that the rules of beams make, each kind once, of its worst set."""
    result: list[dict[str, Any]] = []
    done: set[str] = set()
    made: dict[str, Workings] = {}
    for c in ordered(verdict):
        name = c.by or next(iter(verdict.pieces), "")
        piece = verdict.pieces.get(name)
        if piece is None or piece.facts is None or c.id in done:
            continue
        own = [
            v
            for v in piece.checks
            if v.kind.id == c.kind.id and abs(v.demand - c.demand) <= 1e-9 * max(abs(c.demand), 1.0)
        ]
        if not own:
            continue
        done.add(c.id)
        made.setdefault(name, Workings(piece.facts))
        lines = working_out(made[name].of(own[0])).lines
        result.append({"name": name_of(c), "by": c.by if len(section.forces) > 1 else "", "lines": lines})
    return result


# ---------------------------------------------------------------- forms


@functools.cache
def _template() -> Template:
    from jinja2 import Environment

    text = files("upright_bramble.present.section").joinpath("section.html.j2").read_text("utf-8")
    return Environment(autoescape=True, trim_blocks=True, lstrip_blocks=True).from_string(text)


def _svg(figure: Figure, fonts: str) -> str:
    """Text of a drawing, the same each time: with text as text, or as outlines where the fonts are not at
    hand."""
    import matplotlib as mpl

    out = io.StringIO()
    with mpl.rc_context({"svg.fonttype": fonts, "svg.hashsalt": "upright-bramble"}):
        figure.savefig(out, format="svg", metadata={"Date": None, "Creator": "Upright Bramble"})
    return out.getvalue()


def pictures(
    section: CrossSection, code: DesignCode, units: str, verdict: Verdict, depth: str, fonts: str
) -> list[str]:
    """The section with strains and stresses, and in a full report the curves."""
    if not section.bars:
        return []
    result = [_svg(section_drawing(section, units, verdict), fonts)]
    if depth == "full":
        result.append(_svg(section_figure(section, code, units, verdict), fonts))
    return result


def html(report: dict[str, Any], drawings: list[str]) -> bytes:
    """Bytes of the page."""
    from html import escape

    from markupsafe import Markup

    def math(line: LineOut) -> Markup:
        parts = [maths.mathml(line.formula), maths.mathml(line.numbers)] if has_numbers(line) else []
        parts.append(f"<mtext>{escape(value_text(line))}</mtext>")
        first, *more = parts
        rest = "".join(f" <math><mo>=</mo>{p}</math>" for p in more)
        return Markup(f"<math>{maths.mathml_symbol(line.symbol)}<mo>=</mo>{first}</math>{rest}")

    shown_pictures = [Markup(d[d.index("<svg") :]) for d in drawings]
    return (
        _template()
        .render(**report, pictures=shown_pictures, math=math, condition=maths.condition_text)
        .encode()
    )


def pdf(report: dict[str, Any], drawings: list[str]) -> bytes:
    """Bytes of the document. What users wrote goes in as data and is never read as markup."""
    import typst

    template = files("upright_bramble.present.section").joinpath("section.typ").read_text("utf-8")
    formulas: dict[str, int] = {}
    workings = []
    for w in report["workings"]:
        lines = []
        for line in w["lines"]:
            parts = [maths.typst_symbol(line.symbol)]
            if has_numbers(line):
                parts += [maths.typst_math(line.formula), maths.typst_math(line.numbers)]
            text = " = ".join(parts)
            formulas.setdefault(text, len(formulas))
            condition = f"as {maths.condition_text(line.condition)}" if line.condition else ""
            words = "; ".join(v for v in (line.text, condition) if v)
            lines.append(
                {
                    "math": formulas[text],
                    "value": value_text(line).replace(" ", "\u00a0"),
                    "notes": words,
                    "clause": line.clause,
                }
            )
        workings.append({**w, "lines": lines})
    drawable = all_drawable({**report, "workings": workings, "maths": list(formulas)}, MONO)
    data = json.dumps({**drawable, "pictures": drawings}, ensure_ascii=True, allow_nan=False)
    result: bytes = typst.compile(
        template.encode(), sys_inputs={"data": data}, format="pdf", ignore_system_fonts=True, timestamp=0
    )
    return result


def markdown(report: dict[str, Any]) -> bytes:
    """Bytes of the text; formulas in LaTeX."""
    out = [f"# {md(report['title'])}", "", *(f"- {md(k)}: {md(v)}" for k, v in report["about"].items()), ""]
    out += [
        f"**{report['status'] or 'required'}**: {md(report['verdict'])}.",
        "",
        f"{md(report['code'])}; {md(report['axis'])}.",
        "",
    ]
    out += [
        f"- not verified: {md(g['topic'])}: {md(g['reason'])}" + (f" ({md(g['by'])})" if g["by"] else "")
        for g in report["gaps"]
    ]
    out += [f"- waived: {md(w['topic'])}: {md(w['reason'])}" for w in report["waived"]]
    out += ["", "## Inputs", "", *_md_table(["", ""], [list(p) for p in report["inputs"]])]
    if report["checks"]:
        rows = [
            [
                c["word"],
                c["name"] + (f" ({c['by']})" if c["by"] else ""),
                c["demand"],
                c["limit"],
                c["unit"],
                c["ratio"],
                c["clause"],
            ]
            for c in report["checks"]
        ]
        out += [
            "## Checks",
            "",
            *_md_table(["", "check", "demand", "limit", "unit", "ratio", "clause"], rows),
        ]
        out += [f"- {md(c['name'])}: {md(c['note'])}" for c in report["checks"] if c["note"]] + [""]
    if report["sets"]:
        out += ["## Sets of forces", "", *_md_table(report["sets"]["head"], report["sets"]["rows"])]
    out += ["## Values", ""]
    for g in report["values"]:
        rows = [[v["what"], v["symbol"], v["value"], v["unit"], v["clause"]] for v in g["rows"]]
        out += [f"### {md(g['heading'])}", "", *_md_table(["", "", "", "", ""], rows)]
    for w in report["workings"]:
        out += [f"### {md(w['name'])}" + (f" ({md(w['by'])})" if w["by"] else ""), ""]
        for line in w["lines"]:
            parts = [maths.latex_symbol(line.symbol)]
            if has_numbers(line):
                parts += [maths.latex(line.formula), maths.latex(line.numbers)]
            words = "; ".join(
                v
                for v in (
                    line.text,
                    line.condition and f"as {maths.condition_text(line.condition)}",
                    line.clause,
                )
                if v
            )
            out.append(
                f"- $`{' = '.join(parts)}`$ = {md(value_text(line))}" + (f" ({md(words)})" if words else "")
            )
        out.append("")
    return ("\n".join(out).rstrip() + "\n").encode()


def _md_table(head: list[str], rows: list[list[str]]) -> list[str]:
    return [
        f"| {' | '.join(head)} |",
        "|" + "---|" * len(head),
        *(f"| {' | '.join(md(str(c)) for c in row)} |" for row in rows),
        "",
    ]
