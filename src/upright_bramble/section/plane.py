"""Ultimate states of sections of any outline: a strain plane, and what concrete and bars give under it. All
states at once.

A state is a direction `theta` (degrees from x) along which compression grows, and a place `t` of the neutral
axis: -1 uniform tension, 0 an axis at the extreme compressed fibre, 1 at the opposite one, 2 uniform
compression. Compression is positive; M_x compresses the top (y up), M_y the right; moments are about a
reference point. N, mm, MPa.
"""

from __future__ import annotations

import itertools
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np

from upright_bramble.section.arrays import Array, Floats, Index
from upright_bramble.section.shape import Shape
from upright_bramble.section.strength import ConcreteLaw, SteelLaw, polynomial_nodes, quadrature

AT_A_TIME = 400_000  # nodes of integration that are worked on together
NODES = 5  # of integration along an edge, where the stress is no polynomial


@dataclass(frozen=True, eq=False)
class Member:
    """A section with its bars (g,) at `x`, `y` of `area`, and the laws of its materials; moments are about
    `reference`.

    `deduct_displaced`: take away the concrete that compressed bars displace. `narrowing`: factor on the
    concrete's stress where the compressed part narrows towards its edge (EN 1992-1-1, 3.1.7(3)). `factor`: of
    the strain of the extreme bars in tension, on all forces.
    """

    shape: Shape
    x: Array
    y: Array
    area: Array
    concrete: ConcreteLaw
    steel: SteelLaw
    reference: tuple[float, float]
    deduct_displaced: bool = True
    narrowing: float = 1.0
    factor: Callable[[Array], Array] | None = None
    axial_cap: float = np.inf
    """Greatest axial force in compression, N (a limit on the factored strength of short columns)."""

    @cached_property
    def lowest(self) -> float:
        """The least place of a neutral axis: of steel without a limit of strain next to 0."""
        return -1.0 if np.isfinite(self.steel.limit_strain) else 1e-9


@dataclass(frozen=True)
class States:
    """(m,) each: axial force, moments, strain of the extreme compressed fibre and curvature along `theta`,
    depth of the section and of the extreme bar along it, factor on the forces (already in them)."""

    theta: Array
    place: Array
    axial: Array
    moment_x: Array
    moment_y: Array
    top_strain: Array
    curvature: Array
    height: Array
    outer: Array
    factor: Array
    bar_strain: Array = field(default_factory=lambda: np.zeros((0, 0)))
    bar_stress: Array = field(default_factory=lambda: np.zeros((0, 0)))

    @property
    def axis_depth(self) -> Array:
        """Depth of the neutral axis from the extreme compressed fibre; endless where strain is even."""
        with np.errstate(divide="ignore", invalid="ignore"):
            return np.asarray(
                np.where(
                    self.curvature > 0.0, self.top_strain / self.curvature, np.inf * np.sign(self.top_strain)
                )
            )

    @property
    def moment(self) -> Array:
        return np.hypot(self.moment_x, self.moment_y)


def plane_at(
    place: Array, height: Array, outer: Array, law: ConcreteLaw, steel: SteelLaw
) -> tuple[Array, Array]:
    """Strain of the compressed edge and curvature (m,) for places of the neutral axis. Pivots: the ultimate
    strain of the edge, the limit of the extreme bars, and, where the whole section is compressed, the law's
    strain of even compression (EN 1992-1-1, Figure 6.1)."""
    t, limit = np.asarray(place, dtype=float), steel.limit_strain
    even = law.uniform_strain if law.uniform_strain is not None else law.ultimate_strain
    # the whole section compressed: w from 1 (axis at the far edge) to 0 (even)
    w = np.clip(2.0 - t, 0.0, 1.0)
    pivot = (1.0 - even / law.ultimate_strain) * height
    full_top = even * height / (height - pivot * w)
    full_curve = even * w / (height - pivot * w)
    # the axis inside, or above where the limit of bars allows it
    x = np.maximum(t, 1e-12) * height
    curve = law.ultimate_strain / x
    top = np.full_like(x, law.ultimate_strain)
    if np.isfinite(limit):
        r = 1.0 + np.minimum(t, 0.0)
        above = t < 0.0
        span = np.where(above, outer * r - height * t, np.maximum(outer - x, 1e-9))
        bar_curve = np.where(above, limit * r, limit) / span
        bar_top = np.where(above, limit * height * t / span, bar_curve * x)
        governs = above | ((bar_curve < curve) & (outer > x))
        curve, top = np.where(governs, bar_curve, curve), np.where(governs, bar_top, top)
    full = t > 1.0
    return np.where(full, full_top, top), np.where(full, full_curve, curve)


