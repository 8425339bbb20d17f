"""Elastic states of sections of any outline under an axial force and two moments, uncracked and cracked. N,
mm, MPa; see `plane`."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from upright_bramble.section.arrays import Array, Floats
from upright_bramble.section.shape import Gross, Shape, gross_of

NODES, WEIGHTS = np.polynomial.legendre.leggauss(3)
STEPS = 200


@dataclass(frozen=True)
class Plane:
    """Stress of the concrete, were it to work everywhere: `origin` + `slope_x` (x - x_0) + `slope_y` (y -
    y_0), compression positive, about the `reference`; stresses of bars (g,) and the ratio of moduli; whether
    concrete in tension is left out."""

    origin: float
    slope_x: float
    slope_y: float
    reference: tuple[float, float]
    bars: Array
    alpha_e: float
    cracked: bool

    def at(self, x: Floats, y: Floats) -> Array:
        """Stress of the concrete, MPa; 0 where it is cracked."""
        stress = (
            self.origin
            + self.slope_x * (np.asarray(x) - self.reference[0])
            + self.slope_y * (np.asarray(y) - self.reference[1])
        )
        return np.asarray(np.maximum(stress, 0.0) if self.cracked else stress)

    def axis_height(self, x: float) -> float:
        """y of the neutral axis at x; not finite where it runs upright."""
        if abs(self.slope_y) < 1e-15:
            return np.nan
        return self.reference[1] - (self.origin + self.slope_x * (x - self.reference[0])) / self.slope_y

    @property
    def theta(self) -> float:
        """Direction along which compression grows, degrees."""
        return float(np.degrees(np.arctan2(self.slope_y, self.slope_x)))


def moments_of(shape: Shape, plane: Array | None, reference: tuple[float, float]) -> Array:
    """(3, 3) integrals of [1, x, y] times [1, x, y] about the reference, over the whole section or where a
    plane (origin, slopes) is above 0."""
    ends = shape.edges - np.asarray(reference)
    theta = 0.5 * np.pi if plane is None else np.arctan2(plane[2], plane[1])
    cos, sin = np.cos(theta), np.sin(theta)
    v = cos * ends[..., 0] + sin * ends[..., 1]
    u = sin * ends[..., 0] - cos * ends[..., 1]
    low, high = v.min(axis=1), v.max(axis=1)
    start = low.min()
    if plane is not None:
        size = np.hypot(plane[1], plane[2])
        start = -plane[0] / size if size > 0.0 else (low.min() if plane[0] > 0.0 else high.max())
    run = v[:, 1] - v[:, 0]
    slope = np.where(np.abs(run) > 1e-9, (u[:, 1] - u[:, 0]) / np.where(np.abs(run) > 1e-9, run, 1.0), 0.0)
    a = np.clip(start, low, high)
    half, middle = 0.5 * (high - a), 0.5 * (high + a)
    s = middle[:, None] + half[:, None] * NODES
    across = u[:, :1] + slope[:, None] * (s - v[:, :1])
    weight = (np.sign(run) * half)[:, None] * WEIGHTS
    area, first_v, first_u = (float((weight * f).sum()) for f in (across, across * s, 0.5 * across**2))
    vv, uv, uu = (float((weight * f).sum()) for f in (across * s**2, 0.5 * across**2 * s, across**3 / 3.0))
    turn = np.array(
        [[1.0, 0.0, 0.0], [0.0, cos, sin], [0.0, sin, -cos]]
    )  # x = cos v + sin u, y = sin v - cos u
    inner = np.array([[area, first_v, first_u], [first_v, vv, uv], [first_u, uv, uu]])
    return np.asarray(turn.T @ inner @ turn)


def transformed_section(
    shape: Shape, bars: tuple[Array, Array, Array], alpha_e: float, *, deduct_displaced: bool = True
) -> Gross:
    """The uncracked section with its bars (x, y, area, (g,)) at the ratio of moduli."""
    x, y, area = bars
    g = shape.gross
    arm = np.stack([np.ones_like(x), x - g.x, y - g.y])
    more = alpha_e - (1.0 if deduct_displaced else 0.0)
    k = moments_of(shape, None, (g.x, g.y)) + (arm * (area * more)) @ arm.T
    return gross_of(
        float(k[0, 0]),
        g.x + float(k[0, 1] / k[0, 0]),
        g.y + float(k[0, 2] / k[0, 0]),
        k[1:, 1:] - np.outer(k[0, 1:], k[0, 1:]) / k[0, 0],
    )


def cracking_moment(
    shape: Shape,
    bars: tuple[Array, Array, Array],
    alpha_e: float,
    f_ct: float,
    ray: tuple[float, float] = (1.0, 0.0),
    axial: float = 0.0,
) -> float:
    """The moment along a ray (of M_x, M_y) under which a corner of the uncracked section reaches a tension of
    `f_ct`, N mm; 0 where the axial force alone does."""
    size = float(np.hypot(*ray))
    alone = elastic_state(shape, bars, (axial, 0.0, 0.0), alpha_e, cracked=False)
    bent = elastic_state(shape, bars, (0.0, 1e6 * ray[0] / size, 1e6 * ray[1] / size), alpha_e, cracked=False)
    assert alone is not None
    assert bent is not None
    corners = shape.corners.T
    spare, rate = alone.at(*corners) + f_ct, bent.at(*corners)
    pulled = rate < 0.0
    return max(float((spare[pulled] / -rate[pulled]).min()), 0.0) * 1e6


def elastic_state(
    shape: Shape,
    bars: tuple[Array, Array, Array],
    forces: tuple[float, float, float],
    alpha_e: float,
    *,
    cracked: bool = True,
    deduct_displaced: bool = True,
) -> Plane | None:
    """Stresses under (N, M_x, M_y), moments about the gross centroid. None where a cracked section finds no
    balance: without bars that could carry the tension.

    bars : x, y (mm) and area (mm2), (g,) each
    """
    x, y, area = bars
    reference = (shape.gross.x, shape.gross.y)
    arm = np.stack([np.ones_like(x), x - reference[0], y - reference[1]])
    wanted = np.array([forces[0], forces[2], forces[1]])  # against [1, x, y]
    less = 1.0 if deduct_displaced else 0.0

    def stiffness(plane: Array | None) -> Array:
        own = moments_of(shape, plane, reference)
        here = np.ones_like(x) if plane is None else (plane @ arm > 0.0).astype(float)
        return np.asarray(own + (arm * (area * (alpha_e - less * here))) @ arm.T)

    plane = np.linalg.solve(stiffness(None), wanted)
    if cracked:
        solution = _cracked(stiffness, plane, wanted)
        if solution is None:
            return None
        plane = solution
    origin, slope_x, slope_y = (float(v) for v in plane)
    return Plane(origin, slope_x, slope_y, reference, alpha_e * (plane @ arm), alpha_e, cracked)


def _cracked(stiffness: Callable[[Array], Array], plane: Array, wanted: Array) -> Array | None:
    """Newton's method on the energy, which is convex: steps are shortened until it falls."""
    scale = np.abs(wanted).max()

    def energy(p: Array, k: Array) -> float:
        return float(0.5 * p @ k @ p - wanted @ p)

    matrix = stiffness(plane)
    value = energy(plane, matrix)
    for _ in range(STEPS):
        residual = wanted - matrix @ plane
        if np.abs(residual).max() <= 1e-10 * scale:
            return plane
        try:
            step = np.linalg.solve(matrix + 1e-12 * np.diag(np.diag(matrix)), residual)
        except np.linalg.LinAlgError:
            return None
        share = 1.0
        while share > 1e-6:
            trial = plane + share * step
            other = stiffness(trial)
            if energy(trial, other) < value + 1e-4 * share * float(-residual @ step) or share < 1e-5:
                break
            share *= 0.5
        plane, matrix = trial, other
        value = energy(plane, matrix)
        if not np.isfinite(value) or np.abs(plane).max() > 1e12:
            return None
    residual = wanted - matrix @ plane
    return plane if np.abs(residual).max() <= 1e-6 * scale else None
