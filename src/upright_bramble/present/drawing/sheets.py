"""What goes where: the elevation on top, bars drawn out below it in the order they are fixed, sections,
schedule, title block."""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from typing import TypeAlias

import numpy as np

from upright_bramble.core.bars import counted
from upright_bramble.core.quantities import SYSTEMS
from upright_bramble.files.result_file import BarOut, BeamOut, ResultFile, SpanOut, StirrupOut
from upright_bramble.present.along import depth_at, face_at_end, in_faces, kinked, line_of, minimum_depth
from upright_bramble.present.drawing.model import LARGE, SMALL, Dimension, Dot, Sheet, text_width
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
LEFT, EDGE = 20.0, 10.0
ENDS = 24.0  # beside the elevation for what stands at its ends
NEXT = 1  # paper sizes above the smallest that one sheet is taken of rather than several
ROW_GAP = 26.0  # between two bars drawn in one line


@dataclass(frozen=True)
class Piece:
    """A stretch of the beam that one sheet shows, mm along the beam, and where its left end stands on the
    paper."""

    start: float
    end: float
    scale: float
    left: float

    def x(self, place: float) -> float:
        return self.left + (place - self.start) / self.scale

    def shows(self, start: float, end: float) -> bool:
        return end > self.start + 1.0 and start < self.end - 1.0

    def clipped(self, start: float, end: float) -> tuple[float, float]:
        return self.x(max(start, self.start)), self.x(min(end, self.end))


class Written:
    """Lengths as the drawing says them: whole mm, or feet and inches."""

    def __init__(self, beam: BeamOut) -> None:
        self.inch, self.label = SYSTEMS[beam.units].inches, beam.label

    def length(self, mm: float) -> str:
        if not self.inch:
            return f"{mm:.0f}"
        quarters = round(mm / 25.4 * 4.0)
        feet, rest = divmod(quarters, 48)
        integer, part = divmod(rest, 4)
        fraction = ("", " 1/4", " 1/2", " 3/4")[part]
        return (f"{feet}'-" if feet else "") + f'{integer}{fraction}"'

    def bars(self, count: int, size: str) -> str:
        return counted(count, self.label(size))

    def spaced(self, count: int, size: str, spacing: float) -> str:
        """Stirrups at their spacing: 8ø10/200, or with @ where a size is no diameter: (8) #3 @ 10"."""
        sign = "/" if self.label(size).startswith("ø") else " @ "
        return f"{self.bars(count, size)}{sign}{self.length(spacing)}"


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
        low = _elevation(sheet, result, written, piece, cuts, height - EDGE - 6.0)
        if len(stretches) > 1:
            _match_lines(sheet, piece, number, len(stretches), low, height)
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
        _elevation(trial, result, written, piece, cuts_of(result), paper[1] - EDGE - 6.0)
        > EDGE + TITLE_SIZE[1] + 4.0
    )


# ---------------------------------------------------------------- elevation


