"""Where bars that stop in a span count no longer."""

from __future__ import annotations

import math

from upright_bramble.analysis.bent_up import axis_of, parts_of
from upright_bramble.beam import Bar, Beam, Layout
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.verify.groups import diameter_of, stirrup_diameter

PAST = 0.5  # mm beyond the place where a bar counts no longer: a station there has none of it
TIP = 100.0  # mm from the end of a cantilever: bars that end so near to it go on to the tip


def span_of_end(beam: Beam, bar: Bar, side: int) -> int | None:
    """The clear span inside which an end (0: left) stops; None over supports, at laps and at free tips."""
    x = (bar.start, bar.end)[side]
    if bar.ends[side] == "lap":
        return None
    for index, span in enumerate(beam.spans):
        low, high = beam.clear(index)
        if low < x < high:
            tip = (span.left, span.right)[side] is None
            near = min(abs(x - beam.ends[0]), abs(x - beam.ends[1])) < TIP
            return None if tip and near else index
    return None


def unused_at(beam: Beam, code: DesignCode, bar: Bar, phi: float, axis: float) -> tuple[float, float]:
    """Lengths at both ends of a bar that do not count, mm; its `axis` lies so far from its face."""
    result = [0.0, 0.0]
    for side, x in enumerate((bar.start, bar.end)):
        index = span_of_end(beam, bar, side)
        if index is not None:
            span = beam.spans[index]
            d = float(span.depths(x - span.start)) - axis
            unused = float(code.curtailment.unused_end(phi, d))
            result[side] = min(unused, _past_support(beam, bar, side, index))
    return result[0], result[1]


def _past_support(beam: Beam, bar: Bar, side: int, index: int) -> float:
    """From the end of a bottom bar in a span to the next span's face of the support that it comes over, mm;
    endless where it comes over none: in that span it is worth no less than one that ends in the support."""
    span = beam.spans[index]
    support = (span.right, span.left)[side]
    if bar.face != "bottom" or support is None:
        return math.inf
    over = beam.supports[support]
    past = bar.end - (over.x - 0.5 * over.width) if side else over.x + 0.5 * over.width - bar.start
    return past if past < bar.end - bar.start else math.inf


def stops(beam: Beam, code: DesignCode, layout: Layout) -> tuple[float, ...]:
    """Places along the beam, mm, just past those where bars that end inside spans count no longer, and just
    past their ends.

    Raises LayoutError for sizes that the code's catalogue does not have.
    """
    tie = stirrup_diameter(code, layout, beam)
    for entry in layout.bars:
        diameter_of(code, entry.size)
    bars = parts_of(beam, code, layout.bars, tie).bars
    places: set[float] = set()
    for k, bar in enumerate(bars):
        ends = [s for s in (0, 1) if span_of_end(beam, bar, s) is not None]
        if not ends:
            continue
        left, right = unused_at(
            beam, code, bar, diameter_of(code, bar.size), axis_of(beam, code, bars, k, tie)
        )
        places |= {(bar.start - PAST, bar.end + PAST)[s] for s in ends}
        if bar.start + left < bar.end - right:
            places |= {(bar.start + left - PAST, bar.end - right + PAST)[s] for s in ends}
    return tuple(sorted(places))
