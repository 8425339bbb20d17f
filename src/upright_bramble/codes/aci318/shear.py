"""ACI 318-19 22.5, 9.6.3, 9.7.6.2: one-way shear. Arrays over stations; N, mm, MPa."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Steel
from upright_bramble.codes.aci318.expressions import Expressions
from upright_bramble.codes.aci318.materials import MaterialsClauses
from upright_bramble.codes.aci318.symbols import ACI, clause
from upright_bramble.codes.parts import (
    FlangeShear,
    ShearState,
    Web,
)
from upright_bramble.section.arrays import Array, Floats


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
def minimum_stirrups(f_c: float, f_yt: float, b_w: Floats, x: Expressions) -> Array:
    """Minimum stirrups, mm2/mm."""
    return np.asarray(max(x.av_min[0] * float(x.root(f_c)), x.av_min[1] * x.stress) * np.asarray(b_w) / f_yt)


@clause(ACI, "9.6.3.1", "V_n,0", "{avt} min(sqrt(f'c); {rm}) b_w d", "N")
def stirrup_threshold(f_c: float, b_w: Floats, d: Floats, x: Expressions) -> Array:
    """Nominal shear up to which no stirrups are asked for, N."""
    return np.asarray(x.av_threshold * x.capped_root(f_c) * np.asarray(b_w) * d)


@clause(ACI, "9.7.6.2.2", "s", "along: min(d/2; 24 in), across: min(d; 24 in); halves where V_s > 4 sqrt(f'c) b_w d", "mm")
def maximum_spacing(v_s: Floats, f_c: float, b_w: Floats, d: Floats, x: Expressions) -> tuple[Array, Array]:
    """Largest spacing of stirrups along the beam, and of legs across it, mm, for the shear V_s that they carry (N)."""
    d = np.asarray(d, dtype=float)
    close = np.asarray(v_s) > x.close * x.capped_root(f_c) * np.asarray(b_w) * d
    most = np.where(close, x.widest[1], x.widest[0])
    return np.minimum(d * np.where(close, 0.25, 0.5), most), np.minimum(d * np.where(close, 0.5, 1.0), most)


@dataclass(frozen=True)
class ShearClauses:
    """Answers on shear (22.5, 9.6.3, 9.7.6.2)."""

    v: Mapping[str, float]
    x: Expressions
    materials: MaterialsClauses

    crushes_at_face = False

    def lever(self, d: Floats) -> Array:
        return np.asarray(d) * 1.0

    def strut(self, concrete: Concrete, b: Array, d: Array, v_ed: Array, reserve: float, axial: Floats = 0.0) -> Array:
        """45 degrees."""
        return np.ones_like(np.asarray(d, dtype=float))

    def state(self, concrete: Concrete, steel: Steel, web: Web, asw_s: Array, cot: Array) -> ShearState:
        phi, f_c = self.v["phi_shear"], concrete.strength
        tied = asw_s >= minimum_stirrups(f_c, self.materials.stirrup_yield(steel), web.b, self.x) * (1.0 - 1e-9)
        v_c = concrete_strength(f_c, web.b, web.d, web.a_sl, np.where(tied, 1.0, 0.0), self.x, web.axial, web.gross)
        v_s = stirrup_strength(asw_s, self.materials.stirrup_yield(steel), web.d)
        most = section_limit(v_c, f_c, web.b, web.d, self.x)
        return ShearState(web.d, cot, phi * v_c, phi * v_s, phi * most, design_strength(phi, v_c, v_s, most))

    def concrete_with_stirrups(self, concrete: Concrete, web: Web) -> Array:
        return concrete_strength(concrete.strength, web.b, web.d, web.a_sl, 1.0, self.x, web.axial, web.gross)

    def model(self, concrete: Concrete, steel: Steel, web: Web, asw_s: Array, cot: Array) -> list[str]:
        """The row of Table 22.5.5.1: (a) or (b), whichever is larger, with the least stirrups; (c) without."""
        tied = asw_s >= minimum_stirrups(concrete.strength, self.materials.stirrup_yield(steel), web.b, self.x) * (1.0 - 1e-9)
        plain, ratio, _ = self.x.v_c
        larger = ratio * np.cbrt(web.a_sl / (web.b * web.d)) > plain
        return [f"V_c by Table 22.5.5.1 ({'c' if not t else 'b' if b else 'a'})" for t, b in zip(tied, larger, strict=True)]

    def near_support_factor(self, a_v: Array, d: float) -> Array:
        """9.4.3.2 takes the shear at d, or at the face: nothing else is taken off."""
        return np.ones(len(a_v))

    def near_support_resistance(self, steel: Steel, area: float) -> float:
        """For comparison: their yield force."""
        return area * self.materials.stirrup_yield(steel)

    def stirrups_required(self, concrete: Concrete, steel: Steel, web: Web, v_ed: Array, cot: Array) -> Array:
        v_s = np.maximum(np.asarray(v_ed) / self.v["phi_shear"] - self.concrete_with_stirrups(concrete, web), 0.0)
        return np.asarray(v_s / (self.materials.stirrup_yield(steel) * web.d))

    def minimum_stirrups(self, concrete: Concrete, steel: Steel, b: Array) -> Array:
        return minimum_stirrups(concrete.strength, self.materials.stirrup_yield(steel), b, self.x)

    def _spacings(self, concrete: Concrete, web: Web, v_ed: Array) -> tuple[Array, Array]:
        carried = np.asarray(v_ed) / self.v["phi_shear"] - self.concrete_with_stirrups(concrete, web)
        return maximum_spacing(carried, concrete.strength, web.b, web.d, self.x)

    def maximum_spacing(self, concrete: Concrete, web: Web, v_ed: Array) -> Array:
        return self._spacings(concrete, web, v_ed)[0]

    def maximum_leg_spacing(self, concrete: Concrete, web: Web, v_ed: Array) -> Array:
        return self._spacings(concrete, web, v_ed)[1]

    def shift(self, d: Floats, cot: Floats) -> Array:
        """The moment line is not shifted: bars go on past where they are needed instead (9.7.3.3)."""
        return np.asarray(0.0 * np.asarray(d) * np.asarray(cot))

    def flange(
        self,
        concrete: Concrete,
        steel: Steel,
        force: float,
        thickness: float,
        length: float,
        pulled: bool,
    ) -> FlangeShear | None:
        """The slab's own steel across the web is what 7.5.2.3 asks for."""
        return None

    def suspension_steel(self, steel: Steel, reaction: float) -> float:
        """For the whole reaction, with the factor of shear."""
        return max(reaction, 0.0) / (self.v["phi_shear"] * self.materials.stirrup_yield(steel))

    def anchored_beyond(self, anchorage: Array, d: Array) -> Array:
        """Bars count in rho_w when they go on for d."""
        return 0.0 * anchorage + d
