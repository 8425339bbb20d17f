"""A cross-section of any outline with holes, as its rings of edges. x to the right, y upwards, mm."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from upright_bramble.section.arrays import Array
from upright_bramble.section.outline import crosses, meet

Point = tuple[float, float]
ROUND = 72  # corners that stand for a circle; inside it, so that no area is added


@dataclass(frozen=True)
class Gross:
    """Of the concrete without bars: area (mm2), centroid (mm), second moments about it (mm4), the principal
    ones with the angle (degrees) from x to the axis of the greater one."""

    area: float
    x: float
    y: float
    i_xx: float
    i_yy: float
    i_xy: float
    i_1: float
    i_2: float
    angle: float


def gross_of(area: float, x: float, y: float, second: Array) -> Gross:
    """From the second moments [[of x x, of x y], [of x y, of y y]] about the centroid."""
    i_yy, i_xy, i_xx = float(second[0, 0]), float(second[0, 1]), float(second[1, 1])
    middle, radius = 0.5 * (i_xx + i_yy), math.hypot(0.5 * (i_xx - i_yy), i_xy)
    angle = 0.5 * math.degrees(math.atan2(-2.0 * i_xy, i_xx - i_yy))
    return Gross(
        area=area,
        x=x,
        y=y,
        i_xx=i_xx,
        i_yy=i_yy,
        i_xy=i_xy,
        i_1=middle + radius,
        i_2=middle - radius,
        angle=angle,
    )


@dataclass(frozen=True, eq=False)
class Shape:
    """`rings` of corners (k, 2): the outline counter-clockwise, then the holes clockwise."""

    rings: tuple[Array, ...]

    @cached_property
    def edges(self) -> Array:
        """(e, 2, 2): both ends of every edge."""
        return np.concatenate([np.stack([ring, np.roll(ring, -1, axis=0)], axis=1) for ring in self.rings])

    @property
    def corners(self) -> Array:
        """(k, 2), those of holes after the outline's."""
        return np.concatenate(self.rings)

    @cached_property
    def gross(self) -> Gross:
        """By integration along the edges."""
        a, b = self.edges[:, 0], self.edges[:, 1]
        cross = a[:, 0] * b[:, 1] - b[:, 0] * a[:, 1]
        area = 0.5 * cross.sum()
        x, y = (float((cross * (a[:, k] + b[:, k])).sum() / (6.0 * area)) for k in (0, 1))
        a, b = a - [x, y], b - [x, y]
        cross = a[:, 0] * b[:, 1] - b[:, 0] * a[:, 1]
        i_xx, i_yy = (
            float((cross * (a[:, k] ** 2 + a[:, k] * b[:, k] + b[:, k] ** 2)).sum() / 12.0) for k in (1, 0)
        )
        mixed = a[:, 0] * b[:, 1] + 2.0 * (a[:, 0] * a[:, 1] + b[:, 0] * b[:, 1]) + b[:, 0] * a[:, 1]
        i_xy = float((cross * mixed).sum() / 24.0)
        return gross_of(float(area), float(x), float(y), np.array([[i_yy, i_xy], [i_xy, i_xx]]))

    def extent(self, theta: float) -> tuple[float, float]:
        """Least and greatest coordinate along a direction (degrees from x)."""
        along = self.rings[0] @ direction(theta)
        return float(along.min()), float(along.max())

    @cached_property
    def symmetric(self) -> bool:
        """About a vertical line: every ring has its mirror, itself or another."""
        middle = 0.5 * (self.corners[:, 0].min() + self.corners[:, 0].max())
        size = float(np.ptp(self.corners, axis=0).max())

        def mirror(ring: Array, other: Array) -> bool:
            turned = other * [-1.0, 1.0] + [2.0 * middle, 0.0]
            apart = np.abs(ring - turned[:, None]).max(axis=2)
            return len(ring) == len(other) and bool(apart.min(axis=1).max() <= 1e-4 * size)

        return all(any(mirror(ring, other) for other in self.rings) for ring in self.rings)

    @cached_property
    def perimeter(self) -> float:
        """Around the outline, mm."""
        ring = self.rings[0]
        return float(np.hypot(*(np.roll(ring, -1, axis=0) - ring).T).sum())


