"""CSA A23.3 9.8.2: stiffness in service. N, mm, MPa."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Service
from upright_bramble.codes.csa_a23 import materials
from upright_bramble.codes.csa_a23.materials import E_S, MaterialsClauses
from upright_bramble.codes.csa_a23.symbols import NAMES, clause
from upright_bramble.codes.parts import ServicePart, Stage
from upright_bramble.section.arrays import Array, Floats
from upright_bramble.section.cracked import Elastic


@clause("9.8.2.3", "M_cr", "share f_r I_g/y_t", "N mm", names={**NAMES, "share": ("share", "")})
def cracking_moment(f_r: float, i_g: Floats, y_t: Floats, share: float = 1.0) -> Array:
    """Cracking moment, N mm; y_t from the centroid to the tension face, `share` of f_r that deflections count
    on.

    f_r : number, MPa; 1 to 6
    i_g : number or array, mm4 (I_g); above 0
    y_t : number or array, mm; above 0
    share : number; 0 to 1

    >>> round(float(cracking_moment(3.286, 7.2e9, 300.0)), 2)
    78864000.0
    """
    return np.asarray(share * f_r * np.asarray(i_g) / np.maximum(np.asarray(y_t), 1e-9))


@clause("9.8.2.3", "I_e", "min(I_cr + (I_g - I_cr) min(M_cr/M_a; 1)^3; I_g)", "mm4")
def effective_inertia(m_a: Floats, m_cr: Floats, i_g: Floats, i_cr: Floats) -> Array:
    """Effective second moment for the greatest service moment, mm4.

    m_a : number or array, N mm (M_a); above 0
    m_cr : number or array, N mm (M_cr); 0 or more
    i_g : number or array, mm4 (I_g); above 0
    i_cr : number or array, mm4 (I_cr); above 0

    >>> round(float(effective_inertia(100.0e6, 50.0e6, 8.0e9, 3.0e9)), 2)
    3625000000.0
    """
    share = np.minimum(np.asarray(m_cr) / np.maximum(np.abs(np.asarray(m_a, dtype=float)), 1e-9), 1.0) ** 3
    return np.asarray(np.minimum(np.asarray(i_cr) + (np.asarray(i_g) - i_cr) * share, i_g))


def averaged_inertia(middle: float, ends: tuple[float, ...]) -> float:
    """I_e of a continuous span (9.8.2.4): 0.7 of the middle with both ends, 0.85 with one; the program
    integrates section by section.

    middle : number, mm4; 0 or more
    ends : number, mm4; above 0

    >>> averaged_inertia(1000.0, (600.0,)), averaged_inertia(1000.0, (600.0, 400.0))
    (940.0, 850.0)
    """
    if len(ends) == 2:
        return 0.7 * middle + 0.15 * sum(ends)
    return 0.85 * middle + 0.15 * ends[0] if ends else middle


@clause("9.8.2.3", "kappa", "M/(E_c I_e)", "1/mm", names={**NAMES, "m": ("M", "N mm")})
def curvature(m: Floats, e_c: Floats, i_e: Floats) -> Array:
    """Of a section, 1/mm.

    m : number or array, N mm (M); 0 or more
    e_c : number or array, MPa (E_c); 15000 to 45000
    i_e : number or array, mm4 (I_e); above 0

    >>> round(float(curvature(100.0e6, 24648.0, 3.6e9)), 10)
    1.127e-06
    """
    return np.asarray(np.asarray(m) / (np.asarray(e_c) * i_e))


@dataclass(frozen=True)
class ServiceClauses(ServicePart):
    """Answers on the section in service (9.8.2)."""

    v: Mapping[str, float]
    materials: MaterialsClauses

    gross_uncracked = True
    cracking_level = "service"

    def stages(
        self, concrete: Concrete, service: Service, h_0: Array, stress: Floats = 0.0
    ) -> Mapping[str, Stage]:
        """One stage: creep and shrinkage come as a factor on deflections."""
        e_c = self.materials.modulus(concrete)
        f_r = materials.modulus_of_rupture(concrete.strength)
        return {
            "short": Stage(
                np.full(len(h_0), e_c), e_c, f_r, np.zeros(len(h_0)), False, E_S, service.age_at_loading
            )
        }

    def cracked_share(self, moment: Array, uncracked: Elastic, h: Array, stage: Stage) -> Array:
        """1 - M_cr/M_a under the greatest service moment: 0 where it leaves a section uncracked."""
        m_cr = cracking_moment(stage.tensile_strength, uncracked.i, h - uncracked.x, self.v["f_r_share"])
        return np.asarray(np.clip(1.0 - m_cr / np.maximum(moment, 1e-9), 0.0, 1.0))

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
        """By I_e for the greatest moment at any stage."""
        m_cr = cracking_moment(stage.tensile_strength, uncracked.i, h - uncracked.x, self.v["f_r_share"])
        greatest = np.maximum(
            moment, m_cr / np.maximum(1.0 - np.asarray(before), 1e-9) * (np.asarray(before) > 0.0)
        )
        return curvature(moment, stage.modulus, effective_inertia(greatest, m_cr, uncracked.i, cracked.i))
