"""BS 8110-2 3.6, 7: curvature of sections in service. N, mm, MPa."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Service
from upright_bramble.codes.bs8110.materials import E_S, MaterialsClauses
from upright_bramble.codes.bs8110.symbols import NAMES, clause_2
from upright_bramble.codes.parts import ServicePart, Stage
from upright_bramble.section.arrays import Array, Floats
from upright_bramble.section.cracked import Elastic

TENSION = {"short": 1.0, "long": 0.55}  # 3.6, at the level of the bars in tension, MPa


@clause_2("7.3", "phi_c", "phi_c,dry + (phi_c,humid - phi_c,dry) min(max((RH - 45)/40; 0); 1)", names={
    "humidity": ("RH", ""), "dry": ("phi_c,dry", ""), "humid": ("phi_c,humid", "")})  # fmt: skip
def creep_coefficient(humidity: float, dry: float, humid: float) -> float:
    """Final creep between those of indoor (45 %) and outdoor (85 %) air, loaded at 28 days or later.

    humidity : number (RH); 40 to 100
    dry : number (phi_c,dry); 0 or more
    humid : number (phi_c,humid); 0 or more

    >>> round(float(creep_coefficient(50.0, 3.0, 1.8)), 4)
    2.85
    """
    return float(dry + (humid - dry) * np.clip((humidity - 45.0) / 40.0, 0.0, 1.0))


@clause_2("7.4", "eps_sh", "eps_dry + (eps_humid - eps_dry) min(max((RH - 45)/40; 0); 1)", names={
    "humidity": ("RH", ""), "dry": ("eps_dry", ""), "humid": ("eps_humid", "")})  # fmt: skip
def shrinkage_strain(humidity: float, dry: float, humid: float) -> float:
    """Final drying shrinkage between those of indoor (45 %) and outdoor (85 %) air.

    humidity : number (RH); 40 to 100
    dry : number (eps_dry); 0 or more
    humid : number (eps_humid); 0 or more

    >>> round(float(shrinkage_strain(50.0, 400.0e-6, 150.0e-6)), 10)
    0.00036875
    """
    return float(dry + (humid - dry) * np.clip((humidity - 45.0) / 40.0, 0.0, 1.0))


@clause_2("7.3", "E_eff", "E_c/(1 + phi_c)", "MPa")
def effective_modulus(e_c: float, phi_c: Floats) -> Array:
    """Modulus under lasting loads, MPa.

    e_c : number, MPa (E_c); 15000 to 40000
    phi_c : number or array; 0.5 to 1

    >>> round(float(effective_modulus(26000.0, 2.5)), 2)
    7428.57
    """
    return np.asarray(e_c / (1.0 + np.asarray(phi_c)))


@clause_2("3.6", "kappa_un", "M/(E_eff I_un)", "1/mm", names={**NAMES, "i": ("I_un", "mm4")})
def uncracked_curvature(m: Floats, e_eff: Floats, i: Floats) -> Array:
    """Of the uncracked section, 1/mm.

    m : number or array, N mm (M); 0 or more
    e_eff : number or array, MPa (E_eff); 5000 to 40000
    i : number or array, mm4 (I_un); above 0

    >>> round(float(uncracked_curvature(100.0e6, 13000.0, 6.0e9)), 10)
    1.2821e-06
    """
    return np.asarray(np.asarray(m) / (np.asarray(e_eff) * i))


@clause_2(
    "3.6",
    "kappa_cr",
    "max(M - b (h - x)^3 f_ct/(3 (d - x)); 0)/(E_eff I_cr)",
    "1/mm",
    names={**NAMES, "i": ("I_cr", "mm4")},
)
def cracked_curvature(
    m: Floats, b: Floats, h: Floats, d: Floats, x: Floats, i: Floats, e_eff: Floats, f_ct: float
) -> Array:
    """Of the cracked section with the tension that concrete carries between cracks: f_ct at the level of the
    bars, 1/mm.


    m : number or array, N mm (M); 0 or more
    b : number or array, mm; above 0
    h : number or array, mm; d or more
    d : number or array, mm; 50 or more
    x : number or array, mm; 0 to 0.9 d
    i : number or array, mm4 (I_cr); above 0
    e_eff : number or array, MPa (E_eff); 5000 to 40000
    f_ct : number, MPa; 0 to 3

    >>> round(float(cracked_curvature(120.0e6, 300.0, 600.0, 550.0, 221.0, 3.5e9, 26000.0, 1.0)), 10)
    1.1368e-06
    """
    h, d, x = (np.asarray(v, dtype=float) for v in (h, d, x))
    carried = np.asarray(b) * (h - x) ** 3 * f_ct / (3.0 * np.maximum(d - x, 1.0))
    return np.asarray(np.maximum(np.asarray(m) - carried, 0.0) / (np.asarray(e_eff) * i))


@clause_2("3.6", "kappa_cs", "eps_sh alpha_e S_s/I", "1/mm")
def shrinkage_curvature(eps_sh: Floats, alpha_e: Floats, s_s: Floats, i: Floats) -> Array:
    """Of shrinkage against the bars, 1/mm; S_s first moment of the bars about the section's centroid.

    eps_sh : number or array; 0 to 0.001
    alpha_e : number or array; 1 to 60
    s_s : number or array, mm3 (S_s); 0 or more
    i : number or array, mm4 (I); above 0

    >>> round(float(shrinkage_curvature(300.0e-6, 15.0, 300000.0, 3.5e9)), 10)
    3.857e-07
    """
    return np.asarray(np.asarray(eps_sh) * alpha_e * s_s / i)


@clause_2("3.6", "kappa", "max(kappa_un; kappa_cr) + kappa_cs", "1/mm")
def total_curvature(kappa_un: Floats, kappa_cr: Floats, kappa_sh: Floats) -> Array:
    """The larger of both states, with shrinkage, 1/mm.

    kappa_un : number or array, 1/mm (1/r_un); either sign
    kappa_cr : number or array, 1/mm (1/r_cr); either sign
    kappa_sh : number or array, 1/mm (1/r_cs); either sign

    >>> round(float(total_curvature(1.5e-6, 3.0e-6, 0.4e-6)), 10)
    3.4e-06
    """
    return np.asarray(np.maximum(kappa_un, kappa_cr) + kappa_sh)


def balanced_curvature(
    m: float,
    b: float,
    h: float,
    a_s: float,
    d: float,
    e_eff: float,
    f_ct: float = 1.0,
    d_2: float = 0.0,
    a_s2: float = 0.0,
) -> tuple[float, float]:
    """Curvature (1/mm) and neutral axis (mm) of a rectangle with the forces of 3.6 in balance, the concrete's
    tension included.

    m : number, N mm; 0 or more
    b, h, d : numbers, mm; above 0
    d_2 : number, mm; 0 or more
    a_s, a_s2 : numbers, mm2; 0 or more
    e_eff : number, MPa; 5000 to 40000
    f_ct : number, MPa; 0 to 3

    >>> round(balanced_curvature(120.0e6, 300.0, 600.0, 1500.0, 550.0, 26000.0)[0] * 1e6, 4)
    1.7758
    """
    alpha = E_S / e_eff

    def curvature(x: float) -> float:
        inertia = b * x**3 / 3.0 + alpha * a_s * (d - x) ** 2 + (alpha - 1.0) * a_s2 * (x - d_2) ** 2
        return (m - b * (h - x) ** 3 * f_ct / (3.0 * (d - x))) / (e_eff * inertia)

    def excess(x: float) -> float:
        pushed = e_eff * (b * x * x / 2.0 + (alpha - 1.0) * a_s2 * (x - d_2)) - E_S * a_s * (d - x)
        return curvature(x) * pushed - b * (h - x) ** 2 * f_ct / (2.0 * (d - x))

    low, high = 0.02 * d, 0.98 * d
    for _ in range(80):
        middle = 0.5 * (low + high)
        low, high = (middle, high) if excess(middle) < 0.0 else (low, middle)
    return curvature(low), low


@dataclass(frozen=True)
class ServiceClauses(ServicePart):
    """Answers on the section in service (part 2, 3.6)."""

    v: Mapping[str, float]
    materials: MaterialsClauses

    gross_uncracked = False

    def stages(
        self, concrete: Concrete, service: Service, h_0: Array, stress: Floats = 0.0
    ) -> Mapping[str, Stage]:
        """'short'; 'lasting' with the final creep and shrinkage; 'cracks' with half of the modulus
        (3.8.3)."""
        e_c = self.materials.modulus(concrete)
        early = (28.0 / min(service.age_at_loading, 28.0)) ** 0.25  # loaded young, concrete creeps more
        phi = early * creep_coefficient(service.humidity, self.v["creep_dry"], self.v["creep_humid"])
        shrunk = shrinkage_strain(service.humidity, self.v["shrinkage_dry"], self.v["shrinkage_humid"])
        n, age = len(h_0), service.age_at_loading
        full, none = np.full(n, e_c), np.zeros(n)
        return {
            "short": Stage(full, e_c, TENSION["short"], none, False, E_S, age),
            "cracks": Stage(0.5 * full, e_c, TENSION["short"], none, False, E_S, age),
            "lasting": Stage(
                modulus=effective_modulus(e_c, phi) * np.ones(n),
                short_modulus=e_c,
                tensile_strength=TENSION["long"],
                shrinkage=np.full(n, shrunk),
                lasting=True,
                steel_modulus=E_S,
                age=np.inf,
                creep=phi,
            ),
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
        e = stage.modulus
        first = uncracked_curvature(moment, e, uncracked.i)
        second = cracked_curvature(
            moment, cracked.b, h, cracked.d, cracked.x, cracked.i, e, stage.tensile_strength
        )
        governs = second > first
        s_s, i = np.where(governs, cracked.s, uncracked.s), np.where(governs, cracked.i, uncracked.i)
        return total_curvature(first, second, shrinkage_curvature(stage.shrinkage, stage.alpha_e, s_s, i))
