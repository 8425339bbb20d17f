"""Under which symbols of ACI 318-19 the arguments of its clause functions go, and their units."""

from __future__ import annotations

from collections.abc import Mapping
from functools import partial

from upright_bramble import working

ACI = "ACI 318-19"

NAMES: Mapping[str, tuple[str, str]] = {
    "a_cp": ("A_cp", "mm2"), "a_g": ("A_g", "mm2"), "a_o": ("A_o", "mm2"), "a_oh": ("A_oh", "mm2"),
    "a_s": ("A_s", "mm2"), "b": ("b", "mm"),
    "a_tr": ("A_tr", "mm2"), "at_s": ("a_t", "mm2/mm"), "av_s": ("a_v", "mm2/mm"), "b_w": ("b_w", "mm"),
    "c_b": ("c_b", "mm"),
    "c_c": ("c_c", "mm"), "cot": ("cot_theta", ""), "d": ("d", "mm"), "d_agg": ("d_agg", "mm"), "d_b": ("d_b",
    "mm"),
    "f_c": ("f'c", "MPa"), "f_s": ("f_s", "MPa"), "f_y": ("f_y", "MPa"), "f_yt": ("f_yt", "MPa"),
    "i_cr": ("I_cr", "mm4"),
    "i_g": ("I_g", "mm4"), "k_tr": ("K_tr", "mm"),
    "l_a": ("l_a", "mm"), "l_d": ("l_d", "mm"), "lam": ("lambda", ""), "m_a": ("M_a", "N mm"),
    "m_cr": ("M_cr", "N mm"), "m_n": ("M_n", "N mm"), "n_u": ("N_u", "N"), "p_cp": ("p_cp", "mm"),
    "p_h": ("p_h", "mm"), "s": ("s", "mm"),
    "strain": ("eps_t", ""), "t_u": ("T_u", "N mm"), "v_c": ("V_c", "N"),
    "v_n_max": ("V_n,max", "N"), "v_s": ("V_s", "N"), "v_u": ("V_u", "N"),
}  # fmt: skip

clause = partial(working.clause, names=NAMES)
