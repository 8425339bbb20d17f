"""ACI 318-14 (318M-14) where it differs from the 2019 edition; all else is read from there. N, mm, MPa; `x`
the set of expressions."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import partial

import numpy as np

from upright_bramble import working
from upright_bramble.beam import Concrete, Steel
from upright_bramble.codes.aci318.bending import BendingClauses, neutral_axis_limit, yield_strain
from upright_bramble.codes.aci318.bond import BondClauses, casting_factor, splitting_distance
from upright_bramble.codes.aci318.bond import development_length as table_length
from upright_bramble.codes.aci318.bond import development_length_by_confinement as general_length
from upright_bramble.codes.aci318.expressions import Expressions
from upright_bramble.codes.aci318.materials import MaterialsClauses
from upright_bramble.codes.aci318.service import ServiceClauses, cracking_moment
from upright_bramble.codes.aci318.shear import (
    ShearClauses,
    design_limit,
    design_strength,
    section_limit,
    stirrup_strength,
)
from upright_bramble.codes.aci318.symbols import NAMES
from upright_bramble.codes.parts import Around, ShearState, Stage, Web
from upright_bramble.errors import CodeError
from upright_bramble.section.arrays import Array, Floats
from upright_bramble.section.cracked import Elastic

ACI = "ACI 318-14"
clause = partial(working.clause, ACI, names=NAMES)

# where a rule of 2019 stood in 2014
RENUMBERED: Mapping[str, str] = {
    "25.4.2.3": "25.4.2.2",
    "25.4.2.4": "25.4.2.3",
    "25.4.2.5": "25.4.2.4",
    "24.2.3.5": "24.2.3.5(a)",
}


@clause(
    "21.2.2", "phi", "compression + (tension - compression) min(max((eps_t - eps_ty)/(0.005 - eps_ty); 0); 1)"
)
def strength_reduction(
    strain: Floats, eps_ty: float, tension: float = 0.9, compression: float = 0.65
) -> Array:
    """Strength reduction factor: tension-controlled from a strain of 0.005 on (ties, not spirals).

    strain : number or array (eps_t); 0 to 0.1
    eps_ty : number; 0.001 to 0.004
    tension : number; one of 0.9
    compression : number; 0.65 to 0.75

    >>> round(float(strength_reduction(0.0045, 0.002)), 4)
    0.8583
    """
    share = np.clip((np.asarray(strain) - eps_ty) / (0.005 - eps_ty), 0.0, 1.0)
    return np.asarray(compression + (tension - compression) * share)


@clause("9.3.3.1, 6.6.5", "eps_t,min", (("delta < 1", ("max(lowest; max(floor; 0.1 (1 - "
    "delta)))")), ("", "lowest")), names={
    "lowest": ("lowest", ""), "floor": ("floor", ""), "delta": ("delta", "")})  # fmt: skip
def minimum_strain(lowest: float, floor: float, delta: Floats) -> Array:
    """Least net tensile strain of the extreme bars; more of it where moments were redistributed (`delta`
    below 1).

    lowest : number; 0.003 to 0.006
    floor : number; 0 to 0.01
    delta : number or array; 0.8 to 1

    >>> float(minimum_strain(0.004, 0.0075, 1.0))
    0.004
    """
    delta = np.asarray(delta, dtype=float)
    return np.where(delta < 1.0 - 1e-9, np.maximum(lowest, np.maximum(floor, 0.1 * (1.0 - delta))), lowest)


@clause("22.5.5.1, 22.5.6.1, 22.5.7.1", "V_c", (
    ("N_u >= 0", "{vc0} (1 + N_u/({nc} A_g)) lambda min(sqrt(f'c); {rm}) b_w d"),
    ("", "max({vc0} (1 + N_u/({nt} A_g)); 0) lambda min(sqrt(f'c); {rm}) b_w d")), "N")  # fmt: skip
def concrete_strength(
    f_c: float, b_w: Floats, d: Floats, x: Expressions, n_u: Floats = 0.0, a_g: Floats = 1.0, lam: float = 1.0
) -> Array:
    """Shear carried by the concrete, N, whatever the stirrups and the depth; `n_u` compression positive.

    f_c : number, MPa (f'c); 17 to 100
    b_w : number or array, mm; above 0
    d : number or array, mm; above 0
    x : the set of expressions
    n_u : number or array, N (N_u); either sign
    a_g : number or array, mm2 (A_g); above 0
    lam : number (lambda); 0.75 to 1

    >>> from upright_bramble.codes.aci318.expressions import METRIC
    >>> round(float(concrete_strength(28.0, 300.0, 540.0, METRIC)), 2)
    145727.98
    >>> pressed, pulled = (concrete_strength(28.0, 300.0, 540.0, METRIC, n, 180e3) for n in (252e3, -63e3))
    >>> round(float(pressed / 145727.98), 4), round(float(pulled / 145727.98), 4)
    (1.1, 0.8985)
    """
    mean = np.asarray(n_u, dtype=float) / np.asarray(a_g)
    share = 1.0 + np.where(mean >= 0.0, mean / x.axial_14[0], mean / x.axial_14[1])
    return np.asarray(np.maximum(share, 0.0) * x.v_c[0] * lam * x.capped_root(f_c) * np.asarray(b_w) * d)


@clause("25.4.3.1", "l_dh", ("max(max(f_y psi_c psi_r/({hook14} min(sqrt(f'c); {rm})) d_b; 8 d_b); "
    "{six})"), "mm", names={
    **NAMES, "psi_c": ("psi_c", ""), "psi_r": ("psi_r", "")})  # fmt: skip
def hook_length(
    d_b: Floats, f_c: float, f_y: float, x: Expressions, psi_c: Floats = 1.0, psi_r: Floats = 1.0
) -> Array:
    """Development of a standard hook in tension, mm, to its outer face.

    d_b : number or array, mm; 9.5 to 57.3
    f_c : number, MPa (f'c); 17 to 100
    f_y : number, MPa; 250 to 700
    x : the set of expressions
    psi_c : number or array; 0.7 to 1
    psi_r : number or array; 0.8 to 1.6

    >>> from upright_bramble.codes.aci318.expressions import METRIC
    >>> round(float(hook_length(19.1, 28.0, 420.0, METRIC)), 2)
    363.84
    """
    d_b = np.asarray(d_b, dtype=float)
    length = f_y * np.asarray(psi_c) * psi_r / (x.hook_14 * x.capped_root(f_c)) * d_b
    return np.asarray(np.maximum(np.maximum(length, 8.0 * d_b), x.six))


@clause("25.4.3.2", "psi_c", ((("d_b <= {eleven} and side >= {hk} and tail >= "
    "{two}"), "0.7"), ("", "1.0")), names={
    **NAMES, "side": ("side", "mm"), "tail": ("tail", "mm")})  # fmt: skip
def cover_factor(d_b: Floats, side: Floats, tail: Floats, x: Expressions) -> Array:
    """Factor for cover of hooks, beside their plane (`side`) and of the bar beyond a bend of 90 degrees
    (`tail`), mm.

    d_b : number or array, mm; 9.5 to 57.3
    side : number or array, mm; 0 or more
    tail : number or array, mm; 0 or more
    x : the set of expressions

    >>> from upright_bramble.codes.aci318.expressions import METRIC
    >>> float(cover_factor(19.1, 70.0, 50.0, METRIC))
    0.7
    """
    large, small = (2.5 * x.length, 2.0 * x.length) if x.length > 1.0 else (65.0, 50.0)
    covered = (np.asarray(side, dtype=float) >= large - 1e-6) & (
        np.asarray(tail, dtype=float) >= small - 1e-6
    )
    return np.where(covered & (np.asarray(d_b, dtype=float) < 40.0), 0.7, 1.0)


@clause(
    "24.2.3.5(a)",
    "I_e",
    (("M_a <= M_cr", "I_g"), ("", "min((M_cr/M_a)^3 I_g + (1 - (M_cr/M_a)^3) I_cr; I_g)")),
    "mm4",
)
def effective_inertia(m_a: Floats, m_cr: Floats, i_g: Floats, i_cr: Floats) -> Array:
    """Effective second moment under the service moment `m_a`, mm4.

    m_a : number or array, N mm (M_a); 0 or more
    m_cr : number or array, N mm (M_cr); 0 or more
    i_g : number or array, mm4 (I_g); above 0
    i_cr : number or array, mm4 (I_cr); above 0

    >>> round(float(effective_inertia(460.0e6, 160.0e6, 6.5e9, 2.4e9)), 2)
    2572532259.39
    """
    m_a, i_g = np.asarray(m_a, dtype=float), np.asarray(i_g, dtype=float)
    share = np.minimum(np.asarray(m_cr) / np.maximum(m_a, 1e-9), 1.0) ** 3
    return np.asarray(np.minimum(share * i_g + (1.0 - share) * np.asarray(i_cr), i_g))


@dataclass(frozen=True)
class Materials2014(MaterialsClauses):
    """Grades up to 80 (550): 20.2.2.4."""

    def steel(self, grade: str) -> Steel:
        result = super().steel(grade)
        if result.strength > self.x.grades[1] * 1.001:
            raise CodeError(
                f"the steel '{grade}' is not in this edition: bars up to Grade "
                f"{80 if self.x.length > 1.0 else 550} (20.2.2.4)"
            )
        return result


@dataclass(frozen=True)
class Bending2014(BendingClauses):
    """9.3.3.1, 21.2.2."""

    def resistance_factor(self, strain: Array, steel: Steel) -> Array:
        eps_ty = yield_strain(steel.strength, self.x)
        return strength_reduction(strain, eps_ty, self.v["phi_tension"], self.v["phi_compression"])

    def neutral_axis_limit(self, concrete: Concrete, steel: Steel, delta: Floats = 1.0) -> Array:
        """9.3.3.1: eps_t of at least 0.004; where moments were redistributed also 6.6.5."""
        strain = minimum_strain(self.v["strain_least"], self.v["redistribution_strain"], delta)
        return neutral_axis_limit(strain)


@dataclass(frozen=True)
class Shear2014(ShearClauses):
    """22.5: concrete without size effect; no rule for legs across the beam."""

    def concrete_with_stirrups(self, concrete: Concrete, web: Web) -> Array:
        return concrete_strength(concrete.strength, web.b, web.d, self.x, web.axial, web.gross)

    def state(self, concrete: Concrete, steel: Steel, web: Web, asw_s: Array, cot: Array) -> ShearState:
        phi = self.v["phi_shear"]
        v_c = self.concrete_with_stirrups(concrete, web)
        v_s = stirrup_strength(asw_s, self.materials.stirrup_yield(steel), web.d)
        maximum = section_limit(v_c, concrete.strength, web.b, web.d, self.x)
        return ShearState(
            web.d,
            cot,
            phi * v_c,
            phi * v_s,
            design_limit(phi, maximum),
            design_strength(phi, v_c, v_s, maximum),
        )

    def model(self, concrete: Concrete, steel: Steel, web: Web, asw_s: Array, cot: Array) -> list[str]:
        return ["V_c by 22.5.5.1"] * len(web.d)

    def maximum_leg_spacing(self, concrete: Concrete, web: Web, v_ed: Array) -> Array:
        """The rule came with the 2019 edition."""
        return np.full(np.shape(web.d), np.inf)


@dataclass(frozen=True)
class Bond2014(BondClauses):
    """25.4: no factor for the grade; hooks in proportion to the diameter; no confinement of high-strength
    bars asked for."""

    def anchorage(
        self,
        concrete: Concrete,
        steel: Steel,
        phi: Floats,
        height: Floats,
        h: Floats,
        around: Around | None = None,
        *,
        bent: bool = False,
    ) -> Array:
        psi_t = casting_factor(np.asarray(height) - 0.5 * np.asarray(phi), self.x)
        simple = table_length(phi, concrete.strength, steel.strength, psi_t, self.x, graded=False)
        if around is None:
            return simple
        c_b = splitting_distance(phi, np.minimum(around.beside, around.above), around.sides, around.cover)
        held = general_length(phi, concrete.strength, steel.strength, psi_t, c_b, 0.0, self.x, graded=False)
        return np.asarray(np.minimum(simple, held))

    def hook(
        self,
        concrete: Concrete,
        steel: Steel,
        phi: Floats,
        apart: Floats = 0.0,
        cover: Floats = 0.0,
        core: Floats = False,
    ) -> Array:
        """psi_c by the side cover, with no less beyond the bend; stirrups along hooks are not counted on."""
        return hook_length(
            phi, concrete.strength, steel.strength, self.x, cover_factor(phi, cover, cover, self.x)
        )

    def confines(self, steel: Steel) -> bool:
        return False

    def confining_spacing(self, steel: Steel, phi: float, tie_area: float, number: float) -> float:
        return float("inf")


@dataclass(frozen=True)
class Service2014(ServiceClauses):
    """24.2.3.5: I_e between I_g and I_cr by the cube of M_cr/M_a."""

    def curvature(
        self,
        moment: Array,
        uncracked: Elastic,
        cracked: Elastic,
        h: Array,
        stage: Stage,
        lasting: bool,
        before: Floats = 0.0,
    ) -> Array:
        m_cr = cracking_moment(stage.tensile_strength, uncracked.i, h, uncracked.x)
        return np.asarray(moment / (stage.modulus * effective_inertia(moment, m_cr, uncracked.i, cracked.i)))
