"""CSA A23.3 11.2, 11.3: shear by the simplified or the general method. Arrays over stations; N, mm, MPa."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, fields, replace

import numpy as np

from upright_bramble.beam import Concrete, Steel
from upright_bramble.codes.csa_a23.materials import E_S, ROOT_LIMIT
from upright_bramble.codes.csa_a23.symbols import NAMES, clause
from upright_bramble.codes.parts import ActingSets, ShearPart, ShearState, Web
from upright_bramble.section.arrays import Array, Floats, Index, Mask

SHALLOW = 250.0  # 11.3.6.2, mm
SIMPLE_STRENGTH, SIMPLE_YIELD = 60.0, 400.0  # 11.3.6.3, MPa
MOST_STRAIN = 0.003  # 11.3.6.4
UNKNOWN_STRAIN = 0.001  # before the bars are known


@clause("11.3.4", "root", "min(sqrt(f'c); 8)", "MPa")
def capped_root(f_c: float) -> float:
    """Square root of f'c as a stress, MPa.

    f_c : number, MPa (f'c); 20 to 80

    >>> round(float(capped_root(30.0)), 4)
    5.4772
    """
    return min(math.sqrt(f_c), ROOT_LIMIT)


@clause("2.3", "d_v", "max(0.9 d; 0.72 h)", "mm")
def effective_shear_depth(d: Floats, h: Floats) -> Array:
    """Effective shear depth, mm.

    d : number or array, mm; above 0
    h : number or array, mm; above 0

    >>> round(float(effective_shear_depth(540.0, 600.0)), 2)
    486.0
    """
    return np.asarray(np.maximum(0.9 * np.asarray(d, dtype=float), 0.72 * np.asarray(h)))


@clause(
    "11.3.6.3",
    "beta",
    (("h <= 250", "0.21"), ("tied >= 1", "0.18"), ("", "230/(1000 + d_v)")),
    names={**NAMES, "tied": ("tied", "")},
)
def simplified_beta(h: Floats, tied: Floats, d_v: Floats) -> Array:
    """beta of the simplified method; `tied` (bool) where there are at least the minimum stirrups; shallow
    members by 11.3.6.2.

    h : number or array, mm; above 0
    tied : number or array; one of 0, 1
    d_v : number or array, mm; above 0

    >>> round(float(simplified_beta(600.0, 1.0, 486.0)), 4)
    0.18
    """
    plain = np.where(np.asarray(tied, dtype=bool), 0.18, 230.0 / (1000.0 + np.asarray(d_v, dtype=float)))
    return np.where(np.asarray(h) <= SHALLOW, 0.21, plain)


@clause("11.3.6.3", "theta", (("h <= 250", "42"), ("", "35")))
def simplified_theta(h: Floats) -> Array:
    """theta of the simplified method, degrees.

    h : number or array, mm; above 0

    >>> round(float(simplified_theta(600.0)), 2)
    35.0
    """
    return np.where(np.asarray(h) <= SHALLOW, 42.0, 35.0)


@clause(
    "11.3.6.4",
    "eps_x",
    "min(max((max(M_f; V_f d_v)/d_v + sqrt(V_f^2 + q^2) + 0.5 N_f)/(2 E_s A_s); 0); 0.003)",
    names={**NAMES, "q": ("q", "N")},
)
def longitudinal_strain(
    m_f: Floats, v_f: Floats, n_f: Floats, a_s: Floats, d_v: Floats, q: Floats = 0.0, e_s: float = E_S
) -> Array:
    """Strain at mid-depth, N_f tension positive, `q` the shear that stands for torque; not below 0, no more
    than 0.003.


    m_f : number or array, N mm (M_f); 0 or more
    v_f : number or array, N (V_f); 0 or more
    n_f : number or array, N (N_f); either sign
    a_s : number or array, mm2 (A_s); above 0
    d_v : number or array, mm; above 0
    q : number or array, N; 0 or more
    e_s : number, MPa (E_s); 190000 to 210000

    >>> round(float(longitudinal_strain(200.0e6, 250.0e3, 0.0, 2000.0, 477.0)), 10)
    0.000836609
    """
    v, d_v = np.asarray(v_f, dtype=float), np.asarray(d_v, dtype=float)
    pull = np.maximum(np.asarray(m_f), v * d_v) / d_v + np.hypot(v, q) + 0.5 * np.asarray(n_f)
    return np.asarray(np.clip(pull / np.maximum(2.0 * e_s * np.asarray(a_s), 1e-3), 0.0, MOST_STRAIN))


def strain_in_compression(
    m_f: float,
    v_f: float,
    n_f: float,
    a_s: float,
    d_v: float,
    concrete: float = 0.0,
    cracked_face: bool = False,
) -> float:
    """The same where it comes out below 0, with the concrete's stiffness E_c A_ct on the tension side (N);
    doubled where tension cracks the compressed face. Not used by the program, which takes such strains as 0.

    m_f : number, N mm; 0 or more
    v_f : number, N; 0 or more
    n_f : number, N; either sign
    concrete : number, N; 0 or more
    a_s : number, mm2; above 0
    d_v : number, mm; above 0
    cracked_face : true or false

    >>> round(strain_in_compression(1.0e6, 10.0e3, -500.0e3, 2000.0, 477.0, 3.0e9) * 1e6, 1)
    -33.8
    """
    pull = max(m_f, v_f * d_v) / d_v + v_f + 0.5 * n_f
    strain = pull / (2.0 * E_S * a_s)
    if strain < 0.0:
        strain = max(pull / (2.0 * (concrete + E_S * a_s)), -0.0002)
    return min(strain * (2.0 if cracked_face else 1.0), MOST_STRAIN)


@clause("11.3.6.4", "a_g'", "a_g max(min(7 - f'c/10; 1); 0)", "mm")
def effective_aggregate(d_agg: float, f_c: float) -> float:
    """Size of the aggregate that counts: less from 60 MPa on, mm.

    d_agg : number, mm (a_g); above 0
    f_c : number, MPa (f'c); 20 to 80

    >>> round(float(effective_aggregate(20.0, 65.0)), 2)
    10.0
    """
    return d_agg * max(min(7.0 - f_c / 10.0, 1.0), 0.0)


@clause(
    "11.3.6.4", "s_ze", "max(35 s_z/(15 + a_g'); 0.85 s_z)", "mm", names={**NAMES, "d_agg": ("a_g'", "mm")}
)
def crack_spacing(s_z: Floats, d_agg: float) -> Array:
    """Equivalent crack spacing, mm; s_z is d_v.

    s_z : number or array, mm; 0 or more
    d_agg : number, mm (a_g'); above 0

    >>> round(float(crack_spacing(500.0, 20.0)), 2)
    500.0
    """
    return np.asarray(np.maximum(35.0 * np.asarray(s_z) / (15.0 + d_agg), 0.85 * np.asarray(s_z)))


@clause("11.3.6.4", "beta", "0.4/(1 + 1500 eps_x) 1300/(1000 + s_ze)")
def general_beta(eps_x: Floats, s_ze: Floats = 300.0) -> Array:
    """beta of the general method; s_ze is 300 mm with at least the minimum stirrups.

    eps_x : number or array; -0.0002 to 0.003
    s_ze : number or array, mm; 0 or more

    >>> round(float(general_beta(0.001, 300.0)), 4)
    0.16
    """
    return np.asarray(0.4 / (1.0 + 1500.0 * np.asarray(eps_x)) * 1300.0 / (1000.0 + np.asarray(s_ze)))


@clause("11.3.6.4", "theta", "29 + 7000 eps_x")
def general_theta(eps_x: Floats) -> Array:
    """theta of the general method, degrees.

    eps_x : number or array; -0.0002 to 0.003

    >>> round(float(general_theta(0.001)), 2)
    36.0
    """
    return np.asarray(29.0 + 7000.0 * np.asarray(eps_x))


@clause("11.3.5.1", "cot_theta", "cotangent of theta in degrees")
def cotangent(theta: Floats) -> Array:
    """Of an angle in degrees.

    theta : number or array; 20 to 60

    >>> round(float(cotangent(35.0)), 4)
    1.4281
    """
    return np.asarray(1.0 / np.tan(np.radians(theta)))


@clause("11.3.4", "V_c", "phi_c lambda beta min(sqrt(f'c); 8) b_w d_v", "N")
def concrete_strength(
    phi_c: float, beta: Floats, f_c: float, b_w: Floats, d_v: Floats, lam: float = 1.0
) -> Array:
    """Shear resisted by the concrete, N.

    phi_c : number; 0.5 to 1
    beta : number or array; 0 to 0.4
    f_c : number, MPa (f'c); 20 to 80
    b_w : number or array, mm; above 0
    d_v : number or array, mm; above 0
    lam : number (lambda); 0.75 to 1

    >>> round(float(concrete_strength(0.65, 0.18, 30.0, 400.0, 477.0)), 2)
    122271.39
    """
    return np.asarray(
        phi_c * lam * np.asarray(beta) * min(math.sqrt(f_c), ROOT_LIMIT) * np.asarray(b_w) * d_v
    )


@clause("11.3.5.1", "V_s", "phi_s a_v f_y d_v cot_theta", "N")
def stirrup_strength(phi_s: float, av_s: Floats, f_y: float, d_v: Floats, cot: Floats) -> Array:
    """Shear resisted by vertical stirrups, N.

    phi_s : number; 0.5 to 1
    av_s : number or array, mm2/mm (a_v); 0 or more
    f_y : number, MPa; 300 to 500
    d_v : number or array, mm; above 0
    cot : number or array (cot_theta); 0.8 to 2.5

    >>> round(float(stirrup_strength(0.85, 0.667, 400.0, 477.0, 1.428)), 2)
    154472.56
    """
    return np.asarray(phi_s * np.asarray(av_s) * f_y * np.asarray(d_v) * cot)


@clause("11.3.3", "V_r,max", "0.25 phi_c f'c b_w d_v", "N")
def maximum_resistance(phi_c: float, f_c: float, b_w: Floats, d_v: Floats) -> Array:
    """Greatest factored shear resistance, N.

    phi_c : number; 0.5 to 1
    f_c : number, MPa (f'c); 20 to 80
    b_w : number or array, mm; above 0
    d_v : number or array, mm; above 0

    >>> round(float(maximum_resistance(0.65, 30.0, 400.0, 477.0)), 2)
    930150.0
    """
    return np.asarray(0.25 * phi_c * f_c * np.asarray(b_w) * d_v)


@clause("11.3.3", "V_r", "min(V_c + V_s; V_r,max)", "N")
def factored_resistance(v_c: Floats, v_s: Floats, v_r_max: Floats) -> Array:
    """Of concrete and stirrups together, N.

    v_c : number or array, N (V_c); 0 or more
    v_s : number or array, N (V_s); 0 or more
    v_r_max : number or array, N (V_r,max); 0 or more

    >>> round(float(factored_resistance(120.0e3, 150.0e3, 930.0e3)), 2)
    270000.0
    """
    return np.asarray(np.minimum(np.asarray(v_c) + v_s, v_r_max))


@clause("11.2.8.2", "a_v,min", "0.06 sqrt(f'c) b_w/f_y", "mm2/mm")
def minimum_stirrups(f_c: float, f_y: float, b_w: Floats) -> Array:
    """Minimum stirrups, mm2/mm.

    f_c : number, MPa (f'c); 20 to 80
    f_y : number, MPa; 300 to 500
    b_w : number or array, mm; above 0

    >>> round(float(minimum_stirrups(30.0, 400.0, 400.0)), 4)
    0.3286
    """
    return np.asarray(0.06 * math.sqrt(f_c) * np.asarray(b_w) / f_y)


def stirrups_called_for(v_f: float, v_c: float, h: float, t_f: float = 0.0, t_cr: float = math.inf) -> bool:
    """11.2.8.1: where V_f exceeds V_c, the member is deeper than 750 mm, or T_f exceeds 0.25 T_cr; the
    program has them throughout.

    v_f, v_c : numbers, N; 0 or more
    h : number, mm; above 0
    t_f, t_cr : numbers, N mm; 0 or more

    >>> stirrups_called_for(10.0, 101.0, 751.0), stirrups_called_for(10.0, 101.0, 750.0)
    (True, False)
    >>> [stirrups_called_for(10.0, 10.0, 700.0, t_f, 100.0) for t_f in (25.0, 26.0)]
    [False, True]
    """
    return v_f > v_c or h > 750.0 or t_f > 0.25 * t_cr


@clause(
    "11.3.8",
    "s_max",
    (("V_f > 0.125 lambda phi_c f'c b_w d_v", "0.5 min(0.7 d_v; 600)"), ("", "min(0.7 d_v; 600)")),
    "mm",
)
def maximum_spacing(
    v_f: Floats, phi_c: float, f_c: float, b_w: Floats, d_v: Floats, lam: float = 1.0
) -> Array:
    """Largest spacing of stirrups along the beam, mm.

    v_f : number or array, N (V_f); 0 or more
    phi_c : number; 0.5 to 1
    f_c : number, MPa (f'c); 20 to 80
    b_w : number or array, mm; above 0
    d_v : number or array, mm; above 0
    lam : number (lambda); 0.75 to 1

    >>> round(float(maximum_spacing(100.0e3, 0.65, 30.0, 400.0, 477.0)), 2)
    333.9
    """
    d_v = np.asarray(d_v, dtype=float)
    high = np.asarray(v_f) > 0.125 * lam * phi_c * f_c * np.asarray(b_w) * d_v
    return np.asarray(np.minimum(0.7 * d_v, 600.0) * np.where(high, 0.5, 1.0))


@clause("11.3.9.2", "F_lt", "max(M_f/d_v + 0.5 N_f + (V_f - 0.5 min(V_s; V_f)) cot_theta; 0)", "N")
def chord_force(m_f: Floats, d_v: Floats, n_f: Floats, v_f: Floats, v_s: Floats, cot: Floats) -> Array:
    """Force of the longitudinal bars of a face, N; M_f positive where it pulls the face, negative on the
    other (11.3.9.3).


    m_f : number or array, N mm (M_f); 0 or more
    d_v : number or array, mm; above 0
    n_f : number or array, N (N_f); either sign
    v_f : number or array, N (V_f); 0 or more
    v_s : number or array, N (V_s); 0 or more
    cot : number or array (cot_theta); 0.8 to 2.5

    >>> round(float(chord_force(200.0e6, 477.0, 0.0, 250.0e3, 150.0e3, 1.428)), 2)
    669187.21
    """
    sheared = (np.asarray(v_f) - 0.5 * np.minimum(v_s, v_f)) * cot
    return np.asarray(np.maximum(np.asarray(m_f) / d_v + 0.5 * np.asarray(n_f) + sheared, 0.0))


@clause(
    "11.3.9.4",
    "F_l",
    "min(F_lt; M_max/d_v + 0.5 N_f)",
    "N",
    names={**NAMES, "force": ("F_lt", "N"), "m_max": ("M_max", "N mm")},
)
def limited_chord_force(force: Floats, m_max: Floats, d_v: Floats, n_f: Floats = 0.0) -> Array:
    """No more than where the moment is greatest, N.

    force : number or array, N (F_lt); 0 or more
    m_max : number or array, N mm (M_max); 0 or more
    d_v : number or array, mm; above 0
    n_f : number or array, N (N_f); either sign

    >>> round(float(limited_chord_force(700.0e3, 300.0e6, 500.0, 60.0e3)), 2)
    630000.0
    """
    return np.asarray(np.minimum(force, np.asarray(m_max) / d_v + 0.5 * np.asarray(n_f)))


@clause("11.3.5", "a_v", "max(V_f - V_c; 0)/(phi_s f_y d_v cot_theta)", "mm2/mm")
def stirrups_for(v_f: Floats, v_c: Floats, phi_s: float, f_y: float, d_v: Floats, cot: Floats) -> Array:
    """Stirrups that carry what the concrete does not, mm2/mm.

    v_f : number or array, N (V_f); 0 or more
    v_c : number or array, N (V_c); 0 or more
    phi_s : number; 0.5 to 1
    f_y : number, MPa; 300 to 500
    d_v : number or array, mm; above 0
    cot : number or array (cot_theta); 0.8 to 2.5

    >>> round(float(stirrups_for(250.0e3, 120.0e3, 0.85, 400.0, 477.0, 1.428)), 4)
    0.5613
    """
    return np.asarray(np.maximum(np.asarray(v_f) - v_c, 0.0) / (phi_s * f_y * np.asarray(d_v) * cot))


@clause(
    "11.2.11",
    "A_v",
    "V/(phi_s f_y)",
    "mm2",
    names={"force": ("V", "N"), "phi_s": ("phi_s", ""), "f_y": ("f_y", "MPa")},
)
def suspension_stirrups(force: float, phi_s: float, f_y: float) -> float:
    """Stirrups that carry a whole reaction up, mm2.

    force : number, N (V); 0 or more
    phi_s : number; 0.5 to 1
    f_y : number, MPa; 300 to 500

    >>> round(float(suspension_stirrups(200.0e3, 0.85, 400.0)), 2)
    588.24
    """
    return max(force, 0.0) / (phi_s * f_y)


def with_forces(web: Web, sets: ActingSets) -> Web:
    """The web at every station with the forces of the sets there, and the bars that each pulls."""
    return replace(web, moment=np.abs(sets.moment), shear=sets.shear, twisting=sets.twisting, a_sl=sets.area)


@dataclass(frozen=True)
class ShearClauses(ShearPart):
    """Answers on shear (11.2, 11.3): simplified where 11.3.6.3 permits it and `general_shear` is not asked
    for."""

    v: Mapping[str, float]

    crushes_at_face = False

    def lever(self, d: Floats) -> Array:
        return np.asarray(0.9 * np.asarray(d))

    def strut(
        self, concrete: Concrete, b: Array, d: Array, v_ed: Array, reserve: float, axial: Floats = 0.0
    ) -> Array:
        """Of 35 degrees; the resistance has the angle of its method."""
        return np.full(np.shape(d), float(cotangent(35.0)))

    def is_general(self, concrete: Concrete, steel: Steel, web: Web) -> bool:
        """11.3.6.3: f'c up to 60 MPa, bars along the beam up to 400 MPa, no tension along it."""
        beyond = (
            concrete.strength > SIMPLE_STRENGTH or (web.bar_yield or steel.strength) > SIMPLE_YIELD * 1.001
        )
        return self.v["general_shear"] > 0.5 or beyond or bool(np.any(np.asarray(web.axial) < -1.0))

    def angles(
        self, concrete: Concrete, steel: Steel, web: Web, tied: Mask, demand: Floats
    ) -> tuple[Array, Array]:
        """beta and cot theta at every station; `demand` the shear that goes with the moment of the web."""
        d_v = effective_shear_depth(web.d, web.h)
        if not self.is_general(concrete, steel, web):
            beta = simplified_beta(web.h, np.asarray(tied, dtype=float), d_v)
            return beta, cotangent(simplified_theta(web.h + 0.0 * d_v))
        strain = longitudinal_strain(web.moment, demand, -np.asarray(web.axial), web.a_sl, d_v, web.twisting)
        if not np.any(web.a_sl):  # no bars are known yet: verification says what they do
            strain = np.full(np.shape(strain), UNKNOWN_STRAIN)
        plain = crack_spacing(d_v, effective_aggregate(concrete.aggregate, concrete.strength))
        s_ze = np.where(np.asarray(tied, dtype=bool), 300.0, plain)
        return general_beta(strain, s_ze), cotangent(general_theta(strain))

    def state(self, concrete: Concrete, steel: Steel, web: Web, asw_s: Array, cot: Array) -> ShearState:
        f_c = concrete.strength
        phi_s, phi_c = self.v["phi_s"], self.v["phi_c"]
        d_v = effective_shear_depth(web.d, web.h)
        tied = asw_s >= minimum_stirrups(f_c, steel.strength, web.b) * (1.0 - 1e-9)
        beta, own = self.angles(concrete, steel, web, tied, web.shear)
        v_c = concrete_strength(phi_c, beta, f_c, web.b, d_v)
        v_s = stirrup_strength(phi_s, asw_s, steel.strength, d_v, own)
        maximum = maximum_resistance(phi_c, f_c, web.b, d_v)
        return ShearState(d_v, own, v_c, v_s, maximum, factored_resistance(v_c, v_s, maximum))

    def governing(
        self, concrete: Concrete, steel: Steel, web: Web, asw_s: Array, sets: Callable[[], ActingSets | None]
    ) -> tuple[Web, Index | None]:
        """11.3.6.4: M_f, V_f and T_f act together. Of the simplified method nothing depends on them."""
        acting = sets() if self.is_general(concrete, steel, web) else None
        if acting is None:
            return web, None
        total = self.state(concrete, steel, with_forces(web, acting), asw_s, acting.moment).total
        worst = (acting.shear / np.maximum(total, 1e-6)).argmax(axis=0)
        columns = np.arange(len(worst))
        return with_forces(
            web, ActingSets(*(getattr(acting, f.name)[worst, columns] for f in fields(acting)))
        ), worst

    def model(self, concrete: Concrete, steel: Steel, web: Web, asw_s: Array, cot: Array) -> list[str]:
        return [f"{'general' if self.is_general(concrete, steel, web) else 'simplified'} method"] * len(web.d)

    def near_support_resistance(self, steel: Steel, area: float) -> float:
        """For comparison: their factored yield force."""
        return self.v["phi_s"] * area * steel.strength

    def stirrups_required(self, concrete: Concrete, steel: Steel, web: Web, v_ed: Array, cot: Array) -> Array:
        beta, own = self.angles(concrete, steel, web, np.ones(np.shape(web.d), dtype=bool), v_ed)
        d_v = effective_shear_depth(web.d, web.h)
        v_c = concrete_strength(self.v["phi_c"], beta, concrete.strength, web.b, d_v)
        return stirrups_for(v_ed, v_c, self.v["phi_s"], steel.strength, d_v, own)

    def minimum_stirrups(self, concrete: Concrete, steel: Steel, b: Array) -> Array:
        """11.2.8.2, throughout."""
        return minimum_stirrups(concrete.strength, steel.strength, b)

    def maximum_spacing(self, concrete: Concrete, web: Web, v_ed: Array) -> Array:
        return maximum_spacing(
            v_ed, self.v["phi_c"], concrete.strength, web.b, effective_shear_depth(web.d, web.h)
        )

    def maximum_leg_spacing(self, concrete: Concrete, web: Web, v_ed: Array) -> Array:
        """The standard has no such rule."""
        return np.full(np.shape(web.d), np.inf)

    def chord_moment(
        self,
        concrete: Concrete,
        steel: Steel,
        web: Web,
        acting: Callable[[], tuple[Array, Array]],
        signed: Array,
        greatest: Array,
    ) -> Array:
        """11.3.9, with stirrups that carry what the concrete does not."""
        shear, moment = acting()
        d_v = effective_shear_depth(web.d, web.h)
        beta, cot = self.angles(concrete, steel, web, np.ones(np.shape(web.d), dtype=bool), shear)
        v_s = np.maximum(shear - concrete_strength(self.v["phi_c"], beta, concrete.strength, web.b, d_v), 0.0)
        force = limited_chord_force(chord_force(moment, d_v, 0.0, shear, v_s, cot), greatest, d_v).max(axis=0)
        return np.asarray(np.where(greatest > 0.0, np.maximum(force * d_v, np.maximum(signed, 0.0)), 0.0))

    def suspension_steel(self, steel: Steel, reaction: float) -> float:
        return suspension_stirrups(reaction, self.v["phi_s"], steel.strength)

    def anchored_beyond(self, anchorage: Array, d: Array) -> Array:
        """11.3.6.4: bars count as far as they are developed."""
        return anchorage + 0.0 * d
