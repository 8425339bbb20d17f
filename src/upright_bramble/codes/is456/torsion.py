"""IS 456 41, 26.5.1.7: torsion as equivalent shear and moment. Arrays over stations; N, mm, MPa."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Steel
from upright_bramble.codes.is456.materials import MaterialsClauses
from upright_bramble.codes.is456.shear import ShearClauses, maximum_stress, nominal_stress, stirrups_for
from upright_bramble.codes.is456.symbols import NAMES, clause
from upright_bramble.codes.parts import TorsionPart, Tube, Twist, Web
from upright_bramble.section.arrays import Array, Floats

DEEP = 450.0  # 26.5.1.7(b): from which side bars are required, mm
BAR_SPACING = 300.0  # 26.5.1.3
SIDE_SHARE = 0.001  # 26.5.1.3: of the web, half of it at each face


@clause("41.3.1", "V_e", "V_u + 1.6 T_u/b", "N")
def equivalent_shear(v_u: Floats, t_u: Floats, b: Floats) -> Array:
    """Equivalent shear, N.

    v_u : number or array, N (V_u); 0 or more
    t_u : number or array, N mm (T_u); 0 or more
    b : number or array, mm; above 0

    >>> round(float(equivalent_shear(100.0e3, 30.0e6, 300.0)), 2)
    260000.0
    """
    return np.asarray(np.asarray(v_u) + 1.6 * np.asarray(t_u) / np.asarray(b))


@clause("41.4.2", "M_t", "T_u (1 + D/b)/1.7", "N mm")
def torsional_moment(t_u: Floats, depth: Floats, b: Floats) -> Array:
    """Moment that stands for a torque, on both faces, N mm.

    t_u : number or array, N mm (T_u); 0 or more
    depth : number or array, mm (D); above 0
    b : number or array, mm; above 0

    >>> round(float(torsional_moment(30.0e6, 600.0, 300.0)), 2)
    52941176.47
    """
    return np.asarray(np.asarray(t_u) * (1.0 + np.asarray(depth) / b) / 1.7)


@clause("41.4.2", "M_e1", "M_u + M_t", "N mm", names={"m_u": ("M_u", "N mm"), "m_t": ("M_t", "N mm")})
def equivalent_moment(m_u: Floats, m_t: Floats) -> Array:
    """Equivalent moment of the face that M_u pulls, N mm.

    m_u : number or array, N mm (M_u); 0 or more
    m_t : number or array, N mm (M_t); either sign

    >>> round(float(equivalent_moment(120.0e6, 52.94e6)), 2)
    172940000.0
    """
    return np.asarray(np.asarray(m_u) + m_t)


@clause(
    "41.4.2.1", "M_e2", "max(M_t - M_u; 0)", "N mm", names={"m_u": ("M_u", "N mm"), "m_t": ("M_t", "N mm")}
)
def opposite_moment(m_u: Floats, m_t: Floats) -> Array:
    """Equivalent moment of the other face, N mm.

    m_u : number or array, N mm (M_u); 0 or more
    m_t : number or array, N mm (M_t); either sign

    >>> round(float(opposite_moment(40.0e6, 52.94e6)), 2)
    12940000.0
    """
    return np.asarray(np.maximum(np.asarray(m_t) - m_u, 0.0))


@clause(
    "41.4.3",
    "a_sv",
    "(T_u/(b_1 d_1) + V_u/(2.5 d_1))/f_yd",
    "mm2/mm",
    names={**NAMES, "f_yd": ("f_yd", "MPa")},
)
def transverse_steel(t_u: Floats, v_u: Floats, b_1: Floats, d_1: Floats, f_yd: float) -> Array:
    """Closed two-legged stirrups for torque and shear, mm2/mm; b_1, d_1 between centres of the corner bars.

    t_u : number or array, N mm (T_u); 0 or more
    v_u : number or array, N (V_u); 0 or more
    b_1 : number or array, mm; above 0
    d_1 : number or array, mm; above 0
    f_yd : number, MPa; 200 to 500

    >>> round(float(transverse_steel(30.0e6, 100.0e3, 230.0, 520.0, 361.05)), 4)
    0.9078
    """
    d_1 = np.asarray(d_1, dtype=float)
    return np.asarray((np.asarray(t_u) / (np.asarray(b_1) * d_1) + np.asarray(v_u) / (2.5 * d_1)) / f_yd)


@clause("26.5.1.7(a)", "s_v,max", "min(min(x_1; (x_1 + y_1)/4); 300)", "mm")
def maximum_spacing(x_1: Floats, y_1: Floats) -> Array:
    """Largest spacing of stirrups for torsion, mm; x_1, y_1 dimensions of the stirrup.

    x_1 : number or array, mm; 0 or more
    y_1 : number or array, mm; 0 or more

    >>> round(float(maximum_spacing(150.0, 640.0)), 2)
    150.0
    """
    x_1 = np.asarray(x_1, dtype=float)
    return np.asarray(np.minimum(np.minimum(x_1, 0.25 * (x_1 + np.asarray(y_1))), 300.0))


@clause("41.3.1", "share", "tau_ve/tau_c,max")
def used_share(tau_ve: Floats, tau_c_max: float) -> Array:
    """Of the greatest shear stress.

    tau_ve : number or array, MPa; 0 or more
    tau_c_max : number, MPa (tau_c,max); 2 to 5

    >>> round(float(used_share(1.58, 2.8)), 4)
    0.5643
    """
    return np.asarray(np.asarray(tau_ve) / tau_c_max)


@dataclass(frozen=True)
class TorsionClauses(TorsionPart):
    """Answers on torsion (41)."""

    v: Mapping[str, float]
    materials: MaterialsClauses
    shear: ShearClauses

    @property
    def compatibility_left_out(self) -> str:
        return "41.1"

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
        """41.3: with an equivalent shear stress of no more than tau_c minimum stirrups suffice; else 41.4.
        Torque of compatibility needs no design (41.1). What 41.4.3 requires beyond the stirrups for shear is
        what torsion requires of the two outer legs."""
        _, stirrups = steels
        t = 0.0 * torque if compatible else torque
        tau_ve = nominal_stress(equivalent_shear(shear, t, web.b), web.b, web.d)
        tau_c, f_yd = self.shear.concrete(concrete, web), self.materials.stirrup_yield(stirrups)
        twisted = (t > 0.0) & (tau_ve > tau_c)
        t = np.where(twisted, t, 0.0)
        b_1, d_1 = tube.b - 2.0 * tube.bar_axis, tube.h - 2.0 * tube.bar_axis
        combined = np.maximum(
            transverse_steel(t, shear, b_1, d_1, f_yd), stirrups_for(tau_ve, tau_c, web.b, f_yd)
        )
        for_shear = stirrups_for(nominal_stress(shear, web.b, web.d), tau_c, web.b, f_yd)
        leg = np.where(twisted, np.maximum(0.5 * (combined - for_shear), 1e-9), 0.0)
        x_1, y_1 = tube.b - 2.0 * tube.tie_axis, tube.h - 2.0 * tube.tie_axis
        # each row of side bars has at least its part of half of 0.1 % of the web at each face
        sides = np.where(tube.h > DEEP, SIDE_SHARE * tube.b * tube.h * (x_1 + y_1) / y_1 * 2.0, 1e-6)
        apart = np.where(twisted, maximum_spacing(x_1, y_1), np.inf)
        moment = np.where(twisted, torsional_moment(t, tube.h, tube.b), 0.0)
        used = np.where(twisted, used_share(tau_ve, maximum_stress(concrete.strength)), 0.0)
        limit = BAR_SPACING if float(np.max(tube.h)) > DEEP else DEEP
        return Twist(
            leg=leg,
            bars=np.where(twisted, sides, 0.0),
            around=2.0 * (x_1 + y_1),
            side=y_1,
            crushing=used,
            spacing=apart,
            bar_spacing=limit,
            moment=moment,
        )
