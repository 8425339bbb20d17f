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
    Stage,
)
from upright_bramble.section.arrays import Array, Floats, Mask
from upright_bramble.section.cracked import Elastic


@clause(EN, "7.4.3(3)", "zeta", (("M > M_cr", "1 - beta (M_cr/M)^2"), ("", "0")))
def distribution(m: Floats, m_cr: Floats, beta: float) -> Array:
    """Share of the cracked state; beta 0.5 under lasting or repeated load, 1.0 for a single short one."""
    ratio = np.asarray(m_cr) / np.maximum(np.abs(np.asarray(m, dtype=float)), 1e-9)
    return np.where(ratio < 1.0, 1.0 - beta * ratio**2, 0.0)


@clause(EN, "7.4.3(5)", "E_c,eff", "E_cm/(1 + phi)", "MPa")
def effective_modulus(e_cm: float, phi: Floats) -> Array:
    """Effective modulus for creep, MPa."""
    return np.asarray(e_cm / (1.0 + np.asarray(phi)))


@clause(EN, "7.4.3(6)", "kappa_cs", "eps_cs alpha_e S/I", "1/mm")
def shrinkage_curvature(eps_cs: Floats, alpha_e: Floats, s: Floats, i: Floats) -> Array:
    """Curvature from shrinkage restrained by the bars, 1/mm; `s` first moment of the bars."""
    return np.asarray(np.asarray(eps_cs) * alpha_e * s / i)


@clause(EN, "7.4.3(3)", "kappa", "M/(E I) + kappa_cs", "1/mm", names={**NAMES, "e": ("E", "MPa")})
def state_curvature(m: Floats, e: Floats, i: Floats, kappa_cs: Floats) -> Array:
    """Of a section that is uncracked, or fully cracked, 1/mm; `e` modulus with creep."""
    return np.asarray(np.asarray(m) / (np.asarray(e) * i) + kappa_cs)


@clause(EN, "7.4.3(3)", "kappa_m", "zeta kappa_II + (1 - zeta) kappa_I", "1/mm")
def mean_curvature(zeta: Floats, kappa_II: Floats, kappa_I: Floats) -> Array:
    """Between the cracked and the uncracked state, 1/mm."""
    return np.asarray(np.asarray(zeta) * kappa_II + (1.0 - np.asarray(zeta)) * kappa_I)


def stress_limits(f_ck: float, f_yk: float, k_1: float = 0.6, k_2: float = 0.45, k_3: float = 0.8) -> tuple[float, float, float]:
    """7.2: concrete under the characteristic and under the quasi-permanent level, bars under the characteristic one, MPa."""
    return k_1 * f_ck, k_2 * f_ck, k_3 * f_yk


@dataclass(frozen=True)
class ServiceClauses:
    """Answers on the section in service (7.2, 7.4.3)."""

    gross_uncracked = False
    early_stage = "striking"

    def stress_limits(self, concrete: Concrete, steel: Steel, exposure: str | None) -> tuple[float, float, float]:
        """7.2(3) and (5); 7.2(2) in the classes XD, XF and XS."""
        rare, lasting, bars = stress_limits(concrete.strength, steel.strength)
        return lasting, bars, rare if (exposure or "").startswith(("XD", "XF", "XS")) else math.inf

    def _stress_ratio(self, concrete: Concrete, service: Service, stress: Floats) -> Array:
        """k_sigma of (3.7), over f_ck at first loading."""
        age = min(service.age_at_loading, 28.0)
        young = materials.strength_growth(age, service.cement) * materials.mean_strength(concrete.strength) - 8.0
        return np.asarray(np.asarray(stress) / max(min(young, concrete.strength), 1.0))

    def nonlinear_creep(self, concrete: Concrete, service: Service, stress: Array) -> Mask:
        """3.1.4(4): above 0.45 f_ck(t_0)."""
        return np.asarray(self._stress_ratio(concrete, service, stress) > materials.PROPORTIONAL)

    def stages(self, concrete: Concrete, service: Service, h_0: Array, stress: Floats = 0.0) -> Mapping[str, Stage]:
        """'short' (no creep), 'striking' (young), 'finishes' and 'partitions' (just before they are built) and 'lasting' (final), arrays
        over notional sizes. All load creeps from the first loading on, which is on the safe side."""
        f_ck, wanted = concrete.strength, service
        e_cm = materials.secant_modulus(f_ck)
        f_ctm = materials.mean_tensile_strength(f_ck)

        def stage(t: float) -> Stage:
            phi = materials.creep_coefficient(f_ck, wanted.humidity, h_0, wanted.age_at_loading, t, wanted.cement)
            phi = materials.nonlinear_creep(phi, self._stress_ratio(concrete, wanted, stress))
            shrunk = materials.shrinkage_strain(f_ck, wanted.humidity, h_0, t, cement=wanted.cement)
            return Stage(effective_modulus(e_cm, phi), e_cm, f_ctm, shrunk, True, materials.E_S, t, float(np.max(phi)))

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
        m_cr = stage.tensile_strength * uncracked.i / np.maximum(h - uncracked.x, 1e-9)
        return distribution(moment, m_cr, 0.5 if stage.lasting else 1.0)

    def curvature(
        self, moment: Array, uncracked: Elastic, cracked: Elastic, h: Array, stage: Stage, lasting: bool, before: Floats = 0.0
    ) -> Array:
        """7.4.3(3): between uncracked and cracked; `moment` (rows, n) tension at the section's bottom positive.

        Shrinkage curvature (7.4.3(6)) is added with the same distribution, in the sense that bars near the tension
        face give it.
        """
        m_cr = stage.tensile_strength * uncracked.i / np.maximum(h - uncracked.x, 1e-9)
        share = np.maximum(distribution(moment, m_cr, 0.5 if lasting else 1.0), before)
        alpha = stage.alpha_e
        state_2 = state_curvature(moment, stage.modulus, cracked.i, shrinkage_curvature(stage.shrinkage, alpha, cracked.s, cracked.i))
        state_1 = state_curvature(moment, stage.modulus, uncracked.i, shrinkage_curvature(stage.shrinkage, alpha, uncracked.s, uncracked.i))
        return mean_curvature(share, state_2, state_1)
