"""ACI 318-19 24.3: distribution of bars. N, mm, MPa."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Service, Steel
from upright_bramble.codes.aci318.expressions import INCH_POUND, Expressions
from upright_bramble.codes.aci318.symbols import ACI, clause
from upright_bramble.codes.parts import (
    CrackingPart,
    CrackState,
    Face,
    Stage,
)
from upright_bramble.section.arrays import Array, Floats
from upright_bramble.section.cracked import Elastic


@clause(ACI, "24.3.2", "s", "min({cr0} ({cr2}/f_s) - 2.5 c_c; {cr1} ({cr2}/f_s))", "mm")
def maximum_bar_spacing(f_s: Floats, c_c: Floats, x: Expressions) -> Array:
    """Largest distance of bar centres nearest a tension face, mm; `f_s` service stress, `c_c` clear cover of
    the bars.

    f_s : number or array, MPa; above 0
    c_c : number or array, mm; 0 or more
    x : the set of expressions

    >>> from upright_bramble.codes.aci318.expressions import METRIC
    >>> round(float(maximum_bar_spacing(250.0, 40.0, METRIC)), 2)
    325.6
    """
    ratio = x.crack[2] / np.maximum(np.asarray(f_s, dtype=float), 1e-6)
    return np.asarray(np.minimum(x.crack[0] * ratio - 2.5 * np.asarray(c_c), x.crack[1] * ratio))


@clause(
    ACI,
    "24.3.2.1",
    "f_s",
    "n M max(d - c; 0)/I_cr",
    "MPa",
    names={"n": ("n", ""), "m": ("M", "N mm"), "d": ("d", "mm"), "c": ("c", "mm"), "i_cr": ("I_cr", "mm4")},
)
def bar_stress(n: Floats, m: Floats, d: Floats, c: Floats, i_cr: Floats) -> Array:
    """Stress of the bars nearest the tension face of a cracked section under the service moment `m`, MPa.

    n : number or array; 1 or more
    m : number or array, N mm (M); 0 or more
    d : number or array, mm; above 0
    c : number or array, mm; 0 or more
    i_cr : number or array, mm4 (I_cr); above 0

    >>> round(float(bar_stress(4.0, 120000000.0, 540.0, 150.0, 2400000000.0)), 2)
    78.0
    """
    return np.asarray(np.asarray(n) * m * np.maximum(np.asarray(d) - c, 0.0) / i_cr)


@clause("ACI 224R", "flexural cracks", "w", "0.076 beta f_s (d_c A)^(1/3) in 0.001 in, ksi, in", "mm")
def crack_width(f_s: Floats, d_c: Floats, area: Floats, beta: Floats) -> Array:
    """Likely width at the tension face, mm: 0.076 beta f_s (d_c A)^(1/3) (ksi, in; 0.001 in), as ACI 224R
    gives it; `area` of concrete around one bar, `d_c` from the face to the nearest bar's centre.

    f_s : number or array, MPa; 0 or more
    d_c : number or array, mm; above 0
    area : number or array, mm2; above 0
    beta : number or array; 1 to 2

    >>> round(float(crack_width(250.0, 1.0, 250000.0, 1.0)), 4)
    0.1736
    """
    inch, ksi = 25.4, 6.894757
    root = np.cbrt(np.asarray(d_c) / inch * np.asarray(area) / inch**2)
    return np.asarray(0.076e-3 * np.asarray(beta) * np.asarray(f_s) / ksi * root * inch)


@dataclass(frozen=True)
class CrackingClauses(CrackingPart):
    """Answers on distribution of bars (24.3)."""

    x: Expressions

    level = "service"
    stage = "short"

    def skin(
        self, concrete: Concrete, steel: Steel, b: float, h: float, cover: float, wanted: Service
    ) -> tuple[float, float]:
        """9.7.2.3, above 36 in (900 mm) of depth: as far apart as 24.3.2 lets bars be with this side cover,
        at 2/3 f_y; of any size."""
        if h <= (36.0 * self.x.length if self.x is INCH_POUND else 900.0) + 1e-6:
            return math.inf, 0.0
        stress = np.array([2.0 / 3.0 * steel.strength])
        return float(maximum_bar_spacing(stress, np.array([cover]), self.x)[0]), 0.0

    def judge(self, moment: Array, cracked: Elastic, stage: Stage, face: Face, wanted: Service) -> CrackState:
        """24.3.2: distance of bar centres, for the stress of the cracked section under service load."""
        alpha = self.x.steel_modulus / stage.modulus
        f_s = bar_stress(alpha, moment, face.outer, cracked.x, cracked.i)
        limit = maximum_bar_spacing(f_s, face.cover, self.x)
        d_c = face.cover + 0.5 * face.phi
        beta = (face.h - cracked.x) / np.maximum(face.outer - cracked.x, 1.0)
        width = crack_width(
            f_s, d_c, 2.0 * d_c * face.spacing, beta
        )  # for information: the code asks for spacing
        return CrackState(
            np.where(moment > 0.0, face.spacing, 0.0),
            np.maximum(limit, 1.0),
            "length",
            width,
            f_s,
            face.outer,
        )