def inward(shape: Shape, distance: float) -> tuple[float, float]:
    """Area (mm2) and perimeter (mm) of the outline moved inwards by a distance, as long as no edge of it
    vanishes; holes do not count.

    >>> inward(shape_of([(0, 0), (450, 0), (450, 600), (0, 600)]), 50.0)
    (175000.0, 1700.0)
    """
    ring = shape.rings[0]
    back, on = ring - np.roll(ring, 1, axis=0), np.roll(ring, -1, axis=0) - ring
    turn = np.arctan2(back[:, 0] * on[:, 1] - back[:, 1] * on[:, 0], (back * on).sum(axis=1))
    lost = float(np.tan(0.5 * turn).sum())  # each corner, by half of its turn
    area = 0.5 * float(
        (ring[:, 0] * np.roll(ring, -1, axis=0)[:, 1] - np.roll(ring, -1, axis=0)[:, 0] * ring[:, 1]).sum()
    )
    return round(area - shape.perimeter * distance + lost * distance**2, 6), round(
        shape.perimeter - 2.0 * lost * distance, 6
    )


def direction(theta: float) -> Array:
    """Unit vector (2,) at an angle in degrees from x.

    >>> direction(90.0).round(6).tolist()
    [0.0, 1.0]
    """
    return np.array([math.cos(math.radians(theta)), math.sin(math.radians(theta))])


def shape_of(outline: Sequence[Point], holes: Sequence[Sequence[Point]] = ()) -> Shape:
    """Rings turned the right way round.

    Raises ValueError for rings of less than three corners or no area, edges that cross, and holes that are
    not inside the outline alone.

    >>> hole = [(50, 50), (250, 50), (250, 450), (50, 450)]
    >>> shape_of([(0, 0), (300, 0), (300, 500), (0, 500)], [hole]).gross.area
    70000.0
    """
    rings = [_ring(points, sign) for points, sign in [(outline, 1.0), *((h, -1.0) for h in holes)]]
    for i, hole in enumerate(rings[1:], 1):
        if not all(inside(rings[0], p) for p in hole):
            raise ValueError(f"hole {i} is not inside the outline")
        for j, other in enumerate(rings[1:i], 1):
            if (
                any(inside(other, p) for p in hole)
                or any(inside(hole, p) for p in other)
                or _cut(hole, other)
            ):
                raise ValueError(f"holes {j} and {i} overlap")
        if _cut(hole, rings[0]):
            raise ValueError(f"hole {i} is not inside the outline")
    return Shape(tuple(rings))


def circle(diameter: float) -> Shape:
    """Around the origin."""
    turn = 2.0 * np.pi * np.arange(ROUND) / ROUND
    return Shape((0.5 * diameter * np.stack([np.cos(turn), np.sin(turn)], axis=1),))


def _ring(points: Sequence[Point], sign: float) -> Array:
    p = np.asarray(points, dtype=float)
    if len(p) < 3:
        raise ValueError("three corners or more are needed")
    if crosses(p):
        raise ValueError("its edges cross each other")
    q = np.roll(p, -1, axis=0)
    area = 0.5 * float((p[:, 0] * q[:, 1] - q[:, 0] * p[:, 1]).sum())
    if abs(area) < 1e-6 * max(float(np.ptp(p, axis=0).max()) ** 2, 1e-9):
        raise ValueError("it has no area")
    return p if area * sign > 0.0 else p[::-1].copy()


def inside(ring: Array, point: Array) -> bool:
    """Whether a point is strictly inside a ring, by the edges that a ray to the right crosses."""
    a, b = ring, np.roll(ring, -1, axis=0)
    level = (a[:, 1] <= point[1]) != (b[:, 1] <= point[1])
    with np.errstate(divide="ignore", invalid="ignore"):
        x = a[:, 0] + (point[1] - a[:, 1]) / (b[:, 1] - a[:, 1]) * (b[:, 0] - a[:, 0])
    return bool((level & (x > point[0])).sum() % 2)


def distance_to_edges(shape: Shape, x: Array, y: Array) -> Array:
    """From points (g,) to the nearest edge of the shape, mm; negative outside the concrete."""
    p = np.stack([x, y], axis=1)[:, None]
    a, b = shape.edges[None, :, 0], shape.edges[None, :, 1]
    share = np.clip(((p - a) * (b - a)).sum(axis=2) / np.maximum(((b - a) ** 2).sum(axis=2), 1e-12), 0.0, 1.0)
    away = np.hypot(*np.moveaxis(p - a - share[..., None] * (b - a), 2, 0)).min(axis=1)
    within = [inside(shape.rings[0], q[0]) and not any(inside(h, q[0]) for h in shape.rings[1:]) for q in p]
    return np.asarray(np.where(within, away, -away))


def _cut(one: Array, other: Array) -> bool:
    """Whether edges of two rings cross."""
    for a, b in zip(one, np.roll(one, -1, axis=0), strict=True):
        for c, d in zip(other, np.roll(other, -1, axis=0), strict=True):
            if meet(a, b, c, d):
                return True
    return False
