"""EN 1992-1-1 section 8: bond, anchorage, laps, spacing, mandrels. N, mm, MPa."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Steel
from upright_bramble.codes.en1992 import materials
from upright_bramble.codes.en1992.detailing import DetailingClauses
from upright_bramble.codes.en1992.materials import MaterialsClauses
from upright_bramble.codes.en1992.symbols import EN, NAMES, clause
from upright_bramble.codes.parts import Around, BondPart
from upright_bramble.section.arrays import Array, Floats


@clause(
    EN,
    "8.4.2(2)",
    "f_bd",
    "2.25 eta_1 eta_2 f_ctd",
    "MPa",
    where={
        "eta_1": (("good >= 1", "1.0"), ("", "0.7")),
        "eta_2": (("phi > 32", "(132 - phi)/100"), ("", "1.0")),
    },
)
def bond_strength(f_ctd: float, phi: Floats, good: bool | np.ndarray) -> Array:
    """Design bond strength of ribbed bars, MPa; `f_ctd` no higher than that of C60.

    f_ctd : number, MPa; 0.5 to 4
    phi : number or array, mm; 6 to 40
    good : number or array; one of 0, 1

    >>> round(float(bond_strength(1.35, 20.0, True)), 4)
    3.0375
    """
    eta_1 = np.where(good, 1.0, 0.7)
    eta_2 = np.where(np.asarray(phi) > 32.0, (132.0 - np.asarray(phi)) / 100.0, 1.0)
    return np.asarray(2.25 * eta_1 * eta_2 * f_ctd)


@clause(
    EN,
    "8.4.2(2)",
    "good",
    (("h <= 600 and height <= 250", "1"), ("h > 600 and height <= h - 300", "1"), ("", "0")),
)
def good_bond(height: Floats, h: Floats) -> np.ndarray:
    """Bond condition (Figure 8.2) of a horizontal bar `height` above the bottom of a beam `h` deep (mm).

    height : number or array, mm; 0 or more
    h : number or array, mm; above 0

    >>> bool(good_bond(30.0, 600.0))
    True
    """
    height, h = np.asarray(height, dtype=float), np.asarray(h, dtype=float)
    return np.where(h <= 600.0, height <= 250.0, height <= h - 300.0)


@clause(EN, "8.4.3(2)", "l_b,rqd", "phi/4 sigma_sd/f_bd", "mm")
def basic_anchorage(phi: Floats, sigma_sd: Floats, f_bd: Floats) -> Array:
    """Basic required anchorage length, mm.

    phi : number or array, mm; 6 to 40
    sigma_sd : number or array, MPa; 0 or more
    f_bd : number or array, MPa; 0.5 to 12

    >>> round(float(basic_anchorage(20.0, 435.0, 3.0)), 2)
    725.0
    """
    return np.asarray(np.asarray(phi) / 4.0 * sigma_sd / f_bd)


@clause(
    EN,
    "8.4.4(1)",
    "l_bd",
    "max(alpha_1 max(alpha_2 alpha_3 alpha_5; 0.7) l_b,rqd; 0.3 l_b,rqd; 10 phi; 100)",
    "mm",
)
def anchorage_length(
    phi: Floats, l_b_rqd: Floats, a1: Floats = 1.0, a2: Floats = 1.0, a3: Floats = 1.0, a5: Floats = 1.0
) -> Array:
    """Design anchorage length of a bar in tension, mm; alpha_2 alpha_3 alpha_5 is not taken below 0.7.

    phi : number or array, mm; 6 to 40
    l_b_rqd : number or array, mm (l_b,rqd); 0 or more
    a1 : number or array (alpha_1); 0.7 to 1
    a2 : number or array (alpha_2); 0.7 to 1
    a3 : number or array (alpha_3); 0.7 to 1
    a5 : number or array (alpha_5); 0.7 to 1

    >>> round(float(anchorage_length(20.0, 1100.0, 1.0, 1.0, 1.0, 1.0)), 2)
    1100.0
    """
    minimum = np.maximum(np.maximum(0.3 * np.asarray(l_b_rqd), 10.0 * np.asarray(phi)), 100.0)
    return np.maximum(np.asarray(a1) * np.maximum(np.asarray(a2) * a3 * a5, 0.7) * l_b_rqd, minimum)


@clause(EN, "Table 8.2", "alpha_2", "min(max(1 - 0.15 (c_d - phi)/phi; 0.7); 1)")
def cover_factor(phi: Floats, c_d: Floats) -> Array:
    """alpha_2 of straight bars in tension; `c_d` the least of half the clear distance and the covers (Figure
    8.3).

    phi : number or array, mm; 6 to 40
    c_d : number or array, mm; 0 or more

    >>> round(float(cover_factor(16.0, 32.0)), 4)
    0.85
    """
    return np.clip(1.0 - 0.15 * (np.asarray(c_d, dtype=float) - phi) / phi, 0.7, 1.0)


@clause(EN, "Table 8.2", "alpha_2", "min(max(1 - 0.15 (c_d - 3 phi)/phi; 0.7); 1)")
def bent_cover_factor(phi: Floats, c_d: Floats) -> Array:
    """alpha_2 of bent bars in tension; `c_d` the lesser of half the clear distance and the side cover (Figure
    8.3).

    phi : number or array, mm; 6 to 40
    c_d : number or array, mm; 0 or more

    >>> round(float(bent_cover_factor(10.0, 35.0)), 4)
    0.925
    """
    return np.clip(1.0 - 0.15 * (np.asarray(c_d, dtype=float) - 3.0 * np.asarray(phi)) / phi, 0.7, 1.0)


@clause(EN, "Table 8.2", "alpha_1", (("c_d > 3 phi", "0.7"), ("", "1.0")))
def bend_factor(phi: Floats, c_d: Floats) -> Array:
    """alpha_1 of bent bars in tension.

    phi : number or array, mm; 6 to 40
    c_d : number or array, mm; 0 or more

    >>> round(float(bend_factor(10.0, 35.0)), 4)
    0.7
    """
    return np.where(np.asarray(c_d, dtype=float) > 3.0 * np.asarray(phi), 0.7, 1.0)


@clause(
    EN,
    "Figure 8.3",
    "c_d",
    "min(a/2; c_1; c)",
    "mm",
    names={**NAMES, "beside": ("a", "mm"), "sides": ("c_1", "mm"), "cover": ("c", "mm")},
)
def cover_for_bond(beside: Floats, sides: Floats, cover: Floats) -> Array:
    """Of straight bars, mm.

    beside : number or array, mm (a); 0 or more
    sides : number or array, mm (c_1); 0 or more
    cover : number or array, mm (c); 0 or more

    >>> float(cover_for_bond(60.0, 38.0, 38.0))
    30.0
    """
    return np.minimum(np.minimum(0.5 * np.asarray(beside, dtype=float), sides), cover)


@clause(
    EN,
    "Figure 8.3",
    "c_d",
    "min(a/2; c_1)",
    "mm",
    names={**NAMES, "beside": ("a", "mm"), "sides": ("c_1", "mm")},
)
def cover_for_bends(beside: Floats, sides: Floats) -> Array:
    """Of bent bars, mm.

    beside : number or array, mm (a); 0 or more
    sides : number or array, mm (c_1); 0 or more

    >>> float(cover_for_bends(60.0, 38.0))
    30.0
    """
    return np.minimum(0.5 * np.asarray(beside, dtype=float), sides)


@clause(
    EN,
    "8.7.3(1)",
    "l_0",
    "max(max(alpha_2 alpha_3; 0.7) alpha_6 l_b,rqd; 0.3 alpha_6 l_b,rqd; 15 phi; 200)",
    "mm",
)
def lap_length(phi: Floats, l_b_rqd: Floats, a6: float, a2: Floats = 1.0, a3: Floats = 1.0) -> Array:
    """Lap length of bars in tension, mm; `a6` from `lap_share_factor`.

    phi : number or array, mm; 6 to 40
    l_b_rqd : number or array, mm (l_b,rqd); 0 or more
    a6 : number (alpha_6); 1 to 1.5
    a2 : number or array (alpha_2); 0.7 to 1
    a3 : number or array (alpha_3); 0.7 to 1

    >>> round(float(lap_length(20.0, 1100.0, 1.0, 1.0)), 2)
    1100.0
    """
    minimum = np.maximum(np.maximum(0.3 * a6 * np.asarray(l_b_rqd), 15.0 * np.asarray(phi)), 200.0)
    factor = np.maximum(np.asarray(a2) * a3, 0.7)
    return np.asarray(np.maximum(factor * a6 * np.asarray(l_b_rqd), minimum))


@clause(EN, "8.7.3(1)", "alpha_6", "min(max(sqrt(percent/25); 1); 1.5)")
def lap_share_factor(percent: float) -> float:
    """alpha_6 for the share of bars lapped at one place (8.7.3(1)), percent.

    percent : number; 0 to 100

    >>> round(float(lap_share_factor(50.0)), 4)
    1.4142
    """
    return float(np.clip(np.sqrt(percent / 25.0), 1.0, 1.5))


@clause(
    EN,
    "Table 8.2",
    "alpha_3",
    "min(max(1 - K (A_st - A_st,min)/A_s; 0.7); 1)",
    names={
        **NAMES,
        "sum_ast": ("A_st", "mm2"),
        "sum_ast_min": ("A_st,min", "mm2"),
        "area": ("A_s", "mm2"),
        "k": ("K", ""),
    },
)
def confinement_factor(sum_ast: Floats, sum_ast_min: Floats, area: Floats, k: Floats) -> Array:
    """alpha_3 (Table 8.2): of stirrups across an anchored bar; k is 0.1 in the corner of a stirrup, 0.05
    along its legs (Figure 8.4).

    sum_ast : number or array, mm2 (A_st); 0 or more
    sum_ast_min : number or array, mm2 (A_st,min); 0 or more
    area : number or array, mm2 (A_s); above 0
    k : number or array (K); 0 to 0.1

    >>> round(float(confinement_factor(300.0, 50.0, 250000.0, 0.4)), 4)
    0.9996
    """
    extra = (np.asarray(sum_ast, dtype=float) - sum_ast_min) / np.asarray(area)
    return np.asarray(np.clip(1.0 - np.asarray(k) * extra, 0.7, 1.0))


@clause(EN, "Table 8.2", "alpha_5", "min(max(1 - 0.04 p; 0.7); 1)", names={**NAMES, "p": ("p", "MPa")})
def pressure_factor(p: Floats) -> Array:
    """alpha_5 (Table 8.2) of pressure across straight bars along l_bd at the ultimate limit state.

    p : number or array, MPa; 0 or more

    >>> round(float(pressure_factor(2.5)), 4)
    0.9
    """
    return np.clip(1.0 - 0.04 * np.asarray(p, dtype=float), 0.7, 1.0)


LAP_CROSS_SPACING = 150.0  # Figure 8.9(a): of the bars across a lap, in its outer thirds, mm


@clause(EN, "8.7.2(3)", "a", "max(2 phi; 20)", "mm")
def lap_clear_distance(phi: Floats) -> Array:
    """Clear distance between adjacent laps, mm.

    phi : number or array, mm; 6 to 40

    >>> round(float(lap_clear_distance(20.0)), 2)
    40.0
    """
    return np.maximum(2.0 * np.asarray(phi, dtype=float), 20.0)


@dataclass(frozen=True)
class BondClauses(BondPart):
    """Answers on anchorage and laps (8.4 to 8.7)."""

    v: Mapping[str, float]
    materials: MaterialsClauses
    detailing: DetailingClauses

    def basic_anchorage(
        self,
        concrete: Concrete,
        steel: Steel,
        phi: Floats,
        height: Floats,
        h: Floats,
        stress: float = 1.0,
    ) -> Array:
        """l_b,rqd at this share of yield."""
        f_ctd = materials.design_tensile_strength(
            min(concrete.strength, 60.0), self.v["alpha_ct"], self.v["gamma_c"]
        )
        f_bd = bond_strength(f_ctd, phi, good_bond(height, h))
        return basic_anchorage(phi, stress * self.materials.f_yd(steel), f_bd)

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
        """l_bd for full yield (8.4.4) with alpha_1 and alpha_2 of Table 8.2, and alpha_3 and alpha_5 of
        straight bars where stirrups and a support's pressure are counted on; alpha_4 is taken as 1.0, which
        is safe."""
        basic = self.basic_anchorage(concrete, steel, phi, height, h)
        if around is None:
            return anchorage_length(phi, basic)
        if bent:
            c_d = cover_for_bends(around.beside, around.sides)
            return anchorage_length(phi, basic, bend_factor(phi, c_d), bent_cover_factor(phi, c_d))
        a3 = self._confined(phi, basic, around, 0.25)
        c_d = cover_for_bond(around.beside, around.sides, around.cover)
        a5 = pressure_factor(around.pressure) if np.any(around.pressure) else 1.0
        return anchorage_length(phi, basic, 1.0, cover_factor(phi, c_d), a3, a5)

    def _confined(self, phi: Floats, basic: Floats, around: Around, least: float) -> Floats:
        """alpha_3 by the stirrups along the shortest length that the factors leave, beyond those that count
        in any case (`least` areas of a bar)."""
        held = around.crossing
        if held is None:
            return 1.0
        area = math.pi * np.asarray(phi, dtype=float) ** 2 / 4.0
        k = np.where(np.asarray(held.number) <= 2.0, 0.1, 0.05)
        number = np.floor(0.7 * np.asarray(basic) / np.asarray(held.gap))
        return confinement_factor(number * held.leg, least * area, area, k)

    def minimum_anchorage(self, anchorage: Floats, phi: Floats, within: float = 0.0) -> Array:
        """l_b,min (8.6) of bars in tension, however little they are stressed; `anchorage` is l_b,rqd at full
        yield."""
        return np.maximum(np.maximum(0.3 * np.asarray(anchorage), 10.0 * np.asarray(phi)), 100.0)

    def lap_stirrups(self, phi: float, share: float) -> float:
        """8.7.4.1(3): the area of one lapped bar, from 20 mm on and where more than a quarter is lapped."""
        return math.pi * phi**2 / 4.0 if phi >= 20.0 and share > 0.25 else 0.0

    def lap_stirrup_spacing(self, phi: float, share: float) -> float:
        """8.7.4.1(3) with Figure 8.9."""
        return LAP_CROSS_SPACING if self.lap_stirrups(phi, share) > 0.0 else math.inf

    def maximum_lap_share(self, rows: int, tension: bool) -> float:
        """8.7.2(4): all in one row; half of bars in several rows; all in compression."""
        return 0.5 if rows > 1 and tension else 1.0

    def lap_clear_distance(self, phi: Floats, aggregate: float) -> Array:
        """8.7.2(3)."""
        return np.asarray(np.maximum(lap_clear_distance(phi), self.detailing.clear_spacing(phi, aggregate)))

    def lap(
        self,
        concrete: Concrete,
        steel: Steel,
        phi: Floats,
        height: Floats,
        h: Floats,
        share: float = 1.0,
        around: Around | None = None,
        stress: float = 1.0,
    ) -> Array:
        """l_0 with alpha_2 for the concrete around, alpha_6 for the bars lapped at one place (Table 8.3), and
        alpha_3 where stirrups are counted on: beyond a bar's area of them (8.7.3(1))."""
        a6 = lap_share_factor(100.0 * share)
        basic = self.basic_anchorage(concrete, steel, phi, height, h, stress)
        if around is None:
            return lap_length(phi, basic, a6)
        c_d = cover_for_bond(around.beside, around.sides, around.cover)
        return lap_length(phi, basic, a6, cover_factor(phi, c_d), self._confined(phi, basic, around, stress))
