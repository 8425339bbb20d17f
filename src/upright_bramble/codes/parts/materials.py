"""Concrete and steel. Arrays run over stations; N, mm, MPa, days."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Sequence
from typing import Protocol

from upright_bramble.beam import Concrete, Steel
from upright_bramble.section.strength import ConcreteLaw, SteelLaw


class MaterialsPart(Protocol):
    """Concrete and steel. An answer given here is that of a code without such a rule."""

    @abstractmethod
    def concrete_strength(self, grade: str) -> float: ...

    @abstractmethod
    def strength_range(self) -> tuple[float, float]: ...

    @abstractmethod
    def steel(self, grade: str) -> Steel: ...

    @property
    def cube_strengths(self) -> bool:
        """Whether strengths are those of cubes, else of cylinders."""
        return False

    @property
    def grades(self) -> Sequence[str]:
        """Usual grades of concrete, the weakest first; none where strengths are given as such."""
        return ()

    @property
    @abstractmethod
    def steels(self) -> Sequence[str]:
        """Usual grades of bars."""
        ...

    @property
    @abstractmethod
    def diagrams(self) -> Sequence[str]:
        """Stress diagrams of concrete, the usual one first."""
        ...

    @abstractmethod
    def concrete_law(self, concrete: Concrete) -> ConcreteLaw: ...

    def narrowing_factor(self, concrete: Concrete) -> float:
        """On the concrete's stress where the section becomes narrower towards its compressed edge."""
        return 1.0

    def mean_law(self, concrete: Concrete) -> ConcreteLaw | None:
        """With mean strength, for stiffness; None: the code has none."""
        return None

    @abstractmethod
    def steel_law(self, steel: Steel) -> SteelLaw: ...

    @abstractmethod
    def modulus(self, concrete: Concrete) -> float:
        """Of concrete under short loads, MPa."""
        ...
