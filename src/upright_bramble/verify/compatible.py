"""Moments of a line whose sections crack: moments at the supports move until the spans beside every support
turn alike, and as the columns or springs there turn.

The line stays in equilibrium: what is added is linear between supports. Loads, reactions of cantilevers and
settlements stay.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from upright_bramble.analysis import Stations
from upright_bramble.beam import Beam
from upright_bramble.section.arrays import Array

ROUNDS = 60
CLOSE = 1e-9  # rad, between the turns of two spans over a support


@dataclass(frozen=True)
class Settled:
    """Moments (rows, n) after `rounds`, and the greatest difference of turns that is left (rad)."""

    moments: Array
    rounds: int
    gap: float


@dataclass(frozen=True)
class Move:
    """A moment that may move: at `support`, on the `left` of it, on the `right`, or on both sides alike."""

    support: int
    left: bool
    right: bool


def movable(beam: Beam) -> list[Move] | None:
    """Moments that may move: over inner supports, at fixed ends, and on each side of supports that columns or
    springs keep from turning. None where the line has what this does not follow: vertical springs, hinges,
    settlement."""
    if any(s.settles or s.spring_vertical is not None or s.hinge for s in beam.supports) or any(
        span.hinges for span in beam.spans
    ):
        return None
    result = []
    for s, support in enumerate(beam.supports):
        left = any(p.right == s and not p.cantilever for p in beam.spans)
        right = any(p.left == s and not p.cantilever for p in beam.spans)
        if support.restrains_rotation:
            result += [Move(s, True, False)] * left + [Move(s, False, True)] * right
        elif left and right:
            result.append(Move(s, True, True))
    return result


def settle(
    beam: Beam,
    at: Stations,
    moments: Array,
    curvature: Callable[[Array], Array],
    stiffest: Array,
    modulus: float = 0.0,
) -> Settled:
    """Moments for which the curvature that belongs to them lets the spans fit together.

    Parameters
    ----------
    moments : (rows, n) of the elastic line
    curvature : from moments (rows, n), sagging positive
    stiffest : (n,) bending stiffness of the uncracked section, N mm2: that of a small change of moment
    modulus : of the columns' concrete, MPa
    """
    moves = movable(beam)
    if not moves:
        return Settled(moments, 0, 0.0)
    shapes = _shapes(beam, at, moves)
    flexible, jumps = _supports(beam, moves, modulus)
    added = np.zeros((len(moments), len(moves)))
    best, lowest, pace = added, np.full(len(moments), np.inf), np.full(len(moments), 0.8)
    weights, rounds, kept = _weights(beam, at), 0, added
    held = np.einsum("s,si,sj->ij", flexible, jumps, jumps)
    while rounds < ROUNDS:
        rounds += 1
        m = moments + added @ shapes
        kappa = curvature(m)
        taken = _jumps(beam, at, m)  # by columns and springs, (rows, supports)
        turns = _turns(beam, at, kappa, moves) + (taken * flexible) @ jumps
        gap = np.abs(turns).max(axis=1)
        # a section that cracks softens at once: where a step made it worse, smaller ones follow from the best
        # so far
        better = gap < lowest
        pace = np.where(better, pace, 0.5 * pace)
        best, lowest = np.where(better[:, None], added, best), np.minimum(gap, lowest)
        if lowest.max() < CLOSE or pace.max() < 1e-3:
            break
        # a secant flexibility, no less than that of the uncracked section, no more than ten times it
        with np.errstate(divide="ignore", invalid="ignore"):
            soft = np.where(np.abs(m) > 1.0, np.abs(kappa / m), 0.0)
        soft = np.clip(soft, 1.0 / stiffest, 10.0 / stiffest)
        matrix = np.einsum("rn,in,jn,n->rij", soft, shapes, shapes, weights) + held
        step = np.linalg.solve(matrix, turns[..., None])[..., 0]
        kept = np.where(better[:, None], step, kept)
        added = best - pace[:, None] * kept
    return Settled(moments + best @ shapes, rounds, float(lowest.max()))


def _shapes(beam: Beam, at: Stations, moves: list[Move]) -> Array:
    """Moment lines (moves, n) of a unit of each."""
    result = np.zeros((len(moves), len(at)))
    for k, move in enumerate(moves):
        for index, span in enumerate(beam.spans):
            rows, share = at.of(index), at.local[at.of(index)] / span.length
            if span.cantilever:
                continue
            if span.left == move.support and move.right:
                result[k, rows] = 1.0 - share
            elif span.right == move.support and move.left:
                result[k, rows] = share
    return result


def _supports(beam: Beam, moves: list[Move], modulus: float) -> tuple[Array, Array]:
    """Turn of each support under a unit moment (supports,), 0 where it does not turn or nothing holds it;
    what each move adds to the moment that it takes (supports, moves)."""
    flexible, jumps = np.zeros(len(beam.supports)), np.zeros((len(beam.supports), len(moves)))
    for s, support in enumerate(beam.supports):
        stiffness = 0.0 if support.fixed else support.rotational_stiffness(modulus)
        flexible[s] = 1.0 / stiffness if stiffness > 0.0 else 0.0
    for k, move in enumerate(moves):
        jumps[move.support, k] = float(move.left) - float(move.right)
    return flexible, jumps


def _jumps(beam: Beam, at: Stations, m: Array) -> Array:
    """Moment on the left of each support less that on its right (rows, supports): what columns and springs
    take."""
    result = np.zeros((len(m), len(beam.supports)))
    for index, span in enumerate(beam.spans):
        rows = at.of(index)
        if span.right is not None:
            result[:, span.right] += m[:, rows.stop - 1]
        if span.left is not None:
            result[:, span.left] -= m[:, rows.start]
    return result


def _weights(beam: Beam, at: Stations) -> Array:
    """Of the trapezium rule along the line, span by span."""
    result = np.zeros(len(at))
    for index in range(len(beam.spans)):
        rows = at.of(index)
        half = 0.5 * np.diff(at.local[rows])
        result[rows.start : rows.stop - 1] += half
        result[rows.start + 1 : rows.stop] += half
    return result


def _turns(beam: Beam, at: Stations, kappa: Array, moves: list[Move]) -> Array:
    """By how much the spans beside each moment that may move fail to turn alike, or to stay level (rows,
    moves), rad."""
    result = np.zeros((len(kappa), len(moves)))
    for index, span in enumerate(beam.spans):
        if span.cantilever:
            continue
        rows = at.of(index)
        slope, height = twice(at.local[rows], kappa[:, rows])
        start = -height[:, -1] / span.length
        for k, move in enumerate(moves):
            if span.left == move.support and move.right:
                result[:, k] -= start
            elif span.right == move.support and move.left:
                result[:, k] += start + slope[:, -1]
    return result


def twice(x: Array, curvature: Array) -> tuple[Array, Array]:
    """Slope and height (rows, n) from curvature, both zero at the first x; exact for a parabola. Where the
    second derivative changes its sign, or at a jump, curvature counts as linear between stations."""
    h = np.diff(x)
    a, b = curvature[:, :-1], curvature[:, 1:]
    bend = _second_derivative(h, curvature)
    slope = np.concatenate(
        [np.zeros((len(curvature), 1)), np.cumsum(0.5 * h * (a + b) - bend * h**3 / 12.0, axis=1)], axis=1
    )
    rise = slope[:, :-1] * h + h**2 * (2.0 * a + b) / 6.0 - bend * h**4 / 24.0
    return slope, np.concatenate([np.zeros((len(curvature), 1)), np.cumsum(rise, axis=1)], axis=1)


def _second_derivative(h: Array, curvature: Array) -> Array:
    """Between stations (rows, n - 1): the lesser of those at both ends where they agree in sign, else 0."""
    if len(h) < 3:
        return np.zeros_like(curvature[:, 1:])
    rate = np.diff(curvature, axis=1) / np.where(h > 1e-9, h, 1.0)
    known = (h[1:] > 1e-9) & (h[:-1] > 1e-9)
    inner = np.where(known, 2.0 * np.diff(rate, axis=1) / np.where(known, h[1:] + h[:-1], 1.0), np.nan)
    none = np.full((len(curvature), 1), np.nan)
    left, right = np.concatenate([none, inner], axis=1), np.concatenate([inner, none], axis=1)
    left, right = np.where(np.isnan(left), right, left), np.where(np.isnan(right), left, right)
    minimum = np.where(np.abs(left) < np.abs(right), left, right)
    return np.nan_to_num(np.where(left * right > 0.0, minimum, 0.0))
