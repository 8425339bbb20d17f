"""BS 8110-1 3.4.5: shear. Arrays over stations; N, mm, MPa."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Steel
from upright_bramble.codes.bs8110.materials import MaterialsClauses
from upright_bramble.codes.bs8110.symbols import NAMES, clause
from upright_bramble.codes.parts import ShearPart, ShearState, Web
from upright_bramble.section.arrays import Array, Floats, Mask

NOMINAL = 0.4  # Table 3.7, MPa
LEG_TO_BAR = 150.0  # 3.4.5.5, mm


@clause("3.4.5.2", "v", "V/(b_v d)", "MPa")
def shear_stress(v_force: Floats, b_v: Floats, d: Floats) -> Array:
    """Design shear stress, MPa.

    v_force : number or array, N (V); 0 or more
    b_v : number or array, mm; above 0
    d : number or array, mm; above 0

    >>> round(float(shear_stress(200.0e3, 300.0, 550.0)), 4)
    1.2121
    """
    return np.asarray(np.asarray(v_force) / (np.asarray(b_v) * d))


@clause("3.4.5.2", "v_max", "min(0.8 sqrt(f_cu); 5)", "MPa")
def maximum_stress(f_cu: float) -> float:
    """Shear stress that is never exceeded, MPa.

    f_cu : number, MPa; 20 to 60

    >>> round(float(maximum_stress(30.0)), 4)
    4.3818
    """
    return float(min(0.8 * np.sqrt(f_cu), 5.0))


@clause(
    "Table 3.8",
    "v_c",
    "0.79 cbrt(min(max(100 A_s/(b_v d); 0.15); 3)) depth cbrt(min(f_cu; 40)/25)/1.25",
    "MPa",
    where={"depth": (("tied >= 1", "max((400/d)^0.25; 1)"), ("", "max((400/d)^0.25; 0.67)"))},
    names={**NAMES, "tied": ("tied", "")},
)
def concrete_stress(f_cu: float, b_v: Floats, d: Floats, a_s: Floats, tied: Floats = 0.0) -> Array:
    """Design concrete shear stress, MPa; `tied` (bool) where there are at least nominal links. f_cu of 25 to
    40 counts; below 25 in proportion.

    f_cu : number, MPa; 20 to 60
    b_v : number or array, mm; above 0
    d : number or array, mm; above 0
    a_s : number or array, mm2 (A_s); 0 or more
    tied : number or array; one of 0, 1

    >>> round(float(concrete_stress(25.0, 300.0, 400.0, 1200.0)), 4)
    0.632
    """
    d = np.asarray(d, dtype=float)
    percent = np.clip(100.0 * np.asarray(a_s) / (np.asarray(b_v) * d), 0.15, 3.0)
    depth = np.maximum((400.0 / d) ** 0.25, np.where(np.asarray(tied, dtype=bool), 1.0, 0.67))
    strength = min(f_cu, 40.0) / 25.0
    return np.asarray(0.79 * np.cbrt(percent) * depth * np.cbrt(strength) / 1.25)


@clause(
    "3.4.5.12",
    "v_c'",
    "v_c + 0.6 N/A_c min(r_M; 1)",
    "MPa",
    names={**NAMES, "ratio": ("r_M", "")},
)
def with_axial_force(v_c: Floats, n: Floats, a_c: Floats, ratio: Floats = 1.0) -> Array:
    """Concrete shear stress with an axial force (compression positive), MPa; `ratio` is V h/M,
    of no more than 1.

    v_c : number or array, MPa; 0.1 to 2
    n : number or array, N (N); 0 or more
    a_c : number or array, mm2 (A_c); above 0
    ratio : number or array (V h/M); 0 or more

    >>> round(float(with_axial_force(0.6, 300.0e3, 180000.0, 0.4)), 4)
    1.0
    """
    return np.asarray(np.asarray(v_c) + 0.6 * np.asarray(n) / a_c * np.minimum(ratio, 1.0))


@clause("3.4.5.8", "v_c,enh", "min(v_c max(2 d/a_v; 1); v_max)", "MPa")
def enhanced_stress(v_c: Floats, d: Floats, a_v: Floats, v_max: float) -> Array:
    """Concrete shear stress within 2 d of a support, MPa; a_v from the face.

    v_c : number or array, MPa; 0.1 to 2
    d : number or array, mm; above 0
    a_v : number or array, mm; above 0
    v_max : number, MPa; 0 to 5

    >>> round(float(enhanced_stress(0.6, 500.0, 500.0, 4.38)), 4)
    1.2
    """
    return np.asarray(np.minimum(np.asarray(v_c) * np.maximum(2.0 * np.asarray(d) / a_v, 1.0), v_max))


@clause("Table 3.7", "a_sv,nom", "0.4 b_v/f_yv,d", "mm2/mm")
def nominal_links(b_v: Floats, f_yvd: float) -> Array:
    """Nominal links, mm2/mm.

    b_v : number or array, mm; above 0
    f_yvd : number, MPa (f_yv,d); 200 to 500

    >>> round(float(nominal_links(300.0, 437.0)), 4)
    0.2746
    """
    return np.asarray(NOMINAL * np.asarray(b_v) / f_yvd)


@clause("Table 3.7", "a_sv", "max(b_v (v - v_c); 0)/f_yv,d", "mm2/mm")
def links_for(v: Floats, v_c: Floats, b_v: Floats, f_yvd: float) -> Array:
    """Links that carry what the concrete does not, mm2/mm.

    v : number or array, MPa; 0 or more
    v_c : number or array, MPa; 0.1 to 2
    b_v : number or array, mm; above 0
    f_yvd : number, MPa (f_yv,d); 200 to 500

    >>> round(float(links_for(1.8, 0.7, 300.0, 437.0)), 4)
    0.7551
    """
    return np.asarray(np.maximum(np.asarray(v) - v_c, 0.0) * b_v / f_yvd)


def required_links(v: Floats, v_c: Floats, b_v: Floats, f_yvd: float) -> Array:
    """Table 3.7 in whole, mm2/mm: nominal links up to v_c + 0.4 MPa, more above.

    v : number or arrays, MPa; 0 or more
    v_c : number or arrays, MPa; 0.1 to 2
    b_v : number or array, mm; above 0
    f_yvd : number, MPa; 200 to 500

    >>> round(float(required_links(0.9, 0.6, 300.0, 437.0)), 4)
    0.2746
    """
    more = links_for(v, v_c, b_v, f_yvd)
    return np.where(np.asarray(v) <= np.asarray(v_c) + NOMINAL, nominal_links(b_v, f_yvd), more)


@clause(
    "3.4.5.9",
    "A_sv",
    "max(a_v b (v - 2 d v_c/a_v); 0.4 b a_v)/f_yv,d",
    "mm2",
    names={**NAMES, "b": ("b", "mm")},
)
def links_near_support(v: float, v_c: float, a_v: float, b: float, d: float, f_yvd: float) -> float:
    """Links within the middle three quarters of a_v, mm2.

    v : number, MPa; 0 or more
    v_c : number, MPa; 0.1 to 2
    a_v : number, mm; above 0
    b : number, mm; above 0
    d : number, mm; above 0
    f_yvd : number, MPa (f_yv,d); 200 to 500

    >>> round(float(links_near_support(1.2, 0.6, 600.0, 300.0, 500.0, 437.0)), 2)
    164.76
    """
    return max(a_v * b * (v - 2.0 * d * v_c / a_v), NOMINAL * b * a_v) / f_yvd


@clause(
    "3.4.5.6",
    "V_b",
    "A_sb f_yv,d (cos_alpha + sin_alpha cot_beta) (d - d')/s_b",
    "N",
    names={
        "a_sb": ("A_sb", "mm2"),
        "f_yvd": ("f_yv,d", "MPa"),
        "cos_alpha": ("cos_alpha", ""),
        "sin_alpha": ("sin_alpha", ""),
        "cot_beta": ("cot_beta", ""),
        "d": ("d", "mm"),
        "d_2": ("d'", "mm"),
        "s_b": ("s_b", "mm"),
    },
)
def bent_up_bars(
    a_sb: float,
    f_yvd: float,
    cos_alpha: float,
    sin_alpha: float,
    cot_beta: float,
    d: float,
    d_2: float,
    s_b: float,
) -> float:
    """Shear that bent-up bars carry, N; alpha and beta of at least 45 degrees.

    a_sb : number, mm2 (A_sb); 0 or more
    f_yvd : number, MPa (f_yv,d); 200 to 500
    cos_alpha : number; 0 to 1
    sin_alpha : number; 0.7 to 1
    cot_beta : number; 0 to 3
    d : number, mm; above 0
    d_2 : number, mm (d'); 0 or more
    s_b : number, mm; above 0

    >>> round(float(bent_up_bars(628.3, 437.0, 0.7071, 0.7071, 0.4142, 450.0, 50.0, 400.0)), 2)
    274561.83
    """
    return a_sb * f_yvd * (cos_alpha + sin_alpha * cot_beta) * (d - d_2) / s_b


@clause(
    "3.4.5.6",
    "V_b,counted",
    "min(V_b; V_links/2)",
    "N",
    names={"v_b": ("V_b", "N"), "needed": ("V_links", "N")},
)
def bent_up_share(v_b: float, needed: float) -> float:
    """Of bent-up bars no more than half of what links would have to carry, N.

    v_b : number, N (V_b); 0 or more
    needed : number, N (V_links); 0 or more

    >>> round(float(bent_up_share(150.0e3, 200.0e3)), 2)
    100000.0
    """
    return min(v_b, 0.5 * needed)


@clause("3.4.5.3", "V_R", "min(v_c b_v d + a_sv f_yv,d d; v_max b_v d)", "N")
def design_resistance(
    v_c: Floats, asv_sv: Floats, f_yvd: float, v_max: float, b_v: Floats, d: Floats
) -> Array:
    """Design shear resistance of concrete and links, N.

    v_c : number or array, MPa; 0.1 to 2
    asv_sv : number or array, mm2/mm (a_sv); 0 or more
    f_yvd : number, MPa (f_yv,d); 200 to 500
    v_max : number, MPa; 0 to 5
    b_v : number or array, mm; above 0
    d : number or array, mm; above 0

    >>> round(float(design_resistance(0.7, 0.6, 437.0, 4.38, 300.0, 550.0)), 2)
    259710.0
    """
    b_v, d = np.asarray(b_v, dtype=float), np.asarray(d, dtype=float)
    return np.asarray(np.minimum((np.asarray(v_c) * b_v + np.asarray(asv_sv) * f_yvd) * d, v_max * b_v * d))


@clause("3.4.5.2", "V_max", "v_max b_v d", "N")
def crushing_resistance(v_max: float, b_v: Floats, d: Floats) -> Array:
    """Shear that is never exceeded, N.

    v_max : number, MPa; 0 to 5
    b_v : number or array, mm; above 0
    d : number or array, mm; above 0

    >>> round(float(crushing_resistance(4.38, 300.0, 550.0)), 2)
    722700.0
    """
    return np.asarray(v_max * np.asarray(b_v) * d)


@clause("3.4.5.5", "s_v,max", "0.75 d", "mm")
def maximum_spacing(d: Floats) -> Array:
    """Largest spacing of links along the beam, mm.

    d : number or array, mm; above 0

    >>> round(float(maximum_spacing(550.0)), 2)
    412.5
    """
    return np.asarray(0.75 * np.asarray(d, dtype=float))


@clause("3.4.5.5", "s_leg,max", "min(d; 2 150)", "mm")
def maximum_leg_spacing(d: Floats) -> Array:
    """Largest distance of legs across the beam, mm: d, and no bar further than 150 mm from one.

    d : number or array, mm; above 0

    >>> round(float(maximum_leg_spacing(550.0)), 2)
    300.0
    """
    return np.asarray(np.minimum(np.asarray(d, dtype=float), 2.0 * LEG_TO_BAR))


@clause("3.4.5.11", "A_sv", "V/f_yv,d", "mm2", names={"force": ("V", "N"), "f_yvd": ("f_yv,d", "MPa")})
def suspension_links(force: float, f_yvd: float) -> float:
    """Links that carry a whole reaction up, mm2.

    force : number, N (V); 0 or more
    f_yvd : number, MPa (f_yv,d); 200 to 500

    >>> round(float(suspension_links(200.0e3, 437.0)), 2)
    457.67
    """
    return max(force, 0.0) / f_yvd


@dataclass(frozen=True)
class ShearClauses(ShearPart):
    """Answers on shear (3.4.5)."""

    v: Mapping[str, float]
    materials: MaterialsClauses

    crushes_at_face = True

    def lever(self, d: Floats) -> Array:
        return np.asarray(d) * 1.0

    def concrete(self, concrete: Concrete, web: Web, tied: Mask) -> Array:
        """v_c with what an axial force changes (3.4.5.12; V h/M counts as 1 for tension, as 0 for
        compression: both safe), at least 0."""
        v_c = concrete_stress(concrete.strength, web.b, web.d, web.a_sl, np.where(tied, 1.0, 0.0))
        pulled = np.minimum(np.asarray(web.axial, dtype=float), 0.0)
        return (
            np.asarray(np.maximum(with_axial_force(v_c, pulled, web.gross), 0.0))
            if np.any(pulled < 0.0)
            else v_c
        )

    def state(self, concrete: Concrete, steel: Steel, web: Web, asw_s: Array, cot: Array) -> ShearState:
        f_yvd = self.materials.link_yield(steel)
        tied = asw_s >= nominal_links(web.b, f_yvd) * (1.0 - 1e-9)
        v_c, v_max = self.concrete(concrete, web, tied), maximum_stress(concrete.strength)
        area = web.b * web.d
        total = design_resistance(v_c, asw_s, f_yvd, v_max, web.b, web.d)
        return ShearState(
            web.d, cot, v_c * area, asw_s * f_yvd * web.d, crushing_resistance(v_max, web.b, web.d), total
        )

    def model(self, concrete: Concrete, steel: Steel, web: Web, asw_s: Array, cot: Array) -> list[str]:
        """By the amount of links: with at least nominal ones the depth counts for no less than 400 mm."""
        tied = asw_s >= nominal_links(web.b, self.materials.link_yield(steel)) * (1.0 - 1e-9)
        return [f"v_c by Table 3.8, {'with' if t else 'without'} nominal links" for t in tied]

    def near_support_resistance(self, steel: Steel, area: float) -> float:
        """For comparison: their design yield force."""
        return area * self.materials.link_yield(steel)

    def stirrups_required(self, concrete: Concrete, steel: Steel, web: Web, v_ed: Array, cot: Array) -> Array:
        v_c = self.concrete(concrete, web, np.ones(np.shape(web.d), dtype=bool))
        return links_for(shear_stress(v_ed, web.b, web.d), v_c, web.b, self.materials.link_yield(steel))

    def minimum_stirrups(self, concrete: Concrete, steel: Steel, b: Array) -> Array:
        """Table 3.7: nominal links throughout."""
        return nominal_links(b, self.materials.link_yield(steel))

    def maximum_spacing(self, concrete: Concrete, web: Web, v_ed: Array) -> Array:
        return maximum_spacing(web.d)

    def maximum_leg_spacing(self, concrete: Concrete, web: Web, v_ed: Array) -> Array:
        return maximum_leg_spacing(web.d)

    def suspension_steel(self, steel: Steel, reaction: float) -> float:
        return suspension_links(reaction, self.materials.link_yield(steel))

    def anchored_beyond(self, anchorage: Array, d: Array) -> Array:
        """Note 1 of Table 3.8: bars count that go on for an effective depth; at supports all of them
        (3.12.9.4)."""
        return 0.0 * anchorage + d