def _elevation(
    sheet: Sheet, result: ResultFile, written: Written, piece: Piece, cuts: Sequence[Cut], top: float
) -> float:
    """Bubbles, span dimensions, the beam, its stirrup zones, its bars drawn out; the level below all that."""
    beam = result.beam
    sheet.text(LEFT + 4.0, top - 4.0, f"{beam.mark}  {beam.full_title}", LARGE)
    bubbles = top - 15.0
    spans_at = bubbles - 11.0
    y = spans_at - 9.0
    deepest = max(
        max(s.section_start.depth_mm, s.section_end.depth_mm)
        for s in beam.spans
        if piece.shows(s.start_mm, s.end_mm)
    )
    bottom = y - deepest / piece.scale
    for s in beam.supports:
        if piece.start - 1.0 <= s.x_mm <= piece.end + 1.0:
            x = piece.x(s.x_mm)
            sheet.dots.append(Dot((x, bubbles), 4.0, "axes", filled=False))
            sheet.text(x, bubbles, s.name[:6], SMALL, "middle", "middle")
            sheet.line([(x, bubbles - 4.0), (x, bottom - 11.0)], "axes")
            half = 0.5 * s.width_mm / piece.scale
            depth = minimum_depth(beam.spans, s.x_mm) / piece.scale
            for side in (-half, half):
                if piece.start <= s.x_mm + side * piece.scale <= piece.end:
                    sheet.line([(x + side, y - depth), (x + side, bottom - 8.0)], "concrete")
            _break_line(sheet, x - half, x + half, bottom - 8.0)
    for span in beam.spans:
        if piece.shows(span.start_mm, span.end_mm):
            _concrete(sheet, span, piece, y, beam.ends_mm, beam.spans)
            a, b = piece.clipped(span.start_mm, span.end_mm)
            sheet.dimensions.append(
                Dimension((a, spans_at), (b, spans_at), 0.0, written.length(span.end_mm - span.start_mm))
            )
    for bar in result.bars:
        _bar_in_place(sheet, bar, piece, y, beam.spans)
    for zone in result.stirrups:
        _stirrups_in_place(sheet, zone, piece, y, beam.spans, beam.cover_mm.top, beam.cover_mm.bottom)
    for cut in cuts:
        for x in (cut.x, *cut.also):
            if piece.start <= x < piece.end:
                _cut_mark(sheet, cut.name, piece.x(x), y, bottom)
    below = _zones(sheet, result, written, piece, bottom - 18.0)
    return _drawn_out(sheet, result, written, piece, below - 6.0)


def _concrete(
    sheet: Sheet, span: SpanOut, piece: Piece, y: float, ends: tuple[float, float], spans: Sequence[SpanOut]
) -> None:
    """Outline of a span, its flange's edge, and the step to the span beside it."""
    first, last = span is spans[0], span is spans[-1]
    start, end = ends[0] if first else span.start_mm, ends[1] if last else span.end_mm
    a, b = piece.clipped(start, end)
    h_1, h_2 = span.section_start.depth_mm / piece.scale, span.section_end.depth_mm / piece.scale
    sheet.line([(a, y), (b, y)], "concrete")
    sheet.line([(a, y - h_1), (b, y - h_2)], "concrete")
    if first:
        sheet.line([(a, y), (a, y - h_1)], "concrete")
    if last:
        sheet.line([(b, y), (b, y - h_2)], "concrete")
    else:
        after = spans[list(spans).index(span) + 1].section_start.depth_mm / piece.scale
        if abs(after - h_2) > 1e-6 and piece.start < span.end_mm < piece.end:
            sheet.line([(b, y - h_2), (b, y - after)], "concrete")
    if span.section_start.flanged:
        levels = sorted({p[1] for p in span.section_start.outline_mm})
        edge = levels[1] if span.section_start.outline_mm[0][1] == 0.0 and _wide_on_top(span) else levels[-2]
        t = edge / piece.scale
        if _wide_on_top(span):
            sheet.line([(a, y - t), (b, y - t)], "hidden")
        else:
            sheet.line([(a, y - t), (b, y - t - (h_2 - h_1))], "hidden")


def _wide_on_top(span: SpanOut) -> bool:
    points = span.section_start.outline_mm
    top = [x for x, level in points if level < 1e-6]
    return max(top) - min(top) > span.section_start.web_mm + 1.0


def _break_line(sheet: Sheet, a: float, b: float, y: float) -> None:
    m = 0.5 * (a + b)
    sheet.line(
        [(a - 2.0, y), (m - 1.0, y), (m - 0.4, y + 1.5), (m + 0.4, y - 1.5), (m + 1.0, y), (b + 2.0, y)],
        "dimensions",
    )


