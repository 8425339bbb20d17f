"""EN 1992-1-1 section 7: crack width and curvature. N, mm, MPa."""

from __future__ import annotations

import numpy as np

from upright_bramble.codes.en1992.symbols import NAMES, clause
from upright_bramble.section.arrays import Array, Floats

EN = "EN 1992-1-1"


@clause(EN, "7.3.2(3)", "h_c,ef", "min(2.5 (h - d); (h - x)/3; h/2)", "mm")
def effective_tension_depth(h: Floats, d: Floats, x: Floats) -> Array:
    """Depth of the tension zone that the bars control, mm."""
    h = np.asarray(h, dtype=float)
    return np.asarray(np.maximum(np.minimum(np.minimum(2.5 * (h - d), (h - np.asarray(x)) / 3.0), h / 2.0), 1e-6))


@clause(EN, "7.3.4(2)", "rho_p,eff", "max(A_s,eff/(b h_c,ef); 0.000001)")
def effective_ratio(a_s_eff: Floats, b: Floats, h_c_ef: Floats) -> Array:
    """Steel of the effective tension area over it; `a_s_eff` the bars inside that area alone, mm2."""
    return np.maximum(np.asarray(a_s_eff) / (np.asarray(b) * h_c_ef), 1e-6)


@clause(EN, "7.3.4(2)", "eps_m", "max([sigma_s - k_t f_ct,eff/rho_p,eff (1 + alpha_e rho_p,eff)]/E_s; 0.6 sigma_s/E_s)")
def strain_difference(sigma_s: Floats, rho: Floats, alpha_e: Floats, f_ct_eff: float, e_s: float = 200_000.0, k_t: float = 0.4) -> Array:
    """Mean strain of bars less that of the concrete between cracks; k_t 0.4 under lasting load."""
    sigma_s, rho = np.asarray(sigma_s, dtype=float), np.maximum(np.asarray(rho, dtype=float), 1e-9)
    stiffened = (sigma_s - k_t * f_ct_eff / rho * (1.0 + np.asarray(alpha_e) * rho)) / e_s
    return np.maximum(stiffened, 0.6 * sigma_s / e_s)


@clause(EN, "7.3.4(3)", "s_r,max", (("s > 5 (c + 0.5 phi)", "1.3 (h - x)"), ("", "k_3 c + 0.8 0.5 k_4 phi/rho_p,eff")), "mm")
def crack_spacing(
    c: Floats, phi: Floats, rho: Floats, spacing: Floats, h: Floats, x: Floats, k_3: float = 3.4, k_4: float = 0.425
) -> Array:
    """Largest crack spacing, mm: ribbed bars (k_1 0.8), bending (k_2 0.5); `c` cover of the bars, `spacing` of their centres."""
    close = k_3 * np.asarray(c) + 0.8 * 0.5 * k_4 * np.asarray(phi) / np.maximum(rho, 1e-9)
    wide = 1.3 * (np.asarray(h, dtype=float) - x)
    apart = np.asarray(spacing) > 5.0 * (np.asarray(c) + 0.5 * np.asarray(phi))
    return np.where(apart, wide, close)


@clause(EN, "7.3.4(1)", "w_k", "s_r,max eps_m", "mm")
def crack_width(s_r_max: Floats, strain: Floats) -> Array:
    """Characteristic crack width, mm."""
    return np.asarray(np.asarray(s_r_max) * strain)


@clause(EN, "7.3.2(2)", "k", (("h <= 300", "1.0"), ("h >= 800", "0.65"), ("", "1 - 0.35 (h - 300)/500")))
def restraint_factor(h: Floats) -> Array:
    """k of 7.3.2(2), for non-uniform self-equilibrating stresses; `h` in mm."""
    return np.asarray(np.interp(h, [300.0, 800.0], [1.0, 0.65]))


@clause(EN, "7.4.3(3)", "zeta", (("M > M_cr", "1 - beta (M_cr/M)^2"), ("", "0")))
def distribution(m: Floats, m_cr: Floats, beta: float) -> Array:
    """Share of the cracked state; beta 0.5 under lasting or repeated load, 1.0 for a single short one."""
    ratio = np.asarray(m_cr) / np.maximum(np.abs(np.asarray(m, dtype=float)), 1e-9)
    return np.where(ratio < 1.0, 1.0 - beta * ratio**2, 0.0)


