"""ACI 318-19 chapters 19 to 22 and 9: materials, flexure, amounts of steel. N, mm, MPa; `x` the set of expressions."""

from __future__ import annotations

import numpy as np

from upright_bramble.codes.aci318.expressions import Expressions
from upright_bramble.codes.aci318.symbols import clause
from upright_bramble.section.arrays import Array, Floats

ACI = "ACI 318-19"
ULTIMATE_STRAIN = 0.003  # 22.2.2.1
BLOCK_STRESS = 0.85  # 22.2.2.4.1, of f'c


@clause(ACI, "22.2.2.4.3", "beta_1", (("f'c >= {beta2}", "0.65"), ("", "max(min(0.85 - 0.05 (f'c - {beta0})/{beta1}; 0.85); 0.65)")))
def block_depth_factor(f_c: Floats, x: Expressions) -> Array:
    """Depth of the stress block over that of the neutral axis."""
    start, step, last = (4000.0, 1000.0, 8000.0) if x.length > 1.0 else (28.0, 7.0, 55.0)
    strength = np.asarray(f_c) / x.stress
    return np.asarray(np.where(strength >= last, 0.65, np.clip(0.85 - 0.05 * (strength - start) / step, 0.65, 0.85)))


@clause(ACI, "19.2.2.1(b)", "E_c", "{E} sqrt(f'c)", "MPa")
def modulus(f_c: float, x: Expressions) -> float:
    """Modulus of normalweight concrete, MPa."""
    return float(x.modulus * x.root(f_c))


@clause(ACI, "19.2.3.1", "f_r", "{r} lambda sqrt(f'c)", "MPa")
def modulus_of_rupture(f_c: float, x: Expressions, lam: float = 1.0) -> float:
    """MPa; `lam` for the weight of the concrete."""
    return float(x.rupture * lam * x.root(f_c))


@clause(ACI, "21.2.2.1", "eps_ty", "f_y/{Es}")
def yield_strain(f_y: float, x: Expressions) -> float:
    """Strain at which compression control ends; the 0.002 that Grade 60 may count as is not used."""
    return f_y / x.steel_modulus


@clause(ACI, "21.2.2", "phi", "compression + (tension - compression) min(max((eps_t - eps_ty)/0.003; 0); 1)")
def strength_reduction(strain: Floats, eps_ty: float, tension: float = 0.9, compression: float = 0.65) -> Array:
    """Strength reduction factor for the net tensile strain of the extreme bars (ties, not spirals)."""
    share = np.clip((np.asarray(strain) - eps_ty) / 0.003, 0.0, 1.0)
    return np.asarray(compression + (tension - compression) * share)


@clause(ACI, "9.6.1.2", "A_s,min", "max({as0} sqrt(f'c); {as1})/min(f_y; {fymin}) b_w d", "mm2")
def least_tension_steel(f_c: float, f_y: float, b_w: Floats, d: Floats, x: Expressions) -> Array:
    """Minimum tension steel, mm2; f_y no more than 80 ksi (550 MPa)."""
    stress = max(x.as_min[0] * float(x.root(f_c)), x.as_min[1] * x.stress) / min(f_y, x.min_yield)
    return np.asarray(stress * np.asarray(b_w) * d)


@clause(ACI, "9.3.3.1", "c/d_t", "0.003/(0.003 + eps_t)")
def neutral_axis_limit(strain: Floats) -> Array:
    """Neutral axis depth over that of the extreme bars for their least strain."""
    return np.asarray(ULTIMATE_STRAIN / (ULTIMATE_STRAIN + np.asarray(strain)))


@clause(ACI, "6.6.5.3", "change", (("eps_t >= 0.0075", "min(10 eps_t; most)"), ("", "0")))
def redistribution_allowed(eps_t: Floats, most: float = 0.2) -> Array:
    """Share of a moment that may be redistributed; eps_t of at least 0.0075 is needed for any (6.6.5.1)."""
    eps_t = np.asarray(eps_t, dtype=float)
    return np.where(eps_t >= 0.0075 - 1e-12, np.minimum(10.0 * eps_t, most), 0.0)


@clause(ACI, "6.3.2.1", "overhang", "both sides: min(8 h; s_w/2; l_n/8), one side: min(6 h; s_w/2; l_n/12)", "mm")
def effective_overhang(h_f: float, half_gap: Floats, l_n: float, both: bool) -> Array:
    """What works of a flange at one side of the web, mm."""
    k, share = (8.0, 8.0) if both else (6.0, 12.0)
    return np.asarray(np.minimum(np.minimum(k * h_f, np.asarray(half_gap)), l_n / share))


DEEP_MESH = 0.0025  # 9.9.3.1, of the section, both faces together


@clause(ACI, "9.2.3.1", "l_b", "50 b", "mm")
def bracing_distance(b: Floats) -> Array:
    """Largest distance of lateral bracing, mm; `b` the least width of the compressed face."""
    return np.asarray(50.0 * np.asarray(b, dtype=float))


@clause(ACI, "9.6.1.2", "b_w", "min(b_f; 2 b_w)", "mm", names={"b_f": ("b_f", "mm"), "b_w": ("b_w", "mm")})
def minimum_steel_width(b_w: Floats, b_f: Floats) -> Array:
    """Width for the minimum steel of statically determinate beams with a flange in tension, mm."""
    return np.asarray(np.minimum(np.asarray(b_f, dtype=float), 2.0 * np.asarray(b_w, dtype=float)))