def _bar_in_place(sheet: Sheet, bar: BarOut, piece: Piece, y: float, spans: Sequence[SpanOut]) -> None:
    if not piece.shows(bar.start_mm, bar.end_mm):
        return
    corners = line_of(spans, bar, max(bar.start_mm, piece.start), min(bar.end_mm, piece.end))
    points = [(piece.x(x), y - down / piece.scale) for x, down in corners]
    if bar.face == "side":
        sheet.line(points, "hidden")
        return
    (a, _), (b, _) = points[0], points[-1]
    if bar.ends[0] in ("bend", "hook") and bar.start_mm >= piece.start:
        points.insert(0, (a, points[0][1] + _inwards(bar, 0) * _leg(bar, 0) / piece.scale))
    if bar.ends[1] in ("bend", "hook") and bar.end_mm <= piece.end:
        points.append((b, points[-1][1] + _inwards(bar, 1) * _leg(bar, 1) / piece.scale))
    sheet.line(points, "bars")


def _inwards(bar: BarOut, side: int) -> float:
    """From the face that an end lies in into the beam: 1 upwards, -1 downwards."""
    return 1.0 if face_at_end(bar, side) == "bottom" else -1.0


def _leg(bar: BarOut, side: int) -> float:
    """What of an end stands out across the bar, mm: its leg, or the diameter of its hook."""
    d = bar.dimensions_mm
    if bar.ends[side] == "hook":
        return bar.mandrel_mm + 2.0 * bar.diameter_mm if bar.mandrel_mm else 8.0 * bar.diameter_mm
    if bar.shape_code == "21":
        return d["A"] if side == 0 else d["C"]
    if bar.shape_code == "11":
        return d.get("B", bar.legs_mm[side])
    return bar.legs_mm[side] or 8.0 * bar.diameter_mm


def _stirrups_in_place(
    sheet: Sheet,
    zone: StirrupOut,
    piece: Piece,
    y: float,
    spans: Sequence[SpanOut],
    top: float,
    bottom: float,
) -> None:
    for i in range(zone.count):
        x = zone.start_mm + i * zone.spacing_mm
        if piece.start <= x <= piece.end:
            h = depth_at(spans, x)
            at = piece.x(x)
            sheet.line(
                [(at, y - top / piece.scale), (at, y - (h - bottom) / piece.scale)],
                "hidden" if zone.count > 400 else "dimensions",
            )


def _cut_mark(sheet: Sheet, name: str, x: float, y: float, bottom: float) -> None:
    for level, sign in ((y + 1.0, 1.0), (bottom - 1.0, -1.0)):
        sheet.line([(x, level), (x, level + 3.0 * sign)], "frame")
        sheet.text(x + 0.8, level + (0.6 if sign > 0.0 else -3.0), name, SMALL)


def _zones(sheet: Sheet, result: ResultFile, written: Written, piece: Piece, y: float) -> float:
    """Stirrups of every span as a closed chain from face to face: what each zone and what each gap measures,
    and below the chain number, size and spacing; texts that are too wide step down."""
    taken: list[float] = []
    for span in result.beam.spans:
        low, high = span.clear_start_mm, span.clear_end_mm
        own = sorted(
            (z for z in result.stirrups if low - 1.0 <= z.start_mm and z.end_mm <= high + 1.0),
            key=lambda z: z.start_mm,
        )
        if not own or not piece.shows(low, high):
            continue
        ends = [(z.start_mm, z.start_mm + (z.count - 1) * z.spacing_mm) for z in own]
        places = sorted({low, high, *(x for pair in ends for x in pair)})
        places = [x for k, x in enumerate(places) if k == 0 or x - places[k - 1] > 1.0]
        a, b = piece.clipped(low, high)
        sheet.line([(a, y), (b, y)], "dimensions")
        for x in places:
            if piece.start <= x <= piece.end:
                sheet.line([(piece.x(x), y - 0.8), (piece.x(x), y + 1.2)], "dimensions")
        _chain_texts(
            sheet, [(p, q) for p, q in itertools.pairwise(places) if piece.shows(p, q)], written, piece, y
        )
        for z, (first, last) in zip(own, ends, strict=True):
            if piece.shows(first, last + 1.0):
                _zone_text(sheet, z, written, 0.5 * sum(piece.clipped(first, last)), y, taken)
    return y - 3.0 - 4.2 * max(len(taken), 1)


