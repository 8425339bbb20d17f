"""EN 1992-1-1 7.2 and 7.4.3: stresses and curvature in service. N, mm, MPa."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Service, Steel
from upright_bramble.codes.en1992 import materials
from upright_bramble.codes.en1992.symbols import EN, NAMES, clause
from upright_bramble.codes.parts import (
    ServicePart,
    Stage,
)
from upright_bramble.section.arrays import Array, Floats, Mask
from upright_bramble.section.cracked import Elastic


@clause(EN, "7.4.3(3)", "zeta", (("M > M_cr", "1 - beta (M_cr/M)^2"), ("", "0")))
def distribution(m: Floats, m_cr: Floats, beta: float) -> Array:
    """Share of the cracked state; beta 0.5 under lasting or repeated load, 1.0 for a single short one.

    m : number or array, N mm (M); 0 or more
    m_cr : number or array, N mm (M_cr); 0 or more
    beta : number; 0.5 to 1

    >>> round(float(distribution(120000000.0, 160000000.0, 1.0)), 8)
    0.0
    """
    ratio = np.asarray(m_cr) / np.maximum(np.abs(np.asarray(m, dtype=float)), 1e-9)
    return np.where(ratio < 1.0, 1.0 - beta * ratio**2, 0.0)


@clause(EN, "7.4.3(5)", "E_c,eff", "E_cm/(1 + phi)", "MPa")
def effective_modulus(e_cm: float, phi: Floats) -> Array:
    """Effective modulus for creep, MPa.

    e_cm : number, MPa (E_cm); 25000 to 50000
    phi : number or array, mm; 6 to 40

    >>> round(float(effective_modulus(32000.0, 2.0)), 2)
    10666.67
    """
    return np.asarray(e_cm / (1.0 + np.asarray(phi)))


UNCRACKED = {
    **NAMES,
    "e": ("E", "MPa"),
    "i": ("I_I", "mm4"),
    "s": ("S_I", "mm3"),
    "x": ("x_I", "mm"),
    "alpha_e": ("alpha_eff", ""),
}
CRACKED = {
    **NAMES,
    "e": ("E", "MPa"),
    "i": ("I_II", "mm4"),
    "s": ("S_II", "mm3"),
    "x": ("x_II", "mm"),
    "alpha_e": ("alpha_eff", ""),
}


@clause(EN, "7.4.3(3)", "M_cr", "f_ct I_I/(h - x_I)", "N mm", names={**UNCRACKED, "f_ct": ("f_ct", "MPa")})
def cracking_moment(f_ct: float, i: Floats, h: Floats, x: Floats) -> Array:
    """Moment at which the tension face cracks, N mm; `i` and `x` of the uncracked section.

    f_ct : number, MPa; 1 to 6
    i : number or array, mm4 (I_I); above 0
    h : number or array, mm; above 0
    x : number or array, mm (x_I); above 0, below h

    >>> round(float(cracking_moment(2.9, 5000000000.0, 600.0, 125.0)), 2)
    30526315.79
    """
    return np.asarray(f_ct * np.asarray(i) / np.maximum(np.asarray(h) - x, 1e-9))


@clause(EN, "7.4.3(6)", "kappa_cs,I", "eps_cs alpha_eff S_I/I_I", "1/mm", names=UNCRACKED)
def uncracked_shrinkage(eps_cs: Floats, alpha_e: Floats, s: Floats, i: Floats) -> Array:
    """Curvature of the uncracked section from shrinkage restrained by the bars, 1/mm; `s` first moment of the
    bars, mm3.

    eps_cs : number or array; 0 to 0.001
    alpha_e : number or array (alpha_eff); 1 to 60
    s : number or array, mm3 (S_I); 0 or more
    i : number or array, mm4 (I_I); above 0

    >>> round(float(uncracked_shrinkage(0.0004, 12.0, 500000.0, 5000000000.0)), 8)
    4.8e-07
    """
    return np.asarray(np.asarray(eps_cs) * alpha_e * s / i)


@clause(EN, "7.4.3(6)", "kappa_cs,II", "eps_cs alpha_eff S_II/I_II", "1/mm", names=CRACKED)
def cracked_shrinkage(eps_cs: Floats, alpha_e: Floats, s: Floats, i: Floats) -> Array:
    """Curvature of the cracked section from shrinkage restrained by the bars, 1/mm; `s` first moment of the
    bars, mm3.

    eps_cs : number or array; 0 to 0.001
    alpha_e : number or array (alpha_eff); 1 to 60
    s : number or array, mm3 (S_II); 0 or more
    i : number or array, mm4 (I_II); above 0

    >>> round(float(cracked_shrinkage(0.0004, 12.0, 500000.0, 5000000000.0)), 8)
    4.8e-07
    """
    return np.asarray(np.asarray(eps_cs) * alpha_e * s / i)


@clause(
    EN,
    "7.4.3(3)",
    "kappa_I",
    "M/(E I_I) + kappa_cs,I",
    "1/mm",
    names={**UNCRACKED, "kappa_cs": ("kappa_cs,I", "1/mm")},
)
def uncracked_curvature(m: Floats, e: Floats, i: Floats, kappa_cs: Floats) -> Array:
    """Of the uncracked section, 1/mm; `e` modulus with creep.

    m : number or array, N mm (M); 0 or more
    e : number or array, MPa (E); 3000 to 50000
    i : number or array, mm4 (I_I); above 0
    kappa_cs : number or array, 1/mm (kappa_cs,I); either sign

    >>> round(float(uncracked_curvature(120000000.0, 10500.0, 5000000000.0, 4e-07)), 8)
    2.69e-06
    """
    return np.asarray(np.asarray(m) / (np.asarray(e) * i) + kappa_cs)


@clause(
    EN,
    "7.4.3(3)",
    "kappa_II",
    "M/(E I_II) + kappa_cs,II",
    "1/mm",
    names={**CRACKED, "kappa_cs": ("kappa_cs,II", "1/mm")},
)
def cracked_curvature(m: Floats, e: Floats, i: Floats, kappa_cs: Floats) -> Array:
    """Of the fully cracked section, 1/mm; `e` modulus with creep.

    m : number or array, N mm (M); 0 or more
    e : number or array, MPa (E); 3000 to 50000
    i : number or array, mm4 (I_II); above 0
    kappa_cs : number or array, 1/mm (kappa_cs,II); either sign

    >>> round(float(cracked_curvature(120000000.0, 10500.0, 5000000000.0, 4e-07)), 8)
    2.69e-06
    """
    return np.asarray(np.asarray(m) / (np.asarray(e) * i) + kappa_cs)


@clause(EN, "7.2(1)", "sigma_s", "alpha_eff M max(d - x_II; 0)/I_II", "MPa", names=CRACKED)
def bar_stress(alpha_e: Floats, m: Floats, d: Floats, x: Floats, i: Floats) -> Array:
    """Stress of bars in tension of a cracked section under the service moment `m`, MPa; `alpha_e` with creep.

    alpha_e : number or array (alpha_eff); 1 to 60
    m : number or array, N mm (M); 0 or more
    d : number or array, mm; above 0
    x : number or array, mm (x_II); 0 or more
    i : number or array, mm4 (I_II); above 0

    >>> round(float(bar_stress(12.0, 120000000.0, 540.0, 125.0, 5000000000.0)), 2)
    119.52
    """
    return np.asarray(np.asarray(alpha_e) * m * np.maximum(np.asarray(d) - x, 0.0) / i)


@clause(EN, "7.2(1)", "sigma_c", "M x_II/I_II", "MPa", names=CRACKED)
def concrete_stress(m: Floats, x: Floats, i: Floats) -> Array:
    """Stress of the concrete at the compressed face of a cracked section, MPa.

    m : number or array, N mm (M); 0 or more
    x : number or array, mm (x_II); 0 or more
    i : number or array, mm4 (I_II); above 0

    >>> round(float(concrete_stress(120000000.0, 125.0, 5000000000.0)), 4)
    3.0
    """
    return np.asarray(np.asarray(m) * x / i)


@clause(EN, "7.2(5)", "sigma_s,max", "k_3 f_yk", "MPa", names={**NAMES, "k_3": ("k_3", "")})
def bar_stress_limit(f_yk: float, k_3: float = 0.8) -> float:
    """Of bars under the characteristic level, MPa.

    f_yk : number, MPa; 400 to 600
    k_3 : number; 0 or more

    >>> round(float(bar_stress_limit(500.0, 0.8)), 2)
    400.0
    """
    return k_3 * f_yk


@clause(EN, "7.2(3)", "sigma_c,max", "k_2 f_ck", "MPa", names={**NAMES, "k_2": ("k_2", "")})
def creep_stress_limit(f_ck: float, k_2: float = 0.45) -> float:
    """Of concrete under the quasi-permanent level, up to which creep is in proportion to stress, MPa.

    f_ck : number, MPa; 12 to 90
    k_2 : number; 0 or more

    >>> round(float(creep_stress_limit(30.0, 0.45)), 2)
    13.5
    """
    return k_2 * f_ck


@clause(EN, "7.2(2)", "sigma_c,max", "k_1 f_ck", "MPa", names={**NAMES, "k_1": ("k_1", "")})
def splitting_stress_limit(f_ck: float, k_1: float = 0.6) -> float:
    """Of concrete under the characteristic level in exposure XD, XF, XS, MPa.

    f_ck : number, MPa; 12 to 90
    k_1 : number; 0 or more

    >>> round(float(splitting_stress_limit(30.0, 0.6)), 2)
    18.0
    """
    return k_1 * f_ck


@clause(EN, "7.4.3(3)", "kappa_m", "zeta kappa_II + (1 - zeta) kappa_I", "1/mm")
def mean_curvature(zeta: Floats, kappa_II: Floats, kappa_I: Floats) -> Array:
    """Between the cracked and the uncracked state, 1/mm.

    zeta : number or array; 0 to 1
    kappa_II : number or array; either sign
    kappa_I : number or array; either sign

    >>> round(float(mean_curvature(0.6, 4e-06, 1.5e-06)), 8)
    3e-06
    """
    return np.asarray(np.asarray(zeta) * kappa_II + (1.0 - np.asarray(zeta)) * kappa_I)


@dataclass(frozen=True)
class ServiceClauses(ServicePart):
    """Answers on the section in service (7.2, 7.4.3)."""

    gross_uncracked = False
    early_stage = "striking"

    def bar_limit(self, steel: Steel) -> float:
        """7.2(5), MPa."""
        return bar_stress_limit(steel.strength)

    def concrete_limits(self, concrete: Concrete, exposure: str | None) -> tuple[float, float]:
        """7.2(3) under the quasi-permanent level; 7.2(2) under the characteristic one, in the classes XD, XF
        and XS (else endless), MPa."""
        split = (exposure or "").startswith(("XD", "XF", "XS"))
        return creep_stress_limit(concrete.strength), splitting_stress_limit(
            concrete.strength
        ) if split else math.inf

    def _stress_ratio(self, concrete: Concrete, service: Service, stress: Floats) -> Array:
        """k_sigma of (3.7), over f_ck at first loading."""
        age = min(service.age_at_loading, 28.0)
        young = (
            materials.strength_growth(age, service.cement) * materials.mean_strength(concrete.strength) - 8.0
        )
        return np.asarray(np.asarray(stress) / max(min(young, concrete.strength), 1.0))

    def nonlinear_creep(self, concrete: Concrete, service: Service, stress: Array) -> Mask:
        """3.1.4(4): above 0.45 f_ck(t_0)."""
        return np.asarray(self._stress_ratio(concrete, service, stress) > materials.PROPORTIONAL)

    def stages(
        self, concrete: Concrete, service: Service, h_0: Array, stress: Floats = 0.0
    ) -> Mapping[str, Stage]:
        """'short' (no creep), 'striking' (young), 'finishes' and 'partitions' (just before they are built)
        and 'lasting' (final), arrays over notional sizes. All load creeps from the first loading on, which is
        on the safe side."""
        f_ck, wanted = concrete.strength, service
        e_cm = materials.secant_modulus(f_ck)
        f_ctm = materials.mean_tensile_strength(f_ck)

        def stage(t: float) -> Stage:
            phi = materials.creep_coefficient(
                f_ck, wanted.humidity, h_0, wanted.age_at_loading, t, wanted.cement
            )
            phi = materials.nonlinear_creep(phi, self._stress_ratio(concrete, wanted, stress))
            shrunk = materials.shrinkage_strain(f_ck, wanted.humidity, h_0, t, cement=wanted.cement)
            return Stage(
                modulus=effective_modulus(e_cm, phi),
                short_modulus=e_cm,
                tensile_strength=f_ctm,
                shrinkage=shrunk,
                lasting=True,
                steel_modulus=materials.E_S,
                age=t,
                creep=float(np.max(phi)),
            )

        age, none = wanted.age_at_loading, np.zeros(len(h_0))
        young_e = materials.modulus_at(f_ck, min(age, 28.0), wanted.cement)
        young_f = min(materials.tensile_strength_at(f_ck, age, wanted.cement), f_ctm)
        return {
            "short": Stage(np.full(len(h_0), e_cm), e_cm, f_ctm, none, False, materials.E_S, age),
            "striking": Stage(np.full(len(h_0), young_e), young_e, young_f, none, False, materials.E_S, age),
            "finishes": stage(wanted.finishes_at),
            "partitions": stage(wanted.partitions_at),
            "lasting": stage(float("inf")),
        }

    def cracked_share(self, moment: Array, uncracked: Elastic, h: Array, stage: Stage) -> Array:
        """zeta, 7.4.3(3)."""
        m_cr = cracking_moment(stage.tensile_strength, uncracked.i, h, uncracked.x)
        return distribution(moment, m_cr, 0.5 if stage.lasting else 1.0)

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
        """7.4.3(3): between uncracked and cracked; `moment` (rows, n) tension at the section's bottom
        positive.

        Shrinkage curvature (7.4.3(6)) is added with the same distribution, in the sense that bars near the
        tension face give it.
        """
        m_cr = cracking_moment(stage.tensile_strength, uncracked.i, h, uncracked.x)
        share = np.maximum(distribution(moment, m_cr, 0.5 if lasting else 1.0), before)
        alpha, e = stage.alpha_e, stage.modulus
        second = cracked_curvature(
            moment, e, cracked.i, cracked_shrinkage(stage.shrinkage, alpha, cracked.s, cracked.i)
        )
        first = uncracked_curvature(
            moment, e, uncracked.i, uncracked_shrinkage(stage.shrinkage, alpha, uncracked.s, uncracked.i)
        )
        return mean_curvature(share, second, first)
