"""Room between bars, bends, stirrups along bars. Arrays run over stations; N, mm, MPa, days."""

from __future__ import annotations

from abc import abstractmethod
from typing import Protocol

from upright_bramble.beam import Concrete, Steel
from upright_bramble.section.arrays import Array, Floats


class DetailingPart(Protocol):
    """Room between bars, bends, stirrups along bars. An answer given here is that of a code without such a
    rule."""

    @abstractmethod
    def compression_stirrup_spacing(self, phi: Floats, tie: float, minimum: Floats) -> Array:
        """Of stirrups along bars in compression of diameter `phi`; `tie` diameter of the stirrups, `minimum`
        dimension of the section."""
        ...

    @abstractmethod
    def clear_spacing(self, phi: Floats, aggregate: float) -> Array: ...

    @abstractmethod
    def bend_radius(self, phi: float) -> float: ...

    def mandrel_for_force(
        self, concrete: Concrete, steel: Steel, phi: float, force: float, beside: float
    ) -> float:
        """Diameter that a bend needs for the `force` (N) of a bar at its start, `beside` the bar half the
        distance to the next one or the distance to the face, mm; 0: the least ones will do."""
        return 0.0

    @abstractmethod
    def stirrup_radius(self, phi: float) -> float:
        """Of the bends of stirrups, mm."""
        ...

    @abstractmethod
    def stirrup_tail(self, phi: float) -> float:
        """Length of the anchored end of a stirrup beyond its corner, mm."""
        ...

    @abstractmethod
    def minimum_leg(self, phi: float, kind: str, former: float = 0.0) -> float:
        """Outer length of the leg beyond a bend, mm; round a `former` of this diameter where that is wider
        than the code's least."""
        ...
