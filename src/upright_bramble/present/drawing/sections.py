"""Cross-sections: where to cut, where the bars stand in them, and what is written beside."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

from upright_bramble.core.bars import counted
from upright_bramble.files.result_file import BarOut, ResultFile, SpanOut, StirrupOut
from upright_bramble.present.along import in_faces
from upright_bramble.present.drawing.model import LARGE, SMALL, Dimension, Dot, Point, Sheet, text_width

VIBRATED, WIDE = 4, 400.0  # bars of a top row without a gap for the vibrator; width that one gap serves, mm
SLAB = 300.0  # of a flange beyond the web that is drawn, mm
BESIDE_SUPPORT = 300.0  # from a support's face to the section beside it, mm
BESIDE = 7.0  # from a section to what is written beside it


@dataclass(frozen=True)
class Cut:
    """A section at `x` along the beam: its corners, web and depth, bars there (sets that carry each other on
    at a lap once), stirrup."""

    name: str
    x: float
    outline: tuple[Point, ...]
    web: float
    depth: float
    bars: tuple[BarOut, ...]
    stirrup: StirrupOut | None
    cover: tuple[float, float, float]
    labels: Mapping[str, str]
    vibrator: float = 75.0
    also: tuple[float, ...] = ()
    """Other places where the section is the same."""

    @property
    def widths(self) -> tuple[float, float]:
        """How far it is drawn left and right of the web's axis, mm."""
        limit = 0.5 * self.web + SLAB
        return max(min(x for x, _ in self.outline), -limit), min(max(x for x, _ in self.outline), limit)


def cuts_of(result: ResultFile) -> tuple[Cut, ...]:
    """Of a span at most three: beside its supports and in its middle; those alike only once, marked at every
    place."""
    beam = result.beam
    collected: dict[object, Cut] = {}
    for span in beam.spans:
        for x in _places_of(span, [s.x_mm for s in beam.supports]):
            bars = _bars_at(in_faces(result.bars), x)
            if not bars:
                continue
            zone = min(result.stirrups, key=lambda z: max(z.start_mm - x, x - z.end_mm, 0.0), default=None)
            outline, web, depth = _section_at(span, x)
            pieces = tuple(sorted((b.mark, b.face, b.layer, b.count) for b in bars))
            key = (outline, pieces, zone.legs if zone else 0, zone.size if zone else "")
            if key in collected:
                collected[key] = replace(collected[key], also=(*collected[key].also, x))
                continue
            cover = (beam.cover_mm.top, beam.cover_mm.bottom, beam.cover_mm.sides)
            name = str(len(collected) + 1)
            collected[key] = Cut(
                name=name,
                x=x,
                outline=outline,
                web=web,
                depth=depth,
                bars=bars,
                stirrup=zone,
                cover=cover,
                labels=beam.labels,
                vibrator=beam.vibrator_gap_mm,
            )
    return tuple(collected.values())


def _places_of(span: SpanOut, supports: Sequence[float]) -> list[float]:
    """Beside the supports and in the middle; of a cantilever beside its support and near its tip."""
    low, high = span.clear_start_mm, span.clear_end_mm
    beside = min(BESIDE_SUPPORT, 0.1 * (high - low))
    left, right = (any(abs(x - end) < 1.0 for x in supports) for end in (span.start_mm, span.end_mm))
    if not left:
        return [low + 0.25 * (high - low), high - beside]
    if not right:
        return [low + beside, high - 0.25 * (high - low)]
    return [low + beside, 0.5 * (low + high), high - beside]


def _section_at(span: SpanOut, x: float) -> tuple[tuple[Point, ...], float, float]:
    a, b = span.section_start, span.section_end
    share = (x - span.start_mm) / (span.end_mm - span.start_mm)
    points = tuple(
        (p[0] + share * (q[0] - p[0]), p[1] + share * (q[1] - p[1]))
        for p, q in zip(a.outline_mm, b.outline_mm, strict=True)
    )
    return points, a.web_mm + share * (b.web_mm - a.web_mm), a.depth_mm + share * (b.depth_mm - a.depth_mm)


def _bars_at(bars: Sequence[BarOut], x: float) -> tuple[BarOut, ...]:
    """All that are there; of side bars that carry each other on just one set."""
    here = [b for b in bars if b.start_mm <= x <= b.end_mm]
    sides = [b for b in here if b.face == "side"]
    return tuple(b for b in here if b.face != "side" or b is sides[0])


