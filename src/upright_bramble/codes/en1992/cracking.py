"""EN 1992-1-1 7.3: crack control. N, mm, MPa."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Service, Steel
from upright_bramble.codes.en1992 import materials, service
from upright_bramble.codes.en1992.symbols import EN, NAMES, clause
from upright_bramble.codes.parts import (
    CrackingPart,
    CrackPoints,
    CrackState,
    Face,
    Stage,
    TableControl,
    TensionZone,
)
from upright_bramble.section.arrays import Array, Floats, Mask
from upright_bramble.section.cracked import Elastic


@clause(EN, "7.3.2(3)", "h_c,ef", "min(2.5 (h - d); (h - x)/3; h/2)", "mm")
def effective_tension_depth(h: Floats, d: Floats, x: Floats) -> Array:
    """Depth of the tension zone that the bars control, mm.

    h : number or array, mm; above 0
    d : number or array, mm; above 0, below h
    x : number or array, mm; 0 to 0.9 h

    >>> round(float(effective_tension_depth(600.0, 540.0, 125.0)), 2)
    150.0
    """
    h = np.asarray(h, dtype=float)
    return np.asarray(
        np.maximum(np.minimum(np.minimum(2.5 * (h - d), (h - np.asarray(x)) / 3.0), h / 2.0), 1e-6)
    )


@clause(EN, "7.3.4(2)", "rho_p,eff", "max(A_s,eff/(b h_c,ef); 0.000001)")
def effective_ratio(a_s_eff: Floats, b: Floats, h_c_ef: Floats) -> Array:
    """Steel of the effective tension area over it; `a_s_eff` the bars inside that area alone, mm2.

    a_s_eff : number or array, mm2 (A_s,eff); 0 or more
    b : number or array, mm; above 0
    h_c_ef : number or array, mm (h_c,ef); above 0

    >>> round(float(effective_ratio(1.0, 300.0, 1.0)), 8)
    0.00333333
    """
    return np.maximum(np.asarray(a_s_eff) / (np.asarray(b) * h_c_ef), 1e-6)


@clause(
    EN,
    "7.3.4(2)",
    "eps_m",
    "max([sigma_s - k_t f_ct,eff/rho_p,eff (1 + alpha_e rho_p,eff)]/E_s; 0.6 sigma_s/E_s)",
)
def strain_difference(
    sigma_s: Floats, rho: Floats, alpha_e: Floats, f_ct_eff: float, e_s: float = 200_000.0, k_t: float = 0.4
) -> Array:
    """Mean strain of bars less that of the concrete between cracks; k_t 0.4 under lasting load.

    sigma_s : number or array, MPa; 0 or more
    rho : number or array (rho_p,eff); above 0
    alpha_e : number or array; 1 to 60
    f_ct_eff : number, MPa (f_ct,eff); 1 to 6
    e_s : number, MPa (E_s); 190000 to 210000
    k_t : number; 0.4 to 0.6

    >>> round(float(strain_difference(225.0, 0.021, 12.0, 2.9, 200000.0, 0.4)), 8)
    0.00077921
    """
    sigma_s, rho = np.asarray(sigma_s, dtype=float), np.maximum(np.asarray(rho, dtype=float), 1e-9)
    stiffened = (sigma_s - k_t * f_ct_eff / rho * (1.0 + np.asarray(alpha_e) * rho)) / e_s
    return np.maximum(stiffened, 0.6 * sigma_s / e_s)


@clause(
    EN,
    "7.3.4(3)",
    "s_r,max",
    (("s > 5 (c + 0.5 phi)", "1.3 (h - x)"), ("", "k_3 c + 0.8 k_2 k_4 phi/rho_p,eff")),
    "mm",
)
def crack_spacing(
    c: Floats,
    phi: Floats,
    rho: Floats,
    spacing: Floats,
    h: Floats,
    x: Floats,
    k_3: float = 3.4,
    k_4: float = 0.425,
    k_2: Floats = 0.5,
) -> Array:
    """Largest crack spacing, mm: ribbed bars (k_1 0.8); k_2 0.5 in bending; `c` cover of the bars, `spacing`
    of their centres.

    c : number or array, mm; 0 or more
    phi : number or array, mm; 6 to 40
    rho : number or array (rho_p,eff); above 0
    spacing : number or array, mm (s); 0 or more
    h : number or array, mm; above 0
    x : number or array, mm; 0 to h
    k_3 : number; 0 or more
    k_4 : number; 0 or more
    k_2 : number or array; 0.5 to 1

    >>> round(float(crack_spacing(40.0, 20.0, 0.021, 220.0, 600.0, 125.0, 3.4, 0.425)), 2)
    297.9
    """
    close = k_3 * np.asarray(c) + 0.8 * np.asarray(k_2) * k_4 * np.asarray(phi) / np.maximum(rho, 1e-9)
    wide = 1.3 * (np.asarray(h, dtype=float) - x)
    apart = np.asarray(spacing) > 5.0 * (np.asarray(c) + 0.5 * np.asarray(phi))
    return np.where(apart, wide, close)


@clause(EN, "7.3.4(1)", "w_k", "s_r,max eps_m", "mm")
def crack_width(s_r_max: Floats, strain: Floats) -> Array:
    """Characteristic crack width, mm.

    s_r_max : number or array, mm (s_r,max); 0 or more
    strain : number or array (eps_m); 0 to 0.1

    >>> round(float(crack_width(250.0, 0.0045)), 4)
    1.125
    """
    return np.asarray(np.asarray(s_r_max) * strain)


@clause(EN, "7.3.2(2)", "k", (("h <= 300", "1.0"), ("h >= 800", "0.65"), ("", "1 - 0.35 (h - 300)/500")))
def restraint_factor(h: Floats) -> Array:
    """k of 7.3.2(2), for non-uniform self-equilibrating stresses; `h` in mm.

    h : number or array, mm; above 0

    >>> round(float(restraint_factor(600.0)), 4)
    0.79
    """
    return np.asarray(np.interp(h, [300.0, 800.0], [1.0, 0.65]))


# Tables 7.2N and 7.3N: by stress of the bars (MPa), for cracks of 0.4, 0.3 and 0.2 mm; 0 where a table ends.
_STRESSES = (160.0, 200.0, 240.0, 280.0, 320.0, 360.0, 400.0, 450.0)


_DIAMETERS = (
    (40.0, 32.0, 20.0, 16.0, 12.0, 10.0, 8.0, 6.0),
    (32.0, 25.0, 16.0, 12.0, 10.0, 8.0, 6.0, 5.0),
    (25.0, 16.0, 12.0, 8.0, 6.0, 5.0, 4.0, 0.0),
)


_SPACINGS = (
    (300.0, 300.0, 250.0, 200.0, 150.0, 100.0, 0.0, 0.0),
    (300.0, 250.0, 200.0, 150.0, 100.0, 50.0, 0.0, 0.0),
    (200.0, 150.0, 100.0, 50.0, 0.0, 0.0, 0.0, 0.0),
)


_WIDTHS = (0.4, 0.3, 0.2)


def _from_table(table: tuple[tuple[float, ...], ...], stress: Floats, width: float) -> Array:
    """Linear between stresses and between crack widths; nothing for cracks finer than the table's."""
    by_width = [np.interp(stress, _STRESSES, row) for row in table]
    if width < _WIDTHS[-1] - 1e-9:
        return np.zeros_like(by_width[0])
    if width >= _WIDTHS[0]:
        return np.asarray(by_width[0])
    k = 0 if width > _WIDTHS[1] else 1
    share = (_WIDTHS[k] - width) / (_WIDTHS[k] - _WIDTHS[k + 1])
    return np.asarray((1.0 - share) * by_width[k] + share * by_width[k + 1])


