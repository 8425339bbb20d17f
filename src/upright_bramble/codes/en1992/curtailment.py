"""EN 1992-1-1 9.2.1.4, 9.2.1.5: bottom bars into supports. N, mm."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.codes.en1992.shear import ShearClauses
from upright_bramble.codes.en1992.symbols import EN, NAMES, clause
from upright_bramble.codes.parts import (
    CurtailmentPart,
    EndFacts,
)
from upright_bramble.section.arrays import Array, Floats


@clause(EN, "9.2.1.4(2)", "F_Ed", "V_Ed a_l/z", "N")
def end_anchorage_force(v_ed: Floats, a_l: Floats, z: Floats) -> Array:
    """Tension to anchor at an end support, N.

    v_ed : number or array, N (V_Ed); 0 or more
    a_l : number or array, mm; 0 or more
    z : number or array, mm; above 0

    >>> round(float(end_anchorage_force(460000.0, 500.0, 550.0)), 2)
    418181.82
    """
    return np.asarray(np.asarray(v_ed) * a_l / z)


@clause(
    EN,
    "9.2.1.4(2)",
    "F_E",
    "V_Ed a_l/z + N_Ed + F_T",
    "N",
    names={**NAMES, "n_ed": ("N_Ed", "N"), "f_t": ("F_T", "N")},
)
def end_tension(v_ed: Floats, a_l: Floats, z: Floats, n_ed: Floats = 0.0, f_t: Floats = 0.0) -> Array:
    """Tension to anchor at an end support, N: with tension along the beam `n_ed`, and what torsion pulls at
    the bottom bars `f_t`.

    v_ed : number or array, N (V_Ed); 0 or more
    a_l : number or array, mm; 0 or more
    z : number or array, mm; above 0
    n_ed : number or array, N (N_Ed); either sign
    f_t : number or array, N (F_T); either sign

    >>> round(float(end_tension(460000.0, 500.0, 550.0, 0.0, 0.0)), 2)
    418181.82
    """
    return np.asarray(np.asarray(v_ed) * a_l / z + n_ed + f_t)


@dataclass(frozen=True)
class CurtailmentClauses(CurtailmentPart):
    """Answers on where bars may stop (9.2.1.3 to 9.2.1.5)."""

    v: Mapping[str, float]
    shear: ShearClauses

    def bottom_share(self, simple: bool) -> float:
        return self.v["beta_2"]

    def into_support(self, phi: Floats, simple: bool) -> Array:
        """9.2.1.5(2): 10 phi past an inner face for straight bars; at simple ends the anchorage says it."""
        return (0.0 if simple else 10.0) * np.asarray(phi)

    def end_force(self, v_ed: Floats, d: Floats, cot: Floats) -> Array:
        return end_anchorage_force(v_ed, self.shear.shift(d, cot), self.shear.lever(d))

    def end_anchorage(self, end: EndFacts) -> tuple[float, float, str]:
        """9.2.1.4(2), and the share of the bottom bars of 6.3.2(3)."""
        a_l, z = self.shear.shift(end.d, end.cot), self.shear.lever(end.d)
        return float(end_tension(end.shear, a_l, z, end.axial_tension, end.torsion)), end.force, "force"
