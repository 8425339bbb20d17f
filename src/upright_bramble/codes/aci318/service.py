"""ACI 318-19 19.2.3, 24.2.3: stiffness in service. N, mm, MPa."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Service
from upright_bramble.codes.aci318 import materials
from upright_bramble.codes.aci318.expressions import Expressions
from upright_bramble.codes.aci318.materials import MaterialsClauses
from upright_bramble.codes.aci318.symbols import ACI, NAMES, clause
from upright_bramble.codes.parts import (
    ServicePart,
    Stage,
)
from upright_bramble.section.arrays import Array, Floats
from upright_bramble.section.cracked import Elastic


@clause(
    ACI,
    "24.2.3.5",
    "M_cr",
    "f_r I_g/(h - c_g)",
    "N mm",
    names={**NAMES, "f_r": ("f_r", "MPa"), "h": ("h", "mm"), "c_g": ("c_g", "mm")},
)
def cracking_moment(f_r: float, i_g: Floats, h: Floats, c_g: Floats) -> Array:
    """Moment at which the tension face cracks, N mm; `c_g` depth of the centroid from the compressed face.

    f_r : number, MPa; 1 to 8
    i_g : number or array, mm4 (I_g); above 0
    h : number or array, mm; above 0
    c_g : number or array, mm; above 0, below h

    >>> round(float(cracking_moment(1.0, 6500000000.0, 600.0, 300.0)), 2)
    21666666.67
    """
    return np.asarray(f_r * np.asarray(i_g) / np.maximum(np.asarray(h) - c_g, 1e-9))


@clause(
    ACI,
    "24.2.3.5",
    "I_e",
    (("M_a <= 2/3 M_cr", "I_g"), ("", "min(I_cr/(1 - (2/3 M_cr/M_a)^2 (1 - min(I_cr/I_g; 1))); I_g)")),
    "mm4",
)
def effective_inertia(m_a: Floats, m_cr: Floats, i_g: Floats, i_cr: Floats) -> Array:
    """Effective second moment under the service moment `m_a`, mm4.

    m_a : number or array, N mm (M_a); 0 or more
    m_cr : number or array, N mm (M_cr); 0 or more
    i_g : number or array, mm4 (I_g); above 0
    i_cr : number or array, mm4 (I_cr); above 0

    >>> round(float(effective_inertia(460000000.0, 160000000.0, 6500000000.0, 2400000000.0)), 2)
    2484257565.17
    """
    m_a, i_g, i_cr = (np.asarray(v, dtype=float) for v in (m_a, i_g, i_cr))
    start = 2.0 / 3.0 * np.asarray(m_cr)
    share = np.minimum(start / np.maximum(m_a, 1e-9), 1.0) ** 2
    cracked = i_cr / np.maximum(1.0 - share * (1.0 - np.minimum(i_cr / i_g, 1.0)), 1e-9)
    return np.asarray(np.where(m_a <= start, i_g, np.minimum(cracked, i_g)))


@dataclass(frozen=True)
class ServiceClauses(ServicePart):
    """Answers on the section in service (24.2.3)."""

    x: Expressions
    materials: MaterialsClauses

    gross_uncracked = True

    def stages(
        self, concrete: Concrete, service: Service, h_0: Array, stress: Floats = 0.0
    ) -> Mapping[str, Stage]:
        """One stage: creep and shrinkage come as a factor on deflections."""
        e_c = self.materials.modulus(concrete)
        f_r = materials.modulus_of_rupture(concrete.strength, self.x)
        return {
            "short": Stage(
                np.full(len(h_0), e_c),
                e_c,
                f_r,
                np.zeros(len(h_0)),
                False,
                self.x.steel_modulus,
                service.age_at_loading,
            )
        }

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
        m_cr = cracking_moment(stage.tensile_strength, uncracked.i, h, uncracked.x)
        return np.asarray(moment / (stage.modulus * effective_inertia(moment, m_cr, uncracked.i, cracked.i)))
