"""Forces from beams that this one carries: stirrups hang them up to the top, beside those for shear."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from upright_bramble.analysis.forces import Forces
from upright_bramble.beam import Beam
from upright_bramble.codes.protocol import DesignCode


@dataclass(frozen=True)
class Hung:
    """At x in span `span`: the largest force of any set (N), stirrups that carry it (mm2), and how far to both sides they may stand."""

    span: int
    x: float
    force: float
    steel: float
    reach: float

    @property
    def ends(self) -> tuple[float, float]:
        return self.x - self.reach, self.x + self.reach


def hung_forces(beam: Beam, code: DesignCode, forces: Forces) -> list[Hung]:
    """By place, forces of one place together; within a third of the depth to both sides (EN 1992-1-1, 9.2.5)."""
    places: dict[tuple[int, float], np.ndarray] = {}
    factors = forces.factors[code.levels[0]]
    for case, loads in enumerate(forces.cases.loads):
        for p in loads:
            if p.hung:
                key = (p.span, round(p.start, 3))
                places[key] = places.get(key, np.zeros(len(factors))) + factors[:, case] * p.first
    found = []
    for (index, local), force in sorted(places.items()):
        span, most = beam.spans[index], float(force.max())
        if most > 0.0:
            found.append(Hung(index, span.start + local, most, code.hanging_steel(beam.stirrups, most), float(span.depths(local)) / 3.0))
    return found
