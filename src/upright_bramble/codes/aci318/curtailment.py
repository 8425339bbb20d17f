"""ACI 318-19 9.7.3, 9.7.7: curtailment and integrity. N, mm."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.codes.aci318.expressions import INCH_POUND, Expressions
from upright_bramble.codes.aci318.symbols import ACI, NAMES, clause
from upright_bramble.codes.parts import Continuity, CurtailmentPart, EndFacts
from upright_bramble.section.arrays import Array, Floats
from upright_bramble.working import record


@clause(ACI, "9.7.3.8.3", "l_d,max", "held M_n/V_u + l_a", "mm", names={**NAMES, "held": ("held", "")})
def development_limit(m_n: Floats, v_u: Floats, l_a: Floats, held: float = 1.3) -> Array:
    """Longest development of bottom bars, mm; `held` 1.3 at a simple support whose reaction compresses their
    ends, 1.0 at an indirect one and at points of inflection.

    m_n : number or array, N mm (M_n); 0 or more
    v_u : number or array, N (V_u); above 0
    l_a : number or array, mm; 0 or more
    held : number; 1 to 1.3

    >>> round(float(development_limit(460000000.0, 460000.0, 150.0, 1.3)), 2)
    1450.0
    """
    return np.asarray(held * np.asarray(m_n) / v_u + l_a)


@clause(ACI, "9.7.3.8.4", "beyond", "max(d; 12 d_b; l_n/16)", "mm", names={**NAMES, "l_n": ("l_n", "mm")})
def beyond_inflection(d: float, d_b: float, l_n: float) -> float:
    """How far top bars go on past the point of inflection, mm; `l_n` the clear span.

    d : number, mm; above 0
    d_b : number, mm; 9.5 to 57.3
    l_n : number, mm; above 0

    >>> round(float(beyond_inflection(540.0, 19.1, 5500.0)), 2)
    540.0
    """
    return max(d, 12.0 * d_b, l_n / 16.0)


@clause(
    ACI,
    "9.7.3.5",
    "V_cut",
    (("twice >= 1", "3/4 phiV_n"), ("", "2/3 phiV_n")),
    "N",
    names={"resistance": ("phiV_n", "N"), "twice": ("twice", "")},
)
def cut_off_shear(resistance: float, twice: bool) -> float:
    """Shear up to which bars may stop where their face is in tension, N: two thirds of the resistance, three
    quarters where bars up to No. 11 leave `twice` the steel that is required.

    resistance : number, N (phiV_n); 0 or more
    twice : true or false

    >>> round(float(cut_off_shear(300000.0, False)), 2)
    200000.0
    """
    return (0.75 if twice else 2.0 / 3.0) * resistance


@dataclass(frozen=True)
class CurtailmentClauses(CurtailmentPart):
    """Answers on where bars may stop (9.7.3, 9.7.7)."""

    v: Mapping[str, float]
    x: Expressions

    @property
    def continuity(self) -> Continuity:
        """9.7.7.1, 9.7.7.2: a quarter of the bottom steel and two bars; a sixth of the top steel of perimeter
        beams."""
        return Continuity(0.25, 2, 1.0 / 6.0)

    def bottom_share(self, simple: bool) -> float:
        return self.v["support_share_simple" if simple else "support_share_inner"]

    def into_support(self, phi: Floats, simple: bool) -> Array:
        """9.7.3.8.1-2: 6 in into the support."""
        return np.full_like(
            np.asarray(phi, dtype=float), 6.0 * self.x.length if self.x is INCH_POUND else 150.0
        )

    def unused_end(self, phi: Floats, d: Floats) -> Array:
        """9.7.3.3: max(d; 12 d_b) at the end of a bar that stops inside a span."""
        return np.asarray(np.maximum(np.asarray(d), 12.0 * np.asarray(phi)))

    def beyond_inflection(self, d: float, phi: float, l_n: float) -> float:
        """9.7.3.8.4."""
        return beyond_inflection(d, phi, l_n)

    def end_anchorage(self, end: EndFacts) -> tuple[float, float, str]:
        """9.7.3.8.3: l_d no more than 1.3 M_n/V_u + l_a, unless hooked beyond the centreline."""
        record(
            "l_d",
            end.development,
            "mm",
            "development of the bottom bars" + (": bent ones need none" if end.hooked else ""),
        )
        if end.hooked or end.shear <= 1.0:
            return 0.0, 1.0, "length"
        limit = development_limit(
            end.nominal_moment, end.shear, end.beyond_centre, 1.3 if end.direct else 1.0
        )
        return end.development, float(limit), "length"
