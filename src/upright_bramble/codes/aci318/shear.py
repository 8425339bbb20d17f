"""ACI 318-19 22.5, 9.6.3, 9.7.6.2: one-way shear. Arrays over stations; N, mm, MPa."""

from __future__ import annotations

import numpy as np

from upright_bramble.codes.aci318.expressions import Expressions
from upright_bramble.codes.aci318.symbols import clause
from upright_bramble.section.arrays import Array, Floats

ACI = "ACI 318-19"


@clause(ACI, "22.5.5.1.3", "lambda_s", "min(sqrt(2/(1 + d/{size})); 1)")
def size_factor(d: Floats, x: Expressions) -> Array:
    """Size effect of members without minimum stirrups; d in mm."""
    return np.minimum(np.sqrt(2.0 / (1.0 + np.asarray(d, dtype=float) / x.size)), 1.0)


@clause(
    ACI,
    "22.5.5.1",
    "V_c",
    "min(max(v_c + min(N_u/(6 A_g); 0.05 f'c); 0); {vcm} lambda min(sqrt(f'c); {rm})) b_w d",
    "N",
    where={
        "rho_w": "A_s/(b_w d)",
        "v_c": (
            ("tied >= 1", "max({vc0}; {vc1} cbrt(rho_w)) lambda min(sqrt(f'c); {rm})"),
            ("", "{vc1} lambda_s cbrt(rho_w) lambda min(sqrt(f'c); {rm})"),
        ),
    },
)
def concrete_strength(
    f_c: float, b_w: Floats, d: Floats, a_s: Floats, tied: Floats, x: Expressions, n_u: Floats = 0.0, a_g: Floats = 1.0, lam: float = 1.0
) -> Array:
    """Shear carried by the concrete (Table 22.5.5.1), N, from 0 to 5 lambda sqrt(f'c) b_w d.

    `tied` (bool) where there are at least the minimum stirrups; `n_u` compression positive, on the gross area `a_g`.
    """
    root = lam * x.capped_root(f_c)
    b_w, d = np.asarray(b_w, dtype=float), np.asarray(d, dtype=float)
    axial = np.minimum(np.asarray(n_u) / (6.0 * np.asarray(a_g)), 0.05 * f_c)  # 22.5.5.1.2
    rho = np.cbrt(np.asarray(a_s) / (b_w * d))
    plain, ratio, most = x.v_c
    with_ties = np.maximum(plain, ratio * rho) * root
    without = ratio * size_factor(d, x) * rho * root
    stress = np.where(np.asarray(tied, dtype=bool), with_ties, without) + axial
    return np.asarray(np.clip(stress, 0.0, most * root) * b_w * d)


@clause(ACI, "22.5.8.5.3", "V_s", "a_v f_yt d", "N")
def stirrup_strength(av_s: Floats, f_yt: float, d: Floats) -> Array:
    """Shear carried by stirrups, N."""
    return np.asarray(np.asarray(av_s) * f_yt * d)


@clause(ACI, "22.5.1.2", "V_n,max", "V_c + {vs} min(sqrt(f'c); {rm}) b_w d", "N")
def section_limit(v_c: Floats, f_c: float, b_w: Floats, d: Floats, x: Expressions) -> Array:
    """Greatest nominal shear of the section, N."""
    return np.asarray(np.asarray(v_c) + x.v_s_most * x.capped_root(f_c) * np.asarray(b_w) * d)


@clause(ACI, "22.5.1.1", "phiV_n", "min(phi (V_c + V_s); phi V_n,max)", "N")
def design_strength(phi: float, v_c: Floats, v_s: Floats, v_n_max: Floats) -> Array:
    """Of concrete and stirrups together, no more than the section's, N."""
    return np.minimum(phi * (np.asarray(v_c) + v_s), phi * np.asarray(v_n_max))


@clause(ACI, "9.6.3.4", "a_v,min", "max({av0} sqrt(f'c); {av1}) b_w/f_yt", "mm2/mm")
def least_stirrups(f_c: float, f_yt: float, b_w: Floats, x: Expressions) -> Array:
    """Minimum stirrups, mm2/mm."""
    return np.asarray(max(x.av_min[0] * float(x.root(f_c)), x.av_min[1] * x.stress) * np.asarray(b_w) / f_yt)


@clause(ACI, "9.6.3.1", "V_n,0", "{avt} min(sqrt(f'c); {rm}) b_w d", "N")
def stirrup_threshold(f_c: float, b_w: Floats, d: Floats, x: Expressions) -> Array:
    """Nominal shear up to which no stirrups are asked for, N."""
    return np.asarray(x.av_threshold * x.capped_root(f_c) * np.asarray(b_w) * d)


@clause(ACI, "9.7.6.2.2", "s", "along: min(d/2; 24 in), across: min(d; 24 in); halves where V_s > 4 sqrt(f'c) b_w d", "mm")
def widest_spacing(v_s: Floats, f_c: float, b_w: Floats, d: Floats, x: Expressions) -> tuple[Array, Array]:
    """Largest spacing of stirrups along the beam, and of legs across it, mm, for the shear V_s that they carry (N)."""
    d = np.asarray(d, dtype=float)
    close = np.asarray(v_s) > x.close * x.capped_root(f_c) * np.asarray(b_w) * d
    most = np.where(close, x.widest[1], x.widest[0])
    return np.minimum(d * np.where(close, 0.25, 0.5), most), np.minimum(d * np.where(close, 0.5, 1.0), most)
