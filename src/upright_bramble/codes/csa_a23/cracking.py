"""CSA A23.3 10.6: crack control by z, skin reinforcement. N, mm, MPa."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Service, Steel
from upright_bramble.codes.csa_a23.symbols import NAMES, clause
from upright_bramble.codes.parts import CrackingPart, CrackState, Face, Stage
from upright_bramble.section.arrays import Array, Floats
from upright_bramble.section.cracked import Elastic

DEEP, SKIN_SPACING = 750.0, 200.0  # 10.6.2, mm
SKIN = {"interior": 0.008, "exterior": 0.010}
Z_LIMIT = {"interior": 30_000.0, "exterior": 25_000.0}  # 10.6.1, N/mm
COUNTED_COVER = 50.0  # 10.6.1, mm


def is_exterior(exposure: str | None) -> bool:
    """Whether an exposure class of A23.1 counts as exterior; N and none as interior.

    exposure : text

    >>> is_exterior("F-1"), is_exterior("N")
    (True, False)
    """
    return exposure is not None and exposure.upper() != "N"


@clause("10.6.1", "f_s", "n M_a (d - c)/I_cr", "MPa")
def bar_stress(n: Floats, m_a: Floats, d: Floats, c: Floats, i_cr: Floats) -> Array:
    """Stress of the bars of a cracked section under service load, MPa.

    n : number or array; 1 or more
    m_a : number or array, N mm (M_a); 0 or more
    d : number or array, mm; above 0
    c : number or array, mm; 0 to d
    i_cr : number or array, mm4 (I_cr); above 0

    >>> round(float(bar_stress(8.0, 150.0e6, 540.0, 170.0, 2.7e9)), 2)
    164.44
    """
    return np.asarray(np.asarray(n) * m_a * np.maximum(np.asarray(d) - c, 0.0) / i_cr)


@clause("10.6.1", "A", "2 (h - d) b_t/n_b", "mm2", names={**NAMES, "count": ("n_b", "")})
def area_per_bar(h: Floats, d: Floats, b_t: Floats, count: Floats) -> Array:
    """Effective tension area of concrete around one bar, mm2.

    h : number or array, mm; above 0
    d : number or array, mm; above 0
    b_t : number or array, mm; above 0
    count : number or array (n_b); 1 or more

    >>> round(float(area_per_bar(600.0, 535.0, 400.0, 4.0)), 2)
    13000.0
    """
    return np.asarray(
        2.0 * (np.asarray(h) - d) * np.asarray(b_t) / np.maximum(np.asarray(count, dtype=float), 1e-9)
    )


@clause("10.6.1", "d_c", "min(c_c; 50) + d_b/2", "mm", names={"cover": ("c_c", "mm"), "d_b": ("d_b", "mm")})
def bar_depth(cover: Floats, d_b: Floats) -> Array:
    """From the tension face to the centre of the nearest bar, with no more than 50 mm of cover, mm.

    cover : number or array, mm (c_c); 0 or more
    d_b : number or array, mm; 11.3 to 56.4

    >>> round(float(bar_depth(60.0, 25.2)), 2)
    62.6
    """
    return np.asarray(np.minimum(cover, COUNTED_COVER) + 0.5 * np.asarray(d_b))


@clause("10.6.1", "z", "f_s cbrt(d_c A)", "N/mm")
def z_value(f_s: Floats, d_c: Floats, area: Floats) -> Array:
    """Quantity that limits the distribution of bars, N/mm.

    f_s : number or array, MPa; 0 or more
    d_c : number or array, mm; 0 or more
    area : number or array, mm2 (A); 0 or more

    >>> round(float(z_value(240.0, 52.6, 13000.0)), 2)
    21144.02
    """
    return np.asarray(np.asarray(f_s) * np.cbrt(np.asarray(d_c) * area))


@clause("10.6.1", "z_max", "30000 interior, 25000 exterior", "N/mm")
def z_limit(exterior: bool) -> float:
    """By exposure, N/mm.

    exterior : true or false

    >>> round(float(z_limit(False)), 2)
    30000.0
    """
    return Z_LIMIT["exterior" if exterior else "interior"]


def skin_height(h: float, d: float) -> float:
    """Height over which skin reinforcement is spread (10.6.2), mm.

    h, d : numbers, mm; above 0

    >>> skin_height(900.0, 820.0)
    290.0
    """
    return 0.5 * h - 2.0 * (h - d)


@clause(
    "10.6.2",
    "A_sk",
    "rho_sk 2 height strip",
    "mm2",
    names={"rho": ("rho_sk", ""), "height": ("height", "mm"), "strip": ("strip", "mm")},
)
def skin_steel(rho: float, height: float, strip: float) -> float:
    """Of both faces, mm2: of strips along them as wide as twice the distance of the bars' centres, no more
    than half of the web.


    rho : number (rho_sk); 0 to 0.1
    height : number, mm; 0 or more
    strip : number, mm; 0 or more

    >>> round(float(skin_steel(0.01, 290.0, 110.0)), 2)
    638.0
    """
    return rho * 2.0 * height * strip


@dataclass(frozen=True)
class CrackingClauses(CrackingPart):
    """Answers on crack control (10.6)."""

    v: Mapping[str, float]

    level, stage = "service", "short"

    def skin(
        self, concrete: Concrete, steel: Steel, b: float, h: float, cover: float, wanted: Service
    ) -> tuple[float, float]:
        """10.6.2, above 750 mm."""
        if h <= DEEP:
            return math.inf, 0.0
        strip = min(2.0 * (cover + 6.0), 0.5 * b)
        rho = SKIN["exterior" if is_exterior(wanted.exposure) else "interior"]
        return SKIN_SPACING, skin_steel(rho, skin_height(h, h - cover - 15.0), strip)

    def judge(self, moment: Array, cracked: Elastic, stage: Stage, face: Face, wanted: Service) -> CrackState:
        """z for the stress of the cracked section under service load."""
        f_s = bar_stress(stage.alpha_e, moment, face.outer, cracked.x, cracked.i)
        largest = np.pi / 4.0 * np.maximum(face.phi, 1.0) ** 2
        area = area_per_bar(face.h, face.depth, face.b, face.area / largest)
        z = np.where(moment > 0.0, z_value(f_s, bar_depth(face.cover, face.phi), area), 0.0)
        limit = np.full_like(z, z_limit(is_exterior(wanted.exposure)))
        return CrackState(z, limit, "crack parameter", 0.0 * z, f_s, face.outer)
