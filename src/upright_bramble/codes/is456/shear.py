"""IS 456 40, 26.5.1.5, 26.5.1.6: shear. Arrays over stations; N, mm, MPa."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Steel
from upright_bramble.codes.is456.materials import MaterialsClauses
from upright_bramble.codes.is456.symbols import NAMES, clause
from upright_bramble.codes.parts import ShearPart, ShearState, Web
from upright_bramble.section.arrays import Array, Floats

MINIMUM = 0.4  # 26.5.1.6, MPa
PERCENTAGES = (0.15, 0.25, 0.50, 0.75, 1.00, 1.25, 1.50, 1.75, 2.00, 2.25, 2.50, 2.75, 3.00)
GRADES = (15.0, 20.0, 25.0, 30.0, 35.0, 40.0)
STRENGTH = {  # Table 19
    15.0: (0.28, 0.35, 0.46, 0.54, 0.60, 0.64, 0.68, 0.71, 0.71, 0.71, 0.71, 0.71, 0.71),
    20.0: (0.28, 0.36, 0.48, 0.56, 0.62, 0.67, 0.72, 0.75, 0.79, 0.81, 0.82, 0.82, 0.82),
    25.0: (0.29, 0.36, 0.49, 0.57, 0.64, 0.70, 0.74, 0.78, 0.82, 0.85, 0.88, 0.90, 0.92),
    30.0: (0.29, 0.37, 0.50, 0.59, 0.66, 0.71, 0.76, 0.80, 0.84, 0.88, 0.91, 0.94, 0.96),
    35.0: (0.29, 0.37, 0.50, 0.59, 0.67, 0.73, 0.78, 0.82, 0.86, 0.90, 0.93, 0.96, 0.99),
    40.0: (0.30, 0.38, 0.51, 0.60, 0.68, 0.74, 0.79, 0.84, 0.88, 0.92, 0.95, 0.98, 1.01),
}
MAXIMUM = {15.0: 2.5, 20.0: 2.8, 25.0: 3.1, 30.0: 3.5, 35.0: 3.7, 40.0: 4.0}  # Table 20


def _grade(f_ck: float) -> float:
    """Column of the tables: the next lower grade."""
    return max(g for g in GRADES if g <= f_ck + 1e-9)


@clause("Table 19", "p_t", "100 A_st/(b d)")
def percentage(a_st: Floats, b: Floats, d: Floats) -> Array:
    """Percentage of tension steel that goes on for d beyond the section.

    a_st : number or array, mm2 (A_st); 0 or more
    b : number or array, mm; above 0
    d : number or array, mm; above 0

    >>> round(float(percentage(1256.6, 300.0, 550.0)), 4)
    0.7616
    """
    return np.asarray(100.0 * np.asarray(a_st) / (np.asarray(b) * d))


@clause("Table 19", "tau_c", "by p_t and grade", "MPa")
def concrete_stress(p_t: Floats, f_ck: float) -> Array:
    """Design shear strength of concrete, MPa: straight between the percentages of the table, of the next
    lower grade.

    p_t : number or array; 0.15 to 3
    f_ck : number, MPa; 15 to 55

    >>> round(float(concrete_stress(0.76, 20.0)), 4)
    0.5624
    """
    return np.asarray(np.interp(p_t, PERCENTAGES, STRENGTH[_grade(f_ck)]))


@clause(
    "SP 24, 40.2",
    "tau_c",
    "0.85 sqrt(0.8 min(f_ck; 40)) (sqrt(1 + 5 beta) - 1)/(6 beta)",
    "MPa",
    where={"beta": "max(0.8 min(f_ck; 40)/(6.89 min(p_t; 3)); 1)"},
)
def concrete_stress_by_formula(p_t: Floats, f_ck: float) -> Array:
    """The formula behind Table 19, MPa: f_ck of no more than 40, p_t of no more than 3.

    p_t : number or array; 0.15 to 3
    f_ck : number, MPa; 15 to 55

    >>> round(float(concrete_stress_by_formula(0.8, 25.0)), 4)
    0.5893
    """
    strength = 0.8 * min(f_ck, 40.0)
    beta = np.maximum(strength / (6.89 * np.minimum(np.asarray(p_t, dtype=float), 3.0)), 1.0)
    return np.asarray(0.85 * np.sqrt(strength) * (np.sqrt(1.0 + 5.0 * beta) - 1.0) / (6.0 * beta))


@clause("Table 20", "tau_c,max", "by grade", "MPa")
def maximum_stress(f_ck: float) -> float:
    """Greatest shear stress, MPa.

    f_ck : number, MPa; 15 to 55

    >>> round(float(maximum_stress(25.0)), 4)
    3.1
    """
    return MAXIMUM[_grade(f_ck)]


@clause("40.2.2", "delta", "min(1 + 3 P_u/(A_g f_ck); 1.5)")
def compression_factor(p_u: Floats, a_g: Floats, f_ck: float) -> Array:
    """On tau_c of members in axial compression.

    p_u : number or array, N (P_u); 0 or more
    a_g : number or array, mm2 (A_g); above 0
    f_ck : number, MPa; 15 to 55

    >>> round(float(compression_factor(300.0e3, 180000.0, 20.0)), 4)
    1.25
    """
    return np.asarray(np.minimum(1.0 + 3.0 * np.asarray(p_u) / (np.asarray(a_g) * f_ck), 1.5))


@clause("40.1", "tau_v", "V_u/(b d)", "MPa")
def nominal_stress(v_u: Floats, b: Floats, d: Floats) -> Array:
    """Nominal shear stress, MPa.

    v_u : number or array, N (V_u); 0 or more
    b : number or array, mm; above 0
    d : number or array, mm; above 0

    >>> round(float(nominal_stress(200.0e3, 300.0, 550.0)), 4)
    1.2121
    """
    return np.asarray(np.asarray(v_u) / (np.asarray(b) * d))


@clause("40.4(a)", "V_us", "f_yd a_sv d", "N", names={**NAMES, "f_yd": ("f_yd", "MPa")})
def stirrup_strength(asv_sv: Floats, f_yd: float, d: Floats) -> Array:
    """Shear that vertical stirrups carry, N.

    asv_sv : number or array, mm2/mm (a_sv); 0 or more
    f_yd : number, MPa (f_yd = 0.87 f_y); 200 to 500
    d : number or array, mm; above 0

    >>> round(float(stirrup_strength(0.67, 361.05, 550.0)), 2)
    133046.93
    """
    return np.asarray(f_yd * np.asarray(asv_sv) * d)


def bent_up_strength(a_sv: float, f_yd: float, sine: float) -> float:
    """Shear that a single bar or group bent up at one place carries (40.4(c)), N.

    a_sv : number, mm2; 0 or more
    f_yd : number, MPa; 200 to 500
    sine : number (of its angle); 0 to 1

    >>> round(bent_up_strength(628.3, 361.05, 0.70711) / 1e3, 1)
    160.4
    """
    return f_yd * a_sv * sine


def bent_up_share(v_bent: float, required: float) -> float:
    """Of bent-up bars no more than half of what shear reinforcement has to carry (40.4), N.

    v_bent, required : numbers, N; 0 or more

    >>> bent_up_share(160.0e3, 200.0e3)
    100000.0
    """
    return min(v_bent, 0.5 * required)


@clause("26.5.1.6", "a_sv,min", "0.4 b/f_yd", "mm2/mm", names={**NAMES, "f_yd": ("f_yd", "MPa")})
def minimum_stirrups(b: Floats, f_yd: float) -> Array:
    """Minimum stirrups, mm2/mm; f_y of no more than 415 MPa.

    b : number or array, mm; above 0
    f_yd : number, MPa; 200 to 500

    >>> round(float(minimum_stirrups(300.0, 361.05)), 4)
    0.3324
    """
    return np.asarray(MINIMUM * np.asarray(b) / f_yd)


@clause("40.4", "a_sv", "max(tau_v - tau_c; 0) b/f_yd", "mm2/mm", names={**NAMES, "f_yd": ("f_yd", "MPa")})
def stirrups_for(tau_v: Floats, tau_c: Floats, b: Floats, f_yd: float) -> Array:
    """Stirrups that carry what the concrete does not, mm2/mm.

    tau_v : number or array, MPa; 0 or more
    tau_c : number or array, MPa; 0 to 2
    b : number or array, mm; above 0
    f_yd : number, MPa; 200 to 500

    >>> round(float(stirrups_for(1.5, 0.56, 300.0, 361.05)), 4)
    0.7811
    """
    return np.asarray(np.maximum(np.asarray(tau_v) - tau_c, 0.0) * b / f_yd)


@clause("40.2.3", "V_u,max", "tau_c,max b d", "N")
def crushing_resistance(tau_c_max: float, b: Floats, d: Floats) -> Array:
    """Shear that is never exceeded, N.

    tau_c_max : number, MPa (tau_c,max); 2 to 5
    b : number or array, mm; above 0
    d : number or array, mm; above 0

    >>> round(float(crushing_resistance(2.8, 300.0, 550.0)), 2)
    462000.0
    """
    return np.asarray(tau_c_max * np.asarray(b) * d)


@clause("26.5.1.5", "s_v,max", "min(0.75 d; 300)", "mm")
def maximum_spacing(d: Floats) -> Array:
    """Largest spacing of vertical stirrups, mm; of inclined ones d and 300.

    d : number or array, mm; above 0

    >>> round(float(maximum_spacing(360.0)), 2)
    270.0
    """
    return np.asarray(np.minimum(0.75 * np.asarray(d, dtype=float), 300.0))


@clause("40.5.1", "tau_c,enh", "min(max(2 d/a_v; 1) tau_c; tau_c,max)", "MPa")
def enhanced_stress(tau_c: Floats, d: Floats, a_v: Floats, tau_c_max: float) -> Array:
    """Strength within 2 d of a support, MPa; a_v from the face.

    tau_c : number or array, MPa; 0 to 2
    d : number or array, mm; above 0
    a_v : number or array, mm; above 0
    tau_c_max : number, MPa (tau_c,max); 2 to 5

    >>> round(float(enhanced_stress(0.5, 500.0, 500.0, 2.8)), 4)
    1.0
    """
    return np.asarray(np.minimum(np.asarray(tau_c) * np.maximum(2.0 * np.asarray(d) / a_v, 1.0), tau_c_max))


@clause(
    "40.5.2",
    "A_s",
    "max(a_v b (tau_v - 2 d tau_c/a_v); 0.4 a_v b)/f_yd",
    "mm2",
    names={**NAMES, "f_yd": ("f_yd", "MPa")},
)
def stirrups_near_support(tau_v: float, tau_c: float, a_v: float, b: float, d: float, f_yd: float) -> float:
    """Stirrups within the middle three quarters of a_v, mm2.

    tau_v : number, MPa; 0 or more
    tau_c : number, MPa; 0 to 2
    a_v : number, mm; above 0
    b : number, mm; above 0
    d : number, mm; above 0
    f_yd : number, MPa; 200 to 500

    >>> round(float(stirrups_near_support(2.0, 0.5, 600.0, 300.0, 500.0, 361.05)), 2)
    581.64
    """
    return max(a_v * b * (tau_v - 2.0 * d * tau_c / a_v), MINIMUM * a_v * b) / f_yd


@clause(
    "40.4",
    "V_uR",
    "min(tau_c b d + f_yd a_sv d; tau_c,max b d)",
    "N",
    names={**NAMES, "f_yd": ("f_yd", "MPa")},
)
def design_resistance(
    tau_c: Floats, asv_sv: Floats, f_yd: float, tau_c_max: float, b: Floats, d: Floats
) -> Array:
    """Shear resistance of concrete and stirrups, N.

    tau_c : number or array, MPa; 0 to 2
    asv_sv : number or array, mm2/mm (a_sv); 0 or more
    f_yd : number, MPa; 200 to 500
    tau_c_max : number, MPa (tau_c,max); 2 to 5
    b : number or array, mm; above 0
    d : number or array, mm; above 0

    >>> round(float(design_resistance(0.56, 0.67, 361.05, 2.8, 300.0, 550.0)), 2)
    225446.93
    """
    b, d = np.asarray(b, dtype=float), np.asarray(d, dtype=float)
    return np.asarray(np.minimum((np.asarray(tau_c) * b + np.asarray(asv_sv) * f_yd) * d, tau_c_max * b * d))


@clause("40.4", "A_sv", "V/f_yd", "mm2", names={"force": ("V", "N"), "f_yd": ("f_yd", "MPa")})
def suspension_stirrups(force: float, f_yd: float) -> float:
    """Stirrups that carry a whole reaction up, mm2.

    force : number, N (V); 0 or more
    f_yd : number, MPa; 200 to 500

    >>> round(float(suspension_stirrups(200.0e3, 361.05)), 2)
    553.94
    """
    return max(force, 0.0) / f_yd


@dataclass(frozen=True)
class ShearClauses(ShearPart):
    """Answers on shear (40)."""

    v: Mapping[str, float]
    materials: MaterialsClauses

    crushes_at_face = True

    def lever(self, d: Floats) -> Array:
        return np.asarray(d) * 1.0

    def concrete(self, concrete: Concrete, web: Web) -> Array:
        """tau_c; nothing of it beside tension along the beam, of which the standard says nothing."""
        tau_c = concrete_stress(percentage(web.a_sl, web.b, web.d), concrete.strength)
        axial = np.asarray(web.axial, dtype=float)
        if not np.any(axial):
            return tau_c
        return np.where(
            axial < 0.0, 0.0, compression_factor(np.maximum(axial, 0.0), web.gross, concrete.strength) * tau_c
        )

    def state(self, concrete: Concrete, steel: Steel, web: Web, asw_s: Array, cot: Array) -> ShearState:
        f_yd = self.materials.stirrup_yield(steel)
        tau_c, highest = self.concrete(concrete, web), maximum_stress(concrete.strength)
        area = web.b * web.d
        total = design_resistance(tau_c, asw_s, f_yd, highest, web.b, web.d)
        return ShearState(
            web.d, cot, tau_c * area, asw_s * f_yd * web.d, crushing_resistance(highest, web.b, web.d), total
        )

    def model(self, concrete: Concrete, steel: Steel, web: Web, asw_s: Array, cot: Array) -> list[str]:
        return ["tau_c by Table 19"] * len(web.d)

    def near_support_resistance(self, steel: Steel, area: float) -> float:
        """For comparison: their design yield force."""
        return area * self.materials.stirrup_yield(steel)

    def stirrups_required(self, concrete: Concrete, steel: Steel, web: Web, v_ed: Array, cot: Array) -> Array:
        return stirrups_for(
            nominal_stress(v_ed, web.b, web.d),
            self.concrete(concrete, web),
            web.b,
            self.materials.stirrup_yield(steel),
        )

    def minimum_stirrups(self, concrete: Concrete, steel: Steel, b: Array) -> Array:
        """Throughout: the exception for members of minor importance is not used."""
        return minimum_stirrups(b, self.materials.stirrup_yield(steel))

    def maximum_spacing(self, concrete: Concrete, web: Web, v_ed: Array) -> Array:
        return maximum_spacing(web.d)

    def maximum_leg_spacing(self, concrete: Concrete, web: Web, v_ed: Array) -> Array:
        """The standard has no such rule."""
        return np.full(np.shape(web.d), np.inf)

    def suspension_steel(self, steel: Steel, reaction: float) -> float:
        return suspension_stirrups(reaction, self.materials.stirrup_yield(steel))

    def anchored_beyond(self, anchorage: Array, d: Array) -> Array:
        """Table 19: bars count that go on for an effective depth."""
        return 0.0 * anchorage + d
