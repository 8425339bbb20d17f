"""BS 8110-1 2.4.2, 3.1.7 and BS 8110-2 7: concrete by its cube strength, bars, stress and strain. N, mm,
MPa."""

from __future__ import annotations

import math
import re
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Steel
from upright_bramble.codes.bs8110.symbols import clause, clause_2
from upright_bramble.codes.parts import MaterialsPart
from upright_bramble.errors import CodeError
from upright_bramble.section.arrays import Array, Floats
from upright_bramble.section.strength import ConcreteLaw, SteelLaw

E_S = 200_000.0  # Figure 2.2, MPa
ULTIMATE_STRAIN = 0.0035  # Figure 2.1
BLOCK_DEPTH = 0.9  # Figure 3.3
MAXIMUM_LEVER = 0.95  # 3.4.4.1(e)
LINK_YIELD = 460.0  # 3.4.5.1, MPa
STRENGTHS = (20.0, 60.0)
PRINTED = {1.05: 0.95, 1.15: 0.87}  # how the standard rounds 1/gamma_m


@clause(
    "Table 2.2",
    "f_yd",
    (
        ("gamma_m < 1.05", "f_y/gamma_m"),
        ("gamma_m <= 1.05", "0.95 f_y"),
        ("gamma_m < 1.15", "f_y/gamma_m"),
        ("gamma_m <= 1.15", "0.87 f_y"),
        ("", "f_y/gamma_m"),
    ),
    "MPa",
)
def design_yield(f_y: float, gamma_s: float = 1.05) -> float:
    """Design strength of bars, MPa, with the factors as they are printed.

    f_y : number, MPa; 250 to 500
    gamma_s : number (gamma_m); 1.05 to 1.15

    >>> round(float(design_yield(460.0, 1.05)), 2)
    437.0
    """
    return f_y * PRINTED.get(round(gamma_s, 6), 1.0 / gamma_s)


@clause(
    "Figure 2.1, Figure 3.3",
    "f_cd",
    "0.67 f_cu/gamma_c",
    "MPa",
    names={"f_cu": ("f_cu", "MPa"), "gamma_c": ("gamma_c", "")},
)
def design_strength(f_cu: float, gamma_c: float = 1.5) -> float:
    """Greatest design stress of concrete in bending, MPa.

    f_cu : number, MPa; 20 to 60
    gamma_c : number; 1 to 2

    >>> round(float(design_strength(30.0, 1.5)), 2)
    13.4
    """
    return 0.67 * f_cu / gamma_c


@clause(
    "Figure 2.1",
    "eps_0",
    "2.4e-4 sqrt(f_cu/gamma_c)",
    names={"f_cu": ("f_cu", "MPa"), "gamma_c": ("gamma_c", "")},
)
def parabola_strain(f_cu: float, gamma_c: float = 1.5) -> float:
    """Strain at the end of the parabola.

    f_cu : number, MPa; 20 to 60
    gamma_c : number; 1 to 2

    >>> round(float(parabola_strain(30.0, 1.5)), 10)
    0.0010733126
    """
    return 2.4e-4 * math.sqrt(f_cu / gamma_c)


@clause(
    "Figure 2.1",
    "E_0",
    "5500 sqrt(f_cu/gamma_c)",
    "MPa",
    names={"f_cu": ("f_cu", "MPa"), "gamma_c": ("gamma_c", "")},
)
def initial_modulus(f_cu: float, gamma_c: float = 1.5) -> float:
    """Slope at the start of the design curve of concrete, MPa.

    f_cu : number, MPa; 20 to 60
    gamma_c : number; 1 to 2

    >>> round(float(initial_modulus(30.0, 1.5)), 2)
    24596.75
    """
    return 5500.0 * math.sqrt(f_cu / gamma_c)


@clause("Figure 2.1", "sigma_c", "parabola to eps_0, then 0.67 f_cu/gamma_c", "MPa")
def concrete_stress(eps: Floats, f_cu: float, gamma_c: float = 1.5) -> Array:
    """Design stress of concrete at compressive strains up to 0.0035, MPa.

    eps : number or array; 0 to 0.0035
    f_cu : number, MPa; 20 to 60
    gamma_c : number; 1 to 2

    >>> round(float(concrete_stress(0.0005, 30.0)), 4)
    9.5767
    """
    share = np.clip(np.asarray(eps, dtype=float) / parabola_strain(f_cu, gamma_c), 0.0, 1.0)
    return np.asarray(design_strength(f_cu, gamma_c) * share * (2.0 - share))


