"""Bars drawn out below the elevation, one line a row, with their ends and lengths."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from upright_bramble.files.result_file import BarOut, ResultFile, SpanOut
from upright_bramble.present.along import face_at_end, in_faces, kinked, line_of
from upright_bramble.present.drawing.model import SMALL, Dimension, Sheet, text_width
from upright_bramble.present.drawing.piece import LEFT, Piece, Written, inwards, leg_of

ROW_GAP = 26.0  # between two bars drawn in one line


def rows_of_bars(bars: Sequence[BarOut], piece: Piece) -> list[list[BarOut]]:
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


def drawn_out(sheet: Sheet, result: ResultFile, written: Written, piece: Piece, y: float) -> float:
    face = ""
    supports = [(s.name, s.x_mm) for s in result.beam.supports]
    for row in rows_of_bars([b for b in result.bars if piece.shows(b.start_mm, b.end_mm)], piece):
        legs = [
            leg_of(b, side) / piece.scale for b in row for side in (0, 1) if b.ends[side] in ("bend", "hook")
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
        points = _ended(points, bar, 0, inwards(bar, 0), piece)
    if bar.ends[1] in ("bend", "hook") and bar.end_mm <= piece.end:
        points = _ended(points[::-1], bar, 1, inwards(bar, 1), piece)[::-1]
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
            leg = written.length(leg_of(bar, side))
            sign, level = inwards(bar, side), y + _rise(bar, side) / piece.scale
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
    up = sign * leg_of(bar, side) / piece.scale
    if bar.ends[side] == "bend":
        return [(x, y + up), *points]
    inwards = 1.0 if points[1][0] > x else -1.0
    tail = max(4.0 * bar.diameter_mm, 65.0) / piece.scale
    round_ = [(x + inwards * abs(0.3 * up), y + up), (x, y + 0.7 * up), (x, y + 0.3 * up)]
    return [(x + inwards * (tail + abs(0.5 * up)), y + up), *round_, *points]
