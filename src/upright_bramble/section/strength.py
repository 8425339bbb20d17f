"""Bending resistance by strain compatibility, all bars counted, at all stations at once."""

from __future__ import annotations

import itertools
from collections.abc import Callable
from dataclasses import dataclass
from functools import cache

import numpy as np

from upright_bramble.section.arrays import Array, Floats, Mask
from upright_bramble.section.strips import Strips

NODES = 24  # of integration over a piece of the compressed depth, where the stress is no polynomial


@dataclass(frozen=True)
class ConcreteLaw:
    """Ultimate stress distribution: a rectangular block, or a curve integrated over the compressed depth.

    `stress` is the design stress (MPa), `depth_factor` the block's depth over the neutral axis depth. With a
    `curve` (strain -> share of `stress`, both arrays) the block is not used. `maximum_lever` longest lever
    arm over d of sections without axial force (endless: no such rule). Between the `kinks` (strains) a curve
    is smooth; `degree` of the polynomial that it is there (None: it is none). `uniform_strain`: what sections
    that are compressed all over are strained to when strain is even (None: the ultimate strain).
    """

    stress: float
    ultimate_strain: float
    depth_factor: float = 0.8
    curve: Callable[[Array], Array] | None = None
    maximum_lever: float = np.inf
    kinks: tuple[float, ...] = ()
    uniform_strain: float | None = None
    degree: int | None = None


@dataclass(frozen=True)
class SteelLaw:
    """Bilinear, with a horizontal upper branch without strain limit; or a `curve` of strains and stresses
    (rising, from 0 on) with straight lines between them, horizontal beyond the last. `limit_strain` of the
    extreme bars, where there is one."""

    yield_stress: float
    modulus: float = 200_000.0
    curve: tuple[tuple[float, ...], tuple[float, ...]] | None = None
    limit_strain: float = np.inf

    def stress(self, strain: Array) -> Array:
        """MPa, of strains with their sign.

        >>> SteelLaw(400.0).stress(np.array([-0.001, 0.003]))
        array([-200.,  400.])
        """
        if self.curve is None:
            return np.clip(self.modulus * strain, -self.yield_stress, self.yield_stress)
        return np.asarray(np.sign(strain) * np.interp(np.abs(strain), *self.curve))


@dataclass(frozen=True)
class Resistance:
    """`moment` (n,) in N mm about the section's mid-depth, neutral axis depth `x`, effective depth `d` (where
    the tension force of the bars acts), strain and depth of the `outer` bars in tension."""

    moment: Array
    x: Array
    d: Array
    steel_strain: Array
    outer: Array


@dataclass(frozen=True)
class Balance:
    """Forces for a neutral axis: of the concrete (n,) with its first moment about the compressed face, and of
    the bars (n, g) with their strains, compression positive; compressed bars less the concrete that they
    displace."""

    concrete: Array
    first: Array
    bars: Array
    strain: Array

    def moment(self, mid: Array, depths: Array) -> Array:
        """About depth `mid`, (n,)."""
        return np.asarray(
            mid * self.concrete - self.first + (self.bars * (mid[:, None] - depths)).sum(axis=1)
        )


def balance(
    strips: Strips,
    areas: Array,
    depths: Array,
    concrete: ConcreteLaw,
    steel: SteelLaw,
    x: Array,
    deduct_displaced: bool = True,
) -> Balance:
    """Forces for neutral axis depths `x` (n,); the rest as `bending_resistance` takes it."""
    force, moment = _concrete(strips, x, concrete)
    strain = concrete.ultimate_strain * (x[:, None] - depths) / x[:, None]
    stress = steel.stress(strain)
    if deduct_displaced:
        stress = stress - _displaced(strain, depths, x, concrete)
    return Balance(force, moment, areas * stress, strain)


def bending_resistance(
    strips: Strips,
    areas: Array,
    depths: Array,
    concrete: ConcreteLaw,
    steel: SteelLaw,
    axial: Floats = 0.0,
    deduct_displaced: bool = True,
) -> Resistance:
    """Moment of resistance with the compressed face on top.

    Parameters
    ----------
    areas, depths : (n, g) bars: effective area, mm2, and depth from the compressed face, mm
    axial : (n,) or one, N, compression positive; moments are then about the section's mid-depth
    deduct_displaced : take away the concrete that compressed bars displace

    Returns
    -------
    Resistance, (n,) each. Without tension steel the moment is 0 (concrete in tension is not counted).
    """
    h = strips.height
    low, high = np.full_like(h, 1e-6), 3.0 * h

    def excess(x: Array) -> Array:
        b = balance(strips, areas, depths, concrete, steel, x, deduct_displaced)
        return np.asarray(b.concrete + b.bars.sum(axis=1) - axial)

    x = bracketed_root(excess, low, high)
    result = balance(strips, areas, depths, concrete, steel, x, deduct_displaced)
    force, bar, strain = result.concrete, result.bars, result.strain
    total = result.moment(0.5 * h, depths)
    tension = np.where(strain < 0.0, areas, 0.0)
    amount = tension.sum(axis=1)
    pull = -tension * steel.stress(strain)  # bars near the neutral axis count for little
    force_in = pull.sum(axis=1)
    d = np.where(force_in > 0.0, (pull * depths).sum(axis=1) / np.where(force_in > 0.0, force_in, 1.0), h)
    if np.isfinite(concrete.maximum_lever):
        capped = np.minimum(total, concrete.maximum_lever * force_in * d)
        total = np.where(np.asarray(axial) == 0.0, capped, total)
    outer = np.where(tension > 0.0, depths, 0.0).max(axis=1, initial=0.0)
    deepest = np.where(tension > 0.0, strain, 0.0).min(axis=1) if areas.shape[1] else np.zeros_like(h)
    has_steel = (amount > 1e-9) | (np.asarray(axial) != 0.0)
    # an axial force beyond what the section carries finds no balance: there is no moment to speak of
    size = np.abs(np.asarray(axial)) + np.abs(bar).sum(axis=1)
    has_steel &= (np.asarray(axial) == 0.0) | (np.abs(force + bar.sum(axis=1) - axial) <= 1e-4 * size + 1.0)
    return Resistance(
        np.where(has_steel, np.maximum(total, 0.0), 0.0), x, d, -deepest, np.where(outer > 0.0, outer, h)
    )


