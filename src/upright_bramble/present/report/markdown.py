"""The report as Markdown, formulas in LaTeX between dollars."""

from __future__ import annotations

from typing import Any

from upright_bramble.files.result_file import ResultFile
from upright_bramble.present.working_view import check_called, md, working_md


def markdown(report: dict[str, Any]) -> bytes:
    """Bytes of the text."""
    out = [
        f"# {md(report['mark'])}: {md(report['title'])}",
        "",
        f"Calculation report, {report['depth']}.",
        "",
    ]
    out += [f"- {md(key)}: {md(value)}" for key, value in report["about"].items()] + [""]
    if report["left_out"]:
        out += [f"**Left out of this report: {', '.join(report['left_out'])}.**", ""]
    if len(report["beams"]) > 1:
        rows = [
            [b["mark"], b["title"], b["verdict"], b["governing"]["id"], b["governing"]["ratio"], b["steel"]]
            for b in report["beams"]
        ]
        out += ["## Summary", "", *_table(["beam", "title", "verdict", "governs", "ratio", "steel"], rows)]
    for beam in report["beams"]:
        out += _beam(beam, report["depth"])
    return "\n".join(out).encode()


def _table(head: list[str], rows: list[list[str]]) -> list[str]:
    return [
        "| " + " | ".join(md(h) for h in head) + " |",
        "|" + "---|" * len(head),
        *("| " + " | ".join(md(str(c)) for c in row) + " |" for row in rows),
        "",
    ]


def _checks(rows: list[dict[str, Any]]) -> list[str]:
    cells = []
    for c in rows:
        text = "; ".join(v for v in (c["note"], c["remark"]) if v)
        cells.append(
            [
                c["word"],
                c["id"],
                c["demand"],
                c["resistance"],
                c["unit"],
                c["ratio"],
                c["at"],
                c["clause"],
                text,
            ]
        )
    return _table(["", "check", "demand", "resistance", "", "ratio", "at", "clause", "note"], cells)


def _covered(c: dict[str, Any]) -> list[str]:
    """What was verified, what was not, what was waived and why, what is outside the scope."""
    out = [
        f"- **not verified**: {md(n['title'])} ({md(n['where'])}): {md(n['reason'])}"
        for n in c["not_verified"]
    ]
    out += [f"- **waived**: {md(w['title'])}: {md(w['reason'])}" for w in c["waived"]]
    return [
        *out,
        f"- verified: {md(', '.join(c['verified']) or 'nothing')}",
        f"- not covered: {md('; '.join(c['out_of_scope']))}",
        "",
    ]


def _beam(b: dict[str, Any], depth: str) -> list[str]:
    g, r = b["governing"], b["result"]
    assert isinstance(r, ResultFile)
    out = [
        f"## {md(b['mark'])}: {md(b['title'])}",
        "",
        f"**{b['verdict'].capitalize()}**: {md(g['id'])} governs with {g['ratio']}",
    ]
    out[-1] += (
        f" ({md(g['demand'])} against {md(g['resistance'])} {md(g['unit'])} at x = {md(g['at'])}, "
        f"{md(g['clause'])})."
    )
    out += [
        "",
        f"{md(b['code'])}; {md(b['materials'])}. {md(b['steel'])}.",
        "",
        *_covered(b["covered"]),
        "### Bars",
        "",
    ]
    along = [[s["span"], s["length"], s["bottom"], s["top"], s["stirrups"]] for s in b["along"]]
    out += _table(["span", "length", "bottom", "top, left to right", "stirrups"], along)
    out += ["### Utilisation summary", "", *_checks(b["worst"])]
    if b["messages"]:
        out += ["### Messages", "", *(f"- {m['word']}: {md(m['text'])}" for m in b["messages"]), ""]
    if depth == "brief":
        return out
    out += ["### Inputs", "", "Values marked * are defaults.", ""]
    for t in b["inputs"]:
        out += _table(
            [t["topic"], ""], [[i["name"], i["value"] + (" *" if i["usual"] else "")] for i in t["rows"]]
        )
    for peaks in b["peaks"]:
        out += [f"### {peaks['title']}", "", *_table(peaks["head"], peaks["rows"])]
    for title, key in (
        ("Longitudinal steel where bending requires most", "areas"),
        ("Reactions, greatest to smallest", "reactions"),
        ("Serviceability assumptions", "stages"),
    ):
        out += [f"### {title}", "", *_table(b[key]["head"], b[key]["rows"])]
    if b["levels"]:
        out += ["### Alike beams", "", *_table(b["levels"]["head"], b["levels"]["rows"])]
    out += ["### Checks", ""]
    for t in b["topics"]:
        out += [f"#### {t['title']}", "", *_checks(t["rows"])]
    out += [
        "### Schedule",
        "",
        *_table(b["schedule"]["head"], b["schedule"]["rows"]),
        md(b["schedule"]["total"]),
        "",
    ]
    if depth == "full":
        out += [
            "### Derivations",
            "",
            *(working_md(r, check_called(r, w["check"]), 4, w["show"], w["before"]) for w in b["workings"]),
        ]
    return out
