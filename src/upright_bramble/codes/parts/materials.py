"""Concrete and steel. Arrays run over stations; N, mm, MPa, days."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Protocol

from upright_bramble.beam import Concrete, Steel
from upright_bramble.section.strength import ConcreteLaw, SteelLaw


class MaterialsPart(Protocol):
    """Concrete and steel."""

    def concrete_strength(self, grade: str) -> float: ...

    def strength_range(self) -> tuple[float, float]: ...

    def steel(self, grade: str) -> Steel: ...

    @property
    def diagrams(self) -> Sequence[str]:
        """Stress diagrams of concrete, the usual one first."""
        ...

    def concrete_law(self, concrete: Concrete) -> ConcreteLaw: ...

    def narrowing_factor(self, concrete: Concrete) -> float:
        """On the concrete's stress where the section becomes narrower towards its compressed edge."""
        ...

    def steel_law(self, steel: Steel) -> SteelLaw: ...

    def modulus(self, concrete: Concrete) -> float:
        """Of concrete under short loads, MPa."""
        ...