def _chain_texts(
    sheet: Sheet, stretches: Sequence[tuple[float, float]], written: Written, piece: Piece, y: float
) -> None:
    """Over each stretch its length; what is too narrow for its text has it higher, out of the way of its
    neighbours."""
    used = [-1e9, -1e9]
    for p, q in stretches:
        a, b = piece.clipped(p, q)
        text = written.length(q - p)
        half, middle = 0.5 * text_width(text), 0.5 * (a + b)
        row = 0 if 2.0 * half < b - a and middle - half > used[0] else 1
        if row == 1 and middle - half < used[1] + 0.5:
            middle = used[1] + 0.5 + half
        used[row] = middle + half
        sheet.text(middle, y + (0.8 if row == 0 else 4.0), text, SMALL, "middle")


def _zone_text(
    sheet: Sheet, zone: StirrupOut, written: Written, middle: float, y: float, taken: list[float]
) -> None:
    """Below the chain, in the first line where it stands clear of the text before it; `taken`: how far each
    line is used."""
    legs = "" if zone.legs == 2 else f", {zone.legs} legs"
    text = f"{zone.mark}  {written.spaced(zone.count, zone.size, zone.spacing_mm)}{legs}"
    half = 0.5 * text_width(text)
    row = next((r for r, used in enumerate(taken) if used < middle - half - 1.0), len(taken))
    if row == len(taken):
        taken.append(0.0)
    taken[row] = middle + half
    sheet.text(middle, y - 4.4 - 4.2 * row, text, SMALL, "middle")


# ---------------------------------------------------------------- bars drawn out


def _rows(bars: Sequence[BarOut], piece: Piece) -> list[list[BarOut]]:
    """Bars in lines, in the order they are fixed; two in one line stand apart."""
    order = {"bottom": 0, "side": 1, "top": 2}
    rows: list[list[BarOut]] = []
    for bar in sorted(bars, key=lambda b: (order[b.face], b.layer, b.start_mm, -b.end_mm)):
        for row in rows:
            same = (row[0].face, row[0].layer) == (bar.face, bar.layer)
            if same and all(_extent(b, piece)[1] + ROW_GAP <= _extent(bar, piece)[0] for b in row):
                row.append(bar)
                break
        else:
            rows.append([bar])
    return rows


def _extent(bar: BarOut, piece: Piece) -> tuple[float, float]:
    """What a bar takes of its line: itself, and what is written beside a short one."""
    a, b = piece.x(bar.start_mm), piece.x(bar.end_mm)
    wide = text_width(f"{bar.mark}  {bar.count} #{bar.size}  L={bar.cut_length_mm:.0f} ") + 2.0
    if wide <= b - a:
        return a, b
    return (a - wide, b) if bar.ends[1] in ("bend", "hook") else (a, b + wide)


def _drawn_out(sheet: Sheet, result: ResultFile, written: Written, piece: Piece, y: float) -> float:
    face = ""
    supports = [(s.name, s.x_mm) for s in result.beam.supports]
    for row in _rows([b for b in result.bars if piece.shows(b.start_mm, b.end_mm)], piece):
        legs = [
            _leg(b, side) / piece.scale for b in row for side in (0, 1) if b.ends[side] in ("bend", "hook")
        ]
        risen = [_height(b, piece, result.beam.spans) + 5.0 for b in row]
        up = max([5.0, *risen, *(legs if row[0].face == "bottom" else [])])
        down = max([7.2, *(legs if row[0].face == "top" else [])])
        y -= up
        if row[0].face != face:
            face = row[0].face
            sheet.text(LEFT + 2.0, y, face if face != "side" else "sides", SMALL)
        for bar in row:
            _one_bar(sheet, bar, written, piece, y, result.beam.spans)
        level = _ends_of(sheet, row, written, piece, y, supports)
        y -= max(down, level)
    return y


