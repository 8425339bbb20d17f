"""ACI 318-19 25.4, 25.5: development, hooks, splices. N, mm, MPa."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Steel
from upright_bramble.codes.aci318.detailing import DetailingClauses
from upright_bramble.codes.aci318.expressions import Expressions
from upright_bramble.codes.aci318.symbols import ACI, NAMES, clause
from upright_bramble.codes.parts import Around, BondPart
from upright_bramble.section.arrays import Array, Floats


@clause(
    ACI,
    "25.4.2.5",
    "psi_g",
    (("graded < 1", "1.0"), ("f_y <= {g0} 1.001", "1.0"), ("f_y <= {g1} 1.001", "1.15"), ("", "1.3")),
    names={**NAMES, "graded": ("graded", "")},
)
def grade_factor(f_y: float, x: Expressions, graded: bool = True) -> float:
    """Factor for the grade of the bars; an edition that is not `graded` has none.

    f_y : number, MPa; 250 to 700
    x : the set of expressions
    graded : true or false

    >>> from upright_bramble.codes.aci318.expressions import METRIC
    >>> round(float(grade_factor(420.0, METRIC)), 4)
    1.0
    """
    return 1.0 if not graded or f_y <= x.grades[0] * 1.001 else 1.15 if f_y <= x.grades[1] * 1.001 else 1.3


@clause(
    ACI,
    "25.4.2.5",
    "psi_t",
    (("below > {twelve}", "1.3"), ("", "1.0")),
    names={"fresh_below": ("below", "mm")},
)
def casting_factor(fresh_below: Floats, x: Expressions) -> Array:
    """psi_t (25.4.2.5): 1.3 with more than 12 in (300 mm) of fresh concrete below the bar, mm.

    fresh_below : number or array, mm (below); 0 or more
    x : the set of expressions

    >>> from upright_bramble.codes.aci318.expressions import METRIC
    >>> round(float(casting_factor(100.0, METRIC)), 4)
    1.0
    """
    return np.where(np.asarray(fresh_below) > x.twelve + 1e-9, 1.3, 1.0)


@clause(
    ACI,
    "25.4.2.3",
    "l_d",
    "max(f_y min(psi_t psi_e; 1.7) psi_g/(n min(sqrt(f'c); {rm})) d_b; {twelve})",
    "mm",
    where={
        "n": (
            ("good >= 1 and d_b <= {small}", "{b0}"),
            ("good >= 1 and d_b > {small}", "{b1}"),
            ("d_b <= {small}", "{b2}"),
            ("", "{b3}"),
        )
    },
)
def development_length(
    d_b: Floats,
    f_c: float,
    f_y: float,
    psi_t: Floats,
    x: Expressions,
    good: Floats = True,
    psi_e: float = 1.0,
    graded: bool = True,
) -> Array:
    """Development of bars in tension, mm, at least 12 in (300 mm).

    `good`: clear spacing and cover of d_b with at least minimum stirrups, or spacing of 2 d_b; `graded`:
    psi_g counts (not in 2014).

    d_b : number or array, mm; 9.5 to 57.3
    f_c : number, MPa (f'c); 17 to 100
    f_y : number, MPa; 250 to 700
    psi_t : number or array; 1 to 1.3
    x : the set of expressions
    good : number or array; one of 0, 1
    psi_e : number; 1 to 1.5
    graded : true or false

    >>> from upright_bramble.codes.aci318.expressions import METRIC
    >>> round(float(development_length(19.1, 28.0, 420.0, 1.0, METRIC, True, 1.0)), 2)
    721.91
    """
    d_b = np.asarray(d_b, dtype=float)
    small = d_b <= 19.2  # No. 6 (No. 19)
    number = np.where(
        np.asarray(good), np.where(small, x.bond[0], x.bond[1]), np.where(small, x.bond[2], x.bond[3])
    )
    factors = np.minimum(np.asarray(psi_t) * psi_e, 1.7) * grade_factor(f_y, x, graded)
    return np.asarray(np.maximum(f_y * factors / (number * x.capped_root(f_c)) * d_b, x.twelve))


@clause(
    ACI,
    "25.4.2.4",
    "l_d",
    "max(f_y min(psi_t psi_e; 1.7) psi_s psi_g/({b4} min(sqrt(f'c); {rm}) min((c_b + K_tr)/d_b; 2.5)) "
    "d_b; {twelve})",
    "mm",
    where={"psi_s": (("d_b <= {small}", "0.8"), ("", "1.0"))},
)
def development_length_by_confinement(
    d_b: Floats,
    f_c: float,
    f_y: float,
    psi_t: Floats,
    c_b: Floats,
    k_tr: Floats,
    x: Expressions,
    psi_e: float = 1.0,
    graded: bool = True,
) -> Array:
    """Development of bars in tension by cover, spacing and stirrups, mm; (c_b + K_tr)/d_b no more than 2.5.

    d_b : number or array, mm; 9.5 to 57.3
    f_c : number, MPa (f'c); 17 to 100
    f_y : number, MPa; 250 to 700
    psi_t : number or array; 1 to 1.3
    c_b : number or array, mm; above 0
    k_tr : number or array, mm (K_tr); 0 or more
    x : the set of expressions
    psi_e : number; 1 to 1.5
    graded : true or false; whether psi_g counts

    >>> from upright_bramble.codes.aci318.expressions import METRIC
    >>> round(float(development_length_by_confinement(19.1, 28.0, 420.0, 1.0, 50.0, 20.0, METRIC, 1.0)), 2)
    441.02
    """
    d_b = np.asarray(d_b, dtype=float)
    held = np.minimum((np.asarray(c_b) + k_tr) / d_b, 2.5)
    psi_s = np.where(d_b <= 19.2, 0.8, 1.0)
    factors = np.minimum(np.asarray(psi_t) * psi_e, 1.7) * psi_s * grade_factor(f_y, x, graded)
    return np.asarray(np.maximum(f_y * factors / (x.bond[4] * x.capped_root(f_c) * held) * d_b, x.twelve))


@clause(
    ACI,
    "25.4.2.4",
    "c_b",
    "min((s_clear + d_b)/2; c_side + d_b/2; c_face + d_b/2)",
    "mm",
    names={**NAMES, "beside": ("s_clear", "mm"), "sides": ("c_side", "mm"), "cover": ("c_face", "mm")},
)
def splitting_distance(d_b: Floats, beside: Floats, sides: Floats, cover: Floats) -> Array:
    """Half the distance of the bars' centres, or that of a centre to the nearest surface, mm.

    d_b : number or array, mm; 9.5 to 57.3
    beside : number or array, mm (s_clear); 0 or more
    sides : number or array, mm (c_side); 0 or more
    cover : number or array, mm (c_face); 0 or more

    >>> round(float(splitting_distance(19.1, 60.0, 50.0, 50.0)), 2)
    39.55
    """
    d_b = np.asarray(d_b, dtype=float)
    surface = np.minimum(np.asarray(sides, dtype=float), cover) + 0.5 * d_b
    return np.asarray(np.minimum(0.5 * (np.asarray(beside, dtype=float) + d_b), surface))


@clause(ACI, "25.4.2.4", "K_tr", "40 A_tr/(s n)", "mm")
def confinement_index(a_tr: Floats, s: Floats, n: Floats) -> Array:
    """Of stirrups across the plane of splitting, mm.

    a_tr : number or array, mm2 (A_tr); 0 or more
    s : number or array, mm; above 0
    n : number or array; 1 or more

    >>> round(float(confinement_index(300.0, 500000.0, 4.0)), 8)
    0.006
    """
    return np.asarray(40.0 * np.asarray(a_tr) / (np.asarray(s) * n))


@clause(
    ACI,
    "25.4.3.1",
    "l_dh",
    "max(f_y psi_e psi_r psi_o psi_c/({hook} min(sqrt(f'c); {rm})) d_b^1.5; 8 d_b; {six})",
    "mm",
    where={"psi_c": (("f'c < {hf1}", "f'c/{hf0} + 0.6"), ("", "1.0"))},
)
def hook_length(
    d_b: Floats,
    f_c: float,
    f_y: float,
    x: Expressions,
    psi_r: Floats = 1.6,
    psi_o: Floats = 1.25,
    psi_e: float = 1.0,
) -> Array:
    """Development of a standard hook in tension, mm, to its outer face; unconfined unless said otherwise.

    d_b : number or array, mm; 9.5 to 57.3
    f_c : number, MPa (f'c); 17 to 100
    f_y : number, MPa; 250 to 700
    x : the set of expressions
    psi_r : number or array; 0.8 to 1.6
    psi_o : number or array; 1 to 1.25
    psi_e : number; 1 to 1.5

    >>> from upright_bramble.codes.aci318.expressions import METRIC
    >>> round(float(hook_length(19.1, 28.0, 420.0, METRIC, 1.6, 1.25, 1.0)), 2)
    499.31
    """
    d_b = np.asarray(d_b, dtype=float)
    psi_c = f_c / x.confinement[0] + 0.6 if f_c < x.confinement[1] else 1.0
    length = (
        f_y
        * psi_e
        * np.asarray(psi_r)
        * psi_o
        * psi_c
        / (x.hook * x.capped_root(f_c))
        * (d_b / x.length) ** 1.5
        * x.length
    )
    return np.asarray(np.maximum(np.maximum(length, 8.0 * d_b), 0.5 * x.twelve))


@clause(ACI, "25.4.9.2", "l_dc", "max(max(f_y/({c0} min(sqrt(f'c); {rm})); {c1} f_y) d_b; {eight})", "mm")
def compression_development(d_b: Floats, f_c: float, f_y: float, x: Expressions) -> Array:
    """Development of bars in compression, mm.

    d_b : number or array, mm; 9.5 to 57.3
    f_c : number, MPa (f'c); 17 to 100
    f_y : number, MPa; 250 to 700
    x : the set of expressions

    >>> from upright_bramble.codes.aci318.expressions import METRIC
    >>> round(float(compression_development(19.1, 28.0, 420.0, METRIC)), 2)
    363.84
    """
    factor = np.maximum(f_y / (x.compression[0] * x.capped_root(f_c)), x.compression[1] * f_y / x.stress)
    return np.asarray(np.maximum(factor * np.asarray(d_b), x.twelve * 2.0 / 3.0))


@clause(
    ACI,
    "25.5.2.1",
    "l_st",
    "max(class l_d; {twelve})",
    "mm",
    where={"class": (("class_b >= 1", "1.3"), ("", "1.0"))},
)
def splice_length(l_d: Floats, x: Expressions, class_b: bool = True) -> Array:
    """Lap splice of bars in tension, mm.

    l_d : number or array, mm; 0 or more
    x : the set of expressions
    class_b : true or false

    >>> from upright_bramble.codes.aci318.expressions import METRIC
    >>> round(float(splice_length(1600.0, METRIC, True)), 2)
    2080.0
    """
    return np.asarray(np.maximum(np.asarray(l_d) * (1.3 if class_b else 1.0), x.twelve))


@clause(
    ACI,
    "25.4.3.2",
    "psi_r",
    (("d_b <= {eleven} and apart >= 6 d_b", "1.0"), ("", "1.6")),
    names={**NAMES, "apart": ("apart", "mm")},
)
def hook_spacing_factor(d_b: Floats, apart: Floats, x: Expressions) -> Array:
    """Factor for what holds hooked bars: their distance (of centres, mm) alone.

    d_b : number or array, mm; 9.5 to 57.3
    apart : number or array, mm; 0 or more
    x : the set of expressions

    >>> from upright_bramble.codes.aci318.expressions import METRIC
    >>> round(float(hook_spacing_factor(19.1, 1.0, METRIC)), 4)
    1.6
    """
    d_b = np.asarray(d_b, dtype=float)
    return np.where(
        (np.asarray(apart) >= 6.0 * d_b - 1e-6) & (d_b <= (1.5 * 25.4 if x.length > 1.0 else 38.0)), 1.0, 1.6
    )


@clause(
    ACI,
    "25.4.3.2",
    "psi_o",
    "1.0 inside a column's core with 2-1/2 in of side cover, or with 6 d_b of it, else 1.25",
)
def hook_place_factor(d_b: Floats, cover: Floats, core: Floats, x: Expressions) -> Array:
    """Factor for the place of hooked bars; `cover` normal to the plane of the hook, mm, `core`: they end
    inside the core of a column.

    d_b : number or array, mm; 9.5 to 57.3
    cover : number or array, mm; 0 or more
    core : number or array; 0 to 1
    x : the set of expressions

    >>> from upright_bramble.codes.aci318.expressions import METRIC
    >>> round(float(hook_place_factor(19.1, 1.0, 1.0, METRIC)), 4)
    1.25
    """
    d_b, cover = np.asarray(d_b, dtype=float), np.asarray(cover, dtype=float)
    inside = np.asarray(core, dtype=bool) & (cover >= (2.5 * 25.4 if x.length > 1.0 else 65.0) - 1e-6)
    return np.where((d_b < 40.0) & (inside | (cover >= 6.0 * d_b - 1e-6)), 1.0, 1.25)


@clause(
    ACI,
    "25.5.5.1",
    "l_sc",
    "Grade 60: 0.0005 f_y d_b, above: (0.0009 f_y - 24) d_b >= 12 in; a third more below 3000 psi",
    "mm",
)
def compression_splice(d_b: Floats, f_c: float, f_y: float, x: Expressions) -> Array:
    """Lap splice of bars in compression, mm.

    d_b : number or array, mm; 9.5 to 57.3
    f_c : number, MPa (f'c); 17 to 100
    f_y : number, MPa; 250 to 700
    x : the set of expressions

    >>> from upright_bramble.codes.aci318.expressions import METRIC
    >>> round(float(compression_splice(19.1, 28.0, 420.0, METRIC)), 2)
    569.56
    """
    d_b, stress = np.asarray(d_b, dtype=float), f_y / x.stress
    metric = x.length == 1.0
    if f_y <= x.grades[0] * 1.001:
        length = (0.071 if metric else 0.0005) * stress * d_b
    else:
        length = ((0.13 if metric else 0.0009) * stress - 24.0) * d_b
    length = np.maximum(length, x.twelve)
    return np.asarray(
        length * (4.0 / 3.0 if f_c < (21.0 if metric else 3000.0 * x.stress) * (1.0 - 1e-9) else 1.0)
    )


@dataclass(frozen=True)
class BondClauses(BondPart):
    """Answers on development, hooks and splices (25.4, 25.5)."""

    x: Expressions
    detailing: DetailingClauses

    bends_count_by_length = False

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
        """l_d of 25.4.2.3 (clear cover and spacing of d_b are checked, minimum stirrups stand everywhere), or
        that of 25.4.2.4 where it is less, with K_tr where stirrups are counted on."""
        psi_t = casting_factor(np.asarray(height) - 0.5 * np.asarray(phi), self.x)
        simple = development_length(phi, concrete.strength, steel.strength, psi_t, self.x)
        if around is None:
            return simple
        # bars of two rows are as near to each other as their rows
        c_b = splitting_distance(phi, np.minimum(around.beside, around.above), around.sides, around.cover)
        held, k_tr = around.crossing, np.asarray(0.0)
        if held is not None:
            k_tr = confinement_index(held.area, held.gap, held.number)
        return np.asarray(
            np.minimum(
                simple,
                development_length_by_confinement(
                    phi, concrete.strength, steel.strength, psi_t, c_b, k_tr, self.x
                ),
            )
        )

    def hook(
        self,
        concrete: Concrete,
        steel: Steel,
        phi: Floats,
        apart: Floats = 0.0,
        cover: Floats = 0.0,
        core: Floats = False,
    ) -> Array:
        """l_dh (25.4.3.1): psi_r by the distance of the bars, psi_o by side cover and column; ties along
        hooks are not counted on."""
        psi_r, psi_o = hook_spacing_factor(phi, apart, self.x), hook_place_factor(phi, cover, core, self.x)
        return hook_length(phi, concrete.strength, steel.strength, self.x, psi_r, psi_o)

    def lap_permitted(self, phi: float) -> bool:
        """25.5.1.1: not No. 14 and No. 18."""
        return phi < 40.0

    def confinement(
        self, steel: Steel, phi: float, spacing: float, tie_area: float, tie_spacing: float, number: float
    ) -> tuple[float, float]:
        """25.4.2.2: K_tr of at least 0.5 d_b from Grade 80 on, where bars are less than 6 in apart."""
        if steel.strength < self.x.grades[1] * 0.999 or spacing >= self.x.six - 1e-6:
            return 0.0, 0.0
        return 0.5 * phi, float(confinement_index(tie_area, max(tie_spacing, 1e-6), number))

    def confines(self, steel: Steel) -> bool:
        """25.4.2.2: bars of this grade need stirrups that confine them."""
        return steel.strength >= self.x.grades[1] * 0.999

    def confining_spacing(self, steel: Steel, phi: float, tie_area: float, number: float) -> float:
        """25.4.2.2, the other way round."""
        if steel.strength < self.x.grades[1] * 0.999:
            return math.inf
        return 40.0 * tie_area / (0.5 * phi * max(number, 1.0))

    def lap_clear_distance(self, phi: Floats, aggregate: float) -> Array:
        """25.5.1.2: as between bars."""
        return self.detailing.clear_spacing(phi, aggregate)

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
        """Class B, or A where bars have twice the area that is required and at most half of them is lapped
        (25.5.2.1)."""
        class_b = stress > 0.5 or share > 0.5
        return splice_length(self.anchorage(concrete, steel, phi, height, h, around), self.x, class_b)
