"""ACI 318-19 chapter 25: development, hooks, splices, spacing, bends. N, mm, MPa."""

from __future__ import annotations

import numpy as np

from upright_bramble.codes.aci318.expressions import Expressions
from upright_bramble.codes.aci318.symbols import NAMES, clause
from upright_bramble.errors import CodeError
from upright_bramble.section.arrays import Array, Floats

ACI = "ACI 318-19"

# ASTM A615: diameter and area as the standard's tables have them (in, in2; mm, mm2)
US_BARS = {
    "3": (0.375, 0.11), "4": (0.500, 0.20), "5": (0.625, 0.31), "6": (0.750, 0.44), "7": (0.875, 0.60), "8": (1.000, 0.79),
    "9": (1.128, 1.00), "10": (1.270, 1.27), "11": (1.410, 1.56), "14": (1.693, 2.25), "18": (2.257, 4.00),
}  # fmt: skip
SI_BARS = {
    "10": (9.5, 71.0), "13": (12.7, 129.0), "16": (15.9, 199.0), "19": (19.1, 284.0), "22": (22.2, 387.0), "25": (25.4, 510.0),
    "29": (28.7, 645.0), "32": (32.3, 819.0), "36": (35.8, 1006.0), "43": (43.0, 1452.0), "57": (57.3, 2581.0),
}  # fmt: skip


@clause(ACI, "25.4.2.5", "psi_g", (("f_y <= {g0} 1.001", "1.0"), ("f_y <= {g1} 1.001", "1.15"), ("", "1.3")))
def grade_factor(f_y: float, x: Expressions) -> float:
    """Factor for the grade of the bars."""
    return 1.0 if f_y <= x.grades[0] * 1.001 else 1.15 if f_y <= x.grades[1] * 1.001 else 1.3


@clause(ACI, "25.4.2.5", "psi_t", (("below > {twelve}", "1.3"), ("", "1.0")), names={"fresh_below": ("below", "mm")})
def casting_factor(fresh_below: Floats, x: Expressions) -> Array:
    """psi_t (25.4.2.5): 1.3 with more than 12 in (300 mm) of fresh concrete below the bar, mm."""
    return np.where(np.asarray(fresh_below) > _twelve(x) + 1e-9, 1.3, 1.0)


@clause(
    ACI,
    "25.4.2.3",
    "l_d",
    "max(f_y min(psi_t psi_e; 1.7) psi_g/(n min(sqrt(f'c); {rm})) d_b; {twelve})",
    "mm",
    where={
        "n": (
            ("good >= 1 and d_b <= {small}", "{b0}"),
            ("good >= 1 and d_b > {small}", "{b1}"),
            ("d_b <= {small}", "{b2}"),
            ("", "{b3}"),
        )
    },
)
def development_length(
    d_b: Floats, f_c: float, f_y: float, psi_t: Floats, x: Expressions, good: Floats = True, psi_e: float = 1.0
) -> Array:
    """Development of bars in tension, mm, at least 12 in (300 mm).

    `good`: clear spacing and cover of d_b with at least minimum stirrups, or spacing of 2 d_b.
    """
    d_b = np.asarray(d_b, dtype=float)
    small = d_b <= 19.2  # No. 6 (No. 19)
    number = np.where(np.asarray(good), np.where(small, x.bond[0], x.bond[1]), np.where(small, x.bond[2], x.bond[3]))
    factors = np.minimum(np.asarray(psi_t) * psi_e, 1.7) * grade_factor(f_y, x)
    return np.asarray(np.maximum(f_y * factors / (number * x.capped_root(f_c)) * d_b, _twelve(x)))


@clause(
    ACI,
    "25.4.2.4",
    "l_d",
    "max(f_y min(psi_t psi_e; 1.7) psi_s psi_g/({b4} min(sqrt(f'c); {rm}) min((c_b + K_tr)/d_b; 2.5)) d_b; {twelve})",
    "mm",
    where={"psi_s": (("d_b <= {small}", "0.8"), ("", "1.0"))},
)
def development_length_by_confinement(
    d_b: Floats, f_c: float, f_y: float, psi_t: Floats, c_b: Floats, k_tr: Floats, x: Expressions, psi_e: float = 1.0
) -> Array:
    """Development of bars in tension by cover, spacing and stirrups, mm; (c_b + K_tr)/d_b no more than 2.5."""
    d_b = np.asarray(d_b, dtype=float)
    held = np.minimum((np.asarray(c_b) + k_tr) / d_b, 2.5)
    psi_s = np.where(d_b <= 19.2, 0.8, 1.0)
    factors = np.minimum(np.asarray(psi_t) * psi_e, 1.7) * psi_s * grade_factor(f_y, x)
    return np.asarray(np.maximum(f_y * factors / (x.bond[4] * x.capped_root(f_c) * held) * d_b, _twelve(x)))