@clause(EN, "7.3.3(2)", "phi_s", "phi_star f_ct,eff/2.9 0.4 (h/2)/(2 (h - d)): phi_star of Table 7.2N", "mm")
def maximum_bar_diameter(stress: Floats, width: float, f_ct_eff: float, h: Floats, d: Floats) -> Array:
    """Diameter that keeps cracks within `width` (mm) at a `stress` of the bars in bending, mm (7.6N).

    stress : number or array, MPa; 160 to 450
    width : number, mm (t); 0 or more
    f_ct_eff : number, MPa (f_ct,eff); 1 to 6
    h : number or array, mm; above 0
    d : number or array, mm; above 0

    >>> round(float(maximum_bar_diameter(280.0, 0.3, 2.9, 600.0, 540.0)), 2)
    12.0
    """
    reach = 0.4 * 0.5 * np.asarray(h, dtype=float) / np.maximum(2.0 * (np.asarray(h) - d), 1e-6)
    return np.asarray(_from_table(_DIAMETERS, stress, width) * f_ct_eff / 2.9 * reach)


@clause(EN, "7.3.3(2)", "s", "Table 7.3N", "mm")
def maximum_bar_spacing(stress: Floats, width: float) -> Array:
    """Distance of bars that keeps cracks within `width` (mm) at a `stress` of the bars, mm.

    stress : number or array, MPa; 160 to 360
    width : number, mm (t); 0 or more

    >>> round(float(maximum_bar_spacing(280.0, 0.3)), 2)
    150.0
    """
    return _from_table(_SPACINGS, stress, width)


