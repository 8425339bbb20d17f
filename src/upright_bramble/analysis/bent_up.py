"""Bars that are bent up from the bottom to the top: what lies in either face, and the length that goes on
beyond each bend."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from upright_bramble.beam import CRANKED, Bar, Beam
from upright_bramble.beam.geometry import axis_distance
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.core.quantities import SYSTEMS, along, worded
from upright_bramble.errors import LayoutError


@dataclass(frozen=True)
class Parts:
    """Bars as they lie in the faces: `bars`, for each the index of the `entry` of the layout that it is part
    of, and of each entry its `own` parts from left to right. A bar that is not bent up is its own part."""

    bars: tuple[Bar, ...]
    entry: tuple[int, ...]

    @property
    def own(self) -> dict[int, list[int]]:
        result: dict[int, list[int]] = {}
        for part, entry in enumerate(self.entry):
            result.setdefault(entry, []).append(part)
        return result


def parts_of(beam: Beam, code: DesignCode, bars: Sequence[Bar], tie: float) -> Parts:
    """What of each bar lies in which face; `tie` diameter of the stirrup, mm. The inclined length between two
    parts lies in neither face: bending does not count on it.

    Raises LayoutError for a bar that ends before it has reached the top.
    """
    if all(b.bent_up is None for b in bars):
        return Parts(tuple(bars), tuple(range(len(bars))))
    split = [(part, k) for k, b in enumerate(bars) for part in _faces_of(b)]
    loose = [part for part, _ in split]
    result: list[Bar] = []
    for k, group in itertools.groupby(range(len(split)), key=lambda i: split[i][1]):
        own = list(group)
        placed = [(loose[i], axis_of(beam, code, loose, i, tie)) for i in own]
        result += _joined(beam, bars[k], placed) if bars[k].bent_up is not None else [loose[own[0]]]
    return Parts(tuple(result), tuple(k for _, k in split))


def axis_of(beam: Beam, code: DesignCode, bars: Sequence[Bar], i: int, tie: float) -> float:
    """Distance of the axis of bar `i` from its face, mm: its row lies on the thickest of those before."""
    bar, sizes = bars[i], code.sizes
    if bar.axis is not None:
        return bar.axis
    phi = sizes[bar.size].diameter
    first = max(
        (sizes[b.size].diameter for b in bars if b.face == bar.face and b.layer < bar.layer), default=phi
    )
    gap = float(code.detailing.clear_spacing(max(first, phi), beam.concrete.aggregate))
    cover = beam.cover.bottom if bar.face == "bottom" else beam.cover.top
    return axis_distance(cover, tie, bar.layer, phi, first, gap)


def _faces_of(bar: Bar) -> list[Bar]:
    """Parts of a bar from left to right, each in its face; where they meet is not known yet."""
    up = bar.bent_up
    if up is None:
        return [bar]
    above = replace(bar, face="top", layer=up.layer, bent_up=None)
    start, end = bar.start if up.left is None else up.left, bar.end if up.right is None else up.right
    low = replace(bar, start=start, end=end, bent_up=None)
    return [*([above] * (up.left is not None)), low, *([above] * (up.right is not None))]


def _joined(beam: Beam, bar: Bar, parts: Sequence[tuple[Bar, float]]) -> list[Bar]:
    """Parts with their ends: each ends cranked where the bar goes to the other face, with the length of bar
    beyond."""
    up, result = bar.bent_up, [part for part, _ in parts]
    assert up is not None
    middle = 1 if up.left is not None else 0
    for side, place in ((-1, up.left), (1, up.right)):
        if place is None:
            continue
        beside = middle + side
        rise = _depth(beam, place) - parts[middle][1] - parts[beside][1]
        arrives = place + side * rise / math.tan(math.radians(up.angle))
        low, high = (bar.start, arrives) if side < 0 else (arrives, bar.end)
        if high <= low or rise <= 0.0:
            text = (
                f"bar {bar.mark}: bent up at {along(place)} it reaches the top at {along(arrives)}, beyond "
                "its end: make it longer, or bend it up earlier"
            )
            raise LayoutError(worded(text, SYSTEMS[beam.units]))
        result[beside] = _ended(replace(result[beside], start=low, end=high), -side, 0.0)
        inclined = rise / math.sin(math.radians(up.angle))
        result[middle] = _ended(result[middle], side, inclined + high - low)
        result[beside] = _ended(result[beside], -side, inclined + result[middle].end - result[middle].start)
    return result


def _ended(part: Bar, side: int, beyond: float) -> Bar:
    """With its left (-1) or right (1) end cranked."""
    ends, legs = list(part.ends), list(part.legs)
    ends[side > 0], legs[side > 0] = CRANKED, round(beyond, 3)
    return replace(part, ends=(ends[0], ends[1]), legs=(legs[0], legs[1]))


def _depth(beam: Beam, x: float) -> float:
    span = next((s for s in beam.spans if x <= s.end), beam.spans[-1])
    return float(span.depths(min(max(x - span.start, 0.0), span.length)))
