"""Under which symbols of BS 8110 the arguments of its clause functions go, their units."""

from __future__ import annotations

from collections.abc import Mapping
from functools import partial

from upright_bramble import working

P1, P2 = "BS 8110-1", "BS 8110-2"

NAMES: Mapping[str, tuple[str, str]] = {
    "a_b": ("a_b", "mm"), "a_c": ("A_c", "mm2"), "a_cr": ("a_cr", "mm"), "a_s": ("A_s", "mm2"), "a_v": ("a_v",
    "mm"),
    "asv_sv": ("a_sv", "mm2/mm"), "b": ("b", "mm"), "b_c": ("b_c", "mm"), "b_t": ("b_t", "mm"), "b_v": ("b_v",
    "mm"), "b_w": ("b_w", "mm"),
    "beta": ("beta", ""), "beta_b": ("beta_b", ""), "c_min": ("c_min", "mm"), "curvature": ("kappa", "1/mm"),
    "d": ("d", "mm"),
    "d_2": ("d'", "mm"), "depth": ("d_s", "mm"), "e_c": ("E_c", "MPa"), "e_eff": ("E_eff", "MPa"),
    "eps_1": ("eps_1", ""),
    "eps_m": ("eps_m", ""), "eps_sh": ("eps_sh", ""), "f_bt": ("F_bt", "N"), "f_bu": ("f_bu", "MPa"),
    "f_cu": ("f_cu", "MPa"),
    "f_s": ("f_s", "MPa"), "f_ct": ("f_ct", "MPa"), "f_y": ("f_y", "MPa"), "f_yd": ("f_yd", "MPa"),
    "f_yv": ("f_yv", "MPa"), "f_yvd": ("f_yv,d", "MPa"),
    "gamma_s": ("gamma_m", ""), "h": ("h", "mm"), "h_agg": ("h_agg", "mm"), "h_f": ("h_f", "mm"),
    "h_max": ("h_max", "mm"),
    "h_min": ("h_min", "mm"), "i": ("I", "mm4"), "k": ("K", ""), "kappa_cr": ("kappa_cr", "1/mm"),
    "kappa_un": ("kappa_un", "1/mm"),
    "kappa_sh": ("kappa_cs", "1/mm"), "l": ("l", "mm"), "l_z": ("l_z", "mm"), "m": ("M", "N mm"),
    "m_cr": ("M_cr", "N mm"),
    "n": ("N", "N"), "p": ("p", ""), "p_c": ("p'", ""), "phi": ("phi", "mm"), "phi_c": ("phi_c", ""),
    "r": ("r", "mm"),
    "s": ("s", "mm"), "s_b": ("s_b", "mm"), "s_s": ("S_s", "mm3"), "t": ("T", "N mm"), "v": ("v", "MPa"),
    "v_c": ("v_c", "MPa"),
    "v_force": ("V", "N"), "v_max": ("v_max", "MPa"), "v_t": ("v_t", "MPa"), "v_tu": ("v_tu", "MPa"),
    "width": ("b", "mm"),
    "x": ("x", "mm"), "x_1": ("x_1", "mm"), "y_1": ("y_1", "mm"), "z": ("z", "mm"), "alpha_e": ("alpha_e",
    ""),
}  # fmt: skip

clause = partial(working.clause, P1, names=NAMES)
clause_2 = partial(working.clause, P2, names=NAMES)
