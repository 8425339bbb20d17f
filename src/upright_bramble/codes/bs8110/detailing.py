"""BS 8110-1 3.12.7, 3.12.8.24, 3.12.11: room between bars, bends, links along compressed bars. N, mm, MPa."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Steel
from upright_bramble.codes.bs8110.bond import link_extension
from upright_bramble.codes.bs8110.symbols import NAMES, clause
from upright_bramble.codes.parts import DetailingPart
from upright_bramble.section.arrays import Array, Floats


@clause("3.12.7.1", "s", "12 phi", "mm")
def compression_link_spacing(phi: Floats) -> Array:
    """Largest spacing of links along bars in compression, mm, of the thinnest of them.

    phi : number or array, mm; 6 to 40

    >>> round(float(compression_link_spacing(16.0)), 2)
    192.0
    """
    return np.asarray(12.0 * np.asarray(phi, dtype=float))


@clause("3.12.7.1", "phi_link", "max(phi/4; 6)", "mm")
def compression_link_diameter(phi: Floats) -> Array:
    """Least diameter of links along bars in compression, mm, of the thickest of them.

    phi : number or array, mm; 6 to 40

    >>> round(float(compression_link_diameter(32.0)), 4)
    8.0
    """
    return np.asarray(np.maximum(0.25 * np.asarray(phi, dtype=float), 6.0))


@clause("3.12.11.1", "a", "max(phi; h_agg + 5)", "mm")
def clear_spacing(phi: Floats, h_agg: float) -> Array:
    """Least clear distance between bars of a row, mm.

    phi : number or array, mm; 6 to 40
    h_agg : number, mm; 10 to 40

    >>> round(float(clear_spacing(20.0, 20.0)), 2)
    25.0
    """
    return np.asarray(np.maximum(np.asarray(phi, dtype=float), h_agg + 5.0))


@clause("3.12.11.1", "a_v", "max(phi; 2/3 h_agg)", "mm")
def row_spacing(phi: Floats, h_agg: float) -> Array:
    """Least clear distance between rows, mm.

    phi : number or array, mm; 6 to 40
    h_agg : number, mm; 10 to 40

    >>> round(float(row_spacing(20.0, 40.0)), 2)
    26.67
    """
    return np.asarray(np.maximum(np.asarray(phi, dtype=float), 2.0 / 3.0 * h_agg))


@clause("3.12.8.25.2", "f_b,max", "2 f_cu/(1 + 2 phi/a_b)", "MPa")
def bearing_limit(f_cu: float, phi: float, a_b: float) -> float:
    """Largest bearing stress inside a bend, MPa; a_b distance of bars' centres, or cover and phi.

    f_cu : number, MPa; 20 to 60
    phi : number, mm; 6 to 40
    a_b : number, mm; above 0

    >>> round(float(bearing_limit(30.0, 20.0, 60.0)), 2)
    36.0
    """
    return 2.0 * f_cu / (1.0 + 2.0 * phi / a_b)


@clause("3.12.8.25.2", "D", "2 F_bt/(phi f_b,max)", "mm", names={**NAMES, "limit": ("f_b,max", "MPa")})
def mandrel_for_bearing(f_bt: float, phi: float, limit: float) -> float:
    """Mandrel with which the bearing stress is no more than that, mm.

    f_bt : number, N (F_bt); 0 or more
    phi : number, mm; 6 to 40
    limit : number, MPa (f_b,max); 5 to 150

    >>> round(float(mandrel_for_bearing(100.0e3, 20.0, 36.0)), 2)
    277.78
    """
    return 2.0 * f_bt / (phi * limit)


@clause("3.12.8.24", "r", (("phi <= 16", "2 phi"), ("", "3.5 phi")), "mm")
def bend_radius(phi: float) -> float:
    """Least radius of bends, mm, as bars of grade 460 and 500 are scheduled (BS 8666).

    phi : number, mm; 6 to 40

    >>> round(float(bend_radius(20.0)), 2)
    70.0
    """
    return 2.0 * phi if phi <= 16.0 else 3.5 * phi


@clause("3.12.8.6", "leg_min", "r + phi + 5 phi", "mm", names={"r": ("r", "mm"), "phi": ("phi", "mm")})
def minimum_leg(r: float, phi: float) -> float:
    """Outer length of the leg beyond a bend: the curve and 5 phi, mm.

    r : number, mm; 0 or more
    phi : number, mm; 6 to 40

    >>> round(float(minimum_leg(70.0, 20.0)), 2)
    190.0
    """
    return r + 6.0 * phi


@dataclass(frozen=True)
class DetailingClauses(DetailingPart):
    """Answers on room, bends and links (3.12)."""

    v: Mapping[str, float]

    def compression_stirrup_spacing(self, phi: Floats, tie: float, minimum: Floats) -> Array:
        return compression_link_spacing(phi)

    def clear_spacing(self, phi: Floats, aggregate: float) -> Array:
        return clear_spacing(phi, aggregate)

    def bend_radius(self, phi: float) -> float:
        return bend_radius(phi)

    def mandrel_for_force(
        self, concrete: Concrete, steel: Steel, phi: float, force: float, beside: float
    ) -> float:
        """3.12.8.25; `beside` is half of a_b between bars."""
        return mandrel_for_bearing(force, phi, bearing_limit(concrete.strength, phi, max(2.0 * beside, phi)))

    def stirrup_radius(self, phi: float) -> float:
        return bend_radius(phi)

    def stirrup_tail(self, phi: float) -> float:
        """Bend and straight end of a link."""
        return max(link_extension(phi, True) + 2.0 * bend_radius(phi) + 4.0 * phi, 160.0)

    def minimum_leg(self, phi: float, kind: str, former: float = 0.0) -> float:
        return 0.0 if kind in ("straight", "lap") else minimum_leg(max(bend_radius(phi), 0.5 * former), phi)