@clause(ACI, "25.4.2.4", "K_tr", "40 A_tr/(s n)", "mm")
def confinement_index(a_tr: Floats, s: Floats, n: Floats) -> Array:
    """Of stirrups across the plane of splitting, mm."""
    return np.asarray(40.0 * np.asarray(a_tr) / (np.asarray(s) * n))


@clause(
    ACI,
    "25.4.3.1",
    "l_dh",
    "max(f_y psi_e psi_r psi_o psi_c/({hook} min(sqrt(f'c); {rm})) d_b^1.5; 8 d_b; {six})",
    "mm",
    where={"psi_c": (("f'c < {hf1}", "f'c/{hf0} + 0.6"), ("", "1.0"))},
)
def hook_length(
    d_b: Floats, f_c: float, f_y: float, x: Expressions, psi_r: Floats = 1.6, psi_o: Floats = 1.25, psi_e: float = 1.0
) -> Array:
    """Development of a standard hook in tension, mm, to its outer face; unconfined unless said otherwise."""
    d_b = np.asarray(d_b, dtype=float)
    psi_c = f_c / x.confinement[0] + 0.6 if f_c < x.confinement[1] else 1.0
    length = f_y * psi_e * np.asarray(psi_r) * psi_o * psi_c / (x.hook * x.capped_root(f_c)) * (d_b / x.length) ** 1.5 * x.length
    return np.asarray(np.maximum(np.maximum(length, 8.0 * d_b), 0.5 * _twelve(x)))


@clause(ACI, "25.4.9.2", "l_dc", "max(max(f_y/({c0} min(sqrt(f'c); {rm})); {c1} f_y) d_b; {eight})", "mm")
def compression_development(d_b: Floats, f_c: float, f_y: float, x: Expressions) -> Array:
    """Development of bars in compression, mm."""
    factor = np.maximum(f_y / (x.compression[0] * x.capped_root(f_c)), x.compression[1] * f_y / x.stress)
    return np.asarray(np.maximum(factor * np.asarray(d_b), _twelve(x) * 2.0 / 3.0))


@clause(ACI, "25.5.2.1", "l_st", "max(class l_d; {twelve})", "mm", where={"class": (("class_b >= 1", "1.3"), ("", "1.0"))})
def splice_length(l_d: Floats, x: Expressions, class_b: bool = True) -> Array:
    """Lap splice of bars in tension, mm."""
    return np.asarray(np.maximum(np.asarray(l_d) * (1.3 if class_b else 1.0), _twelve(x)))


@clause(ACI, "9.7.3.8.3", "l_d,max", "held M_n/V_u + l_a", "mm", names={**NAMES, "held": ("held", "")})
def development_limit(m_n: Floats, v_u: Floats, l_a: Floats, held: float = 1.3) -> Array:
    """Longest development of bottom bars, mm; `held` 1.3 at a simple support whose reaction compresses their ends, 1.0 at an indirect one
    and at points of inflection."""
    return np.asarray(held * np.asarray(m_n) / v_u + l_a)


@clause(ACI, "25.4.3.2", "psi_r", (("d_b <= {eleven} and apart >= 6 d_b", "1.0"), ("", "1.6")), names={**NAMES, "apart": ("apart", "mm")})
def hook_spacing_factor(d_b: Floats, apart: Floats, x: Expressions) -> Array:
    """Factor for what holds hooked bars: their distance (of centres, mm) alone."""
    d_b = np.asarray(d_b, dtype=float)
    return np.where((np.asarray(apart) >= 6.0 * d_b - 1e-6) & (d_b <= (1.5 * 25.4 if x.length > 1.0 else 38.0)), 1.0, 1.6)


@clause(ACI, "25.4.3.2", "psi_o", "1.0 inside a column's core with 2-1/2 in of side cover, or with 6 d_b of it, else 1.25")
def hook_place_factor(d_b: Floats, cover: Floats, core: Floats, x: Expressions) -> Array:
    """Factor for the place of hooked bars; `cover` normal to the plane of the hook, mm, `core`: they end inside the core of a column."""
    d_b, cover = np.asarray(d_b, dtype=float), np.asarray(cover, dtype=float)
    inside = np.asarray(core, dtype=bool) & (cover >= (2.5 * 25.4 if x.length > 1.0 else 65.0) - 1e-6)
    return np.where((d_b < 40.0) & (inside | (cover >= 6.0 * d_b - 1e-6)), 1.0, 1.25)


