"""IS 456 6.2, 38.1, Figures 21 and 23: concrete by its cube strength, bars, stress and strain. N, mm, MPa."""

from __future__ import annotations

import math
import re
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Steel
from upright_bramble.codes.is456.symbols import NAMES, clause
from upright_bramble.codes.parts import MaterialsPart
from upright_bramble.errors import CodeError
from upright_bramble.section.arrays import Array, Floats
from upright_bramble.section.strength import ConcreteLaw, SteelLaw

E_S = 200_000.0  # 5.6.3, MPa
ULTIMATE_STRAIN = 0.0035  # 38.1(b)
PARABOLA_STRAIN = 0.002  # Figure 21
STIRRUP_YIELD = 415.0  # 40.4, 26.5.1.6
STRENGTHS = (20.0, 55.0)
CURVE = (
    (0.80, 0.0),
    (0.85, 0.0001),
    (0.90, 0.0003),
    (0.95, 0.0007),
    (0.975, 0.0010),
    (1.0, 0.0020),
)  # Figure 23A
SHARP = 255.0  # up to which bars are mild steel (Figure 23B), MPa
CREEP = ((7.0, 2.2), (28.0, 1.6), (365.0, 1.1))  # 6.2.5.1, by age at loading in days
LIMITING_RATIO = {250.0: 0.53, 415.0: 0.48, 500.0: 0.46, 550.0: 0.44}  # 38.1 note; 550 by its formula


@clause(
    "38.1(e)",
    "f_yd",
    (("gamma_s < 1.15", "f_y/gamma_s"), ("gamma_s <= 1.15", "0.87 f_y"), ("", "f_y/gamma_s")),
    "MPa",
)
def design_yield(f_y: float, gamma_s: float = 1.15) -> float:
    """Design strength of bars, MPa, with 1/1.15 as it is printed.

    f_y : number, MPa; 250 to 550
    gamma_s : number; 1 to 1.5

    >>> round(float(design_yield(415.0)), 2)
    361.05
    """
    return 0.87 * f_y if abs(gamma_s - 1.15) < 1e-9 else f_y / gamma_s


@clause("38.1(c)", "f_cd", "0.67 f_ck/gamma_c", "MPa", names={**NAMES, "gamma_c": ("gamma_c", "")})
def design_strength(f_ck: float, gamma_c: float = 1.5) -> float:
    """Greatest design stress of concrete in bending, MPa.

    f_ck : number, MPa; 15 to 55
    gamma_c : number; 1 to 2

    >>> round(float(design_strength(25.0)), 2)
    11.17
    """
    return 0.67 * f_ck / gamma_c


@clause("6.2.3.1", "E_c", "5000 sqrt(f_ck)", "MPa")
def modulus(f_ck: float) -> float:
    """Short-term static modulus, MPa.

    f_ck : number, MPa; 15 to 55

    >>> round(float(modulus(25.0)), 2)
    25000.0
    """
    return 5000.0 * math.sqrt(f_ck)


@clause("6.2.2", "f_cr", "0.7 sqrt(f_ck)", "MPa")
def flexural_strength(f_ck: float) -> float:
    """Flexural tensile strength, MPa.

    f_ck : number, MPa; 15 to 55

    >>> round(float(flexural_strength(25.0)), 4)
    3.5
    """
    return 0.7 * math.sqrt(f_ck)


@clause("6.2.5.1", "theta", "by age at loading: 2.2 at 7 days, 1.6 at 28, 1.1 at a year")
def creep_coefficient(age: float) -> float:
    """Ultimate creep coefficient for the age at loading in days, by the logarithm of time between the values.

    age : number; 1 or more

    >>> round(float(creep_coefficient(28.0)), 4)
    1.6
    """
    days, values = zip(*CREEP, strict=True)
    return float(np.interp(math.log(max(age, 1.0)), np.log(days), values))


@clause("C-4.1", "E_ce", "E_c/(1 + theta)", "MPa")
def long_term_modulus(e_c: float, theta: float) -> float:
    """Modulus under lasting loads, MPa.

    e_c : number, MPa (E_c); 15000 to 40000
    theta : number; 0 to 5

    >>> round(float(long_term_modulus(25000.0, 1.6)), 2)
    9615.38
    """
    return e_c / (1.0 + theta)


@clause("B-1.3(d)", "m", "280/(3 sigma_cbc)", names={"sigma_cbc": ("sigma_cbc", "MPa")})
def working_stress_ratio(sigma_cbc: float) -> float:
    """Modular ratio of the working stress method.

    sigma_cbc : number, MPa; 5 to 20

    >>> round(float(working_stress_ratio(7.0)), 2)
    13.33
    """
    return 280.0 / (3.0 * sigma_cbc)