@clause(EN, "7.4.3(5)", "E_c,eff", "E_cm/(1 + phi)", "MPa")
def effective_modulus(e_cm: float, phi: Floats) -> Array:
    """Effective modulus for creep, MPa."""
    return np.asarray(e_cm / (1.0 + np.asarray(phi)))


@clause(EN, "7.4.3(6)", "kappa_cs", "eps_cs alpha_e S/I", "1/mm")
def shrinkage_curvature(eps_cs: Floats, alpha_e: Floats, s: Floats, i: Floats) -> Array:
    """Curvature from shrinkage restrained by the bars, 1/mm; `s` first moment of the bars."""
    return np.asarray(np.asarray(eps_cs) * alpha_e * s / i)


@clause(EN, "7.4.3(3)", "kappa", "M/(E I) + kappa_cs", "1/mm", names={**NAMES, "e": ("E", "MPa")})
def state_curvature(m: Floats, e: Floats, i: Floats, kappa_cs: Floats) -> Array:
    """Of a section that is uncracked, or fully cracked, 1/mm; `e` modulus with creep."""
    return np.asarray(np.asarray(m) / (np.asarray(e) * i) + kappa_cs)


@clause(EN, "7.4.3(3)", "kappa_m", "zeta kappa_II + (1 - zeta) kappa_I", "1/mm")
def mean_curvature(zeta: Floats, kappa_II: Floats, kappa_I: Floats) -> Array:
    """Between the cracked and the uncracked state, 1/mm."""
    return np.asarray(np.asarray(zeta) * kappa_II + (1.0 - np.asarray(zeta)) * kappa_I)


@clause(
    EN,
    "7.4.2(2)",
    "l/d",
    (
        ("rho <= rho_0", "K (11 + 1.5 sqrt(f_ck) rho_0/rho + 3.2 sqrt(f_ck) (rho_0/rho - 1)^1.5)"),
        ("", "K (11 + 1.5 sqrt(f_ck) rho_0/(rho - rho_c) + sqrt(f_ck)/12 sqrt(rho_c/rho_0))"),
    ),
    where={"rho_0": "0.001 sqrt(f_ck)"},
    names={**NAMES, "rho": ("rho", ""), "rho_compression": ("rho_c", ""), "k": ("K", "")},
)
def basic_span_depth(f_ck: float, rho: Floats, rho_compression: Floats, k: float) -> Array:
    """Span over effective depth that needs no calculation, for bars at 310 MPa; `rho` is what the moment asks for, over b d."""
    root = np.sqrt(f_ck)
    rho_0 = 1e-3 * root
    rho, less = np.maximum(np.asarray(rho, dtype=float), 1e-5), np.asarray(rho_compression, dtype=float)
    low = 11.0 + 1.5 * root * rho_0 / rho + 3.2 * root * np.maximum(rho_0 / rho - 1.0, 0.0) ** 1.5
    high = 11.0 + 1.5 * root * rho_0 / np.maximum(rho - less, 1e-5) + root / 12.0 * np.sqrt(less / rho_0)
    return np.asarray(k * np.where(rho <= rho_0, low, high))


@clause(EN, "7.4.2(2)", "factor", "min(500/f_yk provided; most): bars, wide flanges 0.8, 7 m over longer spans")
def span_depth_factor(f_yk: float, provided: float, most: float, wide: float, span: float, cantilever: bool) -> float:
    """On the basic ratio (7.4.2(2)): bars below 310 MPa by `provided` over required steel, no more than `most`; 0.8 for flanges more
    than 3 webs `wide`; 7/l for spans beyond 7 m (mm)."""
    factor = min(500.0 / f_yk * provided, most)
    factor *= 0.8 if wide > 3.0 else 1.0
    return factor * (7000.0 / span if span > 7000.0 and not cantilever else 1.0)


