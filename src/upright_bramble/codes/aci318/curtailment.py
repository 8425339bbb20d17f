"""ACI 318-19 9.7.3, 9.7.7: curtailment and integrity. N, mm."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.codes.aci318.expressions import INCH_POUND, Expressions
from upright_bramble.codes.aci318.symbols import ACI, NAMES, clause
from upright_bramble.codes.parts import (
    EndFacts,
)
from upright_bramble.section.arrays import Array, Floats


@clause(ACI, "9.7.3.8.3", "l_d,max", "held M_n/V_u + l_a", "mm", names={**NAMES, "held": ("held", "")})
def development_limit(m_n: Floats, v_u: Floats, l_a: Floats, held: float = 1.3) -> Array:
    """Longest development of bottom bars, mm; `held` 1.3 at a simple support whose reaction compresses their ends, 1.0 at an indirect one
    and at points of inflection."""
    return np.asarray(held * np.asarray(m_n) / v_u + l_a)


@dataclass(frozen=True)
class CurtailmentClauses:
    """Answers on where bars may stop (9.7.3, 9.7.7)."""

    v: Mapping[str, float]
    x: Expressions

    cut_off_share = 2.0 / 3.0
    perimeter_share = 1.0 / 6.0
    checks_inflection = True
    integrity = (0.25, 2)
    top_share = 1.0 / 3.0

    def bottom_share(self, simple: bool) -> float:
        return self.v["support_share_simple" if simple else "support_share_inner"]

    def beyond_inflection(self, phi: float, d: float, clear: float) -> float:
        """9.7.3.8.4: max(d; 12 d_b; l_n/16)."""
        return max(d, 12.0 * phi, clear / 16.0)

    def into_support(self, phi: Floats, simple: bool) -> Array:
        """9.7.3.8.1-2: 6 in into the support."""
        return np.full_like(np.asarray(phi, dtype=float), 6.0 * self.x.length if self.x is INCH_POUND else 150.0)

    def unused_end(self, phi: Floats, d: Floats) -> Array:
        """9.7.3.3: max(d; 12 d_b) at the end of a bar that stops inside a span."""
        return np.asarray(np.maximum(np.asarray(d), 12.0 * np.asarray(phi)))

    def end_force(self, v_ed: Floats, d: Floats, cot: Floats) -> Array:
        """Asked for by length instead: `end_anchorage`."""
        return np.asarray(0.0 * np.asarray(v_ed) * np.asarray(d) * np.asarray(cot))

    def end_anchorage(self, end: EndFacts) -> tuple[float, float, str]:
        """9.7.3.8.3: l_d no more than 1.3 M_n/V_u + l_a, unless hooked beyond the centreline."""
        if end.hooked or end.shear <= 1.0:
            return 0.0, 1.0, "length"
        limit = development_limit(end.nominal_moment, end.shear, end.beyond_centre, 1.3 if end.direct else 1.0)
        return end.development, float(limit), "length"
