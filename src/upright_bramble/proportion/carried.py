"""Held bars that end in a lap are facts: what carries them on, to the end of the beam, where the user has
given nothing that does."""

from __future__ import annotations

import math
from dataclasses import replace

from upright_bramble.beam import Bar, Beam, lapped_pairs
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.proportion import curtail


def carried_on(beam: Beam, code: DesignCode, held: tuple[Bar, ...]) -> list[Bar]:
    """Pieces beside the lapped ends that none of the `held` bars carries on: of the same size and number, in
    the same row."""
    pairs = lapped_pairs(held)
    before, after = {j for _, j in pairs}, {i for i, _ in pairs}
    result: list[Bar] = []
    for k, bar in enumerate(held):
        if bar.ends[1] == "lap" and k not in after:
            result += _to_the_end(beam, code, bar)
        if bar.ends[0] == "lap" and k not in before:
            result += [_turned(beam, b) for b in _to_the_end(_mirrored(beam), code, _turned(beam, bar))]
    return result


def _to_the_end(beam: Beam, code: DesignCode, bar: Bar) -> list[Bar]:
    """From the right end of a bar to that of the beam, in pieces no longer than can be had, lapped over
    supports or at midspan."""
    bar = replace(bar, bent_up=None)
    step, phi = beam.detailing.step, code.sizes[bar.size].diameter
    overlap = math.ceil(curtail.lap_of(beam, code, phi, bar.face) / step) * step
    high = curtail.run_limits(beam, 0.0, beam.length).high
    usual = (
        [s.x for s in beam.supports]
        if bar.face == "bottom"
        else [0.5 * (s.start + s.end) for s in beam.spans]
    )
    start, pieces = bar.end - overlap, []
    # pieces hardly longer than their laps would never get there: then one that is too long, which is told
    while high - start > beam.detailing.longest_piece > 2.0 * overlap:
        last = start + beam.detailing.longest_piece
        ends = [x + 0.5 * overlap for x in usual if start + 3.0 * overlap < x + 0.5 * overlap <= last]
        end = math.floor(max(ends, default=last) / step) * step
        pieces.append(
            replace(bar, mark="", held=False, start=start, end=end, ends=("lap", "lap"), legs=(0.0, 0.0))
        )
        start = end - overlap
    kind, leg = _last_end(beam, code, bar, phi)
    return [
        *pieces,
        replace(bar, mark="", held=False, start=start, end=high, ends=("lap", kind), legs=(0.0, leg)),
    ]


def _last_end(beam: Beam, code: DesignCode, bar: Bar, phi: float) -> tuple[str, float]:
    """Bent where the last support is too narrow for the anchorage, and at the top anyway."""
    span = beam.spans[-1]
    room = beam.supports[-1].width - beam.cover.sides if span.right is not None else 0.0
    lacking = curtail.anchorage_of(beam, code, phi, bar.face) - room
    if lacking <= 0.0 and bar.face == "bottom":
        return "straight", 0.0
    return curtail.end_for(beam, code, phi, max(lacking, 0.0), curtail.end_depths(beam)[1])


def _turned(beam: Beam, bar: Bar) -> Bar:
    """Seen from the other side of the beam."""
    return replace(
        bar,
        start=beam.length - bar.end,
        end=beam.length - bar.start,
        ends=bar.ends[::-1],
        legs=bar.legs[::-1],
    )


def _mirrored(beam: Beam) -> Beam:
    """The line alone, from right to left: what lengths, supports and depths need."""
    last = len(beam.supports) - 1
    supports = tuple(replace(s, x=beam.length - s.x) for s in reversed(beam.supports))
    spans = tuple(
        replace(
            s,
            start=beam.length - s.end,
            left=None if s.right is None else last - s.right,
            right=None if s.left is None else last - s.left,
            profile=s.becomes or s.profile,
            becomes=s.profile if s.becomes is not None else None,
        )
        for s in reversed(beam.spans)
    )
    return replace(beam, supports=supports, spans=spans)
