"""Under which symbols of EN 1992-1-1 the arguments of its clause functions go, and their units."""

from __future__ import annotations

from collections.abc import Mapping
from functools import partial

from upright_bramble import working

EN = "EN 1992-1-1"

NAMES: Mapping[str, tuple[str, str]] = {
    "a1": ("alpha_1", ""), "a2": ("alpha_2", ""), "a3": ("alpha_3", ""), "a5": ("alpha_5", ""),
    "a6": ("alpha_6", ""),
    "a_b": ("a_b", "mm"), "a_s_eff": ("A_s,eff", "mm2"), "b": ("b", "mm"), "h_c_ef": ("h_c,ef", "mm"),
    "a_c": ("A_c", "mm2"), "a_ct": ("A_ct", "mm2"), "a_k": ("A_k", "mm2"), "a_l": ("a_l", "mm"),
    "a_sl": ("A_sl", "mm2"),
    "a_sw": ("A_sw", "mm2"), "a_v": ("a_v", "mm"), "area": ("A", "mm2"), "asw_s": ("a_sw", "mm2/mm"),
    "b_i": ("b_i", "mm"),
    "b_t": ("b_t", "mm"), "b_w": ("b_w", "mm"), "c_rd_c": ("C_Rd,c", ""), "cot": ("cot_theta", ""),
    "cot_alpha": ("cot_alpha", ""),
    "c_d": ("c_d", "mm"), "d": ("d", "mm"), "d_f": ("dF_d", "N"), "d_g": ("d_g", "mm"), "d_x": ("dx", "mm"),
    "delta": ("delta", ""),
    "e_cm": ("E_cm", "MPa"), "e_s": ("E_s", "MPa"), "eps_cs": ("eps_cs", ""), "f_bd": ("f_bd", "MPa"),
    "f_bt": ("F_bt", "N"),
    "f_cd": ("f_cd", "MPa"), "f_ck": ("f_ck", "MPa"), "f_ct_eff": ("f_ct,eff", "MPa"), "f_ctd": ("f_ctd",
    "MPa"),
    "f_ctm": ("f_ctm", "MPa"), "f_yd": ("f_yd", "MPa"), "f_yk": ("f_yk", "MPa"), "f_ywd": ("f_ywd", "MPa"),
    "f_ywk": ("f_ywk", "MPa"),
    "gamma_c": ("gamma_C", ""), "gamma_s": ("gamma_S", ""), "h": ("h", "mm"), "h_0": ("h_0", "mm"),
    "h_f": ("h_f", "mm"),
    "humidity": ("RH", ""), "i": ("I", "mm4"), "l_0": ("l_0", "mm"), "l_b_rqd": ("l_b,rqd", "mm"), "m": ("M",
    "N mm"),
    "m_cr": ("M_cr", "N mm"), "m_face": ("M_face", "N mm"), "m_fixed": ("M_fixed", "N mm"),
    "m_span": ("M_span", "N mm"),
    "perimeter": ("u", "mm"), "reaction": ("F_Ed,sup", "N"), "rho": ("rho_p,eff", ""), "s": ("S", "mm3"),
    "s_r_max": ("s_r,max", "mm"),
    "sigma_s": ("sigma_s", "MPa"), "spacing": ("s", "mm"), "strain": ("eps_m", ""), "t_ed": ("T_Ed", "N mm"),
    "t_ef": ("t_ef", "mm"),
    "u_k": ("u_k", "mm"), "v_min_factor": ("c_v", ""), "v_ed": ("V_Ed", "N"),
    "v_rd_c": ("V_Rd,c", "N"), "v_rd_max": ("V_Rd,max", "N"), "v_rd_s": ("V_Rd,s", "N"),
    "width": ("t", "mm"), "z": ("z", "mm"),
}  # fmt: skip

clause = partial(working.clause, names=NAMES)