@clause(EN, "7.3.2(2)", "A_s,min", "0.4 k f_ct,eff A_ct/sigma_s", "mm2")
def minimum_crack_steel(a_ct: Floats, h: Floats, f_ct_eff: float, sigma_s: float) -> Array:
    """Steel of a tension zone `a_ct` that cracks are controlled with, mm2.

    a_ct : number or array, mm2 (A_ct); 0 or more
    h : number or array, mm; above 0
    f_ct_eff : number, MPa (f_ct,eff); 1 to 6
    sigma_s : number, MPa; above 0

    >>> round(float(minimum_crack_steel(200000.0, 600.0, 2.9, 225.0)), 2)
    814.58
    """
    return np.asarray(0.4 * restraint_factor(h) * f_ct_eff * np.asarray(a_ct) / sigma_s)


@clause(
    EN,
    "7.3.2(2)",
    "A_s,fl",
    "max(0.9 share; 0.5) k f_ct,eff A_fl/sigma_s",
    "mm2",
    names={**NAMES, "a_fl": ("A_fl", "mm2"), "share": ("share", "")},
)
def flange_crack_steel(a_fl: Floats, share: Floats, h: Floats, f_ct_eff: float, sigma_s: float) -> Array:
    """Steel of a flange in tension `a_fl` that its cracks are controlled with, mm2; `share` its mean stress
    before it cracks over f_ct,eff (7.3): k_c is at least 0.5.

    a_fl : number or array, mm2 (A_fl); 0 or more
    share : number or array; 0 to 1
    h : number or array, mm; above 0
    f_ct_eff : number, MPa (f_ct,eff); 1 to 6
    sigma_s : number, MPa; above 0

    >>> round(float(flange_crack_steel(150000.0, 0.3, 600.0, 2.9, 225.0)), 2)
    763.67
    """
    k_c = np.maximum(0.9 * np.asarray(share, dtype=float), 0.5)
    return np.asarray(k_c * restraint_factor(h) * f_ct_eff * np.asarray(a_fl) / sigma_s)


@clause(
    EN,
    "7.3.2(2)",
    "A_s,tot",
    "A_s,min + A_s,fl",
    "mm2",
    names={"web": ("A_s,min", "mm2"), "flange": ("A_s,fl", "mm2")},
)
def total_crack_steel(web: Floats, flange: Floats) -> Array:
    """Of web and flange together, mm2.

    web : number or array, mm2 (A_s,min); 0 or more
    flange : number or array, mm2 (A_s,fl); 0 or more

    >>> round(float(total_crack_steel(400.0, 150.0)), 2)
    550.0
    """
    return np.asarray(np.asarray(web) + np.asarray(flange))


@clause(EN, "7.3.3(3)", "A_s,skin", "0.4 0.5 f_ct,eff A_ct/f_yk", "mm2")
def skin_steel(a_ct: float, f_ct_eff: float, f_yk: float) -> float:
    """Side bars of the tension half `a_ct` of a deep web, mm2: k_c 0.4, k 0.5.

    a_ct : number, mm2 (A_ct); 0 or more
    f_ct_eff : number, MPa (f_ct,eff); 1 to 6
    f_yk : number, MPa; 400 to 600

    >>> round(float(skin_steel(200000.0, 2.9, 500.0)), 2)
    232.0
    """
    return 0.4 * 0.5 * f_ct_eff * a_ct / f_yk


APART = math.hypot(
    2.5, 1.0
)  # of c + phi/2: from a bar to the face half way between bars that are 5 (c + phi/2) apart


