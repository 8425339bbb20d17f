"""EN 1992-1-1 bending: limits, minimum and maximum steel. N, mm, MPa."""

from __future__ import annotations

import numpy as np

from upright_bramble.codes.en1992.symbols import clause
from upright_bramble.section.arrays import Array, Floats

EN = "EN 1992-1-1"


@clause(EN, "5.3.2.1(3)", "b_eff,i", "min(0.2 b_i + 0.1 l_0; 0.2 l_0; b_i)", "mm")
def effective_overhang(b_i: Floats, l_0: Floats) -> Array:
    """What works of a flange at one side of the web, mm; `b_i` what there is of it, `l_0` between points of no moment."""
    b_i, l_0 = np.asarray(b_i, dtype=float), np.asarray(l_0, dtype=float)
    return np.minimum(np.minimum(0.2 * b_i + 0.1 * l_0, 0.2 * l_0), b_i)


@clause(EN, "5.5(4)", "x_u/d", "(delta - k_a)/k_b")
def neutral_axis_limit(delta: Floats, k_a: float, k_b: float) -> Array:
    """Largest x_u/d for a redistribution ratio delta (1: none); `k_a`, `k_b` = k_1, k_2 or k_3, k_4."""
    return np.asarray((np.asarray(delta) - k_a) / k_b)


@clause(EN, "9.2.1.1(1)", "A_s,min", "max(factor f_ctm/f_yk; floor) b_t d", "mm2")
def least_tension_steel(b_t: Floats, d: Floats, f_ctm: float, f_yk: float, factor: float = 0.26, floor: float = 0.0013) -> Array:
    """Minimum tension steel, mm2."""
    return np.asarray(max(factor * f_ctm / f_yk, floor) * np.asarray(b_t) * d)


@clause(EN, "9.2.1.1(3)", "A_s,max", "share A_c", "mm2")
def most_steel(share: float, a_c: Floats) -> Array:
    """Maximum steel of a face outside laps, mm2."""
    return np.asarray(share * np.asarray(a_c))


@clause(EN, "9.2.1.2(1)", "M_Ed", "beta_1 M_span", "N mm")
def partial_fixity_moment(m_span: Floats, beta_1: float) -> Array:
    """Hogging moment to design an end for that was taken as simple."""
    return np.asarray(beta_1 * np.asarray(m_span))


@clause(EN, "5.3.2.2(4)", "dM_Ed", "max(F_Ed,sup; 0) t/8", "N mm")
def support_rounding(reaction: Floats, width: Floats) -> Array:
    """Reduction of the peak over a support that does not restrain rotation; no reduction under uplift."""
    return np.asarray(np.maximum(np.asarray(reaction), 0.0) * width / 8.0)


@clause(EN, "5.3.2.2(3)", "M_Ed", "max(M_face; 0.65 M_fixed)", "N mm")
def face_moment(m_face: Floats, m_fixed: Floats) -> Array:
    """Magnitude of the design moment at the face of a monolithic support."""
    return np.asarray(np.maximum(np.asarray(m_face), 0.65 * np.asarray(m_fixed)))


DEEP_MESH, DEEP_MESH_LEAST, DEEP_MESH_APART = 0.001, 0.15, 300.0  # 9.7(1): share of the section, mm2/mm, mm


@clause(EN, "5.9(3)", "l_0t", (("h/b <= 2.5", "50 b/cbrt(h/b)"), ("", "0")), "mm")
def unbraced_length(b: Floats, h: Floats) -> Array:
    """Distance of torsional restraints up to which lateral instability may be left out, mm: 0 where h/b exceeds 2.5."""
    ratio = np.asarray(h, dtype=float) / b
    return np.asarray(np.where(ratio <= 2.5 + 1e-9, 50.0 * np.asarray(b) / np.cbrt(ratio), 0.0))


@clause(EN, "9.2.1.2(3)", "s", "15 phi", "mm")
def compressed_bar_spacing(phi: Floats) -> Array:
    """Largest spacing of stirrups along bars in compression that the resistance counts on, mm."""
    return np.asarray(15.0 * np.asarray(phi, dtype=float))
