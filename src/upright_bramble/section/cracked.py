"""Elastic sections, uncracked and cracked, at all stations at once."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from upright_bramble.section.arrays import Array, Floats
from upright_bramble.section.strips import Strips


@dataclass(frozen=True)
class Elastic:
    """Transformed section, (n,) each: neutral axis depth `x` from the compressed face, second moment `i` (mm4, in
    concrete), first moment `s` (mm3) of the bars about the axis, not transformed, tension side positive."""

    x: Array
    i: Array
    s: Array


def uncracked(strips: Strips, areas: Array, depths: Array, alpha_e: Floats) -> Elastic:
    """The whole section works; bars count alpha_e - 1 times their area beyond the concrete they displace."""
    h = strips.height
    more = areas * (np.reshape(np.asarray(alpha_e, dtype=float), (-1, 1)) - 1.0)
    area, first = strips.first(h)
    x = (first + (more * depths).sum(axis=1)) / (area + more.sum(axis=1))
    arm = depths - x[:, None]
    return Elastic(x, strips.second(h, x) + (more * arm**2).sum(axis=1), (areas * arm).sum(axis=1))


def cracked(strips: Strips, areas: Array, depths: Array, alpha_e: Floats) -> Elastic:
    """Concrete below the neutral axis does not work; compressed bars count alpha_e - 1 times."""
    alpha = np.reshape(np.asarray(alpha_e, dtype=float), (-1, 1))
    h = strips.height

    x = h.copy()
    for _ in range(60):
        # Newton's method from the whole depth: the first moment about x grows ever faster with x, so x only falls
        area, first = strips.first(x)
        weight = areas * (alpha - (depths < x[:, None]))
        moment = area * x - first + (weight * (x[:, None] - depths)).sum(axis=1)
        step = moment / (area + weight.sum(axis=1))
        x = np.maximum(x - step, 1e-9)
        if np.abs(step).max() < 1e-9:
            break
    arm = depths - x[:, None]
    weight = areas * (alpha - (depths < x[:, None]))
    return Elastic(x, strips.second(x, x) + (weight * arm**2).sum(axis=1), (areas * arm).sum(axis=1))
