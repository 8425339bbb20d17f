"""Moments of a line whose sections crack: support moments move until the spans beside every support turn alike.

The line stays in equilibrium: what is added is linear between supports. Loads, reactions of cantilevers and settlements stay.
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


def movable(beam: Beam) -> list[int] | None:
    """Supports whose moment may move: inner ones, and fixed ends. None where the line has what this does not follow: columns, springs,
    hinges, settlement."""
    if any(s.settles or s.columns or s.spring_rotation is not None or s.spring_vertical is not None or s.hinge for s in beam.supports):
        return None
    if any(span.hinges for span in beam.spans):
        return None
    found = []
    for s, support in enumerate(beam.supports):
        beside = [p for p in beam.spans if s in (p.left, p.right)]
        inner = len(beside) == 2 and not any(p.cantilever for p in beside)
        if inner or (support.fixed and len(beside) == 1 and not beside[0].cantilever):
            found.append(s)
    return found


def settle(beam: Beam, at: Stations, moments: Array, curvature: Callable[[Array], Array], stiffest: Array) -> Settled:
    """Moments for which the curvature that belongs to them lets the spans fit together.

    Parameters
    ----------
    moments : (rows, n) of the elastic line
    curvature : from moments (rows, n), sagging positive
    stiffest : (n,) bending stiffness of the uncracked section, N mm2: what a small change of moment meets at least
    """
    supports = movable(beam)
    if not supports:
        return Settled(moments, 0, 0.0)
    shapes = _shapes(beam, at, supports)
    added = np.zeros((len(moments), len(supports)))
    best, least, pace = added, np.full(len(moments), np.inf), np.full(len(moments), 0.8)
    weights, rounds, kept = _weights(beam, at), 0, added
    while rounds < ROUNDS:
        rounds += 1
        m = moments + added @ shapes
        kappa = curvature(m)
        turns = _turns(beam, at, kappa, supports)
        gap = np.abs(turns).max(axis=1)
        # a section that cracks softens at once: where a step made it worse, smaller ones follow from the best so far
        better = gap < least
        pace = np.where(better, pace, 0.5 * pace)
        best, least = np.where(better[:, None], added, best), np.minimum(gap, least)
        if least.max() < CLOSE or pace.max() < 1e-3:
            break
        # a secant flexibility, no less than that of the uncracked section, no more than ten times it
        with np.errstate(divide="ignore", invalid="ignore"):
            soft = np.where(np.abs(m) > 1.0, np.abs(kappa / m), 0.0)
        soft = np.clip(soft, 1.0 / stiffest, 10.0 / stiffest)
        matrix = np.einsum("rn,in,jn,n->rij", soft, shapes, shapes, weights)
        step = np.linalg.solve(matrix, turns[..., None])[..., 0]
        kept = np.where(better[:, None], step, kept)
        added = best - pace[:, None] * kept
    return Settled(moments + best @ shapes, rounds, float(least.max()))


def _shapes(beam: Beam, at: Stations, supports: list[int]) -> Array:
    """Moment lines (supports, n) of a unit moment over each support."""
    found = np.zeros((len(supports), len(at)))
    for k, s in enumerate(supports):
        for index, span in enumerate(beam.spans):
            rows, share = at.of(index), at.local[at.of(index)] / span.length
            if span.cantilever:
                continue
            if span.left == s:
                found[k, rows] = 1.0 - share
            elif span.right == s:
                found[k, rows] = share
    return found


def _weights(beam: Beam, at: Stations) -> Array:
    """Of the trapezium rule along the line, span by span."""
    found = np.zeros(len(at))
    for index in range(len(beam.spans)):
        rows = at.of(index)
        half = 0.5 * np.diff(at.local[rows])
        found[rows.start : rows.stop - 1] += half
        found[rows.start + 1 : rows.stop] += half
    return found


def _turns(beam: Beam, at: Stations, kappa: Array, supports: list[int]) -> Array:
    """By how much the spans beside each support fail to turn alike (rows, supports), rad."""
    found = np.zeros((len(kappa), len(supports)))
    for index, span in enumerate(beam.spans):
        if span.cantilever:
            continue
        rows = at.of(index)
        slope, height = twice(at.local[rows], kappa[:, rows])
        start = -height[:, -1] / span.length
        for k, s in enumerate(supports):
            if span.left == s:
                found[:, k] -= start
            elif span.right == s:
                found[:, k] += start + slope[:, -1]
    return found


def twice(x: Array, curvature: Array) -> tuple[Array, Array]:
    """Slope and height (rows, n) from curvature, both zero at the first x; exact for a parabola. Where the second derivative changes its
    sign, or at a jump, curvature counts as linear between stations."""
    h = np.diff(x)
    a, b = curvature[:, :-1], curvature[:, 1:]
    bend = _second_derivative(h, curvature)
    slope = np.concatenate([np.zeros((len(curvature), 1)), np.cumsum(0.5 * h * (a + b) - bend * h**3 / 12.0, axis=1)], axis=1)
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
    least = np.where(np.abs(left) < np.abs(right), left, right)
    return np.nan_to_num(np.where(left * right > 0.0, least, 0.0))