# Tables 7.2N and 7.3N: by stress of the bars (MPa), for cracks of 0.4, 0.3 and 0.2 mm; 0 where a table ends.
_STRESSES = (160.0, 200.0, 240.0, 280.0, 320.0, 360.0, 400.0, 450.0)
_DIAMETERS = (
    (40.0, 32.0, 20.0, 16.0, 12.0, 10.0, 8.0, 6.0),
    (32.0, 25.0, 16.0, 12.0, 10.0, 8.0, 6.0, 5.0),
    (25.0, 16.0, 12.0, 8.0, 6.0, 5.0, 4.0, 0.0),
)
_SPACINGS = (
    (300.0, 300.0, 250.0, 200.0, 150.0, 100.0, 0.0, 0.0),
    (300.0, 250.0, 200.0, 150.0, 100.0, 50.0, 0.0, 0.0),
    (200.0, 150.0, 100.0, 50.0, 0.0, 0.0, 0.0, 0.0),
)
_WIDTHS = (0.4, 0.3, 0.2)


def _from_table(table: tuple[tuple[float, ...], ...], stress: Floats, width: float) -> Array:
    """Linear between stresses and between crack widths; nothing for cracks finer than the table's."""
    by_width = [np.interp(stress, _STRESSES, row) for row in table]
    if width < _WIDTHS[-1] - 1e-9:
        return np.zeros_like(by_width[0])
    if width >= _WIDTHS[0]:
        return np.asarray(by_width[0])
    k = 0 if width > _WIDTHS[1] else 1
    share = (_WIDTHS[k] - width) / (_WIDTHS[k] - _WIDTHS[k + 1])
    return np.asarray((1.0 - share) * by_width[k] + share * by_width[k + 1])


@clause(EN, "7.3.3(2)", "phi_s", "phi_star f_ct,eff/2.9 0.4 (h/2)/(2 (h - d)): phi_star of Table 7.2N", "mm")
def largest_bar(stress: Floats, width: float, f_ct_eff: float, h: Floats, d: Floats) -> Array:
    """Diameter that keeps cracks within `width` (mm) at a `stress` of the bars in bending, mm (7.6N)."""
    reach = 0.4 * 0.5 * np.asarray(h, dtype=float) / np.maximum(2.0 * (np.asarray(h) - d), 1e-6)
    return np.asarray(_from_table(_DIAMETERS, stress, width) * f_ct_eff / 2.9 * reach)


@clause(EN, "7.3.3(2)", "s", "Table 7.3N", "mm")
def widest_bar_spacing(stress: Floats, width: float) -> Array:
    """Distance of bars that keeps cracks within `width` (mm) at a `stress` of the bars, mm."""
    return _from_table(_SPACINGS, stress, width)


def stress_limits(f_ck: float, f_yk: float, k_1: float = 0.6, k_2: float = 0.45, k_3: float = 0.8) -> tuple[float, float, float]:
    """7.2: concrete under the characteristic and under the quasi-permanent level, bars under the characteristic one, MPa."""
    return k_1 * f_ck, k_2 * f_ck, k_3 * f_yk


@clause(EN, "7.3.2(2)", "A_s,min", "0.4 k f_ct,eff A_ct/sigma_s", "mm2")
def least_crack_steel(a_ct: Floats, h: Floats, f_ct_eff: float, sigma_s: float) -> Array:
    """Steel of a tension zone `a_ct` that cracks are controlled with, mm2."""
    return np.asarray(0.4 * restraint_factor(h) * f_ct_eff * np.asarray(a_ct) / sigma_s)


@clause(
    EN,
    "7.3.2(2)",
    "A_s,fl",
    "max(0.9 share; 0.5) k f_ct,eff A_fl/sigma_s",
    "mm2",
    names={**NAMES, "a_fl": ("A_fl", "mm2"), "share": ("share", "")},
)
def flange_crack_steel(a_fl: Floats, share: Floats, h: Floats, f_ct_eff: float, sigma_s: float) -> Array:
    """Steel of a flange in tension `a_fl` that its cracks are controlled with, mm2; `share` its mean stress before it cracks over
    f_ct,eff (7.3): k_c is at least 0.5."""
    k_c = np.maximum(0.9 * np.asarray(share, dtype=float), 0.5)
    return np.asarray(k_c * restraint_factor(h) * f_ct_eff * np.asarray(a_fl) / sigma_s)
