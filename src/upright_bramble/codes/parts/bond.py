"""Anchorage and laps. Arrays run over stations; N, mm, MPa, days."""

from __future__ import annotations

from abc import abstractmethod
from dataclasses import dataclass
from typing import Any, Protocol

import numpy as np

from upright_bramble.beam import Concrete, Steel
from upright_bramble.section.arrays import Array, Floats


@dataclass(frozen=True)
class Crossing:
    """Stirrups across bars where these develop: area of one `leg` and of all legs (`area`, mm2), widest `gap`
    between them (mm; endless: there are none), the `number` of bars in the row that they hold; the stirrups'
    `strength` (MPa). Numbers or arrays."""

    leg: Floats
    area: Floats
    gap: Floats
    number: Floats
    strength: float

    def at(self, index: Any) -> Crossing:
        """Of some of the bars."""
        leg, area, gap, number = (
            np.asarray(v, dtype=float)[index] for v in (self.leg, self.area, self.gap, self.number)
        )
        return Crossing(leg, area, gap, number, self.strength)


@dataclass(frozen=True)
class Around:
    """Concrete around bars: the clear distance to the next one `beside` them, and the clear `cover` of the
    bars themselves on their face and on the `sides` of the web; numbers or arrays, mm. The stirrups
    `crossing` them, where these are counted on."""

    beside: Floats
    cover: Floats
    sides: Floats
    above: Floats = np.inf
    """Clear distance to the next row of the face."""

    pressure: Floats = 0.0
    """Of a support across the bars over all of their anchorage, where it is counted on, MPa."""

    crossing: Crossing | None = None

    def at(self, index: Any) -> Around:
        """Of some of the bars."""
        beside, cover, sides, above = (
            np.asarray(v, dtype=float)[index] for v in (self.beside, self.cover, self.sides, self.above)
        )
        crossing = None if self.crossing is None else self.crossing.at(index)
        return Around(beside, cover, sides, above, self.pressure, crossing)


class BondPart(Protocol):
    """Anchorage and laps. An answer given here is that of a code without such a rule."""

    @property
    def bends_count_by_length(self) -> bool:
        """Whether what lies along a bend counts as anchored length; else it is a hook with a length of its
        own."""
        return True

    @abstractmethod
    def anchorage(
        self,
        concrete: Concrete,
        steel: Steel,
        phi: Floats,
        height: Floats,
        h: Floats,
        around: Around | None = None,
        *,
        bent: bool = False,
    ) -> Array:
        """For full yield, mm, of bars `height` above the bottom of a section `h` deep; with what the concrete
        `around` them gives (None: nothing), along a bend where the end is `bent`."""
        ...

    def minimum_anchorage(self, anchorage: Floats, phi: Floats, within: float = 0.0) -> Array:
        """Beyond the face of a simple end however little bars are stressed, mm, with the distance `within`
        from the face to the centreline; 0: no such rule."""
        return np.zeros_like(np.asarray(phi, dtype=float))

    def hook(
        self,
        concrete: Concrete,
        steel: Steel,
        phi: Floats,
        apart: Floats = 0.0,
        cover: Floats = 0.0,
        core: Floats = False,
    ) -> Array | None:
        """Length to the outer face of a bent end for full yield, mm; `apart` distance of the hooked bars'
        centres, their side `cover`, whether they end in the core of a column. None: the bend counts by its
        length."""
        return None

    @abstractmethod
    def lap(
        self,
        concrete: Concrete,
        steel: Steel,
        phi: Floats,
        height: Floats,
        h: Floats,
        share: float = 1.0,
        around: Around | None = None,
        stress: float = 1.0,
    ) -> Array:
        """Length of laps where this `share` of a face's bars is lapped at one place, mm, at this share of
        their yield (`stress`)."""
        ...

    def lap_stirrups(self, phi: float, share: float) -> float:
        """Of stirrups across lapped bars, half of it in each outer third of the lap, mm2; 0: what there is
        anyway will do."""
        return 0.0

    def lap_permitted(self, phi: float) -> bool:
        """Whether bars of a diameter may be lapped."""
        return True

    def confining_spacing(self, steel: Steel, phi: float, tie_area: float, number: float) -> float:
        """Spacing of stirrups that gives this, mm; endless where nothing is required."""
        return float("inf")

    def lap_stirrup_spacing(self, phi: float, share: float) -> float:
        """Largest spacing of stirrups over the outer thirds of a lap, mm; endless: no such rule."""
        return float("inf")

    def maximum_lap_share(self, rows: int, tension: bool) -> float:
        """Of a face's bars that may be lapped at one place; `rows` of bars there."""
        return 1.0

    @abstractmethod
    def lap_clear_distance(self, phi: Floats, aggregate: float) -> Array:
        """Clear distance of adjacent laps, mm."""
        ...
