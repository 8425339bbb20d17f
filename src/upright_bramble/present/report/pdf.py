"""The report typeset: text and mathematics that can be selected, no clock and no font of the machine in
it."""

from __future__ import annotations

import json
from importlib.resources import files
from typing import Any

from upright_bramble.core.quantities import SYSTEMS, ratio_text
from upright_bramble.files.result_file import LineOut, ResultFile
from upright_bramble.present import mathematics as maths
from upright_bramble.present.checks import against, place, word_of
from upright_bramble.present.diagrams import chart
from upright_bramble.present.glyphs import MONO, all_drawable
from upright_bramble.present.painters import svg
from upright_bramble.present.working_view import as_before, check_called, has_numbers, value_text, working_of


def pdf(report: dict[str, Any]) -> bytes:
    """Bytes of the document. What users wrote goes in as data and is never read as markup."""
    import typst

    template = files("upright_bramble.present.report").joinpath("report.typ").read_text("utf-8")
    beams = [_beam(b, report["depth"]) for b in report["beams"]]
    # each formula is set once, however often it stands there
    lines = [line for b in beams for w in b["derivations"] for line in w["lines"]]
    formulas = {text: k for k, text in enumerate(dict.fromkeys(line["math"] for line in lines))}
    for line in lines:
        line["math"] = formulas[line["math"]]
    drawable = all_drawable({**report, "beams": beams, "maths": list(formulas)}, MONO)
    data = json.dumps(drawable, ensure_ascii=True, allow_nan=False)
    result: bytes = typst.compile(
        template.encode(), sys_inputs={"data": data}, format="pdf", ignore_system_fonts=True, timestamp=0
    )
    return result


def _beam(beam: dict[str, Any], depth: str) -> dict[str, Any]:
    r: ResultFile = beam["result"]
    result = {key: value for key, value in beam.items() if key != "result"}
    result["chart"] = svg(chart(r, width=740.0, few=depth == "brief"), family="Libertinus Serif")
    result["derivations"] = [_working(r, w) for w in beam.get("workings", [])]
    return result


def _working(r: ResultFile, wanted: dict[str, Any]) -> dict[str, Any]:
    check = check_called(r, wanted["check"])
    working, system = working_of(r, check), SYSTEMS[r.beam.units]
    return {
        "id": check.id,
        "sought": working.sought + as_before(wanted["before"]),
        "at": place(check, system),
        "word": word_of(check),
        "clause": check.clause,
        "note": check.note,
        "end": f"{against(check, system)}: ratio {ratio_text(check.ratio, 3)}",
        "lines": [_line(working.lines[k]) for k in wanted["show"]],
    }


def _line(line: LineOut) -> dict[str, Any]:
    """`math` is in the notation of the typesetter and comes from clauses alone."""
    parts = [maths.typst_symbol(line.symbol)]
    if has_numbers(line):
        parts += [maths.typst_math(line.formula), maths.typst_math(line.numbers)]
    condition = f"as {maths.condition_text(line.condition)}" if line.condition else ""
    notes = "; ".join(v for v in (line.text, condition) if v)
    return {
        "math": " = ".join(parts),
        "value": value_text(line).replace(" ", "\u00a0"),
        "notes": notes,
        "clause": line.clause,
    }
