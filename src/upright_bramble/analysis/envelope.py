"""Sets of forces in equilibrium, and the extremes of each effect over them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from upright_bramble.codes.protocol import Combination
from upright_bramble.section.arrays import Array, Index


@dataclass(frozen=True)
class Row:
    """One set of forces in equilibrium: a combination under one arrangement."""

    combination: Combination
    arrangement: str


@dataclass(frozen=True)
class Envelope:
    """Largest and smallest of each effect over the rows of one level, and the row (or combination) that makes it."""

    level: str
    labels: tuple[str, ...]
    moment_max: Array
    moment_min: Array
    shear_max: Array
    shear_min: Array
    reaction_max: Array
    reaction_min: Array
    moment_reaction_max: Array
    moment_reaction_min: Array
    moment_max_by: Index
    moment_min_by: Index
    shear_max_by: Index
    shear_min_by: Index

    @property
    def shear(self) -> Array:
        """Largest magnitude."""
        return np.maximum(self.shear_max, -self.shear_min)


def enveloped(level: str, rows: tuple[Row, ...], m: Array, v: Array, reaction: Array, turning: Array) -> Envelope:
    """Extremes over rows of moment, shear, reaction and moment of reaction."""
    return Envelope(
        level,
        tuple(f"{row.combination.name}; {row.arrangement}" for row in rows),
        m.max(axis=0), m.min(axis=0), v.max(axis=0), v.min(axis=0),
        reaction.max(axis=0), reaction.min(axis=0), turning.max(axis=0), turning.min(axis=0),
        m.argmax(axis=0), m.argmin(axis=0), v.argmax(axis=0), v.argmin(axis=0),
    )  # fmt: skip
