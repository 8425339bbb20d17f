"""A cross-section as strips of constant width, stacked from the compressed face. Arrays (n stations, k strips)."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from upright_bramble.section.arrays import Array, Floats


@dataclass(frozen=True)
class Strips:
    """`width`, `top`, `bottom` of each strip, (n, k), mm; `top` and `bottom` are depths from the compressed face."""

    width: Array
    top: Array
    bottom: Array

    @property
    def height(self) -> Array:
        """Whole depth, (n,)."""
        return np.asarray(self.bottom.max(axis=1))

    def first(self, x: Array) -> tuple[Array, Array]:
        """Area above depth `x` (n,) and its first moment about the compressed face."""
        low = np.minimum(self.bottom, np.maximum(x[:, None], self.top))
        area = self.width * (low - self.top)
        return np.asarray(area.sum(axis=1)), np.asarray((area * 0.5 * (low + self.top)).sum(axis=1))

    def second(self, x: Array, about: Array) -> Array:
        """Second moment, about depth `about`, of what lies above depth `x`; both (n,)."""
        low = np.minimum(self.bottom, np.maximum(x[:, None], self.top))
        cubes = (low - about[:, None]) ** 3 - (self.top - about[:, None]) ** 3
        return np.asarray((self.width * cubes / 3.0).sum(axis=1))

    def turned(self) -> Strips:
        """The same section with its other face compressed."""
        h = self.height[:, None]
        return Strips(self.width, h - self.bottom, h - self.top)


def rectangle(width: Floats, depth: Floats) -> Strips:
    """Rectangular sections, one a station."""
    b, h = np.atleast_1d(np.asarray(width, dtype=float)), np.atleast_1d(np.asarray(depth, dtype=float))
    b, h = np.broadcast_arrays(b, h)
    return Strips(b[:, None].copy(), np.zeros((len(b), 1)), h[:, None].copy())


def tee(flange_width: float, flange_depth: float, web_width: float, depth: float) -> Strips:
    """One T section whose flange is the compressed face."""
    return Strips(
        np.array([[flange_width, web_width]], dtype=float),
        np.array([[0.0, flange_depth]], dtype=float),
        np.array([[flange_depth, depth]], dtype=float),
    )
