"""Bars as a detailer draws them: none too short, ends that coincide or stand apart, pieces of nearly one length made alike.

Bars are only ever made longer, at straight ends inside the beam.
"""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import replace

from upright_bramble.beam import Bar, Beam

APART = 4.0  # steps between the ends of bars of a face: nearer ones become one place
SHORT = 40.0  # steps of the shortest piece
ROUNDS = 8


def tidy(beam: Beam, bars: Sequence[Bar], low: float, high: float) -> list[Bar]:
    """The bars of one face; those that stop inside it stay between `low` and `high` (mm along the beam)."""
    step = beam.detailing.step
    result = [_long_enough(b, SHORT * step, low, high) for b in bars]
    for _ in range(ROUNDS):
        before = list(result)
        result = ends_apart(beam, result)
        result = _lengths_alike(result, APART * step, low, high)
        if result == before:
            break
    result = ends_apart(beam, result)
    return _symmetrical([b if _length(b) <= beam.detailing.stock_length else a for a, b in zip(bars, result, strict=True)])


def _length(bar: Bar) -> float:
    return bar.end - bar.start + sum(bar.legs)


def _symmetrical(bars: list[Bar]) -> list[Bar]:
    """Where two groups of odd number lie in one row together, the shorter one gets a bar more."""
    result = list(bars)
    for i, j in itertools.combinations(range(len(bars)), 2):
        a, b = result[i], result[j]
        apart = (a.face, a.layer) != (b.face, b.layer) or a.end <= b.start + 1.0 or b.end <= a.start + 1.0
        if apart or a.count % 2 == 0 or b.count % 2 == 0 or "lap" in (a.ends[1], b.ends[1]) or "lap" in (a.ends[0], b.ends[0]):
            continue
        k = i if _length(a) < _length(b) else j
        result[k] = replace(result[k], count=result[k].count + 1)
    return result


def _straight(bar: Bar) -> tuple[bool, bool]:
    return bar.ends[0] == "straight", bar.ends[1] == "straight"


def _long_enough(bar: Bar, shortest: float, low: float, high: float) -> Bar:
    lacking = shortest - _length(bar)
    return bar if lacking <= 0.0 else _longer(bar, lacking, low, high)


def _longer(bar: Bar, more: float, low: float, high: float) -> Bar:
    """By so much, half at each end where both are straight and have room; as it was where there is none."""
    left, right = _straight(bar)
    room = (bar.start - low if left else 0.0, high - bar.end if right else 0.0)
    if sum(max(r, 0.0) for r in room) < more:
        return bar
    before = float(round(min(0.5 * more if left and right else more if left else 0.0, max(room[0], 0.0))))
    after = min(more - before, max(room[1], 0.0))
    return replace(bar, start=bar.start - (more - after), end=bar.end + after)


def ends_apart(beam: Beam, bars: Sequence[Bar]) -> list[Bar]:
    """Of two straight ends of a face in one clear span, nearer to each other than `APART` steps, the bar that stops first goes on: to the
    other end, or past it where the two bars overlap by little."""
    result, apart = list(bars), APART * beam.detailing.step
    places = sorted((x, side, i) for i, b in enumerate(bars) for side, x in enumerate((b.start, b.end)) if b.ends[side] == "straight")
    for index in range(len(beam.spans)):
        low, high = beam.clear(index)
        own = [p for p in places if low + 1.0 < p[0] < high - 1.0]
        for (x, side, i), (y, other, j) in itertools.pairwise(own):
            if not 1.0 < y - x < apart or i == j:
                continue
            if side == 1:  # on to the other end, whether that bar ends or begins there
                result[i] = replace(result[i], end=max(result[i].end, y))
            elif other == 0:
                result[j] = replace(result[j], start=min(result[j].start, x))
            elif x + apart < high:
                result[j] = replace(result[j], end=max(result[j].end, x + apart))
    return result


def _lengths_alike(bars: list[Bar], apart: float, low: float, high: float) -> list[Bar]:
    """Straight pieces of a size whose lengths differ by less than `apart` get the longest of them."""
    result = list(bars)
    order = sorted(
        (i for i, b in enumerate(bars) if _straight(b) == (True, True)), key=lambda i: (bars[i].size, bars[i].start - bars[i].end)
    )
    for i, j in itertools.pairwise(order):
        a, b = result[i], result[j]
        lacking = (a.end - a.start) - (b.end - b.start)
        if a.size == b.size and 0.5 < lacking < apart:
            result[j] = _longer(b, lacking, low, high)
    return result
