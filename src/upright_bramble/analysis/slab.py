"""Bars of the slab along the beam, in the part of its flange beside the web that works: what they add over
supports."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from upright_bramble.analysis.stations import Stations
from upright_bramble.beam import Beam
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.section.arrays import Array


@dataclass(frozen=True)
class SlabSteel:
    """Bars of the slab at stations, (n,): area `present` beside the web, what of it is `anchored`, and the
    depth of their axes from the top `y`. mm2, mm."""

    present: Array
    anchored: Array
    y: Array


def slab_steel(beam: Beam, code: DesignCode, at: Stations, tie: float) -> SlabSteel | None:
    """None where no profile gives bars of its slab; `tie` diameter of the stirrup, mm.

    They lie level with the beam's own top bars unless the user says otherwise, in the width of the flange
    that works and that the code counts bars in, and develop from where they end: the ends of the beam, and
    where the slab beside gives none.
    """
    given = [s.profile.flange.slab_bars if s.profile.flange is not None else None for s in beam.spans]
    if not any(v is not None for v in given):
        return None
    per_width, y, length = (np.zeros(len(beam.spans)) for _ in range(3))
    for k, (span, bars) in enumerate(zip(beam.spans, given, strict=True)):
        if bars is None:
            continue
        assert span.profile.flange is not None
        phi, thickness = code.sizes[bars.size].diameter, span.profile.flange.thickness
        per_width[k] = bars.top
        y[k] = bars.depth if bars.depth is not None else beam.cover.top + tie + 0.5 * phi
        height, depth = np.array([thickness - y[k]]), np.array([thickness])
        length[k] = float(code.bond.anchorage(beam.concrete, beam.bars, np.array([phi]), height, depth)[0])
    sections = at.sections
    clear = np.array([b - a for a, b in (beam.clear(k) for k in range(len(beam.spans)))])[at.span]
    beside = np.where(
        (sections.flange_depth > 0.0) & ~sections.below, sections.flange_width - sections.upper, 0.0
    )
    width = np.minimum(beside, code.bending.slab_bars_width(sections.upper + beside, clear) - sections.upper)
    present = np.maximum(width, 0.0) * per_width[at.span]
    share = np.minimum(
        _developed(beam, at, per_width, length, False), _developed(beam, at, per_width, length, True)
    )
    return SlabSteel(present, present * share, y[at.span])


def _developed(beam: Beam, at: Stations, per_width: Array, length: Array, to_right: bool) -> Array:
    """Share of its yield that the steel at each station develops towards its nearest end on one side: beyond
    it goes on as far as the spans there have as much."""
    x, low, high = at.x, beam.ends[0] + beam.cover.sides, beam.ends[1] - beam.cover.sides
    result = np.ones(len(x))
    for k in range(len(beam.spans)):
        rows = at.of(k)
        if per_width[k] <= 0.0:
            continue
        beyond = range(k + 1, len(beam.spans)) if to_right else range(k - 1, -1, -1)
        end, going_on = (high if to_right else low), 1.0
        shares = []
        for other in beyond:
            less = min(per_width[other] / per_width[k], 1.0)
            if less < going_on:
                edge = beam.spans[other].start if to_right else beam.spans[other].end
                shares.append((edge, less))
                going_on = less
        if going_on > 0.0:
            shares.append((end, 0.0))
        for edge, rest in shares:
            distance = np.maximum((edge - x[rows]) if to_right else (x[rows] - edge), 0.0)
            result[rows] = np.minimum(
                result[rows], rest + (1.0 - rest) * np.clip(distance / length[k], 0.0, 1.0)
            )
    return result