def _one_bar(
    sheet: Sheet, bar: BarOut, written: Written, piece: Piece, y: float, spans: Sequence[SpanOut]
) -> None:
    a, b = piece.clipped(bar.start_mm, bar.end_mm)
    points = _drawn_line(bar, piece, y, spans)
    if bar.ends[0] in ("bend", "hook") and bar.start_mm >= piece.start:
        points = _ended(points, bar, 0, _inwards(bar, 0), piece)
    if bar.ends[1] in ("bend", "hook") and bar.end_mm <= piece.end:
        points = _ended(points[::-1], bar, 1, _inwards(bar, 1), piece)[::-1]
    sheet.line(points, "bars")
    text = f"{bar.mark}  {written.bars(bar.count, bar.size)}  L={written.length(bar.cut_length_mm)}"
    if bar.bent_up is not None:
        _bent_up_texts(sheet, bar, written, piece, y, text)
    elif text_width(text) <= b - a:
        xs, levels = ([p[k] for p in points] for k in (0, 1))
        reach = 0.5 * (a + b) + 0.5 * text_width(text) * np.array([-1.0, 0.0, 1.0])
        over = float(np.interp(reach, xs, levels).max()) if kinked(bar, spans) else y
        sheet.text(0.5 * (a + b), over + 1.2, text, SMALL, "middle")
    else:  # a short bar: beside its straight end
        left = bar.ends[1] in ("bend", "hook")
        sheet.text(a - 2.0 if left else b + 2.0, y, text, SMALL, "right" if left else "left", "middle")
    for side, end, x in ((0, bar.start_mm, a), (1, bar.end_mm, b)):
        if piece.start <= end <= piece.end and bar.ends[side] in ("bend", "hook"):
            leg = written.length(_leg(bar, side))
            sign, level = _inwards(bar, side), y + _rise(bar, side) / piece.scale
            if kinked(bar, spans):
                level = points[1][1] if side == 0 else points[-2][1]
            at = (x + (-1.2 if side == 0 else 1.2), level + sign * 2.0 - (0.0 if sign > 0.0 else SMALL))
            sheet.text(*at, leg, SMALL, "right" if side == 0 else "left")


def _height(bar: BarOut, piece: Piece, spans: Sequence[SpanOut]) -> float:
    """That a bar takes above its lowest part, on paper."""
    levels = [level for _, level in _drawn_line(bar, piece, 0.0, spans)]
    return max(levels) - min(levels)


def _rise(bar: BarOut, side: int) -> float:
    """Height of an end over the bottom part of a bent-up bar, mm."""
    height = 0.0 if bar.bent_up is None else bar.bent_up.height_mm
    return height if bar.bent_up is not None and face_at_end(bar, side) == "top" else 0.0


def _drawn_line(bar: BarOut, piece: Piece, y: float, spans: Sequence[SpanOut]) -> list[tuple[float, float]]:
    """Of a bar by itself, its lowest part at `y`: bent at kinks of its soffit, and where it is bent up."""
    a, b = piece.clipped(bar.start_mm, bar.end_mm)
    if kinked(bar, spans):
        corners = line_of(spans, bar, max(bar.start_mm, piece.start), min(bar.end_mm, piece.end))
        lowest = max(down for _, down in corners)
        return [(piece.x(x), y + (lowest - down) / piece.scale) for x, down in corners]
    if bar.bent_up is None:
        return [(a, y), (b, y)]
    height, up = bar.bent_up.height_mm / piece.scale, bar.bent_up.left
    corners = [(bar.start_mm, y + height * up)]
    for pair in bar.bent_up.inclined_mm:
        for x, local in zip(pair, (up, not up), strict=True):
            corners.append((x, y + height * local))
        up = not up
    corners.append((bar.end_mm, y + height * up))
    return [(piece.x(min(max(x, piece.start), piece.end)), level) for x, level in corners]


