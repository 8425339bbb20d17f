"""EN 1992-1-1 section 8: bond, anchorage, laps, spacing, mandrels. N, mm, MPa."""

from __future__ import annotations

import numpy as np

from upright_bramble.codes.en1992.symbols import NAMES, clause
from upright_bramble.section.arrays import Array, Floats

EN = "EN 1992-1-1"


@clause(
    EN,
    "8.4.2(2)",
    "f_bd",
    "2.25 eta_1 eta_2 f_ctd",
    "MPa",
    where={"eta_1": (("good >= 1", "1.0"), ("", "0.7")), "eta_2": (("phi > 32", "(132 - phi)/100"), ("", "1.0"))},
)
def bond_strength(f_ctd: float, phi: Floats, good: bool | np.ndarray) -> Array:
    """Design bond strength of ribbed bars, MPa; `f_ctd` no higher than that of C60."""
    eta_1 = np.where(good, 1.0, 0.7)
    eta_2 = np.where(np.asarray(phi) > 32.0, (132.0 - np.asarray(phi)) / 100.0, 1.0)
    return np.asarray(2.25 * eta_1 * eta_2 * f_ctd)


@clause(EN, "8.4.2(2)", "good", (("h <= 600 and height <= 250", "1"), ("h > 600 and height <= h - 300", "1"), ("", "0")))
def good_bond(height: Floats, h: Floats) -> np.ndarray:
    """Bond condition (Figure 8.2) of a horizontal bar `height` above the bottom of a beam `h` deep (mm)."""
    height, h = np.asarray(height, dtype=float), np.asarray(h, dtype=float)
    return np.where(h <= 600.0, height <= 250.0, height <= h - 300.0)


@clause(EN, "8.4.3(2)", "l_b,rqd", "phi/4 sigma_sd/f_bd", "mm")
def basic_anchorage(phi: Floats, sigma_sd: Floats, f_bd: Floats) -> Array:
    """Basic required anchorage length, mm."""
    return np.asarray(np.asarray(phi) / 4.0 * sigma_sd / f_bd)


@clause(EN, "8.4.4(1)", "l_bd", "max(alpha_1 max(alpha_2 alpha_3 alpha_5; 0.7) l_b,rqd; 0.3 l_b,rqd; 10 phi; 100)", "mm")
def anchorage_length(phi: Floats, l_b_rqd: Floats, a1: Floats = 1.0, a2: Floats = 1.0, a3: Floats = 1.0, a5: Floats = 1.0) -> Array:
    """Design anchorage length of a bar in tension, mm; alpha_2 alpha_3 alpha_5 is not taken below 0.7."""
    least = np.maximum(np.maximum(0.3 * np.asarray(l_b_rqd), 10.0 * np.asarray(phi)), 100.0)
    return np.maximum(np.asarray(a1) * np.maximum(np.asarray(a2) * a3 * a5, 0.7) * l_b_rqd, least)


@clause(EN, "8.7.3(1)", "l_0", "max(alpha_2 alpha_6 l_b,rqd; 0.3 alpha_6 l_b,rqd; 15 phi; 200)", "mm")
def lap_length(phi: Floats, l_b_rqd: Floats, a6: float, a2: Floats = 1.0) -> Array:
    """Lap length of bars in tension, mm; `a6` from `lap_share_factor`."""
    least = np.maximum(np.maximum(0.3 * a6 * np.asarray(l_b_rqd), 15.0 * np.asarray(phi)), 200.0)
    return np.asarray(np.maximum(np.asarray(a2) * a6 * np.asarray(l_b_rqd), least))


@clause(EN, "8.7.3(1)", "alpha_6", "min(max(sqrt(percent/25); 1); 1.5)")
def lap_share_factor(percent: float) -> float:
    """alpha_6 for the share of bars lapped at one place (8.7.3(1)), percent."""
    return float(np.clip(np.sqrt(percent / 25.0), 1.0, 1.5))


@clause(
    EN,
    "Table 8.2",
    "alpha_3",
    "min(max(1 - k (sum_ast - sum_min)/area; 0.7); 1)",
    names={**NAMES, "area": ("area", ""), "sum_ast_min": ("sum_min", "")},
)
def confinement_factor(sum_ast: float, sum_ast_min: float, area: float, k: float) -> float:
    """alpha_3 (Table 8.2)."""
    return float(np.clip(1.0 - k * (sum_ast - sum_ast_min) / area, 0.7, 1.0))


@clause(EN, "8.2(2)", "a", "max(k_1 phi; d_g + k_2; 20)", "mm")
def clear_spacing(phi: Floats, d_g: float, k_1: float = 1.0, k_2: float = 5.0) -> Array:
    """Least clear distance between bars, mm."""
    return np.maximum(np.maximum(k_1 * np.asarray(phi), d_g + k_2), 20.0)


@clause(EN, "8.3(3)", "phi_m,min", "F_bt (1/a_b + 1/(2 phi))/f_cd", "mm")
def mandrel_for_concrete(f_bt: Floats, a_b: Floats, phi: Floats, f_cd: float) -> Array:
    """Mandrel diameter that keeps the concrete inside a bend from failing, mm."""
    return np.asarray(np.asarray(f_bt) * (1.0 / np.asarray(a_b) + 0.5 / np.asarray(phi)) / f_cd)


@clause(EN, "Table 8.1N", "phi_m", (("phi <= 16", "4 phi"), ("", "7 phi")), "mm")
def mandrel(phi: Floats) -> Array:
    """Least mandrel diameter of bends, mm."""
    return np.asarray(np.where(np.asarray(phi) <= 16.0, 4.0, 7.0) * np.asarray(phi))


LAP_CROSS_SPACING = 150.0  # Figure 8.9(a): of the bars across a lap, in its outer thirds, mm


@clause(EN, "8.7.2(3)", "a", "max(2 phi; 20)", "mm")
def lap_clear_distance(phi: Floats) -> Array:
    """Clear distance between adjacent laps, mm."""
    return np.maximum(2.0 * np.asarray(phi, dtype=float), 20.0)
