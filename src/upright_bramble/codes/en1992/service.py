"""EN 1992-1-1 section 7: crack width and curvature. N, mm, MPa."""

from __future__ import annotations

import numpy as np

from upright_bramble.section.arrays import Array, Floats
from upright_bramble.working import clause

EN = "EN 1992-1-1"


@clause(EN, "7.3.2(3)", "h_c,ef", "min(2.5(h - d); (h - x)/3; h/2)", "mm")
def effective_tension_depth(h: Floats, d: Floats, x: Floats) -> Array:
    """Depth of the tension zone that the bars control, mm."""
    h = np.asarray(h, dtype=float)
    return np.asarray(np.maximum(np.minimum(np.minimum(2.5 * (h - d), (h - np.asarray(x)) / 3.0), h / 2.0), 1e-6))


@clause(EN, "7.3.4(2)", "eps_sm - eps_cm", "[sigma_s - k_t f_ct,eff/rho_p,eff (1 + alpha_e rho_p,eff)]/E_s >= 0.6 sigma_s/E_s")
def strain_difference(sigma_s: Floats, rho: Floats, alpha_e: Floats, f_ct_eff: float, e_s: float = 200_000.0, k_t: float = 0.4) -> Array:
    """Mean strain of bars less that of the concrete between cracks; k_t 0.4 under lasting load."""
    sigma_s, rho = np.asarray(sigma_s, dtype=float), np.maximum(np.asarray(rho, dtype=float), 1e-9)
    stiffened = (sigma_s - k_t * f_ct_eff / rho * (1.0 + np.asarray(alpha_e) * rho)) / e_s
    return np.maximum(stiffened, 0.6 * sigma_s / e_s)


@clause(EN, "7.3.4(3)", "s_r,max", "k_3 c + k_1 k_2 k_4 phi/rho_p,eff, far apart: 1.3(h - x)", "mm")
def crack_spacing(
    c: Floats, phi: Floats, rho: Floats, spacing: Floats, h: Floats, x: Floats, k_3: float = 3.4, k_4: float = 0.425
) -> Array:
    """Largest crack spacing, mm: ribbed bars (k_1 0.8), bending (k_2 0.5); `c` cover of the bars, `spacing` of their centres."""
    close = k_3 * np.asarray(c) + 0.8 * 0.5 * k_4 * np.asarray(phi) / np.maximum(rho, 1e-9)
    wide = 1.3 * (np.asarray(h, dtype=float) - x)
    apart = np.asarray(spacing) > 5.0 * (np.asarray(c) + 0.5 * np.asarray(phi))
    return np.where(apart, wide, close)


@clause(EN, "7.3.4(1)", "w_k", "s_r,max (eps_sm - eps_cm)", "mm")
def crack_width(s_r_max: Floats, strain: Floats) -> Array:
    """Characteristic crack width, mm."""
    return np.asarray(np.asarray(s_r_max) * strain)


def restraint_factor(h: Floats) -> Array:
    """k of 7.3.2(2), for non-uniform self-equilibrating stresses; `h` in mm."""
    return np.asarray(np.interp(h, [300.0, 800.0], [1.0, 0.65]))


@clause(EN, "7.4.3(3)", "zeta", "1 - beta (M_cr/M)^2")
def distribution(m: Floats, m_cr: Floats, beta: float) -> Array:
    """Share of the cracked state; beta 0.5 under lasting or repeated load, 1.0 for a single short one."""
    ratio = np.asarray(m_cr) / np.maximum(np.abs(np.asarray(m, dtype=float)), 1e-9)
    return np.where(ratio < 1.0, 1.0 - beta * ratio**2, 0.0)


@clause(EN, "7.4.3(5)", "E_c,eff", "E_cm/(1 + phi)", "MPa")
def effective_modulus(e_cm: float, phi: Floats) -> Array:
    """Effective modulus for creep, MPa."""
    return np.asarray(e_cm / (1.0 + np.asarray(phi)))


@clause(EN, "7.4.3(6)", "1/r_cs", "eps_cs alpha_e S/I", "1/mm")
def shrinkage_curvature(eps_cs: Floats, alpha_e: Floats, s: Floats, i: Floats) -> Array:
    """Curvature from shrinkage restrained by the bars, 1/mm; `s` first moment of the bars."""
    return np.asarray(np.asarray(eps_cs) * alpha_e * s / i)


@clause(EN, "7.4.2(2)", "l/d", "K [11 + 1.5 sqrt(f_ck) rho_0/rho + 3.2 sqrt(f_ck) (rho_0/rho - 1)^1.5], above rho_0 with rho - rho'")
def basic_span_depth(f_ck: float, rho: Floats, rho_compression: Floats, k: float) -> Array:
    """Span over effective depth that needs no calculation, for bars at 310 MPa; `rho` is what the moment asks for, over b d."""
    root = np.sqrt(f_ck)
    rho_0 = 1e-3 * root
    rho, less = np.maximum(np.asarray(rho, dtype=float), 1e-5), np.asarray(rho_compression, dtype=float)
    low = 11.0 + 1.5 * root * rho_0 / rho + 3.2 * root * np.maximum(rho_0 / rho - 1.0, 0.0) ** 1.5
    high = 11.0 + 1.5 * root * rho_0 / np.maximum(rho - less, 1e-5) + root / 12.0 * np.sqrt(less / rho_0)
    return np.asarray(k * np.where(rho <= rho_0, low, high))


def span_depth_factor(f_yk: float, provided: float, most: float, wide: float, span: float, cantilever: bool) -> float:
    """On the basic ratio (7.4.2(2)): bars below 310 MPa by `provided` over required steel, no more than `most`; 0.8 for flanges more
    than 3 webs `wide`; 7/l for spans beyond 7 m (mm)."""
    factor = min(500.0 / f_yk * provided, most)
    factor *= 0.8 if wide > 3.0 else 1.0
    return factor * (7000.0 / span if span > 7000.0 and not cantilever else 1.0)


def stress_limits(f_ck: float, f_yk: float, k_1: float = 0.6, k_2: float = 0.45, k_3: float = 0.8) -> tuple[float, float, float]:
    """7.2: concrete under the characteristic and under the quasi-permanent level, bars under the characteristic one, MPa."""
    return k_1 * f_ck, k_2 * f_ck, k_3 * f_yk


@clause(EN, "7.3.2(2)", "A_s,min", "k_c k f_ct,eff A_ct/sigma_s, bending: k_c 0.4", "mm2")
def least_crack_steel(a_ct: Floats, h: Floats, f_ct_eff: float, sigma_s: float) -> Array:
    """Steel of a tension zone `a_ct` that cracks are controlled with, mm2."""
    return np.asarray(0.4 * restraint_factor(h) * f_ct_eff * np.asarray(a_ct) / sigma_s)
