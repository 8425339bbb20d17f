"""The line by the stiffness method: Euler-Bernoulli elements, closed-form fixed-end forces, exact diagrams.

Degrees of freedom: upward displacement and anticlockwise turn at every node; a hinge turns for itself on
either side. Loads act downward, couples clockwise. Sagging moment positive; shear positive when the left part
is pushed up.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from upright_bramble.analysis.elements import GAUSS_W, GAUSS_X, Elements, elements_of
from upright_bramble.analysis.stations import Stations
from upright_bramble.beam import Beam, Load
from upright_bramble.errors import UnstableLine
from upright_bramble.section.arrays import Array, Index, Mask

TWISTING = ("twist", "torque")
POISSON = 0.2  # of uncracked concrete: G = E / 2.4
FADED = 1e-12  # what a load does so far away, next to what it does where it stands, is nothing
DENSE = 700  # degrees of freedom up to which a full matrix is quicker than importing a banded solver


@dataclass(frozen=True)
class Responses:
    """Answers of the line to load cases: `moment`, `shear`, `torsion`, `deflection` (cases, stations),
    `reaction` and `moment_reaction` (cases, supports), `load` (cases,) total downward load. Deflection
    downward positive.

    `axial` (cases, stations) forces, compression positive, where they were given.

    `felt` (cases, spans): where a case is not felt, its answers are 0.
    """

    moment: Array
    shear: Array
    torsion: Array
    deflection: Array
    reaction: Array
    moment_reaction: Array
    load: Array
    felt: Mask
    twisted: bool
    axial: Array | None = None


@dataclass(frozen=True)
class Solved:
    """End forces and end displacements (cases, elements, 4): all that diagrams need. `torque` (cases,
    elements) at the elements' starts."""

    cases: Sequence[Sequence[Load]]
    elements: Elements
    batches: dict[tuple[int, str], tuple[Index, Array]]
    modulus: float
    ends: Array
    moved: Array
    torque: Array


def solve(
    beam: Beam, cases: Sequence[Sequence[Load]], modulus: float, sinking: Array | None = None
) -> Solved:
    """Displacements and end forces of the line for each case (a list of loads), all cases at once.

    `sinking` (cases, supports) are downward movements of the supports, mm.

    Raises UnstableLine when the supports do not hold the line.
    """
    elements = elements_of(beam)
    fixed_end = np.zeros((len(cases), len(elements), 4))
    batches = _batches(cases, elements)
    for (e, shape), (case, values) in batches.items():
        if shape not in TWISTING:
            np.add.at(
                fixed_end, (case, np.full_like(case, e)), _fixed_end(shape, values, float(elements.length[e]))
            )
    k_e = _element_stiffness(elements, modulus)
    moved_down = np.zeros((len(cases), len(beam.supports))) if sinking is None else sinking
    moved = _displacements(beam, elements, k_e, fixed_end, moved_down, modulus)
    torque = _torques(beam, elements, len(cases), batches, modulus)
    return Solved(
        cases, elements, batches, modulus, np.einsum("sij,csj->csi", k_e, moved) + fixed_end, moved, torque
    )


