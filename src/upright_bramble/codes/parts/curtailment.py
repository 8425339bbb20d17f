"""Where bars may stop. Arrays run over stations; N, mm, MPa, days."""

from __future__ import annotations

from abc import abstractmethod
from dataclasses import dataclass
from typing import Protocol

import numpy as np

from upright_bramble.section.arrays import Array, Floats


@dataclass(frozen=True)
class EndFacts:
    """A simple end, `direct` where its reaction compresses the bars: shear and effective depth at the face,
    strut inclination, tension along the beam and that of the bottom bars for torsion (N); force of the bottom
    bars as they are anchored there; development of the bars in full, moment with all of them at yield, how
    far they go on beyond the centreline, and whether they are bent there."""

    shear: float
    d: float
    cot: float
    axial_tension: float
    torsion: float
    force: float
    development: float
    nominal_moment: float
    beyond_centre: float
    hooked: bool
    direct: bool = True
    phi: float = 0.0
    """Largest diameter of those bars."""
    reach: float = 0.0
    """Least length of them beyond the face, along bends too."""
    within: float = 0.0
    """From the face to the centreline."""


@dataclass(frozen=True)
class Continuity:
    """What holds a beam up should a support be lost: the `share` of a span's bottom steel, and the `number`
    of bars, that run through; the share of the top steel of a perimeter beam that does
    (`perimeter_share`)."""

    share: float
    number: int
    perimeter_share: float


class CurtailmentPart(Protocol):
    """Where bars may stop. An answer given here is that of a code without such a rule."""

    @property
    def continuity(self) -> Continuity | None:
        """None: the code has no such rule."""
        return None

    def unused_end(self, phi: Floats, d: Floats) -> Array:
        """Length at the end of a bar that stops inside a span which may not be counted on, mm."""
        return np.asarray(0.0 * np.asarray(phi) * np.asarray(d))

    def beyond_inflection(self, d: float, phi: float, l_n: float) -> float:
        """How far part of the top bars go on past a point of inflection of a clear span `l_n`, mm; 0: the
        code has no such rule."""
        return 0.0

    def end_force(self, v_ed: Floats, d: Floats, cot: Floats) -> Array:
        """Tension to anchor at a simple end, N; 0: required by length instead."""
        return np.asarray(0.0 * np.asarray(v_ed) * np.asarray(d) * np.asarray(cot))

    @abstractmethod
    def end_anchorage(self, end: EndFacts) -> tuple[float, float, str]:
        """Demand, resistance and quantity of the anchorage at a simple end."""
        ...

    @abstractmethod
    def bottom_share(self, simple: bool) -> float:
        """Of a span's bottom steel that goes into a support."""
        ...

    @abstractmethod
    def into_support(self, phi: Floats, simple: bool) -> Array:
        """How far past a support's face bottom bars go, mm."""
        ...
