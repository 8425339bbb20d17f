"""CSA A23.3 11.2.9, 11.3.10: torsion. Arrays over stations; N, mm, MPa."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Steel
from upright_bramble.codes.csa_a23.shear import ShearClauses, effective_shear_depth
from upright_bramble.codes.csa_a23.symbols import NAMES, clause
from upright_bramble.codes.parts import TorsionPart, Tube, Twist, Web
from upright_bramble.section.arrays import Array, Floats

BAR_SPACING = 300.0  # 11.2.7: bars around the section, no further apart, mm


@clause("11.2.9.1", "T_cr", "0.38 lambda phi_c sqrt(f'c) A_c^2/p_c", "N mm")
def cracking(phi_c: float, f_c: float, a_c: Floats, p_c: Floats, lam: float = 1.0) -> Array:
    """Factored cracking torque, N mm; of torque up to a quarter of it nothing is required.

    phi_c : number; 0.5 to 1
    f_c : number, MPa (f'c); 20 to 80
    a_c : number or array, mm2 (A_c); above 0
    p_c : number or array, mm; above 0
    lam : number (lambda); 0.75 to 1

    >>> round(float(cracking(0.65, 30.0, 240000.0, 2000.0)), 2)
    38962791.85
    """
    return np.asarray(0.38 * lam * phi_c * math.sqrt(f_c) * np.asarray(a_c) ** 2 / p_c)


@clause("11.2.9.2", "T_f'", "min(T_f; 0.67 T_cr)", "N mm")
def compatibility_torque(t_f: Floats, t_cr: Floats) -> Array:
    """Torque that compatibility alone gives, N mm.

    t_f : number or array, N mm (T_f); 0 or more
    t_cr : number or array, N mm (T_cr); 0 or more

    >>> round(float(compatibility_torque(60.0e6, 39.0e6)), 2)
    26130000.0
    """
    return np.asarray(np.minimum(t_f, 0.67 * np.asarray(t_cr)))


def design_torque(t_f: float, t_cr: float, compatible: bool) -> float:
    """The torque to design for (11.2.9): none up to a quarter of T_cr.

    t_f, t_cr : numbers, N mm; 0 or more
    compatible : true or false

    >>> design_torque(80.0, 100.0, True)
    67.0
    """
    if t_f <= 0.25 * t_cr:
        return 0.0
    return min(t_f, 0.67 * t_cr) if compatible else t_f


@clause("11.3.10.3", "a_t", "T_f/(2 A_o phi_s f_y cot_theta)", "mm2/mm")
def stirrups_required(t_f: Floats, a_o: Floats, phi_s: float, f_y: float, cot: Floats) -> Array:
    """One leg of the closed stirrups, mm2/mm.

    t_f : number or array, N mm (T_f); 0 or more
    a_o : number or array, mm2 (A_o); above 0
    phi_s : number; 0.5 to 1
    f_y : number, MPa; 300 to 500
    cot : number or array (cot_theta); 0.8 to 2.5

    >>> round(float(stirrups_required(60.0e6, 134385.0, 0.85, 400.0, 1.428)), 4)
    0.4598
    """
    return np.asarray(np.asarray(t_f) / (2.0 * np.asarray(a_o) * phi_s * f_y * cot))


@clause("11.3.10.6", "A_l", "T_f p_h cot_theta/(2 A_o phi_s f_y)", "mm2")
def bars_required(t_f: Floats, p_h: Floats, a_o: Floats, phi_s: float, f_y: float, cot: Floats) -> Array:
    """Longitudinal bars around the section, mm2: those of the truss that the force of 11.3.10.6 (0.45 p_h of
    each chord) stands for.


    t_f : number or array, N mm (T_f); 0 or more
    p_h : number or array, mm; 0 or more
    a_o : number or array, mm2 (A_o); above 0
    phi_s : number; 0.5 to 1
    f_y : number, MPa; 300 to 500
    cot : number or array (cot_theta); 0.8 to 2.5

    >>> round(float(bars_required(60.0e6, 1640.0, 134385.0, 0.85, 400.0, 1.428)), 2)
    1537.67
    """
    return np.asarray(np.asarray(t_f) * p_h * cot / (2.0 * np.asarray(a_o) * phi_s * f_y))


@clause("11.3.10.4(b)", "stress", "sqrt((V_f/(b_w d_v))^2 + (T_f p_h/(1.7 A_oh^2))^2)", "MPa")
def section_stress(v_f: Floats, t_f: Floats, b_w: Floats, d_v: Floats, p_h: Floats, a_oh: Floats) -> Array:
    """Stress of solid sections, MPa.

    v_f : number or array, N (V_f); 0 or more
    t_f : number or array, N mm (T_f); 0 or more
    b_w : number or array, mm; above 0
    d_v : number or array, mm; above 0
    p_h : number or array, mm; 0 or more
    a_oh : number or array, mm2 (A_oh); above 0

    >>> round(float(section_stress(200.0e3, 60.0e6, 400.0, 477.0, 1640.0, 158100.0)), 4)
    2.5419
    """
    return np.asarray(
        np.hypot(
            np.asarray(v_f) / (np.asarray(b_w) * d_v), np.asarray(t_f) * p_h / (1.7 * np.asarray(a_oh) ** 2)
        )
    )


def box_stress(v_f: float, t_f: float, b_w: float, d_v: float, p_h: float, a_oh: float) -> float:
    """Stress of box sections (11.3.10.4(a)), MPa.

    v_f : number, N; 0 or more
    t_f : number, N mm; 0 or more
    b_w, d_v : numbers, mm; above 0
    p_h : number, mm; 0 or more
    a_oh : number, mm2; above 0

    >>> round(box_stress(200.0e3, 60.0e6, 400.0, 477.0, 1640.0, 158100.0), 3)
    3.364
    """
    return v_f / (b_w * d_v) + t_f * p_h / (1.7 * a_oh**2)


@clause("11.3.10.4", "share", "stress/(0.25 phi_c f'c)", names={**NAMES, "stress": ("stress", "MPa")})
def used_share(stress: Floats, phi_c: float, f_c: float) -> Array:
    """Of what the section may be stressed by shear and torsion together.

    stress : number or array, MPa; 0 or more
    phi_c : number; 0.5 to 1
    f_c : number, MPa (f'c); 20 to 80

    >>> round(float(used_share(2.54, 0.65, 30.0)), 4)
    0.521
    """
    return np.asarray(np.asarray(stress) / (0.25 * phi_c * f_c))


@clause("11.3.6.4", "q", "0.45 p_h T_f/A_o", "N")
def shear_for_strain(t_f: Floats, p_h: Floats, a_o: Floats) -> Array:
    """Shear that stands for a torque in the strain of the general method, N: 0.9 p_h T_f/(2 A_o).

    t_f : number or array, N mm (T_f); 0 or more
    p_h : number or array, mm; 0 or more
    a_o : number or array, mm2 (A_o); above 0

    >>> round(float(shear_for_strain(40.0e6, 1640.0, 134385.0)), 2)
    219667.37
    """
    return np.asarray(0.45 * np.asarray(p_h) * t_f / np.asarray(a_o))


@clause("11.3.8.3", "s", "0.5 min(0.7 d_v; 600)", "mm")
def maximum_spacing(d_v: Floats) -> Array:
    """Largest spacing of closed stirrups where T_f exceeds 0.25 T_cr, mm.

    d_v : number or array, mm; above 0

    >>> round(float(maximum_spacing(477.0)), 2)
    166.95
    """
    return np.asarray(0.5 * np.minimum(0.7 * np.asarray(d_v, dtype=float), 600.0))


def _outer(tube: Tube) -> tuple[Array, Array]:
    """A_c and p_c, with the overhangs of a flange of no more than three times its thickness."""
    out = np.minimum(tube.left, 3.0 * tube.flange) + np.minimum(tube.right, 3.0 * tube.flange)
    enclosed, around = tube.b * tube.h + out * tube.flange, 2.0 * (tube.b + tube.h + out)
    plain, plain_around = tube.b * tube.h, 2.0 * (tube.b + tube.h)
    less = enclosed**2 / around < plain**2 / plain_around  # the lesser cracks first: safe
    return np.where(less, enclosed, plain), np.where(less, around, plain_around)


@dataclass(frozen=True)
class TorsionClauses(TorsionPart):
    """Answers on torsion (11.2.9, 11.3.10)."""

    v: Mapping[str, float]
    shear: ShearClauses

    def shear_for_strain(self, tube: Tube, torque: Array) -> Array:
        x_1, y_1 = tube.b - 2.0 * tube.tie_axis, tube.h - 2.0 * tube.tie_axis
        return shear_for_strain(torque, 2.0 * (x_1 + y_1), 0.85 * x_1 * y_1)

    def required(
        self,
        concrete: Concrete,
        steels: tuple[Steel, Steel],
        web: Web,
        tube: Tube,
        shear: Array,
        torque: Array,
        cot: Array,
        compatible: bool,
    ) -> Twist:
        bars, stirrups = steels
        f_c = concrete.strength
        phi_s, phi_c = self.v["phi_s"], self.v["phi_c"]
        t_cr = cracking(phi_c, f_c, *_outer(tube))
        t = compatibility_torque(torque, t_cr) if compatible else torque
        t = np.where(t <= 0.25 * t_cr, 0.0, t)
        x_1, y_1 = tube.b - 2.0 * tube.tie_axis, tube.h - 2.0 * tube.tie_axis
        a_oh, p_h = x_1 * y_1, 2.0 * (x_1 + y_1)
        d_v = effective_shear_depth(web.d, web.h)
        _, cot = self.shear.angles(concrete, stirrups, web, np.ones(np.shape(web.d), dtype=bool), shear)
        leg = stirrups_required(t, 0.85 * a_oh, phi_s, stirrups.strength, cot)
        requested = bars_required(t, p_h, 0.85 * a_oh, phi_s, bars.strength, cot)
        used = used_share(section_stress(shear, t, web.b, d_v, p_h, a_oh), phi_c, f_c)
        apart = np.where(t > 0.0, maximum_spacing(d_v), np.inf)
        return Twist(leg, requested, p_h, y_1, np.where(t > 0.0, used, 0.0), apart, BAR_SPACING)
