"""The line by the stiffness method: Euler-Bernoulli spans, closed-form fixed-end forces, exact diagrams.

Degrees of freedom: upward displacement and anticlockwise turn at every span end. Loads act downward, couples
clockwise. Sagging moment positive; shear positive when the left part is pushed up.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from upright_bramble.analysis.stations import Stations
from upright_bramble.beam import Beam, Load
from upright_bramble.errors import UnstableLine
from upright_bramble.section.arrays import Array, Index

# Three Gauss points integrate a linear load over the cubic influence lines exactly (degree 4 <= 5).
_GAUSS_X = np.array([-np.sqrt(0.6), 0.0, np.sqrt(0.6)])
_GAUSS_W = np.array([5.0, 8.0, 5.0]) / 9.0


@dataclass(frozen=True)
class Responses:
    """Answers of the line to load cases: `moment`, `shear`, `deflection` (cases, stations), `reaction` and
    `moment_reaction` (cases, supports), `load` (cases,) total downward load. Deflection downward positive."""

    moment: Array
    shear: Array
    deflection: Array
    reaction: Array
    moment_reaction: Array
    load: Array


@dataclass(frozen=True)
class Solved:
    """End forces (cases, spans, 4) and end displacements of every span: all that diagrams need."""

    cases: Sequence[Sequence[Load]]
    batches: dict[tuple[int, str], tuple[Index, Array]]
    stiffness: Array
    ends: Array
    moved: Array


def solve(beam: Beam, cases: Sequence[Sequence[Load]], modulus: float, sinking: Array | None = None) -> Solved:
    """Displacements and end forces of the line for each case (a list of loads), all cases at once.

    `sinking` (cases, supports) are downward movements of the supports, mm.

    Raises UnstableLine when the supports do not hold the line.
    """
    lengths = np.array([s.length for s in beam.spans])
    stiffness = modulus * np.array([s.profile.second_moment for s in beam.spans])
    fixed_end = np.zeros((len(cases), len(beam.spans), 4))
    batches = _batches(cases)
    for (span, shape), (case, values) in batches.items():
        np.add.at(fixed_end, (case, np.full_like(case, span)), _fixed_end(shape, values, lengths[span]))
    k_e = _element_stiffness(lengths, stiffness)
    moved_down = np.zeros((len(cases), len(beam.supports))) if sinking is None else sinking
    nodes = _displacements(beam, k_e, fixed_end, moved_down, modulus)
    moved = np.concatenate([nodes[:, :-1, :], nodes[:, 1:, :]], axis=2)  # (cases, spans, 4)
    return Solved(cases, batches, stiffness, np.einsum("sij,csj->csi", k_e, moved) + fixed_end, moved)


def diagrams(beam: Beam, solved: Solved, at: Stations, *, deflection: bool = True) -> Responses:
    """Moment, shear and (unless not wanted: zeros) deflection lines at the stations, exact between the ends."""
    free_m, free_v, free_w = (np.zeros((len(solved.cases), len(at))) for _ in range(3))
    wanted = (free_m, free_v, free_w) if deflection else (free_m, free_v)
    for (span, shape), (case, values) in solved.batches.items():
        places = at.of(span)
        parts = _within_span(shape, values, at.local[places], at.side[places], beam.spans[span].length, deflection)
        rows = np.arange(places.start, places.stop)
        for target, part in zip(wanted, parts, strict=True):
            np.add.at(target, (case[:, None], rows), part)
    s, x, ends, moved = at.span, at.local, solved.ends, solved.moved
    f_0, m_0 = ends[:, s, 0], ends[:, s, 1]
    down = free_w
    if deflection:
        bent = f_0 * x**3 / 6.0 - m_0 * x**2 / 2.0 + free_w
        down = -(moved[:, s, 0] + moved[:, s, 1] * x + bent / solved.stiffness[s])
    reaction, turning = _reactions(beam, ends)
    load = np.array([sum(_total(load) for load in case) for case in solved.cases])
    return Responses(f_0 * x - m_0 + free_m, f_0 + free_v, down, reaction, turning, load)


def _batches(cases: Sequence[Sequence[Load]]) -> dict[tuple[int, str], tuple[Index, Array]]:
    """Loads of one span and shape taken together: their cases, and (first, last, start, end) as rows of an array."""
    found: dict[tuple[int, str], list[tuple[int, Load]]] = {}
    for number, case in enumerate(cases):
        for load in case:
            found.setdefault((load.span, load.shape), []).append((number, load))
    return {
        key: (
            np.array([number for number, _ in pairs]),
            np.array([(p.first, p.last, p.start, p.end) for _, p in pairs], dtype=float).T,
        )
        for key, pairs in found.items()
    }


def _total(load: Load) -> float:
    if load.shape == "line":
        return 0.5 * (load.first + load.last) * (load.end - load.start)
    return load.first if load.shape == "point" else 0.0


def _element_stiffness(lengths: Array, ei: Array) -> Array:
    """(spans, 4, 4)."""
    one, length = np.ones_like(lengths), lengths
    rows = [
        [12 * one, 6 * length, -12 * one, 6 * length],
        [6 * length, 4 * length**2, -6 * length, 2 * length**2],
        [-12 * one, -6 * length, 12 * one, -6 * length],
        [6 * length, 2 * length**2, -6 * length, 4 * length**2],
    ]
    return np.asarray(np.array(rows).transpose(2, 0, 1) * (ei / length**3)[:, None, None])


def _displacements(beam: Beam, k_e: Array, fixed_end: Array, sinking: Array, modulus: float) -> Array:
    """Displacements (cases, nodes, 2) under the fixed-end forces with their signs turned, and sinking supports."""
    nodes, count = len(beam.spans) + 1, len(fixed_end)
    k = np.zeros((2 * nodes, 2 * nodes))
    f = np.zeros((2 * nodes, count))
    for i in range(len(beam.spans)):
        k[2 * i : 2 * i + 4, 2 * i : 2 * i + 4] += k_e[i]
        f[2 * i : 2 * i + 4] -= fixed_end[:, i].T
    held = np.zeros(2 * nodes, dtype=bool)
    answer = np.zeros_like(f)
    first = 0 if beam.spans[0].left is not None else 1
    for offset, support in enumerate(beam.supports):
        v = 2 * (first + offset)
        if support.spring_vertical is None:
            held[v] = True
            answer[v] = -sinking[:, offset]
        else:
            k[v, v] += support.spring_vertical
            f[v] -= support.spring_vertical * sinking[:, offset]
        if support.fixed:
            held[v + 1] = True
        else:
            k[v + 1, v + 1] += support.rotational_stiffness(modulus)
    free = ~held
    if free.any():
        reduced = k[np.ix_(free, free)]
        scale = 1.0 / np.sqrt(np.diag(reduced))
        scaled = reduced * scale[:, None] * scale
        if np.linalg.cond(scaled) > 1e13:
            raise UnstableLine("the supports do not hold the line: it takes two supports, or one that is fixed or resists turning")
        pushed = f[free] - k[np.ix_(free, held)] @ answer[held]
        answer[free] = scale[:, None] * np.linalg.solve(scaled, scale[:, None] * pushed)
    return answer.T.reshape(count, nodes, 2)


def _reactions(beam: Beam, ends: Array) -> tuple[Array, Array]:
    """Upward reaction, and the jump of the moment line over the support (clockwise on the beam positive)."""
    nodes = np.zeros((len(ends), len(beam.spans) + 1, 2))
    nodes[:, :-1] += ends[:, :, :2]
    nodes[:, 1:] += ends[:, :, 2:]
    first = 0 if beam.spans[0].left is not None else 1
    mine = nodes[:, first : first + len(beam.supports)]
    return mine[:, :, 0], -mine[:, :, 1]


def _point_influence(a: Array, length: Array) -> Array:
    """Fixed-end forces (..., 4) of a unit downward force at `a`: up, anticlockwise, up, anticlockwise on the span."""
    b = length - a
    return np.stack(
        [b**2 * (length + 2 * a) / length**3, a * b**2 / length**2, a**2 * (length + 2 * b) / length**3, -(a**2) * b / length**2],
        axis=-1,
    )


def _couple_influence(a: Array, length: Array) -> Array:
    """Fixed-end forces of a unit clockwise couple: the derivative of those of a force by its place."""
    b = length - a
    shear = -6.0 * a * b / length**3
    return np.stack([shear, b * (length - 3 * a) / length**2, -shear, a * (3 * a - 2 * length) / length**2], axis=-1)


def _line_shape(values: Array) -> tuple[Array, Array, Array, Array]:
    """Start, length, first intensity and slope of loads that vary linearly, (loads, 1) each."""
    first, last, start, end = (v[:, None] for v in values)
    length = end - start
    slope = np.where(length > 0.0, (last - first) / np.where(length > 0.0, length, 1.0), 0.0)
    return start, length, first, slope


def _fixed_end(shape: str, values: Array, span: float) -> Array:
    """(loads, 4)."""
    if shape == "point":
        return np.asarray(values[0][:, None] * _point_influence(values[2], np.asarray(span)))
    if shape == "couple":
        return np.asarray(values[0][:, None] * _couple_influence(values[2], np.asarray(span)))
    start, length, first, slope = _line_shape(values)
    s = 0.5 * length * (1.0 + _GAUSS_X)
    weight = (first + slope * s) * 0.5 * length * _GAUSS_W
    return np.asarray((weight[..., None] * _point_influence(start + s, np.asarray(span))).sum(axis=1))


def _within_span(shape: str, values: Array, x: Array, side: Index, span: float, deflection: bool) -> tuple[Array, ...]:
    """What loads add to moment, shear and (if wanted) EI times upward deflection in their span, (loads, stations) each."""
    if shape == "line":
        start, length, w, k = _line_shape(values)
        arm = x - start
        t = np.clip(arm, 0.0, length)
        m = -(w * (arm * t - t**2 / 2.0) + k * (arm * t**2 / 2.0 - t**3 / 3.0))
        v = -(w * t + k * t**2 / 2.0)
        if not deflection:
            return m, v
        s = 0.5 * t[..., None] * (1.0 + _GAUSS_X)
        cubic = (w[..., None] + k[..., None] * s) * (arm[..., None] - s) ** 3 / 6.0
        return m, v, -(cubic * (0.5 * t[..., None]) * _GAUSS_W).sum(axis=-1)
    p, start = values[0][:, None], values[2][:, None]
    here = np.abs(x - start) <= 1e-6
    # at the load itself the left side does not feel it yet; a load at the span's end stays inside the span
    past = (x > start + 1e-6) | (here & (side >= 0) & (x < span - 1e-6))
    arm = np.maximum(x - start, 0.0)
    found = (-p * arm, -p * past, -p * arm**3 / 6.0) if shape == "point" else (p * past, np.zeros_like(arm), p * arm**2 / 2.0)
    return found if deflection else found[:2]
