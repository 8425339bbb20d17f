"""EN 1992-1-1 bending: limits, minimum and maximum steel. N, mm, MPa."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Steel
from upright_bramble.codes.en1992 import materials
from upright_bramble.codes.en1992.symbols import EN, clause
from upright_bramble.codes.parts import BendingPart, TensionFace
from upright_bramble.section.arrays import Array, Floats
from upright_bramble.working import record


@clause(EN, "5.5(4)", "x_u/d", "(delta - k_a)/k_b")
def neutral_axis_limit(delta: Floats, k_a: float, k_b: float) -> Array:
    """Largest x_u/d for a redistribution ratio delta (1: none); `k_a`, `k_b` = k_1, k_2 or k_3, k_4.

    delta : number or array; 0.7 to 1
    k_a : number; 0.3 to 0.5
    k_b : number; 1 to 1.5

    >>> round(float(neutral_axis_limit(0.85, 0.44, 1.25)), 4)
    0.328
    """
    return np.asarray((np.asarray(delta) - k_a) / k_b)


# (9.1N) is that of a rectangle that just cracks; a wide flange would have several times as much by its width
WIDTH_READ = "uncracked; the flange in tension counts as the rectangle that cracks at the same moment"


@clause(
    EN,
    "9.2.1.1(1)",
    "b_t",
    "min(b_m; k 6 W_t/h^2)",
    "mm",
    names={"b_m": ("b_m", "mm"), "w_t": ("W_t", "mm3"), "h": ("h", "mm"), "k": ("k", "")},
)
def tension_zone_width(b_m: Floats, w_t: Floats, h: Floats, k: float = 1.0) -> Array:
    """Width of the tension zone for the minimum steel of a flange in tension, mm: its mean width, but no more
    than the rectangle of the same depth that cracks at the same moment.

    b_m : number or array, mm; above 0
    w_t : number or array, mm3; above 0
    h : number or array, mm; above 0
    k : number; above 0

    >>> round(float(tension_zone_width(2537.0, 102.7e6, 650.0, 1.0)), 1)
    1458.5
    """
    return np.asarray(np.minimum(b_m, k * 6.0 * np.asarray(w_t) / np.asarray(h) ** 2))


@clause(EN, "9.2.1.1(1)", "A_s,min", "max(factor f_ctm/f_yk; floor) b_t d", "mm2")
def minimum_steel(
    b_t: Floats, d: Floats, f_ctm: float, f_yk: float, factor: float = 0.26, floor: float = 0.0013
) -> Array:
    """Minimum tension steel, mm2.

    b_t : number or array, mm; above 0
    d : number or array, mm; above 0
    f_ctm : number, MPa; 1 to 6
    f_yk : number, MPa; 400 to 600
    factor : number; 0 or more
    floor : number; 0 to 0.01

    >>> round(float(minimum_steel(550.0, 540.0, 2.9, 500.0, 0.26, 0.0013)), 2)
    447.88
    """
    return np.asarray(max(factor * f_ctm / f_yk, floor) * np.asarray(b_t) * d)


@clause(EN, "9.2.1.1(3)", "A_s,max", "share A_c", "mm2")
def maximum_steel(share: float, a_c: Floats) -> Array:
    """Maximum steel of a face outside laps, mm2.

    share : number; 0 to 0.04
    a_c : number or array, mm2 (A_c); above 0

    >>> round(float(maximum_steel(0.04, 300000.0)), 2)
    12000.0
    """
    return np.asarray(share * np.asarray(a_c))


@clause(EN, "6.1(4)", "e_0", "max(h/30; 20)", "mm")
def minimum_eccentricity(h: Floats) -> Array:
    """Least eccentricity of sections in compression, mm.

    h : number or array, mm; above 0

    >>> round(float(minimum_eccentricity(750.0)), 2)
    25.0
    """
    return np.maximum(np.asarray(h, dtype=float) / 30.0, 20.0)


@clause(
    EN,
    "5.8.9(4)",
    "a",
    (("share <= 0.7", "1 + 0.5 (max(share; 0.1) - 0.1)/0.6"), ("", "1.5 + 0.5 (min(share; 1) - 0.7)/0.3")),
    names={"share": ("share", "")},
)
def biaxial_exponent(share: Floats) -> Array:
    """Exponent of rectangular sections bent about both axes, by the share of the axial resistance.

    share : number or array; 0 to 1

    >>> round(float(biaxial_exponent(0.4)), 4)
    1.25
    """
    return np.asarray(np.interp(share, [0.1, 0.7, 1.0], [1.0, 1.5, 2.0]))


@clause(EN, "5.8.9(4), (5.39)", "used", "r_x^a + r_y^a")
def biaxial_share(r_x: Floats, r_y: Floats, a: Floats) -> Array:
    """Share of the resistance used, from the ratios of both moments to their resistances alone under the same
    axial force.

    r_x : number or array; 0 to 5
    r_y : number or array; 0 to 5
    a : number or array; 1 to 2

    >>> round(float(biaxial_share(0.6, 0.5, 1.25)), 4)
    0.9485
    """
    return np.asarray(np.asarray(r_x, dtype=float) ** a + np.asarray(r_y, dtype=float) ** a)


@dataclass(frozen=True)
class BendingClauses(BendingPart):
    """Answers on bending (6.1, 9.2.1.1)."""

    v: Mapping[str, float]

    def minimum_eccentricity(self, h: float) -> float:
        return float(minimum_eccentricity(h))

    def slab_bars_width(self, flange: Array, clear_span: Array) -> Array:
        """9.2.1.2(2): all of the effective width."""
        return flange

    def both_axes(self, axial_share: float, shares: tuple[float, float]) -> float:
        """5.8.9(4), for rectangles."""
        return float(biaxial_share(*shares, biaxial_exponent(axial_share)))

    def neutral_axis_ratio(self, x: Floats, d: Floats, outer: Floats) -> Array:
        """x_u/d, 5.5(4)."""
        return np.asarray(np.asarray(x) / d)

    def neutral_axis_limit(self, concrete: Concrete, steel: Steel, delta: Floats = 1.0) -> Array:
        strain = 0.6 + 0.0014 / materials.ultimate_strain(concrete.strength)
        a, b = ("1", "2") if concrete.strength <= 50.0 else ("3", "4")
        slope = self.v[f"k_{b}_strain"] * strain + self.v[f"k_{b}_constant"]
        return neutral_axis_limit(delta, self.v[f"k_{a}"], slope)

    def minimum_steel(self, concrete: Concrete, steel: Steel, face: TensionFace, required: Array) -> Array:
        f_ctm = materials.mean_tensile_strength(concrete.strength)
        factor, floor = self.v["As_min_factor"], self.v["As_min_floor"]
        b_t = face.b_t
        if (face.w_t < face.b_t * face.h**2 / 6.0 - 1.0).any():  # a flange is in tension
            record("W_t", face.w_t, "mm3", WIDTH_READ)
            b_t = tension_zone_width(b_t, face.w_t, face.h, self.v["As_min_flange"])
        return minimum_steel(b_t, face.d, f_ctm, steel.strength, factor, floor)

    def maximum_steel(self, gross_area: Array) -> Array:
        return maximum_steel(self.v["As_max"], gross_area)