def diagrams(solved: Solved, at: Stations, *, deflection: bool = True) -> Responses:
    """Moment, shear, torsion and (unless not wanted: zeros) deflection lines at the stations, exact between
    the ends."""
    count, elements = len(solved.cases), solved.elements
    felt = _felt(solved)
    element, x = _located(elements, at)
    m, v, t, w = (np.zeros((count, len(at))) for _ in range(4))
    twisted = any(shape in TWISTING for _, shape in solved.batches)
    on_element: list[list[str]] = [[] for _ in range(len(elements))]
    for e, shape in solved.batches:
        on_element[e].append(shape)
    bounds = np.searchsorted(element, np.arange(len(elements) + 1))
    for e in range(len(elements)):
        places = slice(int(bounds[e]), int(bounds[e + 1]))
        if places.start == places.stop:
            continue
        near = np.flatnonzero(felt[:, int(elements.span[e])])
        s, length, stiffness = (
            x[places],
            float(elements.length[e]),
            solved.modulus * float(elements.second_moment[e]),
        )
        f_0, m_0 = solved.ends[near, e, 0, None], solved.ends[near, e, 1, None]
        m[near, places], v[near, places] = f_0 * s - m_0, f_0
        if deflection:
            bent = f_0 * s**3 / 6.0 - m_0 * s**2 / 2.0
            w[near, places] = -(
                solved.moved[near, e, 0, None] + solved.moved[near, e, 1, None] * s + bent / stiffness
            )
        if twisted:
            t[near, places] = solved.torque[near, e, None]
        for shape in on_element[e]:
            case, values = solved.batches[e, shape]
            rows = np.arange(places.start, places.stop)
            if shape in TWISTING:
                np.add.at(t, (case[:, None], rows), _shed(shape, values, s, at.side[places], length))
                continue
            parts = _within(shape, values, s, at.side[places], length, deflection)
            for target, part, scale in zip((m, v, w), parts, (1.0, 1.0, -1.0 / stiffness), strict=False):
                np.add.at(target, (case[:, None], rows), scale * part)
    reaction, turning = _reactions(elements, solved.ends)
    load = np.array([sum(_total(p) for p in case) for case in solved.cases])
    return Responses(
        moment=m,
        shear=v,
        torsion=t,
        deflection=w,
        reaction=reaction,
        moment_reaction=turning,
        load=load,
        felt=felt,
        twisted=twisted,
    )


def _felt(solved: Solved) -> Mask:
    """(cases, spans): where the end forces are more than nothing next to the case's largest."""
    forces = np.abs(solved.ends[:, :, [1, 3]]).max(axis=2)  # moments
    shears = np.abs(solved.ends[:, :, [0, 2]]).max(axis=2) * solved.elements.length
    turned = np.abs(solved.moved[:, :, [0, 2]]).max(axis=2)
    size = np.maximum(forces, shears)
    felt = np.zeros(size.shape, dtype=bool)
    for amount in (size, np.abs(solved.torque), turned):
        felt |= amount > FADED * amount.max(axis=1, keepdims=True, initial=0.0)
    for (e, _), (case, _) in solved.batches.items():
        felt[case, e] = True
    return np.asarray(np.maximum.reduceat(felt, solved.elements.first[:-1], axis=1))


def _located(elements: Elements, at: Stations) -> tuple[Index, Array]:
    """The element that each station lies in, and the place along it; the end of a span belongs to its last
    element."""
    if len(elements) == len(elements.first) - 1:
        return at.span, at.local
    element = np.zeros(len(at), dtype=np.int64)
    for index in range(len(elements.first) - 1):
        low, high = int(elements.first[index]), int(elements.first[index + 1])
        rows = at.of(index)
        inner = elements.start[low + 1 : high]
        left = np.searchsorted(inner, at.local[rows], side="left")
        right = np.searchsorted(inner, at.local[rows], side="right")
        element[rows] = low + np.where(at.side[rows] < 0, left, right)
    return element, at.local - elements.start[element]


def _batches(
    cases: Sequence[Sequence[Load]], elements: Elements
) -> dict[tuple[int, str], tuple[Index, Array]]:
    """Loads of one element and shape taken together: their cases, and (first, last, start, end) as rows of an
    array."""
    result: dict[tuple[int, str], list[tuple[int, Load]]] = {}
    for number, case in enumerate(cases):
        for total in case:
            for e, load in elements.split(total):
                result.setdefault((e, load.shape), []).append((number, load))
    return {
        key: (
            np.array([number for number, _ in pairs]),
            np.array([(p.first, p.last, p.start, p.end) for _, p in pairs], dtype=float).T,
        )
        for key, pairs in result.items()
    }


def _total(load: Load) -> float:
    if load.shape == "line":
        return 0.5 * (load.first + load.last) * (load.end - load.start)
    return load.first if load.shape == "point" else 0.0


