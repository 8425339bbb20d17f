"""EN 1992-1-1 8.2, 8.3, 9.2.1.2: room between bars, bends, stirrups along compressed bars. N, mm, MPa."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Steel
from upright_bramble.codes.en1992 import materials
from upright_bramble.codes.en1992.symbols import EN, clause
from upright_bramble.codes.parts import DetailingPart
from upright_bramble.section.arrays import Array, Floats


@clause(EN, "9.2.1.2(3)", "s", "15 phi", "mm")
def compression_stirrup_spacing(phi: Floats) -> Array:
    """Largest spacing of stirrups along bars in compression that the resistance counts on, mm.

    phi : number or array, mm; 6 to 40

    >>> round(float(compression_stirrup_spacing(20.0)), 2)
    300.0
    """
    return np.asarray(15.0 * np.asarray(phi, dtype=float))


@clause(EN, "8.2(2)", "a", "max(k_1 phi; d_g + k_2; 20)", "mm")
def clear_spacing(phi: Floats, d_g: float, k_1: float = 1.0, k_2: float = 5.0) -> Array:
    """Least clear distance between bars, mm.

    phi : number or array, mm; 6 to 40
    d_g : number, mm; 4 to 150
    k_1 : number; 1 or more
    k_2 : number, mm; 0 or more

    >>> round(float(clear_spacing(20.0, 20.0, 1.0, 5.0)), 2)
    25.0
    """
    return np.maximum(np.maximum(k_1 * np.asarray(phi), d_g + k_2), 20.0)


@clause(EN, "8.3(3)", "phi_m,min", "F_bt (1/a_b + 1/(2 phi))/f_cd", "mm")
def mandrel_for_concrete(f_bt: Floats, a_b: Floats, phi: Floats, f_cd: float) -> Array:
    """Mandrel diameter that keeps the concrete inside a bend from failing, mm.

    f_bt : number or array, N (F_bt); 0 or more
    a_b : number or array, mm; above 0
    phi : number or array, mm; 6 to 40
    f_cd : number, MPa; 4 to 90

    >>> round(float(mandrel_for_concrete(160000.0, 60.0, 20.0, 20.0)), 2)
    333.33
    """
    return np.asarray(np.asarray(f_bt) * (1.0 / np.asarray(a_b) + 0.5 / np.asarray(phi)) / f_cd)


@clause(EN, "Table 8.1N", "phi_m", (("phi <= 16", "4 phi"), ("", "7 phi")), "mm")
def mandrel(phi: Floats) -> Array:
    """Least mandrel diameter of bends, mm.

    phi : number or array, mm; 6 to 40

    >>> round(float(mandrel(20.0)), 2)
    140.0
    """
    return np.asarray(np.where(np.asarray(phi) <= 16.0, 4.0, 7.0) * np.asarray(phi))


@clause(
    EN,
    "Figure 8.1",
    "leg_min",
    "phi_m/2 + phi + 5 phi",
    "mm",
    names={"diameter": ("phi_m", "mm"), "phi": ("phi", "mm")},
)
def minimum_leg(diameter: float, phi: float) -> float:
    """Outer length of the leg beyond a bend: the curve and 5 phi, mm.

    diameter : number, mm (phi_m); 0 or more
    phi : number, mm; 6 to 40

    >>> round(float(minimum_leg(140.0, 20.0)), 2)
    190.0
    """
    return 0.5 * diameter + 6.0 * phi


@dataclass(frozen=True)
class DetailingClauses(DetailingPart):
    """Answers on room, bends and stirrups (8.2, 8.3, 9.2.1.2)."""

    v: Mapping[str, float]

    def compression_stirrup_spacing(self, phi: Floats, tie: float, minimum: Floats) -> Array:
        """9.2.1.2(3)."""
        return compression_stirrup_spacing(phi)

    def clear_spacing(self, phi: Floats, aggregate: float) -> Array:
        return clear_spacing(phi, aggregate, self.v["k_clear_1"], self.v["k_clear_2"])

    def bend_radius(self, phi: float) -> float:
        return 0.5 * float(mandrel(phi))

    def mandrel_for_force(
        self, concrete: Concrete, steel: Steel, phi: float, force: float, beside: float
    ) -> float:
        """(8.1) in 8.3(3), with f_cd of no more than C55/67."""
        f_cd = materials.design_strength(min(concrete.strength, 55.0), self.v["alpha_cc"], self.v["gamma_c"])
        return float(mandrel_for_concrete(force, beside, phi, f_cd))

    def stirrup_radius(self, phi: float) -> float:
        return self.bend_radius(phi)

    def stirrup_tail(self, phi: float) -> float:
        """Hook and tail of a closed stirrup (Figure 8.5) with the bend's length."""
        return max(16.0 * phi, 160.0)

    def minimum_leg(self, phi: float, kind: str, former: float = 0.0) -> float:
        """Outer length of the leg beyond a bend: the curve and 5 phi (Figure 8.1)."""
        return 0.0 if kind in ("straight", "lap") else minimum_leg(max(float(mandrel(phi)), former), phi)
