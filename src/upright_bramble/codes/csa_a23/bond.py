"""CSA A23.3 12: development, hooks, splices. N, mm, MPa."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Steel
from upright_bramble.codes.csa_a23.detailing import DetailingClauses
from upright_bramble.codes.csa_a23.materials import BARS, ROOT_LIMIT
from upright_bramble.codes.csa_a23.symbols import NAMES, clause
from upright_bramble.codes.parts import Around, BondPart
from upright_bramble.section.arrays import Array, Floats

SMALL = 20.0  # 20M and smaller, mm
LARGEST_LAPPED = 36.0  # 35M


@clause("12.2.4(a)", "k_1", (("below > 300", "1.3"), ("", "1.0")), names={"below": ("below", "mm")})
def casting_factor(below: Floats) -> Array:
    """More than 300 mm of fresh concrete below the bar, mm.

    below : number or array, mm; 0 or more

    >>> round(float(casting_factor(301.0)), 4)
    1.3
    """
    return np.where(np.asarray(below) > 300.0 + 1e-9, 1.3, 1.0)


def coating_factor(epoxy: bool, cover: float = 99.0, spacing: float = 999.0, d_b: float = 1.0) -> float:
    """k_2 (12.2.4(b)) of epoxy-coated bars, with little cover or spacing or not.

    epoxy : true or false
    cover, spacing : numbers, mm; 0 or more
    d_b : number, mm; 11.3 to 56.4

    >>> coating_factor(True, 80.0, 149.0, 25.0)
    1.5
    """
    return 1.0 if not epoxy else 1.5 if cover < 3.0 * d_b or spacing < 6.0 * d_b else 1.2


DENSITY = {"normal": 1.0, "semi-low": 1.2, "low": 1.3}  # 12.2.4(c), k_3


@clause("12.2.4(d)", "k_4", (("d_b <= 20", "0.8"), ("", "1.0")))
def size_factor(d_b: Floats) -> Array:
    """20M and smaller bars develop better.

    d_b : number or array, mm; 11.3 to 56.4

    >>> round(float(size_factor(19.5)), 4)
    0.8
    """
    return np.where(np.asarray(d_b, dtype=float) <= SMALL, 0.8, 1.0)


@clause(
    "12.2.3",
    "l_d",
    "max(k k_1 k_2 k_3 k_4 f_y/min(sqrt(f'c); 8) d_b; 300)",
    "mm",
    where={"k": (("good >= 1", "0.45"), ("", "0.6"))},
)
def development_length(
    d_b: Floats,
    f_c: float,
    f_y: float,
    k_1: Floats = 1.0,
    k_4: Floats = 1.0,
    k_2: float = 1.0,
    k_3: float = 1.0,
    good: Floats = True,
) -> Array:
    """Development of bars in tension, mm; `good`: clear cover of d_b and clear spacing of 1.4 d_b with
    minimum stirrups.

    d_b : number or array, mm; 11.3 to 56.4
    f_c : number, MPa (f'c); 20 to 80
    f_y : number, MPa; 300 to 500
    k_1 : number or array; 1 to 1.3
    k_4 : number or array; 0.8 to 1
    k_2 : number; 1 to 1.5
    k_3 : number; 1 to 1.3
    good : number or array; one of 0, 1

    >>> round(float(development_length(25.2, 30.0, 400.0)), 2)
    828.16
    """
    k = np.where(np.asarray(good, dtype=bool), 0.45, 0.6)
    length = (
        k
        * np.asarray(k_1)
        * k_2
        * k_3
        * np.asarray(k_4)
        * f_y
        / min(math.sqrt(f_c), ROOT_LIMIT)
        * np.asarray(d_b, dtype=float)
    )
    return np.asarray(np.maximum(length, 300.0))


def development_case(
    clear_spacing: float, clear_cover: float, d_b: float, stirrups: bool, slab: bool = False
) -> str:
    """Row of Table 12.1: 'good', 'other', or 'none' where cover or spacing are too small for either.

    clear_spacing, clear_cover : numbers, mm; 0 or more
    d_b : number, mm; 11.3 to 56.4
    stirrups, slab : true or false

    >>> development_case(36.0, 30.0, 25.0, True)
    'good'
    """
    if clear_cover < d_b - 1e-9 or clear_spacing < 1.4 * d_b - 1e-9:
        return "none"
    return "good" if stirrups or (slab and clear_spacing >= 2.0 * d_b) else "other"


@clause(
    "12.2.2", "d_cs", "min(2/3 s_c; c_s)", "mm", names={"centres": ("s_c", "mm"), "surface": ("c_s", "mm")}
)
def splitting_distance(centres: Floats, surface: Floats) -> Array:
    """Two thirds of the distance of the bars' centres, or a centre's distance to the surface, mm.

    centres : number or array, mm (s_c); above 0
    surface : number or array, mm (c_s); 0 or more

    >>> round(float(splitting_distance(66.7, 63.9)), 2)
    44.47
    """
    return np.asarray(np.minimum(2.0 / 3.0 * np.asarray(centres, dtype=float), surface))


@clause(
    "12.2.2",
    "l_d",
    "max(1.15 k_1 k_2 k_3 k_4/min(d_cs + K_tr; 2.5 d_b) f_y/min(sqrt(f'c); 8) A_b; 300)",
    "mm",
)
def development_by_confinement(
    d_b: Floats,
    a_b: Floats,
    f_c: float,
    f_y: float,
    d_cs: Floats,
    k_tr: Floats = 0.0,
    k_1: Floats = 1.0,
    k_4: Floats = 1.0,
    k_2: float = 1.0,
    k_3: float = 1.0,
) -> Array:
    """Development of bars in tension by cover, spacing and stirrups, mm; k_1 k_2 of no more than 1.7.

    d_b : number or array, mm; 11.3 to 56.4
    a_b : number or array, mm2 (A_b); 0 or more
    f_c : number, MPa (f'c); 20 to 80
    f_y : number, MPa; 300 to 500
    d_cs : number or array, mm; above 0
    k_tr : number or array, mm (K_tr); 0 or more
    k_1 : number or array; 1 to 1.3
    k_4 : number or array; 0.8 to 1
    k_2 : number; 1 to 1.5
    k_3 : number; 1 to 1.3

    >>> round(float(development_by_confinement(35.7, 1000.0, 40.0, 400.0, 60.0, 8.0)), 2)
    1069.59
    """
    held = np.minimum(np.asarray(d_cs, dtype=float) + k_tr, 2.5 * np.asarray(d_b, dtype=float))
    factors = np.asarray(k_1) * k_2 * k_3 * np.asarray(k_4)
    return np.asarray(
        np.maximum(1.15 * factors / held * f_y / min(math.sqrt(f_c), ROOT_LIMIT) * np.asarray(a_b), 300.0)
    )


def reduced_development(l_d: float, required: float, provided: float) -> float:
    """12.2.5: less where more steel is provided than required, mm; the program develops bars in full.

    l_d : number, mm; 0 or more
    required : number, mm2; 0 or more
    provided : number, mm2; above 0

    >>> reduced_development(500.0, 500.0, 1000.0)
    300.0
    """
    return max(l_d * min(required / provided, 1.0), 300.0)


@clause("12.3.2", "l_dc", "max(max(0.24/sqrt(f'c); 0.044) f_y d_b; 200)", "mm")
def compression_development(d_b: Floats, f_c: float, f_y: float) -> Array:
    """Development of bars in compression, mm.

    d_b : number or array, mm; 11.3 to 56.4
    f_c : number, MPa (f'c); 20 to 80
    f_y : number, MPa; 300 to 500

    >>> round(float(compression_development(25.2, 40.0, 400.0)), 2)
    443.52
    """
    return np.asarray(np.maximum(max(0.24 / math.sqrt(f_c), 0.044) * f_y * np.asarray(d_b), 200.0))


def compression_development_reduced(
    d_b: float, f_c: float, f_y: float, excess: float = 1.0, confined: bool = False
) -> float:
    """The same with the factors of 12.3.3: steel in excess, spirals and close ties, mm.

    d_b : number, mm; 11.3 to 56.4
    f_c : number, MPa; 20 to 80
    f_y : number, MPa; 300 to 500
    excess : number (required over provided steel); 0 to 1
    confined : true or false

    >>> round(compression_development_reduced(35.7, 30.0, 400.0, 1.0, True), 2)
    471.24
    """
    return max(max(0.24 / math.sqrt(f_c), 0.044) * f_y * d_b * excess * (0.75 if confined else 1.0), 200.0)


def bundle_factor(bars: int) -> float:
    """On the development of bundled bars (12.4).

    bars : number; 1 to 4

    >>> bundle_factor(3)
    1.2
    """
    return {1: 1.0, 2: 1.1, 3: 1.2, 4: 1.33}[bars]


@clause(
    "12.5.3",
    "k_h",
    (("d_b <= 36 and side >= 60 and tail >= 50", "0.7"), ("", "1.0")),
    names={**NAMES, "side": ("side", "mm"), "tail": ("tail", "mm")},
)
def hook_cover_factor(d_b: Floats, side: Floats, tail: Floats) -> Array:
    """Of 35M and smaller hooks with side cover, and cover of the bar beyond a bend of 90 degrees, mm.

    d_b : number or array, mm; 11.3 to 56.4
    side : number or array, mm; 0 or more
    tail : number or array, mm; 0 or more

    >>> round(float(hook_cover_factor(25.2, 60.0, 50.0)), 4)
    0.7
    """
    covered = (np.asarray(side, dtype=float) >= 60.0 - 1e-6) & (np.asarray(tail, dtype=float) >= 50.0 - 1e-6)
    return np.where(covered & (np.asarray(d_b, dtype=float) <= 36.0), 0.7, 1.0)


@clause(
    "12.2.2",
    "K_tr",
    "A_tr f_yt/(10.5 s n)",
    "mm",
    names={
        **NAMES,
        "a_tr": ("A_tr", "mm2"),
        "f_yt": ("f_yt", "MPa"),
        "s": ("s", "mm"),
        "n": ("n", ""),
    },
)
def confinement_index(a_tr: Floats, f_yt: float, s: Floats, n: Floats) -> Array:
    """Of stirrups across the plane of splitting, mm.

    a_tr : number or array, mm2 (A_tr); 0 or more
    f_yt : number, MPa; 300 to 500
    s : number or array, mm; above 0
    n : number or array; 1 or more

    >>> round(float(confinement_index(200.0, 400.0, 250.0, 4.0)), 2)
    7.62
    """
    return np.asarray(np.asarray(a_tr) * f_yt / (10.5 * np.asarray(s) * n))


@clause(
    "12.5.1, 12.5.2",
    "l_dh",
    "max(max(100 d_b/sqrt(f'c) f_y/400 k_h; 8 d_b); 150)",
    "mm",
    names={**NAMES, "factor": ("k_h", "")},
)
def hook_length(d_b: Floats, f_c: float, f_y: float, factor: Floats = 1.0) -> Array:
    """Development of a standard hook in tension, mm, to its outer face; `factor` those of 12.5.3 together.

    d_b : number or array, mm; 11.3 to 56.4
    f_c : number, MPa (f'c); 20 to 80
    f_y : number, MPa; 300 to 500
    factor : number or array (k_h); 0 or more

    >>> round(float(hook_length(25.2, 30.0, 400.0)), 2)
    460.09
    """
    d_b = np.asarray(d_b, dtype=float)
    length = 100.0 * d_b / math.sqrt(f_c) * f_y / 400.0 * np.asarray(factor)
    return np.asarray(np.maximum(np.maximum(length, 8.0 * d_b), 150.0))


def splice_class(provided: float, share: float) -> str:
    """12.15.2: A where twice the steel required is provided and no more than half of it is spliced.

    provided : number (over required steel); 0 or more
    share : number (spliced at one place); 0 to 1

    >>> splice_class(2.0, 0.51)
    'B'
    """
    return "A" if provided >= 2.0 and share <= 0.5 else "B"


@clause("12.15.1", "l_s", ("max(class l_d; "
    "300)"), "mm", where={"class": (("class_b >= 1", "1.3"), ("", "1.0"))}, names={
    **NAMES, "class_b": ("class_b", "")})  # fmt: skip
def splice_length(l_d: Floats, class_b: bool = True) -> Array:
    """Lap splice of bars in tension, mm.

    l_d : number or array, mm; 0 or more
    class_b : true or false

    >>> round(float(splice_length(828.0, True)), 2)
    1076.4
    """
    return np.asarray(np.maximum(np.asarray(l_d, dtype=float) * (1.3 if class_b else 1.0), 300.0))


def compression_splice(d_b: float, f_y: float) -> float:
    """Lap splice of bars in compression (12.16.1), mm.

    d_b : number, mm; 11.3 to 56.4
    f_y : number, MPa; 300 to 500

    >>> round(compression_splice(25.2, 400.0), 2)
    735.84
    """
    return max((0.073 * f_y if f_y <= 400.0 else 0.133 * f_y - 24.0) * d_b, 300.0)


def splice_offset(lap: float) -> float:
    """Largest distance of lapped bars across (12.14.2.3), mm.

    lap : number, mm; 0 or more

    >>> splice_offset(600.0)
    120.0
    """
    return min(lap / 5.0, 150.0)


def _nominal(d_b: Floats) -> Array:
    """Nominal areas by diameter, mm2."""
    diameters, areas = zip(*sorted(BARS.values()), strict=True)
    return np.asarray(np.interp(np.asarray(d_b, dtype=float), diameters, areas))


@dataclass(frozen=True)
class BondClauses(BondPart):
    """Answers on development, hooks and splices (12)."""

    v: Mapping[str, float]
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
        """12.2.3 with the cover and spacing that are checked and minimum stirrups, or 12.2.2 where it is
        less, with K_tr where stirrups are counted on."""
        k_1 = casting_factor(np.asarray(height) - 0.5 * np.asarray(phi))
        k_4 = size_factor(phi)
        simple = development_length(phi, concrete.strength, steel.strength, k_1, k_4)
        if around is None:
            return simple
        beside = np.minimum(around.beside, around.above)
        d_cs = splitting_distance(
            np.asarray(beside) + phi, np.minimum(around.sides, around.cover) + 0.5 * np.asarray(phi)
        )
        across, k_tr = around.crossing, np.asarray(0.0)
        if across is not None:
            k_tr = confinement_index(across.area, across.strength, across.gap, across.number)
        held = development_by_confinement(
            phi, _nominal(phi), concrete.strength, steel.strength, d_cs, k_tr, k_1, k_4
        )
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
        """12.5: the side cover is taken beyond the bend as well; ties along hooks are not counted on."""
        return hook_length(phi, concrete.strength, steel.strength, hook_cover_factor(phi, cover, cover))

    def lap_permitted(self, phi: float) -> bool:
        """12.14.2.1: up to 35M."""
        return phi <= LARGEST_LAPPED

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
        (12.15.2)."""
        class_b = splice_class(1.0 / max(stress, 1e-6), share) == "B"
        return splice_length(self.anchorage(concrete, steel, phi, height, h, around), class_b)

    def lap_clear_distance(self, phi: Floats, aggregate: float) -> Array:
        """As between bars."""
        return self.detailing.clear_spacing(phi, aggregate)