def _element_stiffness(elements: Elements, modulus: float) -> Array:
    """(e, 4, 4): the ends' turns against the chord, from flexibilities, carried over to all four
    movements."""
    length, (a, b, c) = elements.length, elements.flexibility.T * elements.length / modulus
    inverse = np.array([[c, b], [b, a]]).transpose(2, 0, 1) / (a * c - b**2)[:, None, None]
    one, none = np.ones_like(length), np.zeros_like(length)
    chord = np.array([[1 / length, one, -1 / length, none], [1 / length, none, -1 / length, one]]).transpose(
        2, 0, 1
    )
    return np.asarray(chord.transpose(0, 2, 1) @ inverse @ chord)


def _freedoms(elements: Elements) -> tuple[Index, Index]:
    """Degrees of freedom of each element (e, 4), and the first (upward) one of each node; a hinge has a turn
    of its own for the element to its right."""
    count = 2 + elements.hinge.astype(np.int64)
    first = np.concatenate([[0], np.cumsum(count)])[:-1]
    turn_right = first + count - 1
    table = np.stack([first[:-1], turn_right[:-1], first[1:], first[1:] + 1], axis=1)
    return table, first


def _displacements(
    beam: Beam, elements: Elements, k_e: Array, fixed_end: Array, sinking: Array, modulus: float
) -> Array:
    """End displacements (cases, elements, 4) under the fixed-end forces with their signs turned, and sinking
    supports."""
    table, first = _freedoms(elements)
    size = int(table.max()) + 1
    rows, columns = np.repeat(table, 4, axis=1).ravel(), np.tile(table, (1, 4)).ravel()
    entries = k_e.reshape(len(elements), 16).ravel()
    f = np.zeros((size, len(fixed_end)))
    np.add.at(f, table.ravel(), -fixed_end.transpose(1, 2, 0).reshape(-1, len(fixed_end)))
    held, answer, springs = np.zeros(size, dtype=bool), np.zeros_like(f), np.zeros(size)
    for node in np.flatnonzero(elements.support >= 0):
        index = int(elements.support[node])
        support, v = beam.supports[index], int(first[node])
        if support.spring_vertical is None:
            held[v] = True
            answer[v] = -sinking[:, index]
        else:
            springs[v] += support.spring_vertical
            f[v] -= support.spring_vertical * sinking[:, index]
        if support.fixed:
            held[v + 1] = True
        springs[v + 1] += support.rotational_stiffness(modulus)
    rows, columns = np.concatenate([rows, np.arange(size)]), np.concatenate([columns, np.arange(size)])
    answer[~held] = _solved(rows, columns, np.concatenate([entries, springs]), f, held, answer)
    return np.asarray(answer[table].transpose(2, 0, 1))


def _solved(rows: Index, columns: Index, entries: Array, f: Array, held: Mask, answer: Array) -> Array:
    """Free displacements of a symmetric banded system, scaled to a unit diagonal so that a mechanism shows as
    a pivot of 0."""
    free = ~held
    number = np.cumsum(free) - 1
    size = int(free.sum())
    pushed = f.copy()
    known = held[columns]
    np.add.at(pushed, rows[known], -entries[known, None] * answer[columns[known]])
    both = free[rows] & free[columns]
    i, j, k = number[rows[both]], number[columns[both]], entries[both]
    diagonal = np.zeros(size)
    np.add.at(diagonal, i[i == j], k[i == j])
    if size and diagonal.min() <= 0.0:
        raise UnstableLine(_MECHANISM)
    scale = 1.0 / np.sqrt(diagonal)
    k, b = k * scale[i] * scale[j], pushed[free] * scale[:, None]
    if size > DENSE:
        return np.asarray(scale[:, None] * _banded(i, j, k, b, size))
    full = np.zeros((size, size))
    np.add.at(full, (i, j), k)
    try:
        pivots = np.diag(np.linalg.cholesky(full)) if size else np.ones(1)
    except np.linalg.LinAlgError:
        raise UnstableLine(_MECHANISM) from None
    if pivots.min() < _MINIMUM_PIVOT:
        raise UnstableLine(_MECHANISM)
    return np.asarray(scale[:, None] * np.linalg.solve(full, b))


