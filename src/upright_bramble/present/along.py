"""The beam along its length, for whatever draws it: depths, soffits, and the levels that bars follow. mm from
the top of the beam."""

from __future__ import annotations

from collections.abc import Sequence

from upright_bramble.beam import CRANKED, KINK
from upright_bramble.files.result_file import BarOut, SpanOut


def minimum_depth(spans: Sequence[SpanOut], x: float) -> float:
    """The lesser depth beside a support."""
    depths = [s.section_start.depth_mm for s in spans if abs(s.start_mm - x) < 1.0]
    depths += [s.section_end.depth_mm for s in spans if abs(s.end_mm - x) < 1.0]
    return min(depths)


def span_at(spans: Sequence[SpanOut], x: float) -> SpanOut:
    return next((s for s in spans if x <= s.end_mm), spans[-1])


def depth_at(spans: Sequence[SpanOut], x: float, within: SpanOut | None = None) -> float:
    """Depth at a place: of the span that is there, or of the one that is meant."""
    span = within or span_at(spans, x)
    share = min(max((x - span.start_mm) / (span.end_mm - span.start_mm), 0.0), 1.0)
    return span.section_start.depth_mm + share * (span.section_end.depth_mm - span.section_start.depth_mm)


def soffit_of(spans: Sequence[SpanOut], home: float, x: float) -> float:
    """Depth of the soffit that a bottom bar with its middle at `home` follows at `x`: past a step it goes
    straight on."""
    k = list(spans).index(span_at(spans, home))
    while k < len(spans) - 1 and x > spans[k].end_mm and _even(spans[k], spans[k + 1]):
        k += 1
    while k > 0 and x < spans[k].start_mm and _even(spans[k - 1], spans[k]):
        k -= 1
    return depth_at(spans, x, spans[k])


def _even(before: SpanOut, after: SpanOut) -> bool:
    return abs(before.section_end.depth_mm - after.section_start.depth_mm) < 1.0


def level_of(spans: Sequence[SpanOut], bar: BarOut, x: float, inside: float | None = None) -> float:
    """Depth of a bar at `x`: of its axis, or so far inside its face where the depth is not to scale."""
    inside = bar.axis_mm if inside is None else inside
    if bar.face == "top":
        return inside
    middle = 0.5 * (bar.start_mm + bar.end_mm)
    return 0.5 * depth_at(spans, middle) if bar.face == "side" else soffit_of(spans, middle, x) - inside


def in_faces(bars: Sequence[BarOut]) -> list[BarOut]:
    """Bars as they lie in the faces: of one that is bent up, what lies in the bottom and what at the top."""
    return [part for bar in bars for part in _in_faces(bar)]


def _in_faces(bar: BarOut) -> list[BarOut]:
    up = bar.bent_up
    if up is None:
        return [bar]
    edges = [bar.start_mm, *(x for pair in up.inclined_mm for x in pair), bar.end_mm]
    result = []
    for k in range(0, len(edges), 2):
        above = (k // 2 % 2 == 0) == up.left
        ends = (bar.ends[0] if k == 0 else CRANKED, bar.ends[1] if k == len(edges) - 2 else CRANKED)
        place = {"start_mm": edges[k], "end_mm": edges[k + 1], "ends": ends, "bent_up": None}
        top = {"face": "top", "layer": up.layer, "axis_mm": up.axis_mm} if above else {}
        result.append(bar.model_copy(update=place | top))
    return result


def face_at_end(bar: BarOut, side: int) -> str:
    """That a bar's left (0) or right (1) end lies in."""
    return _in_faces(bar)[-side].face


def kinked(bar: BarOut, spans: Sequence[SpanOut]) -> bool:
    """Whether a bar is bent where its soffit turns: it has more than one side there."""
    if bar.bent_up is not None or bar.face != "bottom":
        return False
    return bar.shape_code == "15" or (bar.shape_code == "99" and len(_turns(spans, bar)) > 2)


def _turns(spans: Sequence[SpanOut], bar: BarOut) -> list[tuple[float, float]]:
    """Corners of a bar where its direction changes, with its ends."""
    corners = line_of(spans, bar, bar.start_mm, bar.end_mm)
    kept = [corners[0]]
    for before, here, after in zip(corners, corners[1:], corners[2:], strict=False):
        slopes = [(q[1] - p[1]) / (q[0] - p[0]) for p, q in ((before, here), (here, after))]
        if abs(slopes[0] - slopes[1]) > KINK:
            kept.append(here)
    return [*kept, corners[-1]]


def line_of(
    spans: Sequence[SpanOut], bar: BarOut, start: float, end: float, inside: float | None = None
) -> list[tuple[float, float]]:
    """Corners of a bar between two places, (x, depth): it turns where the soffit does, and where it is bent
    up."""
    if bar.bent_up is not None:
        parts = [p for p in _in_faces(bar) if p.end_mm > start and p.start_mm < end]
        return [
            point
            for p in parts
            for point in line_of(spans, p, max(p.start_mm, start), min(p.end_mm, end), inside)
        ]
    turns = [s.end_mm for s in spans[:-1] if start + 1.0 < s.end_mm < end - 1.0]
    return [(x, level_of(spans, bar, x, inside)) for x in (start, *turns, end)]
