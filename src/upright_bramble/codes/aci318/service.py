"""ACI 318-19 chapter 24: deflection and distribution of bars. N, mm, MPa."""

from __future__ import annotations

import numpy as np

from upright_bramble.codes.aci318.expressions import Expressions
from upright_bramble.section.arrays import Array, Floats
from upright_bramble.working import clause

ACI = "ACI 318-19"


@clause(ACI, "24.2.3.5", "I_e", "I_cr/[1 - (2/3 M_cr/M_a)^2 (1 - I_cr/I_g)], I_g to 2/3 M_cr", "mm4")
def effective_inertia(m_a: Floats, m_cr: Floats, i_g: Floats, i_cr: Floats) -> Array:
    """Effective second moment under the service moment `m_a`, mm4."""
    m_a, i_g, i_cr = (np.asarray(v, dtype=float) for v in (m_a, i_g, i_cr))
    start = 2.0 / 3.0 * np.asarray(m_cr)
    share = np.minimum(start / np.maximum(m_a, 1e-9), 1.0) ** 2
    cracked = i_cr / np.maximum(1.0 - share * (1.0 - np.minimum(i_cr / i_g, 1.0)), 1e-9)
    return np.asarray(np.where(m_a <= start, i_g, np.minimum(cracked, i_g)))


@clause(ACI, "24.2.4.1", "lambda_delta", "xi/(1 + 50 rho')")
def long_term_factor(months: float, rho_compression: Floats) -> Array:
    """Additional long-term deflection over the immediate one of sustained load."""
    xi = np.interp(months, [0.0, 3.0, 6.0, 12.0, 60.0], [0.0, 1.0, 1.2, 1.4, 2.0])
    return np.asarray(xi / (1.0 + 50.0 * np.asarray(rho_compression)))


@clause(ACI, "24.3.2", "s", "min[15 (40000/f_s) - 2.5 c_c; 12 (40000/f_s)]", "mm")
def widest_bar_spacing(f_s: Floats, c_c: Floats, x: Expressions) -> Array:
    """Largest distance of bar centres nearest a tension face, mm; `f_s` service stress, `c_c` clear cover of the bars."""
    ratio = x.crack[2] / np.maximum(np.asarray(f_s, dtype=float), 1e-6)
    return np.asarray(np.minimum(x.crack[0] * ratio - 2.5 * np.asarray(c_c), x.crack[1] * ratio))
