"""Forces from beams that this one carries: stirrups hang them up to the top, beside those for shear."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from upright_bramble.analysis.forces import Forces
from upright_bramble.beam import Beam
from upright_bramble.codes.design_code import DesignCode


@dataclass(frozen=True)
class Suspension:
    """Forces in span `span` between x = `first` and x = `last`: their largest sum of any set (N), stirrups
    that carry them (mm2), and how far beyond both these may stand."""

    span: int
    first: float
    last: float
    force: float
    steel: float
    reach: float

    @property
    def ends(self) -> tuple[float, float]:
        return self.first - self.reach, self.last + self.reach

    @property
    def x(self) -> float:
        return 0.5 * (self.first + self.last)


def suspension_forces(beam: Beam, code: DesignCode, forces: Forces) -> list[Suspension]:
    """By place, forces of one place together; and of forces whose stirrups would stand in the same place
    every group of neighbours, since none of these stirrups counts twice. Within a third of the depth to both
    sides (EN 1992-1-1, 9.2.5)."""
    places: dict[tuple[int, float], np.ndarray] = {}
    factors = forces.factors[code.actions.levels[0]]
    for case, loads in enumerate(forces.cases.loads):
        for p in loads:
            if p.hung:
                key = (p.span, round(p.start, 3))
                places[key] = places.get(key, np.zeros(len(factors))) + factors[:, case] * p.first
    result = []
    given = sorted(places.items())
    for i, ((index, first), _) in enumerate(given):
        span, total = beam.spans[index], np.zeros(len(factors))
        for k in range(i, len(given)):
            (other, local), force = given[k]
            reach = float(span.depths(local)) / 3.0
            if other != index or (k > i and local - given[k - 1][0][1] >= 2.0 * reach):
                break
            total = total + force
            maximum = float(total.max())
            if maximum > 0.0:
                result.append(
                    Suspension(
                        index,
                        span.start + first,
                        span.start + local,
                        maximum,
                        code.shear.suspension_steel(beam.stirrups, maximum),
                        reach,
                    )
                )
    return result
