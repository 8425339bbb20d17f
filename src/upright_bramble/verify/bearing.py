"""Bottom bars that end straight over an end support: its reaction presses across them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from upright_bramble.analysis import Forces
from upright_bramble.analysis.flanges import bar_width
from upright_bramble.beam import Bar, Beam
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.section.arrays import Array

PRESSED = "pressure"  # the wish that has it counted on


@dataclass(frozen=True)
class Bearing:
    """Of an end support: the beam's end (`side` 0 left, 1 right), from its outer edge (`outer`) to the face
    (`face`, both x, mm), and the least `pressure` that any set of forces for strength leaves there, MPa."""

    side: int
    outer: float
    face: float
    pressure: float

    def presses(self, bar: Bar) -> bool:
        """Whether a bar lies in the first row and ends over it, straight."""
        end = bar.start if self.side == 0 else bar.end
        low, high = sorted((self.outer, self.face))
        first = bar.face == "bottom" and bar.layer == 1
        return first and bar.ends[self.side] == "straight" and low - 1.0 <= end <= high


def bearings_of(beam: Beam, code: DesignCode, forces: Forces) -> tuple[Bearing, ...]:
    """End supports that the beam rests on, where their pressure is counted on; none under a cantilever, where
    the beam hangs in another or is built with its support, or of tables, whose shears may be the largest
    alone."""
    if beam.detailing.anchorage != PRESSED or beam.given:
        return ()
    result = []
    for side, span, support in (
        (0, beam.spans[0], beam.supports[0]),
        (1, beam.spans[-1], beam.supports[-1]),
    ):
        if span.cantilever or not support.direct or support.restrains_rotation:
            continue
        face, away = (beam.clear(0)[0], -1.0) if side == 0 else (beam.clear(len(beam.spans) - 1)[1], 1.0)
        pressure = _least_pressure(beam, code, forces, side, face)
        if pressure > 0.0:
            result.append(Bearing(side, support.x + away * 0.5 * support.width, face, pressure))
    return tuple(result)


def _least_pressure(beam: Beam, code: DesignCode, forces: Forces, side: int, face: float) -> float:
    """The least shear that any set leaves at the face, over the bearing and the width that its bars lie in,
    MPa: the reaction is no less."""
    at, support = forces.stations, beam.supports[0 if side == 0 else -1]
    rows = at.of(0 if side == 0 else len(beam.spans) - 1)
    i = int(rows.start + np.abs(at.x[rows] - face).argmin())
    given = [forces.envelopes[n] for n in code.actions.levels if n in forces.envelopes]
    strength = [e for e in given if e.level not in forces.missing][:1]
    low = min((float(e.shear_min[i] if side == 0 else -e.shear_max[i]) for e in strength), default=0.0)
    width = max(float(at.width[i]), float(bar_width(at, "bottom")[i]))
    return max(low, 0.0) / (support.width * width)


def pressed_gain(bearing: Bearing, x: Array, bars: Sequence[Bar], ratio: Array) -> Array:
    """Length (n, g) that straight bars which end over a bearing are anchored further, mm: what lies of them
    between their end and each place `x` (n), over the bearing alone, counts `ratio` (g) times."""
    gain = np.zeros((len(x), len(bars)))
    for g, bar in enumerate(bars):
        if bearing.presses(bar):
            end, inwards = (bar.start, 1.0) if bearing.side == 0 else (bar.end, -1.0)
            along = np.clip(inwards * (x - end), 0.0, abs(bearing.face - end))
            gain[:, g] = along * (float(ratio[g]) - 1.0)
    return gain
