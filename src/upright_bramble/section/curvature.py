"""Moment against curvature of sections of any outline, the axis held square to a direction. N, mm, MPa; see
`plane`."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from upright_bramble.section.arrays import Array, Floats, Mask
from upright_bramble.section.plane import Member, under_planes
from upright_bramble.section.strength import bracketed_root


@dataclass(frozen=True)
class Bent:
    """(m,) each: curvature (1/mm), moments about the reference (N mm), strain of the compressed edge, and
    whether balance was found within the ultimate strain of the concrete and the limit of the bars."""

    curvature: Array
    moment_x: Array
    moment_y: Array
    top_strain: Array
    valid: Mask


def moment_at(member: Member, axial: float, curvature: Floats, theta: float = 90.0) -> Bent:
    """Moments under an axial force at curvatures > 0, (m,)."""
    curve = np.atleast_1d(np.asarray(curvature, dtype=float))
    low, high = member.shape.extent(theta)
    height = high - low
    plain = replace(member, factor=None)

    def off(edge: Array) -> Array:
        return np.asarray(under_planes(plain, theta, edge, curve)[0] - axial)

    last = member.concrete.ultimate_strain
    start, end = np.full_like(curve, -0.2), np.maximum(np.full_like(curve, last), curve * height + last)
    edge = bracketed_root(off, start, end, steps=120)
    force, moment_x, moment_y, strain = under_planes(plain, theta, edge, curve)
    size = (
        member.concrete.stress * member.shape.gross.area
        + float(member.area.sum()) * member.steel.yield_stress
    )
    valid = (edge <= last + 1e-9) & (np.abs(force - axial) <= 1e-5 * size)
    if strain.shape[1]:
        valid &= strain.min(axis=1) >= -member.steel.limit_strain - 1e-9
    return Bent(curve, moment_x, moment_y, edge, valid)


def stiffened(bent: Bent, cracking: float, rigidity: float, share: float) -> Array:
    """Mean curvature (m,) with the tension of the concrete between cracks: `share` (beta) of the uncracked
    line counts by the square of the `cracking` moment over the moment (EN 1992-1-1, (7.18) and (7.19));
    `rigidity` E I of the uncracked section, N mm2."""
    moment = np.hypot(bent.moment_x, bent.moment_y)
    cracked = moment / rigidity
    with np.errstate(divide="ignore", invalid="ignore"):
        zeta = np.where(moment > cracking, 1.0 - share * (cracking / np.maximum(moment, 1e-9)) ** 2, 0.0)
    return np.asarray(zeta * bent.curvature + (1.0 - zeta) * np.minimum(cracked, bent.curvature))