_MINIMUM_PIVOT = 3e-7  # its square is what is left of a scaled diagonal of 1
_MECHANISM = (
    "the supports do not hold the line: it takes two supports, or one that is fixed or resists turning, and "
    "no part between hinges that can move by itself"
)


def _banded(i: Index, j: Index, k: Array, b: Array, size: int) -> Array:
    from scipy.linalg import LinAlgError, cho_solve_banded, cholesky_banded

    width = int(np.abs(i - j).max())
    lower = i >= j
    band = np.zeros((width + 1, size))
    np.add.at(band, (i[lower] - j[lower], j[lower]), k[lower])
    try:
        factor = cholesky_banded(band, lower=True)
    except LinAlgError:
        raise UnstableLine(_MECHANISM) from None
    if factor[0].min() < _MINIMUM_PIVOT:
        raise UnstableLine(_MECHANISM)
    return np.asarray(cho_solve_banded((factor, True), b))


def _torques(
    beam: Beam,
    elements: Elements,
    cases: int,
    batches: dict[tuple[int, str], tuple[Index, Array]],
    modulus: float,
) -> Array:
    """Torque (cases, elements) at each element's start. Clockwise torques are held by the supports that hold
    torsion.

    Raises UnstableLine when none does although there is torque.
    """
    torque = np.zeros((cases, len(elements)))
    if not any(shape in TWISTING for _, shape in batches):
        return torque
    # torque taken at each end of an element held at both, from what is loaded along it
    at_start, at_end = np.zeros((len(elements), cases)), np.zeros((len(elements), cases))
    for (e, shape), (case, values) in batches.items():
        if shape in TWISTING:
            total, middle = _twist(values) if shape == "twist" else (values[0], values[2])
            share, rows = middle / elements.length[e], np.full_like(case, e)
            np.add.at(at_end, (rows, case), total * share)
            np.add.at(at_start, (rows, case), total * (1.0 - share))
    stiffness = modulus / (2.0 * (1.0 + POISSON)) * elements.torsion / elements.length
    nodes = len(elements) + 1
    held = np.array([s >= 0 and beam.supports[s].holds_torsion for s in elements.support])
    if not held.any():
        raise UnstableLine("no support holds the line against torque: let one hold torsion")
    low, high = np.arange(len(elements)), np.arange(1, nodes)
    i, j = np.concatenate([low, low, high, high]), np.concatenate([low, high, low, high])
    entries = np.concatenate([stiffness, -stiffness, -stiffness, stiffness])
    f = np.zeros((nodes, cases))
    f[:-1] += at_start
    f[1:] += at_end
    turned = np.zeros_like(f)
    turned[~held] = _solved(i, j, entries, f, held, turned)
    return np.asarray((at_start - stiffness[:, None] * (turned[:-1] - turned[1:])).T)


def _twist(values: Array) -> tuple[Array, Array]:
    """Total and centre of torques spread linearly."""
    first, last, start, end = values
    length = end - start
    total = 0.5 * (first + last) * length
    moment = length**2 * (first + 2.0 * last) / 6.0
    return total, start + np.where(total != 0.0, moment / np.where(total != 0.0, total, 1.0), 0.0)


def _shed(shape: str, values: Array, x: Array, side: Index, length: float) -> Array:
    """What torques along an element take off the torque at its start, (loads, stations)."""
    if shape == "twist":
        start, extent, first, slope = _line_shape(values)
        t = np.clip(x - start, 0.0, extent)
        return np.asarray(-(first * t + 0.5 * slope * t**2))
    return np.asarray(-values[0][:, None] * _past(values[2][:, None], x, side, length))


