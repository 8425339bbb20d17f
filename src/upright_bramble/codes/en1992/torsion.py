"""EN 1992-1-1 6.3 and 9.2.3: torsion of solid webs as thin-walled tubes. Arrays over stations; N, mm, MPa."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Steel
from upright_bramble.codes.en1992 import materials
from upright_bramble.codes.en1992.materials import MaterialsClauses
from upright_bramble.codes.en1992.shear import ShearClauses
from upright_bramble.codes.en1992.symbols import EN, clause
from upright_bramble.codes.parts import (
    TorsionPart,
    Tube,
    Twist,
    Web,
)
from upright_bramble.section.arrays import Array, Floats


@clause(EN, "6.3.2(1)", "t_ef", "max(A/u; 2 c)", "mm")
def wall_thickness(area: Floats, perimeter: Floats, c: Floats) -> Array:
    """Effective wall, mm; `c` from the edge to the centre of the longitudinal bars.

    area : number or array, mm2 (A); 0 or more
    perimeter : number or array, mm (u); above 0
    c : number or array, mm; 0 or more

    >>> round(float(wall_thickness(250000.0, 2500.0, 48.0)), 2)
    100.0
    """
    return np.maximum(np.asarray(area) / perimeter, 2.0 * np.asarray(c))


@clause(EN, "6.3.2(1)", "A_k", "(b - t_ef)(h - t_ef)", "mm2")
def enclosed_area(b: Floats, h: Floats, t_ef: Floats) -> Array:
    """Area within the centre-lines of the walls, mm2.

    b : number or array, mm; above 0
    h : number or array, mm; above 0
    t_ef : number or array, mm; 0 or more

    >>> round(float(enclosed_area(300.0, 600.0, 105.0)), 2)
    96525.0
    """
    return np.asarray((np.asarray(b) - t_ef) * (np.asarray(h) - t_ef))


@clause(EN, "6.3.2(1)", "u_k", "2 (b + h - 2 t_ef)", "mm")
def enclosed_perimeter(b: Floats, h: Floats, t_ef: Floats) -> Array:
    """Perimeter of A_k, mm.

    b : number or array, mm; above 0
    h : number or array, mm; above 0
    t_ef : number or array, mm; 0 or more

    >>> round(float(enclosed_perimeter(300.0, 600.0, 105.0)), 2)
    1380.0
    """
    return np.asarray(2.0 * (np.asarray(b) + h - 2.0 * np.asarray(t_ef)))


@clause(EN, "6.3.2(4)", "T_Rd,max", "2 nu f_cd A_k t_ef cot_theta/(1 + cot_theta^2)", "N mm")
def crushing_torque(nu: float, f_cd: float, a_k: Floats, t_ef: Floats, cot: Floats) -> Array:
    """Torque that crushes the struts, N mm.

    nu : number; 0.3 to 0.6
    f_cd : number, MPa; 4 to 90
    a_k : number or array, mm2 (A_k); 0 or more
    t_ef : number or array, mm; 0 or more
    cot : number or array (cot_theta); 1 to 2.5

    >>> round(float(crushing_torque(0.528, 20.0, 120000.0, 105.0, 2.5)), 2)
    91762758.62
    """
    cot = np.asarray(cot, dtype=float)
    return np.asarray(2.0 * nu * f_cd * np.asarray(a_k) * t_ef * cot / (1.0 + cot**2))


@clause(EN, "6.3.2(5)", "T_Rd,c", "2 A_k t_ef f_ctd", "N mm")
def cracking_torque(a_k: Floats, t_ef: Floats, f_ctd: float) -> Array:
    """Torque at which the walls crack, N mm.

    a_k : number or array, mm2 (A_k); 0 or more
    t_ef : number or array, mm; 0 or more
    f_ctd : number, MPa; 0.5 to 4

    >>> round(float(cracking_torque(120000.0, 105.0, 1.35)), 2)
    34020000.0
    """
    return np.asarray(2.0 * np.asarray(a_k) * t_ef * f_ctd)


@clause(EN, "6.3.2(2)", "a_sw,leg", "T_Ed/(2 A_k f_ywd cot_theta)", "mm2/mm")
def stirrups_required(t_ed: Floats, a_k: Floats, f_ywd: float, cot: Floats) -> Array:
    """One leg of the closed stirrups, mm2/mm.

    t_ed : number or array, N mm (T_Ed); 0 or more
    a_k : number or array, mm2 (A_k); above 0
    f_ywd : number, MPa; 200 to 600
    cot : number or array (cot_theta); 1 to 2.5

    >>> round(float(stirrups_required(50000000.0, 120000.0, 435.0, 2.5)), 4)
    0.1916
    """
    return np.asarray(np.asarray(t_ed) / (2.0 * np.asarray(a_k) * f_ywd * cot))


@clause(EN, "6.3.2(3)", "A_sl", "T_Ed cot_theta u_k/(2 A_k f_yd)", "mm2")
def bars_required(t_ed: Floats, a_k: Floats, u_k: Floats, f_yd: float, cot: Floats) -> Array:
    """Longitudinal bars around the section, mm2.

    t_ed : number or array, N mm (T_Ed); 0 or more
    a_k : number or array, mm2 (A_k); above 0
    u_k : number or array, mm; 0 or more
    f_yd : number, MPa; 200 to 600
    cot : number or array (cot_theta); 1 to 2.5

    >>> round(float(bars_required(50000000.0, 120000.0, 1900.0, 435.0, 2.5)), 2)
    2274.9
    """
    return np.asarray(np.asarray(t_ed) * cot * u_k / (2.0 * np.asarray(a_k) * f_yd))


@clause(EN, "9.2.3(3)", "s", "u/8", "mm")
def maximum_spacing(perimeter: Floats) -> Array:
    """Largest spacing of torsion stirrups along the beam, mm.

    perimeter : number or array, mm (u); 0 or more

    >>> round(float(maximum_spacing(2500.0)), 2)
    312.5
    """
    return np.asarray(np.asarray(perimeter) / 8.0)


@clause(
    EN,
    "6.3.2(4)",
    "share",
    "T_Ed/T_Rd,max + V_Ed/V_Rd,max",
    names={
        "t_ed": ("T_Ed", "N mm"),
        "t_max": ("T_Rd,max", "N mm"),
        "v_ed": ("V_Ed", "N"),
        "v_max": ("V_Rd,max", "N"),
    },
)
def used_share(t_ed: Floats, t_max: Floats, v_ed: Floats, v_max: Floats) -> Array:
    """Of the struts, used by torsion and shear together (6.29).

    t_ed : number or array, N mm (T_Ed); 0 or more
    t_max : number or array, N mm (T_Rd,max); above 0
    v_ed : number or array, N (V_Ed); 0 or more
    v_max : number or array, N (V_Rd,max); above 0

    >>> round(float(used_share(50000000.0, 80000000.0, 460000.0, 600000.0)), 4)
    1.3917
    """
    return np.asarray(np.asarray(t_ed) / t_max + np.asarray(v_ed) / v_max)


BAR_SPACING = 350.0  # 9.2.3(4), mm: longitudinal bars around the section


@dataclass(frozen=True)
class TorsionClauses(TorsionPart):
    """Answers on torsion (6.3, 9.2.3)."""

    v: Mapping[str, float]
    materials: MaterialsClauses
    shear: ShearClauses

    def _walls(self, tube: Tube) -> tuple[Array, Array, Array]:
        """t_ef, A_k, u_k."""
        t_ef = wall_thickness(tube.b * tube.h, 2.0 * (tube.b + tube.h), tube.bar_axis)
        t_ef = np.minimum(t_ef, 0.45 * np.minimum(tube.b, tube.h))
        return t_ef, enclosed_area(tube.b, tube.h, t_ef), enclosed_perimeter(tube.b, tube.h, t_ef)

    def equivalent_shear(self, tube: Tube, d: Array, torque: Array) -> Array:
        t_ef, a_k, _ = self._walls(tube)
        return np.asarray(torque * tube.b * self.shear.lever(d) / (2.0 * a_k * t_ef))

    @property
    def compatibility_left_out(self) -> str:
        return "6.3.1(2)"

    def required(
        self,
        concrete: Concrete,
        steels: tuple[Steel, Steel],
        web: Web,
        tube: Tube,
        shear: Array,
        torque: Array,
        cot: Array,
        compatible: bool,
    ) -> Twist:
        """6.3.2: none where (6.31) holds, nor for torque of compatibility (6.3.1(2))."""
        bars, stirrups = steels
        nu_1, f_cd = self.shear.strut_strength(concrete)
        t_ef, a_k, u_k = self._walls(tube)
        f_ctd = materials.design_tensile_strength(concrete.strength, self.v["alpha_ct"], self.v["gamma_c"])
        state = self.shear.state(concrete, stirrups, web, np.zeros_like(web.d), cot)
        small = torque / cracking_torque(a_k, t_ef, f_ctd) + shear / np.maximum(state.concrete, 1e-9) <= 1.0
        t = np.where(small | compatible, 0.0, torque)
        used = used_share(
            t, crushing_torque(nu_1, f_cd, a_k, t_ef, cot), shear, np.maximum(state.crushing, 1e-9)
        )
        u = 2.0 * (tube.b + tube.h)
        return Twist(
            stirrups_required(t, a_k, self.materials.f_yd(stirrups), cot),
            bars_required(t, a_k, u_k, self.materials.f_yd(bars), cot),
            u_k,
            tube.h - t_ef,
            np.where(t > 0.0, used, 0.0),
            np.where(t > 0.0, maximum_spacing(u), np.inf),
            BAR_SPACING,
        )
