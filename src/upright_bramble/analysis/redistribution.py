"""Hogging peaks lowered by choice, every set of forces kept in equilibrium with its loads."""

from __future__ import annotations

import numpy as np

from upright_bramble.analysis.stations import Stations, support_stations
from upright_bramble.beam import Beam
from upright_bramble.section.arrays import Array


def redistribute(beam: Beam, at: Stations, moment: Array, shear: Array, reaction: Array) -> tuple[Array, Array, Array]:
    """Moment, shear (rows, n) and reaction (rows, supports) with the peaks over the chosen supports cut.

    In each row the moment over a support is raised to delta times the largest hogging moment of all rows there, where it
    hogs more; between supports the change runs straight, so that loads, moments and reactions stay in equilibrium.
    """
    change = np.zeros((len(moment), len(beam.supports)))
    for s in beam.redistribution.supports:
        over = list(support_stations(beam, at, s))
        here = moment[:, over].min(axis=1)
        change[:, s] = np.maximum(beam.redistribution.delta * min(float(here.min()), 0.0) - here, 0.0)
    moment, shear, reaction = moment.copy(), shear.copy(), reaction.copy()
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
    return moment, shear, reaction


def delta_of_supports(beam: Beam) -> Array:
    """Ratio of the moment after to that before, by support: 1 where nothing is redistributed."""
    delta = np.ones(len(beam.supports))
    for s in beam.redistribution.supports:
        delta[s] = beam.redistribution.delta
    return delta
