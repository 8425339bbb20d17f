"""Stirrups across bars where these develop."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from upright_bramble.beam import Bar, Beam, Layout
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.codes.parts import Crossing
from upright_bramble.section.arrays import Array

Window = tuple[float, float]


def crossing_of(
    beam: Beam, code: DesignCode, layout: Layout, bars: Sequence[Bar], windows: Sequence[Sequence[Window]]
) -> Crossing:
    """Of each bar what stirrups hold it over its `windows` (x, mm): the thinnest legs and the fewest of the
    layout, at the widest gap that reaches into one of them; all bars that lie in its row there count."""
    places = np.sort(
        np.concatenate([np.zeros(0), *(z.start + z.spacing * np.arange(z.count) for z in layout.stirrups)])
    )
    leg = min((code.sizes[z.size].area for z in layout.stirrups), default=0.0)
    legs = min((z.legs for z in layout.stirrups), default=0)
    gaps = np.array([max(_widest_gap(beam, places, *w) for w in own) for own in windows])
    number = np.array([max(_in_row(bars, b, *w) for w in own) for b, own in zip(bars, windows, strict=True)])
    full = np.ones(len(bars))
    return Crossing(leg * full, legs * leg * full, gaps, number, beam.stirrups.strength)


def _widest_gap(beam: Beam, places: Array, low: float, high: float) -> float:
    """Between stirrups that reaches into a window, mm: over supports, where there are none, from the last of
    one span to the first of the next, and at the beam's ends from these on."""
    edges = np.concatenate([[beam.ends[0]], places, [beam.ends[1]]])
    over = (edges[1:] > low + 1.0) & (edges[:-1] < high - 1.0)
    return float(np.diff(edges)[over].max(initial=0.0)) or np.inf


def _in_row(bars: Sequence[Bar], bar: Bar, low: float, high: float) -> float:
    """Most bars of the row of a bar at one place of a window; lapped ones both."""
    row = [b for b in bars if (b.face, b.layer) == (bar.face, bar.layer) and b.start < high and b.end > low]
    edges = sorted({max(b.start, low) for b in row})
    return float(max((sum(b.count for b in row if b.start <= x <= b.end) for x in edges), default=bar.count))
