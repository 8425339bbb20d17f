"""Room between bars, bends, stirrups along bars. Arrays run over stations; N, mm, MPa, days."""

from __future__ import annotations

from typing import Protocol

from upright_bramble.beam import Concrete, Steel
from upright_bramble.section.arrays import Array, Floats


class DetailingPart(Protocol):
    """Room between bars, bends, stirrups along bars."""

    def compression_stirrup_spacing(self, phi: Floats, tie: float, least: Floats) -> Array:
        """Of stirrups along bars in compression of diameter `phi`; `tie` diameter of the stirrups, `least` dimension of the section."""
        ...

    def compression_legs(self, number: Floats) -> Array:
        """Legs of stirrups that hold this number of bars of a row in compression; 0: no such rule."""
        ...

    def clear_spacing(self, phi: Floats, aggregate: float) -> Array: ...

    def bend_radius(self, phi: float) -> float: ...

    def mandrel_for_force(self, concrete: Concrete, steel: Steel, phi: float, force: float, beside: float) -> float:
        """Diameter that a bend needs for the `force` (N) of a bar at its start, `beside` the bar half the distance to the next one or
        the distance to the face, mm; 0: the least ones will do."""
        ...

    def stirrup_radius(self, phi: float) -> float:
        """Of the bends of stirrups, mm."""
        ...

    def stirrup_tail(self, phi: float) -> float:
        """Length of the anchored end of a stirrup beyond its corner, mm."""
        ...

    def minimum_leg(self, phi: float, kind: str) -> float: ...
