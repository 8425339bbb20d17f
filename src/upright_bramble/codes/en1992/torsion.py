"""EN 1992-1-1 6.3 and 9.2.3: torsion of solid webs as thin-walled tubes. Arrays over stations; N, mm, MPa."""

from __future__ import annotations

import numpy as np

from upright_bramble.codes.en1992.symbols import clause
from upright_bramble.section.arrays import Array, Floats

EN = "EN 1992-1-1"


@clause(EN, "6.3.2(1)", "t_ef", "max(A/u; 2 c)", "mm")
def wall_thickness(area: Floats, perimeter: Floats, c: Floats) -> Array:
    """Effective wall, mm; `c` from the edge to the centre of the longitudinal bars."""
    return np.maximum(np.asarray(area) / perimeter, 2.0 * np.asarray(c))


@clause(EN, "6.3.2(1)", "A_k", "(b - t_ef)(h - t_ef)", "mm2")
def enclosed_area(b: Floats, h: Floats, t_ef: Floats) -> Array:
    """Area within the centre-lines of the walls, mm2."""
    return np.asarray((np.asarray(b) - t_ef) * (np.asarray(h) - t_ef))


@clause(EN, "6.3.2(1)", "u_k", "2 (b + h - 2 t_ef)", "mm")
def enclosed_perimeter(b: Floats, h: Floats, t_ef: Floats) -> Array:
    """Perimeter of A_k, mm."""
    return np.asarray(2.0 * (np.asarray(b) + h - 2.0 * np.asarray(t_ef)))


@clause(EN, "6.3.2(4)", "T_Rd,max", "2 nu f_cd A_k t_ef cot_theta/(1 + cot_theta^2)", "N mm")
def crushing_torque(nu: float, f_cd: float, a_k: Floats, t_ef: Floats, cot: Floats) -> Array:
    """Torque that crushes the struts, N mm."""
    cot = np.asarray(cot, dtype=float)
    return np.asarray(2.0 * nu * f_cd * np.asarray(a_k) * t_ef * cot / (1.0 + cot**2))


@clause(EN, "6.3.2(5)", "T_Rd,c", "2 A_k t_ef f_ctd", "N mm")
def cracking_torque(a_k: Floats, t_ef: Floats, f_ctd: float) -> Array:
    """Torque at which the walls crack, N mm."""
    return np.asarray(2.0 * np.asarray(a_k) * t_ef * f_ctd)


@clause(EN, "6.3.2(2)", "a_sw,leg", "T_Ed/(2 A_k f_ywd cot_theta)", "mm2/mm")
def stirrups_required(t_ed: Floats, a_k: Floats, f_ywd: float, cot: Floats) -> Array:
    """One leg of the closed stirrups, mm2/mm."""
    return np.asarray(np.asarray(t_ed) / (2.0 * np.asarray(a_k) * f_ywd * cot))


@clause(EN, "6.3.2(3)", "A_sl", "T_Ed cot_theta u_k/(2 A_k f_yd)", "mm2")
def bars_required(t_ed: Floats, a_k: Floats, u_k: Floats, f_yd: float, cot: Floats) -> Array:
    """Longitudinal bars around the section, mm2."""
    return np.asarray(np.asarray(t_ed) * cot * u_k / (2.0 * np.asarray(a_k) * f_yd))


@clause(EN, "9.2.3(3)", "s", "u/8", "mm")
def widest_spacing(perimeter: Floats) -> Array:
    """Largest spacing of torsion stirrups along the beam, mm."""
    return np.asarray(np.asarray(perimeter) / 8.0)


BAR_SPACING = 350.0  # 9.2.3(4), mm: longitudinal bars around the section
