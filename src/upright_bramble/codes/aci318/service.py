"""ACI 318-19 chapter 24: deflection and distribution of bars. N, mm, MPa."""

from __future__ import annotations

import numpy as np

from upright_bramble.codes.aci318.expressions import Expressions
from upright_bramble.codes.aci318.symbols import clause
from upright_bramble.section.arrays import Array, Floats

ACI = "ACI 318-19"


@clause(ACI, "24.2.3.5", "I_e", (("M_a <= 2/3 M_cr", "I_g"), ("", "min(I_cr/(1 - (2/3 M_cr/M_a)^2 (1 - min(I_cr/I_g; 1))); I_g)")), "mm4")
def effective_inertia(m_a: Floats, m_cr: Floats, i_g: Floats, i_cr: Floats) -> Array:
    """Effective second moment under the service moment `m_a`, mm4."""
    m_a, i_g, i_cr = (np.asarray(v, dtype=float) for v in (m_a, i_g, i_cr))
    start = 2.0 / 3.0 * np.asarray(m_cr)
    share = np.minimum(start / np.maximum(m_a, 1e-9), 1.0) ** 2
    cracked = i_cr / np.maximum(1.0 - share * (1.0 - np.minimum(i_cr / i_g, 1.0)), 1e-9)
    return np.asarray(np.where(m_a <= start, i_g, np.minimum(cracked, i_g)))


@clause(ACI, "24.2.4.1", "lambda_delta", "xi/(1 + 50 rho_compression): xi 1.0, 1.2, 1.4, 2.0 after 3, 6, 12, 60 months")
def long_term_factor(months: float, rho_compression: Floats) -> Array:
    """Additional long-term deflection over the immediate one of sustained load."""
    xi = np.interp(months, [0.0, 3.0, 6.0, 12.0, 60.0], [0.0, 1.0, 1.2, 1.4, 2.0])
    return np.asarray(xi / (1.0 + 50.0 * np.asarray(rho_compression)))


@clause(ACI, "24.3.2", "s", "min({cr0} ({cr2}/f_s) - 2.5 c_c; {cr1} ({cr2}/f_s))", "mm")
def widest_bar_spacing(f_s: Floats, c_c: Floats, x: Expressions) -> Array:
    """Largest distance of bar centres nearest a tension face, mm; `f_s` service stress, `c_c` clear cover of the bars."""
    ratio = x.crack[2] / np.maximum(np.asarray(f_s, dtype=float), 1e-6)
    return np.asarray(np.minimum(x.crack[0] * ratio - 2.5 * np.asarray(c_c), x.crack[1] * ratio))


@clause(ACI, "24.2.2", "divisor", "180 roofs, 360 floors under live load; 480, 240 after attachment")
def deflection_divisor(kind: str) -> float:
    """Of the span, Table 24.2.2: 'roof' and 'floor' under variable load alone; after attachment of parts that are 'sensitive' or not."""
    return {"roof": 180.0, "floor": 360.0, "sensitive": 480.0, "not_sensitive": 240.0}[kind]


@clause(ACI, "9.3.1.1", "h", "l/16 simple, l/18.5 one end, l/21 both ends continuous, l/8 cantilever, times 0.4 + f_y/100000", "mm")
def least_depth(length: float, ends: str, f_y: float, x: Expressions) -> float:
    """Depth from which deflections need no calculation, mm; Grade 60 needs no factor."""
    divisor = {"simple": 16.0, "end": 18.5, "interior": 21.0, "cantilever": 8.0}[ends]
    grade = f_y / x.stress
    if x.length > 1.0:
        factor = 1.0 if abs(grade - 60_000.0) < 60.0 else 0.4 + grade / 100_000.0
    else:
        factor = 1.0 if abs(grade - 420.0) < 0.5 else 0.4 + grade / 700.0
    return length / divisor * factor


@clause("ACI 224R", "flexural cracks", "w", "0.076 beta f_s (d_c A)^(1/3) in 0.001 in, ksi, in", "mm")
def crack_width(f_s: Floats, d_c: Floats, area: Floats, beta: Floats) -> Array:
    """Likely width at the tension face, mm: 0.076 beta f_s (d_c A)^(1/3) (ksi, in; 0.001 in), as ACI 224R gives it; `area` of
    concrete around one bar, `d_c` from the face to the nearest bar's centre."""
    inch, ksi = 25.4, 6.894757
    root = np.cbrt(np.asarray(d_c) / inch * np.asarray(area) / inch**2)
    return np.asarray(0.076e-3 * np.asarray(beta) * np.asarray(f_s) / ksi * root * inch)
