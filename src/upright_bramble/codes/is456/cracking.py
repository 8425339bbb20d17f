"""IS 456 26.3.3, 26.5.1.3, 35.3.2, annex F: cracks, by the distance of bars or by their width. N, mm, MPa."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Service, Steel
from upright_bramble.codes.is456.materials import E_S
from upright_bramble.codes.is456.symbols import NAMES, clause
from upright_bramble.codes.parts import CrackingPart, CrackState, Face, Stage
from upright_bramble.section.arrays import Array, Floats
from upright_bramble.section.cracked import Elastic

DEEP, SIDE_SHARE = 750.0, 0.001  # 26.5.1.3
WIDTHS = {"normal": 0.3, "moist": 0.2, "aggressive": 0.1}  # 35.3.2, mm
SPACING = {  # Table 15: by grade, at -30, -15, 0, +15, +30 % redistributed to the section
    250.0: (215.0, 260.0, 300.0, 300.0, 300.0), 415.0: (125.0, 155.0, 180.0, 210.0, 235.0), 500.0: (105.0,
    130.0, 150.0, 175.0, 195.0),
}  # fmt: skip


@clause("Table 15", "a_T15", "by grade and redistribution", "mm")
def table_distance(f_y: float, redistribution: float = 0.0) -> float:
    """Largest clear distance of bars in tension, mm; `redistribution` in percent to (+) or from (-) the
    section. Other grades by the next higher one, beyond Fe 500 in proportion.

    f_y : number, MPa; 250 to 550
    redistribution : number; 0 to 30

    >>> round(float(table_distance(415.0)), 2)
    180.0
    """
    grade = next((g for g in SPACING if g >= f_y - 1e-9), 500.0)
    values = np.interp(redistribution, (-30.0, -15.0, 0.0, 15.0, 30.0), SPACING[grade])
    return float(values) * (500.0 / f_y if f_y > 500.0 else 1.0)


@clause("26.3.3", "a_max", "min(min(a_T15; 47000/f_s); 300)", "mm", names={**NAMES, "table": ("a_T15", "mm")})
def maximum_clear_distance(table: float, f_s: Floats) -> Array:
    """The same, and what the table is made from with the service stress that there is: it covers bars that
    redistribution stresses more.


    table : number, mm (a_T15); 0 or more
    f_s : number or array, MPa; above 0

    >>> round(float(maximum_clear_distance(180.0, 250.0)), 2)
    180.0
    """
    return np.asarray(
        np.minimum(np.minimum(table, 47_000.0 / np.maximum(np.asarray(f_s, dtype=float), 1e-6)), 300.0)
    )


@clause("26.3.3", "a", "max(s - phi; 0)", "mm")
def clear_distance(s: Floats, phi: Floats) -> Array:
    """Of bars whose centres are `s` apart, mm.

    s : number or array, mm; 0 or more
    phi : number or array, mm; 6 to 40

    >>> round(float(clear_distance(150.0, 20.0)), 2)
    130.0
    """
    return np.asarray(np.maximum(np.asarray(s, dtype=float) - phi, 0.0))


@clause("annex F", "f_s", "m M (d_s - x)/I", "MPa")
def bar_stress(alpha_e: Floats, m: Floats, depth_s: Floats, x: Floats, i: Floats) -> Array:
    """Stress of bars of a cracked section, MPa.

    alpha_e : number or array (m); 1 to 60
    m : number or array, N mm (M); 0 or more
    depth_s : number or array, mm (d_s); 0 or more
    x : number or array, mm; 0 to depth_s
    i : number or array, mm4 (I); above 0

    >>> round(float(bar_stress(15.0, 150.0e6, 550.0, 220.0, 3.5e9)), 2)
    212.14
    """
    return np.asarray(np.asarray(alpha_e) * m * np.maximum(np.asarray(depth_s) - x, 0.0) / i)


@clause(
    "annex F",
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


@clause("annex F", "eps_1", "f_s/E_s (D - x)/(d_s - x)", names={**NAMES, "e_s": ("E_s", "MPa")})
def face_strain(f_s: Floats, depth: Floats, x: Floats, depth_s: Floats, e_s: float = E_S) -> Array:
    """Strain at the tension face without what the concrete carries there.

    f_s : number or array, MPa; 0 or more
    depth : number or array, mm (D); depth_s or more
    x : number or array, mm; 0 to 0.9 depth_s
    depth_s : number or array, mm (d_s); 50 or more
    e_s : number, MPa (E_s); 190000 to 210000

    >>> round(float(face_strain(250.0, 600.0, 220.0, 550.0)), 10)
    0.0014393939
    """
    return np.asarray(
        np.asarray(f_s) / e_s * (np.asarray(depth) - x) / np.maximum(np.asarray(depth_s) - x, 1.0)
    )


@clause(
    "annex F",
    "eps_m",
    "max(eps_1 - b (D - x)^2/(3 E_s A_st (d - x)); 0)",
    names={**NAMES, "e_s": ("E_s", "MPa")},
)
def mean_strain(
    eps_1: Floats, b: Floats, depth: Floats, x: Floats, a_st: Floats, d: Floats, e_s: float = E_S
) -> Array:
    """Average strain at the tension face.

    eps_1 : number or array; 0 to 0.01
    b : number or array, mm; above 0
    depth : number or array, mm (D); d or more
    x : number or array, mm; 0 to 0.9 d
    a_st : number or array, mm2 (A_st); above 0
    d : number or array, mm; 50 or more
    e_s : number, MPa (E_s); 190000 to 210000

    >>> round(float(mean_strain(0.0012, 300.0, 600.0, 220.0, 1500.0, 550.0)), 10)
    0.0010541414
    """
    below = np.asarray(depth, dtype=float) - x
    stiffened = (
        np.asarray(b)
        * below**2
        / (3.0 * e_s * np.maximum(np.asarray(a_st), 1e-9) * np.maximum(np.asarray(d) - x, 1.0))
    )
    return np.asarray(np.maximum(np.asarray(eps_1) - stiffened, 0.0))


@clause("annex F", "w_cr", "3 a_cr eps_m/(1 + 2 (a_cr - c_min)/(D - x))", "mm")
def crack_width(a_cr: Floats, eps_m: Floats, c_min: Floats, depth: Floats, x: Floats) -> Array:
    """Design surface crack width, mm.

    a_cr : number or array, mm; 0 or more
    eps_m : number or array; 0 to 0.01
    c_min : number or array, mm; 0 to a_cr
    depth : number or array, mm (D); 50 or more
    x : number or array, mm; 0 to 0.9 depth

    >>> round(float(crack_width(80.0, 0.001, 40.0, 600.0, 220.0)), 4)
    0.1983
    """
    a_cr = np.asarray(a_cr, dtype=float)
    return np.asarray(
        3.0
        * a_cr
        * eps_m
        / (1.0 + 2.0 * np.maximum(a_cr - c_min, 0.0) / np.maximum(np.asarray(depth) - x, 1.0))
    )


def side_face_steel(web_area: float) -> float:
    """26.5.1.3: of each face of a web deeper than 750 mm, mm2.

    web_area : number, mm2; 0 or more

    >>> side_face_steel(315000.0)
    157.5
    """
    return 0.5 * SIDE_SHARE * web_area


def side_face_spacing(b: float) -> float:
    """26.5.1.3: distance of those bars, mm.

    b : number, mm; above 0

    >>> side_face_spacing(350.0)
    300.0
    """
    return min(300.0, b)


@dataclass(frozen=True)
class CrackingClauses(CrackingPart):
    """Answers on crack control (26.3.3, annex F)."""

    v: Mapping[str, float]

    limits_width = True
    level, stage = "service", "cracks"

    def skin(
        self, concrete: Concrete, steel: Steel, b: float, h: float, cover: float, wanted: Service
    ) -> tuple[float, float]:
        """26.5.1.3: side face reinforcement above 750 mm; of both faces' about half in the tension half."""
        if h <= DEEP:
            return math.inf, 0.0
        return side_face_spacing(b), side_face_steel(b * h)

    def judge(self, moment: Array, cracked: Elastic, stage: Stage, face: Face, wanted: Service) -> CrackState:
        """By the clear distance of bars; by the crack width where the file limits it."""
        f_s = bar_stress(stage.alpha_e, moment, face.outer, cracked.x, cracked.i)
        width = self._width(f_s, cracked, face)
        if wanted.crack_width is not None:
            return CrackState(width, np.full_like(width, wanted.crack_width), "crack", width, f_s, face.outer)
        clear = np.where(moment > 0.0, clear_distance(face.spacing, face.phi), 0.0)
        limit = maximum_clear_distance(table_distance(float(face.strength.max())), f_s)
        return CrackState(clear, np.maximum(limit, 1.0), "length", width, f_s, face.outer)

    def _width(self, f_s: Array, cracked: Elastic, face: Face) -> Array:
        """At the face midway between bars, and at a corner (cover alike on both faces)."""
        x = cracked.x
        eps_m = mean_strain(face_strain(f_s, face.h, x, face.outer), face.b, face.h, x, face.area, face.depth)
        c = face.cover + 0.5 * face.phi
        between = crack_width(distance_to_bar(face.spacing, c, face.phi), eps_m, face.cover, face.h, x)
        return np.asarray(
            np.maximum(
                between, crack_width(distance_to_bar(2.0 * c, c, face.phi), eps_m, face.cover, face.h, x)
            )
        )
