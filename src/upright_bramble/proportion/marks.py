"""Marks: one for all pieces that are alike in size, shape and dimensions, wherever along the beam they
lie."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

from upright_bramble.analysis.bar_lines import line_of
from upright_bramble.beam import Bar, Beam, Layout, SideBars, StirrupZone
from upright_bramble.core.bars import BarSizes

Piece = tuple[object, ...]
FIRST_STIRRUP = 20  # bars have the numbers below, where they suffice


def marked(
    beam: Beam,
    sizes: BarSizes,
    bars: Sequence[Bar],
    ties: Sequence[StirrupZone],
    kept: Layout,
    sides: Sequence[SideBars],
) -> Layout:
    """Numbered in the order of fixing: bottom, side, top, then stirrups. Held entries keep their marks, which
    pieces like them share."""
    marks = _Marks({e.mark for e in kept.entries})
    for entry in kept.entries:
        marks.of.setdefault(_piece(beam, sizes, entry), entry.mark)
    us = beam.units == "us"  # whose steps are inches
    rounded = [
        replace(b, start=round(b.start, 1), end=round(b.end, 1)) if us else _on_whole_millimetres(b)
        for b in bars
    ]
    beside = [replace(s, start=round(s.start, 1), end=round(s.end, 1)) for s in sides]
    bottom, top = (
        [b for b in sorted(rounded, key=lambda b: (b.layer, b.start)) if b.face == face]
        for face in ("bottom", "top")
    )
    bottom = [replace(b, mark=marks.give(_piece(beam, sizes, b))) for b in bottom]
    beside = [replace(s, mark=marks.give(_piece(beam, sizes, s))) for s in beside]
    top = [replace(b, mark=marks.give(_piece(beam, sizes, b))) for b in top]
    marks.last = max(marks.last, FIRST_STIRRUP - 1)
    tied = [replace(z, mark=marks.give(_piece(beam, sizes, z))) for z in ties]
    stirrups = sorted([*kept.stirrups, *tied], key=lambda z: z.start)
    return Layout((*kept.bars, *bottom, *top), tuple(stirrups), (*kept.sides, *beside))


def _on_whole_millimetres(bar: Bar) -> Bar:
    """As far as a bar is measured on site: of the same length, a little to the left; lapped ones a little
    longer."""
    start = float(math.floor(round(bar.start, 3)))
    if "lap" in bar.ends:
        return replace(bar, start=start, end=float(math.ceil(round(bar.end, 3))))
    return replace(bar, start=start, end=start + round(bar.end - bar.start))


class _Marks:
    """Numbers given so far, by piece; none of those `used` by others."""

    def __init__(self, used: set[str]) -> None:
        self.of: dict[Piece, str] = {}
        self.used, self.last = used, 0

    def give(self, piece: Piece) -> str:
        if piece not in self.of:
            self.last += 1
            while f"{self.last:02d}" in self.used:
                self.last += 1
            self.of[piece] = f"{self.last:02d}"
        return self.of[piece]


def _piece(beam: Beam, sizes: BarSizes, entry: Bar | SideBars | StirrupZone) -> Piece:
    """What makes pieces alike: a bar may be turned end for end, a stirrup has the depth and width of its
    section."""
    if isinstance(entry, StirrupZone):
        middle = 0.5 * (entry.start + entry.end)
        span = next((s for s in beam.spans if middle <= s.end), beam.spans[-1])
        first, last, middle = (
            min(max(x - span.start, 0.0), span.length) for x in (entry.start, entry.end, middle)
        )
        depths = tuple(sorted(round(float(span.depths(x)), 1) for x in (first, last)))
        varying = (entry.count,) if depths[0] != depths[1] else ()
        return "stirrup", entry.size, entry.legs, depths, round(float(span.widths(middle)), 1), *varying
    bent = [
        (kind, round(leg)) if kind in ("bend", "hook") else ("", 0)
        for kind, leg in zip(entry.ends, entry.legs, strict=True)
    ]
    if isinstance(entry, Bar) and entry.bent_up is not None:
        return "bent up", entry.size, entry.start, entry.end, entry.bent_up, *bent
    if isinstance(entry, Bar) and entry.face == "bottom":
        line = line_of(beam, [entry], None, sizes[entry.size].diameter)
        lengths = [round(s.length) for s in line] or [round(entry.end - entry.start)]
        if len(lengths) > 1:
            return "bar", entry.size, *max((*lengths, *bent), (*lengths[::-1], *bent[::-1]))
        return "bar", entry.size, lengths[0], *sorted(bent)
    return "bar", entry.size, round(entry.end - entry.start), *sorted(bent)
