"""ACI 318-19 9.3.3, 9.6.1, 21.2: flexure. N, mm, MPa; `x` the set of expressions."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Steel
from upright_bramble.codes.aci318 import materials
from upright_bramble.codes.aci318.expressions import Expressions
from upright_bramble.codes.aci318.symbols import ACI, clause
from upright_bramble.section.arrays import Array, Floats, Mask


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
def minimum_steel(f_c: float, f_y: float, b_w: Floats, d: Floats, x: Expressions) -> Array:
    """Minimum tension steel, mm2; f_y no more than 80 ksi (550 MPa)."""
    stress = max(x.as_min[0] * float(x.root(f_c)), x.as_min[1] * x.stress) / min(f_y, x.min_yield)
    return np.asarray(stress * np.asarray(b_w) * d)


@clause(ACI, "9.3.3.1", "c/d_t", "0.003/(0.003 + eps_t)")
def neutral_axis_limit(strain: Floats) -> Array:
    """Neutral axis depth over that of the extreme bars for their least strain."""
    return np.asarray(materials.ULTIMATE_STRAIN / (materials.ULTIMATE_STRAIN + np.asarray(strain)))


@clause(ACI, "9.6.1.2", "b_w", "min(b_f; 2 b_w)", "mm", names={"b_f": ("b_f", "mm"), "b_w": ("b_w", "mm")})
def minimum_steel_width(b_w: Floats, b_f: Floats) -> Array:
    """Width for the minimum steel of statically determinate beams with a flange in tension, mm."""
    return np.asarray(np.minimum(np.asarray(b_f, dtype=float), 2.0 * np.asarray(b_w, dtype=float)))


@dataclass(frozen=True)
class BendingClauses:
    """Answers on bending (9.3.3, 9.6.1, 21.2)."""

    v: Mapping[str, float]
    x: Expressions

    def resistance_factor(self, strain: Array, steel: Steel) -> Array:
        eps_ty = yield_strain(steel.strength, self.x)
        return strength_reduction(strain, eps_ty, self.v["phi_tension"], self.v["phi_compression"])

    @property
    def usual_factor(self) -> float:
        """Beams are tension-controlled (9.3.3.1)."""
        return self.v["phi_tension"]

    def neutral_axis_ratio(self, x: Floats, d: Floats, outer: Floats) -> Array:
        """c/d_t: epsilon_t is that of the outermost bars."""
        return np.asarray(np.asarray(x) / outer)

    def neutral_axis_limit(self, concrete: Concrete, steel: Steel, delta: Floats = 1.0) -> Array:
        """9.3.3.1: eps_t of at least eps_ty + 0.003; where moments were redistributed also 6.6.5."""
        delta = np.asarray(delta, dtype=float)
        usual = yield_strain(steel.strength, self.x) + self.v["strain_reserve"]
        asked = np.maximum(self.v["redistribution_strain"], 0.1 * (1.0 - delta))
        return neutral_axis_limit(np.where(delta < 1.0 - 1e-9, np.maximum(usual, asked), usual))

    def minimum_steel_width(self, b_w: Array, b_f: Array, determinate: Mask) -> Array:
        """9.6.1.2: statically determinate beams with a flange in tension."""
        return np.where(determinate, minimum_steel_width(b_w, b_f), b_w)

    def minimum_steel(self, concrete: Concrete, steel: Steel, b_w: Array, b_t: Array, d: Array, asked: Array) -> Array:
        """9.6.1.2 with the web's width; 9.6.1.3: no more than a third above what the moment asks for."""
        least = minimum_steel(concrete.strength, steel.strength, b_w, d, self.x)
        return np.asarray(np.minimum(least, 4.0 / 3.0 * np.maximum(asked, 0.0)))

    def maximum_steel(self, gross_area: Array) -> Array:
        """No limit but that of the strain."""
        return np.full_like(np.asarray(gross_area), np.inf)
