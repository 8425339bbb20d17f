"""ACI 318-19 chapters 19, 20, 22.2: concrete, steel, bars. N, mm, MPa; `x` the set of expressions."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Steel
from upright_bramble.codes.aci318.expressions import INCH_POUND, Expressions
from upright_bramble.codes.aci318.symbols import ACI, clause
from upright_bramble.codes.parts import MaterialsPart
from upright_bramble.errors import CodeError
from upright_bramble.section.arrays import Array, Floats
from upright_bramble.section.strength import ConcreteLaw, SteelLaw

ULTIMATE_STRAIN = 0.003  # 22.2.2.1


BLOCK_STRESS = 0.85  # 22.2.2.4.1, of f'c


@clause(
    ACI,
    "22.2.2.4.3",
    "beta_1",
    (("f'c >= {beta2}", "0.65"), ("", "max(min(0.85 - 0.05 (f'c - {beta0})/{beta1}; 0.85); 0.65)")),
)
def block_depth_factor(f_c: Floats, x: Expressions) -> Array:
    """Depth of the stress block over that of the neutral axis.

    f_c : number or array, MPa (f'c); 17 to 100
    x : the set of expressions

    >>> from upright_bramble.codes.aci318.expressions import METRIC
    >>> round(float(block_depth_factor(28.0, METRIC)), 4)
    0.85
    """
    start, step, last = (4000.0, 1000.0, 8000.0) if x.length > 1.0 else (28.0, 7.0, 55.0)
    strength = np.asarray(f_c) / x.stress
    return np.asarray(
        np.where(strength >= last, 0.65, np.clip(0.85 - 0.05 * (strength - start) / step, 0.65, 0.85))
    )


@clause(ACI, "19.2.2.1(b)", "E_c", "{E} sqrt(f'c)", "MPa")
def modulus(f_c: float, x: Expressions) -> float:
    """Modulus of normalweight concrete, MPa.

    f_c : number, MPa (f'c); 17 to 100
    x : the set of expressions

    >>> from upright_bramble.codes.aci318.expressions import METRIC
    >>> round(float(modulus(28.0, METRIC)), 2)
    24870.06
    """
    return float(x.modulus * x.root(f_c))


@clause(ACI, "19.2.3.1", "f_r", "{r} lambda sqrt(f'c)", "MPa")
def modulus_of_rupture(f_c: float, x: Expressions, lam: float = 1.0) -> float:
    """MPa; `lam` for the weight of the concrete.

    f_c : number, MPa (f'c); 17 to 100
    x : the set of expressions
    lam : number (lambda); 0.75 to 1

    >>> from upright_bramble.codes.aci318.expressions import METRIC
    >>> round(float(modulus_of_rupture(28.0, METRIC, 1.0)), 4)
    3.2807
    """
    return float(x.rupture * lam * x.root(f_c))


# ASTM A615: diameter and area as the standard's tables have them (in, in2; mm, mm2)
US_BARS = {
    "3": (0.375, 0.11), "4": (0.500, 0.20), "5": (0.625, 0.31), "6": (0.750, 0.44), "7": (0.875, 0.60),
    "8": (1.000, 0.79),
    "9": (1.128, 1.00), "10": (1.270, 1.27), "11": (1.410, 1.56), "14": (1.693, 2.25), "18": (2.257, 4.00),
}  # fmt: skip


SI_BARS = {
    "10": (9.5, 71.0), "13": (12.7, 129.0), "16": (15.9, 199.0), "19": (19.1, 284.0), "22": (22.2, 387.0),
    "25": (25.4, 510.0),
    "29": (28.7, 645.0), "32": (32.3, 819.0), "36": (35.8, 1006.0), "43": (43.0, 1452.0), "57": (57.3,
    2581.0),
}  # fmt: skip


@dataclass(frozen=True)
class MaterialsClauses(MaterialsPart):
    """Answers on materials (chapters 19, 20, 22.2)."""

    x: Expressions

    diagrams = ("block",)

    @property
    def steels(self) -> Sequence[str]:
        # Grade 80 and above ask for confinement, longer hooks and laps: nobody takes them by the way
        return ("Grade 40", "Grade 60") if self.x is INCH_POUND else ("Grade 280", "Grade 420")

    def concrete_strength(self, grade: str) -> float:
        raise CodeError(
            f"'{grade}' is no strength; give 'strength', such as "
            f"{'4000 psi' if self.x is INCH_POUND else '28 MPa'}"
        )

    def strength_range(self) -> tuple[float, float]:
        return self.x.strength

    def steel(self, grade: str) -> Steel:
        known = (
            {"40": 40_000.0, "60": 60_000.0, "80": 80_000.0, "100": 100_000.0}
            if self.x is INCH_POUND
            else {"280": 280.0, "420": 420.0, "550": 550.0, "690": 690.0}
        )
        number = grade.lower().removeprefix("grade").strip()
        if number in known:
            return Steel(known[number] * self.x.stress, "", f"Grade {number}")
        raise CodeError(
            f"'{grade}' is not a valid steel grade; such as {', '.join(f'Grade {n}' for n in known)}"
        )

    def concrete_law(self, concrete: Concrete) -> ConcreteLaw:
        f_c = concrete.strength
        return ConcreteLaw(BLOCK_STRESS * f_c, ULTIMATE_STRAIN, float(block_depth_factor(f_c, self.x)))

    def steel_law(self, steel: Steel) -> SteelLaw:
        return SteelLaw(steel.strength, self.x.steel_modulus)

    def modulus(self, concrete: Concrete) -> float:
        return modulus(concrete.strength, self.x)

    def stirrup_yield(self, steel: Steel) -> float:
        """20.2.2.4: f_yt of stirrups no more than 60 ksi (420 MPa)."""
        return min(steel.strength, self.x.shear_yield)
