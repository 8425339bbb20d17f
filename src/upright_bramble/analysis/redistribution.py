"""Hogging peaks lowered by choice, every set of forces kept in equilibrium with its loads."""

from __future__ import annotations

import numpy as np

from upright_bramble.analysis.envelope import Envelope
from upright_bramble.analysis.stations import Stations, support_stations
from upright_bramble.beam import Beam
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.section.arrays import Array

STEPS = 201  # ratios tried between the least and 1


def deltas_of(beam: Beam, code: DesignCode, at: Stations, envelope: Envelope) -> Array:
    """Ratio of the moment after to that before, by support: 1 where nothing is redistributed.

    As far as allowed: the least ratio whose neutral axis limit the section still meets with tension steel
    alone. That is a choice, not a proof: verification judges the section that results.
    """
    delta = np.ones(len(beam.supports))
    for s in beam.redistribution.supports:
        delta[s] = (
            _furthest(beam, code, at, envelope, s)
            if beam.redistribution.delta is None
            else beam.redistribution.delta
        )
    for s, floor in beam.redistribution.floors:
        delta[s] = max(delta[s], floor)
    return delta


def delta_for(beam: Beam, code: DesignCode, neutral_axis: float) -> float:
    """The least ratio that a section may have whose neutral axis depth over d is given: 1 where it may have
    none."""
    candidates = np.linspace(code.analysis.minimum_delta(beam.bars), 1.0, STEPS)
    enough = code.bending.neutral_axis_limit(beam.concrete, beam.bars, candidates) >= neutral_axis
    return float(candidates[int(enough.argmax())]) if enough[:-1].any() else 1.0


def _furthest(beam: Beam, code: DesignCode, at: Stations, envelope: Envelope, support: int) -> float:
    beside = [p.length for p in beam.spans if support in (p.left, p.right) and not p.cantilever]
    if len(beside) == 2 and max(beside) / min(beside) > code.analysis.maximum_span_ratio():
        return 1.0
    over = list(support_stations(beam, at, support))
    peak = max(float(-envelope.moment_min[over].min()), 0.0) / (1.0 - beam.detailing.reserve)
    width, depth = float(at.width[over].min()), float(at.depth[over].min())
    d = depth - beam.cover.top - 0.05 * depth - 15.0  # a stirrup, and half of the bars there may be
    candidates = np.linspace(code.analysis.minimum_delta(beam.bars), 1.0, STEPS)
    law = code.materials.concrete_law(beam.concrete)
    block = (
        law.depth_factor
        * np.maximum(code.bending.neutral_axis_limit(beam.concrete, beam.bars, candidates), 0.0)
        * d
    )
    enough = code.bending.usual_factor * law.stress * width * block * (d - 0.5 * block) >= candidates * peak
    return float(candidates[int(enough.argmax())]) if enough.any() else 1.0


def redistribute(
    beam: Beam, at: Stations, delta: Array, moment: Array, shear: Array, reaction: Array, turning: Array
) -> tuple[Array, Array, Array, Array]:
    """Moment, shear (rows, n), reaction and moment of reaction (rows, supports) with the peaks over the
    chosen supports cut.

    In each row the moment over a support is raised to `delta` times the largest hogging moment of all rows
    there, where it hogs more; between supports the change runs straight, so that loads, moments and reactions
    stay in equilibrium.
    """
    change = np.zeros((len(moment), len(beam.supports)))
    for s in beam.redistribution.supports:
        over = list(support_stations(beam, at, s))
        here = moment[:, over].min(axis=1)
        change[:, s] = np.maximum(delta[s] * min(float(here.min()), 0.0) - here, 0.0)
    moment, shear, reaction, turning = moment.copy(), shear.copy(), reaction.copy(), turning.copy()
    for index, span in enumerate(beam.spans):
        if span.left is None or span.right is None:
            continue
        rows = at.of(index)
        left, right = change[:, [span.left]], change[:, [span.right]]
        slope = (right - left) / span.length
        moment[:, rows] += left + slope * at.local[rows]
        shear[:, rows] += slope
        reaction[:, span.left] += slope[:, 0]
        reaction[:, span.right] -= slope[:, 0]
        turning[:, span.left] += left[:, 0]
        turning[:, span.right] -= right[:, 0]
    return moment, shear, reaction, turning
