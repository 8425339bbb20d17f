"""Elastic sections, uncracked and cracked, at all stations at once."""

from __future__ import annotations

from dataclasses import dataclass, fields
from typing import Any

import numpy as np

from upright_bramble.section.arrays import Array, Floats
from upright_bramble.section.strips import Strips


@dataclass(frozen=True)
class Elastic:
    """Transformed section, (n,) each: neutral axis depth `x` from the compressed face, second moment `i`
    (mm4, in concrete), first moment `s` (mm3) of the bars about the axis, not transformed, tension side
    positive; effective depth `d` of the bars in tension (that of the tension face where there are none),
    least width `b` of the concrete in tension and width `b_c` of the compressed edge (mm); bars in tension
    `a_s` and in compression `a_s2` (mm2)."""

    x: Array
    i: Array
    s: Array
    d: Array
    b: Array
    b_c: Array
    a_s: Array
    a_s2: Array

    def at(self, rows: Any) -> Elastic:
        """Some of the stations."""
        return Elastic(*(np.asarray(getattr(self, f.name)[rows]) for f in fields(self)))


def uncracked(strips: Strips, areas: Array, depths: Array, alpha_e: Floats) -> Elastic:
    """The whole section works; bars count alpha_e - 1 times their area beyond the concrete they displace."""
    h = strips.height
    more = areas * (np.reshape(np.asarray(alpha_e, dtype=float), (-1, 1)) - 1.0)
    area, first = strips.first(h)
    x = (first + (more * depths).sum(axis=1)) / (area + more.sum(axis=1))
    arm = depths - x[:, None]
    return Elastic(
        x,
        strips.second(h, x) + (more * arm**2).sum(axis=1),
        (areas * arm).sum(axis=1),
        *_tension(strips, areas, depths, x),
    )


def cracked(strips: Strips, areas: Array, depths: Array, alpha_e: Floats) -> Elastic:
    """Concrete below the neutral axis does not work; compressed bars count alpha_e - 1 times."""
    alpha = np.reshape(np.asarray(alpha_e, dtype=float), (-1, 1))
    h = strips.height

    x = h.copy()
    for _ in range(60):
        # Newton's method from the whole depth: the first moment about x grows ever faster with x, so x only
        # falls
        area, first = strips.first(x)
        weight = areas * (alpha - (depths < x[:, None]))
        moment = area * x - first + (weight * (x[:, None] - depths)).sum(axis=1)
        step = moment / (area + weight.sum(axis=1))
        x = np.maximum(x - step, 1e-9)
        if np.abs(step).max() < 1e-9:
            break
    arm = depths - x[:, None]
    weight = areas * (alpha - (depths < x[:, None]))
    return Elastic(
        x,
        strips.second(x, x) + (weight * arm**2).sum(axis=1),
        (areas * arm).sum(axis=1),
        *_tension(strips, areas, depths, x),
    )


def _tension(strips: Strips, areas: Array, depths: Array, x: Array) -> tuple[Array, ...]:
    """Effective depth of the bars below the axis, least width of the concrete there, width of the compressed
    edge, bars below and above."""
    h = strips.height
    pulled = np.where(depths > x[:, None], areas, 0.0)
    total = pulled.sum(axis=1)
    d = np.where(total > 0.0, (pulled * depths).sum(axis=1) / np.where(total > 0.0, total, 1.0), h)
    below = (strips.bottom > x[:, None]) & (strips.bottom > strips.top)
    least = np.asarray(np.where(below, np.minimum(strips.upper, strips.lower), np.inf).min(axis=1))
    first = np.where(strips.bottom > strips.top, strips.top, np.inf).argmin(axis=1)
    edge = np.take_along_axis(strips.upper, first[:, None], axis=1)[:, 0]
    return d, least, np.asarray(edge), total, np.asarray(areas.sum(axis=1) - total)
