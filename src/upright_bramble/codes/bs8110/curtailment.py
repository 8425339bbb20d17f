"""BS 8110-1 3.12.9, 3.12.10: where bars may stop. N, mm."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.codes.bs8110.bond import END_DIAMETERS
from upright_bramble.codes.bs8110.symbols import clause
from upright_bramble.codes.parts import CurtailmentPart, EndFacts
from upright_bramble.section.arrays import Array, Floats
from upright_bramble.working import record


@clause("3.12.9.1", "beyond", "max(d; 12 phi)", "mm")
def extension(d: Floats, phi: Floats) -> Array:
    """How far a bar goes on beyond where it is no longer required, mm.

    d : number or array, mm; above 0
    phi : number or array, mm; 6 to 40

    >>> round(float(extension(550.0, 20.0)), 2)
    550.0
    """
    return np.asarray(np.maximum(np.asarray(d, dtype=float), 12.0 * np.asarray(phi)))


@clause("3.12.9.1", "V_cut", "V_R/2", "N", names={"resistance": ("V_R", "N")})
def cut_off_shear(resistance: float) -> float:
    """Shear up to which bars may stop in tension, N: the resistance is twice as much.

    resistance : number, N (V_R); 0 or more

    >>> round(float(cut_off_shear(300.0e3)), 2)
    150000.0
    """
    return 0.5 * resistance


@clause("3.12.9.4(a)", "l_end", "12 phi + a", "mm", names={"phi": ("phi", "mm"), "within": ("a", "mm")})
def end_anchorage(phi: float, within: float) -> float:
    """Effective anchorage from the face of a simple support, mm: 12 phi beyond its centreline, at `within`
    from the face.

    phi : number, mm; 6 to 40
    within : number, mm (a); 0 or more

    >>> round(float(end_anchorage(20.0, 150.0)), 2)
    390.0
    """
    return END_DIAMETERS * phi + within


@clause("3.12.9.4(b)", "l_end", "12 phi + d/2", "mm")
def end_anchorage_by_depth(phi: float, d: float) -> float:
    """The same by the effective depth, mm.

    phi : number, mm; 6 to 40
    d : number, mm; above 0

    >>> round(float(end_anchorage_by_depth(20.0, 500.0)), 2)
    490.0
    """
    return END_DIAMETERS * phi + 0.5 * d


# Figure 3.24, 3.12.10.2: share of the steel, distance from the face of the support over the span
SIMPLIFIED = {
    "simple_bottom": (0.5, 0.08), "continuous_bottom": (0.3, 0.15), "continuous_top": (0.6, 0.15),
    "continuous_top_far": (1.0, 0.25),
    "continuous_top_run": (0.2, 1.0), "cantilever_top": (0.5, 0.5),
}  # fmt: skip


def simplified(kind: str, l: float) -> tuple[float, float]:  # noqa: E741 - the standard's symbol
    """Simplified rules of 3.12.10.2 for spans about equal under uniform loads: share of the steel, and the
    distance from the support that it goes with, mm.

    kind : text
    l : number, mm; above 0

    >>> simplified("continuous_bottom", 6000.0)
    (0.3, 900.0)
    """
    share, part = SIMPLIFIED[kind]
    return share, part * l


@dataclass(frozen=True)
class CurtailmentClauses(CurtailmentPart):
    """Answers on where bars may stop (3.12.9, 3.12.10)."""

    v: Mapping[str, float]

    def bottom_share(self, simple: bool) -> float:
        """Figure 3.24: half of the span's bars into a simple support, 30 % past a continuous one."""
        return self.v["support_share_simple" if simple else "support_share_inner"]

    def into_support(self, phi: Floats, simple: bool) -> Array:
        """12 phi past an inner face; at simple ends the anchorage decides."""
        return (0.0 if simple else 12.0) * np.asarray(phi, dtype=float)

    def unused_end(self, phi: Floats, d: Floats) -> Array:
        return extension(d, phi)

    def end_anchorage(self, end: EndFacts) -> tuple[float, float, str]:
        """3.12.9.4: the less of (a) and (b) is enough; lengths count along bends."""
        record("l_prov", end.reach, "mm", "of the bottom bars beyond the face, along bends too")
        by_depth = 0.5 * end.d < end.within
        required = end_anchorage_by_depth(end.phi, end.d) if by_depth else end_anchorage(end.phi, end.within)
        return required, end.reach, "length"
