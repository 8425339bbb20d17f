"""IS 456 26.2.2, 26.3, 26.5.3.2: room between bars, bends, stirrups along compressed bars. N, mm, MPa."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Steel
from upright_bramble.codes.is456.bond import stirrup_extension
from upright_bramble.codes.is456.symbols import NAMES, clause
from upright_bramble.codes.parts import DetailingPart
from upright_bramble.section.arrays import Array, Floats

K_MAIN, K_STIRRUP = 4.0, 2.0  # IS 2502: radius of bends over the diameter, of deformed bars


@clause(
    "26.5.3.2(c)",
    "s",
    "min(min(16 phi; least); 300)",
    "mm",
    names={"phi": ("phi", "mm"), "least": ("least", "mm")},
)
def compression_stirrup_spacing(phi: Floats, least: Floats) -> Array:
    """Largest pitch of stirrups along bars in compression, mm; `least` lateral dimension.

    phi : number or array, mm; 6 to 40
    least : number or array, mm; 0 or more

    >>> round(float(compression_stirrup_spacing(16.0, 300.0)), 2)
    256.0
    """
    return np.asarray(
        np.minimum(np.minimum(16.0 * np.asarray(phi, dtype=float), np.asarray(least, dtype=float)), 300.0)
    )


@clause("26.5.3.2(c)", "phi_t", "max(phi/4; 6)", "mm")
def compression_stirrup_diameter(phi: Floats) -> Array:
    """Least diameter of stirrups along bars in compression, mm, of the thickest of them.

    phi : number or array, mm; 6 to 40

    >>> round(float(compression_stirrup_diameter(32.0)), 4)
    8.0
    """
    return np.asarray(np.maximum(0.25 * np.asarray(phi, dtype=float), 6.0))


@clause(
    "26.3.2(a)", "a", "max(phi; h_agg + 5)", "mm", names={"phi": ("phi", "mm"), "aggregate": ("h_agg", "mm")}
)
def clear_spacing(phi: Floats, aggregate: float) -> Array:
    """Least horizontal distance between bars, mm.

    phi : number or array, mm; 6 to 40
    aggregate : number, mm (h_agg); above 0

    >>> round(float(clear_spacing(20.0, 20.0)), 2)
    25.0
    """
    return np.asarray(np.maximum(np.asarray(phi, dtype=float), aggregate + 5.0))


@clause(
    "26.3.2(c)",
    "a_v",
    "max(max(phi; 2/3 h_agg); 15)",
    "mm",
    names={"phi": ("phi", "mm"), "aggregate": ("h_agg", "mm")},
)
def row_spacing(phi: Floats, aggregate: float) -> Array:
    """Least vertical distance between rows, mm.

    phi : number or array, mm; 6 to 40
    aggregate : number, mm (h_agg); above 0

    >>> round(float(row_spacing(20.0, 40.0)), 2)
    26.67
    """
    return np.asarray(np.maximum(np.maximum(np.asarray(phi, dtype=float), 2.0 / 3.0 * aggregate), 15.0))


@clause("26.2.2.5", "f_b,max", "1.5 f_ck/(1 + 2 phi/a)", "MPa")
def bearing_limit(f_ck: float, phi: float, a_b: float) -> float:
    """Largest bearing stress inside a bend, MPa; a distance of bars' centres, or cover and phi.

    f_ck : number, MPa; 15 to 55
    phi : number, mm; 6 to 40
    a_b : number, mm (a); above 0

    >>> round(float(bearing_limit(25.0, 20.0, 60.0)), 2)
    22.5
    """
    return 1.5 * f_ck / (1.0 + 2.0 * phi / a_b)


@clause(
    "26.2.2.5",
    "D",
    "2 F_bt/(phi f_b,max)",
    "mm",
    names={**NAMES, "f_bt": ("F_bt", "N"), "limit": ("f_b,max", "MPa")},
)
def mandrel_for_bearing(f_bt: float, phi: float, limit: float) -> float:
    """Mandrel with which the bearing stress is no more than that, mm.

    f_bt : number, N (F_bt); 0 or more
    phi : number, mm; 6 to 40
    limit : number, MPa (f_b,max); 5 to 100

    >>> round(float(mandrel_for_bearing(100.0e3, 20.0, 22.5)), 2)
    444.44
    """
    return 2.0 * f_bt / (phi * limit)


@clause("26.2.2.1 (IS 2502)", "r", "k phi", "mm", names={"k": ("k", ""), "phi": ("phi", "mm")})
def bend_radius(phi: float, k: float = K_MAIN) -> float:
    """Radius of bends, mm.

    phi : number, mm; 6 to 40
    k : number; 0 or more

    >>> round(float(bend_radius(20.0)), 2)
    80.0
    """
    return k * phi


@clause("IS 2502", "H", "max(pi (k + 0.5) phi + phi; ...) in whole diameters", "mm")
def hook_allowance(phi: float, k: float) -> float:
    """Length that a hook adds to a bar, mm, in whole diameters: 9 phi for k = 2.

    phi : number, mm; 6 to 40
    k : number; 0 or more

    >>> round(float(hook_allowance(1.0, 2.0)), 4)
    9.0
    """
    return round(np.pi * (k + 0.5) + 1.0) * phi


@clause("IS 2502", "B", "in whole diameters", "mm")
def bend_allowance(phi: float, k: float) -> float:
    """Length that a standard bend adds to a bar, mm: 5 phi for k = 2.

    phi : number, mm; 6 to 40
    k : number; 0 or more

    >>> round(float(bend_allowance(1.0, 2.0)), 4)
    5.0
    """
    return round(0.5 * np.pi * (k + 0.5) + 1.0) * phi


@clause("26.2.2.1", "leg_min", "r + phi + 4 phi", "mm", names={"r": ("r", "mm"), "phi": ("phi", "mm")})
def minimum_leg(r: float, phi: float) -> float:
    """Outer length of the leg beyond a bend: the curve and 4 phi, mm.

    r : number, mm; 0 or more
    phi : number, mm; 6 to 40

    >>> round(float(minimum_leg(80.0, 20.0)), 2)
    180.0
    """
    return r + 5.0 * phi


@dataclass(frozen=True)
class DetailingClauses(DetailingPart):
    """Answers on room, bends and stirrups (26)."""

    v: Mapping[str, float]

    def compression_stirrup_spacing(self, phi: Floats, tie: float, minimum: Floats) -> Array:
        return compression_stirrup_spacing(phi, minimum)

    def clear_spacing(self, phi: Floats, aggregate: float) -> Array:
        return clear_spacing(phi, aggregate)

    def bend_radius(self, phi: float) -> float:
        return bend_radius(phi)

    def mandrel_for_force(
        self, concrete: Concrete, steel: Steel, phi: float, force: float, beside: float
    ) -> float:
        """26.2.2.5; `beside` is half of a between bars."""
        return mandrel_for_bearing(force, phi, bearing_limit(concrete.strength, phi, max(2.0 * beside, phi)))

    def stirrup_radius(self, phi: float) -> float:
        return bend_radius(phi, K_STIRRUP)

    def stirrup_tail(self, phi: float) -> float:
        """Bend of 135 degrees and the end beyond it."""
        return stirrup_extension(phi, 135.0) + 0.75 * np.pi * (K_STIRRUP + 0.5) * phi

    def minimum_leg(self, phi: float, kind: str, former: float = 0.0) -> float:
        return 0.0 if kind in ("straight", "lap") else minimum_leg(max(bend_radius(phi), 0.5 * former), phi)
