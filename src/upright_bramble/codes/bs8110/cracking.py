"""BS 8110-1 3.12.11.2 and BS 8110-2 3.8: cracks, by the distance of bars or by their width. N, mm, MPa."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Service, Steel
from upright_bramble.codes.bs8110.materials import E_S
from upright_bramble.codes.bs8110.symbols import NAMES, clause, clause_2
from upright_bramble.codes.parts import CrackingPart, CrackState, Face, Stage
from upright_bramble.section.arrays import Array, Floats
from upright_bramble.section.cracked import Elastic

SIDE_BARS = 250.0  # 3.12.11.2.6, mm
DEEP = 750.0


@clause("3.12.11.2.4", "a_max", "min(47000/f_s; 300)", "mm")
def maximum_clear_distance(f_s: Floats) -> Array:
    """Largest clear distance of bars in tension, mm, with no redistribution.

    f_s : number or array, MPa; above 0

    >>> round(float(maximum_clear_distance(250.0)), 2)
    188.0
    """
    return np.asarray(np.minimum(47_000.0 / np.maximum(np.asarray(f_s, dtype=float), 1e-6), 300.0))


@clause("3.12.11.2.5", "a_corner", "a_max/2", "mm", names={"clear": ("a_max", "mm")})
def corner_distance(clear: Floats) -> Array:
    """Largest clear distance from the corner of a beam to the nearest bar, mm.

    clear : number or array, mm (a_max); above 0

    >>> round(float(corner_distance(160.0)), 2)
    80.0
    """
    return np.asarray(0.5 * np.asarray(clear))


@clause("3.12.5.4", "phi_side", "sqrt(s_b min(b; 500)/f_y)", "mm")
def side_bar_diameter(s_b: float, b: float, f_y: float) -> float:
    """Least diameter of side bars, mm.

    s_b : number, mm; 0 or more
    b : number, mm; above 0
    f_y : number, MPa; 250 to 500

    >>> round(float(side_bar_diameter(250.0, 300.0, 460.0)), 2)
    12.77
    """
    return math.sqrt(s_b * min(b, 500.0) / f_y)


@clause("3.12.11.2.6", "extent", "2/3 h", "mm")
def side_bar_extent(h: float) -> float:
    """Height from the tension face over which side bars are required, mm.

    h : number, mm; above 0

    >>> round(float(side_bar_extent(900.0)), 2)
    600.0
    """
    return 2.0 / 3.0 * h


@clause_2("3.8.3", "f_s", "alpha_e M (d_s - x)/I", "MPa")
def bar_stress(alpha_e: Floats, m: Floats, depth: Floats, x: Floats, i: Floats) -> Array:
    """Stress of bars of a cracked section, MPa.

    alpha_e : number or array; 1 to 60
    m : number or array, N mm (M); 0 or more
    depth : number or array, mm (d_s); above 0
    x : number or array, mm; 0 to depth
    i : number or array, mm4 (I); above 0

    >>> round(float(bar_stress(15.0, 150.0e6, 550.0, 220.0, 3.5e9)), 2)
    212.14
    """
    return np.asarray(np.asarray(alpha_e) * m * np.maximum(np.asarray(depth) - x, 0.0) / i)


@clause("3.12.11.2.4", "a", "max(s - phi; 0)", "mm")
def clear_distance(s: Floats, phi: Floats) -> Array:
    """Of bars whose centres are `s` apart, mm.

    s : number or array, mm; 0 or more
    phi : number or array, mm; 6 to 40

    >>> round(float(clear_distance(150.0, 20.0)), 2)
    130.0
    """
    return np.asarray(np.maximum(np.asarray(s, dtype=float) - phi, 0.0))


@clause_2("3.8.3", "eps_1", "f_s/E_s (h - x)/(d_s - x)", names={**NAMES, "e_s": ("E_s", "MPa")})
def face_strain(f_s: Floats, h: Floats, x: Floats, depth: Floats, e_s: float = E_S) -> Array:
    """Strain at the tension face without what the concrete carries there.

    f_s : number or array, MPa; 0 or more
    h : number or array, mm; depth or more
    x : number or array, mm; 0 to 0.9 depth
    depth : number or array, mm (d_s); 50 or more
    e_s : number, MPa (E_s); 190000 to 210000

    >>> round(float(face_strain(250.0, 600.0, 220.0, 550.0)), 6)
    0.001439
    """
    return np.asarray(np.asarray(f_s) / e_s * (np.asarray(h) - x) / np.maximum(np.asarray(depth) - x, 1.0))


@clause_2(
    "3.8.2",
    "a_cr",
    "sqrt((s/2)^2 + c^2) - phi/2",
    "mm",
    names={"s": ("s", "mm"), "c": ("c", "mm"), "phi": ("phi", "mm")},
)
def distance_to_bar(s: Floats, c: Floats, phi: Floats) -> Array:
    """From a place on the face midway between bars, `s` apart, to the nearest bar whose centre is `c` inside,
    mm.

    s : number or array, mm; 0 or more
    c : number or array, mm; 0 or more
    phi : number or array, mm; 6 to 40

    >>> round(float(distance_to_bar(150.0, 50.0, 20.0)), 2)
    80.14
    """
    return np.asarray(np.hypot(0.5 * np.asarray(s), c) - 0.5 * np.asarray(phi))


@clause_2(
    "3.8.3",
    "eps_m",
    "max(eps_1 - b_t (h - x)^2/(3 E_s A_s (d - x)); 0)",
    names={**NAMES, "e_s": ("E_s", "MPa")},
)
def mean_strain(
    eps_1: Floats, b_t: Floats, h: Floats, x: Floats, a_s: Floats, d: Floats, e_s: float = E_S
) -> Array:
    """Average strain at the tension face.

    eps_1 : number or array; 0 to 0.01
    b_t : number or array, mm; above 0
    h : number or array, mm; d or more
    x : number or array, mm; 0 to 0.9 d
    a_s : number or array, mm2 (A_s); above 0
    d : number or array, mm; 50 or more
    e_s : number, MPa (E_s); 190000 to 210000

    >>> round(float(mean_strain(0.0012, 300.0, 600.0, 220.0, 1500.0, 550.0)), 10)
    0.0010541414
    """
    h, x = np.asarray(h, dtype=float), np.asarray(x, dtype=float)
    stiffened = (
        np.asarray(b_t)
        * (h - x) ** 2
        / (3.0 * e_s * np.maximum(np.asarray(a_s), 1e-9) * np.maximum(np.asarray(d) - x, 1.0))
    )
    return np.asarray(np.maximum(np.asarray(eps_1) - stiffened, 0.0))


@clause_2("3.8.3", "w", "3 a_cr eps_m/(1 + 2 (a_cr - c_min)/(h - x))", "mm")
def crack_width(a_cr: Floats, eps_m: Floats, c_min: Floats, h: Floats, x: Floats) -> Array:
    """Design surface crack width, mm.

    a_cr : number or array, mm; 0 or more
    eps_m : number or array; 0 to 0.01
    c_min : number or array, mm; 0 to a_cr
    h : number or array, mm; 50 or more
    x : number or array, mm; 0 to 0.9 h

    >>> round(float(crack_width(80.0, 0.001, 40.0, 600.0, 220.0)), 4)
    0.1983
    """
    a_cr = np.asarray(a_cr, dtype=float)
    return np.asarray(
        3.0 * a_cr * eps_m / (1.0 + 2.0 * np.maximum(a_cr - c_min, 0.0) / np.maximum(np.asarray(h) - x, 1.0))
    )


@dataclass(frozen=True)
class CrackingClauses(CrackingPart):
    """Answers on crack control (3.12.11.2; part 2, 3.8)."""

    v: Mapping[str, float]

    limits_width = True
    level, stage = "service", "cracks"

    def skin(
        self, concrete: Concrete, steel: Steel, b: float, h: float, cover: float, wanted: Service
    ) -> tuple[float, float]:
        """3.12.11.2.6, above 750 mm: no further apart than 250 mm, of the diameter of 3.12.5.4; over the
        tension half of the depth."""
        if h <= DEEP:
            return math.inf, 0.0
        phi = side_bar_diameter(SIDE_BARS, b, steel.strength)
        return SIDE_BARS, 2.0 * math.pi / 4.0 * phi**2 * 0.5 * h / SIDE_BARS

    def judge(self, moment: Array, cracked: Elastic, stage: Stage, face: Face, wanted: Service) -> CrackState:
        """By the clear distance of bars; by the crack width where the file limits it."""
        f_s = bar_stress(stage.alpha_e, moment, face.outer, cracked.x, cracked.i)
        width = self._width(f_s, cracked, face)
        if wanted.crack_width is not None:
            return CrackState(width, np.full_like(width, wanted.crack_width), "crack", width, f_s, face.outer)
        clear = np.where(moment > 0.0, clear_distance(face.spacing, face.phi), 0.0)
        return CrackState(
            clear, np.maximum(maximum_clear_distance(f_s), 1.0), "length", width, f_s, face.outer
        )

    def _width(self, f_s: Array, cracked: Elastic, face: Face) -> Array:
        """At the face midway between bars, and at a corner (cover alike on both faces)."""
        x = cracked.x
        eps_1 = face_strain(f_s, face.h, x, face.outer)
        eps_m = mean_strain(eps_1, face.b, face.h, x, face.area, face.depth)
        c = face.cover + 0.5 * face.phi
        between = crack_width(distance_to_bar(face.spacing, c, face.phi), eps_m, face.cover, face.h, x)
        return np.asarray(
            np.maximum(
                between, crack_width(distance_to_bar(2.0 * c, c, face.phi), eps_m, face.cover, face.h, x)
            )
        )
