"""EN 1992-1-1 6.2 and 9.2.2: shear. Arrays over stations; N, mm, MPa."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Steel
from upright_bramble.codes.en1992 import materials
from upright_bramble.codes.en1992.materials import MaterialsClauses
from upright_bramble.codes.en1992.symbols import EN, NAMES, clause
from upright_bramble.codes.parts import (
    FlangeShear,
    ShearPart,
    ShearState,
    Web,
)
from upright_bramble.section.arrays import Array, Floats


@clause(EN, "6.2.2(1)", "k", "min(1 + sqrt(200/d); 2)")
def size_factor(d: Floats) -> Array:
    """Size effect of members without stirrups; d in mm.

    d : number or array, mm; above 0

    >>> round(float(size_factor(540.0)), 4)
    1.6086
    """
    return np.minimum(1.0 + np.sqrt(200.0 / np.asarray(d, dtype=float)), 2.0)


@clause(
    EN,
    "6.2.2(1)",
    "V_Rd,c",
    "max(max(C_Rd,c k cbrt(100 rho_l f_ck); v_min) + k_1 sigma_cp; 0) b_w d",
    "N",
    where={"rho_l": "min(A_sl/(b_w d); 0.02)", "v_min": "c_v k^1.5 sqrt(f_ck)"},
)
def resistance_without_stirrups(
    b_w: Floats,
    d: Floats,
    a_sl: Floats,
    f_ck: float,
    c_rd_c: float,
    v_min_factor: float,
    sigma_cp: Floats = 0.0,
    k_1: float = 0.15,
) -> Array:
    """Shear resistance of the concrete, N; `a_sl` only counts bars anchored l_bd + d beyond the section.

    `sigma_cp` from axial force, compression positive, MPa; `c_rd_c` = 0.18/gamma_C and `v_min_factor` (0.035)
    are national values.

    b_w : number or array, mm; above 0
    d : number or array, mm; above 0
    a_sl : number or array, mm2 (A_sl); 0 or more
    f_ck : number, MPa; 12 to 90
    c_rd_c : number (C_Rd,c); 0 to 0.2
    v_min_factor : number (c_v); 0 to 0.1
    sigma_cp : number or array, MPa; 0 or more
    k_1 : number; 0 or more

    >>> round(float(resistance_without_stirrups(300.0, 540.0, 3100.0, 30.0, 0.12, 0.035, 0.0, 0.15)), 2)
    120631.78
    """
    k = size_factor(d)
    rho_l = np.minimum(np.asarray(a_sl) / (np.asarray(b_w) * d), 0.02)
    stress = c_rd_c * k * np.cbrt(100.0 * rho_l * f_ck)
    lowest = v_min_factor * k**1.5 * np.sqrt(f_ck)
    return np.asarray(np.maximum(np.maximum(stress, lowest) + k_1 * np.asarray(sigma_cp), 0.0) * b_w * d)


@clause(EN, "6.2.2(6)", "nu", "factor (1 - f_ck/250)")
def strength_reduction(f_ck: float, factor: float = 0.6) -> float:
    """Strength reduction of concrete cracked in shear.

    f_ck : number, MPa; 12 to 90
    factor : number; 0 to 1

    >>> round(float(strength_reduction(30.0, 0.6)), 4)
    0.528
    """
    return factor * (1.0 - f_ck / 250.0)


@clause(EN, "6.2.2(6)", "V_Ed,max", "0.5 b_w d nu f_cd", "N")
def unreduced_shear_limit(b_w: Floats, d: Floats, nu: float, f_cd: float) -> Array:
    """Upper limit of the unreduced shear near supports, N.

    b_w : number or array, mm; above 0
    d : number or array, mm; above 0
    nu : number; 0.3 to 0.6
    f_cd : number, MPa; 4 to 90

    >>> round(float(unreduced_shear_limit(300.0, 540.0, 0.528, 20.0)), 2)
    855360.0
    """
    return np.asarray(0.5 * np.asarray(b_w) * d * nu * f_cd)


@clause(EN, "6.2.3(3)", "V_Rd,max", "b_w z nu_1 f_cd (cot_theta + cot_alpha)/(1 + cot_theta^2)", "N")
def crushing_resistance(
    b_w: Floats, z: Floats, nu_1: float, f_cd: float, cot: Floats, cot_alpha: float = 0.0
) -> Array:
    """Shear that crushes the struts, N.

    b_w : number or array, mm; above 0
    z : number or array, mm; 0 or more
    nu_1 : number; 0.3 to 1
    f_cd : number, MPa; 4 to 90
    cot : number or array (cot_theta); 1 to 2.5
    cot_alpha : number; 0 to 1

    >>> round(float(crushing_resistance(300.0, 550.0, 0.528, 20.0, 2.5, 0.0)), 2)
    600827.59
    """
    cot = np.asarray(cot, dtype=float)
    return np.asarray(np.asarray(b_w) * z * nu_1 * f_cd * (cot + cot_alpha) / (1.0 + cot**2))


@clause(
    EN,
    "6.2.3(3)",
    "V_Rd,s",
    "a_sw z f_ywd (cot_theta + cot_alpha) sin_alpha",
    "N",
    where={"sin_alpha": "1/sqrt(1 + cot_alpha^2)"},
)
def stirrup_resistance(asw_s: Floats, z: Floats, f_ywd: float, cot: Floats, cot_alpha: float = 0.0) -> Array:
    """Shear carried by stirrups, N; `asw_s` in mm2/mm.

    asw_s : number or array, mm2/mm (a_sw); 0 or more
    z : number or array, mm; 0 or more
    f_ywd : number, MPa; 200 to 600
    cot : number or array (cot_theta); 1 to 2.5
    cot_alpha : number; 0 to 1

    >>> round(float(stirrup_resistance(1.6, 550.0, 435.0, 2.5, 0.0)), 2)
    957000.0
    """
    sin_alpha = 1.0 / np.sqrt(1.0 + cot_alpha**2)
    return np.asarray(np.asarray(asw_s) * z * f_ywd * (np.asarray(cot) + cot_alpha) * sin_alpha)


@clause(EN, "6.2.3(3)", "a_sw,rqd", "V_Ed/(z f_ywd cot_theta)", "mm2/mm")
def stirrups_required(v_ed: Floats, z: Floats, f_ywd: float, cot: Floats) -> Array:
    """A_sw/s for a shear (6.8), mm2/mm.

    v_ed : number or array, N (V_Ed); 0 or more
    z : number or array, mm; above 0
    f_ywd : number, MPa; 200 to 600
    cot : number or array (cot_theta); 1 to 2.5

    >>> round(float(stirrups_required(460000.0, 550.0, 435.0, 2.5)), 4)
    0.7691
    """
    return np.asarray(np.asarray(v_ed) / (np.asarray(z) * f_ywd * cot))


@clause(
    EN,
    "6.2.3(2)",
    "cot_theta",
    "min(max((1 + sqrt(max(1 - 4 share^2; 0)))/(2 share); minimum); highest)",
    where={"share": "V_Ed/(b_w z nu_1 f_cd)"},
)
def flattest_strut(
    v_ed: Floats, b_w: Floats, z: Floats, nu_1: float, f_cd: float, minimum: float, highest: float
) -> Array:
    """The largest cot theta whose strut is not crushed by `v_ed` (N); `minimum` where even that is crushed.

    v_ed : number or array, N (V_Ed); above 0
    b_w : number or array, mm; above 0
    z : number or array, mm; above 0
    nu_1 : number; 0.3 to 1
    f_cd : number, MPa; 4 to 90
    minimum : number; 1 to 2.5
    highest : number; minimum to 2.5

    >>> round(float(flattest_strut(460000.0, 300.0, 550.0, 0.528, 20.0, 1.0, 2.5)), 4)
    2.5
    """
    share = np.maximum(np.asarray(v_ed) / (np.asarray(b_w) * z * nu_1 * f_cd), 1e-9)  # = cot/(1+cot^2)
    root = np.sqrt(np.maximum(1.0 - 4.0 * share**2, 0.0))
    return np.where(share > 0.5, minimum, np.clip((1.0 + root) / (2.0 * share), minimum, highest))


@clause(EN, "6.2.3(1)", "z", "0.9 d", "mm")
def lever(d: Floats) -> Array:
    """Lever arm of the truss, mm.

    d : number or array, mm; above 0

    >>> round(float(lever(540.0)), 2)
    486.0
    """
    return np.asarray(0.9 * np.asarray(d))


@clause(EN, "6.2.1(3)", "V_Rd", "min(max(V_Rd,c; V_Rd,s); V_Rd,max)", "N")
def resistance(v_rd_c: Floats, v_rd_s: Floats, v_rd_max: Floats) -> Array:
    """Of concrete alone or of the stirrups, N, no more than what crushes the struts.

    v_rd_c : number or array, N (V_Rd,c); 0 or more
    v_rd_s : number or array, N (V_Rd,s); 0 or more
    v_rd_max : number or array, N (V_Rd,max); 0 or more

    >>> round(float(resistance(1.0, 1.0, 1.0)), 4)
    1.0
    """
    return np.minimum(np.maximum(v_rd_c, v_rd_s), v_rd_max)


@clause(EN, "9.2.1.3(2)", "a_l", "z (cot_theta - cot_alpha)/2", "mm")
def shift(z: Floats, cot: Floats, cot_alpha: float = 0.0) -> Array:
    """Distance by which the moment line is shifted, mm.

    z : number or array, mm; 0 or more
    cot : number or array (cot_theta); 1 to 2.5
    cot_alpha : number; 0 to 1

    >>> round(float(shift(550.0, 2.5, 0.0)), 2)
    687.5
    """
    return np.asarray(0.5 * np.asarray(z) * (np.asarray(cot) - cot_alpha))


@clause(EN, "6.2.3(7)", "dF_td", "0.5 V_Ed (cot_theta - cot_alpha)", "N")
def additional_tension(v_ed: Floats, cot: Floats, cot_alpha: float = 0.0) -> Array:
    """Tension in the chord from shear, N.

    v_ed : number or array, N (V_Ed); 0 or more
    cot : number or array (cot_theta); 1 to 2.5
    cot_alpha : number; 0 to 1

    >>> round(float(additional_tension(460000.0, 2.5, 0.0)), 2)
    575000.0
    """
    return np.asarray(0.5 * np.asarray(v_ed) * (np.asarray(cot) - cot_alpha))


@clause(EN, "9.2.2(5)", "a_sw,min", "factor sqrt(f_ck)/f_ywk b_w", "mm2/mm")
def minimum_stirrups(b_w: Floats, f_ck: float, f_ywk: float, factor: float = 0.08) -> Array:
    """Minimum A_sw/s, mm2/mm.

    b_w : number or array, mm; above 0
    f_ck : number, MPa; 12 to 90
    f_ywk : number, MPa; 200 to 600
    factor : number; 0 or more

    >>> round(float(minimum_stirrups(300.0, 30.0, 500.0, 0.08)), 4)
    0.2629
    """
    return np.asarray(factor * np.sqrt(f_ck) / f_ywk * np.asarray(b_w))


@clause(EN, "9.2.2(6)", "s_l,max", "factor d (1 + cot_alpha)", "mm")
def maximum_spacing(d: Floats, factor: float = 0.75, cot_alpha: float = 0.0) -> Array:
    """Largest spacing of stirrups along the beam, mm.

    d : number or array, mm; above 0
    factor : number; 0 or more
    cot_alpha : number; 0 to 1

    >>> round(float(maximum_spacing(540.0, 0.75, 0.0)), 2)
    405.0
    """
    return np.asarray(factor * np.asarray(d) * (1.0 + cot_alpha))


@clause(EN, "9.2.2(8)", "s_t,max", "min(factor d; maximum)", "mm")
def maximum_leg_spacing(d: Floats, factor: float = 0.75, maximum: float = 600.0) -> Array:
    """Largest distance of stirrup legs across the beam, mm.

    d : number or array, mm; above 0
    factor : number; 0 or more
    maximum : number, mm; above 0

    >>> round(float(maximum_leg_spacing(540.0, 0.75, 600.0)), 2)
    405.0
    """
    return np.minimum(factor * np.asarray(d), maximum)


@clause(EN, "6.2.3(8)", "beta", "min(max(a_v; 0.5 d)/(2 d); 1)")
def near_support_factor(a_v: Floats, d: Floats) -> Array:
    """Share of a load within 2 d of a support that counts for stirrups; `a_v` from the support's face, mm.

    a_v : number or array, mm; 0 or more
    d : number or array, mm; above 0

    >>> round(float(near_support_factor(500.0, 540.0)), 4)
    0.463
    """
    d = np.asarray(d, dtype=float)
    return np.asarray(np.minimum(np.maximum(np.asarray(a_v), 0.5 * d) / (2.0 * d), 1.0))


@clause(EN, "6.2.3(8)", "V_Rd,s", "A_sw f_ywd sin_alpha", "N")
def stirrups_near_support(a_sw: Floats, f_ywd: float, sin_alpha: float = 1.0) -> Array:
    """Resistance of the stirrups within the middle three quarters of a_v, N.

    a_sw : number or array, mm2 (A_sw); 0 or more
    f_ywd : number, MPa; 200 to 600
    sin_alpha : number; 0.7 to 1

    >>> round(float(stirrups_near_support(1550.0, 435.0, 1.0)), 2)
    674250.0
    """
    return np.asarray(np.asarray(a_sw) * f_ywd * sin_alpha)


@clause(EN, "6.2.4(3)", "v_Ed", "dF_d/(h_f dx)", "MPa")
def flange_stress(d_f: Floats, h_f: Floats, d_x: Floats) -> Array:
    """Shear stress between web and one side of the flange, MPa.

    d_f : number or array, N (dF_d); 0 or more
    h_f : number or array, mm; above 0
    d_x : number or array, mm (dx); above 0

    >>> round(float(flange_stress(260000.0, 190.0, 1750.0)), 4)
    0.782
    """
    return np.asarray(np.asarray(d_f) / (np.asarray(h_f) * d_x))


@clause(EN, "6.2.4(4)", "v_Rd,max", "nu f_cd cot_theta/(1 + cot_theta^2)", "MPa")
def flange_crushing(nu: float, f_cd: float, cot: Floats) -> Array:
    """Stress that crushes the struts of a flange, MPa; cot theta_f from 1 to 2 in compression, to 1.25 in
    tension.

    nu : number; 0.3 to 0.6
    f_cd : number, MPa; 4 to 90
    cot : number or array (cot_theta); 1 to 2.5

    >>> round(float(flange_crushing(0.528, 20.0, 2.5)), 4)
    3.6414
    """
    cot = np.asarray(cot, dtype=float)
    return np.asarray(nu * f_cd * cot / (1.0 + cot**2))


@clause(
    EN, "6.2.4(4)", "a_sf", "v_Ed h_f/(cot_theta f_yd)", "mm2/mm", names={**NAMES, "v_ed": ("v_Ed", "MPa")}
)
def flange_steel(v_ed: Floats, h_f: Floats, f_yd: float, cot: Floats) -> Array:
    """Cross bars through the flange, mm2/mm.

    v_ed : number or array, MPa (v_Ed); 0 or more
    h_f : number or array, mm; 0 or more
    f_yd : number, MPa; 200 to 600
    cot : number or array (cot_theta); 1 to 2.5

    >>> round(float(flange_steel(460000.0, 190.0, 435.0, 2.5)), 2)
    80367.82
    """
    return np.asarray(np.asarray(v_ed) * h_f / (np.asarray(cot) * f_yd))


@clause(EN, "9.2.5(1)", "A_sw", "F/f_ywd", "mm2", names={"force": ("F", "N"), "f_ywd": ("f_ywd", "MPa")})
def suspension_stirrups(force: float, f_ywd: float) -> float:
    """Stirrups that carry a whole force up, mm2.

    force : number, N (F); 0 or more
    f_ywd : number, MPa; 200 to 600

    >>> round(float(suspension_stirrups(460000.0, 435.0)), 2)
    1057.47
    """
    return max(force, 0.0) / f_ywd


@dataclass(frozen=True)
class ShearClauses(ShearPart):
    """Answers on shear (6.2, 9.2.2, 9.2.5); `upright_in_tension`: struts at 45 degrees beside tension from
    outside."""

    v: Mapping[str, float]
    materials: MaterialsClauses
    upright_in_tension: bool

    crushes_at_face = True

    def strength_in_shear(self, concrete: Concrete) -> float:
        """f_ck as far as the annex lets it count in shear (3.1.2(2)P), MPa."""
        return min(concrete.strength, self.v["f_ck_shear_max"])

    def strut_strength(self, concrete: Concrete) -> tuple[float, float]:
        f_ck = self.strength_in_shear(concrete)
        nu_1 = strength_reduction(f_ck, self.v["nu_1_factor"])
        return nu_1, materials.design_strength(f_ck, self.v["alpha_cc_shear"], self.v["gamma_c"])

    def lever(self, d: Floats) -> Array:
        return lever(d)

    def strut(
        self, concrete: Concrete, b: Array, d: Array, v_ed: Array, reserve: float, axial: Floats = 0.0
    ) -> Array:
        """UK annex, 6.2.3(2): 45 degrees beside tension from outside."""
        nu_1, f_cd = self.strut_strength(concrete)
        lowest, maximum = self.v["cot_theta_min"], self.v["cot_theta_max"]
        result = flattest_strut(v_ed / (1.0 - reserve), b, self.lever(d), nu_1, f_cd, lowest, maximum)
        pulled = (np.asarray(axial) < -1.0) & self.upright_in_tension
        return np.where(pulled, np.minimum(result, max(lowest, 1.0)), result)

    def state(self, concrete: Concrete, steel: Steel, web: Web, asw_s: Array, cot: Array) -> ShearState:
        nu_1, f_cd = self.strut_strength(concrete)
        z = self.lever(web.d)
        c_rd_c = self.v["C_Rd_c"] / self.v["gamma_c"]
        sigma = np.minimum(np.asarray(web.axial) / web.gross, 0.2 * f_cd)
        alone = resistance_without_stirrups(
            web.b, web.d, web.a_sl, self.strength_in_shear(concrete), c_rd_c, self.v["v_min"], sigma
        )
        tied = stirrup_resistance(asw_s, z, self.materials.f_yd(steel), cot)
        crushed = crushing_resistance(web.b, z, nu_1, f_cd, cot)
        return ShearState(z, cot, alone, tied, crushed, resistance(alone, tied, crushed))

    def model(self, concrete: Concrete, steel: Steel, web: Web, asw_s: Array, cot: Array) -> list[str]:
        return [f"cot theta {c:.2f}" for c in cot]

    def near_support_factor(self, a_v: Array, d: float) -> Array:
        """beta, 6.2.3(8)."""
        return near_support_factor(a_v, d)

    def near_support_resistance(self, steel: Steel, area: float) -> float:
        """A_sw f_ywd, 6.2.3(8)."""
        return float(stirrups_near_support(area, self.materials.f_yd(steel)))

    def stirrups_required(self, concrete: Concrete, steel: Steel, web: Web, v_ed: Array, cot: Array) -> Array:
        return stirrups_required(v_ed, self.lever(web.d), self.materials.f_yd(steel), cot)

    def minimum_stirrups(self, concrete: Concrete, steel: Steel, b: Array) -> Array:
        return minimum_stirrups(b, concrete.strength, steel.strength, self.v["rho_w_min"])

    def maximum_spacing(self, concrete: Concrete, web: Web, v_ed: Array) -> Array:
        return maximum_spacing(web.d, self.v["s_l_max"])

    def maximum_leg_spacing(self, concrete: Concrete, web: Web, v_ed: Array) -> Array:
        return maximum_leg_spacing(web.d, self.v["s_t_max"], self.v["s_t_most"])

    def shift(self, d: Floats, cot: Floats) -> Array:
        return shift(self.lever(d), cot)

    def flange(
        self, concrete: Concrete, steel: Steel, force: float, thickness: float, length: float, pulled: bool
    ) -> FlangeShear | None:
        """6.2.4: cot theta_f from 1 to 2 in compression, to 1.25 in tension; up to 0.4 f_ctd nothing beyond
        the slab's own steel."""
        nu, f_cd = self.strut_strength(concrete)
        v = float(flange_stress(force, thickness, length))
        cot = float(flattest_strut(v, 1.0, 1.0, nu, f_cd, 1.0, 1.25 if pulled else 2.0))
        f_ctd = materials.design_tensile_strength(concrete.strength, self.v["alpha_ct"], self.v["gamma_c"])
        required = (
            0.0 if v <= 0.4 * f_ctd else float(flange_steel(v, thickness, self.materials.f_yd(steel), cot))
        )
        return FlangeShear(v, float(flange_crushing(nu, f_cd, cot)), required)

    def suspension_steel(self, steel: Steel, reaction: float) -> float:
        """9.2.5(1): for the whole reaction."""
        return suspension_stirrups(reaction, self.materials.f_yd(steel))

    def anchored_beyond(self, anchorage: Array, d: Array) -> Array:
        """6.2.2(1): bars count in rho_l when they go on for l_bd + d."""
        return anchorage + d
