"""Under which symbols of CSA A23.3 the arguments of its clause functions go, their units."""

from __future__ import annotations

from collections.abc import Mapping
from functools import partial

from upright_bramble import working

CSA = "CSA A23.3:19"

NAMES: Mapping[str, tuple[str, str]] = {
    "a_b": ("A_b", "mm2"), "a_c": ("A_c", "mm2"), "a_g": ("A_g", "mm2"), "a_o": ("A_o", "mm2"),
    "a_oh": ("A_oh", "mm2"),
    "a_s": ("A_s", "mm2"), "at_s": ("a_t", "mm2/mm"), "av_s": ("a_v", "mm2/mm"), "area": ("A", "mm2"),
    "b_t": ("b_t", "mm"),
    "b_w": ("b_w", "mm"), "beta": ("beta", ""), "c": ("c", "mm"), "cot": ("cot_theta", ""), "d": ("d", "mm"),
    "d_agg": ("a_g", "mm"),
    "d_b": ("d_b", "mm"), "d_c": ("d_c", "mm"), "d_cs": ("d_cs", "mm"), "d_v": ("d_v", "mm"), "e_c": ("E_c",
    "MPa"),
    "e_s": ("E_s", "MPa"), "eps_x": ("eps_x", ""), "f_c": ("f'c", "MPa"), "f_r": ("f_r", "MPa"),
    "f_s": ("f_s", "MPa"),
    "f_y": ("f_y", "MPa"), "h": ("h", "mm"), "i_cr": ("I_cr", "mm4"), "i_e": ("I_e", "mm4"), "i_g": ("I_g",
    "mm4"), "k_1": ("k_1", ""),
    "k_2": ("k_2", ""), "k_3": ("k_3", ""), "k_4": ("k_4", ""), "k_tr": ("K_tr", "mm"), "l_a": ("l_a", "mm"),
    "l_d": ("l_d", "mm"),
    "l_n": ("l_n", "mm"), "lam": ("lambda", ""), "m_a": ("M_a", "N mm"), "m_cr": ("M_cr", "N mm"),
    "m_f": ("M_f", "N mm"),
    "m_r": ("M_r", "N mm"), "n": ("n", ""), "n_f": ("N_f", "N"), "p_c": ("p_c", "mm"), "p_h": ("p_h", "mm"),
    "phi_c": ("phi_c", ""),
    "phi_s": ("phi_s", ""), "rho_compression": ("rho'", ""), "s_z": ("s_z", "mm"), "s_ze": ("s_ze", "mm"),
    "t_cr": ("T_cr", "N mm"),
    "t_f": ("T_f", "N mm"), "theta": ("theta", ""), "v_c": ("V_c", "N"), "v_f": ("V_f", "N"),
    "v_r_max": ("V_r,max", "N"),
    "v_s": ("V_s", "N"), "y_t": ("y_t", "mm"),
}  # fmt: skip

clause = partial(working.clause, CSA, names=NAMES)