def _concrete(strips: Strips, x: Array, law: ConcreteLaw) -> tuple[Array, Array]:
    """Compressive force and its first moment about the compressed face."""
    if law.curve is None:
        area, first = strips.first(law.depth_factor * x)
        return law.stress * area, law.stress * first
    force, first = np.zeros(len(x)), np.zeros(len(x))
    nodes, weights = quadrature(NODES if law.degree is None else polynomial_nodes(law.degree))
    shares = [0.0, *(1.0 - strain / law.ultimate_strain for strain in sorted(law.kinks, reverse=True)), 1.0]
    for upper, lower in itertools.pairwise(shares):  # a polynomial each
        high = np.maximum(strips.top, upper * x[:, None])
        low = np.maximum(np.minimum(strips.bottom, lower * x[:, None]), high)
        half, middle = 0.5 * (low - high), 0.5 * (low + high)
        y = middle[..., None] + half[..., None] * nodes
        strain = np.maximum(law.ultimate_strain * (x[:, None, None] - y) / x[:, None, None], 0.0)
        weight = law.stress * law.curve(strain) * weights * half[..., None] * strips.breadth(y)
        force += weight.sum(axis=(1, 2))
        first += (weight * y).sum(axis=(1, 2))
    return force, first


def polynomial_nodes(degree: int) -> int:
    """Points that integrate exactly a stress of that degree times two lengths, each of which is linear.

    >>> polynomial_nodes(2)
    3
    """
    return (degree + 4) // 2


@cache
def quadrature(points: int) -> tuple[Array, Array]:
    """Places (-1 to 1) and weights of Gauss-Legendre integration, (points,) each."""
    return np.polynomial.legendre.leggauss(points)


def _displaced(strain: Array, depths: Array, x: Array, law: ConcreteLaw) -> Array:
    """Stress of the concrete that stands where a bar is."""
    if law.curve is None:
        return np.where(depths < law.depth_factor * x[:, None], law.stress, 0.0)
    return law.stress * law.curve(np.maximum(strain, 0.0))


def bracketed_root(f: Callable[[Array], Array], low: Array, high: Array, steps: int = 80) -> Array:
    """Root of an (all but) increasing function at every station, to 1e-10 of it; an end where the root does
    not lie between.

    By Chandrupatla's method: inverse quadratic interpolation where the three last points allow it, halving
    else. It needs some ten evaluations where false position takes forty, and bears jumps.
    """
    f_low, f_high = f(low), f(high)
    x_1, x_2, f_1, f_2 = low, high, f_low, f_high
    t = np.full(low.shape, 0.5)
    for _ in range(steps):
        x = x_1 + t * (x_2 - x_1)
        value = f(x)
        same = (value < 0.0) == (f_1 < 0.0)
        x_3, f_3 = np.where(same, x_1, x_2), np.where(same, f_1, f_2)
        x_2, f_2 = np.where(same, x_2, x_1), np.where(same, f_2, f_1)
        x_1, f_1 = x, value
        width = np.abs(x_2 - x_1)
        tolerance = 0.5e-10 * (1.0 + np.abs(x_1))
        converged = (width <= 2.0 * tolerance) | (f_1 == 0.0)
        if converged.all():
            break
        t = next_share(x_1, x_2, x_3, f_1, f_2, f_3)
        least = np.minimum(tolerance / np.where(width > 0.0, width, 1.0), 0.5)
        t = np.where(converged, 0.0, np.clip(t, least, 1.0 - least))
    best = np.where(np.abs(f_1) <= np.abs(f_2), x_1, x_2)
    return np.asarray(np.where(f_low >= 0.0, low, np.where(f_high <= 0.0, high, best)))


