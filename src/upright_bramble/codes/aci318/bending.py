"""ACI 318-19 9.3.3, 9.6.1, 21.2: flexure. N, mm, MPa; `x` the set of expressions."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Steel
from upright_bramble.codes.aci318 import materials
from upright_bramble.codes.aci318.expressions import Expressions
from upright_bramble.codes.aci318.symbols import ACI, clause
from upright_bramble.codes.parts import BendingPart, TensionFace
from upright_bramble.section.arrays import Array, Floats, Mask


@clause(ACI, "21.2.2.1", "eps_ty", "f_y/{Es}")
def yield_strain(f_y: float, x: Expressions) -> float:
    """Strain at which compression control ends; the 0.002 that Grade 60 may count as is not used.

    f_y : number, MPa; 250 to 700
    x : the set of expressions

    >>> from upright_bramble.codes.aci318.expressions import METRIC
    >>> round(float(yield_strain(420.0, METRIC)), 8)
    0.0021
    """
    return f_y / x.steel_modulus


@clause(ACI, "21.2.2", "phi", "compression + (tension - compression) min(max((eps_t - eps_ty)/0.003; 0); 1)")
def strength_reduction(
    strain: Floats, eps_ty: float, tension: float = 0.9, compression: float = 0.65
) -> Array:
    """Strength reduction factor for the net tensile strain of the extreme bars (ties, not spirals).

    strain : number or array (eps_t); 0 to 0.1
    eps_ty : number; 0.001 to 0.004
    tension : number; one of 0.9
    compression : number; 0.65 to 0.75

    >>> round(float(strength_reduction(0.0045, 0.002, 0.9, 0.65)), 4)
    0.8583
    """
    share = np.clip((np.asarray(strain) - eps_ty) / 0.003, 0.0, 1.0)
    return np.asarray(compression + (tension - compression) * share)


@clause(
    ACI, "22.4.2.2", "P_o", "0.85 f'c (A_g - A_st) + min(f_y; 550) A_st", "N",
    names={"f_c": ("f'c", "MPa"), "f_y": ("f_y", "MPa"), "a_g": ("A_g", "mm2"), "a_st": ("A_st", "mm2")},
)  # fmt: skip
def axial_strength(f_c: float, f_y: float, a_g: float, a_st: float) -> float:
    """Nominal axial strength at no eccentricity, N; f_y no more than 80 ksi (550 MPa).

    f_c : number, MPa (f'c); 17 to 100
    f_y : number, MPa; 250 to 700
    a_g : number, mm2 (A_g); above 0
    a_st : number, mm2 (A_st); 0 or more

    >>> round(float(axial_strength(28.0, 420.0, 150000.0, 2400.0)), 2)
    4520880.0
    """
    return 0.85 * f_c * (a_g - a_st) + min(f_y, 550.0) * a_st


@clause(ACI, "9.6.1.2", "A_s,min", "max({as0} sqrt(f'c); {as1})/min(f_y; {fymin}) b_w d", "mm2")
def minimum_steel(f_c: float, f_y: float, b_w: Floats, d: Floats, x: Expressions) -> Array:
    """Minimum tension steel, mm2; f_y no more than 80 ksi (550 MPa).

    f_c : number, MPa (f'c); 17 to 100
    f_y : number, MPa; 250 to 700
    b_w : number or array, mm; above 0
    d : number or array, mm; above 0
    x : the set of expressions

    >>> from upright_bramble.codes.aci318.expressions import METRIC
    >>> round(float(minimum_steel(28.0, 420.0, 300.0, 540.0, METRIC)), 2)
    540.0
    """
    stress = max(x.as_min[0] * float(x.root(f_c)), x.as_min[1] * x.stress) / min(f_y, x.min_yield)
    return np.asarray(stress * np.asarray(b_w) * d)


@clause(ACI, "9.3.3.1", "c/d_t", "0.003/(0.003 + eps_t,min)", names={"strain": ("eps_t,min", "")})
def neutral_axis_limit(strain: Floats) -> Array:
    """Neutral axis depth over that of the extreme bars for their least strain.

    strain : number or array (eps_t,min); 0 to 0.1

    >>> round(float(neutral_axis_limit(0.0045)), 4)
    0.4
    """
    return np.asarray(materials.ULTIMATE_STRAIN / (materials.ULTIMATE_STRAIN + np.asarray(strain)))


@clause(ACI, "9.6.1.2", "b_w", "min(b_f; 2 b_w)", "mm", names={"b_f": ("b_f", "mm"), "b_w": ("b_w", "mm")})
def minimum_steel_width(b_w: Floats, b_f: Floats) -> Array:
    """Width for the minimum steel of statically determinate beams with a flange in tension, mm.

    b_w : number or array, mm; above 0
    b_f : number or array, mm; above 0

    >>> round(float(minimum_steel_width(300.0, 1.0)), 4)
    1.0
    """
    return np.asarray(np.minimum(np.asarray(b_f, dtype=float), 2.0 * np.asarray(b_w, dtype=float)))


@clause(
    ACI,
    "9.6.1.3",
    "A_s,min'",
    "min(A_s,min; 4/3 max(A_s,req; 0))",
    "mm2",
    names={"minimum": ("A_s,min", "mm2"), "required": ("A_s,req", "mm2")},
)
def waived_minimum(minimum: Floats, required: Floats) -> Array:
    """Minimum steel no more than a third above what the moment requires, mm2.

    minimum : number or array, mm2 (A_s,min); 0 or more
    required : number or array, mm2 (A_s,req); 0 or more

    >>> round(float(waived_minimum(1.0, 600.0)), 4)
    1.0
    """
    return np.asarray(np.minimum(minimum, 4.0 / 3.0 * np.maximum(required, 0.0)))


@clause(
    ACI,
    "9.3.3.1, 6.6.5",
    "eps_t,min",
    (("delta < 1", "max(eps_ty + reserve; max(floor; 0.1 (1 - delta)))"), ("", "eps_ty + reserve")),
    names={
        "eps_ty": ("eps_ty", ""),
        "reserve": ("reserve", ""),
        "floor": ("floor", ""),
        "delta": ("delta", ""),
    },
)
def minimum_strain(eps_ty: float, reserve: float, floor: float, delta: Floats) -> Array:
    """Least net tensile strain of the extreme bars; more of it where moments were redistributed (`delta`
    below 1).

    eps_ty : number; 0.001 to 0.004
    reserve : number; 0 to 0.01
    floor : number; 0 to 0.01
    delta : number or array; 0.7 to 1

    >>> round(float(minimum_strain(0.002, 0.003, 0.0075, 0.85)), 4)
    0.015
    """
    delta = np.asarray(delta, dtype=float)
    usual = eps_ty + reserve
    return np.where(delta < 1.0 - 1e-9, np.maximum(usual, np.maximum(floor, 0.1 * (1.0 - delta))), usual)


@dataclass(frozen=True)
class BendingClauses(BendingPart):
    """Answers on bending (9.3.3, 9.6.1, 21.2)."""

    v: Mapping[str, float]
    x: Expressions

    def resistance_factor(self, strain: Array, steel: Steel) -> Array:
        eps_ty = yield_strain(steel.strength, self.x)
        return strength_reduction(strain, eps_ty, self.v["phi_tension"], self.v["phi_compression"])

    def axial_cap(self, concrete: Concrete, steel: Steel, gross: float, bars: float, least: float) -> float:
        """22.4.2.1 with ties; 0.85 and a factor of 0.75 with spirals are `code_values`."""
        strength = axial_strength(concrete.strength, steel.strength, gross, bars)
        return self.v["axial_share"] * self.v["phi_compression"] * strength

    @property
    def usual_factor(self) -> float:
        """Beams are tension-controlled (9.3.3.1)."""
        return self.v["phi_tension"]

    def neutral_axis_ratio(self, x: Floats, d: Floats, outer: Floats) -> Array:
        """c/d_t: epsilon_t is that of the outermost bars."""
        return np.asarray(np.asarray(x) / outer)

    def neutral_axis_limit(self, concrete: Concrete, steel: Steel, delta: Floats = 1.0) -> Array:
        """9.3.3.1: eps_t of at least eps_ty + 0.003; where moments were redistributed also 6.6.5."""
        eps_ty = yield_strain(steel.strength, self.x)
        return neutral_axis_limit(
            minimum_strain(eps_ty, self.v["strain_reserve"], self.v["redistribution_strain"], delta)
        )

    def minimum_steel_width(self, b_w: Array, b_f: Array, determinate: Mask) -> Array:
        """9.6.1.2: statically determinate beams with a flange in tension."""
        return np.where(determinate, minimum_steel_width(b_w, b_f), b_w)

    def minimum_steel(self, concrete: Concrete, steel: Steel, face: TensionFace, required: Array) -> Array:
        """9.6.1.2 with the web's width; 9.6.1.3: no more than a third above what the moment asks for."""
        minimum = minimum_steel(concrete.strength, steel.strength, face.b_own, face.d, self.x)
        return waived_minimum(minimum, required)
