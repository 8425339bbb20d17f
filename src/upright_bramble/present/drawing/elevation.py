"""The elevation of a piece of beam: concrete, bars and stirrups in place, zones of stirrups, match lines."""

from __future__ import annotations

import itertools
from collections.abc import Sequence

from upright_bramble.files.result_file import BarOut, ResultFile, SpanOut, StirrupOut
from upright_bramble.present.along import depth_at, line_of, minimum_depth
from upright_bramble.present.drawing.drawn_out import drawn_out
from upright_bramble.present.drawing.model import LARGE, SMALL, Dimension, Dot, Sheet, text_width
from upright_bramble.present.drawing.piece import LEFT, Piece, Written, inwards, leg_of
from upright_bramble.present.drawing.sections import Cut


def elevation(
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
    return drawn_out(sheet, result, written, piece, below - 6.0)


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
        points.insert(0, (a, points[0][1] + inwards(bar, 0) * leg_of(bar, 0) / piece.scale))
    if bar.ends[1] in ("bend", "hook") and bar.end_mm <= piece.end:
        points.append((b, points[-1][1] + inwards(bar, 1) * leg_of(bar, 1) / piece.scale))
    sheet.line(points, "bars")


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


def match_lines(sheet: Sheet, piece: Piece, number: int, count: int, low: float, height: float) -> None:
    for local, at, to in ((number > 0, piece.start, number), (number < count - 1, piece.end, number + 2)):
        if local:
            x = piece.x(at)
            sheet.line([(x, low), (x, height - 30.0)], "axes")
            sheet.text(x, low - 4.0, f"goes on on sheet {to}", SMALL, "middle")
