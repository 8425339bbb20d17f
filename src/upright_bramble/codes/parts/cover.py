"""Cover of the reinforcement. Arrays run over stations; N, mm, MPa, days."""

from __future__ import annotations

from abc import abstractmethod
from dataclasses import dataclass
from typing import Protocol

from upright_bramble.beam import Cover
from upright_bramble.section.arrays import Array, Floats


@dataclass(frozen=True)
class CoverWish:
    """What cover is worked out from: class of exposure, minutes of fire (None: none asked for), structural
    class (None: by the strength), allowance for deviation (None: the usual one); least and largest diameter
    of main bars, of stirrups; least width at the level of the steel; whether the beam is continuous; strength
    and aggregate of the concrete."""

    exposure: str
    fire: int | None
    structural_class: int | None
    deviation: float | None
    bars: tuple[float, float]
    ties: tuple[float, float]
    width: float
    continuous: bool
    strength: float = 0.0
    aggregate: float = 20.0


class CoverPart(Protocol):
    """Cover of the reinforcement. An answer given here is that of a code without such a rule."""

    @abstractmethod
    def minimum_for_bar(self, phi: Floats, aggregate: float) -> Array: ...

    def unverified(self) -> str:
        """Why cover that is worked out from exposure is not verified; '': it is."""
        return ""

    @abstractmethod
    def required(self, wish: CoverWish) -> Cover:
        """Nominal cover to the stirrup. Raises CodeError with what is not possible."""
        ...
