"""Cracks around sections of any outline: points of the perimeter, each with the bar that controls it. N, mm,
MPa."""

from __future__ import annotations

import numpy as np

from upright_bramble.codes.parts import CrackPoints
from upright_bramble.section.arrays import Array
from upright_bramble.section.elastic import Plane, moments_of
from upright_bramble.section.shape import Shape, direction

APART = 20.0  # mm, of the points of an edge


def perimeter_points(shape: Shape) -> Array:
    """Points (p, 2) along the outline, corners included."""
    result = []
    for a, b in shape.edges[: len(shape.rings[0])]:
        number = max(int(np.ceil(np.hypot(*(b - a)) / APART)), 2)
        result.append(a + np.linspace(0.0, 1.0, number, endpoint=False)[:, None] * (b - a))
    return np.concatenate(result)


def crack_points(
    shape: Shape, bars: tuple[Array, Array, Array, Array], plane: Plane, points: Array, cover: float
) -> CrackPoints:
    """What cracks at points (p, 2) depend on, of a cracked state.

    bars : x, y (mm), area (mm2) and diameter (mm), (g,) each, one at least
    """
    x, y, area, phi = bars
    along = direction(plane.theta)
    v, edge = np.stack([x, y], axis=1) @ along, shape.rings[0] @ along
    slope = float(np.hypot(plane.slope_x, plane.slope_y))
    middle = float(np.asarray(plane.reference) @ along)
    height = float(np.ptp(edge))
    axis = float(edge.max()) - (middle - plane.origin / slope) if slope > 0.0 else -np.inf
    pulled = plane.bars < 0.0
    half = pulled & (v <= float(edge.min()) + 0.5 * height)
    near = half if half.any() else pulled
    depth = float(edge.max()) - (
        float((area * v)[near].sum() / area[near].sum()) if near.any() else float(edge.min())
    )

    def effective(reach: float) -> tuple[float, float]:
        limit = float(edge.min()) + reach
        within = np.array([limit - middle, -along[0], -along[1]])
        concrete = float(moments_of(shape, within, plane.reference)[0, 0])
        return concrete, float(area[pulled & (v <= limit + 1e-6)].sum())

    away = np.hypot(points[:, :1] - x, points[:, 1:] - y)
    nearest = away.argmin(axis=1)
    stress = plane.origin + slope * (np.array([edge.max(), edge.min()]) - middle)
    even = 0.5 * (stress[0] + stress[1]) / stress[1] if stress[1] < 0.0 and stress[0] < 0.0 else 0.5
    face = (
        plane.origin
        + plane.slope_x * (points[:, 0] - plane.reference[0])
        + plane.slope_y * (points[:, 1] - plane.reference[1])
    )
    return CrackPoints(
        stress=np.maximum(-plane.bars[nearest], 0.0),
        at_face=np.maximum(-plane.alpha_e * face, 0.0),
        away=away.min(axis=1),
        cover=np.full(len(points), cover),
        phi=phi[nearest],
        height=height,
        axis=axis if stress[0] > 0.0 else 0.0,
        depth=depth,
        even=float(even),
        effective=effective,
    )
