"""IS 456 26.5.1, 37.1, 38, annex G: flexure, least and most steel. N, mm, MPa."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from upright_bramble.beam import Concrete, Steel
from upright_bramble.codes.is456 import materials
from upright_bramble.codes.is456.symbols import NAMES, clause
from upright_bramble.codes.parts import BendingPart, PrintedSection, TensionFace
from upright_bramble.section.arrays import Array, Floats


@clause(
    "37.1.1(d)",
    "x_u/d",
    "min(0.6 - (1 - delta); x_max)",
    names={"ratio": ("x_max", ""), "delta": ("delta", "")},
)
def neutral_axis_limit(ratio: float, delta: Floats) -> Array:
    """Largest x_u/d: that of 38.1, less where moments were redistributed to `delta` of the elastic ones.

    ratio : number (x_max); 0 or more
    delta : number or array; 0.7 to 1

    >>> round(float(neutral_axis_limit(0.48, 0.8)), 4)
    0.4
    """
    return np.asarray(np.minimum(0.6 - (1.0 - np.asarray(delta, dtype=float)), ratio))


@clause("G-1.1(a)", "x_u", "0.87 f_y A_st/(0.36 f_ck b)", "mm")
def neutral_axis(a_st: float, b: float, f_ck: float, f_y: float) -> float:
    """Neutral axis depth of a rectangle with tension bars at yield, mm.

    a_st : number, mm2 (A_st); 0 or more
    b : number, mm; above 0
    f_ck : number, MPa; 15 to 55
    f_y : number, MPa; 250 to 550

    >>> round(float(neutral_axis(1256.6, 300.0, 20.0, 415.0)), 2)
    210.04
    """
    return 0.87 * f_y * a_st / (0.36 * f_ck * b)


@clause(
    "G-1.1(c)",
    "M_u,lim",
    "0.36 x_max (1 - 0.42 x_max) b d^2 f_ck",
    "N mm",
    names={**NAMES, "ratio": ("x_max", "")},
)
def limiting_moment(ratio: float, b: float, d: float, f_ck: float) -> float:
    """Limiting moment of resistance of a rectangle for x_u,max/d, N mm.

    ratio : number (x_max); 0 or more
    b : number, mm; above 0
    d : number, mm; above 0
    f_ck : number, MPa; 15 to 55

    >>> round(float(limiting_moment(0.48, 300.0, 550.0, 20.0)), 2)
    250403788.8
    """
    return 0.36 * ratio * (1.0 - 0.42 * ratio) * b * d**2 * f_ck


@clause("G-1.1(b)", "M_u", "0.87 f_y A_st d (1 - A_st f_y/(b d f_ck))", "N mm")
def under_reinforced_moment(a_st: float, b: float, d: float, f_ck: float, f_y: float) -> float:
    """Moment of resistance of a rectangle with tension bars at yield, by the printed formula, N mm.

    a_st : number, mm2 (A_st); 0 or more
    b : number, mm; above 0
    d : number, mm; above 0
    f_ck : number, MPa; 15 to 55
    f_y : number, MPa; 250 to 550

    >>> round(under_reinforced_moment(1256.637, 300.0, 550.0, 20.0, 415.0) / 1e6, 2)
    210.1
    """
    return 0.87 * f_y * a_st * d * (1.0 - a_st * f_y / (b * d * f_ck))


def rectangular_moment(
    a_st: float, b: float, d: float, f_ck: float, f_y: float, form: str = "printed"
) -> float:
    """Moment of resistance of a singly reinforced rectangle (G-1.1), N mm: by the printed formula, or
    'block': the force at 0.42 x_u; no more than the limiting one.

    a_st : number, mm2; 0 or more
    b, d : numbers, mm; above 0
    f_ck : number, MPa; 15 to 55
    f_y : number, MPa; 250 to 550
    form : text

    >>> round(rectangular_moment(1256.637, 300.0, 550.0, 20.0, 415.0) / 1e6, 2)
    210.1
    """
    ratio = materials.limiting_ratio(f_y)
    x_u = neutral_axis(a_st, b, f_ck, f_y)
    if x_u > ratio * d:
        return limiting_moment(ratio, b, d, f_ck)
    if form == "block":
        return 0.87 * f_y * a_st * (d - 0.42 * x_u)
    return under_reinforced_moment(a_st, b, d, f_ck, f_y)


@clause(
    "G-1.2",
    "A_st2",
    "max(A_st - M_u,lim/(0.87 f_y d (1 - 0.42 x_max)); 0)",
    "mm2",
    names={**NAMES, "ratio": ("x_max", ""), "m_lim": ("M_u,lim", "N mm")},
)
def steel_beyond_limit(a_st: float, m_lim: float, d: float, f_y: float, ratio: float) -> float:
    """Tension bars left for the couple with the compression bars, beyond those of the limiting moment, mm2.

    a_st : number, mm2 (A_st); 0 or more
    m_lim : number, N mm (M_u,lim); 0 or more
    d : number, mm; above 0
    f_y : number, MPa; 250 to 550
    ratio : number (x_max); 0.3 to 0.53

    >>> round(steel_beyond_limit(2000.0, 250403788.8, 550.0, 415.0, 0.48), 1)
    420.6
    """
    return max(a_st - m_lim / (0.87 * f_y * d * (1.0 - 0.42 * ratio)), 0.0)


@clause(
    "G-1.2",
    "M_u",
    "M_u,lim + min(f_sc A_sc; 0.87 f_y A_st2) (d - d')",
    "N mm",
    names={**NAMES, "m_lim": ("M_u,lim", "N mm"), "a_st2": ("A_st2", "mm2")},
)
def doubly_reinforced_moment(
    m_lim: float, f_sc: float, a_sc: float, a_st2: float, f_y: float, d: float, d_2: float
) -> float:
    """Moment of resistance of a rectangle with compression bars, x_u at its limit, N mm.

    m_lim : number, N mm (M_u,lim); 0 or more
    f_sc : number, MPa; 0 to 480
    a_sc : number, mm2 (A_sc); 0 or more
    a_st2 : number, mm2 (A_st2); 0 or more
    f_y : number, MPa; 250 to 550
    d : number, mm; above 0
    d_2 : number, mm (d'); 0 or more

    >>> round(doubly_reinforced_moment(250403788.8, 352.0, 600.0, 420.6, 415.0, 550.0, 50.0) / 1e6, 1)
    326.3
    """
    return m_lim + min(f_sc * a_sc, 0.87 * f_y * a_st2) * (d - d_2)


@clause("G-1.1(b)", "A_st", "0.5 f_ck/f_y (1 - sqrt(max(1 - 4 M/(0.87 f_ck b d^2); 0))) b d", "mm2")
def rectangular_steel(m: float, b: float, d: float, f_ck: float, f_y: float) -> float:
    """Tension steel of a singly reinforced rectangle, from the printed formula for its moment, mm2 (its 4.6
    is 4/0.87).


    m : number, N mm (M); 0 or more
    b : number, mm; above 0
    d : number, mm; above 0
    f_ck : number, MPa; 15 to 55
    f_y : number, MPa; 250 to 550

    >>> round(float(rectangular_steel(101.25e6, 250.0, 450.0, 20.0, 415.0)), 2)
    718.36
    """
    return 0.5 * f_ck / f_y * (1.0 - math.sqrt(max(1.0 - 4.0 * m / (0.87 * f_ck * b * d**2), 0.0))) * b * d


def rectangular_steel_by_block(m: float, b: float, d: float, f_ck: float, f_y: float) -> float:
    """The same with the compression at 0.42 x_u instead of the printed, rounded formula, mm2.

    m : number, N mm; 0 or more
    b, d : numbers, mm; above 0
    f_ck : number, MPa; 15 to 55
    f_y : number, MPa; 250 to 550

    >>> round(rectangular_steel_by_block(101.25e6, 250.0, 450.0, 20.0, 415.0), 1)
    720.3
    """
    share = (1.0 - math.sqrt(max(1.0 - 4.0 * 0.42 * m / (0.36 * f_ck * b * d**2), 0.0))) / 0.84
    return 0.36 * f_ck * share / (0.87 * f_y) * b * d


def double_steel(
    m: float,
    b: float,
    d: float,
    d_2: float,
    f_ck: float,
    f_y: float,
    ratio: float | None = None,
    deduct: bool = False,
) -> tuple[float, float]:
    """Tension and compression steel beyond the limiting moment (G-1.2), mm2: `ratio` x_u/d that
    redistribution permits (None: x_u,max/d); the concrete that compression bars displace deducted or not.

    m : number, N mm; 0 or more
    b, d : numbers, mm; above 0
    d_2 : number, mm; 0 or more
    f_ck : number, MPa; 15 to 55
    f_y : number, MPa; 250 to 550
    ratio : number; above 0
    deduct : true or false

    >>> [round(v, 1) for v in double_steel(320.0e6, 300.0, 550.0, 50.0, 20.0, 415.0, 0.4)]
    [1884.2, 585.0]
    """
    share = materials.limiting_ratio(f_y) if ratio is None else ratio
    limit, f_yd = limiting_moment(share, b, d, f_ck), 0.87 * f_y
    stress = float(materials.stress_of(materials.ULTIMATE_STRAIN * (1.0 - d_2 / (share * d)), f_y, f_yd))
    stress -= 0.67 * f_ck / 1.5 if deduct else 0.0
    rest = max(m - limit, 0.0)
    return (limit / (d * (1.0 - 0.42 * share)) + rest / (d - d_2)) / f_yd, rest / (stress * (d - d_2))


@clause("G-1.1", "p_t,lim", "36 x_max f_ck/(0.87 f_y)", names={**NAMES, "ratio": ("x_max", "")})
def limiting_percentage(ratio: float, f_ck: float, f_y: float) -> float:
    """Percentage of tension steel at the limiting moment.

    ratio : number (x_max); 0 or more
    f_ck : number, MPa; 15 to 55
    f_y : number, MPa; 250 to 550

    >>> round(float(limiting_percentage(0.479, 20.0, 415.0)), 4)
    0.9552
    """
    return 36.0 * ratio * f_ck / (0.87 * f_y)


@clause("G-2.2.1", "y_f", "min(0.15 x_u + 0.65 D_f; D_f)", "mm")
def equal_block(x_u: Floats, d_f: float) -> Array:
    """Depth of the flange that counts as fully stressed, mm.

    x_u : number or array, mm; 0 or more
    d_f : number, mm (D_f); 0 or more

    >>> round(float(equal_block(200.0, 120.0)), 2)
    108.0
    """
    return np.asarray(np.minimum(0.15 * np.asarray(x_u) + 0.65 * d_f, d_f))


@clause("G-2.2", "x_u", "(0.87 f_y A_st - 0.45 f_ck (b_f - b_w) D_f)/(0.36 f_ck b_w)", "mm")
def axis_below_flange(a_st: float, b_w: float, b_f: float, d_f: float, f_ck: float, f_y: float) -> float:
    """Neutral axis depth of a flanged section with bars at yield and the whole flange stressed: D_f/x_u of no
    more than 0.43; mm.

    a_st : number, mm2 (A_st); 0 or more
    b_w : number, mm; above 0
    b_f : number, mm; above 0
    d_f : number, mm (D_f); 0 or more
    f_ck : number, MPa; 15 to 55
    f_y : number, MPa; 250 to 550

    >>> round(axis_below_flange(4500.0, 300.0, 900.0, 100.0, 25.0, 415.0), 1)
    351.8
    """
    return (0.87 * f_y * a_st - 0.45 * f_ck * (b_f - b_w) * d_f) / (0.36 * f_ck * b_w)


@clause(
    "G-2.2.1",
    "x_u",
    "(0.87 f_y A_st - 0.2925 f_ck (b_f - b_w) D_f)/(f_ck (0.36 b_w + 0.0675 (b_f - b_w)))",
    "mm",
)
def axis_near_flange(a_st: float, b_w: float, b_f: float, d_f: float, f_ck: float, f_y: float) -> float:
    """The same with a part y_f = 0.15 x_u + 0.65 D_f of the flange stressed: D_f/x_u of more than 0.43; mm.

    a_st : number, mm2 (A_st); 0 or more
    b_w : number, mm; above 0
    b_f : number, mm; above 0
    d_f : number, mm (D_f); 0 or more
    f_ck : number, MPa; 15 to 55
    f_y : number, MPa; 250 to 550

    >>> round(axis_near_flange(3400.0, 300.0, 900.0, 100.0, 25.0, 415.0), 1)
    212.5
    """
    return (0.87 * f_y * a_st - 0.2925 * f_ck * (b_f - b_w) * d_f) / (
        f_ck * (0.36 * b_w + 0.0675 * (b_f - b_w))
    )


@clause("G-2.2", "M_u", "0.36 f_ck b_w x_u (d - 0.42 x_u) + 0.45 f_ck (b_f - b_w) y_f (d - 0.5 y_f)", "N mm")
def web_and_flange_moment(x_u: float, y_f: float, b_w: float, b_f: float, d: float, f_ck: float) -> float:
    """Moment of resistance of a flanged section whose neutral axis lies below the flange, N mm.

    x_u : number, mm; 0 to d
    y_f : number, mm; 0 to d
    b_w : number, mm; above 0
    b_f : number, mm; above 0
    d : number, mm; above 0
    f_ck : number, MPa; 15 to 55

    >>> round(web_and_flange_moment(225.0, 98.75, 300.0, 900.0, 600.0, 25.0) / 1e6, 1)
    674.1
    """
    return 0.36 * f_ck * b_w * x_u * (d - 0.42 * x_u) + 0.45 * f_ck * (b_f - b_w) * y_f * (d - 0.5 * y_f)


def flanged_forces(
    x_u: float, b_w: float, b_f: float, d_f: float, d: float, f_ck: float
) -> tuple[float, float]:
    """Compression (N) and its moment about the tension bars (N mm) of a flanged section (G-2): the neutral
    axis in the flange; or in the web, with the whole flange stressed where D_f/x_u is no more than 0.43.

    x_u : number, mm; 0 or more
    b_w, b_f : numbers, mm; above 0
    d_f : number, mm; 0 or more
    d : number, mm; above 0
    f_ck : number, MPa; 15 to 55

    >>> [round(v / 1e3, 1) for v in flanged_forces(225.0, 300.0, 900.0, 100.0, 600.0, 25.0)]
    [1274.1, 674117.2]
    """
    if x_u <= d_f:
        force = 0.36 * f_ck * b_f * x_u
        return force, force * (d - 0.42 * x_u)
    y = d_f if d_f / x_u <= 0.43 else float(equal_block(x_u, d_f))
    force = 0.36 * f_ck * b_w * x_u + 0.45 * f_ck * (b_f - b_w) * y
    return force, web_and_flange_moment(x_u, y, b_w, b_f, d, f_ck)


def _root(m: float, high: float, section: tuple[float, float, float, float, float]) -> float:
    low = 1e-6
    for _ in range(100):
        middle = 0.5 * (low + high)
        low, high = (middle, high) if flanged_forces(middle, *section)[1] < m else (low, middle)
    return 0.5 * (low + high)


def flanged_moment(
    a_st: float, b_w: float, b_f: float, d_f: float, d: float, f_ck: float, f_y: float
) -> tuple[float, float]:
    """Moment of resistance (N mm) and neutral axis (mm) of a singly reinforced flanged section (G-2), no more
    than at x_u,max.

    a_st : number, mm2; 0 or more
    b_w, b_f : numbers, mm; above 0
    d_f : number, mm; 0 or more
    d : number, mm; above 0
    f_ck : number, MPa; 15 to 55
    f_y : number, MPa; 250 to 550

    >>> round(flanged_moment(3000.0, 300.0, 1500.0, 120.0, 600.0, 25.0, 415.0)[0] / 1e6, 1)
    613.4
    """
    x_u = min(flanged_axis(a_st, b_w, b_f, d_f, f_ck, f_y), materials.limiting_ratio(f_y) * d)
    return flanged_forces(x_u, b_w, b_f, d_f, d, f_ck)[1], x_u


def flanged_axis(a_st: float, b_w: float, b_f: float, d_f: float, f_ck: float, f_y: float) -> float:
    """Neutral axis depth of a flanged section with tension bars at yield (G-2), mm.

    a_st : number, mm2; 0 or more
    b_w, b_f : numbers, mm; above 0
    d_f : number, mm; 0 or more
    f_ck : number, MPa; 15 to 55
    f_y : number, MPa; 250 to 550

    >>> [round(flanged_axis(a, 300.0, 900.0, 100.0, 25.0, 415.0), 1) for a in (2000.0, 3400.0, 4500.0)]
    [89.1, 212.5, 351.8]
    """
    x_u = neutral_axis(a_st, b_f, f_ck, f_y)
    if x_u <= d_f:
        return x_u
    x_u = axis_below_flange(a_st, b_w, b_f, d_f, f_ck, f_y)
    return x_u if d_f <= 0.43 * x_u else axis_near_flange(a_st, b_w, b_f, d_f, f_ck, f_y)


def limiting_flanged_moment(b_w: float, b_f: float, d_f: float, d: float, f_ck: float, f_y: float) -> float:
    """Limiting moment of a flanged section (G-2.2), N mm; y_f counts where D_f/d is more than 0.2.

    b_w, b_f : numbers, mm; above 0
    d_f : number, mm; 0 or more
    d : number, mm; above 0
    f_ck : number, MPa; 15 to 55
    f_y : number, MPa; 250 to 550

    >>> round(limiting_flanged_moment(300.0, 900.0, 80.0, 600.0, 25.0, 415.0) / 1e6, 1)
    674.9
    """
    x = materials.limiting_ratio(f_y) * d
    y = d_f if d_f / d <= 0.2 else float(equal_block(x, d_f))
    return web_and_flange_moment(x, y, b_w, b_f, d, f_ck)


def flanged_steel(m: float, b_w: float, b_f: float, d_f: float, d: float, f_ck: float, f_y: float) -> float:
    """Tension steel of a flanged section for a moment (G-2), mm2.

    m : number, N mm; 0 or more
    b_w, b_f : numbers, mm; above 0
    d_f : number, mm; 0 or more
    d : number, mm; above 0
    f_ck : number, MPa; 15 to 55
    f_y : number, MPa; 250 to 550

    >>> round(flanged_steel(674117226.6, 300.0, 900.0, 100.0, 600.0, 25.0, 415.0), 1)
    3528.8
    """
    section = (b_w, b_f, d_f, d, f_ck)
    x_u = _root(m, d, section)
    return flanged_forces(x_u, *section)[0] / (0.87 * f_y)


def compression_stress(f_y: float, f_yd: float, d_2: float, d: float) -> float:
    """Stress of compression bars at depth d' where x_u is x_u,max (G-1.2), MPa.

    f_y : number, MPa; 250 to 550
    f_yd : number, MPa; 200 to 500
    d_2 : number, mm; 0 or more
    d : number, mm; above 0

    >>> round(compression_stress(415.0, 415.0 / 1.15, 50.0, 500.0), 0)
    352.0
    """
    x = materials.limiting_ratio(f_y, printed=False) * d
    return float(materials.stress_of(materials.ULTIMATE_STRAIN * (1.0 - d_2 / x), f_y, f_yd))


def double_moment(
    a_st: float, a_sc: float, b: float, d: float, d_2: float, f_ck: float, f_y: float, deduct: bool = False
) -> tuple[float, float]:
    """Moment of resistance (N mm) and neutral axis (mm) of a doubly reinforced rectangle (G-1.2), no more
    than at x_u,max; the concrete that compression bars displace deducted or not.

    a_st, a_sc : numbers, mm2; 0 or more
    b, d : numbers, mm; above 0
    d_2 : number, mm; 0 or more
    f_ck : number, MPa; 15 to 55
    f_y : number, MPa; 250 to 550
    deduct : true or false

    >>> round(double_moment(2000.0, 600.0, 300.0, 550.0, 50.0, 20.0, 415.0)[1], 1)
    236.5
    """
    f_yd, highest = 0.87 * f_y, materials.limiting_ratio(f_y, printed=False) * d

    def push(x: float) -> tuple[float, float]:
        strain = materials.ULTIMATE_STRAIN * (1.0 - d_2 / x)
        stress = float(materials.stress_of(strain, f_y, f_yd))
        share = min(max(strain / materials.PARABOLA_STRAIN, 0.0), 1.0)
        displaced = 0.67 / 1.5 * f_ck * share * (2.0 - share) if deduct else 0.0
        return 0.36 * f_ck * b * x, a_sc * (stress - displaced)

    low, high = 1e-6, d
    for _ in range(100):
        middle = 0.5 * (low + high)
        pull = a_st * float(materials.stress_of(materials.ULTIMATE_STRAIN * (d / middle - 1.0), f_y, f_yd))
        low, high = (middle, high) if sum(push(middle)) < pull else (low, middle)
    x = min(0.5 * (low + high), highest)
    concrete, bars = push(x)
    return concrete * (d - 0.42 * x) + bars * (d - d_2), x


@clause("26.5.1.1(a)", "A_s,min", "0.85 b d/f_y", "mm2")
def minimum_steel(b: Floats, d: Floats, f_y: float) -> Array:
    """Minimum tension steel, mm2; b the width of the web.

    b : number or array, mm; above 0
    d : number or array, mm; above 0
    f_y : number, MPa; 250 to 550

    >>> round(float(minimum_steel(300.0, 550.0, 500.0)), 2)
    280.5
    """
    return np.asarray(0.85 * np.asarray(b) * d / f_y)


@clause("26.5.1.1(b)", "A_s,max", "0.04 A_g", "mm2", names={"area": ("A_g", "mm2")})
def maximum_steel(area: Floats) -> Array:
    """Maximum steel of a face, mm2.

    area : number or array, mm2 (A_g = b D); 0 or more

    >>> round(float(maximum_steel(180000.0)), 2)
    7200.0
    """
    return np.asarray(0.04 * np.asarray(area))


@clause("25.4", "e_min", "max(D/30; 20)", "mm", names={"h": ("D", "mm")})
def minimum_eccentricity(h: float) -> float:
    """Least eccentricity of sections in compression, without what their length adds, mm.

    h : number, mm; above 0

    >>> minimum_eccentricity(750.0)
    25.0
    """
    return max(h / 30.0, 20.0)


def printed_moment(section: PrintedSection, f_ck: float, f_y: float) -> float:
    """Moment of resistance by the formulas of annex G, N mm: tension bars alone while x_u is no more than
    x_u,max; beyond it the limiting moment, and in a rectangle the couple of the compression bars with what
    tension steel is left.

    section : PrintedSection, mm and mm2
    f_ck : number, MPa; 15 to 55
    f_y : number, MPa; 250 to 550

    >>> round(printed_moment(PrintedSection(300.0, 300.0, 0.0, 550.0, 1256.637), 20.0, 415.0) / 1e6, 2)
    210.1
    >>> doubly = PrintedSection(300.0, 300.0, 0.0, 550.0, 2946.0, 50.0, 982.0)
    >>> round(printed_moment(doubly, 20.0, 415.0) / 1e6, 1)
    423.6
    """
    s, ratio = section, materials.limiting_ratio(f_y)
    if s.b_w == s.b or neutral_axis(s.a_s, s.b, f_ck, f_y) <= s.h_f:
        moment = rectangular_moment(s.a_s, s.b, s.d, f_ck, f_y)
        if s.a_s2 <= 0.0 or neutral_axis(s.a_s, s.b, f_ck, f_y) <= ratio * s.d:
            return moment
        stress = compression_stress(f_y, materials.design_yield(f_y), s.d_2, s.d)
        beyond = steel_beyond_limit(s.a_s, moment, s.d, f_y, ratio)
        return doubly_reinforced_moment(moment, stress, s.a_s2, beyond, f_y, s.d, s.d_2)
    x_u = min(flanged_axis(s.a_s, s.b_w, s.b, s.h_f, f_ck, f_y), ratio * s.d)
    y_f = s.h_f if s.h_f <= 0.43 * x_u else float(equal_block(x_u, s.h_f))
    return web_and_flange_moment(x_u, y_f, s.b_w, s.b, s.d, f_ck)


@dataclass(frozen=True)
class BendingClauses(BendingPart):
    """Answers on flexure (26.5.1, 37.1, 38)."""

    v: Mapping[str, float]

    def printed_moment(self, concrete: Concrete, steel: Steel, section: PrintedSection) -> float | None:
        usual = abs(self.v["gamma_c"] - 1.5) < 1e-9 and abs(self.v["gamma_s"] - 1.15) < 1e-9
        return printed_moment(section, concrete.strength, steel.strength) if usual else None

    def minimum_eccentricity(self, h: float) -> float:
        return minimum_eccentricity(h)

    def neutral_axis_ratio(self, x: Floats, d: Floats, outer: Floats) -> Array:
        return np.asarray(np.asarray(x) / d)

    def neutral_axis_limit(self, concrete: Concrete, steel: Steel, delta: Floats = 1.0) -> Array:
        return neutral_axis_limit(materials.limiting_ratio(steel.strength), delta)

    def minimum_steel(self, concrete: Concrete, steel: Steel, face: TensionFace, required: Array) -> Array:
        return minimum_steel(face.b_w, face.d, steel.strength)

    def maximum_steel(self, gross_area: Array) -> Array:
        return maximum_steel(gross_area)
