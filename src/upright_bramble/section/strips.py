"""A cross-section as strips stacked from the compressed face, straight-sided. Arrays (n stations, k
strips)."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from upright_bramble.section.arrays import Array, Floats, Index, Mask


@dataclass(frozen=True)
class Strips:
    """`upper`, `lower`: widths at the top and the bottom edge of each strip; `top`, `bottom`: their depths
    from the compressed face; (n, k), mm."""

    upper: Array
    lower: Array
    top: Array
    bottom: Array

    @cached_property
    def height(self) -> Array:
        """Whole depth, (n,)."""
        return np.asarray(self.bottom.max(axis=1))

    @cached_property
    def _slope(self) -> Array:
        depth = self.bottom - self.top
        return (self.lower - self.upper) / np.where(depth > 0.0, depth, 1.0)

    @cached_property
    def _straight(self) -> bool:
        """Whether no strip widens or narrows."""
        return not self._slope.any()

    def first(self, x: Array) -> tuple[Array, Array]:
        """Area above depth `x` (..., n) and its first moment about the compressed face."""
        t = np.minimum(np.maximum(x[..., None], self.top), self.bottom) - self.top
        area = self.upper * t
        moment = (self.top + 0.5 * t) * area
        if not self._straight:
            widening = 0.5 * self._slope * t**2
            area, moment = area + widening, moment + widening * (self.top + t / 1.5)
        return np.asarray(area.sum(axis=-1)), np.asarray(moment.sum(axis=-1))

    def second(self, x: Array, about: Array) -> Array:
        """Second moment, about depth `about`, of what lies above depth `x`; both (n,)."""
        t = np.clip(x[:, None], self.top, self.bottom) - self.top
        a = self.top - about[:, None]
        even = self.upper * ((a + t) ** 3 - a**3) / 3.0
        sloped = self._slope * (a**2 * t**2 / 2.0 + 2.0 * a * t**3 / 3.0 + t**4 / 4.0)
        return np.asarray((even + sloped).sum(axis=1))

    def breadth(self, y: Array) -> Array:
        """Width of each strip at depths `y` (n, k, points) inside it."""
        return np.asarray(self.upper[..., None] + self._slope[..., None] * (y - self.top[..., None]))

    def narrows(self) -> Mask:
        """Whether the section becomes narrower from its upper third towards its compressed face, (n,)."""
        h = self.height
        third, _ = self.first(h / 3.0)
        edge, _ = self.first(h / 50.0)
        return np.asarray(edge / (h / 50.0) < 0.995 * third / (h / 3.0))

    def scaled(self, factor: Array) -> Strips:
        """With other widths; `factor` (n,)."""
        return Strips(self.upper * factor[:, None], self.lower * factor[:, None], self.top, self.bottom)

    def turned(self) -> Strips:
        """The same section with its other face compressed."""
        return self._turned

    @cached_property
    def _turned(self) -> Strips:
        h = self.height[:, None]
        return Strips(self.lower, self.upper, h - self.bottom, h - self.top)

    def at(self, rows: Index | slice) -> Strips:
        """Some of the stations."""
        return Strips(self.upper[rows], self.lower[rows], self.top[rows], self.bottom[rows])

    def gross(self) -> tuple[Array, Array, Array]:
        """Area, depth of the centroid, and second moment about it, without bars; (n,) each."""
        return self._gross

    @cached_property
    def _gross(self) -> tuple[Array, Array, Array]:
        h = self.height
        area, first = self.first(h)
        centroid = first / area
        return area, centroid, self.second(h, centroid)

    def tension_width(self) -> Array:
        """Mean width of the part below the centroid, (n,)."""
        return self._tension_width

    @cached_property
    def _tension_width(self) -> Array:
        area, centroid, _ = self.gross()
        above, _ = self.first(centroid)
        return (area - above) / (self.height - centroid)

    def tension_modulus(self) -> Array:
        """Section modulus for the face in tension, without bars, (n,)."""
        return self._tension_modulus

    @cached_property
    def _tension_modulus(self) -> Array:
        _, centroid, inertia = self.gross()
        return inertia / (self.height - centroid)


def stacked(a: Strips, b: Strips) -> Strips:
    """The stations of `a`, then those of `b`; both of as many strips."""
    return Strips(*(np.vstack([getattr(a, k), getattr(b, k)]) for k in ("upper", "lower", "top", "bottom")))


def rectangle(width: Floats, depth: Floats) -> Strips:
    """Rectangular sections, one a station."""
    b, h = np.atleast_1d(np.asarray(width, dtype=float)), np.atleast_1d(np.asarray(depth, dtype=float))
    b, h = np.broadcast_arrays(b, h)
    return Strips(b[:, None].copy(), b[:, None].copy(), np.zeros((len(b), 1)), h[:, None].copy())


def tee(flange_width: Floats, flange_depth: Floats, web_width: Floats, depth: Floats) -> Strips:
    """T sections whose flange is the compressed face, one a station; a flange of no depth is none."""
    parts = [
        np.atleast_1d(np.asarray(v, dtype=float)) for v in (flange_width, flange_depth, web_width, depth)
    ]
    b_f, h_f, b, h = np.broadcast_arrays(*parts)
    widths = np.stack([np.where(h_f > 0.0, b_f, b), b], axis=1)
    return Strips(widths, widths, np.stack([np.zeros_like(h), h_f], axis=1), np.stack([h_f, h], axis=1))
