"""Under which symbols of IS 456 the arguments of its clause functions go, their units."""

from __future__ import annotations

from collections.abc import Mapping
from functools import partial

from upright_bramble import working

IS = "IS 456"

NAMES: Mapping[str, tuple[str, str]] = {
    "a_b": ("a", "mm"), "a_cr": ("a_cr", "mm"), "a_g": ("A_g", "mm2"), "a_sc": ("A_sc", "mm2"),
    "a_st": ("A_st", "mm2"),
    "a_v": ("a_v", "mm"), "asv_sv": ("a_sv", "mm2/mm"), "b": ("b", "mm"), "b_1": ("b_1", "mm"), "b_f": ("b_f",
    "mm"), "b_w": ("b_w", "mm"),
    "c_min": ("c_min", "mm"), "d": ("d", "mm"), "d_1": ("d_1", "mm"), "d_2": ("d'", "mm"), "d_f": ("D_f",
    "mm"), "depth": ("D", "mm"),
    "e_c": ("E_c", "MPa"), "e_eff": ("E", "MPa"), "eps_cs": ("eps_cs", ""), "eps_1": ("eps_1", ""),
    "eps_m": ("eps_m", ""),
    "f_ck": ("f_ck", "MPa"), "f_cr": ("f_cr", "MPa"), "f_s": ("f_s", "MPa"), "f_sc": ("f_sc", "MPa"),
    "f_y": ("f_y", "MPa"),
    "i_eff": ("I_eff", "mm4"), "i_gr": ("I_gr", "mm4"), "i_r": ("I_r", "mm4"), "k_4": ("k_4", ""), "l": ("l",
    "mm"), "l_0": ("l_0", "mm"),
    "l_d": ("L_d", "mm"), "l_n": ("l_n", "mm"), "m": ("M", "N mm"), "m_r": ("M_r", "N mm"), "m_t": ("M_t",
    "N mm"),
    "m_1": ("M_1", "N mm"), "p_c": ("p_c", ""), "p_t": ("p_t", ""), "p_u": ("P_u", "N"), "phi": ("phi", "mm"),
    "psi_cs": ("psi_cs", "1/mm"),
    "r": ("r", "mm"), "s": ("s", "mm"), "t_u": ("T_u", "N mm"), "tau_bd": ("tau_bd", "MPa"),
    "tau_c": ("tau_c", "MPa"),
    "tau_c_max": ("tau_c,max", "MPa"), "tau_v": ("tau_v", "MPa"), "tau_ve": ("tau_ve", "MPa"),
    "theta": ("theta", ""),
    "v_e": ("V_e", "N"), "v_u": ("V_u", "N"), "x": ("x", "mm"), "x_1": ("x_1", "mm"), "x_u": ("x_u", "mm"),
    "x_u_max": ("x_u,max", "mm"),
    "y_1": ("y_1", "mm"), "y_f": ("y_f", "mm"), "z": ("z", "mm"), "h": ("h", "mm"), "l_o": ("L_o", "mm"),
    "alpha_e": ("m", ""),
    "depth_s": ("d_s", "mm"), "i": ("I", "mm4"), "kappa": ("kappa", "1/mm"),
}  # fmt: skip

clause = partial(working.clause, IS, names=NAMES)
