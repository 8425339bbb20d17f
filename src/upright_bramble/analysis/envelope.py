"""Sets of forces in equilibrium, and the extremes of each effect over them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from upright_bramble.codes.parts import Combination
from upright_bramble.section.arrays import Array, Index


@dataclass(frozen=True)
class Row:
    """One set of forces in equilibrium: a combination under one arrangement ('' where the combination says
    all)."""

    combination: Combination
    arrangement: str

    @property
    def label(self) -> str:
        return f"{self.combination.name}; {self.arrangement}" if self.arrangement else self.combination.name


@dataclass(frozen=True)
class Extremes:
    """Largest and smallest of one effect, (n,) each, and the row (or combination) that makes them."""

    high: Array
    low: Array
    high_by: Index
    low_by: Index


@dataclass(frozen=True)
class Envelope:
    """Largest and smallest of each effect over the rows of one level; `labels` name the rows (or
    combinations)."""

    level: str
    labels: tuple[str, ...]
    moment: Extremes
    shear_: Extremes
    torsion_: Extremes
    reaction_max: Array
    reaction_min: Array
    moment_reaction_max: Array
    moment_reaction_min: Array

    @property
    def moment_max(self) -> Array:
        return self.moment.high

    @property
    def moment_min(self) -> Array:
        return self.moment.low

    @property
    def shear_max(self) -> Array:
        return self.shear_.high

    @property
    def shear_min(self) -> Array:
        return self.shear_.low

    @property
    def shear(self) -> Array:
        """Largest magnitude."""
        return np.maximum(self.shear_.high, -self.shear_.low)

    @property
    def torsion(self) -> Array:
        """Largest magnitude."""
        return np.maximum(self.torsion_.high, -self.torsion_.low)


def extremes(lines: Array) -> Extremes:
    """Over rows (rows, n)."""
    return Extremes(lines.max(axis=0), lines.min(axis=0), lines.argmax(axis=0), lines.argmin(axis=0))


def nothing(n: int) -> Extremes:
    return Extremes(np.zeros(n), np.zeros(n), np.zeros(n, dtype=np.int64), np.zeros(n, dtype=np.int64))


def enveloped(
    level: str, labels: tuple[str, ...], m: Array, v: Array, t: Array, reaction: Array, turning: Array
) -> Envelope:
    """Extremes over rows of moment, shear, torsion, reaction and moment of reaction."""
    return Envelope(
        level=level,
        labels=labels,
        moment=extremes(m),
        shear_=extremes(v),
        torsion_=extremes(t) if t.any() else nothing(t.shape[1]),
        reaction_max=reaction.max(axis=0),
        reaction_min=reaction.min(axis=0),
        moment_reaction_max=turning.max(axis=0),
        moment_reaction_min=turning.min(axis=0),
    )