def _reactions(elements: Elements, ends: Array) -> tuple[Array, Array]:
    """Upward reaction, and the jump of the moment line over the support (clockwise on the beam positive)."""
    nodes = np.zeros((len(ends), len(elements) + 1, 2))
    nodes[:, :-1] += ends[:, :, :2]
    nodes[:, 1:] += ends[:, :, 2:]
    own = nodes[:, np.flatnonzero(elements.support >= 0)]
    return own[:, :, 0], -own[:, :, 1]


def _point_influence(a: Array, length: Array) -> Array:
    """Fixed-end forces (..., 4) of a unit downward force at `a`: up, anticlockwise, up, anticlockwise on the
    element."""
    b = length - a
    return np.stack(
        [
            b**2 * (length + 2 * a) / length**3,
            a * b**2 / length**2,
            a**2 * (length + 2 * b) / length**3,
            -(a**2) * b / length**2,
        ],
        axis=-1,
    )


def _couple_influence(a: Array, length: Array) -> Array:
    """Fixed-end forces of a unit clockwise couple: the derivative of those of a force by its place."""
    b = length - a
    shear = -6.0 * a * b / length**3
    return np.stack(
        [shear, b * (length - 3 * a) / length**2, -shear, a * (3 * a - 2 * length) / length**2], axis=-1
    )


def _line_shape(values: Array) -> tuple[Array, Array, Array, Array]:
    """Start, length, first intensity and slope of loads that vary linearly, (loads, 1) each."""
    first, last, start, end = (v[:, None] for v in values)
    length = end - start
    slope = np.where(length > 0.0, (last - first) / np.where(length > 0.0, length, 1.0), 0.0)
    return start, length, first, slope


def _fixed_end(shape: str, values: Array, length: float) -> Array:
    """(loads, 4)."""
    if shape == "point":
        return np.asarray(values[0][:, None] * _point_influence(values[2], np.asarray(length)))
    if shape == "couple":
        return np.asarray(values[0][:, None] * _couple_influence(values[2], np.asarray(length)))
    start, extent, first, slope = _line_shape(values)
    s = 0.5 * extent * (1.0 + GAUSS_X)
    weight = (first + slope * s) * 0.5 * extent * GAUSS_W
    return np.asarray((weight[..., None] * _point_influence(start + s, np.asarray(length))).sum(axis=1))


def _past(start: Array, x: Array, side: Index, length: float) -> Mask:
    """Stations that feel a load at `start`: its left side does not yet; a load at the element's end stays
    inside it."""
    here = np.abs(x - start) <= 1e-6
    return np.asarray((x > start + 1e-6) | (here & (side >= 0) & (x < length - 1e-6)))


def _within(
    shape: str, values: Array, x: Array, side: Index, length: float, deflection: bool
) -> tuple[Array, ...]:
    """What loads add to moment, shear and (if wanted) EI times upward deflection in their element, (loads,
    stations)."""
    if shape == "line":
        start, extent, w, k = _line_shape(values)
        arm = x - start
        t = np.clip(arm, 0.0, extent)
        m = -(w * (arm * t - t**2 / 2.0) + k * (arm * t**2 / 2.0 - t**3 / 3.0))
        v = -(w * t + k * t**2 / 2.0)
        if not deflection:
            return m, v
        s = 0.5 * t[..., None] * (1.0 + GAUSS_X)
        cubic = (w[..., None] + k[..., None] * s) * (arm[..., None] - s) ** 3 / 6.0
        return m, v, -(cubic * (0.5 * t[..., None]) * GAUSS_W).sum(axis=-1)
    p, start = values[0][:, None], values[2][:, None]
    past, arm = _past(start, x, side, length), np.maximum(x - start, 0.0)
    result = (
        (-p * arm, -p * past, -p * arm**3 / 6.0)
        if shape == "point"
        else (p * past, np.zeros_like(arm), p * arm**2 / 2.0)
    )
    return result if deflection else result[:2]
