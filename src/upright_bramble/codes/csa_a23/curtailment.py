"""CSA A23.3 12.10 to 12.12: where bars may stop. N, mm."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.codes.csa_a23.symbols import NAMES, clause
from upright_bramble.codes.parts import CurtailmentPart, EndFacts
from upright_bramble.section.arrays import Array, Floats
from upright_bramble.working import record


@clause("12.10.3", "beyond", "max(d; 12 d_b)", "mm")
def extension(d: Floats, d_b: Floats) -> Array:
    """How far a bar goes on beyond where it is no longer required, mm.

    d : number or array, mm; above 0
    d_b : number or array, mm; 11.3 to 56.4

    >>> round(float(extension(530.0, 25.2)), 2)
    530.0
    """
    return np.asarray(np.maximum(np.asarray(d, dtype=float), 12.0 * np.asarray(d_b)))


@clause("12.11.3", "l_d,max", "held M_r/V_f + l_a", "mm", names={**NAMES, "held": ("held", "")})
def development_limit(m_r: Floats, v_f: Floats, l_a: Floats, held: float = 1.3) -> Array:
    """Longest development of bottom bars, mm; `held` 1.3 at a simple support whose reaction compresses their
    ends, 1.0 at an indirect one and at points of inflection.

    m_r : number or array, N mm (M_r); 0 or more
    v_f : number or array, N (V_f); above 0
    l_a : number or array, mm; 0 or more
    held : number; 1 to 1.3

    >>> round(float(development_limit(230.0e6, 200.0e3, 150.0)), 2)
    1645.0
    """
    return np.asarray(held * np.asarray(m_r) / v_f + l_a)


@clause("12.12.2", "beyond", "max(max(d; 12 d_b); l_n/16)", "mm")
def beyond_inflection(d: float, d_b: float, l_n: float) -> float:
    """How far a third of the top bars goes on past the point of inflection, mm.

    d : number, mm; above 0
    d_b : number, mm; 11.3 to 56.4
    l_n : number, mm; above 0

    >>> round(float(beyond_inflection(400.0, 25.2, 8000.0)), 2)
    500.0
    """
    return max(d, 12.0 * d_b, l_n / 16.0)


@dataclass(frozen=True)
class CurtailmentClauses(CurtailmentPart):
    """Answers on where bars may stop (12.10 to 12.12)."""

    v: Mapping[str, float]

    def bottom_share(self, simple: bool) -> float:
        """12.11.1: a third at simple, a fourth at continuous supports."""
        return self.v["support_share_simple" if simple else "support_share_inner"]

    def into_support(self, phi: Floats, simple: bool) -> Array:
        """12.11.1: 150 mm into the support."""
        return np.full_like(np.asarray(phi, dtype=float), 150.0)

    def unused_end(self, phi: Floats, d: Floats) -> Array:
        """12.10.3, at the end of a bar that stops inside a span."""
        return extension(d, phi)

    def beyond_inflection(self, d: float, phi: float, l_n: float) -> float:
        return beyond_inflection(d, phi, l_n)

    def end_force(self, v_ed: Floats, d: Floats, cot: Floats) -> Array:
        """What bars at a simple end are proportioned for; 11.3.9.5 judges them by the stirrups that are
        there."""
        return np.asarray(0.75 * np.asarray(v_ed) * np.asarray(cot) + 0.0 * np.asarray(d))

    def end_anchorage(self, end: EndFacts) -> tuple[float, float, str]:
        """12.11.3: l_d no more than 1.3 M_r/V_f + l_a, unless hooked beyond the centreline."""
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
