"""ACI 318-19 19.2.3, 24.2.3: stiffness in service. N, mm, MPa."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Service, Steel
from upright_bramble.codes.aci318 import materials
from upright_bramble.codes.aci318.expressions import Expressions
from upright_bramble.codes.aci318.materials import MaterialsClauses
from upright_bramble.codes.aci318.symbols import ACI, clause
from upright_bramble.codes.parts import (
    Stage,
)
from upright_bramble.section.arrays import Array, Floats, Mask
from upright_bramble.section.cracked import Elastic


@clause(ACI, "24.2.3.5", "I_e", (("M_a <= 2/3 M_cr", "I_g"), ("", "min(I_cr/(1 - (2/3 M_cr/M_a)^2 (1 - min(I_cr/I_g; 1))); I_g)")), "mm4")
def effective_inertia(m_a: Floats, m_cr: Floats, i_g: Floats, i_cr: Floats) -> Array:
    """Effective second moment under the service moment `m_a`, mm4."""
    m_a, i_g, i_cr = (np.asarray(v, dtype=float) for v in (m_a, i_g, i_cr))
    start = 2.0 / 3.0 * np.asarray(m_cr)
    share = np.minimum(start / np.maximum(m_a, 1e-9), 1.0) ** 2
    cracked = i_cr / np.maximum(1.0 - share * (1.0 - np.minimum(i_cr / i_g, 1.0)), 1e-9)
    return np.asarray(np.where(m_a <= start, i_g, np.minimum(cracked, i_g)))


@dataclass(frozen=True)
class ServiceClauses:
    """Answers on the section in service (24.2.3)."""

    x: Expressions
    materials: MaterialsClauses

    gross_uncracked = True
    early_stage = None

    def stress_limits(self, concrete: Concrete, steel: Steel, exposure: str | None) -> tuple[float, float, float]:
        return math.inf, math.inf, math.inf

    def nonlinear_creep(self, concrete: Concrete, service: Service, stress: Array) -> Mask:
        return np.zeros(np.shape(stress), dtype=bool)

    def stages(self, concrete: Concrete, service: Service, h_0: Array, stress: Floats = 0.0) -> Mapping[str, Stage]:
        """One stage: creep and shrinkage come as a factor on deflections."""
        e_c = self.materials.modulus(concrete)
        f_r = materials.modulus_of_rupture(concrete.strength, self.x)
        return {"short": Stage(np.full(len(h_0), e_c), e_c, f_r, np.zeros(len(h_0)), False, self.x.steel_modulus, service.age_at_loading)}

    def cracked_share(self, moment: Array, uncracked: Elastic, h: Array, stage: Stage) -> Array:
        """I_e has none: it follows from the moment of each load."""
        return np.zeros_like(moment)

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
        """M_a/(E_c I_e) at every section (24.2.3.5)."""
        m_cr = stage.tensile_strength * uncracked.i / np.maximum(h - uncracked.x, 1e-9)
        return np.asarray(moment / (stage.modulus * effective_inertia(moment, m_cr, uncracked.i, cracked.i)))
