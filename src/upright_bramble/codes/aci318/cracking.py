"""ACI 318-19 24.3: distribution of bars. N, mm, MPa."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Service, Steel
from upright_bramble.codes.aci318.expressions import INCH_POUND, Expressions
from upright_bramble.codes.aci318.symbols import ACI, clause
from upright_bramble.codes.parts import (
    CrackState,
    Face,
    Stage,
    TensionZone,
)
from upright_bramble.section.arrays import Array, Floats, Mask
from upright_bramble.section.cracked import Elastic


@clause(ACI, "24.3.2", "s", "min({cr0} ({cr2}/f_s) - 2.5 c_c; {cr1} ({cr2}/f_s))", "mm")
def maximum_bar_spacing(f_s: Floats, c_c: Floats, x: Expressions) -> Array:
    """Largest distance of bar centres nearest a tension face, mm; `f_s` service stress, `c_c` clear cover of the bars."""
    ratio = x.crack[2] / np.maximum(np.asarray(f_s, dtype=float), 1e-6)
    return np.asarray(np.minimum(x.crack[0] * ratio - 2.5 * np.asarray(c_c), x.crack[1] * ratio))


@clause("ACI 224R", "flexural cracks", "w", "0.076 beta f_s (d_c A)^(1/3) in 0.001 in, ksi, in", "mm")
def crack_width(f_s: Floats, d_c: Floats, area: Floats, beta: Floats) -> Array:
    """Likely width at the tension face, mm: 0.076 beta f_s (d_c A)^(1/3) (ksi, in; 0.001 in), as ACI 224R gives it; `area` of
    concrete around one bar, `d_c` from the face to the nearest bar's centre."""
    inch, ksi = 25.4, 6.894757
    root = np.cbrt(np.asarray(d_c) / inch * np.asarray(area) / inch**2)
    return np.asarray(0.076e-3 * np.asarray(beta) * np.asarray(f_s) / ksi * root * inch)


@dataclass(frozen=True)
class CrackingClauses:
    """Answers on distribution of bars (24.3)."""

    x: Expressions

    limits_width = False
    level = "service"
    stage = "short"

    def skin(self, concrete: Concrete, steel: Steel, b: float, h: float, cover: float, wanted: Service) -> tuple[float, float]:
        """9.7.2.3, above 36 in (900 mm) of depth: as far apart as 24.3.2 lets bars be with this side cover, at 2/3 f_y; of any size."""
        if h <= (36.0 * self.x.length if self.x is INCH_POUND else 900.0) + 1e-6:
            return math.inf, 0.0
        stress = np.array([2.0 / 3.0 * steel.strength])
        return float(maximum_bar_spacing(stress, np.array([cover]), self.x)[0]), 0.0

    def minimum_steel(self, concrete: Concrete, steel: Steel, zone: TensionZone, h: Array) -> Array:
        return np.zeros_like(h)

    def table(self, stress: Array, face: Face, concrete: Concrete, wanted: Service) -> None:
        """24.3.2 is the check itself."""
        return None

    def tension_flange(self, flange: float, clear: float) -> float:
        """24.3.4: the effective width, no wider than a tenth of the clear span."""
        return min(flange, clear / 10.0)

    def judge(self, moment: Array, cracked: Elastic, stage: Stage, face: Face, wanted: Service) -> CrackState:
        """24.3.2: distance of bar centres, for the stress of the cracked section under service load."""
        alpha = self.x.steel_modulus / stage.modulus
        f_s = alpha * moment * np.maximum(face.outer - cracked.x, 0.0) / cracked.i
        limit = maximum_bar_spacing(f_s, face.cover, self.x)
        d_c = face.cover + 0.5 * face.phi
        beta = (face.h - cracked.x) / np.maximum(face.outer - cracked.x, 1.0)
        width = crack_width(f_s, d_c, 2.0 * d_c * face.spacing, beta)  # for information: the code asks for spacing
        return CrackState(np.where(moment > 0.0, face.spacing, 0.0), np.maximum(limit, 1.0), "length", width, f_s, face.outer)

    def uncracked_under(self, moment: Array, uncracked: Elastic, h: Array, concrete: Concrete) -> Mask:
        """24.3 asks for its spacing everywhere."""
        return np.zeros(np.shape(moment), dtype=bool)
