"""What goes where: the elevation on top, bars drawn out below it in the order they are fixed, sections,
schedule, title block."""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Sequence
from dataclasses import replace
from typing import TypeAlias

from upright_bramble.files.result_file import ResultFile
from upright_bramble.present.drawing.elevation import elevation, match_lines
from upright_bramble.present.drawing.model import Sheet
from upright_bramble.present.drawing.piece import EDGE, LEFT, Piece, Written
from upright_bramble.present.drawing.sections import Cut, cuts_of, draw_cut, height_of, width_of
from upright_bramble.present.drawing.tables import (
    TITLE_SIZE,
    draw_schedule,
    draw_title,
    schedule_height,
    schedule_width,
)
from upright_bramble.present.schedule import schedule_of

PAPERS = {
    "mm": ((420.0, 297.0), (594.0, 420.0), (841.0, 594.0)),
    "in": ((431.8, 279.4), (558.8, 431.8), (863.6, 558.8)),
}
SCALES = {"mm": (20, 25, 40, 50), "in": (24, 32, 48)}
FARTHER = {"mm": (75, 100, 150, 200), "in": (64, 96, 192)}
ENDS = 24.0  # beside the elevation for what stands at its ends
NEXT = 1  # paper sizes above the smallest that one sheet is taken of rather than several


def sheets_of(result: ResultFile, version: str) -> list[Sheet]:
    """All sheets of a beam's drawing: of the smallest paper that shows the beam at a scale to be read, or
    one of the next size where that has room for everything."""
    kind = "in" if result.beam.units == "us" else "mm"
    cuts = cuts_of(result)
    sheets: list[Sheet] = []
    scale = 1.0
    for paper, nearest, stretches in itertools.islice(_papers(result, kind), NEXT + 1):
        drawn = _drawn(result, cuts, paper, nearest, stretches)
        if not sheets or len(drawn) == 1:
            sheets, scale = drawn, nearest
        if len(sheets) == 1:
            break
    for number, sheet in enumerate(sheets, start=1):
        scales = f"1:{scale:g}, sections 1:{_section_scale(result):g}"
        draw_title(sheet, result, f"{number} of {len(sheets)}", scales, version)
    return sheets


Paper: TypeAlias = tuple[tuple[float, float], float, list[tuple[float, float]]]
"""Its size, the scale, and the stretches of the beam that its sheets show."""


def _drawn(
    result: ResultFile,
    cuts: Sequence[Cut],
    paper: tuple[float, float],
    scale: float,
    stretches: Sequence[tuple[float, float]],
) -> list[Sheet]:
    """Sheets without their titles."""
    (width, height), written = paper, Written(result.beam)
    sheets: list[Sheet] = []
    low = height
    for number, (start, end) in enumerate(stretches):
        sheet = _new_sheet(result, sheets, width, height)
        piece = Piece(start, end, scale, LEFT + ENDS)
        low = elevation(sheet, result, written, piece, cuts, height - EDGE - 6.0)
        if len(stretches) > 1:
            match_lines(sheet, piece, number, len(stretches), low, height)
    _sections_and_tables(result, written, sheets, cuts, low, (width, height))
    return sheets


def _new_sheet(result: ResultFile, sheets: list[Sheet], width: float, height: float) -> Sheet:
    sheet = Sheet(f"{result.beam.mark} {len(sheets) + 1}", width, height)
    sheet.box(LEFT, EDGE, width - LEFT - EDGE, height - 2.0 * EDGE, "frame")
    sheets.append(sheet)
    return sheet


def _papers(result: ResultFile, kind: str) -> Iterator[Paper]:
    """From the smallest paper, with the nearest scale that shows the whole beam on a sheet; past the largest
    it breaks over sheets at supports."""
    low, high = result.beam.ends_mm
    shown = False
    for paper in PAPERS[kind]:
        room = paper[0] - LEFT - EDGE - 2.0 * ENDS
        for scale in SCALES[kind]:
            if (high - low) / scale <= room and _fits(result, paper, scale):
                shown = True
                yield paper, float(scale), [(low, high)]
                break
    if not shown:
        yield _over_sheets(result, kind)


