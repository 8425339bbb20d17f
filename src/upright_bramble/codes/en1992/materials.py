"""Section 3 and Annex B: concrete and steel."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np

from upright_bramble.beam import Concrete, Steel
from upright_bramble.codes.en1992.symbols import EN, NAMES, clause
from upright_bramble.codes.parts import MaterialsPart
from upright_bramble.errors import CodeError
from upright_bramble.section.arrays import Array, Floats
from upright_bramble.section.strength import ConcreteLaw, SteelLaw

E_S = 200_000.0  # 3.2.7(4), MPa


_CEMENT_S = {"S": 0.38, "N": 0.25, "R": 0.20}  # 3.1.2(6)


_CEMENT_AGE = {"S": -1.0, "N": 0.0, "R": 1.0}  # B.1(2)


_CEMENT_SHRINK = {"S": (3.0, 0.13), "N": (4.0, 0.12), "R": (6.0, 0.11)}  # B.2(1)


_AGGREGATE_E = {"quartzite": 1.0, "limestone": 0.9, "sandstone": 0.7, "basalt": 1.2}  # 3.1.3(2)


@clause(EN, "Table 3.1", "f_cm", "f_ck + 8", "MPa")
def mean_strength(f_ck: float) -> float:
    """Mean cylinder strength at 28 days, MPa.

    f_ck : number, MPa; 12 to 90

    >>> round(float(mean_strength(30.0)), 2)
    38.0
    """
    return f_ck + 8.0


@clause(
    EN, "Table 3.1", "f_ctm", (("f_ck <= 50", "0.30 f_ck^(2/3)"), ("", "2.12 ln(1 + (f_ck + 8)/10)")), "MPa"
)
def mean_tensile_strength(f_ck: float) -> float:
    """Mean axial tensile strength, MPa.

    f_ck : number, MPa; 12 to 90

    >>> round(float(mean_tensile_strength(30.0)), 4)
    2.8965
    """
    if f_ck <= 50.0:
        return float(0.30 * f_ck ** (2.0 / 3.0))
    return float(2.12 * np.log1p(mean_strength(f_ck) / 10.0))


@clause(EN, "3.1.8(1)", "f_ctm,fl", "max(1.6 - h/1000; 1) f_ctm", "MPa")
def flexural_tensile_strength(f_ck: float, h: float) -> float:
    """Mean flexural tensile strength of a member `h` mm deep, MPa.

    f_ck : number, MPa; 12 to 90
    h : number, mm; above 0

    >>> round(float(flexural_tensile_strength(30.0, 600.0)), 4)
    2.8965
    """
    return max(1.6 - h / 1000.0, 1.0) * mean_tensile_strength(f_ck)


@clause(EN, "3.1.6(2)", "f_ctd", "alpha_ct 0.7 f_ctm/gamma_C", "MPa")
def design_tensile_strength(f_ck: float, alpha_ct: float, gamma_c: float) -> float:
    """Design axial tensile strength (5 % fractile), MPa.

    f_ck : number, MPa; 12 to 90
    alpha_ct : number; 0.8 to 1
    gamma_c : number (gamma_C); above 0

    >>> round(float(design_tensile_strength(30.0, 1.0, 1.5)), 4)
    1.3517
    """
    return alpha_ct * 0.7 * mean_tensile_strength(f_ck) / gamma_c


@clause(EN, "Table 3.1", "E_cm", "22000 (f_cm/10)^0.3", "MPa", where={"f_cm": "f_ck + 8"})
def secant_modulus(f_ck: float, aggregate: str = "quartzite") -> float:
    """Secant modulus of elasticity, MPa, for the kind of aggregate (3.1.3(2)).

    f_ck : number, MPa; 12 to 90
    aggregate : text

    >>> round(float(secant_modulus(30.0, 'quartzite')), 2)
    32836.57
    """
    return float(22_000.0 * (mean_strength(f_ck) / 10.0) ** 0.3 * _AGGREGATE_E[aggregate])


@clause(EN, "Table 3.1", "eps_c2", (("f_ck <= 50", "0.002"), ("", "0.001 (2.0 + 0.085 (f_ck - 50)^0.53)")))
def strain_at_peak(f_ck: float) -> float:
    """Strain eps_c2 at which the parabola reaches its top (Table 3.1).

    f_ck : number, MPa; 12 to 90

    >>> round(float(strain_at_peak(30.0)), 8)
    0.002
    """
    return 0.002 if f_ck <= 50.0 else 1e-3 * (2.0 + 0.085 * (f_ck - 50.0) ** 0.53)


@clause(EN, "Table 3.1", "eps_cu3", (("f_ck <= 50", "0.0035"), ("", "0.001 (2.6 + 35 ((90 - f_ck)/100)^4)")))
def ultimate_strain(f_ck: float) -> float:
    """Ultimate strain eps_cu2 = eps_cu3 (Table 3.1).

    f_ck : number, MPa; 12 to 90

    >>> round(float(ultimate_strain(30.0)), 8)
    0.0035
    """
    return 0.0035 if f_ck <= 50.0 else 1e-3 * (2.6 + 35.0 * ((90.0 - f_ck) / 100.0) ** 4)


@clause(EN, "Table 3.1", "eps_c3", (("f_ck <= 50", "0.00175"), ("", "0.001 (1.75 + 0.55 (f_ck - 50)/40)")))
def bilinear_strain(f_ck: float) -> float:
    """Strain at the corner of the bilinear diagram.

    f_ck : number, MPa; 12 to 90

    >>> round(float(bilinear_strain(70.0)), 6)
    0.002025
    """
    return 0.00175 if f_ck <= 50.0 else 0.001 * (1.75 + 0.55 * (f_ck - 50.0) / 40.0)


@clause(EN, "Table 3.1", "n", (("f_ck <= 50", "2.0"), ("", "1.4 + 23.4 ((90 - f_ck)/100)^4")))
def parabola_exponent(f_ck: float) -> float:
    """Exponent n of the parabola-rectangle diagram (Table 3.1).

    f_ck : number, MPa; 12 to 90

    >>> round(float(parabola_exponent(30.0)), 4)
    2.0
    """
    return 2.0 if f_ck <= 50.0 else 1.4 + 23.4 * ((90.0 - f_ck) / 100.0) ** 4


@clause(EN, "3.1.7(3)", "lambda", (("f_ck <= 50", "0.8"), ("", "0.8 - (f_ck - 50)/400")))
def block_depth_factor(f_ck: float) -> float:
    """Depth of the rectangular stress block over the neutral axis depth.

    f_ck : number, MPa; 12 to 90

    >>> round(float(block_depth_factor(30.0)), 4)
    0.8
    """
    return 0.8 if f_ck <= 50.0 else 0.8 - (f_ck - 50.0) / 400.0


@clause(EN, "3.1.7(3)", "eta", (("f_ck <= 50", "1.0"), ("", "1.0 - (f_ck - 50)/200")))
def block_stress_factor(f_ck: float) -> float:
    """Stress of the rectangular block over f_cd.

    f_ck : number, MPa; 12 to 90

    >>> round(float(block_stress_factor(30.0)), 4)
    1.0
    """
    return 1.0 if f_ck <= 50.0 else 1.0 - (f_ck - 50.0) / 200.0


NARROWING = 0.9  # 3.1.7(3): eta f_cd where the width decreases towards the compressed edge


@clause(EN, "3.1.6(1)", "f_cd", "alpha_cc f_ck/gamma_C", "MPa")
def design_strength(f_ck: float, alpha_cc: float, gamma_c: float) -> float:
    """Design compressive strength, MPa.

    f_ck : number, MPa; 12 to 90
    alpha_cc : number; 0.8 to 1
    gamma_c : number (gamma_C); above 0

    >>> round(float(design_strength(30.0, 1.0, 1.5)), 2)
    20.0
    """
    return alpha_cc * f_ck / gamma_c


@clause(EN, "3.2.7(2)", "f_yd", "f_yk/gamma_S", "MPa")
def design_yield(f_yk: float, gamma_s: float) -> float:
    """Design yield strength of reinforcement, MPa.

    f_yk : number, MPa; 400 to 600
    gamma_s : number (gamma_S); 1 to 1.5

    >>> round(float(design_yield(500.0, 1.15)), 2)
    434.78
    """
    return f_yk / gamma_s


@clause(
    EN,
    "Table 3.1",
    "eps_c1",
    "min(0.7 f_cm^0.31; 2.8)/1000",
    names={"f_ck": ("f_ck", "MPa")},
    where={"f_cm": "f_ck + 8"},
)
def strain_at_mean_peak(f_ck: float) -> float:
    """Strain at the greatest stress of the diagram for analysis.

    f_ck : number, MPa; 12 to 90

    >>> round(float(strain_at_mean_peak(30.0)), 6)
    0.002162
    """
    return float(min(0.7 * mean_strength(f_ck) ** 0.31, 2.8)) / 1000.0


@clause(
    EN, "Table 3.1", "eps_cu1", (("f_ck <= 50", "0.0035"), ("", "0.001 (2.8 + 27 ((98 - f_ck - 8)/100)^4)"))
)
def ultimate_mean_strain(f_ck: float) -> float:
    """Ultimate strain of the diagram for analysis.

    f_ck : number, MPa; 12 to 90

    >>> ultimate_mean_strain(50.0), round(float(ultimate_mean_strain(70.0)), 6)
    (0.0035, 0.002843)
    """
    return 0.0035 if f_ck <= 50.0 else 0.001 * (2.8 + 27.0 * ((98.0 - mean_strength(f_ck)) / 100.0) ** 4)


@clause(
    EN, "3.2.7(2)(a), Annex C", "sigma_ud", ("f_yd (1 + (k - 1) (0.9 eps_uk - f_yd/E_s)/(eps_uk - "
        "f_yd/E_s))"), "MPa",
    names={"f_yd": ("f_yd", "MPa"), "k": ("k", ""), "eps_uk": ("eps_uk", ""), "e_s": ("E_s", "MPa")},
)  # fmt: skip
def inclined_stress(f_yd: float, k: float, eps_uk: float, e_s: float = 200_000.0) -> float:
    """Stress of the inclined branch at its limit of strain, 0.9 eps_uk, MPa; k and eps_uk of the class by
    Table C.1.

    f_yd : number, MPa; 200 to 600
    k : number; 1.05 to 1.35
    eps_uk : number; 0.025 to 0.1
    e_s : number, MPa; 190000 to 210000

    >>> round(inclined_stress(500.0 / 1.15, 1.08, 0.05), 4)
    465.9289
    """
    eps_y = f_yd / e_s
    return f_yd * (1.0 + (k - 1.0) * (0.9 * eps_uk - eps_y) / (eps_uk - eps_y))


@clause(EN, "3.1.2(6)", "beta_cc", "exp(s (1 - (28/t)^0.5)): s 0.38, 0.25, 0.20 of cements S, N, R")
def strength_growth(t: float, cement: str = "N") -> float:
    """beta_cc(t) (3.1.2(6)).

    t : number, days; 1 or more
    cement : text

    >>> round(float(strength_growth(10000.0, 'N')), 4)
    1.2672
    """
    return float(np.exp(_CEMENT_S[cement] * (1.0 - np.sqrt(28.0 / t))))


@clause(EN, "3.1.2(9)", "f_ctm,t", (("t < 28", "beta_cc f_ctm"), ("", "beta_cc^(2/3) f_ctm")), "MPa")
def tensile_strength_at(f_ck: float, t: float, cement: str = "N") -> float:
    """f_ctm(t) (3.1.2(9)), MPa: exponent 1 before 28 days, 2/3 after.

    f_ck : number, MPa; 12 to 90
    t : number, days; 1 or more
    cement : text

    >>> round(float(tensile_strength_at(30.0, 10000.0, 'N')), 4)
    3.3917
    """
    return float(strength_growth(t, cement) ** (1.0 if t < 28.0 else 2.0 / 3.0) * mean_tensile_strength(f_ck))


@clause(EN, "3.1.3(3)", "E_cm,t", "beta_cc^0.3 E_cm", "MPa")
def modulus_at(f_ck: float, t: float, cement: str = "N") -> float:
    """E_cm(t) (3.1.3(3)), MPa.

    f_ck : number, MPa; 12 to 90
    t : number, days; 1 or more
    cement : text

    >>> round(float(modulus_at(30.0, 10000.0, 'N')), 2)
    35253.83
    """
    return float(strength_growth(t, cement) ** 0.3 * secant_modulus(f_ck))


@clause(
    EN, "B.1(2)", "t_0,adj", "max(t_0 (9/(2 + t_0^1.2) + 1)^alpha; 0.5): alpha -1, 0, 1 of cements S, N, R"
)
def adjusted_loading_age(t_0: float, cement: str = "N") -> float:
    """Age at loading adjusted for the cement (B.9), days, at least half a day.

    t_0 : number, days; 1 or more
    cement : text

    >>> round(float(adjusted_loading_age(28.0, 'N')), 2)
    28.0
    """
    return float(max(t_0 * (9.0 / (2.0 + t_0**1.2) + 1.0) ** _CEMENT_AGE[cement], 0.5))


@clause(
    EN, "B.1", "phi_c", "phi_RH 16.8/sqrt(f_cm) beta_t0 beta_c",
    where={
        "f_cm": "f_ck + 8",
        "phi_RH": (
            ("f_cm <= 35", "1 + (1 - RH/100)/(0.1 cbrt(h_0))"),
            ("", "(1 + (1 - RH/100)/(0.1 cbrt(h_0)) (35/f_cm)^0.7) (35/f_cm)^0.2"),
        ),
    },
)  # fmt: skip
def creep_coefficient(
    f_ck: float, humidity: float, h_0: Floats, t_0: float, t: float = float("inf"), cement: str = "N"
) -> Array:
    """Creep coefficient at age `t` of concrete loaded at age `t_0` (days).

    `humidity` in percent, `h_0` notional size 2 A_c / u in mm (array or number).

    f_ck : number, MPa; 12 to 90
    humidity : number (RH); 20 to 100
    h_0 : number or array, mm; above 0
    t_0 : number, days; 1 or more
    t : number, days; 1 or more
    cement : text

    >>> round(float(creep_coefficient(30.0, 50.0, 300.0, 28.0, 10000.0, 'N')), 4)
    2.1884
    """
    h_0 = np.asarray(h_0, dtype=float)
    f_cm = mean_strength(f_ck)
    alpha_1, alpha_2, alpha_3 = ((35.0 / f_cm) ** p if f_cm > 35.0 else 1.0 for p in (0.7, 0.2, 0.5))
    phi_rh = (1.0 + (1.0 - humidity / 100.0) / (0.1 * np.cbrt(h_0)) * alpha_1) * alpha_2
    age = adjusted_loading_age(t_0, cement)
    beta_h = np.minimum(1.5 * (1.0 + (0.012 * humidity) ** 18) * h_0 + 250.0 * alpha_3, 1500.0 * alpha_3)
    growth = (
        np.ones_like(h_0)
        if np.isinf(t)
        else np.asarray((max(t - t_0, 0.0) / (beta_h + max(t - t_0, 0.0))) ** 0.3)
    )
    return np.asarray(phi_rh * 16.8 / np.sqrt(f_cm) / (0.1 + age**0.20) * growth)


PROPORTIONAL = 0.45  # 3.1.4(4): of f_ck(t_0), up to which creep is in proportion to stress


@clause(
    EN, "3.1.4(4)", "phi_nl", (("k_sigma > 0.45", "phi exp(1.5 (k_sigma - 0.45))"), ("", "phi")),
    names={**NAMES, "phi": ("phi", ""), "stress_ratio": ("k_sigma", "")},
)  # fmt: skip
def nonlinear_creep(phi: Floats, stress_ratio: Floats) -> Array:
    """Creep coefficient under stress above 0.45 f_ck(t_0) (3.7); `stress_ratio` = stress over f_ck(t_0).

    phi : number or array, mm; 6 to 40
    stress_ratio : number or array (k_sigma); 0 to 1

    >>> round(float(nonlinear_creep(2.0, 0.5)), 4)
    2.1558
    """
    return np.asarray(
        np.asarray(phi) * np.exp(1.5 * np.maximum(np.asarray(stress_ratio, dtype=float) - PROPORTIONAL, 0.0))
    )


@clause(
    EN,
    "B.2(1)",
    "eps_cd,0",
    "0.85 (220 + 110 alpha_ds1) exp(-alpha_ds2 f_cm/10) 1.55 (1 - (RH/100)^3) in millionths",
)
def drying_shrinkage_nominal(f_ck: float, humidity: float, cement: str = "N") -> float:
    """eps_cd,0 (B.11).

    f_ck : number, MPa; 12 to 90
    humidity : number (RH); 20 to 100
    cement : text

    >>> round(float(drying_shrinkage_nominal(30.0, 50.0, 'N')), 8)
    0.00048224
    """
    a_1, a_2 = _CEMENT_SHRINK[cement]
    beta_rh = 1.55 * (1.0 - (humidity / 100.0) ** 3)
    return float(0.85 * (220.0 + 110.0 * a_1) * np.exp(-a_2 * mean_strength(f_ck) / 10.0) * 1e-6 * beta_rh)


@clause(
    EN, "Table 3.3", "k_h", "1.0, 0.85, 0.75, 0.70 at notional sizes of 100, 200, 300, 500 mm, linear between"
)
def size_coefficient(h_0: Floats) -> Array:
    """k_h of Table 3.3, linear between its values.

    h_0 : number or array, mm; above 0

    >>> round(float(size_coefficient(300.0)), 4)
    0.75
    """
    return np.asarray(np.interp(h_0, [100.0, 200.0, 300.0, 500.0], [1.0, 0.85, 0.75, 0.70]))


@clause(EN, "3.1.4(6)", "eps_ca", "2.5 (f_ck - 10) (1 - exp(-0.2 t^0.5)) in millionths")
def autogenous_shrinkage(f_ck: float, t: float = float("inf")) -> float:
    """eps_ca(t) (3.11)-(3.13).

    f_ck : number, MPa; 12 to 90
    t : number, days; 1 or more

    >>> round(float(autogenous_shrinkage(30.0, 10000.0)), 8)
    5e-05
    """
    return float(2.5 * (f_ck - 10.0) * 1e-6 * (1.0 - np.exp(-0.2 * np.sqrt(t))))


@clause(EN, "3.1.4(6)", "eps_cs", "k_h eps_cd,0 beta_ds + eps_ca: drying and autogenous shrinkage, Annex B.2")
def shrinkage_strain(
    f_ck: float, humidity: float, h_0: Floats, t: float = float("inf"), t_s: float = 7.0, cement: str = "N"
) -> Array:
    """Total shrinkage at age `t` (days), drying from `t_s`.

    f_ck : number, MPa; 12 to 90
    humidity : number (RH); 20 to 100
    h_0 : number or array, mm; above 0
    t : number, days; 1 or more
    t_s : number, days; 1 or more
    cement : text

    >>> round(float(shrinkage_strain(30.0, 50.0, 300.0, 10000.0, 7.0, 'N')), 8)
    0.00040431
    """
    h_0 = np.asarray(h_0, dtype=float)
    drying = max(t - t_s, 0.0)
    growth = np.ones_like(h_0) if np.isinf(t) else drying / (drying + 0.04 * np.sqrt(h_0**3))
    return np.asarray(
        size_coefficient(h_0) * drying_shrinkage_nominal(f_ck, humidity, cement) * growth
        + autogenous_shrinkage(f_ck, t)
    )


# Cylinder/cube pairs of Table 3.1, and the two between them that British practice adds.
_GRADES = {
    f"C{f}/{c}": float(f)
    for f, c in (
        (12, 15), (16, 20), (20, 25), (25, 30), (28, 35), (30, 37), (32, 40), (35, 45), (40, 50),
        (45, 55), (50, 60), (55, 67), (60, 75), (70, 85), (80, 95), (90, 105),
    )
}  # fmt: skip


BRANCHES = {"A": (1.05, 0.025), "B": (1.08, 0.05), "C": (1.15, 0.075)}  # least k and eps_uk, Table C.1
_STEELS = {f"B{f}{c}": Steel(float(f), c, f"B{f}{c}") for f in (400, 450, 500, 550, 600) for c in "ABC"}


@dataclass(frozen=True)
class MaterialsClauses(MaterialsPart):
    """Answers on the materials of section 3."""

    v: Mapping[str, float]

    diagrams = ("block", "parabola", "bilinear")
    grades = ("C20/25", "C25/30", "C30/37", "C35/45", "C40/50", "C45/55", "C50/60")
    steels = ("B500B",)

    def concrete_strength(self, grade: str) -> float:
        if grade in _GRADES:
            return _GRADES[grade]
        raise CodeError(f"'{grade}' is not a valid grade (valid: {', '.join(_GRADES)})")

    def strength_range(self) -> tuple[float, float]:
        return 12.0, 90.0

    def steel(self, grade: str) -> Steel:
        if grade in _STEELS:
            return _STEELS[grade]
        raise CodeError(f"'{grade}' is not a valid steel grade; such as B500A, B500B, B500C")

    def f_cd(self, concrete: Concrete) -> float:
        return design_strength(concrete.strength, self.v["alpha_cc"], self.v["gamma_c"])

    def f_yd(self, steel: Steel) -> float:
        return design_yield(steel.strength, self.v["gamma_s"])

    def concrete_law(self, concrete: Concrete) -> ConcreteLaw:
        if concrete.diagram == "parabola":
            return self.parabola_law(concrete)
        f_ck = concrete.strength
        even = bilinear_strain(f_ck)
        if concrete.diagram == "bilinear":

            def curve(strain: Array) -> Array:
                return np.minimum(strain / even, 1.0)

            law = ConcreteLaw(
                self.f_cd(concrete), ultimate_strain(f_ck), block_depth_factor(f_ck), curve, kinks=(even,)
            )
            return replace(law, uniform_strain=even, degree=1)
        stress = block_stress_factor(f_ck) * self.f_cd(concrete)
        return ConcreteLaw(stress, ultimate_strain(f_ck), block_depth_factor(f_ck), uniform_strain=even)

    def narrowing_factor(self, concrete: Concrete) -> float:
        """3.1.7(3), of the rectangular block."""
        return NARROWING if concrete.diagram == "block" else 1.0

    def parabola_law(self, concrete: Concrete) -> ConcreteLaw:
        """Parabola-rectangle diagram (3.1.7(1)): the independent path beside the block."""
        f_ck = concrete.strength
        peak, n = strain_at_peak(f_ck), parabola_exponent(f_ck)

        def curve(strain: Array) -> Array:
            return 1.0 - (1.0 - np.minimum(strain, peak) / peak) ** n

        # steel is proportioned with the block that stands for the diagram; verification integrates the
        # diagram itself
        law = ConcreteLaw(
            self.f_cd(concrete), ultimate_strain(f_ck), block_depth_factor(f_ck), curve, kinks=(peak,)
        )
        return replace(law, uniform_strain=peak, degree=2 if n == 2.0 else None)

    def mean_law(self, concrete: Concrete) -> ConcreteLaw:
        """For stiffness and structural analysis (3.1.5): (3.14) with the mean strength."""
        f_ck = concrete.strength
        f_cm, peak, last = mean_strength(f_ck), strain_at_mean_peak(f_ck), ultimate_mean_strain(f_ck)
        k = 1.05 * secant_modulus(f_ck) * peak / f_cm

        def curve(strain: Array) -> Array:
            eta = np.minimum(strain, last) / peak
            return np.asarray((k * eta - eta**2) / (1.0 + (k - 2.0) * eta))

        return ConcreteLaw(f_cm, last, block_depth_factor(f_ck), curve)

    def steel_law(self, steel: Steel) -> SteelLaw:
        f_yd = self.f_yd(steel)
        if steel.branch != "inclined":
            return SteelLaw(f_yd, E_S)
        k, eps_uk = BRANCHES[steel.ductility]
        limit = 0.9 * eps_uk
        return SteelLaw(
            f_yd, E_S, ((0.0, f_yd / E_S, limit), (0.0, f_yd, inclined_stress(f_yd, k, eps_uk, E_S))), limit
        )

    def modulus(self, concrete: Concrete) -> float:
        return secant_modulus(concrete.strength)
