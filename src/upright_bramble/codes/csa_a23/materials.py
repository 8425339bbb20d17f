"""CSA A23.3 8, 10.1.7: concrete, steel, bars (G30.18). N, mm, MPa."""

from __future__ import annotations

import math
import re
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Steel
from upright_bramble.codes.csa_a23.symbols import clause
from upright_bramble.codes.parts import MaterialsPart
from upright_bramble.errors import CodeError
from upright_bramble.section.arrays import Array, Floats
from upright_bramble.section.strength import ConcreteLaw, SteelLaw

E_S = 200_000.0  # 8.5.4.1, MPa
ULTIMATE_STRAIN = 0.0035  # 10.1.3
STRENGTHS = (20.0, 80.0)  # 8.6.1.1
NORMAL_DENSITY = 2400.0  # kg/m3
ROOT_LIMIT = 8.0  # 11.3.4, 12.1.2: of sqrt(f'c), MPa

# G30.18: diameter (mm), nominal area (mm2), which is not that of a circle
BARS = {
    "10": (11.3, 100.0), "15": (16.0, 200.0), "20": (19.5, 300.0), "25": (25.2, 500.0), "30": (29.9, 700.0),
    "35": (35.7, 1000.0),
    "45": (43.7, 1500.0), "55": (56.4, 2500.0),
}  # fmt: skip


@clause("10.1.7", "alpha_1", "max(0.85 - 0.0015 f'c; 0.67)")
def stress_factor(f_c: Floats) -> Array:
    """Stress of the block over phi_c f'c.

    f_c : number or array, MPa (f'c); 20 to 80

    >>> round(float(stress_factor(30.0)), 4)
    0.805
    """
    return np.asarray(np.maximum(0.85 - 0.0015 * np.asarray(f_c, dtype=float), 0.67))


@clause("10.1.7", "beta_1", "max(0.97 - 0.0025 f'c; 0.67)")
def block_depth_factor(f_c: Floats) -> Array:
    """Depth of the block over that of the neutral axis.

    f_c : number or array, MPa (f'c); 20 to 80

    >>> round(float(block_depth_factor(30.0)), 4)
    0.895
    """
    return np.asarray(np.maximum(0.97 - 0.0025 * np.asarray(f_c, dtype=float), 0.67))


@clause("8.6.2.3", "E_c", "4500 sqrt(f'c)", "MPa")
def simple_modulus(f_c: float) -> float:
    """Modulus of normal-density concrete of 20 to 40 MPa, MPa.

    f_c : number, MPa (f'c); 20 to 80

    >>> round(float(simple_modulus(30.0)), 2)
    24647.52
    """
    return 4500.0 * math.sqrt(f_c)


@clause(
    "8.6.2.2",
    "E_c",
    "(3300 sqrt(f'c) + 6900) (density/2300)^1.5",
    "MPa",
    names={"f_c": ("f'c", "MPa"), "density": ("density", "")},
)
def modulus(f_c: float, density: float = NORMAL_DENSITY) -> float:
    """Modulus of concrete by its density (kg/m3), MPa.

    f_c : number, MPa (f'c); 20 to 80
    density : number; 1700 to 2500

    >>> round(float(modulus(60.0)), 2)
    34601.6
    """
    return float((3300.0 * math.sqrt(f_c) + 6900.0) * (density / 2300.0) ** 1.5)


@clause("8.6.4", "f_r", "0.6 lambda sqrt(f'c)", "MPa")
def modulus_of_rupture(f_c: float, lam: float = 1.0) -> float:
    """MPa; lambda for the density of the concrete.

    f_c : number, MPa (f'c); 20 to 80
    lam : number (lambda); 0.75 to 1

    >>> round(float(modulus_of_rupture(30.0)), 4)
    3.2863
    """
    return 0.6 * lam * math.sqrt(f_c)


def density_class(density: float) -> str:
    """Low, semi-low or normal density (2.2), of kg/m3.

    density : number; 1000 to 3000

    >>> density_class(1851.0)
    'semi-low'
    """
    return "low" if density <= 1850.0 else "semi-low" if density <= 2150.0 else "normal"


def density_factor(kind: str, sand: float | None = None) -> float:
    """lambda (8.6.5); of low-density concrete by the share of natural sand.

    kind : text
    sand : number; 0 to 1

    >>> density_factor("low", 0.5)
    0.8
    """
    return {"normal": 1.0, "semi-low": 0.85, "low": 0.75 + 0.1 * (sand or 0.0)}[kind]


@dataclass(frozen=True)
class MaterialsClauses(MaterialsPart):
    """Answers on materials (8, 10.1.7)."""

    v: Mapping[str, float]

    diagrams = ("block",)
    steels = ("300R", "400W", "500W")

    def concrete_strength(self, grade: str) -> float:
        raise CodeError(f"'{grade[:20]}' is no strength; give 'strength', such as 30 MPa")

    def strength_range(self) -> tuple[float, float]:
        return STRENGTHS

    def steel(self, grade: str) -> Steel:
        match = re.fullmatch(r"(?:grade\s*)?(300|400|500)\s*([WR]?)", grade.strip(), re.IGNORECASE)
        if not match:
            raise CodeError(f"'{grade[:20]}' is not a valid steel grade; such as 400W, 400R, 500W")
        return Steel(float(match[1]), match[2].upper(), f"Grade {match[1]}{match[2].upper()}")

    def concrete_law(self, concrete: Concrete) -> ConcreteLaw:
        f_c = concrete.strength
        return ConcreteLaw(
            float(stress_factor(f_c)) * self.v["phi_c"] * f_c, ULTIMATE_STRAIN, float(block_depth_factor(f_c))
        )

    def steel_law(self, steel: Steel) -> SteelLaw:
        """phi_s times the stress by strain: stiffness and yield alike."""
        return SteelLaw(self.v["phi_s"] * steel.strength, self.v["phi_s"] * E_S)

    def modulus(self, concrete: Concrete) -> float:
        """8.6.2.3 up to 40 MPa, 8.6.2.2 above."""
        return simple_modulus(concrete.strength) if concrete.strength <= 40.0 else modulus(concrete.strength)