def _over_sheets(result: ResultFile, kind: str) -> Paper:
    """The largest paper, in stretches from support to support."""
    low, high = result.beam.ends_mm
    paper, scale = PAPERS[kind][-1], SCALES[kind][-1]
    room = paper[0] - LEFT - EDGE - 2.0 * ENDS
    longest = max(s.end_mm - s.start_mm for s in result.beam.spans) + 1000.0
    scale = next((s for s in (scale, *FARTHER[kind]) if longest / s <= room), FARTHER[kind][-1])
    stretches: list[tuple[float, float]] = []
    start = low
    for before, after in zip(result.beam.spans, [*result.beam.spans[1:], None], strict=True):
        if after is None or (after.end_mm - start + 500.0) / scale > room:
            end = high if after is None else before.end_mm
            stretches.append((start, end))
            start = end
    return paper, float(scale), stretches


def _fits(result: ResultFile, paper: tuple[float, float], scale: float) -> bool:
    """Whether the elevation with its bars drawn out has room on one sheet, or the paper is the largest."""
    if paper in (PAPERS["mm"][-1], PAPERS["in"][-1]):
        return True
    low, high = result.beam.ends_mm
    piece, trial = Piece(low, high, scale, LEFT + ENDS), Sheet("", *paper)
    written = Written(result.beam)
    return (
        elevation(trial, result, written, piece, cuts_of(result), paper[1] - EDGE - 6.0)
        > EDGE + TITLE_SIZE[1] + 4.0
    )


# ---------------------------------------------------------------- elevation


# ---------------------------------------------------------------- bars drawn out


# ---------------------------------------------------------------- sections and tables


def _section_scale(result: ResultFile) -> float:
    deepest = max(max(s.section_start.depth_mm, s.section_end.depth_mm) for s in result.beam.spans)
    if result.beam.units == "us":
        return 16.0 if deepest <= 800.0 else 24.0
    return 20.0 if deepest <= 900.0 else 25.0


def _rows_of_cuts(result: ResultFile, cuts: Sequence[Cut], room: float) -> list[tuple[list[Cut], float]]:
    """Sections side by side, in as many rows as they take, with the height of each."""
    scale = _section_scale(result)
    rows: list[tuple[list[Cut], float]] = []
    x = room
    for cut in cuts:
        w, h = width_of(cut, scale), height_of(cut, scale)
        if x + w > room:
            rows.append(([], 0.0))
            x = 0.0
        rows[-1] = ([*rows[-1][0], cut], max(rows[-1][1], h))
        x += w
    return rows


def _sections_and_tables(
    result: ResultFile,
    written: Written,
    sheets: list[Sheet],
    cuts: Sequence[Cut],
    low: float,
    paper: tuple[float, float],
) -> None:
    """Below the elevation where there is room, else on further sheets."""
    width, height = paper
    sheet, y, scale = sheets[-1], low - 4.0, _section_scale(result)
    for row, h in _rows_of_cuts(result, cuts, width - LEFT - EDGE):
        beside = sum(width_of(cut, scale) for cut in row) <= width - LEFT - EDGE - TITLE_SIZE[0] - 4.0
        floor = EDGE + 4.0 + (0.0 if beside else TITLE_SIZE[1])
        if y - h < floor:
            sheet, y = _new_sheet(result, sheets, width, height), height - EDGE - 6.0
        x = LEFT + 2.0
        for cut in row:
            draw_cut(sheet, cut, written.length, x, y, scale)
            x += width_of(cut, scale)
        y -= h
    _schedule(result, sheets, sheet, y, paper)


def _schedule(
    result: ResultFile, sheets: list[Sheet], sheet: Sheet, y: float, paper: tuple[float, float]
) -> None:
    """In columns beside each other, clear of the title block; on a sheet of its own where it would be cut up
    small."""
    (width, height), schedule = paper, schedule_of(result)
    lines, x, bare = list(schedule.lines), LEFT + 4.0, schedule_height(replace(schedule, lines=()))
    wide = schedule_width(schedule)
    while lines:
        over_title = x + wide > width - EDGE - TITLE_SIZE[0] - 4.0
        floor = EDGE + 4.0 + (TITLE_SIZE[1] + 4.0 if over_title else 0.0)
        fits = int((y - 4.0 - floor - bare) / 5.0)
        if x + wide > width - EDGE - 2.0 or fits < min(len(lines), 6):
            sheet, y, x = _new_sheet(result, sheets, width, height), height - EDGE - 6.0, LEFT + 4.0
            continue
        part, lines = lines[:fits], lines[fits:]
        draw_schedule(sheet, schedule, part, x, y - 4.0, last=not lines)
        x += wide + 8.0
