"""Laps of a layout: which bars carry each other's force on, and how long the code asks them to be."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from upright_bramble.analysis.crossing import crossing_of
from upright_bramble.beam import Layout, lapped_share
from upright_bramble.codes.parts import Around, Crossing
from upright_bramble.section.arrays import Array
from upright_bramble.verify.groups import Groups, least_near


@dataclass(frozen=True)
class Lap:
    """Two groups that carry each other's force on: from `start` to `end`, with the length `required` by the
    code where this `share` of the face's bars is lapped at one place."""

    first: int
    second: int
    start: float
    end: float
    required: float
    share: float = 1.0
    beside: float = 0.0
    """Clear distance between the laps side by side, mm."""
    above: float = 0.0
    """To the next row, mm."""
    crossing: Crossing | None = None
    """Stirrups across both groups over the lap, where they are counted on."""


def laps_of(g: Groups, layout: Layout, around: Around) -> list[Lap]:
    """All laps, and the ends marked so that nothing carries on; with the stirrups `around` that count."""
    bond, beam = g.code.bond, g.beam
    found = _ends_and_partners(g, bond.lap(beam.concrete, beam.bars, g.phi, g.height, g.depth))
    paired = [lap for lap in found if lap.first == lap.second or _level(g, lap)]
    alone = [
        Lap(lap.first, lap.first, lap.end, lap.end, lap.required)
        for lap in found
        if lap.first != lap.second and not _level(g, lap)
    ]
    result = []
    for lap in (*paired, *alone):
        beside, above = (_least_over(g, clear, lap) for clear in (g.beside, g.above))
        crossing = None
        if around.crossing is not None:
            crossing = crossing_of(beam, g.code, layout, g.bars, [[(lap.start, lap.end)]] * len(g.bars))
        result.append(_with_share(g, replace(lap, beside=beside, above=above, crossing=crossing), around))
    return result


def _ends_and_partners(g: Groups, required: Array) -> list[Lap]:
    """Ends marked 'lap' with the bars that carry on beside them; a lap without a partner has length 0."""
    bars, pairs = g.bars, g.pairs
    result = [Lap(i, j, bars[j].start, bars[i].end, float(max(required[i], required[j]))) for i, j in pairs]
    for i, a in enumerate(bars):
        if a.ends[1] == "lap" and all(i != first for first, _ in pairs):
            result.append(Lap(i, i, a.end, a.end, float(required[i])))
        if a.ends[0] == "lap" and all(i != second for _, second in pairs):
            result.append(Lap(i, i, a.start, a.start, float(required[i])))
    return result


def _level(g: Groups, lap: Lap) -> bool:
    """Whether two lapped groups lie at one level: their clear distance is no more than 50 mm or four
    diameters (EN 1992-1-1, 8.7.2(3))."""
    i = int(np.abs(g.at.x - 0.5 * (lap.start + lap.end)).argmin())
    phi = float(g.phi[lap.first])
    apart = abs(float(g.y[i, lap.first] - g.y[i, lap.second])) - phi
    return bool(apart <= min(50.0, 4.0 * phi))


def _least_over(g: Groups, clear: Array, lap: Lap) -> float:
    """Of clear distances (n, g) along a lap, mm."""
    return min(least_near(g.at, clear[:, k], (lap.start, lap.end)) for k in (lap.first, lap.second))


def _with_share(g: Groups, lap: Lap, around: Around) -> Lap:
    """With the share of the face's bars that is lapped there, and the length that this asks for: laps whose
    middles lie within 0.65 of it count together (EN 1992-1-1, 8.7.3)."""
    if lap.first == lap.second:
        return lap
    beam, code = g.beam, g.code
    share = lapped_share(g.bars, g.pairs, (lap.first, lap.second), 0.65 * lap.required, code.sizes)
    two = [lap.first, lap.second]
    crossing = None if lap.crossing is None else lap.crossing.at(two)
    beside, above = np.full(2, lap.beside), np.full(2, lap.above)
    own = replace(around.at(two), beside=beside, above=above, crossing=crossing)
    lengths = code.bond.lap(beam.concrete, beam.bars, g.phi[two], g.height[two], g.depth[two], share, own)
    return replace(lap, share=share, required=float(lengths.max()))
