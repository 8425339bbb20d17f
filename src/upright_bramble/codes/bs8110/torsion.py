"""BS 8110-2 2.4: torsion. Arrays over stations; N, mm, MPa."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Steel
from upright_bramble.codes.bs8110.materials import LINK_YIELD, MaterialsClauses
from upright_bramble.codes.bs8110.shear import shear_stress
from upright_bramble.codes.bs8110.symbols import NAMES, clause_2
from upright_bramble.codes.parts import TorsionPart, Tube, Twist, Web
from upright_bramble.section.arrays import Array, Floats

BAR_SPACING = 300.0  # 2.4.9, clear distance of the bars around the section, mm


@clause_2("2.4.4", "v_t", "2 T/(h_min^2 (h_max - h_min/3))", "MPa")
def torsional_stress(t: Floats, h_min: Floats, h_max: Floats) -> Array:
    """Torsional shear stress of a rectangle, MPa.

    t : number or array, N mm (T); 0 or more
    h_min : number or array, mm; above 0
    h_max : number or array, mm; 0 or more

    >>> round(float(torsional_stress(30.0e6, 300.0, 600.0)), 4)
    1.3333
    """
    h_min = np.asarray(h_min, dtype=float)
    return np.asarray(2.0 * np.asarray(t) / (h_min**2 * (np.asarray(h_max) - h_min / 3.0)))


@clause_2("2.4.4", "T_i", "T h_min^3 h_max/sum", "N mm", names={**NAMES, "total": ("sum", "mm4")})
def rectangle_share(t: float, h_min: float, h_max: float, total: float) -> float:
    """Of a torque, what one of several rectangles takes, N mm; `total` sum of h_min³ h_max.

    t : number, N mm (T); 0 or more
    h_min : number, mm; 0 or more
    h_max : number, mm; 0 or more
    total : number, mm4 (sum); above 0

    >>> round(float(rectangle_share(30.0e6, 300.0, 600.0, 16.8e9)), 2)
    28928571.43
    """
    return t * h_min**3 * h_max / total


@clause_2("Table 2.3", "v_t,min", "min(0.067 sqrt(f_cu); 0.4)", "MPa")
def threshold_stress(f_cu: float) -> float:
    """Torsional stress up to which no reinforcement is required, MPa.

    f_cu : number, MPa; 20 to 60

    >>> round(float(threshold_stress(30.0)), 4)
    0.367
    """
    return float(min(0.067 * np.sqrt(f_cu), 0.4))


@clause_2("Table 2.3", "v_tu", "min(0.8 sqrt(f_cu); 5)", "MPa")
def maximum_stress(f_cu: float) -> float:
    """Greatest stress of shear and torsion together, MPa.

    f_cu : number, MPa; 20 to 60

    >>> round(float(maximum_stress(30.0)), 4)
    4.3818
    """
    return float(min(0.8 * np.sqrt(f_cu), 5.0))


@clause_2("2.4.5", "v_t,max", "v_tu min(y_1/550; 1)", "MPa")
def small_section_limit(v_tu: float, y_1: Floats) -> Array:
    """Greatest torsional stress of sections whose links are less than 550 mm high, MPa.

    v_tu : number, MPa; 0 or more
    y_1 : number or array, mm; 0 or more

    >>> round(float(small_section_limit(4.0, 440.0)), 4)
    3.2
    """
    return np.asarray(v_tu * np.minimum(np.asarray(y_1, dtype=float) / 550.0, 1.0))


@clause_2("2.4.7", "a_sv,t", "T/(0.8 x_1 y_1 f_yv,d)", "mm2/mm")
def torsion_links(t: Floats, x_1: Floats, y_1: Floats, f_yvd: float) -> Array:
    """Closed links for torsion, both legs, mm2/mm.

    t : number or array, N mm (T); 0 or more
    x_1 : number or array, mm; above 0
    y_1 : number or array, mm; above 0
    f_yvd : number, MPa (f_yv,d); 200 to 500

    >>> round(float(torsion_links(30.0e6, 240.0, 440.0, 437.0)), 4)
    0.8126
    """
    return np.asarray(np.asarray(t) / (0.8 * np.asarray(x_1) * y_1 * f_yvd))


@clause_2("2.4.7", "A_s,t", "a_sv f_yv/f_y (x_1 + y_1)", "mm2")
def torsion_bars(asv_sv: Floats, f_yv: float, f_y: float, x_1: Floats, y_1: Floats) -> Array:
    """Longitudinal bars for torsion around the section, mm2.

    asv_sv : number or array, mm2/mm (a_sv); 0 or more
    f_yv : number, MPa; 250 to 500
    f_y : number, MPa; 250 to 500
    x_1 : number or array, mm; 0 or more
    y_1 : number or array, mm; 0 or more

    >>> round(float(torsion_bars(0.8, 250.0, 460.0, 240.0, 440.0)), 2)
    295.65
    """
    return np.asarray(np.asarray(asv_sv) * f_yv / f_y * (np.asarray(x_1) + y_1))


@clause_2("2.4.8", "s_v,max", "min(min(x_1; y_1/2); 200)", "mm")
def maximum_spacing(x_1: Floats, y_1: Floats) -> Array:
    """Largest spacing of closed links for torsion, mm.

    x_1 : number or array, mm; 0 or more
    y_1 : number or array, mm; 0 or more

    >>> round(float(maximum_spacing(240.0, 360.0)), 2)
    180.0
    """
    return np.asarray(np.minimum(np.minimum(np.asarray(x_1, dtype=float), 0.5 * np.asarray(y_1)), 200.0))


@clause_2(
    "2.4.5",
    "share",
    "max((v + v_t)/v_tu; v_t/v_t,max)",
    names={"v": ("v", "MPa"), "v_t": ("v_t", "MPa"), "v_tu": ("v_tu", "MPa"), "v_t_max": ("v_t,max", "MPa")},
)
def used_share(v: Floats, v_t: Floats, v_tu: float, v_t_max: Floats) -> Array:
    """Of what the section may be stressed by shear and torsion.

    v : number or array, MPa; 0 or more
    v_t : number or array, MPa; 0 or more
    v_tu : number, MPa; above 0
    v_t_max : number or array, MPa (v_t,max); above 0

    >>> round(float(used_share(1.5, 1.0, 4.38, 3.5)), 4)
    0.5708
    """
    return np.asarray(np.maximum((np.asarray(v) + v_t) / v_tu, np.asarray(v_t) / v_t_max))


@dataclass(frozen=True)
class TorsionClauses(TorsionPart):
    """Answers on torsion (part 2, 2.4)."""

    v: Mapping[str, float]
    materials: MaterialsClauses

    def extension(self, b_t: Floats, d: Floats) -> Array:
        """2.4.10: reinforcement goes on for the largest dimension of the section."""
        return np.asarray(np.maximum(np.asarray(b_t), d) + 0.0)

    @property
    def compatibility_left_out(self) -> str:
        return "part 2, 2.4.1"

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
        """2.4: the web takes the whole torque, which is safe for it; torque that compatibility alone gives
        needs no design (2.4.1)."""
        bars, stirrups = steels
        h_min, h_max = np.minimum(tube.b, tube.h), np.maximum(tube.b, tube.h)
        v_t = torsional_stress(0.0 * torque if compatible else torque, h_min, h_max)
        t = np.where(v_t <= threshold_stress(concrete.strength), 0.0, torque)
        x_1, y_1 = tube.b - 2.0 * tube.tie_axis, tube.h - 2.0 * tube.tie_axis
        both = torsion_links(t, x_1, y_1, self.materials.link_yield(stirrups))
        f_yv, f_y = min(stirrups.strength, LINK_YIELD), min(bars.strength, LINK_YIELD)
        requested = torsion_bars(both, f_yv, f_y, x_1, y_1)
        v_tu = maximum_stress(concrete.strength)
        used = used_share(shear_stress(shear, web.b, web.d), v_t, v_tu, small_section_limit(v_tu, y_1))
        apart = np.where(t > 0.0, maximum_spacing(x_1, y_1), np.inf)
        return Twist(
            0.5 * both, requested, 2.0 * (x_1 + y_1), y_1, np.where(t > 0.0, used, 0.0), apart, BAR_SPACING
        )