def steel_curve(f_y: float, f_yd: float) -> tuple[tuple[float, ...], tuple[float, ...]]:
    """Strains and stresses of Figure 23 up to the 0.2 % proof stress; of mild steel, up to its yield.

    f_y : number, MPa; 250 to 550
    f_yd : number, MPa; 200 to 500

    >>> [round(v, 5) for v in steel_curve(415.0, 415.0 / 1.15)[0]]
    [0.0, 0.00144, 0.00163, 0.00192, 0.00241, 0.00276, 0.0038]
    """
    points = ((1.0, 0.0),) if f_y <= SHARP else CURVE
    return (0.0, *(share * f_yd / E_S + lasting for share, lasting in points)), (
        0.0,
        *(share * f_yd for share, _ in points),
    )


@clause(
    "38.1 note",
    "x_u,max/d",
    "0.53, 0.48, 0.46, 0.44 of Fe 250, 415, 500, 550; of others 700/(1100 + 0.87 f_y)",
)
def limiting_ratio(f_y: float, printed: bool = True) -> float:
    """Largest neutral axis depth over d: as `printed`, else (and for other grades) by 38.1(f).

    f_y : number, MPa; 250 to 550
    printed : true or false

    >>> round(float(limiting_ratio(415.0)), 4)
    0.48
    """
    if printed and f_y in LIMITING_RATIO:
        return LIMITING_RATIO[f_y]
    return 700.0 / (1100.0 + 0.87 * f_y)


@dataclass(frozen=True)
class MaterialsClauses(MaterialsPart):
    """Answers on materials (6.2, 38.1)."""

    v: Mapping[str, float]

    diagrams = ("parabola",)
    cube_strengths = True
    grades = ("M20", "M25", "M30", "M35", "M40", "M45", "M50")
    steels = ("Fe250", "Fe415", "Fe500", "Fe550")

    def concrete_strength(self, grade: str) -> float:
        match = re.fullmatch(r"M?\s*(\d{2,3})", grade.strip(), re.IGNORECASE)
        if not match or not STRENGTHS[0] <= float(match[1]) <= STRENGTHS[1]:
            raise CodeError(f"'{grade[:20]}' is not a valid grade; such as M25, M20 to M55")
        return float(match[1])

    def strength_range(self) -> tuple[float, float]:
        return STRENGTHS

    def steel(self, grade: str) -> Steel:
        match = re.fullmatch(r"(?:Fe\s*)?(250|415|500|550)\s*D?", grade.strip(), re.IGNORECASE)
        if not match:
            raise CodeError(f"'{grade[:20]}' is not a valid steel grade; such as Fe415, Fe500, Fe550, Fe250")
        return Steel(float(match[1]), "", f"Fe{match[1]}")

    def concrete_law(self, concrete: Concrete) -> ConcreteLaw:
        """Parabola and rectangle (Figure 21). Steel is proportioned with the block of the same force, 17/21
        x_u deep."""

        def curve(strain: Array) -> Array:
            share = np.clip(strain / PARABOLA_STRAIN, 0.0, 1.0)
            return np.asarray(share * (2.0 - share))

        stress = design_strength(concrete.strength, self.v["gamma_c"])
        return ConcreteLaw(
            stress,
            ULTIMATE_STRAIN,
            17.0 / 21.0,
            curve,
            kinks=(PARABOLA_STRAIN,),
            uniform_strain=PARABOLA_STRAIN,
            degree=2,
        )

    def steel_law(self, steel: Steel) -> SteelLaw:
        f_yd = design_yield(steel.strength, self.v["gamma_s"])
        return SteelLaw(f_yd, E_S, steel_curve(steel.strength, f_yd))

    def stirrup_yield(self, steel: Steel) -> float:
        """40.4: f_y of stirrups no more than 415 MPa; design value, MPa."""
        return design_yield(min(steel.strength, STIRRUP_YIELD), self.v["gamma_s"])

    def modulus(self, concrete: Concrete) -> float:
        return modulus(concrete.strength)


def stress_of(strain: Floats, f_y: float, f_yd: float) -> Array:
    """Design stress of a bar by Figure 23, MPa.

    strain : number or array; 0 to 0.1
    f_y : number, MPa; 250 to 550
    f_yd : number, MPa; 200 to 500

    >>> round(float(stress_of(0.00192, 415.0, 415.0 / 1.15)), 1)
    324.5
    """
    return SteelLaw(f_yd, E_S, steel_curve(f_y, f_yd)).stress(np.asarray(strain, dtype=float))
