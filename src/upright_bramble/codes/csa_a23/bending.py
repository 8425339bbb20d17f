"""CSA A23.3 10.1, 10.5: flexure, least steel. N, mm, MPa."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Steel
from upright_bramble.codes.csa_a23.materials import stress_factor
from upright_bramble.codes.csa_a23.symbols import NAMES, clause
from upright_bramble.codes.parts import BendingPart, TensionFace
from upright_bramble.section.arrays import Array, Floats, Mask


@clause("10.5.2", "r_lim", "700/(700 + f_y)")
def neutral_axis_limit(f_y: float) -> float:
    """Largest c/d with which tension bars yield.

    f_y : number, MPa; 300 to 500

    >>> round(float(neutral_axis_limit(400.0)), 4)
    0.6364
    """
    return 700.0 / (700.0 + f_y)


@clause(
    "9.2.4", "r_red", (("delta < 1", "(30 - 100 (1 - delta))/50"), ("", "1")), names={"delta": ("delta", "")}
)
def redistribution_limit(delta: Floats) -> Array:
    """Largest c/d with which a negative moment may be redistributed to `delta` of the elastic one.

    delta : number or array; 0.7 to 1

    >>> round(float(redistribution_limit(0.85)), 4)
    0.3
    """
    delta = np.asarray(delta, dtype=float)
    return np.where(delta < 1.0 - 1e-9, (30.0 - 100.0 * (1.0 - delta)) / 50.0, 1.0)


@clause(
    "10.5.2, 9.2.4", "c/d,max", "min(r_lim; r_red)", names={"limit": ("r_lim", ""), "other": ("r_red", "")}
)
def lesser_limit(limit: float, other: Floats) -> Array:
    """The lesser of both.

    limit : number (c/d,lim); 0 to 1
    other : number or array (c/d,red); 0 to 1

    >>> round(float(lesser_limit(0.636, 0.3)), 4)
    0.3
    """
    return np.asarray(np.minimum(limit, other))


@clause("10.5.1.2", "A_s,min", "0.2 sqrt(f'c) b_t h/f_y", "mm2")
def minimum_steel(f_c: float, f_y: float, b_t: Floats, h: Floats) -> Array:
    """Minimum tension steel, mm2; b_t width of the tension zone.

    f_c : number, MPa (f'c); 20 to 80
    f_y : number, MPa; 300 to 500
    b_t : number or array, mm; above 0
    h : number or array, mm; above 0

    >>> round(float(minimum_steel(30.0, 400.0, 300.0, 600.0)), 2)
    492.95
    """
    return np.asarray(0.2 * np.sqrt(f_c) * np.asarray(b_t) * h / f_y)


@clause(
    "10.5.1.2",
    "b_t",
    "min(b_f; k b_w)",
    "mm",
    names={"b_f": ("b_f", "mm"), "b_w": ("b_w", "mm"), "k": ("k", "")},
)
def tension_zone_width(b_f: Floats, b_w: Floats, k: Floats = 2.5) -> Array:
    """Width of a flange in tension that counts, mm: `k` 2.5 with overhangs at both sides, 1.5 at one.

    b_f : number or array, mm; above 0
    b_w : number or array, mm; above 0
    k : number or array; 0 or more

    >>> round(float(tension_zone_width(900.0, 300.0, 1.5)), 2)
    450.0
    """
    return np.asarray(np.minimum(b_f, np.asarray(k) * b_w))


@clause("10.5.1.1", "M_r,min", "1.2 M_cr", "N mm")
def minimum_resistance(m_cr: float) -> float:
    """Factored resistance that makes minimum steel unnecessary, N mm.

    m_cr : number, N mm (M_cr); 0 or more

    >>> round(float(minimum_resistance(78.9e6)), 2)
    94680000.0
    """
    return 1.2 * m_cr


@clause(
    "10.5.1.3",
    "A_s,min'",
    "min(A_s,min; 4/3 max(A_s,req; 0))",
    "mm2",
    names={"minimum": ("A_s,min", "mm2"), "required": ("A_s,req", "mm2")},
)
def waived_minimum(minimum: Floats, required: Floats) -> Array:
    """Minimum steel no more than a third above what the moment requires, mm2.

    minimum : number or array, mm2 (A_s,min); 0 or more
    required : number or array, mm2 (A_s,req); 0 or more

    >>> round(float(waived_minimum(500.0, 300.0)), 2)
    400.0
    """
    return np.asarray(np.minimum(minimum, 4.0 / 3.0 * np.maximum(required, 0.0)))


def waived_resistance(m_f: float) -> float:
    """10.5.1.3: factored resistance a third above the factored moment.

    m_f : number, N mm; 0 or more

    >>> waived_resistance(90.0)
    120.0
    """
    return m_f * 4.0 / 3.0


def minimum_satisfied(a_s: float, minimum: float, m_r: float, m_r_min: float, m_f: float) -> bool:
    """Any of the three tests of 10.5.1: by resistance, by area, or a third more than required.

    a_s, minimum : numbers, mm2; 0 or more
    m_r, m_r_min, m_f : numbers, N mm; 0 or more

    >>> minimum_satisfied(500.0, 600.0, 119.0, 150.0, 90.0)
    False
    """
    return a_s >= minimum or m_r >= m_r_min or m_r >= waived_resistance(m_f)


@clause(
    "10.5.3.1",
    "overhang",
    "min(l/20; (b_f - b_w)/2)",
    "mm",
    names={"l": ("l", "mm"), "b_f": ("b_f", "mm"), "b_w": ("b_w", "mm")},
)
def tension_overhang(l: float, b_f: float, b_w: float) -> float:  # noqa: E741 - the standard's symbol
    """Overhang of a flange in tension that part of the bars is spread over, mm.

    l : number, mm; above 0
    b_f : number, mm; above 0
    b_w : number, mm; above 0

    >>> round(float(tension_overhang(8000.0, 1500.0, 300.0)), 2)
    400.0
    """
    return min(l / 20.0, 0.5 * (b_f - b_w))


@clause(
    "10.10.4",
    "P_ro",
    "alpha_1 phi_c f'c (A_g - a_st) + phi_s f_y a_st",
    "N",
    names={**NAMES, "a_g": ("A_g", "mm2"), "a_st": ("a_st", "mm2")},
)
def axial_strength(
    alpha_1: float, phi_c: float, f_c: float, phi_s: float, f_y: float, a_g: float, a_st: float
) -> float:
    """Factored axial resistance at no eccentricity, N; a_st is the area of the bars.

    alpha_1 : number; 0.6 to 0.85
    phi_c, phi_s : numbers; 0.5 to 1
    f_c : number, MPa (f'c); 20 to 80
    f_y : number, MPa; 300 to 500
    a_g : number, mm2 (A_g); above 0
    a_st : number, mm2; 0 or more

    >>> round(float(axial_strength(0.805, 0.65, 30.0, 0.85, 400.0, 150000.0, 2400.0)), 1)
    3132951.0
    """
    return alpha_1 * phi_c * f_c * (a_g - a_st) + phi_s * f_y * a_st


@dataclass(frozen=True)
class BendingClauses(BendingPart):
    """Answers on flexure (10.1, 10.5)."""

    v: Mapping[str, float]

    def axial_cap(self, concrete: Concrete, steel: Steel, gross: float, bars: float, least: float) -> float:
        """10.10.4(b), tied columns."""
        f_c, v = concrete.strength, self.v
        strength = axial_strength(
            float(stress_factor(f_c)), v["phi_c"], f_c, v["phi_s"], steel.strength, gross, bars
        )
        return min(0.2 + 0.002 * least, 0.8) * strength

    def neutral_axis_ratio(self, x: Floats, d: Floats, outer: Floats) -> Array:
        return np.asarray(np.asarray(x) / d)

    def neutral_axis_limit(self, concrete: Concrete, steel: Steel, delta: Floats = 1.0) -> Array:
        return lesser_limit(neutral_axis_limit(steel.strength), redistribution_limit(delta))

    def minimum_steel_width(self, b_w: Array, b_f: Array, determinate: Mask) -> Array:
        """The flange that is in tension."""
        return b_f

    def minimum_steel(self, concrete: Concrete, steel: Steel, face: TensionFace, required: Array) -> Array:
        """10.5.1.2 and 10.5.1.3; the test by resistance (10.5.1.1) may ask for less in deep flanges and is
        not used."""
        width = tension_zone_width(face.b_own, face.b_w, np.where(face.both, 2.5, 1.5))
        return waived_minimum(minimum_steel(concrete.strength, steel.strength, width, face.h), required)
