"""IS 456 annex C: stiffness and curvature in service. N, mm, MPa."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Service
from upright_bramble.codes.is456 import materials
from upright_bramble.codes.is456.materials import E_S, MaterialsClauses
from upright_bramble.codes.is456.symbols import NAMES, clause
from upright_bramble.codes.parts import ServicePart, Stage
from upright_bramble.section.arrays import Array, Floats
from upright_bramble.section.cracked import Elastic


@clause("C-2.1", "M_r", "f_cr I_gr/y_t", "N mm", names={**NAMES, "y_t": ("y_t", "mm")})
def cracking_moment(f_cr: float, i_gr: Floats, y_t: Floats) -> Array:
    """Cracking moment, N mm; y_t from the centroid to the tension face.

    f_cr : number, MPa; 2 to 6
    i_gr : number or array, mm4 (I_gr); above 0
    y_t : number or array, mm; above 0

    >>> round(float(cracking_moment(3.5, 5.4e9, 300.0)), 2)
    63000000.0
    """
    return np.asarray(f_cr * np.asarray(i_gr) / np.maximum(np.asarray(y_t), 1e-9))


@clause(
    "C-2.1",
    "I_eff",
    "max(min(I_r/max(1.2 - r_M z/d (1 - x/d) b_w/b; 0.01); I_gr); min(I_r; I_gr))",
    "mm4",
    names={**NAMES, "ratio": ("r_M", "")},
)
def effective_inertia(
    i_r: Floats, ratio: Floats, z: Floats, d: Floats, x: Floats, b_w: Floats, b: Floats, i_gr: Floats
) -> Array:
    """Effective second moment between the cracked and the gross one, mm4; `ratio` of M_r to the greatest
    service moment.


    i_r : number or array, mm4 (I_r); 0 or more
    ratio : number or array (r_M); 0 or more
    z : number or array, mm; 0 or more
    d : number or array, mm; above 0
    x : number or array, mm; 0 or more
    b_w : number or array, mm; above 0
    b : number or array, mm; above 0
    i_gr : number or array, mm4 (I_gr); above 0

    >>> round(float(effective_inertia(2.0e9, 0.5, 497.0, 550.0, 160.0, 300.0, 300.0, 5.4e9)), 2)
    2273709528.91
    """
    i_r, i_gr, d = (np.asarray(v, dtype=float) for v in (i_r, i_gr, d))
    below = 1.2 - np.asarray(ratio) * np.asarray(z) / d * (1.0 - np.asarray(x) / d) * np.asarray(b_w) / b
    return np.asarray(np.maximum(np.minimum(i_r / np.maximum(below, 0.01), i_gr), np.minimum(i_r, i_gr)))


@clause(
    "C-3.1",
    "k_4",
    (
        ("p_t - p_c < 0.25", "0"),
        ("p_t - p_c < 1", "min(0.72 (p_t - p_c)/sqrt(p_t); 1)"),
        ("", "min(0.65 (p_t - p_c)/sqrt(p_t); 1)"),
    ),
)
def shrinkage_factor(p_t: Floats, p_c: Floats) -> Array:
    """Factor of shrinkage curvature for the percentages of tension and compression steel.

    p_t : number or array; 0.15 to 3
    p_c : number or array; 0 to 4

    >>> round(float(shrinkage_factor(0.8, 0.2)), 4)
    0.483
    """
    p_t = np.maximum(np.asarray(p_t, dtype=float), 1e-9)
    more = p_t - np.asarray(p_c)
    share = np.where(more < 1.0, 0.72, 0.65) * more / np.sqrt(p_t)
    return np.asarray(np.where(more < 0.25, 0.0, np.clip(share, 0.0, 1.0)))


@clause("C-3.1", "psi_cs", "k_4 eps_cs/D", "1/mm")
def shrinkage_curvature(k_4: Floats, eps_cs: Floats, depth: Floats) -> Array:
    """Curvature of shrinkage, 1/mm.

    k_4 : number or array; 0 or more
    eps_cs : number or array; 0 to 0.001
    depth : number or array, mm (D); above 0

    >>> round(float(shrinkage_curvature(0.48, 0.0003, 600.0)), 10)
    2.4e-07
    """
    return np.asarray(np.asarray(k_4) * eps_cs / np.asarray(depth))


SHRINKAGE_SHAPES = {"cantilever": 0.5, "simple": 0.125, "one_end": 0.086, "both_ends": 0.063}


def shrinkage_deflection(support: str, psi_cs: float, l: float) -> float:  # noqa: E741 - the standard's symbol
    """Of shrinkage by the shape factor k_3 (C-3.1), mm; the program integrates the curvature instead.

    support : text
    psi_cs : number, 1/mm; either sign
    l : number, mm; above 0

    >>> round(shrinkage_deflection("cantilever", 0.0003 / 600.0, 6000.0), 1)
    9.0
    """
    return SHRINKAGE_SHAPES[support] * psi_cs * l**2


@clause("C-2", "kappa", "M/(E I_eff)", "1/mm")
def curvature(m: Floats, e_eff: Floats, i_eff: Floats) -> Array:
    """Of a section, 1/mm.

    m : number or array, N mm (M); 0 or more
    e_eff : number or array, MPa (E); 5000 to 40000
    i_eff : number or array, mm4 (I_eff); above 0

    >>> round(float(curvature(120.0e6, 25000.0, 2.5e9)), 10)
    1.92e-06
    """
    return np.asarray(np.asarray(m) / (np.asarray(e_eff) * i_eff))


@clause(
    "C-3.1",
    "kappa_t",
    "kappa + psi_cs",
    "1/mm",
    names={"kappa": ("kappa", "1/mm"), "psi_cs": ("psi_cs", "1/mm")},
)
def total_curvature(kappa: Floats, psi_cs: Floats) -> Array:
    """With shrinkage, 1/mm.

    kappa : number or array, 1/mm; either sign
    psi_cs : number or array, 1/mm; either sign

    >>> round(float(total_curvature(2.0e-6, 0.2e-6)), 10)
    2.2e-06
    """
    return np.asarray(np.asarray(kappa) + psi_cs)


@dataclass(frozen=True)
class ServiceClauses(ServicePart):
    """Answers on the section in service (annex C)."""

    v: Mapping[str, float]
    materials: MaterialsClauses

    gross_uncracked = True
    cracking_level = "service"

    def stages(
        self, concrete: Concrete, service: Service, h_0: Array, stress: Floats = 0.0
    ) -> Mapping[str, Stage]:
        """'short'; 'cracks' with half of the modulus (annex F); 'lasting' with the ultimate creep and
        shrinkage."""
        e_c = self.materials.modulus(concrete)
        f_cr = materials.flexural_strength(concrete.strength)
        theta = materials.creep_coefficient(service.age_at_loading)
        e_ce, n = materials.long_term_modulus(e_c, theta), len(h_0)
        return {
            "short": Stage(np.full(n, e_c), e_c, f_cr, np.zeros(n), False, E_S, service.age_at_loading),
            "cracks": Stage(
                np.full(n, 0.5 * e_c), e_c, f_cr, np.zeros(n), False, E_S, service.age_at_loading
            ),
            "lasting": Stage(
                modulus=np.full(n, e_ce),
                short_modulus=e_c,
                tensile_strength=f_cr,
                shrinkage=np.full(n, self.v["shrinkage"]),
                lasting=True,
                steel_modulus=E_S,
                age=np.inf,
                creep=theta,
            ),
        }

    def cracked_share(self, moment: Array, uncracked: Elastic, h: Array, stage: Stage) -> Array:
        """1 - M_r/M under the greatest service moment: 0 where it leaves a section uncracked."""
        m_r = cracking_moment(stage.tensile_strength, uncracked.i, h - uncracked.x)
        return np.asarray(np.clip(1.0 - m_r / np.maximum(moment, 1e-9), 0.0, 1.0))

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
        """By I_eff for the greatest moment under service loads; with shrinkage where it lasts."""
        m_r = cracking_moment(stage.tensile_strength, uncracked.i, h - uncracked.x)
        ratio = np.minimum(m_r / np.maximum(moment, 1e-9), 1.0 - np.asarray(before))
        z = cracked.d - cracked.x / 3.0
        effective = effective_inertia(
            cracked.i, ratio, z, cracked.d, cracked.x, cracked.b, cracked.b_c, uncracked.i
        )
        i_eff = np.where(ratio >= 1.0, uncracked.i, effective)  # nothing has cracked there
        result = curvature(moment, stage.modulus, i_eff)
        if not np.any(stage.shrinkage):
            return result
        p_t, p_c = (100.0 * a / (cracked.b * cracked.d) for a in (cracked.a_s, cracked.a_s2))
        return total_curvature(result, shrinkage_curvature(shrinkage_factor(p_t, p_c), stage.shrinkage, h))