def _bent_up_texts(sheet: Sheet, bar: BarOut, written: Written, piece: Piece, y: float, text: str) -> None:
    """Of a bent-up bar what it is over its bottom part, and the lengths of its sides."""
    part = next(p for p in in_faces([bar]) if p.face == "bottom")
    low, high = piece.clipped(part.start_mm, part.end_mm)
    sheet.text(0.5 * (low + high), y + 1.2, text, SMALL, "middle")
    level = y - 1.0 - SMALL
    for p in in_faces([bar]):
        a, b = piece.clipped(p.start_mm, p.end_mm)
        raised = _rise(bar, 0) if p.face == "top" and p.start_mm == bar.start_mm else 0.0
        raised = _rise(bar, 1) if p.face == "top" and p.end_mm == bar.end_mm else raised
        sheet.text(
            0.5 * (a + b),
            level + raised / piece.scale,
            written.length(p.end_mm - p.start_mm),
            SMALL,
            "middle",
        )


def _ends_of(
    sheet: Sheet,
    row: Sequence[BarOut],
    written: Written,
    piece: Piece,
    y: float,
    supports: Sequence[tuple[str, float]],
) -> float:
    """Straight ends from the nearest support's axis, those that would stand over each other on lines of their
    own; how far down."""
    wanted = []
    for bar in row:
        for side, end in ((0, bar.start_mm), (1, bar.end_mm)):
            _, axis = min(supports, key=lambda s: abs(s[1] - end))
            shown = (
                piece.start <= end <= piece.end and piece.start <= axis <= piece.end and abs(axis - end) > 1.0
            )
            if shown and bar.ends[side] not in ("bend", "hook"):
                words, x, x_0 = written.length(abs(end - axis)), piece.x(end), piece.x(axis)
                beside = abs(x - x_0) < text_width(words) + 3.0
                low, high = min(x, x_0), max(x, x_0)
                reach = text_width(words) + 4.0 if beside else 0.0
                low, high = (low, high + reach) if x >= x_0 else (low - reach, high)
                wanted.append((low, high, x_0, x, words, beside))
    taken: list[list[tuple[float, float]]] = []
    # text beside a dimension reaches below its line, to that of the next
    apart = 5.4 if any(beside for *_, beside in wanted) else 4.4
    for low, high, x_0, x, words, beside in sorted(wanted):
        line = next(
            (k for k, used in enumerate(taken) if all(high <= a + 0.1 or low >= b - 0.1 for a, b in used)),
            len(taken),
        )
        if line == len(taken):
            taken.append([])
        taken[line].append((low, high))
        level = y - 4.6 - apart * line
        sheet.dimensions.append(Dimension((x_0, level), (x, level), 0.0, words, beside=beside))
    return 3.2 + apart * len(taken)


def _ended(
    points: list[tuple[float, float]], bar: BarOut, side: int, sign: float, piece: Piece
) -> list[tuple[float, float]]:
    """With the bend or hook before the first point."""
    x, y = points[0]
    up = sign * _leg(bar, side) / piece.scale
    if bar.ends[side] == "bend":
        return [(x, y + up), *points]
    inwards = 1.0 if points[1][0] > x else -1.0
    tail = max(4.0 * bar.diameter_mm, 65.0) / piece.scale
    round_ = [(x + inwards * abs(0.3 * up), y + up), (x, y + 0.7 * up), (x, y + 0.3 * up)]
    return [(x + inwards * (tail + abs(0.5 * up)), y + up), *round_, *points]


def _match_lines(sheet: Sheet, piece: Piece, number: int, count: int, low: float, height: float) -> None:
    for local, at, to in ((number > 0, piece.start, number), (number < count - 1, piece.end, number + 2)):
        if local:
            x = piece.x(at)
            sheet.line([(x, low), (x, height - 30.0)], "axes")
            sheet.text(x, low - 4.0, f"goes on on sheet {to}", SMALL, "middle")


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