def states(member: Member, theta: Floats, place: Floats, bars: bool = False) -> States:
    """Forces at strain planes: directions and places of the neutral axis broadcast together, (m,); with
    strains and stresses of `bars` (m, g) where they are wanted."""
    theta, place = (np.atleast_1d(np.asarray(v, dtype=float)) for v in (theta, place))
    theta, place = (np.ascontiguousarray(v).ravel() for v in np.broadcast_arrays(theta, place))
    directions, rows = np.unique(theta, return_inverse=True)
    return states_along(member, seen_along(member, directions), rows, place, bars)


def states_along(member: Member, seen: Seen, rows: Index, place: Array, bars: bool = False) -> States:
    """Forces at strain planes, (m,): each along one of the directions that the section is `seen` from, by its
    row."""
    each = max(len(member.shape.edges) * (1 + len(member.concrete.kinks)) * NODES, 1)
    step = max(AT_A_TIME // each, 1)
    parts = [
        _states(member, seen.at(rows[i : i + step]), place[i : i + step], bars)
        for i in range(0, len(place), step)
    ]
    if len(parts) == 1:
        return parts[0]
    names = States.__dataclass_fields__
    return States(**{name: np.concatenate([getattr(p, name) for p in parts]) for name in names})


@dataclass(frozen=True)
class Seen:
    """A section seen along directions (m,): the edges (m, e) from `low` to `high` below the compressed fibre,
    `u` across at the depth `first`, with a `slope` and the `sign` of their sense; the bars (m, g)."""

    theta: Array
    cos: Array
    sin: Array
    top: Array
    height: Array
    first: Array
    low: Array
    high: Array
    u: Array
    slope: Array
    sign: Array
    bar_depth: Array
    outer: Array

    def at(self, rows: Index) -> Seen:
        """Some of the directions, any of them more than once."""
        return Seen(**{name: getattr(self, name)[rows] for name in Seen.__dataclass_fields__})


def seen_along(member: Member, theta: Array) -> Seen:
    """The section of a member along directions (m,), degrees."""
    cos, sin = np.cos(np.radians(theta)), np.sin(np.radians(theta))
    ends = member.shape.edges - np.asarray(member.reference)
    v = cos[:, None, None] * ends[..., 0] + sin[:, None, None] * ends[..., 1]
    u = sin[:, None, None] * ends[..., 0] - cos[:, None, None] * ends[..., 1]
    top = v.max(axis=(1, 2))
    depth = top[:, None, None] - v
    run = depth[..., 1] - depth[..., 0]
    inclined = np.abs(run) > 1e-9
    x, y = member.x - member.reference[0], member.y - member.reference[1]
    bar_depth = top[:, None] - (cos[:, None] * x + sin[:, None] * y)
    height = depth.max(axis=(1, 2))
    return Seen(
        theta=theta,
        cos=cos,
        sin=sin,
        top=top,
        height=height,
        first=depth[..., 0],
        low=depth.min(axis=2),
        high=depth.max(axis=2),
        u=u[..., 0],
        slope=np.where(inclined, (u[..., 1] - u[..., 0]) / np.where(inclined, run, 1.0), 0.0),
        sign=-np.sign(run),
        bar_depth=bar_depth,
        outer=bar_depth.max(axis=1) if bar_depth.shape[1] else height,
    )


def _forces(
    member: Member, seen: Seen, edge: Array, curve: Array
) -> tuple[Array, Array, Array, Array, Array]:
    """Axial force, moments (m,), strains and stresses of the bars (m, g) under strain planes; without the
    strength factor."""
    force, m_v, m_u = _concrete(member, seen, edge, curve)
    strain = edge[:, None] - curve[:, None] * seen.bar_depth
    stress = member.steel.stress(strain)
    net = (
        stress - _displaced(member, strain, seen.bar_depth, edge, curve)
        if member.deduct_displaced
        else stress
    )
    pull = member.area * net
    x, y = member.x - member.reference[0], member.y - member.reference[1]
    moment_x = -seen.cos * m_u + seen.sin * m_v + (pull * y).sum(axis=1)
    moment_y = seen.sin * m_u + seen.cos * m_v + (pull * x).sum(axis=1)
    return force + pull.sum(axis=1), moment_x, moment_y, strain, stress


def under_planes(
    member: Member, theta: float, edge: Array, curve: Array
) -> tuple[Array, Array, Array, Array]:
    """Axial force, moments (m,) and strains of bars (m, g) under given planes: strain of the compressed edge
    and curvature along one direction."""
    return _forces(member, seen_along(member, np.array([theta])), edge, curve)[:4]


def _states(member: Member, seen: Seen, place: Array, bars: bool) -> States:
    edge, curve = plane_at(place, seen.height, seen.outer, member.concrete, member.steel)
    axial, moment_x, moment_y, strain, stress = _forces(member, seen, edge, curve)
    factor = np.ones_like(axial)
    if member.factor is not None:
        factor = member.factor(np.maximum(curve * seen.outer - edge, 0.0))
    kept = (strain, stress) if bars else (np.zeros((len(axial), 0)),) * 2
    forces = factor * axial, factor * moment_x, factor * moment_y
    return States(seen.theta, place, *forces, edge, curve, seen.height, seen.outer, factor, *kept)


def _bands(law: ConcreteLaw, edge: Array, curve: Array, height: Array) -> list[tuple[Array, Array]]:
    """Depths (m,) between which the stress is one smooth function."""
    with np.errstate(divide="ignore", invalid="ignore"):
        axis = np.where(curve > 0.0, edge / curve, np.where(edge > 0.0, np.inf, -np.inf))
    if law.curve is None:
        return [(np.zeros_like(edge), np.clip(law.depth_factor * axis, 0.0, height))]
    strains = sorted((s for s in law.kinks if s < law.ultimate_strain), reverse=True)
    with np.errstate(divide="ignore", invalid="ignore"):
        inner = [
            np.where(curve > 0.0, (edge - s) / curve, np.where(edge > s, np.inf, -np.inf)) for s in strains
        ]
    cuts = [np.clip(c, 0.0, height) for c in (np.zeros_like(edge), *inner, axis)]
    return list(itertools.pairwise(cuts))


def _concrete(member: Member, seen: Seen, edge: Array, curve: Array) -> tuple[Array, Array, Array]:
    """Force and its first moments along v and u: integrals over the compressed part, as sums along its
    edges."""
    law = member.concrete
    degree = 0 if law.curve is None else law.degree
    nodes, weights = quadrature(NODES if degree is None else polynomial_nodes(degree))
    force, m_v, m_u = (np.zeros_like(edge) for _ in range(3))
    for begin, end in _bands(law, edge, curve, seen.height):
        a, b = np.clip(begin[:, None], seen.low, seen.high), np.clip(end[:, None], seen.low, seen.high)
        half, middle = 0.5 * (b - a), 0.5 * (a + b)
        s = middle[..., None] + half[..., None] * nodes
        across = seen.u[..., None] + seen.slope[..., None] * (s - seen.first[..., None])
        weight = (seen.sign * half)[..., None] * weights * across
        if law.curve is not None:
            weight *= law.curve(np.maximum(edge[:, None, None] - curve[:, None, None] * s, 0.0))
        force += weight.sum(axis=(1, 2))
        m_v += (weight * (seen.top[:, None, None] - s)).sum(axis=(1, 2))
        m_u += 0.5 * (weight * across).sum(axis=(1, 2))
    stress: Array | float = law.stress
    if member.narrowing < 1.0:
        stress = law.stress * np.where(
            _narrows(member, seen, edge, curve), _narrowed(member.narrowing, edge, curve, seen.height), 1.0
        )
    return stress * force, stress * m_v, stress * m_u


def _narrowed(factor: float, edge: Array, curve: Array, height: Array) -> Array:
    """The factor of a part that narrows, (m,); with an axis outside the section it fades, as strain becomes
    even and no edge is the extreme one."""
    with np.errstate(divide="ignore", invalid="ignore"):
        inside = np.where(curve > 0.0, np.minimum(height * curve / np.maximum(edge, 1e-12), 1.0), 0.0)
    return np.asarray(1.0 - (1.0 - factor) * inside)


def _narrows(member: Member, seen: Seen, edge: Array, curve: Array) -> Array:
    """Whether the compressed part, (m,), becomes narrower towards its edge: less of it in its upper half than
    in its lower."""
    with np.errstate(divide="ignore", invalid="ignore"):
        axis = np.where(curve > 0.0, edge / curve, np.inf)
    reach = np.clip(member.concrete.depth_factor * axis, 1e-6, seen.height)

    def part(end: Array) -> Array:
        b = np.clip(end[:, None], seen.low, seen.high)
        mean = seen.u + seen.slope * (0.5 * (seen.low + b) - seen.first)
        return np.asarray((seen.sign * (b - seen.low) * mean).sum(axis=1))

    return np.asarray(part(0.5 * reach) < 0.4975 * part(reach))


def _displaced(member: Member, strain: Array, depth: Array, edge: Array, curve: Array) -> Array:
    """Stress (m, g) of the concrete where bars are."""
    law = member.concrete
    if law.curve is None:
        with np.errstate(divide="ignore", invalid="ignore"):
            axis = np.where(curve > 0.0, edge / curve, np.where(edge > 0.0, np.inf, -np.inf))
        return np.where(depth < (law.depth_factor * axis)[:, None], law.stress, 0.0)
    return np.asarray(law.stress * law.curve(np.maximum(strain, 0.0)))
