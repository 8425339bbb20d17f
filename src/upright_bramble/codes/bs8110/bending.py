"""BS 8110-1 3.4.4, 3.12.5, 3.12.6: bending, least and most steel. N, mm, MPa."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Steel
from upright_bramble.codes.bs8110 import materials
from upright_bramble.codes.bs8110.symbols import NAMES, clause
from upright_bramble.codes.parts import BendingPart, PrintedSection, TensionFace
from upright_bramble.section.arrays import Array, Floats


@clause("3.4.4.4", "x/d,lim", (("beta_b >= 0.9", "0.5"), ("", "beta_b - 0.4")))
def neutral_axis_limit(beta_b: Floats) -> Array:
    """Largest x/d for the ratio of redistributed to elastic moment.

    beta_b : number or array; 0.7 to 1

    >>> round(float(neutral_axis_limit(0.8)), 4)
    0.4
    """
    return np.asarray(np.minimum(np.asarray(beta_b, dtype=float) - 0.4, 0.5))


@clause("3.4.4.4", "K'", (("beta_b >= 0.9", "0.156"), ("", "0.402 (beta_b - 0.4) - 0.18 (beta_b - 0.4)^2")))
def limiting_k(beta_b: float = 1.0) -> float:
    """K up to which no compression steel is required.

    beta_b : number; 0.7 to 1

    >>> round(float(limiting_k(0.8)), 4)
    0.132
    """
    return 0.156 if beta_b >= 0.9 - 1e-9 else 0.402 * (beta_b - 0.4) - 0.18 * (beta_b - 0.4) ** 2


@clause("3.4.4.4", "K", "M/(b d^2 f_cu)")
def k_of(m: Floats, b: Floats, d: Floats, f_cu: float) -> Array:
    """Moment over b d² f_cu.

    m : number or array, N mm (M); 0 or more
    b : number or array, mm; above 0
    d : number or array, mm; above 0
    f_cu : number, MPa; 20 to 60

    >>> round(float(k_of(150.0e6, 300.0, 550.0, 30.0)), 4)
    0.0551
    """
    return np.asarray(np.asarray(m) / (np.asarray(b) * np.asarray(d) ** 2 * f_cu))


@clause("3.4.4.4", "z", "min(0.5 + sqrt(max(0.25 - K/0.9; 0)); 0.95) d", "mm")
def lever_arm(k: Floats, d: Floats) -> Array:
    """Lever arm of rectangular sections, mm.

    k : number or array (K); 0 or more
    d : number or array, mm; above 0

    >>> round(float(lever_arm(0.1, 550.0)), 2)
    479.97
    """
    root = np.sqrt(np.maximum(0.25 - np.asarray(k) / 0.9, 0.0))
    return np.asarray(np.minimum(0.5 + root, materials.MAXIMUM_LEVER) * np.asarray(d))


@clause("3.4.4.4", "x", "(d - z)/0.45", "mm")
def neutral_axis(d: Floats, z: Floats) -> Array:
    """Neutral axis depth, mm.

    d : number or array, mm; above 0
    z : number or array, mm; 0 or more

    >>> round(float(neutral_axis(550.0, 480.0)), 2)
    155.56
    """
    return np.asarray((np.asarray(d) - z) / 0.45)


@clause("3.4.4.4", "f_sc", "min(f_yd; max(700 (1 - d'/x); 0))", "MPa")
def compression_stress(f_yd: float, d_2: Floats, x: Floats) -> Array:
    """Stress of compression bars at depth d', MPa.

    f_yd : number, MPa; 200 to 500
    d_2 : number or array, mm (d'); 0 or more
    x : number or array, mm; above 0

    >>> round(float(compression_stress(437.0, 50.0, 200.0)), 2)
    437.0
    """
    return np.asarray(
        np.clip(materials.E_S * materials.ULTIMATE_STRAIN * (1.0 - np.asarray(d_2) / x), 0.0, f_yd)
    )


def rectangular_steel(
    m: float, b: float, d: float, f_cu: float, f_yd: float, d_2: float = 0.0, beta_b: float = 1.0
) -> tuple[float, float, float, float]:
    """Tension and compression steel (mm2) of a rectangular section by the closed form of 3.4.4.4, z (mm) and
    the stress of the compression bars (MPa); the concrete that these displace is not deducted, as printed.

    m : number, N mm; 0 or more
    b : number, mm; above 0
    d : number, mm; above 0
    f_cu : number, MPa; 20 to 60
    f_yd : number, MPa; 200 to 500
    d_2 : number, mm (d'); 0 to 0.2 d
    beta_b : number; 0.7 to 1

    >>> [round(v, 1) for v in rectangular_steel(285.0e6, 260.0, 440.0, 30.0, 437.0, 50.0)]
    [1867.0, 290.0, 341.8, 437.0]
    """
    limit = limiting_k(beta_b)
    k = float(k_of(m, b, d, f_cu))
    z = float(lever_arm(min(k, limit), d))
    stress = float(compression_stress(f_yd, d_2, float(neutral_axis(d, z))))
    rest = max(k - limit, 0.0) * f_cu * b * d**2
    compression = rest / (stress * (d - d_2)) if rest > 0.0 else 0.0
    return min(k, limit) * f_cu * b * d**2 / (f_yd * z) + compression * stress / f_yd, compression, z, stress


@clause("3.4.4.4, Figure 3.3", "z", "min(d - f_yd A_s/(0.9 f_cu b); 0.95 d)", "mm")
def lever_arm_of_bars(a_s: float, b: float, d: float, f_cu: float, f_yd: float) -> float:
    """Lever arm of a rectangle with tension bars at yield: half the block's depth from its face, no more than
    0.95 d; mm.

    a_s : number, mm2 (A_s); 0 or more
    b : number, mm; above 0
    d : number, mm; above 0
    f_cu : number, MPa; 20 to 60
    f_yd : number, MPa; 200 to 480

    >>> round(lever_arm_of_bars(1200.0, 260.0, 440.0, 30.0, 437.0), 1)
    365.3
    """
    return min(d - f_yd * a_s / (0.9 * f_cu * b), materials.MAXIMUM_LEVER * d)


@clause("3.4.4.4", "M", "min(A_s f_yd z; 0.156 f_cu b d^2)", "N mm")
def moment_of_bars(a_s: float, z: float, b: float, d: float, f_cu: float, f_yd: float) -> float:
    """Moment of resistance of a singly reinforced rectangle, no more than with K' of 0.156; N mm.

    a_s : number, mm2 (A_s); 0 or more
    z : number, mm; 0 or more
    b : number, mm; above 0
    d : number, mm; above 0
    f_cu : number, MPa; 20 to 60
    f_yd : number, MPa; 200 to 480

    >>> round(moment_of_bars(1200.0, 365.3, 260.0, 440.0, 30.0, 437.0) / 1e6, 1)
    191.6
    """
    return min(a_s * f_yd * z, limiting_k() * f_cu * b * d**2)


@clause(
    "3.4.4.4",
    "M",
    "0.156 f_cu b d^2 + max(min(f_sc A_s2; f_yd A_s - 0.156 f_cu b d/0.777); 0) (d - d')",
    "N mm",
    names={**NAMES, "a_s2": ("A_s2", "mm2")},
)
def moment_with_compression_bars(
    a_s: float, a_s2: float, f_sc: float, b: float, d: float, d_2: float, f_cu: float, f_yd: float
) -> float:
    """Moment of resistance of a rectangle whose tension bars exceed those of K': 0.156 f_cu b d² at z = 0.777
    d takes its part of their force, the rest is the couple with the compression bars A'_s; N mm.

    a_s : number, mm2 (A_s); 0 or more
    a_s2 : number, mm2 (A_s2); 0 or more
    f_sc : number, MPa; 0 to 480
    b : number, mm; above 0
    d : number, mm; above 0
    d_2 : number, mm (d'); 0 or more
    f_cu : number, MPa; 20 to 60
    f_yd : number, MPa; 200 to 480

    >>> round(moment_with_compression_bars(1867.0, 290.0, 437.0, 260.0, 440.0, 50.0, 30.0, 437.0) / 1e6, 1)
    285.0
    """
    rest = min(f_sc * a_s2, f_yd * a_s - limiting_k() * f_cu * b * d / 0.777)
    return limiting_k() * f_cu * b * d**2 + max(rest, 0.0) * (d - d_2)


def rectangular_moment(a_s: float, b: float, d: float, f_cu: float, f_yd: float) -> float:
    """Moment of resistance of a singly reinforced rectangle by 3.4.4.4, N mm: z from the block, no more than
    K' = 0.156.

    a_s : number, mm2; 0 or more
    b : number, mm; above 0
    d : number, mm; above 0
    f_cu : number, MPa; 20 to 60
    f_yd : number, MPa; 200 to 500

    >>> round(rectangular_moment(1200.0, 260.0, 440.0, 30.0, 437.0) / 1e6, 1)
    191.6
    """
    return moment_of_bars(a_s, lever_arm_of_bars(a_s, b, d, f_cu, f_yd), b, d, f_cu, f_yd)


@clause("3.4.4.5", "beta_f", "0.45 h_f/d (1 - b_w/b) (1 - h_f/(2 d)) + 0.15 b_w/b")
def flange_factor(h_f: float, d: float, b_w: float, b: float) -> float:
    """Moment over b d² f_cu that a flanged section resists with x = 0.5 d.

    h_f : number, mm; 0 or more
    d : number, mm; above 0
    b_w : number, mm; above 0
    b : number, mm; above 0

    >>> round(float(flange_factor(100.0, 550.0, 300.0, 900.0)), 4)
    0.0996
    """
    return 0.45 * h_f / d * (1.0 - b_w / b) * (1.0 - h_f / (2.0 * d)) + 0.15 * b_w / b


@clause("3.4.4.5", "A_s", "(M + 0.1 f_cu b_w d (0.45 d - h_f))/(f_yd (d - 0.5 h_f))", "mm2")
def web_block_steel(m: float, b_w: float, h_f: float, d: float, f_cu: float, f_yd: float) -> float:
    """Tension steel of a flanged section whose block reaches below the flange, mm2, for M of no more than
    beta_f f_cu b d² and h_f of no more than 0.45 d.

    m : number, N mm (M); 0 or more
    b_w : number, mm; above 0
    h_f : number, mm; 0 or more
    d : number, mm; above 0
    f_cu : number, MPa; 20 to 60
    f_yd : number, MPa; 200 to 500

    >>> round(float(web_block_steel(450.0e6, 300.0, 100.0, 420.0, 30.0, 437.0)), 2)
    2991.17
    """
    return (m + 0.1 * f_cu * b_w * d * (0.45 * d - h_f)) / (f_yd * (d - 0.5 * h_f))


@clause(
    "3.4.4.5",
    "M",
    "min(f_yd A_s (d - 0.5 h_f) - 0.1 f_cu b_w d (0.45 d - h_f); beta_f f_cu b d^2)",
    "N mm",
    names={**NAMES, "factor": ("beta_f", "")},
)
def web_block_moment(
    a_s: float, factor: float, b_w: float, b: float, h_f: float, d: float, f_cu: float, f_yd: float
) -> float:
    """Moment of resistance of a flanged section whose block reaches below the flange: equation 1 the other
    way round, no more than with x = 0.5 d; N mm.

    a_s : number, mm2 (A_s); 0 or more
    factor : number (beta_f); 0 to 0.25
    b_w : number, mm; above 0
    b : number, mm; above 0
    h_f : number, mm; 0 to 0.45 d
    d : number, mm; above 0
    f_cu : number, MPa; 20 to 60
    f_yd : number, MPa; 200 to 480

    >>> round(web_block_moment(2991.17, 0.15, 300.0, 800.0, 100.0, 420.0, 30.0, 437.0) / 1e6, 1)
    450.0
    """
    return min(
        f_yd * a_s * (d - 0.5 * h_f) - 0.1 * f_cu * b_w * d * (0.45 * d - h_f), factor * f_cu * b * d**2
    )


def flanged_steel(m: float, b_w: float, b: float, h_f: float, d: float, f_cu: float, f_yd: float) -> float:
    """Tension steel of a flanged section by 3.4.4.4 where the block stays in the flange, else by 3.4.4.5,
    mm2.

    m : number, N mm; 0 or more
    b_w, b : numbers, mm; above 0
    h_f : number, mm; 0 or more
    d : number, mm; above 0
    f_cu : number, MPa; 20 to 60
    f_yd : number, MPa; 200 to 500

    >>> round(flanged_steel(450.0e6, 300.0, 800.0, 100.0, 420.0, 30.0, 437.0), 1)
    2991.2
    >>> round(flanged_steel(397.0e6, 300.0, 800.0, 100.0, 420.0, 30.0, 437.0), 1)  # within the flange
    2452.8
    """
    z = d - 0.5 * h_f
    if m <= 0.45 * f_cu * b * h_f * z:
        k = float(k_of(m, b, d, f_cu))
        return m / (f_yd * float(lever_arm(k, d)))
    return web_block_steel(m, b_w, h_f, d, f_cu, f_yd)


SHARES = {  # Table 3.25, percent of b_w h: (250 MPa, 460 MPa)
    "rect_tension": (0.24, 0.13), "web_tension_narrow": (0.32, 0.18), "web_tension": (0.24, 0.13),
    "flange_tension_T": (0.48, 0.26),
    "flange_tension_L": (0.36, 0.20), "rect_compression": (0.20, 0.20), "web_compression": (0.20, 0.20),
    "flange_compression": (0.40, 0.40), "flange_transverse": (0.15, 0.15),
}  # fmt: skip


def minimum_share(kind: str, f_y: float) -> float:
    """Percentage of Table 3.25: `kind` a row of it.

    kind : text
    f_y : number, MPa; 250 to 500

    >>> minimum_share("flange_tension_T", 460.0)
    0.26
    """
    mild, high = SHARES[kind]
    return mild if f_y < 460.0 - 1e-9 else high


@clause(
    "Table 3.25", "A_s,min", "p_min/100 area", "mm2", names={"share": ("p_min", ""), "area": ("area", "mm2")}
)
def minimum_steel(share: Floats, area: Floats) -> Array:
    """Minimum reinforcement, mm2: a percentage of `area`, b_w h of webs, b h_f of flanges.

    share : number or array (p_min); 0.1 to 0.5
    area : number or array, mm2; 0 or more

    >>> round(float(minimum_steel(0.13, 180000.0)), 2)
    234.0
    """
    return np.asarray(np.asarray(share) / 100.0 * np.asarray(area))


@clause("3.12.6.1", "A_s,max", "0.04 A_c", "mm2")
def maximum_steel(a_c: Floats) -> Array:
    """Most steel of a face outside laps, mm2.

    a_c : number or array, mm2 (A_c); above 0

    >>> round(float(maximum_steel(180000.0)), 2)
    7200.0
    """
    return np.asarray(0.04 * np.asarray(a_c))


@clause("3.4.4.4 note", "d'/x", "1 - f_yd/700", names=NAMES)
def compression_yield_limit(f_yd: float) -> float:
    """Largest d'/x with which compression bars yield.

    f_yd : number, MPa; 200 to 500

    >>> round(float(compression_yield_limit(437.0)), 4)
    0.3757
    """
    return 1.0 - f_yd / 700.0


@clause("3.8.2.4", "e_min", "min(0.05 h; 20)", "mm")
def minimum_eccentricity(h: float) -> float:
    """Least eccentricity of sections in compression, without what their length adds, mm.

    h : number, mm; above 0

    >>> minimum_eccentricity(750.0)
    20.0
    """
    return min(0.05 * h, 20.0)


def printed_moment(section: PrintedSection, f_cu: float, f_yd: float) -> float | None:
    """Moment of resistance by the formulas of 3.4.4.4 and 3.4.4.5, N mm: tension bars alone up to K', then
    with the compression bars of a rectangle; None where h_f is more than 0.45 d and the block reaches below
    the flange.

    section : PrintedSection, mm and mm2
    f_cu : number, MPa; 20 to 60
    f_yd : number, MPa; 200 to 500

    >>> round(printed_moment(PrintedSection(260.0, 260.0, 0.0, 440.0, 1200.0), 30.0, 437.0) / 1e6, 1)
    191.6
    """
    s = section
    if s.b_w == s.b or s.a_s * f_yd <= 0.45 * f_cu * s.b * s.h_f:
        z = lever_arm_of_bars(s.a_s, s.b, s.d, f_cu, f_yd)
        if s.a_s2 > 0.0 and s.a_s * f_yd * z > limiting_k() * f_cu * s.b * s.d**2:
            stress = float(compression_stress(f_yd, s.d_2, 0.5 * s.d))
            return moment_with_compression_bars(s.a_s, s.a_s2, stress, s.b, s.d, s.d_2, f_cu, f_yd)
        return moment_of_bars(s.a_s, z, s.b, s.d, f_cu, f_yd)
    if s.h_f > 0.45 * s.d:
        return None
    factor = flange_factor(s.h_f, s.d, s.b_w, s.b)
    return web_block_moment(s.a_s, factor, s.b_w, s.b, s.h_f, s.d, f_cu, f_yd)


@dataclass(frozen=True)
class BendingClauses(BendingPart):
    """Answers on bending (3.4.4, 3.12.5, 3.12.6)."""

    v: Mapping[str, float]

    def printed_moment(self, concrete: Concrete, steel: Steel, section: PrintedSection) -> float | None:
        if abs(self.v["gamma_c"] - 1.5) > 1e-9:
            return None
        return printed_moment(
            section, concrete.strength, materials.design_yield(steel.strength, self.v["gamma_s"])
        )

    def minimum_eccentricity(self, h: float) -> float:
        return minimum_eccentricity(h)

    def neutral_axis_ratio(self, x: Floats, d: Floats, outer: Floats) -> Array:
        return np.asarray(np.asarray(x) / d)

    def neutral_axis_limit(self, concrete: Concrete, steel: Steel, delta: Floats = 1.0) -> Array:
        return neutral_axis_limit(delta)

    def minimum_steel(self, concrete: Concrete, steel: Steel, face: TensionFace, required: Array) -> Array:
        """Table 3.25: rectangles; webs in tension below flanges; flanges in tension of T and L sections."""
        pulled, flanged = face.b_t > face.b_w * 1.01, face.b_c > face.b_w * 1.01
        out = np.where(
            face.both, self._share("flange_tension_T", steel), self._share("flange_tension_L", steel)
        )
        web = np.where(
            face.b_w < 0.4 * face.b_c,
            self._share("web_tension_narrow", steel),
            self._share("web_tension", steel),
        )
        share = np.where(pulled, out, np.where(flanged, web, self._share("rect_tension", steel)))
        return minimum_steel(share, face.b_w * face.h)

    def _share(self, kind: str, steel: Steel) -> float:
        return minimum_share(kind, steel.strength)

    def maximum_steel(self, gross_area: Array) -> Array:
        return maximum_steel(gross_area)
