"""Shapes as strips: any simple polygon, and the usual ones with a flange above or below or a sloping web."""

from __future__ import annotations

import itertools
from collections.abc import Sequence

import numpy as np

from upright_bramble.section.strips import Strips

Point = tuple[float, float]
SAME = 1e-6  # mm: levels nearer to each other than four times this are one


def polygon(points: Sequence[Point], holes: Sequence[Sequence[Point]] = ()) -> Strips:
    """Strips between the levels of a polygon's corners and those of its holes; points (x, y) in order around
    it, y downwards, mm.

    Raises ValueError for less than three corners, no area, or edges that cross.
    """
    p = np.asarray(points, dtype=float)
    if len(p) < 3:
        raise ValueError("a section has three corners or more")
    if crosses(p):
        raise ValueError("its edges cross each other")
    top = p[:, 1].min()
    rings = [ring - [0.0, top] for ring in (p, *(np.asarray(h, dtype=float) for h in holes))]
    levels = _levels(np.concatenate(rings))
    if len(levels) < 2:
        raise ValueError("it has no depth")
    upper, lower = [], []
    for a, b in itertools.pairwise(levels.tolist()):
        inside = 2.0 * SAME  # past corners that count as on the level
        first, last = _chord(rings, a + inside), _chord(rings, b - inside)
        upper.append(first)
        lower.append(last)
    if max(upper + lower) <= 0.0:
        raise ValueError("it has no area")
    return Strips(*(np.array([row]) for row in (upper, lower, levels[:-1], levels[1:])))


def narrowest_between(strips: Strips, low: float, high: float) -> float:
    """Least width of one section between two depths, mm."""
    top, bottom = strips.top[0], strips.bottom[0]
    cut = (bottom > low) & (top < high) & (bottom > top)
    slope = (strips.lower[0] - strips.upper[0]) / np.where(bottom > top, bottom - top, 1.0)
    edges = [strips.upper[0] + slope * (np.clip(y, top, bottom) - top) for y in (low, high)]
    return float(np.minimum(*edges)[cut].min())


def _levels(p: np.ndarray) -> np.ndarray:
    """Depths of the corners, each once."""
    depths = np.unique(p[:, 1])
    return np.asarray(depths[np.concatenate([[True], np.diff(depths) > 4.0 * SAME])])


def parted(points: Sequence[Point]) -> bool:
    """Whether the polygon stands in more than one piece at some depth, like a trough on its two webs."""
    p = np.asarray(points, dtype=float)
    levels = _levels(p)
    return any(len(_crossings([p], 0.5 * (a + b))) > 2 for a, b in itertools.pairwise(levels.tolist()))


def _chord(rings: Sequence[np.ndarray], y: float) -> float:
    """Width of a polygon at a level, holes left out: between every second crossing."""
    x = _crossings(rings, y)
    return float((x[1::2] - x[0::2]).sum())


def _crossings(rings: Sequence[np.ndarray], y: float) -> np.ndarray:
    """Where the edges cross a level, sorted."""
    a, b = np.concatenate(rings), np.concatenate([np.roll(p, -1, axis=0) for p in rings])
    cut = (a[:, 1] <= y) != (b[:, 1] <= y)
    share = (y - a[cut, 1]) / (b[cut, 1] - a[cut, 1])
    return np.sort(a[cut, 0] + share * (b[cut, 0] - a[cut, 0]))


def crosses(p: np.ndarray) -> bool:
    """Whether edges of a ring of corners (k, 2) that are not neighbours cross."""
    n = len(p)
    for i in range(n):
        for j in range(i + 1, n):
            if j in (i, (i + 1) % n) or (j + 1) % n == i:
                continue
            if meet(p[i], p[(i + 1) % n], p[j], p[(j + 1) % n]):
                return True
    return False


def meet(a: np.ndarray, b: np.ndarray, c: np.ndarray, d: np.ndarray) -> bool:
    """Whether the edges a-b and c-d cross."""

    def side(u: np.ndarray, v: np.ndarray, w: np.ndarray) -> float:
        return float((v[0] - u[0]) * (w[1] - u[1]) - (v[1] - u[1]) * (w[0] - u[0]))

    return side(a, b, c) * side(a, b, d) < 0.0 and side(c, d, a) * side(c, d, b) < 0.0


def webbed(
    depth: float, width: float, foot: float, above: tuple[float, float], below: tuple[float, float]
) -> list[Point]:
    """Corners of a web `width` wide at its top and `foot` at its bottom, with flanges (width, thickness)
    above and below; a thickness of 0 is none."""
    (w_a, t_a), (w_b, t_b) = above, below

    def at(y: float) -> float:
        return width + (foot - width) * y / depth

    right: list[Point] = []
    if t_a > 0.0:
        right += [(0.5 * w_a, 0.0), (0.5 * w_a, t_a)]
    right += [(0.5 * at(t_a), t_a), (0.5 * at(depth - t_b), depth - t_b)]
    if t_b > 0.0:
        right += [(0.5 * w_b, depth - t_b), (0.5 * w_b, depth)]
    return [*right, *((-x, y) for x, y in reversed(right))]
