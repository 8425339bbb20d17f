"""ACI 318-19 22.5, 9.6.3, 9.7.6.2: one-way shear. Arrays over stations; N, mm, MPa."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Steel
from upright_bramble.codes.aci318.expressions import Expressions
from upright_bramble.codes.aci318.materials import MaterialsClauses
from upright_bramble.codes.aci318.symbols import ACI, NAMES, clause
from upright_bramble.codes.parts import (
    ShearPart,
    ShearState,
    Web,
)
from upright_bramble.section.arrays import Array, Floats, Mask


@clause(ACI, "22.5.5.1.3", "lambda_s", "min(sqrt(2/(1 + d/{size})); 1)")
def size_factor(d: Floats, x: Expressions) -> Array:
    """Size effect of members without minimum stirrups; d in mm.

    d : number or array, mm; above 0
    x : the set of expressions

    >>> from upright_bramble.codes.aci318.expressions import METRIC
    >>> round(float(size_factor(540.0, METRIC)), 4)
    0.7956
    """
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
    f_c: float,
    b_w: Floats,
    d: Floats,
    a_s: Floats,
    tied: Floats,
    x: Expressions,
    n_u: Floats = 0.0,
    a_g: Floats = 1.0,
    lam: float = 1.0,
) -> Array:
    """Shear carried by the concrete (Table 22.5.5.1), N, from 0 to 5 lambda sqrt(f'c) b_w d.

    `tied` (bool) where there are at least the minimum stirrups; `n_u` compression positive, on the gross area
    `a_g`.

    f_c : number, MPa (f'c); 17 to 100
    b_w : number or array, mm; above 0
    d : number or array, mm; above 0
    a_s : number or array, mm2 (A_s); 0 or more
    tied : number or array; one of 0, 1
    x : the set of expressions
    n_u : number or array, N (N_u); either sign
    a_g : number or array, mm2 (A_g); above 0
    lam : number (lambda); 0.75 to 1

    >>> from upright_bramble.codes.aci318.expressions import METRIC
    >>> round(float(concrete_strength(28.0, 300.0, 540.0, 3100.0, 1.0, METRIC, 0.0, 1.0, 1.0)), 2)
    151328.31
    """
    root = lam * x.capped_root(f_c)
    b_w, d = np.asarray(b_w, dtype=float), np.asarray(d, dtype=float)
    axial = np.minimum(np.asarray(n_u) / (6.0 * np.asarray(a_g)), 0.05 * f_c)  # 22.5.5.1.2
    rho = np.cbrt(np.asarray(a_s) / (b_w * d))
    plain, ratio, highest = x.v_c
    with_ties = np.maximum(plain, ratio * rho) * root
    without = ratio * size_factor(d, x) * rho * root
    stress = np.where(np.asarray(tied, dtype=bool), with_ties, without) + axial
    return np.asarray(np.clip(stress, 0.0, highest * root) * b_w * d)


@clause(ACI, "22.5.8.5.3", "V_s", "a_v f_yt d", "N")
def stirrup_strength(av_s: Floats, f_yt: float, d: Floats) -> Array:
    """Shear carried by stirrups, N.

    av_s : number or array, mm2/mm (a_v); 0 or more
    f_yt : number, MPa; 250 to 700
    d : number or array, mm; above 0

    >>> round(float(stirrup_strength(1.6, 350.0, 540.0)), 2)
    302400.0
    """
    return np.asarray(np.asarray(av_s) * f_yt * d)


@clause(ACI, "22.5.1.2", "V_n,max", "V_c + {vs} min(sqrt(f'c); {rm}) b_w d", "N")
def section_limit(v_c: Floats, f_c: float, b_w: Floats, d: Floats, x: Expressions) -> Array:
    """Greatest nominal shear of the section, N.

    v_c : number or array, N (V_c); 0 or more
    f_c : number, MPa (f'c); 17 to 100
    b_w : number or array, mm; above 0
    d : number or array, mm; above 0
    x : the set of expressions

    >>> from upright_bramble.codes.aci318.expressions import METRIC
    >>> round(float(section_limit(460000.0, 28.0, 300.0, 540.0, METRIC)), 2)
    1025767.46
    """
    return np.asarray(np.asarray(v_c) + x.v_s_most * x.capped_root(f_c) * np.asarray(b_w) * d)


@clause(ACI, "22.5.1.1", "phiV_n", "min(phi (V_c + V_s); phi V_n,max)", "N")
def design_strength(phi: float, v_c: Floats, v_s: Floats, v_n_max: Floats) -> Array:
    """Of concrete and stirrups together, no more than the section's, N.

    phi : number; 0.5 to 1
    v_c : number or array, N (V_c); 0 or more
    v_s : number or array, N (V_s); 0 or more
    v_n_max : number or array, N (V_n,max); 0 or more

    >>> round(float(design_strength(0.75, 460000.0, 460000.0, 600000.0)), 2)
    450000.0
    """
    return np.minimum(phi * (np.asarray(v_c) + v_s), phi * np.asarray(v_n_max))


@clause(ACI, "9.6.3.4", "a_v,min", "max({av0} sqrt(f'c); {av1}) b_w/f_yt", "mm2/mm")
def minimum_stirrups(f_c: float, f_yt: float, b_w: Floats, x: Expressions) -> Array:
    """Minimum stirrups, mm2/mm.

    f_c : number, MPa (f'c); 17 to 100
    f_yt : number, MPa; 250 to 700
    b_w : number or array, mm; above 0
    x : the set of expressions

    >>> from upright_bramble.codes.aci318.expressions import METRIC
    >>> round(float(minimum_stirrups(28.0, 350.0, 300.0, METRIC)), 4)
    0.3
    """
    return np.asarray(max(x.av_min[0] * float(x.root(f_c)), x.av_min[1] * x.stress) * np.asarray(b_w) / f_yt)


@clause(ACI, "9.6.3.1", "V_n,0", "{avt} min(sqrt(f'c); {rm}) b_w d", "N")
def stirrup_threshold(f_c: float, b_w: Floats, d: Floats, x: Expressions) -> Array:
    """Nominal shear up to which no stirrups are asked for, N.

    f_c : number, MPa (f'c); 17 to 100
    b_w : number or array, mm; above 0
    d : number or array, mm; above 0
    x : the set of expressions

    >>> from upright_bramble.codes.aci318.expressions import METRIC
    >>> round(float(stirrup_threshold(28.0, 300.0, 540.0, METRIC)), 2)
    71149.54
    """
    return np.asarray(x.av_threshold * x.capped_root(f_c) * np.asarray(b_w) * d)


@clause(ACI, "9.7.6.2.2", "V_s,rqd", "max(V_u/phi - V_c; 0)", "N", names={**NAMES, "phi": ("phi", "")})
def carried_by_stirrups(v_u: Floats, v_c: Floats, phi: float = 0.75) -> Array:
    """Nominal shear that stirrups have to carry, N.

    v_u : number or array, N (V_u); 0 or more
    v_c : number or array, N (V_c); 0 or more
    phi : number; 0.5 to 1

    >>> round(float(carried_by_stirrups(460000.0, 460000.0, 0.75)), 2)
    153333.33
    """
    return np.asarray(np.maximum(np.asarray(v_u) / phi - v_c, 0.0))


def _close(v_s: Floats, f_c: float, b_w: Floats, d: Array, x: Expressions) -> Mask:
    """Where stirrups carry so much that they stand at half of the usual distance (Table 9.7.6.2.2)."""
    return np.asarray(np.asarray(v_s) > x.close * x.capped_root(f_c) * np.asarray(b_w) * d)


CLOSE = "V_s,rqd > {close} min(sqrt(f'c); {rm}) b_w d"


@clause(
    ACI,
    "9.7.6.2.2",
    "s_max",
    ((CLOSE, "min(d/4; {w1})"), ("", "min(d/2; {w0})")),
    "mm",
    names={**NAMES, "v_s": ("V_s,rqd", "N")},
)
def maximum_spacing(v_s: Floats, f_c: float, b_w: Floats, d: Floats, x: Expressions) -> Array:
    """Largest spacing of stirrups along the beam, mm, for the shear that they carry (N).

    v_s : number or array, N (V_s,rqd); 0 or more
    f_c : number, MPa (f'c); 17 to 100
    b_w : number or array, mm; above 0
    d : number or array, mm; above 0
    x : the set of expressions

    >>> from upright_bramble.codes.aci318.expressions import METRIC
    >>> round(float(maximum_spacing(460000.0, 28.0, 300.0, 540.0, METRIC)), 2)
    135.0
    """
    d = np.asarray(d, dtype=float)
    close = _close(v_s, f_c, b_w, d, x)
    return np.minimum(
        d * np.where(close, 0.25, 0.5), np.where(close, x.maximum_spacing[1], x.maximum_spacing[0])
    )


@clause(
    ACI,
    "9.7.6.2.2",
    "s_w,max",
    ((CLOSE, "min(d/2; {w1})"), ("", "min(d; {w0})")),
    "mm",
    names={**NAMES, "v_s": ("V_s,rqd", "N")},
)
def maximum_leg_spacing(v_s: Floats, f_c: float, b_w: Floats, d: Floats, x: Expressions) -> Array:
    """Largest distance of stirrup legs across the beam, mm, for the shear that the stirrups carry (N).

    v_s : number or array, N (V_s,rqd); 0 or more
    f_c : number, MPa (f'c); 17 to 100
    b_w : number or array, mm; above 0
    d : number or array, mm; above 0
    x : the set of expressions

    >>> from upright_bramble.codes.aci318.expressions import METRIC
    >>> round(float(maximum_leg_spacing(460000.0, 28.0, 300.0, 540.0, METRIC)), 2)
    270.0
    """
    d = np.asarray(d, dtype=float)
    close = _close(v_s, f_c, b_w, d, x)
    return np.minimum(
        d * np.where(close, 0.5, 1.0), np.where(close, x.maximum_spacing[1], x.maximum_spacing[0])
    )


@clause(ACI, "22.5.1.2", "phiV_n,max", "phi V_n,max", "N", names={**NAMES, "phi": ("phi", "")})
def design_limit(phi: float, v_n_max: Floats) -> Array:
    """Greatest design shear of the section, N.

    phi : number; 0.5 to 1
    v_n_max : number or array, N (V_n,max); 0 or more

    >>> round(float(design_limit(0.75, 600000.0)), 2)
    450000.0
    """
    return np.asarray(phi * np.asarray(v_n_max))


@clause(
    ACI, "9.4.3.2(b)", "A_v", "V/(phi f_yt)", "mm2", names={**NAMES, "force": ("V", "N"), "phi": ("phi", "")}
)
def suspension_stirrups(force: float, phi: float, f_yt: float) -> float:
    """Stirrups that carry a whole force up, mm2.

    force : number, N (V); 0 or more
    phi : number; 0.5 to 1
    f_yt : number, MPa; 250 to 700

    >>> round(float(suspension_stirrups(460000.0, 0.75, 350.0)), 2)
    1752.38
    """
    return max(force, 0.0) / (phi * f_yt)


@dataclass(frozen=True)
class ShearClauses(ShearPart):
    """Answers on shear (22.5, 9.6.3, 9.7.6.2)."""

    v: Mapping[str, float]
    x: Expressions
    materials: MaterialsClauses

    crushes_at_face = False

    def lever(self, d: Floats) -> Array:
        return np.asarray(d) * 1.0

    def state(self, concrete: Concrete, steel: Steel, web: Web, asw_s: Array, cot: Array) -> ShearState:
        phi, f_c = self.v["phi_shear"], concrete.strength
        tied = asw_s >= minimum_stirrups(f_c, self.materials.stirrup_yield(steel), web.b, self.x) * (
            1.0 - 1e-9
        )
        v_c = concrete_strength(
            f_c, web.b, web.d, web.a_sl, np.where(tied, 1.0, 0.0), self.x, web.axial, web.gross
        )
        v_s = stirrup_strength(asw_s, self.materials.stirrup_yield(steel), web.d)
        maximum = section_limit(v_c, f_c, web.b, web.d, self.x)
        return ShearState(
            web.d,
            cot,
            phi * v_c,
            phi * v_s,
            design_limit(phi, maximum),
            design_strength(phi, v_c, v_s, maximum),
        )

    def concrete_with_stirrups(self, concrete: Concrete, web: Web) -> Array:
        return concrete_strength(concrete.strength, web.b, web.d, web.a_sl, 1.0, self.x, web.axial, web.gross)

    def model(self, concrete: Concrete, steel: Steel, web: Web, asw_s: Array, cot: Array) -> list[str]:
        """The row of Table 22.5.5.1: (a) or (b), whichever is larger, with the least stirrups; (c)
        without."""
        tied = asw_s >= minimum_stirrups(
            concrete.strength, self.materials.stirrup_yield(steel), web.b, self.x
        ) * (1.0 - 1e-9)
        plain, ratio, _ = self.x.v_c
        larger = ratio * np.cbrt(web.a_sl / (web.b * web.d)) > plain
        return [
            f"V_c by Table 22.5.5.1 ({'c' if not t else 'b' if b else 'a'})"
            for t, b in zip(tied, larger, strict=True)
        ]

    def near_support_resistance(self, steel: Steel, area: float) -> float:
        """For comparison: their yield force."""
        return area * self.materials.stirrup_yield(steel)

    def stirrups_required(self, concrete: Concrete, steel: Steel, web: Web, v_ed: Array, cot: Array) -> Array:
        return np.asarray(self._carried(concrete, web, v_ed) / (self.materials.stirrup_yield(steel) * web.d))

    def minimum_stirrups(self, concrete: Concrete, steel: Steel, b: Array) -> Array:
        return minimum_stirrups(concrete.strength, self.materials.stirrup_yield(steel), b, self.x)

    def _carried(self, concrete: Concrete, web: Web, v_ed: Array) -> Array:
        return carried_by_stirrups(v_ed, self.concrete_with_stirrups(concrete, web), self.v["phi_shear"])

    def maximum_spacing(self, concrete: Concrete, web: Web, v_ed: Array) -> Array:
        return maximum_spacing(self._carried(concrete, web, v_ed), concrete.strength, web.b, web.d, self.x)

    def maximum_leg_spacing(self, concrete: Concrete, web: Web, v_ed: Array) -> Array:
        return maximum_leg_spacing(
            self._carried(concrete, web, v_ed), concrete.strength, web.b, web.d, self.x
        )

    def suspension_steel(self, steel: Steel, reaction: float) -> float:
        """For the whole reaction, with the factor of shear."""
        return suspension_stirrups(reaction, self.v["phi_shear"], self.materials.stirrup_yield(steel))

    def anchored_beyond(self, anchorage: Array, d: Array) -> Array:
        """Bars count in rho_w when they go on for d."""
        return 0.0 * anchorage + d