@clause(ACI, "9.7.6.4.4", "legs", "every corner bar and every other one between them", "")
def held_bars(number: Floats) -> Array:
    """Bars of a row in compression that stirrups hold at a corner."""
    return np.asarray(np.floor(0.5 * np.asarray(number, dtype=float)) + 1.0)


@clause(ACI, "25.2.1", "clear", "max(d_b; 4/3 d_agg; {inch})", "mm")
def clear_spacing(d_b: Floats, d_agg: float, x: Expressions) -> Array:
    """Least clear distance between bars of a row, mm."""
    return np.asarray(np.maximum(np.maximum(np.asarray(d_b), 4.0 / 3.0 * d_agg), _twelve(x) / 12.0))


@clause(ACI, "25.3.1", "D", (("d_b <= 25.5", "6 d_b"), ("d_b <= 36", "8 d_b"), ("", "10 d_b")), "mm")
def bend_diameter(d_b: Floats) -> Array:
    """Least inside diameter of bends of main bars, mm."""
    d_b = np.asarray(d_b, dtype=float)
    return np.asarray(np.where(d_b <= 25.5, 6.0, np.where(d_b <= 36.0, 8.0, 10.0)) * d_b)


@clause(ACI, "25.3.2", "D", (("d_b <= 16", "4 d_b"), ("", "6 d_b")), "mm")
def stirrup_bend_diameter(d_b: Floats) -> Array:
    """Least inside diameter of bends of stirrups, mm."""
    return np.asarray(np.where(np.asarray(d_b) <= 16.0, 4.0, 6.0) * np.asarray(d_b))


@clause(ACI, "25.3.1", "l_ext", "90 degrees: 12 d_b, 180 degrees: max(4 d_b; 2.5 in)", "mm")
def hook_extension(d_b: float, kind: str, x: Expressions) -> float:
    """Straight length beyond the bend, mm; `kind` 'bend' or 'hook'."""
    return 12.0 * d_b if kind == "bend" else max(4.0 * d_b, _twelve(x) * 2.5 / 12.0 if x.length > 1.0 else 65.0)


@clause(ACI, "25.3.2", "l_ext", "max(6 d_b; {three})", "mm")
def stirrup_extension(d_b: float, x: Expressions) -> float:
    """Straight tail of a stirrup's 135 degree hook, mm."""
    return max(6.0 * d_b, _twelve(x) / 4.0)


def _twelve(x: Expressions) -> float:
    """12 in, or 300 mm."""
    return 12.0 * x.length if x.length > 1.0 else 300.0


@clause(ACI, "25.5.5.1", "l_sc", "Grade 60: 0.0005 f_y d_b, above: (0.0009 f_y - 24) d_b >= 12 in; a third more below 3000 psi", "mm")
def compression_splice(d_b: Floats, f_c: float, f_y: float, x: Expressions) -> Array:
    """Lap splice of bars in compression, mm."""
    d_b, stress = np.asarray(d_b, dtype=float), f_y / x.stress
    metric = x.length == 1.0
    if f_y <= x.grades[0] * 1.001:
        length = (0.071 if metric else 0.0005) * stress * d_b
    else:
        length = ((0.13 if metric else 0.0009) * stress - 24.0) * d_b
    length = np.maximum(length, _twelve(x))
    return np.asarray(length * (4.0 / 3.0 if f_c < (21.0 if metric else 3000.0 * x.stress) * (1.0 - 1e-9) else 1.0))


EXPOSURES = ("inside", "weather", "earth")


@clause(ACI, "Table 20.5.1.3.1", "cover", "inside 1-1/2 in; weather 2 in from No. 6, else 1-1/2 in; cast against earth 3 in", "mm")
def least_cover(exposure: str, d_b: float, x: Expressions) -> float:
    """Specified cover of cast-in-place beams, mm. Raises CodeError for an exposure that the table does not have."""
    if exposure not in EXPOSURES:
        raise CodeError(f"'{exposure}' is no exposure here; exposures: {', '.join(EXPOSURES)}")
    inch = x.length > 1.0
    small, large, earth = (1.5 * 25.4, 2.0 * 25.4, 3.0 * 25.4) if inch else (40.0, 50.0, 75.0)
    return earth if exposure == "earth" else large if exposure == "weather" and d_b >= 19.0 else small


@clause(ACI, "9.7.6.4.3", "s", "min(min(16 d_b; 48 d_t); b)", "mm", names={"tie": ("d_t", "mm"), "least": ("b", "mm")})
def compressed_bar_spacing(d_b: Floats, tie: float, least: Floats) -> Array:
    """Largest spacing of ties along bars in compression, mm: of bar diameters, tie diameters, and the least dimension of the section."""
    return np.asarray(np.minimum(np.minimum(16.0 * np.asarray(d_b, dtype=float), 48.0 * tie), np.asarray(least, dtype=float)))