@clause_2("7.2", "E_c", "20000 + 200 f_cu", "MPa")
def modulus(f_cu: float) -> float:
    """Mean static modulus of normal-weight concrete at 28 days, MPa.

    f_cu : number, MPa; 20 to 60

    >>> round(float(modulus(30.0)), 2)
    26000.0
    """
    return 20_000.0 + 200.0 * f_cu


@clause_2(
    "7.2",
    "E_c,t",
    "E_c (0.4 + 0.6 f_cu,t/f_cu)",
    "MPa",
    names={"e_c": ("E_c", "MPa"), "f_cu_t": ("f_cu,t", "MPa"), "f_cu": ("f_cu", "MPa")},
)
def modulus_at(e_c: float, f_cu_t: float, f_cu: float) -> float:
    """Modulus at an age at which the cube strength is `f_cu_t`, MPa.

    e_c : number, MPa (E_c); 15000 to 40000
    f_cu_t : number, MPa (f_cu,t); 20 to 90
    f_cu : number, MPa; 20 to 60

    >>> round(float(modulus_at(26000.0, 36.0, 30.0)), 2)
    29120.0
    """
    return e_c * (0.4 + 0.6 * f_cu_t / f_cu)


@dataclass(frozen=True)
class MaterialsClauses(MaterialsPart):
    """Answers on materials (2.4.2, 3.1.7; part 2, 7)."""

    v: Mapping[str, float]

    diagrams = ("block", "parabola")
    cube_strengths = True
    grades = ("C25", "C30", "C35", "C40", "C45", "C50")
    steels = ("250", "460", "500")

    def concrete_strength(self, grade: str) -> float:
        """'C30' is a cube strength; of 'C25/30' the second number is."""
        match = re.fullmatch(r"C?(?:\d{1,3}/)?(\d{2,3})", grade.strip(), re.IGNORECASE)
        if not match or not STRENGTHS[0] <= float(match[1]) <= STRENGTHS[1]:
            raise CodeError(f"'{grade[:20]}' is not a valid grade; such as C30 (cube strength), C20 to C60")
        return float(match[1])

    def strength_range(self) -> tuple[float, float]:
        return STRENGTHS

    def steel(self, grade: str) -> Steel:
        """By characteristic strength: 250 (mild steel), 460, 500 (high yield)."""
        match = re.fullmatch(
            r"(?:grade\s*)?(?:[BRTH]\s*)?(250|460|500)\s*[ABC]?", grade.strip(), re.IGNORECASE
        )
        if not match:
            raise CodeError(f"'{grade[:20]}' is not a valid steel grade; such as 460, 500, 250")
        return Steel(float(match[1]), "", f"Grade {match[1]}")

    def concrete_law(self, concrete: Concrete) -> ConcreteLaw:
        """Simplified block of Figure 3.3, or the curve of Figure 2.1; lever arm of no more than 0.95 d."""
        gamma_c = self.v["gamma_c"]
        stress = design_strength(concrete.strength, gamma_c)
        if concrete.diagram == "block":
            return ConcreteLaw(stress, ULTIMATE_STRAIN, BLOCK_DEPTH, maximum_lever=MAXIMUM_LEVER)
        eps_0 = parabola_strain(concrete.strength, gamma_c)

        def curve(strain: Array) -> Array:
            share = np.clip(strain / eps_0, 0.0, 1.0)
            return np.asarray(share * (2.0 - share))

        return ConcreteLaw(stress, ULTIMATE_STRAIN, BLOCK_DEPTH, curve, MAXIMUM_LEVER, (eps_0,), degree=2)

    def steel_law(self, steel: Steel) -> SteelLaw:
        return SteelLaw(design_yield(steel.strength, self.v["gamma_s"]), E_S)

    def link_yield(self, steel: Steel) -> float:
        """3.4.5.1: f_yv of no more than 460 MPa; design value, MPa."""
        return design_yield(min(steel.strength, LINK_YIELD), self.v["gamma_s"])

    def modulus(self, concrete: Concrete) -> float:
        return modulus(concrete.strength)
