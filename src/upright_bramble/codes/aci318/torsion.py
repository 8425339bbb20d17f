"""ACI 318-19 22.7, 9.6.4, 9.7.5-6: torsion. Arrays over stations; N, mm, MPa; `x` the set of expressions."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Steel
from upright_bramble.codes.aci318.expressions import Expressions
from upright_bramble.codes.aci318.materials import MaterialsClauses
from upright_bramble.codes.aci318.shear import ShearClauses
from upright_bramble.codes.aci318.symbols import ACI, clause
from upright_bramble.codes.parts import (
    TorsionPart,
    Tube,
    Twist,
    Web,
)
from upright_bramble.section.arrays import Array, Floats


def _with_axial(coefficient: float, f_c: float, n_u: Floats, a_g: Floats, x: Expressions) -> Array:
    root = coefficient * x.capped_root(f_c)
    axial = np.asarray(n_u) / (np.asarray(a_g) * x.torsion[1] * x.capped_root(f_c))
    return np.asarray(root * np.sqrt(np.maximum(1.0 + axial, 0.0)))


@clause(
    ACI,
    "22.7.4.1",
    "T_th",
    "{tt} min(sqrt(f'c); {rm}) sqrt(max(1 + N_u/(A_g {tc} min(sqrt(f'c); {rm})); 0)) A_cp^2/p_cp",
    "N mm",
)
def threshold(
    f_c: float, a_cp: Floats, p_cp: Floats, x: Expressions, n_u: Floats = 0.0, a_g: Floats = 1.0
) -> Array:
    """Nominal torque up to which torsion may be neglected, N mm.

    f_c : number, MPa (f'c); 17 to 100
    a_cp : number or array, mm2 (A_cp); 0 or more
    p_cp : number or array, mm; above 0
    x : the set of expressions
    n_u : number or array, N (N_u); either sign
    a_g : number or array, mm2 (A_g); above 0

    >>> from upright_bramble.codes.aci318.expressions import METRIC
    >>> round(float(threshold(28.0, 220000.0, 2000.0, METRIC, 0.0, 1.0)), 2)
    10628512.17
    """
    return np.asarray(_with_axial(x.torsion[0], f_c, n_u, a_g, x) * np.asarray(a_cp) ** 2 / p_cp)


@clause(
    ACI,
    "22.7.5.1",
    "T_cr",
    "{tc} min(sqrt(f'c); {rm}) sqrt(max(1 + N_u/(A_g {tc} min(sqrt(f'c); {rm})); 0)) A_cp^2/p_cp",
    "N mm",
)
def cracking(
    f_c: float, a_cp: Floats, p_cp: Floats, x: Expressions, n_u: Floats = 0.0, a_g: Floats = 1.0
) -> Array:
    """Nominal cracking torque, N mm.

    f_c : number, MPa (f'c); 17 to 100
    a_cp : number or array, mm2 (A_cp); 0 or more
    p_cp : number or array, mm; above 0
    x : the set of expressions
    n_u : number or array, N (N_u); either sign
    a_g : number or array, mm2 (A_g); above 0

    >>> from upright_bramble.codes.aci318.expressions import METRIC
    >>> round(float(cracking(28.0, 220000.0, 2000.0, METRIC, 0.0, 1.0)), 2)
    42257939.94
    """
    return np.asarray(_with_axial(x.torsion[1], f_c, n_u, a_g, x) * np.asarray(a_cp) ** 2 / p_cp)


@clause(ACI, "22.7.6.1", "a_t", "T_u/(phi 2 A_o f_yt cot_theta)", "mm2/mm")
def stirrups_required(t_u: Floats, a_o: Floats, f_yt: float, phi: float = 0.75, cot: Floats = 1.0) -> Array:
    """One leg of the closed stirrups, mm2/mm.

    t_u : number or array, N mm (T_u); 0 or more
    a_o : number or array, mm2 (A_o); above 0
    f_yt : number, MPa; 250 to 700
    phi : number; 0.5 to 1
    cot : number or array (cot_theta); 1 to 2.5

    >>> round(float(stirrups_required(50000000.0, 120000.0, 350.0, 0.75, 1.0)), 4)
    0.7937
    """
    return np.asarray(np.asarray(t_u) / (phi * 2.0 * np.asarray(a_o) * f_yt * cot))


@clause(ACI, "22.7.6.1", "A_l", "T_u p_h cot_theta/(phi 2 A_o f_y)", "mm2")
def bars_required(
    t_u: Floats, a_o: Floats, p_h: Floats, f_y: float, phi: float = 0.75, cot: Floats = 1.0
) -> Array:
    """Longitudinal bars around the section, mm2.

    t_u : number or array, N mm (T_u); 0 or more
    a_o : number or array, mm2 (A_o); above 0
    p_h : number or array, mm; 0 or more
    f_y : number, MPa; 250 to 700
    phi : number; 0.5 to 1
    cot : number or array (cot_theta); 1 to 2.5

    >>> round(float(bars_required(50000000.0, 120000.0, 1650.0, 420.0, 0.75, 1.0)), 2)
    1091.27
    """
    return np.asarray(np.asarray(t_u) * p_h * cot / (phi * 2.0 * np.asarray(a_o) * f_y))


@clause(
    ACI,
    "9.6.4.3",
    "A_l,min",
    "max(min({al0} sqrt(f'c) A_cp/f_y - a_t p_h f_yt/f_y; {al0} sqrt(f'c) A_cp/f_y - {al1} b_w/f_yt "
    "p_h f_yt/f_y); 0)",
    "mm2",
)
def minimum_bars(
    f_c: float, a_cp: Floats, at_s: Floats, p_h: Floats, f_yt: float, f_y: float, b_w: Floats, x: Expressions
) -> Array:
    """Least longitudinal bars, mm2: the lesser of both expressions.

    f_c : number, MPa (f'c); 17 to 100
    a_cp : number or array, mm2 (A_cp); 0 or more
    at_s : number or array, mm2/mm (a_t); 0 or more
    p_h : number or array, mm; 0 or more
    f_yt : number, MPa; 250 to 700
    f_y : number, MPa; 250 to 700
    b_w : number or array, mm; above 0
    x : the set of expressions

    >>> from upright_bramble.codes.aci318.expressions import METRIC
    >>> round(float(minimum_bars(28.0, 220000.0, 1.1, 1650.0, 350.0, 420.0, 300.0, METRIC)), 8)
    0.0
    """
    first, lowest = x.al_min
    total = first * x.root(f_c) * np.asarray(a_cp) / f_y
    floor = lowest * x.stress * np.asarray(b_w) / f_yt
    a, b = (total - part * np.asarray(p_h) * f_yt / f_y for part in (np.asarray(at_s), floor))
    return np.asarray(np.maximum(np.minimum(a, b), 0.0))


@clause(ACI, "22.7.7.1", "stress", "sqrt((V_u/(b_w d))^2 + (T_u p_h/(1.7 A_oh^2))^2)", "MPa")
def section_stress(v_u: Floats, t_u: Floats, b_w: Floats, d: Floats, p_h: Floats, a_oh: Floats) -> Array:
    """Stress of solid sections, MPa.

    v_u : number or array, N (V_u); 0 or more
    t_u : number or array, N mm (T_u); 0 or more
    b_w : number or array, mm; above 0
    d : number or array, mm; above 0
    p_h : number or array, mm; 0 or more
    a_oh : number or array, mm2 (A_oh); above 0

    >>> round(float(section_stress(460000.0, 50000000.0, 300.0, 540.0, 1650.0, 120000.0)), 4)
    4.4069
    """
    shear = np.asarray(v_u) / (np.asarray(b_w) * d)
    torsion = np.asarray(t_u) * p_h / (1.7 * np.asarray(a_oh) ** 2)
    return np.asarray(np.hypot(shear, torsion))


@clause(ACI, "22.7.7.1", "limit", "phi (V_c/(b_w d) + {vs} min(sqrt(f'c); {rm}))", "MPa")
def section_limit(
    v_c: Floats, f_c: float, b_w: Floats, d: Floats, x: Expressions, phi: float = 0.75
) -> Array:
    """Most that the section stress may be, MPa.

    v_c : number or array, N (V_c); 0 or more
    f_c : number, MPa (f'c); 17 to 100
    b_w : number or array, mm; above 0
    d : number or array, mm; above 0
    x : the set of expressions
    phi : number; 0.5 to 1

    >>> from upright_bramble.codes.aci318.expressions import METRIC
    >>> round(float(section_limit(460000.0, 28.0, 300.0, 540.0, METRIC, 0.75)), 4)
    4.7489
    """
    return np.asarray(phi * (np.asarray(v_c) / (np.asarray(b_w) * d) + x.v_s_most * x.capped_root(f_c)))


@clause(ACI, "9.7.6.3.3", "s", "min(p_h/8; {w1})", "mm")
def maximum_spacing(p_h: Floats, x: Expressions) -> Array:
    """Largest spacing of torsion stirrups along the beam, mm.

    p_h : number or array, mm; 0 or more
    x : the set of expressions

    >>> from upright_bramble.codes.aci318.expressions import METRIC
    >>> round(float(maximum_spacing(1650.0, METRIC)), 2)
    206.25
    """
    return np.minimum(np.asarray(p_h) / 8.0, x.maximum_spacing[1])


def _with_flange(
    b: Floats, h: Floats, h_f: Floats, left: Floats, right: Floats
) -> tuple[Array, Array, Array]:
    """Overhangs that count (9.2.4.4), area and perimeter with them."""
    b, h, h_f = (np.asarray(v, dtype=float) for v in (b, h, h_f))
    highest = np.minimum(np.maximum(h - h_f, 0.0), 4.0 * h_f)
    out = np.minimum(left, highest) + np.minimum(right, highest)
    return out, b * h + out * h_f, 2.0 * (b + h) + 2.0 * out


def _outer(b: Floats, h: Floats, h_f: Floats, left: Floats, right: Floats) -> tuple[Array, Array]:
    """A_cp (mm2) and p_cp (mm): with the flange where A_cp^2/p_cp is not less with it, else of the web."""
    _, area, around = _with_flange(b, h, h_f, left, right)
    plain, plain_around = np.asarray(b) * h, 2.0 * (np.asarray(b) + h)
    with_it = area**2 / around >= plain**2 / plain_around
    return np.where(with_it, area, plain), np.where(with_it, around, plain_around)


@clause(
    ACI,
    "9.2.4.4",
    "A_cp",
    "b_w h, with overhangs of min(h - h_f; 4 h_f) each where A_cp^2/p_cp is not less with them",
    "mm2",
)
def outer_area(b: Floats, h: Floats, h_f: Floats, left: Floats, right: Floats) -> Array:
    """Area inside the outer perimeter, mm2, with what of a flange counts: no more at each side than it stands
    out, than the web goes on below it, and than four times its thickness.

    b : number or array, mm; above 0
    h : number or array; above 0
    h_f : number or array, mm; 0 or more
    left : number or array, mm; 0 or more
    right : number or array, mm; 0 or more

    >>> round(float(outer_area(300.0, 600.0, 190.0, 1.0, 1.0)), 2)
    180380.0
    """
    return _outer(b, h, h_f, left, right)[0]


@clause(ACI, "9.2.4.4", "p_cp", "outer perimeter of that area", "mm")
def outer_perimeter(b: Floats, h: Floats, h_f: Floats, left: Floats, right: Floats) -> Array:
    """Length of the outer perimeter, mm.

    b : number or array, mm; above 0
    h : number or array; above 0
    h_f : number or array, mm; 0 or more
    left : number or array, mm; 0 or more
    right : number or array, mm; 0 or more

    >>> round(float(outer_perimeter(300.0, 600.0, 190.0, 1.0, 1.0)), 2)
    1804.0
    """
    return _outer(b, h, h_f, left, right)[1]


@clause(
    ACI, "22.7.7.1", "share", "stress/limit", names={"stress": ("stress", "MPa"), "limit": ("limit", "MPa")}
)
def used_share(stress: Floats, limit: Floats) -> Array:
    """Of what the section may be stressed by shear and torsion together.

    stress : number or array, MPa; 0 or more
    limit : number or array, MPa; above 0

    >>> round(float(used_share(3.0, 5.0)), 4)
    0.6
    """
    return np.asarray(np.asarray(stress) / limit)


@clause(ACI, "9.7.5.3, 9.7.6.3.2", "reach", "b_t + d", "mm", names={"b_t": ("b_t", "mm"), "d": ("d", "mm")})
def extension(b_t: Floats, d: Floats) -> Array:
    """How far reinforcement for torsion goes on beyond where it is required, mm; `b_t` width inside the
    closed stirrups' outer legs.

    b_t : number or array, mm; above 0
    d : number or array, mm; above 0

    >>> round(float(extension(550.0, 540.0)), 2)
    1090.0
    """
    return np.asarray(np.asarray(b_t) + d)


@clause(ACI, "9.7.5.2", "d_b", "max(0.042 s; {bar})", "mm", names={"spacing": ("s", "mm")})
def minimum_bar_diameter(spacing: Floats, x: Expressions) -> Array:
    """Least diameter of longitudinal bars for torsion, mm.

    spacing : number or array, mm (s); 0 or more
    x : the set of expressions

    >>> from upright_bramble.codes.aci318.expressions import METRIC
    >>> round(float(minimum_bar_diameter(220.0, METRIC)), 4)
    9.5
    """
    return np.maximum(0.042 * np.asarray(spacing), 0.375 * 25.4 if x.length > 1.0 else 9.5)


@dataclass(frozen=True)
class TorsionClauses(TorsionPart):
    """Answers on torsion (22.7, 9.6.4)."""

    v: Mapping[str, float]
    x: Expressions
    materials: MaterialsClauses
    shear: ShearClauses

    develops_bars = True

    def extension(self, b_t: Floats, d: Floats) -> Array:
        """9.7.5.3, 9.7.6.3.2."""
        return extension(b_t, d)

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
        """22.7: threshold and cracking with the flange of 9.2.4.4, stirrups around the web; torque of
        compatibility no more than phi T_cr (22.7.3.2)."""
        bars, stirrups = steels
        phi, f_c, x = self.v["phi_torsion"], concrete.strength, self.x
        outline = (tube.b, tube.h, tube.flange, tube.left, tube.right)
        a_cp, p_cp = outer_area(*outline), outer_perimeter(*outline)
        x_1, y_1 = tube.b - 2.0 * tube.tie_axis, tube.h - 2.0 * tube.tie_axis
        a_oh, p_h = x_1 * y_1, 2.0 * (x_1 + y_1)
        t = (
            np.minimum(torque, phi * cracking(f_c, a_cp, p_cp, x, web.axial, web.gross))
            if compatible
            else torque
        )
        t = np.where(t < phi * threshold(f_c, a_cp, p_cp, x, web.axial, web.gross), 0.0, t)
        f_yt = self.materials.stirrup_yield(stirrups)
        leg = stirrups_required(t, 0.85 * a_oh, f_yt, phi, cot)
        lowest = minimum_bars(f_c, a_cp, leg, p_h, f_yt, self.materials.stirrup_yield(bars), web.b, x)
        requested = np.maximum(
            bars_required(t, 0.85 * a_oh, p_h, self.materials.stirrup_yield(bars), phi, cot),
            np.where(t > 0.0, lowest, 0.0),
        )
        v_c = self.shear.concrete_with_stirrups(concrete, web)
        used = used_share(
            section_stress(shear, t, web.b, web.d, p_h, a_oh), section_limit(v_c, f_c, web.b, web.d, x, phi)
        )
        apart = np.where(t > 0.0, maximum_spacing(p_h, x), np.inf)
        return Twist(leg, requested, p_h, y_1, np.where(t > 0.0, used, 0.0), apart, x.maximum_spacing[1])