def places(cut: Cut) -> list[tuple[BarOut, list[Point]]]:
    """Centres of every bar, (x from the web's axis, y from the top), mm: the longest at the corners, the
    others evenly between."""
    top, bottom, sides = cut.cover
    tie = cut.stirrup.diameter_mm if cut.stirrup else 8.0
    result: list[tuple[BarOut, list[Point]]] = []
    for face in ("bottom", "top"):
        for layer in sorted({b.layer for b in cut.bars if b.face == face}):
            row = sorted(
                (b for b in cut.bars if b.face == face and b.layer == layer),
                key=lambda b: b.start_mm - b.end_mm,
            )
            for bar, xs in zip(row, _side_by_side(cut, row, 0.5 * cut.web - sides - tie), strict=True):
                level = cut.depth - bar.axis_mm if face == "bottom" else bar.axis_mm
                result.append((bar, [(x, level) for x in xs]))
    for bar in (b for b in cut.bars if b.face == "side"):
        rows = max(bar.count // 2, 1)
        at = 0.5 * cut.web - sides - tie - 0.5 * bar.diameter_mm
        first, last = top + tie + 10.0, cut.depth - bottom - tie - 10.0
        levels = [first + (last - first) * (k + 1) / (rows + 1) for k in range(rows)]
        result.append((bar, [(side * at, level) for level in levels for side in (-1.0, 1.0)]))
    return result


def _side_by_side(cut: Cut, row: Sequence[BarOut], inside: float) -> list[list[float]]:
    """Centres from the web's axis of every bar of a row, mm; the stirrup's inner face is `inside` from it.
    Lapped bars touch."""
    beside = _lapped(row)
    alone = [k for k in range(len(row)) if k not in beside]
    number, largest = sum(row[k].count for k in alone), max(b.diameter_mm for b in row)
    gap = largest + max(largest, 20.0)
    reach = max(
        inside - 0.5 * largest, 0.5 * (number - 1) * gap
    )  # more than the web holds: beside it in the flange
    gaps = math.ceil(cut.web / WIDE) if row[0].face == "top" and number > VIBRATED else 0
    xs = across(number, reach, largest, gaps, cut.vibrator)
    order = sorted(range(number), key=lambda k: -abs(xs[k]))  # from the corners inwards
    taken, result = 0, [list[float]() for _ in row]
    for i in alone:
        result[i] = [xs[k] for k in sorted(order[taken : taken + row[i].count])]
        taken += row[i].count
    for i, carried in beside.items():
        touching = 0.5 * (row[i].diameter_mm + row[carried].diameter_mm)
        result[i] = [x - math.copysign(touching, x) for x in result[carried]]
    return result


def _lapped(row: Sequence[BarOut]) -> dict[int, int]:
    """Bars that lie at a cut against others, which they carry on: with those. They stand beside them towards
    the web's axis."""
    result: dict[int, int] = {}
    for i, a in enumerate(row):
        for j, b in enumerate(row):
            meet = (
                a.ends[1] == "lap"
                and b.ends[0] == "lap"
                and a.start_mm < b.start_mm < a.end_mm < b.end_mm
                and a.count == b.count
            )
            if meet and not {i, j} & {*result, *result.values()}:
                result[j] = i
    return result


def across(number: int, reach: float, diameter: float, gaps: int, clear: float) -> list[float]:
    """Centres of a row from -reach to reach, mm: even, or with so many gaps for the vibrator, `clear` wide,
    where an even row is closer.

    >>> across(3, 100.0, 20.0, 0, 75.0)
    [-100.0, 0.0, 100.0]
    >>> [round(x) for x in across(6, 130.0, 20.0, 1, 75.0)]
    [-130, -89, -48, 48, 89, 130]
    """
    if number == 1:
        return [0.0]
    even = 2.0 * reach / (number - 1)
    gaps = min(gaps, number - 2)
    close = (2.0 * reach - gaps * (clear + diameter)) / max(number - 1 - gaps, 1)
    if gaps == 0 or even - diameter >= clear or close < 2.0 * diameter:
        return [-reach + even * k for k in range(number)]
    wide = {round((number - 1) * (k + 0.5) / gaps - 0.5) for k in range(gaps)}
    places = [-reach]
    for k in range(number - 1):
        places.append(places[-1] + (clear + diameter if k in wide else close))
    return places


def _notes(cut: Cut) -> list[tuple[float, str]]:
    """What is written beside each row: its level (mm from the top) and the bars of it with their marks."""
    rows: dict[tuple[str, float], list[str]] = {}
    for bar, centres in places(cut):
        key = (bar.face, round(centres[0][1], 0) if bar.face != "side" else -1.0)
        text = f"{counted(bar.count, cut.labels.get(bar.size, bar.size))} ({bar.mark})"
        rows.setdefault(key, []).append(text)
    result = []
    for (face, level), texts in rows.items():
        at = level if face != "side" else 0.5 * cut.depth
        result += [(at, text) for text in texts]
    if cut.stirrup:
        result.append(
            (0.3 * cut.depth, f"{cut.labels.get(cut.stirrup.size, cut.stirrup.size)} ({cut.stirrup.mark})")
        )
    return sorted(result)


def width_of(cut: Cut, scale: float) -> float:
    left, right = cut.widths
    maximum_spacing = max([text_width(t) for _, t in _notes(cut)], default=0.0)
    return (right - left) / scale + 14.0 + BESIDE + maximum_spacing + 8.0


def height_of(cut: Cut, scale: float) -> float:
    return max(cut.depth / scale, 4.2 * len(_notes(cut))) + 30.0


def draw_cut(
    sheet: Sheet, cut: Cut, length: Callable[[float], str], x: float, y: float, scale: float
) -> None:
    """From the upper left corner at (x, y) downwards."""
    left, right = cut.widths
    axis, top = x + 14.0 - left / scale, y - 12.0
    sheet.text(axis, y - 6.0, f"{cut.name} - {cut.name}", LARGE, "middle")

    def at(px: float, py: float) -> Point:
        return axis + px / scale, top - py / scale

    points = [(min(max(px, left), right), py) for px, py in cut.outline]
    sheet.line([at(*p) for p in points], "concrete", closed=True)
    _stirrup(sheet, cut, at)
    for bar, centres in places(cut):
        for centre in centres:
            sheet.dots.append(Dot(at(*centre), max(0.5 * bar.diameter_mm / scale, 0.4), "bars"))
    _written(sheet, cut, at, right, scale, top)
    _, b_right = axis, axis + right / scale
    low = top - cut.depth / scale
    half = 0.5 * cut.web / scale
    sheet.dimensions.append(
        Dimension((axis - half, low - 6.0), (axis + half, low - 6.0), 0.0, length(cut.web))
    )
    sheet.dimensions.append(
        Dimension((axis + left / scale - 7.0, low), (axis + left / scale - 7.0, top), 0.0, length(cut.depth))
    )
    c_top, c_bottom, c_sides = (length(c) for c in cut.cover)
    said = (
        f"cover {c_top}"
        if len({c_top, c_bottom, c_sides}) == 1
        else f"cover {c_top} top, {c_bottom} bottom, {c_sides} sides"
    )
    sheet.text(0.5 * (axis + left / scale + b_right), low - 11.0, said, 1.8, "middle")


def _stirrup(sheet: Sheet, cut: Cut, at: Callable[[float, float], Point]) -> None:
    if cut.stirrup is None:
        return
    top, bottom, sides = cut.cover
    t = 0.5 * cut.stirrup.diameter_mm
    a, b = 0.5 * cut.web - sides - t, cut.depth - bottom - t
    r = 2.0 * cut.stirrup.diameter_mm
    k, upper = 0.3 * r, top + t
    corners = [
        (-a, upper + r),
        (-a + k, upper + k),
        (-a + r, upper),
        (a - r, upper),
        (a - k, upper + k),
        (a, upper + r),
        (a, b - r),
        (a - k, b - k),
        (a - r, b),
        (-a + r, b),
        (-a + k, b - k),
        (-a, b - r),
    ]
    sheet.line([at(*p) for p in corners], "stirrups", closed=True)
    tail = 5.0 * cut.stirrup.diameter_mm
    for start in ((-a + 0.6 * r, top + t), (-a, top + t + 0.6 * r)):
        sheet.line([at(*start), at(start[0] + tail, start[1] + tail)], "stirrups")
    for n in range(cut.stirrup.links):
        x = -a + 2.0 * a * (n + 1) / (cut.stirrup.links + 1)
        sheet.line([at(x, top + t), at(x, b)], "stirrups")


def _written(
    sheet: Sheet, cut: Cut, at: Callable[[float, float], Point], right: float, scale: float, top: float
) -> None:
    """Bars and marks on the right, a leader to each row, texts no nearer than they can be read."""
    notes = _notes(cut)
    levels = [top - level / scale for level, _ in notes]
    placed = list(levels)
    for k in range(1, len(placed)):
        placed[k] = min(placed[k], placed[k - 1] - 4.2)
    over = (top - cut.depth / scale) - 2.0 - placed[-1] if placed else 0.0
    if over > 0.0:  # pushed below the section: raise what can be raised
        placed[-1] += over
        for k in range(len(placed) - 2, -1, -1):
            placed[k] = max(placed[k], placed[k + 1] + 4.2)
    x = at(right, 0.0)[0] + BESIDE
    edge = at(0.5 * cut.web - cut.cover[2], 0.0)[0]
    for (_, text), level, row in zip(notes, placed, levels, strict=True):
        sheet.line([(edge - 1.5, row), (x - 2.5, level), (x - 0.8, level)], "dimensions")
        sheet.text(x, level, text, SMALL, "left", "middle")
