"""Sections in service. Arrays run over stations; N, mm, MPa, days."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Protocol

import numpy as np

from upright_bramble.beam import Concrete, Service, Steel
from upright_bramble.section.arrays import Array, Floats, Mask
from upright_bramble.section.cracked import Elastic


@dataclass(frozen=True)
class Stage:
    """Properties of concrete for one service stage: modulus with creep, modulus without, tensile strength,
    shrinkage so far, whether the loading lasts, and the modulus of the bars; the `age` of the concrete (days)
    and its creep coefficient."""

    modulus: Array
    short_modulus: float
    tensile_strength: float
    shrinkage: Array
    lasting: bool
    steel_modulus: float = 200_000.0
    age: float = float("inf")
    creep: float = 0.0

    @property
    def alpha_e(self) -> Array:
        """Ratio of moduli."""
        return self.steel_modulus / self.modulus


class ServicePart(Protocol):
    """Sections in service. An answer given here is that of a code without such a rule."""

    @property
    @abstractmethod
    def gross_uncracked(self) -> bool:
        """Whether the uncracked section is that of the concrete alone."""
        ...

    @abstractmethod
    def stages(
        self, concrete: Concrete, service: Service, h_0: Array, stress: Floats = 0.0
    ) -> Mapping[str, Stage]:
        """Stages by name, arrays over notional sizes `h_0` (mm); creep beyond proportion where the lasting
        `stress` of the concrete (MPa) makes it so."""
        ...

    def nonlinear_creep(self, concrete: Concrete, service: Service, stress: Array) -> Mask:
        """Where creep under a lasting stress of the concrete (MPa) is more than in proportion to it."""
        return np.zeros(np.shape(stress), dtype=bool)

    @abstractmethod
    def curvature(
        self,
        moment: Array,
        uncracked: Elastic,
        cracked: Elastic,
        h: Array,
        stage: Stage,
        lasting: bool,
        before: Floats = 0.0,
    ) -> Array:
        """For `moment` >= 0; a share of at least `before` has cracked already."""
        ...

    def bar_limit(self, steel: Steel) -> float:
        """Highest stress of bars under the rare level, MPa; endless: no such rule."""
        return float("inf")

    def concrete_limits(self, concrete: Concrete, exposure: str | None) -> tuple[float, float]:
        """Highest stress of the concrete under the lasting and under the rare level, MPa; endless: no such
        rule."""
        return float("inf"), float("inf")

    @property
    def early_stage(self) -> str | None:
        """The stage whose cracks stay for good; None: every moment finds its own."""
        return None

    @property
    def cracking_level(self) -> str | None:
        """The service level whose greatest moments say how far sections have cracked, whatever acts on them;
        None: what acts says so."""
        return None

    def cracked_share(self, moment: Array, uncracked: Elastic, h: Array, stage: Stage) -> Array:
        """Of a section that curvature is found with, for `moment` >= 0."""
        return np.zeros_like(moment)
