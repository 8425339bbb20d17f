"""The schedule as a table, and the title block."""

from __future__ import annotations

from collections.abc import Sequence

from upright_bramble.core.bars import counted
from upright_bramble.files.result_file import ResultFile
from upright_bramble.present.checks import verdict_line
from upright_bramble.present.drawing.model import LARGE, SMALL, Sheet, text_width
from upright_bramble.present.schedule import Line, Schedule

FIRST = (("mark", 16.0), ("bars", 26.0), ("shape", 14.0))
SIDE = 17.0
LAST = (("mandrel", 18.0), ("cut", 18.0), ("mass", 22.0))


def columns(s: Schedule) -> tuple[tuple[str, float], ...]:
    """Heads and widths; of the dimensions as many as its pieces have, three at least."""
    sides = sorted({"A", "B", "C"} | {k for v in s.lines for k in v.sides})
    return (*FIRST, *((letter, SIDE) for letter in sides), *LAST)


def schedule_width(s: Schedule) -> float:
    return sum(w for _, w in columns(s))


ROW = 5.0
TITLE_SIZE = (150.0, 45.0)
EDGE = 10.0


def schedule_height(s: Schedule) -> float:
    """With its heading, the totals and the rule."""
    return 7.0 + ROW * (len(s.lines) + 2) + 6.0


def draw_schedule(
    sheet: Sheet, s: Schedule, lines: Sequence[Line], x: float, y: float, *, last: bool
) -> None:
    """From the upper left corner at (x, y) downwards."""
    sheet.text(x, y - 4.5, f"Bars of {s.beam}, lengths in {s.unit}, masses in {s.mass_unit}", LARGE)
    y -= 7.0
    heads = columns(s)
    letters = [name for name, _ in heads[len(FIRST) : -len(LAST)]]
    rows: list[tuple[str, ...]] = [tuple(name for name, _ in heads)]
    for v in lines:
        known = v.sides
        bars = counted(v.number, s.label(v.size))
        sides = [s.side(known[k]).replace(" to ", "–") if k in known else "" for k in letters]
        rows.append(
            (
                v.mark,
                bars,
                v.shape,
                *sides,
                s.length(v.mandrel) if v.mandrel else "",
                s.length(v.cut_length),
                s.mass(v.mass),
            )
        )
    if last:
        rows.append(("total", *[""] * (len(heads) - 2), s.mass(s.total)))
    edges = [x]
    for _, w in heads:
        edges.append(edges[-1] + w)
    for r, row in enumerate(rows):
        level = y - ROW * (r + 1)
        sheet.line([(x, level), (edges[-1], level)], "table")
        for c, text in enumerate(row):
            if c < 3:
                sheet.text(edges[c] + 1.5, level + 1.2, text)
            else:
                sheet.text(edges[c + 1] - 1.5, level + 1.2, text, SMALL, "right")
    sheet.line([(x, y), (edges[-1], y)], "table")
    for edge in edges:
        sheet.line([(edge, y), (edge, y - ROW * len(rows))], "table")
    if last:
        for k, part in enumerate(_wrapped(s.rule, schedule_width(s))):
            sheet.text(x, y - ROW * len(rows) - 4.0 - 3.6 * k, part, SMALL)


def _wrapped(text: str, width: float) -> list[str]:
    lines = [""]
    for word in text.split():
        if text_width(f"{lines[-1]} {word}") > width and lines[-1]:
            lines.append("")
        lines[-1] = f"{lines[-1]} {word}".strip()
    return lines


def draw_title(sheet: Sheet, result: ResultFile, number: str, scales: str, version: str) -> None:
    """At the lower right corner."""
    w, h = TITLE_SIZE
    x, y = sheet.width - EDGE - w, EDGE
    beam, about = result.beam, result.beam.about
    sheet.box(x, y, w, h, "frame")
    rows = (
        (("project", about.get("project", ""), 150.0),),
        (("beam", f"{beam.mark}  {beam.full_title}", 150.0),),
        (("code", beam.code_title, 150.0),),
        (("concrete, bars", f"{beam.concrete}, {beam.steel}", 90.0), ("scales", scales, 60.0)),
        (
            ("author", about.get("author", ""), 50.0),
            ("date", about.get("date", ""), 40.0),
            ("revision", about.get("revision", ""), 30.0),
            ("sheet", number, 30.0),
        ),
    )
    step = h / len(rows)
    for r, row in enumerate(rows):
        level, at = y + h - step * (r + 1), x
        sheet.line([(x, level), (x + w, level)], "table")
        for name, text, wide in row:
            sheet.text(at + 1.5, level + step - 3.2, name, 1.8)
            sheet.text(at + 1.5, level + 1.2, _cut(text, wide - 3.0), SMALL)
            at += wide
            if at < x + w - 1.0:
                sheet.line([(at, level), (at, level + step)], "table")
    footer = f"Upright Bramble {version}; {verdict_line(result.verdict)}"
    sheet.text(x, y + h + 1.2, _cut(footer, w), 1.8)


def _cut(text: str, width: float) -> str:
    """As much of a text as there is room for."""
    if text_width(text) <= width:
        return text
    return text[: max(int(width / text_width("x")) - 1, 1)] + "…"