def next_share(x_1: Array, x_2: Array, x_3: Array, f_1: Array, f_2: Array, f_3: Array) -> Array:
    """Where between x_1 and x_2 the root is looked for next."""
    with np.errstate(divide="ignore", invalid="ignore"):
        xi, phi = (x_1 - x_2) / (x_3 - x_2), (f_1 - f_2) / (f_3 - f_2)
        smooth = (phi**2 < xi) & ((1.0 - phi) ** 2 < 1.0 - xi)
        t = f_1 / (f_2 - f_1) * f_3 / (f_2 - f_3) + (x_3 - x_1) / (x_2 - x_1) * f_1 / (f_3 - f_1) * f_2 / (
            f_3 - f_2
        )
    return np.where(smooth & np.isfinite(t), t, 0.5)


@dataclass(frozen=True)
class Block:
    """What a rectangular stress block can fill: a web of width `b`, and at the compressed face a flange `b_f`
    wide and `h_f` deep (b and 0: none). Arrays that broadcast."""

    b: Array
    b_f: Array
    h_f: Array

    def at(self, rows: Mask) -> Block:
        """Some of the stations."""
        return Block(self.b[rows], self.b_f[rows], self.h_f[rows])

    def force(self, a: Array, d: Array) -> tuple[Array, Array]:
        """Area of a block of depth `a`, and its moment about `d`."""
        top = np.minimum(a, self.h_f)
        out = (self.b_f - self.b) * top
        return self.b * a + out, self.b * a * (d - 0.5 * a) + out * (d - 0.5 * top)

    def depth(self, moment: Array, d: Array) -> Array:
        """Depth of the block whose moment about `d` (over the stress) is `moment`; d where none is enough."""
        _, flange = self.force(self.h_f, d)
        inside = d - np.sqrt(np.maximum(d**2 - 2.0 * moment / np.maximum(self.b_f, 1e-9), 0.0))
        rest = moment - (self.b_f - self.b) * self.h_f * (d - 0.5 * self.h_f)
        beyond = d - np.sqrt(np.maximum(d**2 - 2.0 * rest / self.b, 0.0))
        return np.where(moment <= flange, inside, beyond)


@dataclass(frozen=True)
class OutlineBlock:
    """The same for sections of any shape, `strips` with the compressed face on top."""

    strips: Strips

    def at(self, rows: Mask) -> OutlineBlock:
        """Some of the stations."""
        return OutlineBlock(self.strips.at(np.flatnonzero(rows)))

    def force(self, a: Array, d: Array) -> tuple[Array, Array]:
        """Area of a block of depth `a` (..., n), and its moment about `d`."""
        a, d = np.broadcast_arrays(np.asarray(a, dtype=float), np.asarray(d, dtype=float))
        area, first = self.strips.first(a)
        return area, area * d - first

    def depth(self, moment: Array, d: Array) -> Array:
        """Depth of the block whose moment about `d` (over the stress) is `moment`; d where none is enough. By
        halving: the moment grows with the depth up to d."""
        moment, d = np.broadcast_arrays(np.asarray(moment, dtype=float), np.asarray(d, dtype=float))
        low, high = np.zeros(moment.shape), np.array(d)
        for _ in range(50):
            middle = 0.5 * (low + high)
            short = self.force(middle, d)[1] < moment
            low, high = np.where(short, middle, low), np.where(short, high, middle)
        return high


def required_steel(
    moment: Array,
    block: Block | OutlineBlock,
    d: Array,
    d_2: Array,
    concrete: ConcreteLaw,
    steel: SteelLaw,
    x_limit: Floats,
    deduct_displaced: bool = True,
) -> tuple[Array, Array, Array]:
    """Tension and compression steel under `moment` >= 0 with a rectangular stress block, and the lever arm z
    of the concrete.

    Arrays broadcast together. Above the moment at x = `x_limit` d compression steel at depth `d_2` carries
    the rest; compressed bars have their strain's stress less the concrete displaced. Where d_2 is so deep
    that such bars do nothing, the areas are infinite.
    """
    f, lam = concrete.stress, concrete.depth_factor
    a_lim = lam * x_limit * d
    m_lim = f * block.force(a_lim, d)[1]
    m_1 = np.minimum(moment, m_lim)
    area, arm = block.force(block.depth(m_1 / f, d), d)
    z = np.where(area > 0.0, arm / np.where(area > 0.0, area, 1.0), d)
    z = np.minimum(z, concrete.maximum_lever * d)
    x_lim = x_limit * d
    strain = concrete.ultimate_strain * (x_lim - d_2) / x_lim
    stress = np.maximum(steel.stress(strain) - f * (d_2 < a_lim) * deduct_displaced, 0.0)
    rest = np.maximum(moment - m_lim, 0.0)
    with np.errstate(divide="ignore", invalid="ignore"):
        compression = np.where(rest > 0.0, rest / (stress * (d - d_2)), 0.0)
    pull = np.where(rest > 0.0, np.where(stress > 0.0, rest / (d - d_2), np.inf), 0.0)
    yielded = steel.stress(concrete.ultimate_strain * (1.0 / np.asarray(x_limit) - 1.0))
    sigma = np.where(rest > 0.0, yielded, steel.yield_stress)
    return (m_1 / z + pull) / sigma, np.where(stress > 0.0, compression, np.where(rest > 0.0, np.inf, 0.0)), z
