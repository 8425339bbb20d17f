"""IS 456 26.2.3: where bars may stop. N, mm."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.codes.is456.symbols import NAMES, clause
from upright_bramble.codes.parts import CurtailmentPart, EndFacts
from upright_bramble.section.arrays import Array, Floats
from upright_bramble.working import record

THIRD_OF_DEVELOPMENT = 21.0  # L_d/3 of Fe 550 in M20, the longest there is, in diameters


@clause("26.2.3.1", "beyond", "max(d; 12 phi)", "mm")
def extension(d: Floats, phi: Floats) -> Array:
    """How far a bar goes on beyond where it is no longer required, mm.

    d : number or array, mm; above 0
    phi : number or array, mm; 6 to 40

    >>> round(float(extension(550.0, 20.0)), 2)
    550.0
    """
    return np.asarray(np.maximum(np.asarray(d, dtype=float), 12.0 * np.asarray(phi)))


@clause(
    "26.2.3.2",
    "V_cut",
    (("twice >= 1", "3/4 V_uR"), ("", "2/3 V_uR")),
    "N",
    names={"resistance": ("V_uR", "N"), "twice": ("twice", "")},
)
def cut_off_shear(resistance: float, twice: bool) -> float:
    """Shear up to which bars may stop in tension, N: (a) two thirds of what is permitted; (c) three quarters
    where bars up to 36 mm leave `twice` the area that is required.

    resistance : number, N (V_uR); 0 or more
    twice : true or false

    >>> round(float(cut_off_shear(150.0e3, False)), 2)
    100000.0
    """
    return (0.75 if twice else 2.0 / 3.0) * resistance


@clause("26.2.3.2(b)", "A_sv,excess", "0.4 b s/f_y", "mm2")
def excess_stirrups(b: float, s: float, f_y: float) -> float:
    """Stirrups beyond those for shear and torsion along three quarters of d of a bar that stops in tension,
    mm2.

    b : number, mm; above 0
    s : number, mm; 0 or more
    f_y : number, MPa; 250 to 550

    >>> round(float(excess_stirrups(300.0, 150.0, 415.0)), 2)
    43.37
    """
    return 0.4 * b * s / f_y


@clause("26.2.3.3(c)", "L_d,max", "held M_1/V_u + L_o", "mm", names={**NAMES, "held": ("held", "")})
def development_limit(m_1: Floats, v_u: Floats, l_o: Floats, held: float = 1.3) -> Array:
    """Longest development of bottom bars, mm; `held` 1.3 at a simple support whose reaction compresses their
    ends, 1.0 at an indirect one and at points of inflection.

    m_1 : number or array, N mm (M_1); 0 or more
    v_u : number or array, N (V_u); above 0
    l_o : number or array, mm (L_o); 0 or more
    held : number; 1 to 1.3

    >>> round(float(development_limit(120.0e6, 150.0e3, 200.0, 1.0)), 2)
    1000.0
    """
    return np.asarray(held * np.asarray(m_1) / v_u + l_o)


@clause("26.2.3.4", "beyond", "max(max(d; 12 phi); l_n/16)", "mm")
def beyond_inflection(d: float, phi: float, l_n: float) -> float:
    """How far a third of the top bars goes on past the point of inflection, mm; l_n clear span.

    d : number, mm; above 0
    phi : number, mm; 6 to 40
    l_n : number, mm; above 0

    >>> round(float(beyond_inflection(450.0, 20.0, 8000.0)), 2)
    500.0
    """
    return max(d, 12.0 * phi, l_n / 16.0)


@dataclass(frozen=True)
class CurtailmentClauses(CurtailmentPart):
    """Answers on where bars may stop (26.2.3)."""

    v: Mapping[str, float]

    def bottom_share(self, simple: bool) -> float:
        """26.2.3.3(a): a third at simple, a fourth at continuous supports."""
        return self.v["support_share_simple" if simple else "support_share_inner"]

    def into_support(self, phi: Floats, simple: bool) -> Array:
        """26.2.3.3(a): L_d/3 past the face; at simple ends by the bars' own development."""
        return (0.0 if simple else THIRD_OF_DEVELOPMENT) * np.asarray(phi, dtype=float)

    def unused_end(self, phi: Floats, d: Floats) -> Array:
        return extension(d, phi)

    def beyond_inflection(self, d: float, phi: float, l_n: float) -> float:
        return beyond_inflection(d, phi, l_n)

    def end_anchorage(self, end: EndFacts) -> tuple[float, float, str]:
        """26.2.3.3(c): L_d no more than 1.3 M_1/V_u + L_o, where L_o counts along bends."""
        record(
            "L_d",
            end.development,
            "mm",
            "development of the bottom bars"
            + (": bent ones are anchored past the face" if end.hooked else ""),
        )
        if end.hooked or end.shear <= 1.0:
            return 0.0, 1.0, "length"
        limit = development_limit(
            end.nominal_moment, end.shear, end.beyond_centre, 1.3 if end.direct else 1.0
        )
        return end.development, float(limit), "length"
