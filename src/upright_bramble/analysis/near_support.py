"""Forces that stand near a support: struts carry part of them straight into it, where the code counts on
that."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from upright_bramble.analysis.forces import Forces
from upright_bramble.analysis.line import diagrams, solve
from upright_bramble.beam import Beam
from upright_bramble.codes.design_code import DesignCode
from upright_bramble.section.arrays import Array, Mask

NEAREST = 1.0  # mm from the face: nearer forces stand on the support


@dataclass(frozen=True)
class Near:
    """A force near the support with index `support`, at x = `load` in span `span`, `a_v` from the support's
    `face` (x): the largest `shear` (N) between the two, with every near force by the share that counts."""

    span: int
    support: int
    face: float
    load: float
    a_v: float
    shear: float

    def between(self, x: Array) -> Mask:
        """Places between face and force."""
        low, high = sorted((self.face, self.load))
        return np.asarray((x >= low - 1e-6) & (x <= high + 1e-6))

    def middle(self) -> tuple[float, float]:
        """The middle three quarters of a_v, whose stirrups count."""
        low, high = sorted((self.face, self.load))
        return low + 0.125 * self.a_v, high - 0.125 * self.a_v


def near_forces(beam: Beam, code: DesignCode, forces: Forces, d: Array) -> list[Near]:
    """Forces within reach of direct supports, set of forces by set of forces.

    None where sets of forces are not known as they act: tables, the worst spans place by place,
    redistribution; nor in a taper.
    """
    if beam.given or beam.arrangements == "every" or beam.redistribution.supports:
        return []
    result: list[Near] = []
    for index, span in enumerate(beam.spans):
        low, high = beam.clear(index)
        for s, face, sign in ((span.left, low, 1.0), (span.right, high, -1.0)):
            if s is not None and beam.supports[s].direct and not span.tapers:
                result += _at_side(code, forces, d, (index, s), face, sign)
    return result


def _at_side(
    code: DesignCode, forces: Forces, d: Array, at_: tuple[int, int], face: float, sign: float
) -> list[Near]:
    index, s = at_
    at = forces.stations
    rows = at.of(index)
    x, depth = at.x[rows], float(np.interp(face, at.x[rows], d[rows]))
    start = forces.beam.spans[index].start
    points = [
        (case, p, sign * (start + p.start - face))
        for case, loads in enumerate(forces.cases.loads)
        for p in loads
        if p.span == index and p.shape == "point" and p.first > 0.0 and not p.hung
    ]
    points = [q for q in points if q[2] > NEAREST]
    counts = code.shear.near_support_factor(np.array([a for _, _, a in points]), depth)
    shares = [(*point, float(share)) for point, share in zip(points, counts, strict=True) if share < 1.0]
    if not shares:
        return []
    factors = forces.factors[code.actions.levels[0]]
    near = sign * (x - face) >= -1e-6
    less = np.zeros((len(factors), len(x)))
    length = forces.beam.spans[index].length
    loads = tuple(p for _, p, _, _ in shares)
    if (index, loads) not in forces.alone:
        solved = solve(forces.beam, [[p] for p in loads], code.materials.modulus(forces.beam.concrete))
        forces.alone[index, loads] = diagrams(solved, at, deflection=False).shear[:, rows]
    alone = forces.alone[index, loads]
    for number, (case, p, a, share) in enumerate(shares):
        carried = (
            (sign * (x - face) <= a + 1e-6)
            & ~((np.abs(sign * (x - face) - a) < 1e-6) & (at.side[rows] == sign))
            & near
        )
        # of the shear only what the force itself makes on this side is reduced, no more than in a simple span
        simple = p.first * (1.0 - (p.start if sign > 0.0 else length - p.start) / length)
        own = np.clip(sign * alone[number], 0.0, max(simple, 0.0))
        less += np.outer(factors[:, case], carried * own) * (1.0 - share)
    shear = sign * (factors @ forces.responses.shear[:, rows])
    counted = np.maximum(shear - np.maximum(less, 0.0), -shear).max(axis=0)
    result = []
    for a in sorted({round(q[2], 3) for q in shares}):
        here = near & (sign * (x - face) <= a + 1e-6)
        result.append(Near(index, s, face, face + sign * a, a, float(counted[here].max())))
    return result