@dataclass(frozen=True)
class CrackingClauses(CrackingPart):
    """Answers on crack control (7.3)."""

    v: Mapping[str, float]

    limits_width = True
    level, stage = "quasi_permanent", "lasting"

    def skin(
        self, concrete: Concrete, steel: Steel, b: float, h: float, cover: float, wanted: Service
    ) -> tuple[float, float]:
        """7.3.3(3), from 1000 mm of depth: k_c k f_ctm A_ct/f_yk with k = 0.5 (k_c 0.4, half the section in
        tension); as far apart as Table 7.3N says for half the stress of the main bars, which is no more than
        k_3 f_yk (7.2(5))."""
        if h < 1000.0:
            return math.inf, 0.0
        maximum = service.bar_stress_limit(steel.strength)
        apart = float(maximum_bar_spacing(0.5 * maximum, self.limit(wanted)))
        f_ctm = materials.mean_tensile_strength(concrete.strength)
        return max(apart, 50.0), skin_steel(0.5 * b * h, f_ctm, steel.strength)

    def minimum_steel(self, concrete: Concrete, steel: Steel, zone: TensionZone, h: Array) -> Array:
        """7.3.2(2), bars at yield; flanges in tension with a k_c of their own."""
        f_ctm = materials.mean_tensile_strength(concrete.strength)
        web = minimum_crack_steel(zone.web, h, f_ctm, steel.strength)
        if not zone.flange.any():
            return web
        return total_crack_steel(web, flange_crack_steel(zone.flange, zone.share, h, f_ctm, steel.strength))

    def table(self, stress: Array, face: Face, concrete: Concrete, wanted: Service) -> TableControl:
        """7.3.3(2)."""
        width, f_ctm = self.limit(wanted), materials.mean_tensile_strength(concrete.strength)
        most_phi = maximum_bar_diameter(stress, width, f_ctm, face.h, face.depth)
        return TableControl(face.phi, most_phi, face.spacing, maximum_bar_spacing(stress, width))

    def judge(self, moment: Array, cracked: Elastic, stage: Stage, face: Face, wanted: Service) -> CrackState:
        """w_k (7.3.4) for `moment` >= 0 against its limit, mm."""
        h_ef = effective_tension_depth(face.h, face.depth, cracked.x)
        # bars outside the effective area control no crack: they do not count (7.3.4(2), Figure 7.1)
        inside = np.where(face.depths >= (face.h - h_ef)[:, None] - 1e-6, face.areas, 0.0)
        area = inside.sum(axis=1)
        none = area <= 1e-6
        depth = np.where(none, face.outer, (inside * face.depths).sum(axis=1) / np.where(none, 1.0, area))
        sigma = service.bar_stress(stage.alpha_e, moment, depth, cracked.x, cracked.i)
        rho = effective_ratio(np.where(none, 0.0, area), face.b, h_ef)
        # without a bar in the effective area cracks are as far apart as (7.14) says
        apart = np.where(none, np.inf, face.spacing)
        s_r = crack_spacing(
            face.cover, face.phi, rho, apart, face.h, cracked.x, self.v["k_3_crack"], self.v["k_4_crack"]
        )
        # here alpha_e is E_s/E_cm, by the clause; the stress above comes from the section with creep
        strain = strain_difference(sigma, rho, materials.E_S / stage.short_modulus, stage.tensile_strength)
        width = crack_width(s_r, strain)
        return CrackState(width, np.full_like(width, self.limit(wanted)), "crack", width, sigma, depth)

    def around(self, points: CrackPoints, stage: Stage, wanted: Service) -> CrackState:
        """7.3.4 at points of the perimeter: the stress of the nearest bar; farther from it than bars of 5 (c
        + phi/2) that of the face itself, and (7.14). Depths are measured along the strain's gradient; k_2 by
        (7.13)."""
        h_ef = 2.5 * (points.height - points.depth)
        k_2 = points.even
        if points.axis > 0.0:
            h_ef, k_2 = float(effective_tension_depth(points.height, points.depth, points.axis)), 0.5
        concrete, bars = points.effective(min(h_ef, 0.5 * points.height))
        rho = float(effective_ratio(bars, concrete / h_ef, h_ef)) if bars > 0.0 else 1e-6
        far = (points.away > APART * (points.cover + 0.5 * points.phi)) | (bars <= 0.0)
        sigma = np.where(far, np.maximum(points.at_face, points.stress), points.stress)
        spacing = np.where(far, np.inf, 0.0)
        depth = max(points.axis, 0.0)
        values = self.v["k_3_crack"], self.v["k_4_crack"]
        s_r = crack_spacing(points.cover, points.phi, rho, spacing, points.height, depth, *values, k_2)
        strain = strain_difference(sigma, rho, materials.E_S / stage.short_modulus, stage.tensile_strength)
        width = np.where(sigma > 0.0, crack_width(s_r, strain), 0.0)
        return CrackState(
            width,
            np.full_like(width, self.limit(wanted)),
            "crack",
            width,
            sigma,
            np.full_like(width, points.depth),
        )

    def limit(self, service: Service) -> float:
        """Table 7.1N: by the exposure class, of which X0 and XC1 ask for looks alone."""
        usual = self.v["w_max_dry" if service.exposure in ("X0", "XC1") else "w_max"]
        return usual if service.crack_width is None else service.crack_width

    def uncracked_under(self, moment: Array, uncracked: Elastic, h: Array, concrete: Concrete) -> Mask:
        """7.1(2): no crack where the concrete's tension stays below f_ctm."""
        f_ctm = materials.mean_tensile_strength(concrete.strength)
        return np.asarray(moment * (h - uncracked.x) / uncracked.i < f_ctm)
